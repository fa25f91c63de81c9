"""The pieces as what hides things from an eye.

A head hides what lies behind its disc (a ball behind its sphere), a leaf or spike what lies behind a rod along it, each
as wide as it closes (``closed``); a spray, what its heads hide. All is reckoned in plain tables of points by pieces:
vectors would be much slower.
"""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mirvel.core.goods.closed import get_closed_across, get_closed_from_side
from mirvel.core.goods.facts import LEAF_FORMS
from mirvel.core.placing.places import LEAST_SEEN, Place, get_blade_shares
from mirvel.core.space.vectors import Vec

Numbers = NDArray[np.float64]
Mask = NDArray[np.bool_]

_FACES_EYE = 0.05  # a head turned no further from the eye shows nothing of its side


@dataclass(frozen=True)
class _Single:
    """One head of a piece: the middle of its front, where it faces, half the width it closes, and half the width and
    length of the oval it closes seen from its side."""

    tip: Vec
    facing: Vec
    half_cm: float
    side_half_cm: float
    half_length_cm: float


@dataclass(frozen=True, eq=False)
class _Discs:
    """Heads as discs: the middle of each and where it faces, (m, 3), and its radius."""

    middles: Numbers
    facings: Numbers
    radii: Numbers

    def hit(self, points: Numbers, towards: Numbers) -> Mask:
        """Which points (n, 3) lie behind which, for an eye in a direction; (n, m)."""
        slant = self.facings @ towards
        slant = np.where(np.abs(slant) < 1e-9, 1e-9, slant)
        along = ((self.middles * self.facings).sum(axis=1) - points @ self.facings.T) / slant
        nearer, away = _get_offsets(points, self.middles, towards)
        return np.asarray((along > 0) & (away + (along - nearer) ** 2 <= self.radii**2))


@dataclass(frozen=True, eq=False)
class _Sides:
    """Flat heads seen from their sides, as ovals behind their fronts: middles and ways they face, (m, 3), half their
    widths and lengths."""

    middles: Numbers
    facings: Numbers
    half_widths: Numbers
    half_lengths: Numbers

    def hit(self, points: Numbers, towards: Numbers) -> Mask:
        """Which points (n, 3) lie behind which, for an eye in a direction; (n, m)."""
        seen = self.facings - (self.facings @ towards)[:, None] * towards
        shown = np.maximum(np.sqrt((seen**2).sum(axis=1)), 1e-6)
        along = (points @ seen.T - (self.middles * seen).sum(axis=1)) / shown
        nearer, away = _get_offsets(points, self.middles, towards)
        share = (along / (self.half_lengths * shown)) ** 2 + (away - along**2) / self.half_widths**2
        return np.asarray((nearer > 0) & (share <= 1.0) & (shown > _FACES_EYE))


@dataclass(frozen=True, eq=False)
class _Balls:
    """Heads as balls behind their tips: middles (m, 3) and radii."""

    middles: Numbers
    radii: Numbers

    def hit(self, points: Numbers, towards: Numbers) -> Mask:
        """Which points (n, 3) lie behind which, for an eye in a direction; (n, m)."""
        nearer, away = _get_offsets(points, self.middles, towards)
        return np.asarray((nearer > 0) & (away <= self.radii**2))


@dataclass(frozen=True, eq=False)
class _Rods:
    """Leaves and spikes as rods from their ends along their ways, with the unit ways they grow, (m, 3) all, and the
    radius each closes."""

    ends: Numbers
    ways: Numbers
    axes: Numbers
    radii: Numbers
    are_leaves: Mask

    def hit(self, points: Numbers, towards: Numbers) -> Mask:
        """Which points (n, 3) lie behind which, for an eye in a direction, (n, m): by what of each rod is seen
        nearest to the point looked at."""
        radii = self.radii * np.where(self.are_leaves, get_blade_shares(self.axes, towards), 1.0)
        nearer, away = _get_offsets(points, self.ends, towards)
        along = self.ways @ towards
        whole = (self.ways**2).sum(axis=1)
        length = np.maximum(whole - along**2, 1e-9)  # as seen, squared
        spread = np.where(self.are_leaves, np.sqrt(np.maximum(1.0, LEAST_SEEN**2 * whole / length)), 1.0)
        flat = ((self.ends * self.ways).sum(axis=1) - points @ self.ways.T - nearer * along) * spread
        length = length * spread**2
        # a leaf that is seen shorter is painted less in proportion, its round ends too
        seen, long = np.sqrt(length), np.sqrt(whole)
        area = radii * (2 * long + math.pi * radii) * np.minimum(1.0, seen / long)
        radii = np.where(self.are_leaves, _get_rounded(seen, area), radii)
        inset = np.where(self.are_leaves, np.minimum(0.5, radii / seen), 0.0)
        share = np.clip(-flat / length, inset, 1 - inset)
        beside = away + 2 * share * flat + share**2 * length
        return np.asarray((nearer + share * along > 0) & (beside <= radii**2))


Shades = tuple[_Discs, _Sides, _Balls, _Rods]


