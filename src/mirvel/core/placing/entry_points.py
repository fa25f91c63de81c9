"""Where stems enter: at the rim or into foam, and far enough from one another.

The further out a head, the nearer its own rim its stem enters, but always nearer the axis than what it carries, so
that stems cross inside. Gathered stems enter near one spot, upright ones straight below. Into foam, low heads go
from the side. Holes in foam stay apart by their stems and a wall of 2 mm, no stem runs through another below them,
and each has foam enough ahead to hold it; stems at a rim stay apart by their own thickness (in glass they may cross
below it). Where the spot is taken, the nearest free one is used, and where none is free the least crowded.
"""

import math

import numpy as np
from numpy.typing import NDArray

from mirvel.core.forms.form import Entering
from mirvel.core.forms.surface import Frame
from mirvel.core.goods.facts import Mechanics
from mirvel.core.goods.material import Material
from mirvel.core.space.segments import get_distances
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.beds import Bed
from mirvel.core.vessels.hollows import FOAM_CLEARANCE_CM, LEAST_IN_FOAM_CM, Hollow, get_foam_depth_cm, get_way_down

Numbers = NDArray[np.float64]
GATHERED_SHARE = 0.42
HOLE_WALL_CM = 0.2
SIDE_LEVEL = 0.22  # heads lower than this share of the height go into the side of foam
_TRIES, _TRIES_AT_ONCE = 180, 20
_ROUNDING_CM = 0.64  # cuts in foam may be rounded down by a step
_TOO_SHALLOW = 6.0  # where nothing is free a crowded hole is better than one that does not hold
_TRY_STEP_CM = 0.32
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


def _get_tries_on_rim(wished: Vec, step_cm: float, vessel: Hollow) -> Numbers:
    """Points along a vessel's rim to either side of the wished one, nearest first."""
    numbers, x, y = np.arange(_TRIES), wished.x - vessel.middle_x, wished.y
    sides = (numbers + 1) // 2 * np.where(numbers % 2, 1, -1)
    turns = math.atan2(x, y) + sides * step_cm / max(math.hypot(x, y), 0.5)
    ways = np.column_stack([np.sin(turns), np.cos(turns)])
    out = vessel.get_edge_distances(ways, vessel.top_z) + vessel.wall_cm
    return np.column_stack([vessel.middle_x + out * ways[:, 0], out * ways[:, 1], np.full(_TRIES, wished.z)])


