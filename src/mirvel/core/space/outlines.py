"""Outlines from above: closed loops of points, their area and middle, how deep a point lies inside them, and the same
outline drawn further out or in.

Outer loops run clockwise as seen from above and begin at the top of the middle line (x 0), so that what is spread along
a loop is as even to the left as to the right; holes run the same way and count as holes by lying inside.
"""

import math
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

Numbers = NDArray[np.float64]
Mask = NDArray[np.bool_]
Point = tuple[float, float]
_ROUND = 96  # corners a circle is drawn with: its area is 0.07 % short of the true one
_STEP_CM = 0.4
_CORNER = 0.2  # an edge that turns by more, radians, has a corner
_FAN = 8  # directions at a corner, so that an outline drawn further out goes round it
_OFF_CM = 0.03
_THINNED = 4  # of the fine points of a loop drawn in every so manieth is kept


class Outline:
    """One or more loops; points inside an odd number of them are inside."""

    def __init__(self, *loops: tuple[Point, ...]) -> None:
        self.loops = tuple(np.array(loop) for loop in loops)
        self._edges = _Edges(
            np.concatenate(self.loops), np.concatenate([np.roll(loop, -1, axis=0) for loop in self.loops])
        )

    @property
    def area_cm2(self) -> float:
        """What lies inside, holes taken off (the shoelace formula)."""
        return abs(sum(_get_moments(loop)[0] for loop in self._signed_loops))

    @property
    def centroid(self) -> Point:
        """The middle of its area."""
        moments = [_get_moments(loop) for loop in self._signed_loops]
        area = sum(each[0] for each in moments)
        return sum(each[1] for each in moments) / area, sum(each[2] for each in moments) / area

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Left, right, front (least y) and back."""
        low, high = self._edges.starts.min(axis=0), self._edges.starts.max(axis=0)
        return float(low[0]), float(high[0]), float(low[1]), float(high[1])

    @property
    def _signed_loops(self) -> list[Numbers]:
        """Holes the other way round than what they are holes in."""
        found = []
        for number, loop in enumerate(self.loops):
            others = [other for at, other in enumerate(self.loops) if at != number]
            inside = sum(bool(_Edges(other, np.roll(other, -1, axis=0)).surround(loop[:1])[0]) for other in others)
            found.append(loop[::-1] if inside % 2 else loop)
        return found

    def get_depths(self, points: Numbers) -> Numbers:
        """How deep points (n, 2) lie inside: their distance from the nearest edge, negative outside; (n,)."""
        depths: Numbers = self._edges.get_depths(points)
        return depths

    def get_nearest_edge(self, point: Point) -> Point:
        """The nearest point of its edge."""
        one = np.array([point])
        near = self._get_nearest(one)[0]
        best = int(np.argmin(np.round(((near - one) ** 2).sum(axis=1), 9)))
        return float(near[best, 0]), float(near[best, 1])

    def get_edge_points(self, point: Point, count: int) -> Numbers:
        """So many points of the edge nearest to a point along its own loop, the nearest first, then to either side;
        (count, 2)."""
        loops = [points for points, _ in self._fans]
        away = [float(((loop - np.array(point)) ** 2).sum(axis=1).min()) for loop in loops]
        loop = loops[int(np.argmin(np.round(away, 9)))]
        here = int(np.argmin(np.round(((loop - np.array(point)) ** 2).sum(axis=1), 9)))
        steps = np.array([(number + 1) // 2 * (1 if number % 2 else -1) for number in range(min(count, len(loop)))])
        points: Numbers = loop[(here + steps) % len(loop)]
        return points

    def _get_nearest(self, points: Numbers) -> Numbers:
        """The point of each edge that is nearest to each point; (n, edges, 2)."""
        starts, along = self._edges.starts, self._edges.ends - self._edges.starts
        length = np.maximum((along**2).sum(axis=1), 1e-12)
        share = ((points[:, None, :] - starts) * along).sum(axis=2) / length
        nearest: Numbers = starts + np.clip(share, 0.0, 1.0)[:, :, None] * along
        return nearest

    def get_runs_inside(self, starts: Numbers, ways: Numbers) -> Numbers:
        """How far level rays run inside from points within or on the edge; (n, 2) both, in lengths of the ways.
        Infinite where a way has no length, nought where it leads out at once."""
        first = self._edges.get_first_met(starts, ways)
        is_met = first < np.inf
        half = np.where(is_met, first, 0.0)[:, None] / 2
        inside = self._edges.surround(starts + half * ways) & is_met
        runs: Numbers = np.where(np.hypot(ways[:, 0], ways[:, 1]) < 1e-12, np.inf, np.where(inside, first, 0.0))
        return runs

    def get_row(self, out_cm: float) -> list[tuple[Numbers, Numbers]]:
        """The edge drawn so far out (in, where negative): for each loop the points of it that are left, in order, and
        the way out at each; (n, 2) both."""
        rows = []
        for points, ways in self._fans:
            moved = points + out_cm * ways
            kept = np.abs(self.get_depths(moved) + out_cm) < _OFF_CM
            rows.append((moved[kept], ways[kept]))
        return rows

    @cached_property
    def _fans(self) -> list[tuple[Numbers, Numbers]]:
        """Points along each loop with the way out at each; several ways at each corner."""
        fans = []
        for points, ways in map(_fan, self.loops):
            inwards = np.median(self.get_depths(points + 1e-3 * ways)) > 0
            fans.append((points, -ways if inwards else ways))
        return fans


def _get_moments(loop: Numbers) -> tuple[float, float, float]:
    x, y = loop[:, 0], loop[:, 1]
    x2, y2 = np.roll(x, -1), np.roll(y, -1)
    cross = x * y2 - x2 * y
    return float(cross.sum() / 2), float(((x + x2) * cross).sum() / 6), float(((y + y2) * cross).sum() / 6)


class _Edges:
    """The edges of an outline, what all that is asked of them needs worked out once: each axis in a table of its own is
    much quicker than tables of vectors."""

    def __init__(self, starts: Numbers, ends: Numbers) -> None:
        """Where each begins and ends, (n, 2) both."""
        self.starts, self.ends = starts, ends
        self._x, self._y = (np.ascontiguousarray(part) for part in starts.T)
        self._end_y = np.ascontiguousarray(ends[:, 1])
        self._dx, self._dy = (np.ascontiguousarray(part) for part in (ends - starts).T)
        self._square = np.maximum(self._dx * self._dx + self._dy * self._dy, 1e-12)
        self._rise = np.where(self._dy == 0.0, 1.0, self._dy)  # a level edge is never crossed

    def get_depths(self, points: Numbers) -> Numbers:
        """How deep points (n, 2) lie inside: their distance from the nearest edge, negative outside; (n,)."""
        off_x, off_y = points[:, 0, None] - self._x, points[:, 1, None] - self._y
        share = (off_x * self._dx + off_y * self._dy) / self._square
        share = np.minimum(np.maximum(share, 0.0, out=share), 1.0, out=share)
        beside_x, beside_y = off_x - share * self._dx, off_y - share * self._dy
        away = np.sqrt((beside_x * beside_x + beside_y * beside_y).min(axis=1))
        depths: Numbers = np.where(self._surround(points, off_y), away, -away)
        return depths

    def surround(self, points: Numbers) -> Mask:
        """Whether points (n, 2) lie inside an odd number of loops."""
        return self._surround(points, points[:, 1, None] - self._y)

    def _surround(self, points: Numbers, off_y: Numbers) -> Mask:
        x, y = points[:, 0, None], points[:, 1, None]
        crosses = (self._y > y) != (self._end_y > y)
        left_of = x < self._dx * off_y / self._rise + self._x
        inside: Mask = np.logical_xor.reduce(crosses & left_of, axis=1)
        return inside

    def get_first_met(self, starts: Numbers, ways: Numbers) -> Numbers:
        """How far rays run to the first edge that they meet ahead; (n, 2) both, in lengths of the ways."""
        dx, dy = ways[:, 0, None], ways[:, 1, None]
        off_x, off_y = self._x - starts[:, 0, None], self._y - starts[:, 1, None]
        cross = dx * self._dy - dy * self._dx
        slants = np.abs(cross) > 1e-12
        cross = np.where(slants, cross, 1.0)
        run = (off_x * self._dy - off_y * self._dx) / cross
        at = (off_x * dy - off_y * dx) / cross
        met = slants & (at >= -1e-9) & (at <= 1 + 1e-9) & (run > 1e-7)
        first: Numbers = np.where(met, run, np.inf).min(axis=1)
        return first


def _fan(loop: Numbers) -> tuple[Numbers, Numbers]:
    """Points every few millimetres with normals to one side, those at corners turned through from edge to edge."""
    along = np.roll(loop, -1, axis=0) - loop
    lengths = np.sqrt((along**2).sum(axis=1))
    normals = np.column_stack([-along[:, 1], along[:, 0]]) / np.maximum(lengths, 1e-12)[:, None]
    points, ways = [], []
    for number in range(len(loop)):
        before, after = normals[number - 1], normals[number]
        turn = math.atan2(before[0] * after[1] - before[1] * after[0], float(before @ after))
        # the two sides of a corner agree to the last digit whichever way round the loop is walked
        for share in np.linspace(-0.5, 0.5, _FAN) if abs(turn) > _CORNER else (0.0,):
            middle = before + after
            angle = math.atan2(middle[1], middle[0]) + share * turn
            points.append(loop[number])
            ways.append((math.cos(angle), math.sin(angle)))
        count = max(1, round(lengths[number] / _STEP_CM))
        for share in (np.arange(1, count) / count).tolist():
            points.append(loop[number] + share * along[number])
            ways.append(tuple(after))
    return np.array(points), np.array(ways)


@lru_cache(maxsize=64)
def get_circle(radius: float, middle: Point = (0.0, 0.0)) -> tuple[Point, ...]:
    """A circle as a loop of many corners, as large in area as the circle."""
    turns = [2 * math.pi * number / _ROUND for number in range(_ROUND)]
    fair = radius * math.sqrt(2 * math.pi / _ROUND / math.sin(2 * math.pi / _ROUND))
    return tuple((middle[0] + fair * math.sin(turn), middle[1] + fair * math.cos(turn)) for turn in turns)


def get_oblong(width: float, depth: float, middle: Point = (0.0, 0.0)) -> tuple[Point, ...]:
    """A rectangle, from the middle of its back edge."""
    x, y, (a, b) = width / 2, depth / 2, middle
    return ((a, b + y), (a + x, b + y), (a + x, b - y), (a - x, b - y), (a - x, b + y))


def get_cross(height: float, span: float, bar: float) -> tuple[Point, ...]:
    """A cross whose upper arm is as long as its side arms, in a box about the origin."""
    x, y, half = span / 2, height / 2, bar / 2
    high = y - (span - bar) / 2  # the upper edge of the arms
    right = ((half, y), (half, high), (x, high), (x, high - bar), (half, high - bar), (half, -y))
    return ((0.0, y), *right, *((-a, b) for a, b in reversed(right)))


def get_heart(height: float, width: float) -> tuple[Point, ...]:
    """A heart in a box about the origin, its cleft at the top and its point below."""
    turns = [2 * math.pi * number / _ROUND for number in range(_ROUND)]
    raw = [
        (16 * math.sin(t) ** 3, 13 * math.cos(t) - 5 * math.cos(2 * t) - 2 * math.cos(3 * t) - math.cos(4 * t))
        for t in turns
    ]
    low, high = min(y for _, y in raw), max(y for _, y in raw)
    return tuple((x * width / 32, ((y - low) / (high - low) - 0.5) * height) for x, y in raw)


def get_drawn_in(loop: tuple[Point, ...], by_cm: float) -> tuple[Point, ...]:
    """A loop alike to left and right drawn in by so much, for an open middle."""
    ((points, _),) = Outline(loop).get_row(-by_cm)
    right = [(float(x), float(y)) for x, y in points if x > 1e-6][::_THINNED]
    ends = sorted((float(y) for x, y in points if abs(x) <= 1e-6), reverse=True)
    top, foot = ((0.0, ends[0]), (0.0, ends[-1])) if ends else (right[0], right[-1])
    return (top, *right, foot, *((-x, y) for x, y in reversed(right)))
