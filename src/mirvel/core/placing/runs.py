"""Patterns that run through a piece as it is looked down on: in turn with others, in a line, as rays, mirrored.

Where a pattern aims at, for the placing; and the same told of places, for what says whether it is met. Points are as
seen from above, in shares of half the form's width and depth.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from mirvel.core.forms.parts import ALL_OVER
from mirvel.core.forms.surface import Surface
from mirvel.core.placing.windows import OUTSIDE_SHARE, get_band_limits, get_box, get_outside
from mirvel.core.recipe.meant import Band, Grade, Meant, Pattern, PatternKind, Where
from mirvel.core.space.vectors import Vec

Numbers = NDArray[np.float64]
Point = tuple[float, float]
LINE_REACH = 0.9  # of the way to the edge that the ends of a line lie
LONG = 1.6  # a form so many times as long as wide is gone along, any other round
_OUT_OF_TURN = 0.2  # what a place out of turn is off at least, as a share of the form
_TURN = 2 * math.pi
_OPEN_HOURS = 3.0  # of the clock without any rim: a piece made to one side
_HIGH_FROM = 0.5  # of the height, the upper of the two levels that a colour is carried through
# Highest, lowest, middle, a lower one across from the middle, one higher than the lowest across from that.
FIVE_LEVELS = (0.97, 0.15, 0.72, 0.53, 0.34)


class Run:
    """The way through a piece that tells what comes after what: round it by the clock, or along a long one."""

    def __init__(self, half_width_cm: float, half_depth_cm: float) -> None:
        self.is_round = max(half_width_cm, half_depth_cm) < LONG * min(half_width_cm, half_depth_cm)
        self.axis = 0 if half_width_cm >= half_depth_cm else 1

    def get(self, shares: Numbers) -> Numbers:
        """How far along each point (n, 2 or more) lies: radians round from 12 o’clock, or shares of half the length."""
        if not self.is_round:
            along: Numbers = shares[:, self.axis]
            return along
        turned: Numbers = np.arctan2(shares[:, 0], shares[:, 1]) % _TURN
        return turned

    def get_off_turn(self, shares: Numbers, others: Numbers, found: Numbers) -> Numbers:
        """How far each point is from the stretch between two others with fewest of those found, of these the widest."""
        if not len(others):
            return np.zeros(len(shares))
        stops = np.sort(self.get(others))
        at, own = self.get(shares), self.get(found)
        edges = [*stops, stops[0] + _TURN] if self.is_round else [-1.0, *stops, 1.0]
        stretches = []
        for start, end in pairwise(edges):
            held = int(((self._wrap(own, start) > start) & (self._wrap(own, start) < end)).sum())
            stretches.append((held, -round(float(end - start), 6), float(start), float(end)))
        _, _, start, end = min(stretches)
        wrapped = self._wrap(at, start)
        before = start + _TURN - wrapped if self.is_round else start - wrapped
        after = np.maximum(0.0, wrapped - end)
        beyond = np.minimum(after, before) if self.is_round else np.maximum(after, before)
        off: Numbers = np.where(beyond > 0, _OUT_OF_TURN + beyond / (math.pi if self.is_round else 1.0), 0.0)
        return off

    def _wrap(self, at: Numbers, start: float) -> Numbers:
        return start + (at - start) % _TURN if self.is_round else at

    def count_alike(self, own: Numbers, others: Numbers) -> tuple[int, int]:
        """How many neighbours along the run are of one kind, and how many have to be, as there are more of one kind."""
        order = np.argsort(np.concatenate([self.get(own), self.get(others)]), kind="stable")
        kinds = order < len(own)
        pairs = zip(kinds, [*kinds[1:], *kinds[:1]] if self.is_round else kinds[1:], strict=False)
        uneven = abs(len(own) - len(others))
        return sum(bool(one == other) for one, other in pairs), uneven if self.is_round else max(0, uneven - 1)


def get_hour_point(hour: float) -> tuple[float, float]:
    """Where an hour of the clock lies on the edge, 12 at the back."""
    angle = math.radians(30 * hour)
    return math.sin(angle), math.cos(angle)


def get_line_ends(pattern: Pattern, where: Where | None, surface: Surface) -> tuple[Point, Point]:
    """Where a line begins and ends: at the hours that are told, else along the middle of the part its pieces stand in
    or of the whole piece, the longer way."""
    if pattern.hour_from is not None and pattern.hour_to is not None:
        (ax, ay), (bx, by) = (get_hour_point(hour) for hour in (pattern.hour_from, pattern.hour_to))
        return (LINE_REACH * ax, LINE_REACH * ay), (LINE_REACH * bx, LINE_REACH * by)
    box = get_box(where, surface) if where else ALL_OVER
    left, front = (max(-LINE_REACH, edge) for edge in (box.left, box.front))
    right, back = (min(LINE_REACH, edge) for edge in (box.right, box.back))
    x, y = (left + right) / 2, (front + back) / 2
    is_deep = (back - front) * surface.frame.half_depth_cm > (right - left) * surface.frame.half_width_cm
    return ((x, front), (x, back)) if is_deep else ((left, y), (right, y))


def get_line_aims(ends: tuple[Point, Point], count: int) -> list[Point]:
    """Where the pieces of a line stand, evenly from its one end to the other; a single one in the middle of it."""
    (ax, ay), (bx, by) = ends
    parts = [number / (count - 1) if count > 1 else 0.5 for number in range(count)]
    return [(ax + (bx - ax) * part, ay + (by - ay) * part) for part in parts]


def get_curve_aims(pattern: Pattern, count: int) -> list[Point]:
    """Where the pieces of a curve stand, evenly from its one end to the other: it bows the way the clock runs between
    them, its middle half-way from the straight line to the edge."""
    start, end = pattern.hour_from or 0.0, pattern.hour_to or 0.0
    turn = (end - start) % 12
    (ax, ay), (bx, by), (mx, my) = (get_hour_point(hour) for hour in (start, end, start + turn / 2))
    bow = LINE_REACH * (1 - math.cos(math.radians(15 * turn))) / 2  # of the edge, over the middle of the straight line
    found = []
    for number in range(count):
        part = number / (count - 1) if count > 1 else 0.5
        over = 4 * part * (1 - part) * bow
        x, y = ax + (bx - ax) * part, ay + (by - ay) * part
        found.append((LINE_REACH * x + over * mx, LINE_REACH * y + over * my))
    return found


def get_five_hours(turn: float) -> tuple[float | None, ...]:
    """The hours of five points, in the order of FIVE_LEVELS: the highest anywhere, then two pairs across the piece."""
    return None, turn, turn + 3.0, turn + 9.0, turn + 6.0


def get_fringe_span(pattern: Pattern, surface: Surface) -> tuple[float, float]:
    """From what hour on, and over how many, a fringe runs: as it is told, else all round the rim but where a piece that
    is made to one side has none of it."""
    if pattern.hour_from is not None and pattern.hour_to is not None:
        return pattern.hour_from, (pattern.hour_to - pattern.hour_from) % 12 or 12.0
    points = surface.outline[0]
    low = points[points[:, 2] <= get_band_limits(Band.LOW)[1] * surface.frame.above_rim_cm]
    if not len(low):
        return 0.0, 12.0
    hours = np.sort(np.degrees(np.arctan2(low[:, 0], low[:, 1])) / 30 % 12)
    gaps = np.diff(hours, append=hours[0] + 12)
    widest = int(np.argmax(gaps))
    if gaps[widest] < _OPEN_HOURS:
        return 0.0, 12.0
    return float(hours[(widest + 1) % len(hours)]), float(12 - gaps[widest])


def get_fringe_hours(span: tuple[float, float], count: int) -> list[float]:
    """The hours that the pieces of a fringe stand at, evenly."""
    start, hours = span
    parts = count if hours == 12 else max(1, count - 1)
    return [start + hours * number / parts for number in range(count)]


def get_even_cm(surface: Surface, meant: Meant, count: int) -> float:
    """How far apart so many stand that are spread evenly over what they are meant to stand in."""
    frame = surface.frame
    shares = surface.outline[0] / [frame.half_width_cm, frame.half_depth_cm, frame.above_rim_cm]
    levels, places = get_outside(meant, shares, surface)
    allowed = max(1, int((levels + places <= OUTSIDE_SHARE).sum()))
    return math.sqrt(surface.area_cm2 * allowed / len(shares) / count)


def get_parts_held(shares: Numbers) -> NDArray[np.int_]:
    """Which of six parts of a piece each point (n, 3) lies in: thirds of the clock, low or high."""
    thirds = np.floor(np.arctan2(shares[:, 0], shares[:, 1]) % _TURN / (_TURN / 3)).astype(int)
    parts: NDArray[np.int_] = np.minimum(thirds, 2) + 3 * (shares[:, 2] >= _HIGH_FROM).astype(int)
    return parts


def get_ray_hours(pattern: Pattern, count: int) -> list[float]:
    """The hours that rays point to: evenly from the one to the other, else all round from 12."""
    if pattern.hour_from is None or pattern.hour_to is None:
        return [12 * number / count for number in range(count)]
    span = (pattern.hour_to - pattern.hour_from) % 12 or 12.0
    parts = count if span == 12 else max(1, count - 1)
    return [pattern.hour_from + (span / 2 if count == 1 else span * number / parts) for number in range(count)]


@dataclass(frozen=True)
class Fan:
    """What rays are turned about: the middle they go out from, in shares of the form, and what a share across and away
    counts there, so that 1 is the edge of the piece or the further end of the part they are in."""

    middle: Point = (0.0, 0.0)
    scale: Point = (1.0, 1.0)

    def get_offs(self, shares: Numbers) -> Numbers:
        """How far points (n, 2 or 3), in shares of the form, are out of the middle, (n, 2)."""
        offs: Numbers = (shares[:, :2] - self.middle) * self.scale
        return offs

    def get_point(self, hour: float, out: float) -> Point:
        """The point so far out towards an hour, in shares of the form."""
        x, y = get_hour_point(hour)
        return self.middle[0] + x * out / self.scale[0], self.middle[1] + y * out / self.scale[1]


def get_fan(where: Where | None, surface: Surface) -> Fan:
    """What the rays of an entry are turned about: the middle of the piece, or of the part they are meant to be in."""
    if where is None or where.part not in surface.parts:
        return Fan()
    box = get_box(where, surface)
    left, front, right, back = (max(-1.0, min(1.0, edge)) for edge in (box.left, box.front, box.right, box.back))
    wide, deep = surface.frame.half_width_cm, surface.frame.half_depth_cm
    long = max((right - left) * wide, (back - front) * deep) / 2
    return Fan(((left + right) / 2, (front + back) / 2), (wide / long, deep / long))


def get_off_ray(shares: Numbers, hour: float) -> Numbers:
    """How far each point is from the way out to an hour."""
    x, y = get_hour_point(hour)
    along, beside = shares[:, 0] * x + shares[:, 1] * y, np.abs(shares[:, 0] * y - shares[:, 1] * x)
    off: Numbers = np.where(along > 0, beside, np.hypot(shares[:, 0], shares[:, 1]) + _OUT_OF_TURN)
    return off


def get_grade_key(grade: Grade | None, point: Vec) -> float:
    """What the places of the larger are least of: height, nearness to the middle or, turned round, to the edge."""
    if grade is Grade.LOW:
        return point.z
    return point.reach if grade is Grade.INWARD else -point.reach


def get_mirrors(kind: PatternKind) -> tuple[Vec, ...]:
    """The mirrors of a pattern, as what each does to a point."""
    left, front = Vec(-1.0, 1.0, 1.0), Vec(1.0, -1.0, 1.0)
    return {
        PatternKind.SIDEWAYS: (left,),
        PatternKind.LENGTHWAYS: (front,),
        PatternKind.BOTH_WAYS: (left, front),
    }.get(kind, ())


def get_images(point: Vec, mirrors: Sequence[Vec]) -> list[Vec]:
    """A point and all its images, those that fall together once."""
    found = [point]
    for mirror in mirrors:
        found += [each.times(mirror) for each in found]
    apart: list[Vec] = []
    for each in found:
        if all(each.minus(other).length > 1e-6 for other in apart):
            apart.append(each)
    return apart
