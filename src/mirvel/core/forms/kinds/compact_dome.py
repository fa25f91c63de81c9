"""The compact dome: a low cushion just above the rim of a cube, box or bowl."""

from mirvel.core.forms.form import Form, Proportions
from mirvel.core.forms.kinds.dome import get_dome_lobe
from mirvel.core.forms.sample_lists import LOW_SAMPLE
from mirvel.core.forms.surface import Frame, Lobe
from mirvel.core.goods.container import ContainerKind
from mirvel.core.house.design import HeightBase, HeightRule


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    return (get_dome_lobe(frame),)


FORM = Form(
    name="compact dome",
    about="A close cushion of heads, wider than it is high.",
    lobes=get_lobes,
    usual_kind=ContainerKind.CUBE,
    rule=HeightRule(factor=0.8, base=HeightBase.RIM),
    proportions=Proportions(0.85, 1.6, 1.25),
    sample=LOW_SAMPLE,
)
