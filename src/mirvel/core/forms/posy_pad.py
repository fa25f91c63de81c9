"""The posy pad: a round cushion of flowers that lies flat, leaves at its edge first."""

from mirvel.core.design import HeightBase, HeightRule, Mechanics
from mirvel.core.forms.form import Form, keep_no_crown
from mirvel.core.forms.samples import FRAME_SAMPLE
from mirvel.core.forms.wishes import get_frame_wishes
from mirvel.core.goods import ContainerKind, MouthShape

FORM = Form(
    name="posy pad",
    about="A round cushion of flowers that lies flat, edged with leaves.",
    usual_kind=ContainerKind.POSY_PAD,
    covers_frame=True,
    kinds=frozenset({ContainerKind.POSY_PAD}),
    mouths=frozenset({MouthShape.ROUND}),
    mechanics=(Mechanics.FOAM,),
    rule=HeightRule(factor=1.1, base=HeightBase.RIM),
    crown=keep_no_crown,
    wishes=get_frame_wishes,
    fullness=(0.85, 1.9),
    sample=FRAME_SAMPLE,
)
