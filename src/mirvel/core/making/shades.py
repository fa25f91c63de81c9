"""The pieces as what hides things from an eye.

A head hides what lies behind its disc (a ball behind its sphere), a leaf or spike what lies behind a rod along it, each
as wide as it closes (``closed``); a spray, what its heads hide. All is reckoned in plain tables: which points are seen
near which pieces in one of points by pieces, and only these pairs, few of all, closely.
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
Rows = NDArray[np.int_]
Pairs = tuple[Rows, Rows]  # of each point that is hidden by a shade, its number and that of the shade; (k,) both

_FACES_EYE = 0.05  # a head turned no further from the eye shows nothing of its side
_STEEP = 0.9  # an eye that looks so steeply down has no level of its own to measure by
_AND_ROUNDING_CM = 1e-6  # more than what is reckoned quickly can be off


@dataclass(frozen=True)
class _Single:
    """One head of a piece: the middle of its front, where it faces, half the width it closes, and half the width and
    length of the oval it closes seen from its side."""

    tip: Vec
    facing: Vec
    half_cm: float
    side_half_cm: float
    half_length_cm: float


def get_across(towards: Numbers) -> Numbers:
    """Two unit ways square to the one towards an eye and to each other, the first of them level; (3, 2)."""
    way = Vec(*towards.tolist())
    level = way.cross(Vec(0.0, 0.0, 1.0) if abs(way.z) < _STEEP else Vec(0.0, 1.0, 0.0)).unit
    return np.array([level, way.cross(level)]).T


@dataclass(frozen=True, eq=False)
class _View:
    """Points (n, 3) as an eye in a direction has them: the two ways across the one it looks, (3, 2), and where each
    is seen along these, (n, 2)."""

    points: Numbers
    towards: Numbers
    across: Numbers
    seen: Numbers

    @classmethod
    def look(cls, points: Numbers, towards: Numbers) -> "_View":
        """Of points (n, 3), for a unit way towards the eye."""
        across = get_across(towards)
        return cls(points, towards, across, points @ across)

    def find_near(self, middles: Numbers, within_cm: Numbers) -> Mask:
        """Which points are seen no further than so much from which middles (m, 3): of nearly all of them that is no, so
        that only the rest is looked at closely; (n, m)."""
        others = middles @ self.across
        square = (others**2).sum(axis=1) - (within_cm + _AND_ROUNDING_CM) ** 2
        # |a - b|² as a² + b² - 2ab: one product of tables
        near: Mask = self.seen @ (2 * others).T >= (self.seen**2).sum(axis=1)[:, None] + square
        return near

    def find_beside(self, ends: Numbers, ways: Numbers, within_cm: Numbers) -> Mask:
        """Which points are seen no further than so much from which straight lines through ends; (n, m)."""
        ends, ways = ends @ self.across, ways @ self.across
        long = np.maximum(np.hypot(ways[:, 0], ways[:, 1]), _AND_ROUNDING_CM)
        square_on = np.column_stack([ways[:, 1], -ways[:, 0]]) / long[:, None]
        away = self.seen @ square_on.T - (ends * square_on).sum(axis=1)
        beside: Mask = np.abs(away) <= within_cm + _AND_ROUNDING_CM
        return beside

    def get_offsets(self, rows: Rows, others: Numbers) -> tuple[Numbers, Numbers]:
        """How much nearer to the eye each other (k, 3) lies than the point of its row, and how far beside it as seen,
        squared; (k,)."""
        off = others - self.points[rows]
        nearer: Numbers = off @ self.towards
        return nearer, ((off @ self.across) ** 2).sum(axis=1)


@dataclass(frozen=True, eq=False)
class _Discs:
    """Heads as discs: the middle of each and where it faces, (m, 3), and its radius."""

    middles: Numbers
    facings: Numbers
    radii: Numbers

    def hit(self, view: _View) -> Pairs:
        """Which points lie behind which."""
        rows, columns = np.nonzero(view.find_near(self.middles, self.radii))
        slant = self.facings @ view.towards
        slant = np.where(np.abs(slant) < 1e-9, 1e-9, slant)
        middles, facings = self.middles[columns], self.facings[columns]
        along = ((middles - view.points[rows]) * facings).sum(axis=1) / slant[columns]
        nearer, away = view.get_offsets(rows, middles)
        is_hit = (along > 0) & (away + (along - nearer) ** 2 <= self.radii[columns] ** 2)
        return rows[is_hit], columns[is_hit]


@dataclass(frozen=True, eq=False)
class _Sides:
    """Flat heads seen from their sides, as ovals behind their fronts: middles and ways they face, (m, 3), half their
    widths and lengths."""

    middles: Numbers
    facings: Numbers
    half_widths: Numbers
    half_lengths: Numbers

    def hit(self, view: _View) -> Pairs:
        """Which points lie behind which."""
        seen = self.facings - (self.facings @ view.towards)[:, None] * view.towards
        shown = np.maximum(np.sqrt((seen**2).sum(axis=1)), 1e-6)
        lengths = self.half_lengths * shown
        near = view.find_near(self.middles, np.maximum(self.half_widths, lengths))
        rows, columns = np.nonzero(near & (shown > _FACES_EYE))
        middles = self.middles[columns]
        along = ((view.points[rows] - middles) * seen[columns]).sum(axis=1) / shown[columns]
        nearer, away = view.get_offsets(rows, middles)
        share = (along / lengths[columns]) ** 2 + (away - along**2) / self.half_widths[columns] ** 2
        is_hit = (nearer > 0) & (share <= 1.0)
        return rows[is_hit], columns[is_hit]


@dataclass(frozen=True, eq=False)
class _Balls:
    """Heads as balls behind their tips: middles (m, 3) and radii."""

    middles: Numbers
    radii: Numbers

    def hit(self, view: _View) -> Pairs:
        """Which points lie behind which."""
        rows, columns = np.nonzero(view.find_near(self.middles, self.radii))
        nearer, away = view.get_offsets(rows, self.middles[columns])
        is_hit = (nearer > 0) & (away <= self.radii[columns] ** 2)
        return rows[is_hit], columns[is_hit]


@dataclass(frozen=True, eq=False)
class _Rods:
    """Leaves and spikes as rods from their ends along their ways, with the unit ways they grow, (m, 3) all, and the
    radius each closes."""

    ends: Numbers
    ways: Numbers
    axes: Numbers
    radii: Numbers
    are_leaves: Mask

    def hit(self, view: _View) -> Pairs:
        """Which points lie behind which: by what of each rod is seen nearest to the point looked at."""
        towards = view.towards
        radii = self.radii * np.where(self.are_leaves, get_blade_shares(self.axes, towards), 1.0)
        depth = self.ways @ towards
        whole = (self.ways**2).sum(axis=1)
        length = np.maximum(whole - depth**2, 1e-9)  # as seen, squared
        spread = np.where(self.are_leaves, np.sqrt(np.maximum(1.0, LEAST_SEEN**2 * whole / length)), 1.0)
        length = length * spread**2
        # a leaf that is seen shorter is painted less in proportion, its round ends too
        seen, long = np.sqrt(length), np.sqrt(whole)
        area = radii * (2 * long + math.pi * radii) * np.minimum(1.0, seen / long)
        radii = np.where(self.are_leaves, _get_rounded(seen, area), radii)
        inset = np.where(self.are_leaves, np.minimum(0.5, radii / seen), 0.0)
        near = view.find_near(self.ends + self.ways * (spread / 2)[:, None], seen / 2 + radii)
        rows, columns = np.nonzero(near & view.find_beside(self.ends, self.ways, radii))
        ends, ways, inset, length = self.ends[columns], self.ways[columns], inset[columns], length[columns]
        nearer, away = view.get_offsets(rows, ends)
        flat = ((ends - view.points[rows]) * ways).sum(axis=1) - nearer * depth[columns]
        flat = flat * spread[columns]
        share = np.clip(-flat / length, inset, 1 - inset)
        beside = away + 2 * share * flat + share**2 * length
        is_hit = (nearer + share * depth[columns] > 0) & (beside <= radii[columns] ** 2)
        return rows[is_hit], columns[is_hit]


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
        rows, _ = shade.hit(_View.look(points[rest], towards))
        hidden[rest[rows]] = True
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
        view = _View.look(points, towards)
        for whose, hit in self.shades:
            rows, columns = hit(view)
            hits[rows, whose[columns]] = True
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
