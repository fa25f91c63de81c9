"""Where stems enter: at the rim or into foam, and far enough from one another.

The further out a head, the nearer its own rim its stem enters, but always nearer the axis than what it carries, so
that stems cross inside. Gathered stems enter near one spot, upright ones straight below. Into foam, low heads go
from the side. Holes in foam stay apart by their stems and a wall of 2 mm, no stem runs through another below them,
and each has foam enough ahead to hold it; stems at a rim stay apart by their own thickness (in glass they may cross
below it). Where the spot is taken, the nearest free one is used, and where none is free the least crowded.
"""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mirvel.core.forms.form import Entering
from mirvel.core.forms.surface import Frame
from mirvel.core.goods.facts import Mechanics
from mirvel.core.goods.material import Material
from mirvel.core.space.segments import get_distances
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.beds import Bed
from mirvel.core.vessels.hollows import FOAM_CLEARANCE_CM, LEAST_IN_FOAM_CM, Hollow, get_foam_depth_cm, get_ways_down

Numbers = NDArray[np.float64]
GATHERED_SHARE = 0.42
HOLE_WALL_CM = 0.2
SIDE_LEVEL = 0.22  # heads lower than this share of the height go into the side of foam
_TRIES, _FIRST_TRIES, _TRIES_AT_ONCE = 180, 24, 12  # nine in ten find a hole among the first
_FREE, _SAME_ROOM_CM = -1e-9, 1e-6
_ROUNDING_CM = 0.64  # cuts in foam may be rounded down by a step
_TOO_SHALLOW = 6.0  # where nothing is free a crowded hole is better than one that does not hold
_TRY_STEP_CM = 0.32
_FAR_CM, _MORE_PASSES = 5.0, 2  # nobody looks for a hole so far from where its stem would go in (assumption)
_GOLDEN_ANGLE = math.pi * (3 - math.sqrt(5))
_SPIRAL: Numbers = np.array(
    [(math.sqrt(n) * math.cos(n * _GOLDEN_ANGLE), math.sqrt(n) * math.sin(n * _GOLDEN_ANGLE)) for n in range(_TRIES)]
)


def get_start(base: Vec, frame: Frame, holder: Hollow | Bed, entering: Entering, mechanics: Mechanics) -> Vec:
    """Where the stem to a head's base (a leaf's tip) would enter, were it the only one."""
    if isinstance(holder, Bed):
        return holder.get_start(base)
    off = Vec(base.x - holder.middle_x, base.y, base.z)
    outwards = Vec(off.x, off.y, 0.0).unit if off.reach > 1e-9 else Vec(0.0, 1.0, 0.0)
    is_below = holder.wall_cm and base.z < holder.top_z - 1e-9
    if is_below and off.reach > holder.get_edge_distance(
        outwards, max(base.z, holder.bottom_z)
    ):  # it hangs over the rim
        over = holder.get_out_of_wall(outwards, holder.top_z)
        return Vec(outwards.x * over + holder.middle_x, outwards.y * over, holder.top_z + holder.wall_cm)
    if entering is Entering.UPRIGHT:
        edge = 0.94 * holder.get_edge_distance(outwards, holder.top_z)
        radius = min(off.reach, edge)
        return Vec(outwards.x * radius + holder.middle_x, outwards.y * radius, holder.top_z)
    if mechanics is Mechanics.FOAM and base.z < SIDE_LEVEL * frame.above_rim_cm and holder.top_z > 0.5:
        z = holder.top_z * 0.45
        side = min(holder.get_edge_distance(outwards, z), 0.9 * off.reach)
        if off.reach - side > base.z - z:  # leaning more than 45°; a steeper stem would leave the foam at once
            return Vec(outwards.x * side + holder.middle_x, outwards.y * side, z)
    share = min(0.94, off.reach / (0.8 * frame.get_edge_distance(off.x, off.y)))
    if entering is Entering.GATHERED:
        share *= GATHERED_SHARE if mechanics is Mechanics.FOAM else 0.8
    radius = min(share * holder.get_edge_distance(outwards, holder.top_z), 0.8 * off.reach)
    return Vec(outwards.x * radius + holder.middle_x, outwards.y * radius, holder.top_z)