class Entrances:
    """The entry points taken so far in one holder and, in foam, where their stems run below them."""

    def __init__(self, holder: Hollow | Bed, mechanics: Mechanics, most: int) -> None:
        self.holder, self.in_foam = holder, mechanics is Mechanics.FOAM
        self.wall_cm = HOLE_WALL_CM if self.in_foam else 0.0
        self.points: Numbers = np.zeros((most, 3))
        self.ends: Numbers = np.zeros((most, 3))
        self.radii: Numbers = np.zeros(most)
        self.depths: Numbers = np.zeros(most)
        self.taken = 0

    def settle(self, wished: Vec, base: Vec, material: Material) -> Vec:
        """The free entry point nearest to the one wished for, which is then taken; ``base`` is what it carries."""
        radius = material.stem_diameter_mm / 20
        depth = get_foam_depth_cm(material, base.minus(wished).length, self.holder)
        start = wished
        if self._get_room(np.array([wished]), base, depth, radius)[0] < -1e-9:
            start = self._find_nearest_free(wished, base, depth, radius)
        self.points[self.taken] = start
        self.ends[self.taken] = start.plus(get_way_down(base, start), depth)
        self.radii[self.taken], self.depths[self.taken] = radius, depth
        self.taken += 1
        return start

    def _get_room(self, points: Numbers, base: Vec, depth: float, radius: float) -> Numbers:
        """Room between each point's stem and the nearest one taken, cm; negative where they collide, at their holes
        or, in foam, below them."""
        others, radii = self.points[: self.taken], self.radii[: self.taken]
        room: Numbers = np.full(len(points), np.inf)
        near = np.zeros(self.taken, dtype=bool)
        if self.taken:
            # axis by axis: three plain tables are much quicker than one of vectors
            away = np.sqrt(sum((points[:, axis, None] - others[:, axis]) ** 2 for axis in range(3)))
            room = (away - radii - radius - self.wall_cm).min(axis=1)
            near = (
                away.min(axis=0) <= depth + self.depths[: self.taken] + radii + radius
            )  # others' stems cannot meet it
        if self.in_foam:
            ways = [get_way_down(base, Vec(*point)) for point in points.tolist()]
            if near.any():
                ends = self.ends[: self.taken][near]
                below = get_distances(points, points + depth * np.array(ways), others[near], ends)
                room = np.minimum(room, (below - radii[near] - radius).min(axis=1))
            ahead = self._get_runs(points, ways) - FOAM_CLEARANCE_CM - LEAST_IN_FOAM_CM - _ROUNDING_CM
            room = np.minimum(room, np.where(ahead < 0, _TOO_SHALLOW * ahead, ahead))
        return room

    def _get_runs(self, points: Numbers, ways: list[Vec]) -> Numbers:
        """How far each stem could go on in the foam."""
        if isinstance(self.holder, Bed):
            return self.holder.get_exit_distances(points, np.array(ways))
        holder = self.holder
        runs = (holder.get_exit_distance(Vec(*p), way) for p, way in zip(points.tolist(), ways, strict=True))
        return np.fromiter(runs, dtype=np.float64)

    def _find_nearest_free(self, wished: Vec, base: Vec, depth: float, radius: float) -> Vec:
        tries = self._get_tries(wished, radius)
        tried, rooms = [np.zeros((0, 3))], [np.zeros(0)]
        for first in range(0, len(tries), _TRIES_AT_ONCE):
            points = tries[first : first + _TRIES_AT_ONCE]
            if isinstance(self.holder, Bed):
                points = self.holder.get_held(points)
            if not len(points):
                continue
            room = self._get_room(points, base, depth, radius)
            free = np.flatnonzero(room >= -1e-9)
            if len(free):
                return Vec(*points[free[0]].tolist())
            tried.append(points)
            rooms.append(room)
        crowded = np.concatenate(tried)
        if not len(crowded):
            return wished
        return Vec(*crowded[int(np.argmax(np.round(np.concatenate(rooms), 6)))].tolist())

    def _get_tries(self, wished: Vec, radius: float) -> Numbers:
        """Points round the wished one, nearest first: over the top, or along the side of the foam."""
        step = max(_TRY_STEP_CM, 0.5 * (2 * radius + self.wall_cm))
        holder, top = self.holder, self.holder.top_z
        if isinstance(holder, Bed):
            return holder.get_tries(wished, step * _SPIRAL)
        if holder.wall_cm and wished.z > top + 1e-9:
            return _get_tries_on_rim(wished, step, holder)
        if wished.z > top - 1e-9:
            tries = np.column_stack([wished.x + step * _SPIRAL[:, 0], wished.y + step * _SPIRAL[:, 1]])
            off = np.column_stack([tries[:, 0] - holder.middle_x, tries[:, 1]])
            reach = np.hypot(off[:, 0], off[:, 1])
            edges = holder.get_edge_distances(off, top)
            inwards = np.minimum(1.0, np.maximum(edges - radius, 0.3 * edges) / np.maximum(reach, 1e-9))
            x, y = off[:, 0] * inwards + holder.middle_x, off[:, 1] * inwards
            return np.column_stack([x, y, np.full(_TRIES, top)])
        off_middle = Vec(wished.x - holder.middle_x, wished.y, 0.0)
        turn: Numbers = math.atan2(off_middle.x, off_middle.y) + step * _SPIRAL[:, 0] / max(off_middle.reach, 0.5)
        z = np.clip(wished.z + step * _SPIRAL[:, 1], 0.15 * top, 0.85 * top)
        ways = np.column_stack([np.sin(turn), np.cos(turn)])
        # a square block's side is further away at its corners
        out = np.array([holder.get_edge_distance(Vec(x, y, 0.0), at) for (x, y), at in zip(ways, z, strict=True)])
        out *= off_middle.reach / holder.get_edge_distance(off_middle, wished.z)
        return np.column_stack([holder.middle_x + out * ways[:, 0], out * ways[:, 1], z])
