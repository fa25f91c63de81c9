"""The low oval: a table piece people talk across, longer than it is deep."""

from mirvel.core.forms.form import ANY_MOUTH, BOWLS, FOAM_MECHANICS, Form, Proportions
from mirvel.core.forms.kinds.dome import get_dome_lobe
from mirvel.core.forms.sample_lists import LOW_SAMPLE
from mirvel.core.forms.surface import Frame, Lobe
from mirvel.core.goods.container import ContainerKind
from mirvel.core.house.design import HeightBase, HeightRule


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    return (get_dome_lobe(frame, centre=0.20, skirt=-0.12),)


FORM = Form(
    name="low oval",
    about="A low table piece, longer than deep, with pointed ends that stay below the eye.",
    lobes=get_lobes,
    usual_kind=ContainerKind.LOW_BOWL,
    kinds=BOWLS,
    mouths=ANY_MOUTH,
    mechanics=FOAM_MECHANICS,
    rule=HeightRule(factor=1.8, base=HeightBase.RIM),
    proportions=Proportions(1.15, 2.2, 1.6, depth=0.62),
    sample=LOW_SAMPLE,
)
