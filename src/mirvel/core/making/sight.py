"""What an eye sees of a piece that it should not: foam between the flowers, and gaps right through the form.

Points spread evenly over the foam, and over the form, are looked at along straight lines from each side the piece is
seen from. A head hides what lies behind its disc (a ball behind its sphere), a leaf or spike what lies behind a rod
along it, as wide as it closes from there.
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from mirvel.core.forms.surface import Surface
from mirvel.core.goods.facts import LEAF_FORMS
from mirvel.core.house.design import SeenFrom
from mirvel.core.placing.places import LEAST_SEEN, Place, get_blade_share
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.beds import Bed

Numbers = NDArray[np.float64]
Mask = NDArray[np.bool_]
_POINTS = 240  # looked at, about, over all of the foam
_LEAF_SHARE = 0.6  # leaves and fronds taper: so much of their width is closed along their length (assumption)
_FACING = 0.15  # foam seen more slantingly than this does not count
_MIDDLE = 0.5  # a form is looked through where it faces the eye as much as this: its edges are loose
_BEHIND_CM = 400.0
_DEEP_SHARE = 0.5  # a disc hides as a ball half as large does from its edge: petals stand up
_PAST_DEG, _DOWN_DEG = 25.0, 20.0  # people walk past a piece that hangs, and look down on one that lies (assumptions)


def _look(turn_deg: float, down_deg: float) -> Vec:
    """Towards an eye so far round from the designer's side (to the right) and so high."""
    turn, down = math.radians(turn_deg), math.radians(down_deg)
    return Vec(math.sin(turn) * math.cos(down), -math.cos(turn) * math.cos(down), math.sin(down))


_LYING = {
    "front": _look(0, _DOWN_DEG),
    "right": _look(90, _DOWN_DEG),
    "back": _look(180, _DOWN_DEG),
    "left": _look(270, _DOWN_DEG),
    "above": Vec(0.0, 0.0, 1.0),
}
_PAST = math.radians(_PAST_DEG)
_HUNG = {
    "front": Vec(0.0, 0.0, 1.0),
    "right": Vec(math.sin(_PAST), 0.0, math.cos(_PAST)),
    "left": Vec(-math.sin(_PAST), 0.0, math.cos(_PAST)),
}


@dataclass(frozen=True)
class Sight:
    """What is seen from one side: the share of the foam facing there that shows, and the share of the form past which
    the eye goes right through; with the middle of each."""

    side: str
    foam: float = 0.0
    foam_at: Vec | None = None
    gaps: float = 0.0
    gaps_at: Vec | None = None

    def across(self) -> "Sight":
        """What is seen of the piece with left and right exchanged."""
        foam_at, gaps_at = (each.across(-1.0) if each else None for each in (self.foam_at, self.gaps_at))
        side = {"left": "right", "right": "left"}.get(self.side, self.side)
        return replace(self, side=side, foam_at=foam_at, gaps_at=gaps_at)


def get_looks(*, hangs: bool, seen_from: SeenFrom) -> Mapping[str, Vec]:
    """The sides a piece is looked at from, each towards the eye."""
    if hangs:
        return _HUNG
    if seen_from is SeenFrom.FRONT:
        return {name: look for name, look in _LYING.items() if name != "back"}
    return _LYING


def get_sights(
    places: tuple[Place, ...], surface: Surface, bed: Bed | None, looks: Mapping[str, Vec]
) -> tuple[Sight, ...]:
    """What is seen from each side."""
    shades = _Shades([place for place in places if not place.is_inside])
    sites = [surface.fit(site) for site in surface.lattice.sites]
    outline = _as_rows([site.point for site in sites]), _as_rows([site.normal for site in sites])
    foam = _spread_points(bed) if bed else None
    found = []
    for name, look in looks.items():
        towards = np.array(look)
        # an outline is seen right through where nothing stands before or behind it
        gaps, gaps_at = _find_bare(outline, shades, towards, _MIDDLE, _BEHIND_CM)
        shows, shows_at = _find_bare(foam, shades, towards, _FACING) if foam else (0.0, None)
        found.append(Sight(name, shows, shows_at, gaps, gaps_at))
    return tuple(found)


def _find_bare(
    over: tuple[Numbers, Numbers], shades: "_Shades", towards: Numbers, facing: float, behind_cm: float = 0.0
) -> tuple[float, Vec | None]:
    """Of points with their normals, those that face an eye: the share it sees, and the middle of those it does."""
    points, normals = over
    faced = points[normals @ towards > facing]
    bare = faced[~shades.hide(faced - behind_cm * towards, towards)]
    middle = Vec(*(float(part) for part in bare.mean(axis=0))) if len(bare) else None
    return len(bare) / max(1, len(faced)), middle