@dataclass(frozen=True)
class Stem:
    """A stem that looks for its entry point: where it would enter, were it the only one, and what it carries there."""

    wished: Vec
    base: Vec
    material: Material


def _portion(numbers: NDArray[np.int_]) -> Iterator[NDArray[np.int_]]:
    """So many at once, in order."""
    for first in range(0, len(numbers), _TRIES_AT_ONCE):
        yield numbers[first : first + _TRIES_AT_ONCE]


def _get_apart(points: Numbers, others: Numbers) -> Numbers:
    """How far each of some points (m, 3) is from each of others (n, 3); (m, n)."""
    # axis by axis: three plain tables are much quicker than one of vectors
    square = sum((points[:, axis, None] - others[:, axis]) ** 2 for axis in range(3))
    apart: Numbers = np.sqrt(square)
    return apart


def _get_tries_on_rim(stem: Stem, step_cm: float, count: int, vessel: Hollow) -> Numbers:
    """So many points along a vessel's rim to either side of the wished one, nearest first, and no further round than
    the straight way from what the stem carries runs beside the vessel."""
    wished, base = stem.wished, stem.base
    numbers, x, y = np.arange(count), wished.x - vessel.middle_x, wished.y
    sides, reach = (numbers + 1) // 2 * np.where(numbers % 2, 1, -1), math.hypot(x, y)
    aside = sides * step_cm / max(reach, 0.5)
    aside = aside[np.abs(aside) <= math.acos(min(1.0, reach / math.hypot(base.x - vessel.middle_x, base.y)))]
    turns = math.atan2(x, y) + aside
    ways = np.column_stack([np.sin(turns), np.cos(turns)])
    out = vessel.get_edge_distances(ways, vessel.top_z) + vessel.wall_cm
    return np.column_stack([vessel.middle_x + out * ways[:, 0], out * ways[:, 1], np.full(len(turns), wished.z)])


@dataclass(frozen=True, eq=False)
class _Stems:
    """Stems where they enter or might: entry points and, in foam, the unit ways they go on, (n, 3) both; half as thick
    as they are and how deep they go in, (n,)."""

    points: Numbers
    ways: Numbers
    radii: Numbers
    depths: Numbers

    @property
    def ends(self) -> Numbers:
        return self.points + self.depths[:, None] * self.ways

    def get_away(self, stems: Sequence[Stem]) -> list[float]:
        """How far each enters from where it would, were it the only one, cm."""
        wished = np.array([stem.wished for stem in stems], dtype=np.float64).reshape(-1, 3)
        away: list[float] = np.linalg.norm(self.points - wished, axis=1).tolist()
        return away

    def choose(self, at: slice | NDArray[np.int_] | NDArray[np.bool_]) -> "_Stems":
        return _Stems(self.points[at], self.ways[at], self.radii[at], self.depths[at])


