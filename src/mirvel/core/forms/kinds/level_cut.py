"""The level-cut vase: one kind of flower, every head at one height just over the rim, grass swirled in the glass."""

from mirvel.core.forms.form import VASES, Form, Proportions
from mirvel.core.forms.inside import get_inside_sites
from mirvel.core.forms.parts import Part
from mirvel.core.forms.sample_lists import Wanted
from mirvel.core.forms.surface import Frame, Lobe
from mirvel.core.goods.container import ContainerKind
from mirvel.core.goods.facts import HeadForm, Mechanics, Role
from mirvel.core.house.design import Arranging, HeightBase, HeightRule, Levels
from mirvel.core.space.vectors import Vec

_FLAT, _THICK = 10.0, 0.2  # a disc, its top level to within a few millimetres


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    above = frame.above_rim_cm
    half = Vec(frame.half_width_cm, frame.half_depth_cm, _THICK * above)
    return (Lobe(Vec(0.0, 0.0, (1 - _THICK) * above), half, lowest=0.0, power=_FLAT),)


FORM = Form(
    name="level-cut",
    about="One flower massed at one level, a swirl of grass in the glass below.",
    lobes=get_lobes,
    usual_kind=ContainerKind.CYLINDER,
    kinds=VASES,
    mechanics=(Mechanics.TAPE_GRID, Mechanics.NATURAL),
    rule=HeightRule(factor=0.35, base=HeightBase.RIM),
    proportions=Proportions(over_mouth=(1.0, 1.3)),
    arranging=Arranging(levels=Levels.ONE_LEVEL),
    least_facing=0.97,
    fullness=(0.9, 2.2),
    listed=get_inside_sites,
    zones={Role.TEXTURE: Part.INSIDE, Role.GREENERY: Part.INSIDE},
    sample=(
        Wanted(Role.TEXTURE, HeadForm.BLADE, 6, "fine"),
        Wanted(Role.MASS, HeadForm.CUP, 14, "goblet"),
    ),
)
