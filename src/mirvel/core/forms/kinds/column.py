"""The column with an open middle: heads stair-stepped round a tall shaft of air above a tall vase."""

import math

from mirvel.core.forms.by_role import ByRole
from mirvel.core.forms.form import VASES, Form, Nature, Proportions
from mirvel.core.forms.sample_lists import Wanted
from mirvel.core.forms.surface import Frame, Lobe
from mirvel.core.forms.wishes import Each, Falling, Spread, Wanting
from mirvel.core.goods.container import ContainerKind
from mirvel.core.goods.facts import HeadForm, Role
from mirvel.core.house.design import HeightRule
from mirvel.core.space.vectors import Vec

LOWEST_STEP, HIGHEST_STEP = 0.05, 0.94  # the stair runs from just above the rim to just under the crown


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    above = frame.above_rim_cm
    half = Vec(frame.half_width_cm, frame.half_depth_cm, 0.55 * above)
    return (Lobe(Vec(0.0, 0.0, 0.45 * above), half, lowest=-0.95, power=5.0),)


_CLIMBING = Wanting(Falling(HIGHEST_STEP, LOWEST_STEP))
_CORNERS = [math.radians(180 + 120 * number) for number in range(3)]
# Heads climb in even steps; textures stand low in a triangle; greens keep to the rim, so that the middle stays open.
WISHES: ByRole = {
    **dict.fromkeys((Role.FOCAL, Role.MASS, Role.LINE), _CLIMBING),
    Role.TEXTURE: Wanting(
        Each((0.16, 0.22, 0.28)),
        across=tuple(0.9 * math.sin(turn) for turn in _CORNERS),
        away=tuple(0.9 * math.cos(turn) for turn in _CORNERS),
    ),
    Role.GREENERY: Wanting(Spread(0.02, 0.12), shell=(1.04,)),
}


FORM = Form(
    name="column",
    about="A tall column of air with heads stair-stepped round it, its middle left open.",
    lobes=get_lobes,
    usual_kind=ContainerKind.TALL_TAPER,
    kinds=VASES,
    rule=HeightRule(factor=1.8),
    proportions=Proportions(0.24, 0.42, 0.32),
    covers=False,
    natures=frozenset({Nature.OPEN_MIDDLE}),
    wishes=WISHES,
    sample=(
        Wanted(Role.GREENERY, HeadForm.SMALL_LEAF, 6, "pointed"),
        Wanted(Role.FOCAL, HeadForm.ROSETTE, 12, "spiral"),
        Wanted(Role.TEXTURE, HeadForm.GLOBE, 3, "threads"),
    ),
)