@lru_cache(maxsize=64)
def _spread_points(bed: Bed) -> tuple[Numbers, Numbers]:
    """Points over the top and the sides of foam, each for as much of it, and the way out at each; (n, 3) both."""
    left, right, front, back = bed.outline.box
    rows = bed.outline.get_row(0.0)
    around = sum(float(np.hypot(*np.diff(edge, axis=0).T).sum()) for edge, _ in rows)
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
    return np.concatenate(points), np.concatenate(normals)


class _Shades:
    """The pieces as what hides foam: discs, balls and rods."""

    def __init__(self, places: list[Place]) -> None:
        heads = [place for place in places if not place.material.is_axial]
        flat = [place for place in heads if not place.material.is_ball]
        rods = [place for place in places if place.material.is_axial]
        self.discs = _as_rows([place.tip for place in flat])
        self.facings = _as_rows([place.facing for place in flat])
        self.disc_radii: Numbers = np.array([place.half_width_cm for place in flat])
        shares = [1.0 if place.material.is_ball else _DEEP_SHARE for place in heads]
        self.ball_radii: Numbers = np.array(
            [share * place.half_width_cm for share, place in zip(shares, heads, strict=True)]
        )
        self.balls = _as_rows([place.tip for place in heads])
        self.balls -= self.ball_radii[:, None] * _as_rows([place.facing for place in heads])
        self.rods = rods
        self.ends = _as_rows([place.tip for place in rods])
        self.ways = _as_rows([place.axis.scaled(-place.shown_length_cm) for place in rods])
        self.leaves = np.array([place.material.form in LEAF_FORMS for place in rods], dtype=bool)
        self.rod_radii: Numbers = np.array([_get_closed_cm(place) for place in rods])

    def hide(self, points: Numbers, towards: Numbers) -> Mask:
        """Which points (n, 3) an eye in a direction does not see."""
        hidden: Mask = np.zeros(len(points), dtype=bool)
        for are_behind in (self._are_behind_discs, self._are_behind_balls, self._are_behind_rods):
            rest = np.flatnonzero(~hidden)
            hidden[rest] = are_behind(points[rest], towards)
        return hidden

    # What follows is reckoned in plain tables of points by pieces: offsets as vectors would be much slower.

    def _are_behind_discs(self, points: Numbers, towards: Numbers) -> Mask:
        slant = self.facings @ towards
        slant = np.where(np.abs(slant) < 1e-9, 1e-9, slant)
        along = ((self.discs * self.facings).sum(axis=1) - points @ self.facings.T) / slant
        nearer, away = _get_offsets(points, self.discs, towards)
        return _are_any((along > 0) & (away + (along - nearer) ** 2 <= self.disc_radii**2))

    def _are_behind_balls(self, points: Numbers, towards: Numbers) -> Mask:
        nearer, away = _get_offsets(points, self.balls, towards)
        return _are_any((nearer > 0) & (away <= self.ball_radii**2))

    def _are_behind_rods(self, points: Numbers, towards: Numbers) -> Mask:
        """By the point of each rod that an eye sees nearest to the point looked at."""
        if not self.rods:
            return np.zeros(len(points), dtype=bool)
        eye = Vec(*towards.tolist())
        radii = self.rod_radii * [get_blade_share(place.material, place.axis, eye) for place in self.rods]
        nearer, away = _get_offsets(points, self.ends, towards)
        along = self.ways @ towards
        whole = (self.ways**2).sum(axis=1)
        length = np.maximum(whole - along**2, 1e-9)  # as seen, squared
        spread = np.where(self.leaves, np.sqrt(np.maximum(1.0, LEAST_SEEN**2 * whole / length)), 1.0)
        flat = ((self.ends * self.ways).sum(axis=1) - points @ self.ways.T - nearer * along) * spread
        length = length * spread**2
        share = np.clip(-flat / length, 0.0, 1.0)
        beside = away + 2 * share * flat + share**2 * length
        return _are_any((nearer + share * along > 0) & (beside <= radii**2))


def _are_any(hits: Mask) -> Mask:
    """Of hits of points by pieces, (n, m), which points are hit at all."""
    return np.asarray(hits.any(axis=1))


def _get_closed_cm(place: Place) -> float:
    """Half the width a leaf or spike closes along its length: a leaf cut short is as much narrower."""
    if place.material.form not in LEAF_FORMS:
        return place.half_width_cm
    return _LEAF_SHARE * place.half_width_cm * place.shown_length_cm / place.head.length_cm


def _get_offsets(points: Numbers, others: Numbers, towards: Numbers) -> tuple[Numbers, Numbers]:
    """How much nearer to the eye each other lies than each point, and how far beside it as seen, squared; (n, m)."""
    nearer = (others @ towards)[None, :] - (points @ towards)[:, None]
    square = (points**2).sum(axis=1)[:, None] - 2 * points @ others.T + (others**2).sum(axis=1)
    return nearer, square - nearer**2


def _as_rows(points: list[Vec]) -> Numbers:
    return np.array(points, dtype=np.float64).reshape(len(points), 3)
