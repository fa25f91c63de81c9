"""The foam of a piece as it would be seen if nothing hid it: points over a frame's foam, or over a block that stands
in a container, and the way out at each."""

import math
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from mirvel.core.vessels.beds import Bed
from mirvel.core.vessels.hollows import Hollow

Numbers = NDArray[np.float64]
_POINTS = 240  # looked at, about, over all of the foam
_FINER = 2.0  # times as close over the sides of a block, which are low: a strip is seen as it is, between what hides it


def spread_foam(foam: Bed | Hollow) -> tuple[Numbers, Numbers, Numbers]:
    """Points over the foam that shows and the way out at each, (n, 3) both; and how much of it each stands for, cm2,
    (n)."""
    return _spread_bed(foam) if isinstance(foam, Bed) else _spread_block(foam)


@lru_cache(maxsize=64)
def _spread_bed(bed: Bed) -> tuple[Numbers, Numbers, Numbers]:
    """Over the top and the sides of a frame's foam."""
    left, right, front, back = bed.outline.box
    rows = bed.outline.get_row(0.0)
    around = sum(float(np.hypot(*np.diff(edge, axis=0, append=edge[:1]).T).sum()) for edge, _ in rows)
    step = math.sqrt((bed.outline.area_cm2 + around * bed.thickness_cm) / _POINTS)
    across = np.linspace(left, right, max(2, round((right - left) / step)) + 1)
    away = np.linspace(front, back, max(2, round((back - front) / step)) + 1)
    flat = np.array([(x, y) for x in (across[1:] + across[:-1]) / 2 for y in (away[1:] + away[:-1]) / 2])
    flat = flat[bed.outline.get_depths(flat) > 0]
    points = [np.column_stack([flat, np.full(len(flat), bed.top_z)])]
    normals = [np.tile([0.0, 0.0, 1.0], (len(flat), 1))]
    layers = max(1, round(bed.thickness_cm / step))
    for edge, ways in rows:
        every = max(1, round(step / float(np.median(np.hypot(*np.diff(edge, axis=0).T)))))
        for layer in range(layers):
            z = bed.top_z - (layer + 0.5) / layers * bed.thickness_cm
            points.append(np.column_stack([edge[::every], np.full(len(edge[::every]), z)]))
            normals.append(np.column_stack([ways[::every], np.zeros(len(edge[::every]))]))
    each = _share_out((bed.outline.area_cm2, around * bed.thickness_cm), (len(flat), sum(map(len, points[1:]))))
    return np.concatenate(points), np.concatenate(normals), each


@lru_cache(maxsize=64)
def _spread_block(block: Hollow) -> tuple[Numbers, Numbers, Numbers]:
    """Over the top of a block in a container, and its sides as far as they stand above the rim."""
    half = block.get_half_width(block.top_z)
    above = max(0.0, block.top_z)
    around = (8.0 if block.square else 2 * math.pi) * half * (1 + block.ratio) / 2
    area = (4.0 if block.square else math.pi) * half * half * block.ratio
    step = math.sqrt((area + around * above) / _POINTS)
    reach = half * max(1.0, block.ratio)
    line = np.arange(-reach, reach + step, step)
    flat = np.array([(x, y) for x in line for y in line])
    flat = flat[np.hypot(flat[:, 0], flat[:, 1]) < block.get_edge_distances(flat, block.top_z)]
    points = [np.column_stack([flat[:, 0] + block.middle_x, flat[:, 1], np.full(len(flat), block.top_z)])]
    normals = [np.tile([0.0, 0.0, 1.0], (len(flat), 1))]
    close = step / _FINER
    turns = np.linspace(0, 2 * math.pi, max(8, round(around / close)), endpoint=False)
    ways = np.column_stack([np.sin(turns), np.cos(turns)])
    layers = round(above / close)
    for layer in range(layers):
        z = (layer + 0.5) / layers * above
        edge = block.get_edge_distances(ways, z)[:, None] * ways
        points.append(np.column_stack([edge[:, 0] + block.middle_x, edge[:, 1], np.full(len(edge), z)]))
        normals.append(np.column_stack([ways, np.zeros(len(ways))]))
    each = _share_out((area, around * above), (len(flat), layers * len(ways)))
    return np.concatenate(points), np.concatenate(normals), each


def _share_out(areas_cm2: tuple[float, float], counts: tuple[int, int]) -> Numbers:
    """How much of the top and of the sides each of their points stands for: together all of it."""
    return np.repeat([area / max(1, count) for area, count in zip(areas_cm2, counts, strict=True)], counts)
