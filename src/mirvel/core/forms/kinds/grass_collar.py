"""The grass collar: blades cut level 5 cm above the vase all round, the flowers close inside them.

"Grass collar: 5 cm above the vase": common practice, no published source.
"""

import math

from mirvel.core.forms.form import VASES, Form, Proportions
from mirvel.core.forms.parts import Part
from mirvel.core.forms.sample_lists import Wanted
from mirvel.core.forms.surface import Frame, Lobe, Site
from mirvel.core.goods.container import ContainerKind
from mirvel.core.goods.facts import HeadForm, Role
from mirvel.core.house.design import Arranging, Grading, HeightBase, HeightRule
from mirvel.core.space.vectors import Vec

COLLAR_CM = 5.0
_BLADES = 72
_FANS_TO = 1.12  # of the mouth: the collar is bound at the rim and fans out above it
_SKIRT = -0.25  # the lowest flowers sit behind the tips of the blades


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    base = min(COLLAR_CM, 0.6 * frame.above_rim_cm)
    half = Vec(frame.half_width_cm, frame.half_depth_cm, frame.above_rim_cm - base)
    return (Lobe(Vec(0.0, 0.0, base), half, lowest=_SKIRT),)


def get_collar(frame: Frame) -> tuple[Site, ...]:
    """Blades all round the rim, leaning out, opposite ones in turn so that any number stands evenly."""
    sites = []
    for number in range(_BLADES):
        turn = number * 2 * math.pi * 0.6180339887
        flat = Vec(
            _FANS_TO * frame.mouth_half_cm * math.sin(turn), _FANS_TO * frame.mouth_half_depth_cm * math.cos(turn), 0.0
        )
        out = flat.unit.scaled(0.35)
        level = COLLAR_CM / frame.above_rim_cm
        sites.append(Site(flat.plus(Vec(0, 0, COLLAR_CM)), Vec(out.x, out.y, 0.94).unit, level, zone=Part.COLLAR))
    return tuple(sites)


FORM = Form(
    name="grass collar",
    about="A collar of grass that fans and is cut level above the rim, flowers held close inside it.",
    lobes=get_lobes,
    usual_kind=ContainerKind.CYLINDER,
    kinds=VASES,
    rule=HeightRule(factor=0.75, base=HeightBase.RIM),
    proportions=Proportions(over_mouth=(0.9, 1.12)),
    arranging=Arranging(grading=Grading.LARGE_TOP),
    fullness=(0.9, 2.5),
    listed=get_collar,
    zones={Role.GREENERY: Part.COLLAR},
    sample=(
        Wanted(Role.GREENERY, HeadForm.BLADE, 60, "fine"),
        Wanted(Role.FOCAL, HeadForm.ROSETTE, 10, "spiral"),
        Wanted(Role.MASS, HeadForm.CLUSTER, 5, "dense"),
        Wanted(Role.TOKEN, HeadForm.ORCHID, 6),
        Wanted(Role.MASS, HeadForm.POMPON, 3, "incurved"),
    ),
)
