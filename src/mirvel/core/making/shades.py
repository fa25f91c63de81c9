"""The pieces as what hides things from an eye.

A head hides what lies behind its disc (a ball behind its sphere), a leaf or spike what lies behind a rod along it, as
wide as it closes from there. All is reckoned in plain tables of points by pieces: vectors would be much slower.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mirvel.core.goods.facts import LEAF_FORMS, HeadForm
from mirvel.core.placing.places import LEAST_SEEN, Place, get_blade_share
from mirvel.core.space.vectors import Vec

Numbers = NDArray[np.float64]
Mask = NDArray[np.bool_]
# Of half its width, so far out a flat head closes what is behind it, a ball, and (along it) a spike and a leaf or
# frond: petals and leaves taper. Fitted to what is seen of the foam on drawings of the demo's pieces.
FLAT_SHARE, ROUND_SHARE, SPIKE_SHARE, LEAF_SHARE = 0.92, 1.0, 0.85, 0.3
_TWIG_SHARE = 0.05  # a bare twig is lines with air between, and one line where it leaves the foam
_DEEP_SHARE = 0.5  # a disc hides as a ball half as large does from its edge: petals stand up


@dataclass(frozen=True, eq=False)
class _Discs:
    """Heads as discs: the middle of each and where it faces, (m, 3), and its radius."""

    middles: Numbers
    facings: Numbers
    radii: Numbers

    def hide(self, points: Numbers, towards: Numbers) -> Mask:
        """Which points (n, 3) lie behind any, for an eye in a direction."""
        slant = self.facings @ towards
        slant = np.where(np.abs(slant) < 1e-9, 1e-9, slant)
        along = ((self.middles * self.facings).sum(axis=1) - points @ self.facings.T) / slant
        nearer, away = _get_offsets(points, self.middles, towards)
        return _are_any((along > 0) & (away + (along - nearer) ** 2 <= self.radii**2))


@dataclass(frozen=True, eq=False)
class _Balls:
    """Heads as balls behind their tips: middles (m, 3) and radii."""

    middles: Numbers
    radii: Numbers

    def hide(self, points: Numbers, towards: Numbers) -> Mask:
        """Which points (n, 3) lie behind any, for an eye in a direction."""
        nearer, away = _get_offsets(points, self.middles, towards)
        return _are_any((nearer > 0) & (away <= self.radii**2))


@dataclass(frozen=True, eq=False)
class _Rods:
    """Leaves and spikes as rods from their ends along their ways, (m, 3) both, with the radius each closes."""

    places: list[Place]
    ends: Numbers
    ways: Numbers
    radii: Numbers
    are_leaves: Mask

    def hide(self, points: Numbers, towards: Numbers) -> Mask:
        """Which points (n, 3) lie behind any, for an eye in a direction: by the point of each rod that the eye sees
        nearest to the point looked at."""
        if not self.places:
            return np.zeros(len(points), dtype=bool)
        eye = Vec(*towards.tolist())
        radii = self.radii * [get_blade_share(place.material, place.axis, eye) for place in self.places]
        nearer, away = _get_offsets(points, self.ends, towards)
        along = self.ways @ towards
        whole = (self.ways**2).sum(axis=1)
        length = np.maximum(whole - along**2, 1e-9)  # as seen, squared
        spread = np.where(self.are_leaves, np.sqrt(np.maximum(1.0, LEAST_SEEN**2 * whole / length)), 1.0)
        flat = ((self.ends * self.ways).sum(axis=1) - points @ self.ways.T - nearer * along) * spread
        length = length * spread**2
        share = np.clip(-flat / length, 0.0, 1.0)
        beside = away + 2 * share * flat + share**2 * length
        return _are_any((nearer + share * along > 0) & (beside <= radii**2))


Shades = tuple[_Discs, _Balls, _Rods]


def get_shades(places: list[Place]) -> Shades:
    """What hides, of the pieces that show: flat heads are discs, and balls half as large besides."""
    heads = [place for place in places if not place.material.is_axial]
    return (
        _get_discs([place for place in heads if not place.material.is_ball]),
        _get_balls(heads),
        _get_rods([place for place in places if place.material.is_axial]),
    )


def hide(shades: Shades, points: Numbers, towards: Numbers) -> Mask:
    """Which points (n, 3) an eye in a direction does not see."""
    hidden: Mask = np.zeros(len(points), dtype=bool)
    for shade in shades:
        rest = np.flatnonzero(~hidden)
        hidden[rest] = shade.hide(points[rest], towards)
    return hidden


def as_rows(points: list[Vec]) -> Numbers:
    """Points as a table, (n, 3)."""
    return np.array(points, dtype=np.float64).reshape(len(points), 3)


def _get_discs(places: list[Place]) -> _Discs:
    facings = as_rows([place.facing for place in places])
    return _Discs(
        as_rows([place.tip for place in places]),
        facings,
        np.array([FLAT_SHARE * each.half_width_cm for each in places]),
    )


def _get_balls(places: list[Place]) -> _Balls:
    shares = [1.0 if place.material.is_ball else _DEEP_SHARE for place in places]
    radii = np.array([ROUND_SHARE * share * place.half_width_cm for share, place in zip(shares, places, strict=True)])
    facings = as_rows([place.facing for place in places])
    return _Balls(as_rows([place.tip for place in places]) - radii[:, None] * facings, radii)


def _get_rods(places: list[Place]) -> _Rods:
    return _Rods(
        places,
        as_rows([place.tip for place in places]),
        as_rows([place.axis.scaled(-place.shown_length_cm) for place in places]),
        np.array([_get_closed_cm(place) for place in places]),
        np.array([place.material.form in LEAF_FORMS for place in places], dtype=bool),
    )


def _get_closed_cm(place: Place) -> float:
    """Half the width a leaf or spike closes along its length: a leaf cut short is as much narrower."""
    if place.material.form is HeadForm.TWIG:
        return _TWIG_SHARE * place.half_width_cm
    if place.material.form not in LEAF_FORMS:
        return SPIKE_SHARE * place.half_width_cm
    return LEAF_SHARE * place.half_width_cm * place.shown_length_cm / place.head.length_cm


def _are_any(hits: Mask) -> Mask:
    """Of hits of points by pieces, (n, m), which points are hit at all."""
    return np.asarray(hits.any(axis=1))


def _get_offsets(points: Numbers, others: Numbers, towards: Numbers) -> tuple[Numbers, Numbers]:
    """How much nearer to the eye each other lies than each point, and how far beside it as seen, squared; (n, m)."""
    nearer = (others @ towards)[None, :] - (points @ towards)[:, None]
    square = (points**2).sum(axis=1)[:, None] - 2 * points @ others.T + (others**2).sum(axis=1)
    return nearer, square - nearer**2
