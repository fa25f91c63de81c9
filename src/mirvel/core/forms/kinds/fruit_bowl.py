"""The fruit bowl: fruit heaped in a wide bowl, flowers and leaves between and around it."""

from mirvel.core.forms.by_role import ByRole
from mirvel.core.forms.form import Form, Proportions
from mirvel.core.forms.kinds.dome import get_dome_lobe
from mirvel.core.forms.sample_lists import GREENS, Wanted
from mirvel.core.forms.surface import Frame, Lobe
from mirvel.core.forms.wishes import Each, Wanting
from mirvel.core.goods.container import ContainerKind, MouthShape
from mirvel.core.goods.facts import HeadForm, Mechanics, Role
from mirvel.core.house.design import HeightBase, HeightRule


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    return (get_dome_lobe(frame, centre=0.15, skirt=-0.08),)


# Fruit heaps up in the middle, three at the top; the rest goes as in a dome.
WISHES: ByRole = {Role.TOKEN: Wanting(Each((0.9, 0.82, 0.86, 0.5, 0.42, 0.55, 0.3)), shell=(0.98,))}


FORM = Form(
    name="fruit bowl",
    about="Fruit heaped in a bowl with flowers between; decoration only, not to be eaten.",
    lobes=get_lobes,
    usual_kind=ContainerKind.LOW_BOWL,
    kinds=frozenset({ContainerKind.LOW_BOWL, ContainerKind.COMPOTE}),
    mouths=frozenset({MouthShape.ROUND, MouthShape.OVAL}),
    mechanics=(Mechanics.FOAM, Mechanics.NETTING),
    rule=HeightRule(factor=1.7, base=HeightBase.RIM),
    proportions=Proportions(0.95, 1.8, 1.3),
    wishes=WISHES,
    sample=(
        *GREENS,
        Wanted(Role.TOKEN, HeadForm.FRUIT, 7),
        Wanted(Role.MASS, HeadForm.ROSETTE, 7, "spiral"),
        Wanted(Role.MASS, HeadForm.DAISY, 6, "yellow-eye"),
        Wanted(Role.FILLER, HeadForm.CLUSTER, 6, "berry"),
    ),
)
