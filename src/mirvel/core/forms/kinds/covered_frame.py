"""What all covered frames share: flowers over all of their foam, close and level; hung and seen from the front, where a
form does not say otherwise."""

from mirvel.core.forms.by_role import ON_A_FRAME
from mirvel.core.forms.form import HUNG, Form, keep_no_crown
from mirvel.core.forms.sample_lists import FRAME_SAMPLE
from mirvel.core.goods.container import ContainerKind, MouthShape
from mirvel.core.goods.facts import Mechanics
from mirvel.core.house.design import Arranging, HeightBase, HeightRule, Levels, SeenFrom

COVERED_FRAME = Form(
    name="covered frame",
    about="A frame covered all over.",
    usual_kind=ContainerKind.FOAM_RING,
    covers_frame=True,
    kinds=frozenset({ContainerKind.FOAM_RING}),
    mouths=frozenset({MouthShape.RING}),
    mechanics=(Mechanics.FOAM,),
    seen_from=SeenFrom.FRONT,
    rule=HeightRule(factor=1.0, base=HeightBase.RIM),
    arranging=Arranging(levels=Levels.ONE_LEVEL),
    crown=keep_no_crown,
    outline_first=True,
    wishes=ON_A_FRAME,
    pose=HUNG,
    fullness=(0.9, 2.2),
    sample=FRAME_SAMPLE,
)
