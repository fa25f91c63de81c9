"""The hand-tied bunch: a dome over stems that spiral through one binding point, cut level to stand.

The origin is the binding point; the heads begin well above it.
"""

from mirvel.core.forms.form import Entering, Form, Proportions
from mirvel.core.forms.kinds.dome import get_dome_lobe
from mirvel.core.forms.surface import Frame, Lobe
from mirvel.core.goods.container import ContainerKind
from mirvel.core.goods.facts import Mechanics
from mirvel.core.house.design import HeightBase, HeightRule


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    return (get_dome_lobe(frame, centre=0.50, skirt=0.34),)


FORM = Form(
    name="hand-tied",
    about="A round bunch, its stems spiralled through the tie and cut level.",
    lobes=get_lobes,
    usual_kind=ContainerKind.TIE,
    kinds=frozenset({ContainerKind.TIE}),
    mechanics=(Mechanics.TIED,),
    rule=HeightRule(factor=1.45, base=HeightBase.RIM),
    proportions=Proportions(0.5, 0.95, 0.7),
    entering=Entering.GATHERED,
)
