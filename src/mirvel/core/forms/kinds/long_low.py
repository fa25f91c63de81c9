"""Long and low: for a long table, in a trough or a tray, its ends reaching out."""

from mirvel.core.forms.form import ANY_MOUTH, BOWLS, FOAM_MECHANICS, Form, Proportions
from mirvel.core.forms.kinds.dome import get_dome_lobe
from mirvel.core.forms.locating import get_thirds_along
from mirvel.core.forms.sample_lists import LOW_SAMPLE
from mirvel.core.forms.surface import Frame, Lobe
from mirvel.core.goods.container import ContainerKind
from mirvel.core.house.design import HeightBase, HeightRule


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    return (get_dome_lobe(frame, centre=0.20, skirt=-0.14),)


FORM = Form(
    name="long and low",
    about="A runner for a long table, three times as long as deep.",
    lobes=get_lobes,
    usual_kind=ContainerKind.BOX,
    kinds=BOWLS,
    mouths=ANY_MOUTH,
    mechanics=FOAM_MECHANICS,
    rule=HeightRule(factor=1.4, base=HeightBase.RIM),
    proportions=Proportions(1.7, 3.6, 2.4, depth=0.36),
    sample=LOW_SAMPLE,
    parts=get_thirds_along,
)
