"""The grass collar: blades cut level 5 cm above the vase all round, the flowers close inside them.

"Grass collar: 5 cm above the vase": common practice, no published source.
"""

import math

from mirvel.core.forms.form import VASES, Form, Proportions
from mirvel.core.forms.kinds.dome import get_dome_lobe
from mirvel.core.forms.sample_lists import Wanted
from mirvel.core.forms.surface import Frame, Lobe, Site
from mirvel.core.goods.container import ContainerKind
from mirvel.core.goods.facts import HeadForm, Role
from mirvel.core.house.design import Arranging, Grading, HeightBase, HeightRule
from mirvel.core.space.vectors import Vec

COLLAR_CM = 5.0
_BLADES = 72


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    return (get_dome_lobe(frame, centre=0.50, skirt=0.30),)


def get_collar(frame: Frame) -> tuple[Site, ...]:
    """Blades round the inside of the rim, opposite ones in turn so that any number stands evenly."""
    sites = []
    for number in range(_BLADES):
        turn = number * 2 * math.pi * 0.6180339887
        flat = Vec(0.93 * frame.mouth_half_cm * math.sin(turn), 0.93 * frame.mouth_half_depth_cm * math.cos(turn), 0.0)
        out = flat.unit.scaled(0.25)
        level = COLLAR_CM / frame.above_rim_cm
        sites.append(Site(flat.plus(Vec(0, 0, COLLAR_CM)), Vec(out.x, out.y, 0.97).unit, level, zone="collar"))
    return tuple(sites)


FORM = Form(
    name="grass collar",
    about="A collar of grass cut level above the rim, flowers held close inside it.",
    lobes=get_lobes,
    usual_kind=ContainerKind.CYLINDER,
    kinds=VASES,
    rule=HeightRule(factor=0.65, base=HeightBase.RIM),
    proportions=Proportions(over_mouth=(0.86, 1.0)),
    arranging=Arranging(grading=Grading.LARGE_TOP),
    listed=get_collar,
    zones={Role.GREENERY: "collar"},
    sample=(
        Wanted(Role.GREENERY, HeadForm.BLADE, 60, "fine"),
        Wanted(Role.FOCAL, HeadForm.ROSETTE, 10, "spiral"),
        Wanted(Role.MASS, HeadForm.CLUSTER, 5, "dense"),
        Wanted(Role.TOKEN, HeadForm.ORCHID, 6),
        Wanted(Role.MASS, HeadForm.POMPON, 3, "incurved"),
    ),
)