class Entrances:
    """The entry points taken in one holder and, in foam, where their stems run below them."""

    def __init__(self, holder: Hollow | Bed, mechanics: Mechanics) -> None:
        self.holder, self.in_foam = holder, mechanics is Mechanics.FOAM
        self.wall_cm = HOLE_WALL_CM if self.in_foam else 0.0

    def settle(self, stems: Sequence[Stem]) -> list[Vec]:
        """For each in order the free entry point nearest to the one it wishes for, which is then taken. Those that are
        left none where a hand would look for it go in before all others, where that is better."""
        found = self._settle(stems)
        for _ in range(_MORE_PASSES):
            away = found.get_away(stems)
            far = [number for number, cm in enumerate(away) if cm > _FAR_CM]
            if not far:
                break
            order = far + [number for number in range(len(stems)) if away[number] <= _FAR_CM]
            again = self._settle([stems[number] for number in order]).choose(np.argsort(order))
            if max(again.get_away(stems)) >= max(away) or self._count_close(again) > self._count_close(found):
                break
            found = again
        return [Vec(*point) for point in found.points.tolist()]

    def _count_close(self, stems: _Stems) -> int:
        """How many pairs of stems have no room between them, or lack foam ahead; each itself among them."""
        close = self._get_room_between(stems, stems) < _FREE
        return int(close.sum() + (self._get_room_ahead(stems) < _FREE).sum())

    def _settle(self, stems: Sequence[Stem]) -> _Stems:
        bases = np.array([stem.base for stem in stems], dtype=np.float64).reshape(-1, 3)
        depths = np.array(
            [get_foam_depth_cm(each.material, each.base.minus(each.wished).length, self.holder) for each in stems]
        )
        radii = np.array([stem.material.stem_diameter_mm / 20 for stem in stems])
        wished = self._reach(
            np.array([stem.wished for stem in stems], dtype=np.float64).reshape(-1, 3), bases, radii, depths
        )
        taken = _Stems(wished.points.copy(), wished.ways.copy(), radii, depths)
        # nearly all go in where they wish to: which of these collide is reckoned for all at once
        is_blocked = self._get_room_ahead(wished) < _FREE
        collide = self._get_room_between(wished, wished) < _FREE
        for number, stem in enumerate(stems):
            if not is_blocked[number]:
                is_blocked |= collide[:, number]
                continue
            only = slice(number, number + 1)
            point = self._find_nearest_free(stem, wished.choose(only), taken.choose(slice(number)))
            moved = self._reach(np.array([point]), bases[only], radii[only], depths[only])
            taken.points[only], taken.ways[only] = moved.points, moved.ways
            is_blocked |= self._get_room_between(wished, moved)[:, 0] < _FREE
        return taken

    def _reach(self, points: Numbers, bases: Numbers, radii: Numbers, depths: Numbers) -> _Stems:
        """Stems from what they carry through points."""
        if not self.in_foam:
            return _Stems(points, np.zeros_like(points), radii, depths)
        return _Stems(points, get_ways_down(bases, points), radii, depths)

    def _get_room_between(self, stems: _Stems, others: _Stems) -> Numbers:
        """Room between each stem and each other, cm; negative where they collide, at their holes or, in foam, below
        them; (n, m)."""
        return np.minimum(self._get_room_at_holes(stems, others), self._get_room_below(stems, others))

    def _get_room_at_holes(self, stems: _Stems, others: _Stems) -> Numbers:
        apart = _get_apart(stems.points, others.points)
        room: Numbers = apart - others.radii - stems.radii[:, None] - self.wall_cm
        return room

    def _get_room_below(self, stems: _Stems, others: _Stems) -> Numbers:
        if not self.in_foam:
            return np.full((len(stems.points), len(others.points)), np.inf)
        apart = get_distances(stems.points, stems.ends, others.points, others.ends)
        room: Numbers = apart - others.radii - stems.radii[:, None]
        return room

    def _get_room_ahead(self, stems: _Stems) -> Numbers:
        """How much more foam lies ahead of each stem than has to hold it, cm; much below nought where it is less."""
        if not self.in_foam:
            return np.full(len(stems.points), np.inf)
        least = FOAM_CLEARANCE_CM + LEAST_IN_FOAM_CM + _ROUNDING_CM
        ahead = self.holder.get_exit_distances(stems.points, stems.ways) - least
        room: Numbers = np.where(ahead < 0, _TOO_SHALLOW * ahead, ahead)
        return room

    def _find_nearest_free(self, stem: Stem, wished: _Stems, taken: _Stems) -> Vec:
        radius, depth = float(wished.radii[0]), float(wished.depths[0])
        for count in (_FIRST_TRIES, _TRIES):
            points = self._get_tries(stem, radius, count)
            tries = _Stems(points, np.zeros_like(points), np.full(len(points), radius), np.full(len(points), depth))
            room = self._get_room_at_holes(tries, taken).min(axis=1, initial=np.inf)
            # what lies below takes much longer to reckon: only where a hole can be, and no further than to the first
            best = -np.inf
            for some in _portion(np.flatnonzero(room >= _FREE)):
                room[some] = np.minimum(room[some], self._get_room_of_one(tries.choose(some), stem.base, taken))
                free = some[room[some] >= _FREE]
                if len(free):
                    return Vec(*points[free[0]].tolist())
                best = max(best, float(room[some].max()))
        if not len(points):
            return stem.wished
        # none is free: the least crowded, found without those whose holes alone are more crowded
        for some in _portion(np.argsort(-room, kind="stable")):
            if room[some[0]] < best - 2 * _SAME_ROOM_CM:
                break
            room[some] = np.minimum(room[some], self._get_room_of_one(tries.choose(some), stem.base, taken))
            best = max(best, float(room[some].max()))
        return Vec(*points[int(np.argmax(np.round(room / _SAME_ROOM_CM)))].tolist())

    def _get_room_of_one(self, tries: _Stems, base: Vec, taken: _Stems) -> Numbers:
        """Room below each of the points that one stem might take, and ahead of it there."""
        stems = self._reach(tries.points, np.array([base]), tries.radii, tries.depths)
        away = _get_apart(stems.points, taken.points).min(axis=0, initial=np.inf)
        near = taken.choose(away <= tries.depths[0] + taken.depths + taken.radii + tries.radii[0])  # others are too far
        below = self._get_room_below(stems, near).min(axis=1, initial=np.inf)
        room: Numbers = np.minimum(below, self._get_room_ahead(stems))
        return room

    def _get_tries(self, stem: Stem, radius: float, count: int) -> Numbers:
        """Points round the wished one, nearest first, of the first so many those that have foam about them: over the
        top, or along the side of the foam."""
        step, wished = max(_TRY_STEP_CM, 0.5 * (2 * radius + self.wall_cm)), stem.wished
        holder, top = self.holder, self.holder.top_z
        if isinstance(holder, Bed):
            return holder.get_held(holder.get_tries(wished, step * _SPIRAL)[:count])
        spiral = step * _SPIRAL[:count]
        if holder.wall_cm and wished.z > top + 1e-9:
            return _get_tries_on_rim(stem, step, count, holder)
        if wished.z > top - 1e-9:
            tries = np.array([wished.x, wished.y]) + spiral
            off = np.column_stack([tries[:, 0] - holder.middle_x, tries[:, 1]])
            reach = np.hypot(off[:, 0], off[:, 1])
            edges = holder.get_edge_distances(off, top)
            inwards = np.minimum(1.0, np.maximum(edges - radius, 0.3 * edges) / np.maximum(reach, 1e-9))
            x, y = off[:, 0] * inwards + holder.middle_x, off[:, 1] * inwards
            return np.column_stack([x, y, np.full(count, top)])
        off_middle = Vec(wished.x - holder.middle_x, wished.y, 0.0)
        turn: Numbers = math.atan2(off_middle.x, off_middle.y) + spiral[:, 0] / max(off_middle.reach, 0.5)
        z = np.clip(wished.z + spiral[:, 1], 0.15 * top, 0.85 * top)
        ways = np.column_stack([np.sin(turn), np.cos(turn)])
        # a square block's side is further away at its corners
        out = np.array([holder.get_edge_distance(Vec(x, y, 0.0), at) for (x, y), at in zip(ways, z, strict=True)])
        out *= off_middle.reach / holder.get_edge_distance(off_middle, wished.z)
        return np.column_stack([holder.middle_x + out * ways[:, 0], out * ways[:, 1], z])