def _get_rounded(length: Numbers, area: Numbers) -> Numbers:
    """Half the width of a bar with round ends that is so long in all, by its area; of a disc where that is larger."""
    spare = length**2 - (4 - math.pi) * area
    bar = (length - np.sqrt(np.maximum(spare, 0.0))) / (4 - math.pi)
    radii: Numbers = np.where(area < math.pi / 4 * length**2, bar, np.sqrt(area / math.pi))
    return radii


def get_shades(places: list[Place]) -> Shades:
    """What hides, of the pieces that show."""
    flat = [single for place in places if _is_flat(place) for single in _get_singles(place)]
    balls = [single for place in places if _is_ball(place) for single in _get_singles(place)]
    rods = [place for place in places if place.material.is_axial]
    return _get_discs(flat), _get_sides(flat), _get_balls(balls), _get_rods(rods)


def _is_flat(place: Place) -> bool:
    return not (place.material.is_axial or _is_ball(place))


def _is_ball(place: Place) -> bool:
    """What is laid on is no ball, half of which would lie below what it is laid on."""
    return place.material.is_ball and not place.material.is_laid


def _get_singles(place: Place) -> list[_Single]:
    material, length = place.material, place.head.length_cm
    side = math.sqrt(get_closed_from_side(material) * 4 / math.pi)
    return [
        _Single(
            tip,
            place.facing,
            get_closed_across(material, length, width_cm) * width_cm / 2,
            side * width_cm / 2,
            side * length / 2,
        )
        for tip, width_cm in place.heads
    ]


def hide(shades: Shades, points: Numbers, towards: Numbers) -> Mask:
    """Which points (n, 3) an eye in a direction does not see."""
    hidden: Mask = np.zeros(len(points), dtype=bool)
    for shade in shades:
        rest = np.flatnonzero(~hidden)
        if not len(rest):
            break
        hidden[rest] = shade.hit(points[rest], towards).any(axis=1)
    return hidden


class Hits:
    """Which of so many pieces hides what, each told from the others."""

    def __init__(self, places: list[Place]) -> None:
        self.count = len(places)
        numbered = list(enumerate(places))
        flat = [at for at, place in numbered if _is_flat(place) for _ in place.heads]
        balls = [at for at, place in numbered if _is_ball(place) for _ in place.heads]
        rods = [at for at, place in numbered if place.material.is_axial]
        discs, sides, spheres, leaves = get_shades(places)
        found = ((flat, discs.hit), (flat, sides.hit), (balls, spheres.hit), (rods, leaves.hit))
        self.shades = [(np.array(whose), hit) for whose, hit in found if whose]

    def find(self, points: Numbers, towards: Numbers) -> Mask:
        """Which points (n, 3) each of m pieces hides from an eye in a direction; (n, m)."""
        hits: Mask = np.zeros((len(points), self.count), dtype=bool)
        for whose, hit in self.shades:
            firsts = np.flatnonzero(np.diff(whose, prepend=-1))
            hits[:, whose[firsts]] |= np.logical_or.reduceat(hit(points, towards), firsts, axis=1)
        return hits


def as_rows(points: list[Vec]) -> Numbers:
    """Points as a table, (n, 3)."""
    return np.array(points, dtype=np.float64).reshape(len(points), 3)


def _get_discs(heads: list[_Single]) -> _Discs:
    facings = as_rows([head.facing for head in heads])
    return _Discs(as_rows([head.tip for head in heads]), facings, np.array([head.half_cm for head in heads]))


def _get_sides(heads: list[_Single]) -> _Sides:
    return _Sides(
        as_rows([head.tip.plus(head.facing, -head.half_length_cm) for head in heads]),
        as_rows([head.facing for head in heads]),
        np.array([head.side_half_cm for head in heads]),
        np.array([head.half_length_cm for head in heads]),
    )


def _get_balls(heads: list[_Single]) -> _Balls:
    radii = np.array([head.half_cm for head in heads])
    facings = as_rows([head.facing for head in heads])
    return _Balls(as_rows([head.tip for head in heads]) - radii[:, None] * facings, radii)


def _get_rods(places: list[Place]) -> _Rods:
    axes = as_rows([place.axis for place in places])
    lengths = np.array([place.shown_length_cm for place in places]).reshape(-1, 1)
    return _Rods(
        as_rows([place.tip for place in places]),
        -lengths * axes,
        axes,
        np.array([_get_closed_cm(place) for place in places]),
        np.array([place.material.form in LEAF_FORMS for place in places], dtype=bool),
    )


def _get_closed_cm(place: Place) -> float:
    """Half the width a leaf or spike closes along its length."""
    length = place.shown_length_cm if place.material.form in LEAF_FORMS else place.head.length_cm
    return get_closed_across(place.material, length, place.shown_width_cm) * place.shown_width_cm / 2


def _get_offsets(points: Numbers, others: Numbers, towards: Numbers) -> tuple[Numbers, Numbers]:
    """How much nearer to the eye each other lies than each point, and how far beside it as seen, squared; (n, m)."""
    nearer = (others @ towards)[None, :] - (points @ towards)[:, None]
    square = (points**2).sum(axis=1)[:, None] - 2 * points @ others.T + (others**2).sum(axis=1)
    return nearer, square - nearer**2
