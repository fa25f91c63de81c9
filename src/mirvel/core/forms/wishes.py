"""Where pieces would like to go by their role, before they compete for room.

A wish is a height share, how far out (1 the outline) and, where it matters, how far across (-1 left to 1 right)
and how far away (-1 the front to 1 the back).
Runs are spread by the golden share, so that any number of pieces reads even. Judgements of ours, tuned by eye.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from mirvel.core.goods.facts import Role
from mirvel.core.house.design import Balance, FocalPlace, Grading, Grouping, Levels

GOLDEN_SHARE = (math.sqrt(5) - 1) / 2
OUTER_GREENS = 0.6
ONE_LEVEL = 0.85
FLOWERS_FROM = 0.1  # of a covered frame's surface the lowest share is left to greens
COLLAR_SHELL = 1.6  # greens at the edge of a frame show past its flowers
_LARGE_CM, _LARGE_SHIFT = 6.0, 0.12  # heads larger than 6 cm sit lower, smaller ones higher, by an eighth at most
_HANGING, _ROUND_STEPS = -0.25, 360
_ATTEMPT_TURN = 0.381  # another share of the circle for each attempt


@dataclass(frozen=True)
class Arranged:
    """How the flowers are arranged once recipe, form and house have all been asked."""

    grouping: Grouping
    balance: Balance
    focal: FocalPlace
    levels: Levels
    grading: Grading
    mirrored: bool
    attempt: int


@dataclass(frozen=True)
class Wishing:
    """So many pieces of one entry in a role, with heads so wide, that wish for places."""

    role: Role
    count: int
    width_cm: float
    above_rim_cm: float
    arranged: Arranged

    def get_spread(self, number: int) -> float:
        """A share from 0 to 1 for a piece, even however many there are."""
        return (0.5 + number * GOLDEN_SHARE + self.arranged.attempt * _ATTEMPT_TURN) % 1


@dataclass(frozen=True)
class Wish:
    """What one piece would like; None does not mind. Where ``by_area`` the level is a share of the surface counted
    from the skirt, so that a run over all levels is as close on a flat top as on steep sides."""

    level: float
    shell: float = 1.0
    across: float | None = None
    away: float | None = None
    by_area: bool = False


def get_usual_wishes(wishing: Wishing) -> Iterator[Wish]:
    """The wishes of a piece seen all round or from the front, by role."""
    for number in range(wishing.count):
        wish = _get_usual_wish(wishing, number)
        if wishing.arranged.levels is Levels.ONE_LEVEL and wishing.role is not Role.GREENERY:
            wish = replace(wish, level=ONE_LEVEL, by_area=False)
        yield wish


def _get_usual_wish(wishing: Wishing, number: int) -> Wish:
    spread, role, count = wishing.get_spread(number), wishing.role, wishing.count
    depth = (1.0, 0.90, 0.96)[number % 3]
    if role is Role.GREENERY:
        # Deep ones close the middle, the others show between the blooms.
        if number < math.ceil(count * OUTER_GREENS):
            return Wish(-0.06 + 0.14 * spread, 1.06)
        return Wish(0.30 + 0.69 * spread, 0.82 if number % 2 else 0.98, by_area=True)
    if role is Role.LINE:
        return Wish(0.96 - 0.42 * number / max(count, 4))
    if role is Role.FOCAL:
        return _get_focal_wish(wishing, number)
    if role is Role.MASS:
        return Wish(0.02 + 0.96 * spread + get_grading_shift(wishing), depth, by_area=True)
    if role is Role.TRAILING:
        return Wish(-0.05 + 0.12 * spread, 1.06)
    if role is Role.TOKEN:
        return Wish(0.12 + 0.10 * number, 1.03, away=None if number else -0.9)  # the first in front, others about it
    return Wish(0.03 + 0.95 * spread, 1.03 if role is Role.TEXTURE else depth + 0.02, by_area=True)


def get_frame_wishes(wishing: Wishing) -> Iterator[Wish]:
    """The wishes on a covered frame: greens low all round its edges, focals along its top, all else over the whole of
    it, close and nearly level."""
    for number in range(wishing.count):
        spread = wishing.get_spread(number)
        if wishing.role is Role.GREENERY and number < math.ceil(wishing.count * OUTER_GREENS):
            yield Wish(0.03 + 0.16 * spread, COLLAR_SHELL)
        elif wishing.role is Role.GREENERY:
            yield Wish(0.25 + 0.7 * spread, 0.85, by_area=True)
        elif wishing.role is Role.FOCAL:
            yield Wish(0.95)
        elif wishing.role is Role.TOKEN:
            yield Wish(0.9)
        else:
            yield Wish(FLOWERS_FROM + (0.99 - FLOWERS_FROM) * spread, (1.0, 0.94, 0.98)[number % 3], by_area=True)


def get_hanging_wish(wishing: Wishing, number: int, depth: float) -> Wish:
    """The wish of a green that hangs over the side of a block of foam, evenly round an oval so deep to its width."""
    across, away = _walk_round(depth)[int(wishing.get_spread(number) * _ROUND_STEPS)]
    return Wish(_HANGING, 1.0, across, away)


@lru_cache(maxsize=16)
def _walk_round(depth: float) -> tuple[tuple[float, float], ...]:
    """Across and away of points that follow one another at even steps round an oval."""
    turns = np.linspace(0, 2 * math.pi, 2 * _ROUND_STEPS + 1)
    across, away = np.sin(turns), -np.cos(turns)
    run = np.concatenate([[0.0], np.hypot(np.diff(across), depth * np.diff(away)).cumsum()])
    found = np.interp(np.arange(_ROUND_STEPS) / _ROUND_STEPS * run[-1], run, turns)
    return tuple(zip(np.sin(found).tolist(), (-np.cos(found)).tolist(), strict=True))


def get_grading_shift(wishing: Wishing) -> float:
    """Where the school grades by size: large heads lower, small ones higher, as a share of the height."""
    if wishing.arranged.grading is not Grading.LARGE_LOW:
        return 0.0
    return -_LARGE_SHIFT * max(-1.0, min(1.0, (wishing.width_cm - _LARGE_CM) / _LARGE_CM))


def _get_focal_wish(wishing: Wishing, number: int) -> Wish:
    if wishing.arranged.grading is Grading.LARGE_TOP and number == 0:
        return Wish(0.95, 1.0, 0.0)
    centred = wishing.arranged.focal is FocalPlace.CENTRED
    if wishing.count == 1:
        return Wish(0.9, 0.99, 0.0) if centred else Wish(0.62, 0.99, -1 / 3)
    level = (0.34, 0.58, 0.80)[number % 3]
    return Wish(level, 0.99, 0.0) if centred and number == 0 else Wish(level, 0.99)
