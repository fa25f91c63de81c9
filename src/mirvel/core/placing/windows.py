"""Where on a piece an entry is meant to stand, as a measure: how far outside of what is meant a point lies.

Points are in shares of the form: of half its width, half its depth, and its height above the rim. The same measure
chooses sites and says afterwards whether what was meant is met.
"""

import math

import numpy as np
from numpy.typing import NDArray

from mirvel.core.forms.parts import ALL_OVER, SIDEWAYS, Box, get_along
from mirvel.core.forms.surface import Surface
from mirvel.core.recipe.meant import Band, Meant, Spot, Where
from mirvel.core.space.vectors import BANDS

Numbers = NDArray[np.float64]
CENTRE_SHARE = 0.15  # so far from the middle, as a share of the form, is still its centre
ROUND_SHARE = 1 / 3  # the inner third of the way out is the middle that is left open
EDGE_SHARE = 0.75  # and from here outwards its edge
OUTSIDE_SHARE = 0.03  # of the form, that a head may stand outside of where it is meant to
_LOWEST, _HIGHEST = -9.0, 9.0
_LIMITS = (_LOWEST, *(limit for limit, _ in BANDS), _HIGHEST)
_SIDE_HOURS = {Spot.FRONT: (4.0, 8.0), Spot.BACK: (10.0, 2.0), Spot.LEFT: (7.5, 10.5), Spot.RIGHT: (1.5, 4.5)}


def get_band_limits(band: Band) -> tuple[float, float]:
    """From what share of the height to what other a band goes."""
    at = list(Band).index(band)
    return _LIMITS[at], _LIMITS[at + 1]


def get_band_middle(band: Band) -> float:
    """The share of the height a band is aimed at by."""
    low, high = get_band_limits(band)
    return (max(low, -0.05) + min(high, 1.0)) / 2


def get_box(where: Where, surface: Surface) -> Box:
    """The part of the form that is told, as far as it is; all of the form where it has none of that name."""
    if where.part and where.part in surface.parts and where.cm_from is not None and where.cm_to is not None:
        half = surface.frame.half_width_cm if where.part in SIDEWAYS else surface.frame.half_depth_cm
        return get_along(surface.parts, where.part, where.cm_from / half, where.cm_to / half)
    return surface.parts.get(where.part, ALL_OVER) if where.part else ALL_OVER


def get_outside(meant: Meant, shares: Numbers, surface: Surface) -> tuple[Numbers, Numbers]:
    """How far outside the levels, and outside the part of the piece, each point (n, 3) lies: shares of the form."""
    levels, places = np.zeros(len(shares)), np.zeros(len(shares))
    if meant.levels:
        z = shares[:, 2]
        limits = [get_band_limits(band) for band in meant.levels]
        levels = np.min([np.maximum(0.0, np.maximum(low - z, z - high)) for low, high in limits], axis=0)
    if meant.where:
        places = _get_outside_part(meant.where, shares, surface)
    return levels, places


def _get_outside_part(where: Where, shares: Numbers, surface: Surface) -> Numbers:
    if where.part:
        return get_outside_box(get_box(where, surface), shares)
    out = np.hypot(shares[:, 0], shares[:, 1])
    if where.spot is Spot.CENTRE:
        return np.maximum(0.0, out - CENTRE_SHARE)
    if where.spot is Spot.ROUND:
        return np.maximum(0.0, ROUND_SHARE - out)
    if where.spot is Spot.EDGE:
        return np.maximum(0.0, EDGE_SHARE - out)
    start, end = get_hours(where)
    half = math.radians(30 * ((end - start) % 12) / 2)
    middle = math.radians(30 * start) + half
    turn = np.arctan2(shares[:, 0], shares[:, 1]) - middle
    off = np.maximum(0.0, np.abs((turn + math.pi) % (2 * math.pi) - math.pi) - half)
    # how far it is to the nearer end of the arc, round the middle; a quarter turn and more away, to the middle itself
    outside: Numbers = out * np.sin(np.minimum(off, math.pi / 2)) + CENTRE_SHARE * (off > 0)
    return outside


def get_outside_box(box: Box, shares: Numbers, size: tuple[float, float] = (1.0, 1.0)) -> Numbers:
    """How far outside of a box each point lies, (n,): shares of the form or, by half its width and depth, cm."""
    x, y = shares[:, 0], shares[:, 1]
    across = np.maximum(0.0, np.maximum(box.left - x, x - box.right))
    away = np.maximum(0.0, np.maximum(box.front - y, y - box.back))
    outside: Numbers = np.hypot(across * size[0], away * size[1])
    return outside


def get_hours(where: Where) -> tuple[float, float]:
    """From what hour of the clock on to what other; all round for a part that has none."""
    if where.hour_from is not None and where.hour_to is not None:
        return where.hour_from, where.hour_to
    return _SIDE_HOURS.get(where.spot or Spot.CENTRE, (0.0, 12.0 - 1e-9))
