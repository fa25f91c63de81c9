"""The surface of a frame that is covered with flowers: its top and its sides, some way out from the foam.

In section it is a quarter of an ellipse from the side, low on the frame, to the top; a wide pad is flat beyond that.
Sites lie in rows along the edge, each row half a step off the one before.
"""

import math
from collections.abc import Iterator
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from mirvel.core.forms.surface import SITES, Frame, Site
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.beds import Bed

Numbers = NDArray[np.float64]
OVER_SHARE = 0.75  # flowers stand out beside the foam by so much of what they stand above it (assumption)
SIDE_SHARE = 0.6  # and down its side by so much of its thickness
_ROUND_CM = 6.0  # how far in from the edge of the foam a wide pad is rounded
_STRIPS, _STEPS = 12, 90
_GAP_CM = 1.5  # points of a row further apart than this are two runs


def get_over_cm(above_cm: float) -> float:
    """How far out beside the foam the flowers stand."""
    return OVER_SHARE * above_cm


def get_side_z(bed: Bed) -> float:
    """How far down the side flowers cover."""
    return bed.top_z - SIDE_SHARE * bed.thickness_cm


def cover_bed(frame: Frame, bed: Bed) -> tuple[float, tuple[Site, ...]]:
    """The area of the surface and the sites on it."""
    section = _Section(frame, bed)
    strips = (np.arange(_STRIPS) + 0.5) / _STRIPS * section.length_cm
    area = sum(_get_length(bed, section.get(at)[0]) for at in strips.tolist()) * section.length_cm / _STRIPS
    spacing = math.sqrt(area / SITES * 2 / math.sqrt(3))
    rows = max(2, round(section.length_cm / (spacing * math.sqrt(3) / 2)))
    sites: list[Site] = []
    for number in range(rows):
        sites += _place_row(frame, bed, section.get((number + 0.5) / rows * section.length_cm), spacing, number % 2)
    return area, tuple(sites)


class _Section:
    """The way over the edge of a covered frame: from how far out at its side to how far in on its top."""

    def __init__(self, frame: Frame, bed: Bed) -> None:
        self.low, self.high = get_side_z(bed), frame.above_rim_cm
        self.over = get_over_cm(frame.above_rim_cm)
        deepest = get_deepest_cm(bed)
        self.wide = self.over + min(deepest, _ROUND_CM)
        turns = np.linspace(0, math.pi / 2, _STEPS + 1)
        across, up = self.wide * (1 - np.cos(turns)), (self.high - self.low) * np.sin(turns)
        self._turns = turns
        self._run = np.concatenate([[0.0], np.hypot(np.diff(across), np.diff(up)).cumsum()])
        self.length_cm = float(self._run[-1]) + max(0.0, self.over + deepest - self.wide)

    def get(self, along: float) -> tuple[float, float, float, float]:
        """At a length from the side: how far out of the foam's edge, how high, and the slope outwards and up of the
        normal there."""
        if along >= self._run[-1]:
            return self.over - self.wide - (along - float(self._run[-1])), self.high, 0.0, 1.0
        turn = float(np.interp(along, self._run, self._turns))
        out, up = math.cos(turn) / self.wide, math.sin(turn) / (self.high - self.low)
        z = self.low + (self.high - self.low) * math.sin(turn)
        return self.over - self.wide * (1 - math.cos(turn)), z, out / math.hypot(out, up), up / math.hypot(out, up)


def get_stretch(frame: Frame, bed: Bed, point: Vec) -> float:
    """How far out a point lies of the covered frame: 1 on its surface, less nearer the foam."""
    section = _Section(frame, bed)
    out = -float(bed.outline.get_depths(np.array([[point.x, point.y]]))[0])
    across = max(0.0, (out - section.over + section.wide) / section.wide)
    up = max(0.0, (point.z - section.low) / (section.high - section.low))
    return math.hypot(across, up)


@lru_cache(maxsize=64)
def get_deepest_cm(bed: Bed) -> float:
    """How far in the middle of the foam lies from its edge."""
    left, right, front, back = bed.outline.box
    x, y = np.meshgrid(np.arange(left, right + 0.01, 0.5), np.arange(front, back + 0.01, 0.5))
    return float(bed.outline.get_depths(np.column_stack([x.ravel(), y.ravel()])).max())


def _walk(points: Numbers) -> Iterator[tuple[Numbers, bool]]:
    """The runs a row's points fall into, as their indices, and whether a run closes on itself."""
    if len(points) < 2:
        return
    steps = np.sqrt(((np.roll(points, -1, axis=0) - points) ** 2).sum(axis=1))
    breaks = np.flatnonzero(steps > _GAP_CM)
    if not len(breaks):
        yield np.append(np.arange(len(points)), 0), True
        return
    for one, other in zip(breaks, np.append(breaks[1:], breaks[0] + len(points)), strict=True):
        yield np.arange(one + 1, other + 1) % len(points), False


def _get_length(bed: Bed, out_cm: float) -> float:
    total = 0.0
    for points, _ in bed.outline.get_row(out_cm):
        for run, _ in _walk(points):
            total += float(np.sqrt((np.diff(points[run], axis=0) ** 2).sum(axis=1)).sum())
    return total


def _place_row(
    frame: Frame, bed: Bed, at: tuple[float, float, float, float], spacing: float, odd: int
) -> Iterator[Site]:
    """The sites of one row, evenly along each of its runs."""
    out_cm, z, outwards, upwards = at
    low = get_side_z(bed)
    for points, ways in bed.outline.get_row(out_cm):
        for run, closed in _walk(points):
            lengths = np.concatenate([[0.0], np.sqrt((np.diff(points[run], axis=0) ** 2).sum(axis=1)).cumsum()])
            count = max(1, round(float(lengths[-1]) / spacing))
            offset = 0.5 * odd if closed else 0.5
            along = (np.arange(count) + offset) / count * lengths[-1]
            xs, ys = (np.interp(along, lengths, points[run, axis]).tolist() for axis in (0, 1))
            nearest = np.abs(lengths - along[:, None]).argmin(axis=1)
            level = (z - low) / (frame.above_rim_cm - low)
            for x, y, (way_x, way_y) in zip(xs, ys, ways[run[nearest]].tolist(), strict=True):
                normal = Vec(way_x * outwards, way_y * outwards, upwards).unit
                yield Site(Vec(round(x, 9), round(y, 9), z), normal, level, Vec(x, y, z).plus(normal, -z + low))
