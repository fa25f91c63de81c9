"""The leaf-lined vase: broad leaves against the glass hide the stems, a close dome above."""

from mirvel.core.forms.form import VASES, Form, Proportions
from mirvel.core.forms.inside import get_inside_sites
from mirvel.core.forms.kinds.dome import get_dome_lobe
from mirvel.core.forms.parts import Part
from mirvel.core.forms.sample_lists import Wanted
from mirvel.core.forms.surface import Frame, Lobe
from mirvel.core.goods.container import ContainerKind
from mirvel.core.goods.facts import HeadForm, Mechanics, Role
from mirvel.core.house.design import HeightBase, HeightRule


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    return (get_dome_lobe(frame),)


FORM = Form(
    name="leaf-lined",
    about="Broad leaves line the glass and hide the stems, a close dome above.",
    lobes=get_lobes,
    usual_kind=ContainerKind.CYLINDER,
    kinds=VASES,
    mechanics=(Mechanics.TAPE_GRID, Mechanics.FOAM, Mechanics.NATURAL),
    rule=HeightRule(factor=0.8, base=HeightBase.RIM),
    proportions=Proportions(0.8, 1.4, 1.1),
    listed=get_inside_sites,
    zones={Role.GREENERY: Part.INSIDE},
    sample=(
        Wanted(Role.GREENERY, HeadForm.STRAP, 4, "broad"),
        Wanted(Role.FOCAL, HeadForm.ROSETTE, 7, "cupped"),
        Wanted(Role.MASS, HeadForm.ROSETTE, 7, "many"),
        Wanted(Role.FILLER, HeadForm.CLUSTER, 6, "cupped"),
    ),
)
