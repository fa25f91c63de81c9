"""A board: the sites pieces compete for, and what each site is worth to a piece, given what is placed so far.

Boards reckon in the frame of the lattice, whose width goes in coarse steps, so that a little width changes no choice.
The sites also stand for equal shares of the surface: those within a head's footprint are covered by it, and what a
head would newly cover counts for a site.
"""

import math
from dataclasses import dataclass
from enum import Enum
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from mirvel.core.forms.parts import Part
from mirvel.core.forms.surface import Lattice, Site, Surface
from mirvel.core.forms.wishes import Arranged, Wish
from mirvel.core.goods.facts import Role
from mirvel.core.house.design import Grouping, Levels
from mirvel.core.placing.pieces import Piece
from mirvel.core.space.vectors import Vec

Numbers = NDArray[np.float64]
LARGE_HEAD = 1.3  # times the median width; two of these never side by side at one level
SIDE_BY_SIDE = 1.5  # centres nearer than this many mean widths have room for nothing between
ONE_LEVEL_SHARE = 0.12  # heights closer than this share of the form are one level
USUAL_PIECES = 45  # how many pieces a leaf's or spike's share of the room is reckoned by, whatever their number
_USUAL_KIND, _USUAL_ROLE = 6, 9  # how many of a kind and role an even spread is reckoned by
_SCORE_PLACES = 9  # scores closer than this are equal, and the first site wins on every machine
_OFF_MIDDLE = 0.4  # how far off the middle line, in its own widths, a piece stands that has a mirrored partner
_SAME_CM = 0.05  # places so near are the same but for rounding
_CLOSING = frozenset({Role.FILLER, Role.TEXTURE, Role.GREENERY})


@dataclass(frozen=True)
class Weights:
    """What each wish weighs in the worth of a site: judgements of ours, tuned by eye on every form."""

    level: float = 3.2  # for each whole height of the form a site is off the height wished for
    level_listed: float = 14.0  # the same among places that are made for just that
    side: float = 3.2  # for each half width (or depth) off the side wished for
    middle: float = 12.0  # for each half size off the middle line, where a piece stands alone on it
    room: float = 2.6  # for room beside the nearest neighbour, 1 just touching
    reach: float = 16.0  # for each whole height that the stem is too short for
    grouped: float = 2.4  # for each spacing away from its own kind, in grouped style
    grouped_apart: float = 0.8  # for each spacing away from others, for the first of its kind there
    kind: float = 1.6  # for being as far from its own kind as an even spread has them
    role: float = 0.7  # the same for its role
    cover: float = 1.2  # for a footprint that newly covers all it can
    cover_closing: float = 3.0  # the same for pieces that are there to close the piece
    forbidden: float = 40.0  # what no other worth makes up for
    worth_a_move: float = 0.3  # a placed piece changes its site only where it gains as much


WEIGHTS = Weights()


class Stand(Enum):
    """Where a piece may stand to the line that matched pairs are mirrored across."""

    ANYWHERE = "no pairs are made"
    PAIRED = "beside the line, with room for a partner across it"
    ALONE = "on the line"
    FREE = "beside the line or, without room for a partner there, on it"
    FREE_ALONE = "as near the line as it can, on it without room beside it"

    @property
    def seeks_line(self) -> bool:
        return self in {Stand.ALONE, Stand.FREE_ALONE}

    @property
    def may_join_line(self) -> bool:
        return self in {Stand.FREE, Stand.FREE_ALONE}


@lru_cache(maxsize=64)
def _get_reached(lattice: Lattice, zone: Part | None, radius_cm: float) -> NDArray[np.float32]:
    """What of its own footprint each site of a zone is to a head standing at each site; (n, n), each row's sum 1."""
    reached = (_get_square_gaps(lattice, zone) <= radius_cm**2).astype(np.float32)
    shares: NDArray[np.float32] = reached / reached.sum(axis=1)[:, None]
    return shares


@lru_cache(maxsize=16)
def _get_square_gaps(lattice: Lattice, zone: Part | None) -> Numbers:
    """How far each site of a zone is from each other, squared; (n, n). The same for all widths of heads."""
    points = lattice.points[[number for number, site in enumerate(lattice.sites) if site.zone == zone]]
    gaps: Numbers = sum((part[:, None] - part) ** 2 for part in points.T)
    return gaps


class Board:
    """The sites still free, with what is placed so far kept as running distances."""

    def __init__(
        self,
        surface: Surface,
        zone: Part | None,
        most: int,
        entry_widths: list[float],
        arranged: Arranged,
        mirror: Vec,
        free: NDArray[np.bool_],
    ) -> None:
        """``free`` are the zone's sites that nothing has taken yet: one array for all boards of a zone, so that no
        green ends at the very spot where a flower does."""
        lattice = surface.lattice
        self.mirror = mirror
        self.level_weight = WEIGHTS.level_listed if lattice.is_listed else WEIGHTS.level
        self.arranged = arranged
        frame = lattice.frame
        self.above_cm, self.half_width_cm, self.half_depth_cm = (
            frame.above_rim_cm,
            frame.half_width_cm,
            frame.half_depth_cm,
        )
        at = [number for number, site in enumerate(lattice.sites) if site.zone == zone]
        self.at, self.sites = at, [lattice.sites[number] for number in at]
        self.off_middle = lattice.points[at][:, 0 if mirror.x < 0 else 1]  # from the line pairs are mirrored across
        self.points, self.levels, self.distances = lattice.points[at], lattice.levels[at], lattice.distances[at]
        self.lattice, self.zone = lattice, zone
        self.shares, self.rising = np.linspace(0.0, 1.0, len(at)), np.sort(self.levels)
        self.free = free
        # The median over entries, not pieces: what an entry takes must not hang on how many a later one has.
        widths = sorted(entry_widths)
        self.large_from = LARGE_HEAD * widths[len(widths) // 2] if widths else math.inf
        self.area_cm2 = lattice.area_cm2
        self.spacing = math.sqrt(self.area_cm2 / USUAL_PIECES)
        self.kinds: dict[str, int] = {}
        self.layers = np.zeros(len(at), dtype=int)  # how many footprints lie over each site
        # One row a placed piece: its distance from every site, the room it takes, its height share, its site, its
        # kind and role.
        self.placed = 0
        self.away: Numbers = np.zeros((most, len(at)))
        self.widths: Numbers = np.zeros(most)
        self.heights: Numbers = np.zeros(most)
        self.site_of = np.zeros(most, dtype=int)
        self.kind_of = np.zeros((most, 2), dtype=int)

    def take(self, piece: Piece, wish: Wish, stand: Stand = Stand.ANYWHERE, less: Numbers | float = 0.0) -> Site:
        """The best free site for a piece, each worth so much less, which is then taken."""
        if not self.free.any():
            self.free[:] = True
        best = int(np.argmax(self._score(piece, wish, stand) - less))
        self.free[best] = False
        site = self.sites[best]
        off = abs(self.off_middle[best])
        near = 0.25 * self.half_middle_cm * stand.seeks_line
        if off < (_OFF_MIDDLE * self._get_room_width(piece) if stand.may_join_line else near):
            self.free[int(np.argmin(self._get_squares(site.point.times(self.mirror))))] = False
            site = site.on_middle(self.mirror)
        self._add(piece, site.point, best)
        return site

    def find_paired(self, piece: Piece) -> NDArray[np.bool_]:
        """Which sites leave room for a partner across the middle line."""
        clear: NDArray[np.bool_] = np.abs(self.off_middle) >= self._get_off_middle_cm(piece)
        return clear

    def _get_off_middle_cm(self, piece: Piece) -> float:
        """How far off the middle line a piece stands that has a mirrored partner: large heads clear of it."""
        is_large = self.arranged.levels is Levels.VARIED and piece.head.width_cm >= self.large_from
        return (SIDE_BY_SIDE / 2 + 0.01 if is_large else _OFF_MIDDLE) * piece.head.width_cm

    def settle(self, run: list[tuple[Piece, Wish]]) -> list[Site]:
        """One pass over the pieces an entry took last, in order: each changes its site for a free one where, with the
        whole entry in place, that is clearly better. What other entries took stays where it is."""
        for piece, wish in run:
            here = self._lift_first_of(len(run))
            self.free[here] = True
            score = self._score(piece, wish)
            best = int(np.argmax(score))
            if score[best] < score[here] + WEIGHTS.worth_a_move:
                best = here
            self.free[best] = False
            self._add(piece, self.sites[best].point, best)
        return [self.sites[number] for number in self.site_of[self.placed - len(run) : self.placed]]

    def _lift_first_of(self, count: int) -> int:
        """Take the first of the last so many placed pieces off the board, and say from which site; the others move
        up a row."""
        at, end = self.placed - count, self.placed
        self.layers -= self.away[at] <= self.widths[at] / 2
        site = int(self.site_of[at])
        for rows in (self.away, self.widths, self.heights, self.site_of, self.kind_of):
            rows[at : end - 1] = rows[at + 1 : end]
        self.placed -= 1
        return site

    def get_worth(self, piece: Piece, wish: Wish) -> Numbers:
        """What each site is worth to a piece; a site that is taken, nothing."""
        return self._score(piece, wish)

    def _score(self, piece: Piece, wish: Wish, stand: Stand = Stand.ANYWHERE) -> Numbers:
        """What each site is worth; a site that is taken, nothing."""
        level = float(np.interp(wish.level, self.shares, self.rising)) if wish.by_area else wish.level
        score = -self.level_weight * np.abs(self.levels - level)
        across = self.points[:, 0] / self.half_width_cm
        if wish.across is not None:
            score -= WEIGHTS.side * np.abs(across - wish.across)
        if wish.away is not None:
            score -= WEIGHTS.side * np.abs(self.points[:, 1] / self.half_depth_cm - wish.away)
        if stand.seeks_line:
            score -= WEIGHTS.middle * np.abs(self.off_middle) / self.half_middle_cm
        elif stand is Stand.PAIRED:
            score -= np.where(np.abs(self.off_middle) < self._get_off_middle_cm(piece), WEIGHTS.forbidden, 0.0)
        score += WEIGHTS.room * self._get_room(piece)
        score -= WEIGHTS.reach * np.maximum(self.distances - piece.reach_cm, 0.0) / self.above_cm
        score += self._get_company(piece)
        if not self.lattice.is_listed:
            closing = piece.entry.role in _CLOSING
            score += (WEIGHTS.cover_closing if closing else WEIGHTS.cover) * self._get_gain(piece)
        score[~self.free] = -np.inf
        rounded: Numbers = np.round(score, _SCORE_PLACES)
        return rounded

    @property
    def half_middle_cm(self) -> float:
        """Half the size across the line pairs are mirrored at."""
        return self.half_width_cm if self.mirror.x < 0 else self.half_depth_cm

    def close(self, point: Vec, radius_cm: float) -> None:
        """Take all sites about a point: nothing else stands there."""
        self.free &= self._get_squares(point) > radius_cm**2

    def mark(self, piece: Piece, point: Vec, *, taking: bool = False) -> None:
        """Count a piece as placed at a point; ``taking`` also the site nearest to it."""
        self._add(piece, point)
        if taking:
            self.free[int(np.argmin(np.where(self.free, self.away[self.placed - 1], np.inf)))] = False

    def _add(self, piece: Piece, point: Vec, site: int = -1) -> None:
        away = np.sqrt(self._get_squares(point))
        width = self._get_room_width(piece)
        self.layers += away <= width / 2
        self.away[self.placed] = away
        self.widths[self.placed] = width
        self.heights[self.placed] = point.z / self.above_cm
        self.site_of[self.placed] = site
        self.kind_of[self.placed] = [self.kinds.setdefault(kind, len(self.kinds)) for kind in piece.kinds]
        self.placed += 1

    def get_nearest(self, point: Vec) -> Site:
        """The site nearest to a point."""
        return self.sites[int(np.argmin(self._get_squares(point)))]

    def get_site_at(self, point: Vec, *, lifted: bool) -> Site:
        """The site that a kept place is at, even where another is there too, or that it is ``lifted`` from; else the
        nearest that is free."""
        if lifted:
            beside = np.round(np.hypot(self.points[:, 0] - point.x, self.points[:, 1] - point.y), _SCORE_PLACES)
            return self.sites[int(np.lexsort((self._get_squares(point), beside))[0])]
        nearest = self.get_nearest(point)
        return nearest if nearest.point.minus(point).length < _SAME_CM else self.get_nearest_free(point)

    def get_nearest_free(self, point: Vec) -> Site:
        """The site nearest to a point that nothing has taken, or that nearest of all where all are."""
        squares = self._get_squares(point)
        return self.sites[int(np.argmin(np.where(self.free, squares, np.inf) if self.free.any() else squares))]

    def _get_squares(self, point: Vec) -> Numbers:
        """How far each site is from a point, squared."""
        squares: Numbers = ((self.points - np.array(point)) ** 2).sum(axis=1)
        return squares

    def _get_company(self, piece: Piece) -> Numbers:
        """Away from its own kind and role when spread; close to its own kind, away from others, when grouped."""
        kind, role = (self._find_nearest_of(number, key) for number, key in enumerate(piece.kinds))
        score = np.zeros(len(self.sites))
        if self.arranged.grouping is Grouping.GROUPED:
            if kind is not None:
                score -= WEIGHTS.grouped * np.minimum(kind / self.spacing, 3.0)
            elif self.placed:
                score += WEIGHTS.grouped_apart * np.minimum(self.away[: self.placed].min(axis=0) / self.spacing, 2.0)
            return score
        for weight, nearest, usual in ((WEIGHTS.kind, kind, _USUAL_KIND), (WEIGHTS.role, role, _USUAL_ROLE)):
            if nearest is not None:
                wanted = math.sqrt(self.area_cm2 / max(usual, piece.entry.placed))
                score += weight * np.minimum(nearest / wanted, 1.0)
        return score

    def _find_nearest_of(self, number: int, kind: str) -> Numbers | None:
        """How far each site is from the nearest piece of a kind (number 0) or role (1); None where there is none."""
        alike = self.kind_of[: self.placed, number] == self.kinds.get(kind, -1)
        if not alike.any():
            return None
        nearest: Numbers = self.away[: self.placed][alike].min(axis=0)
        return nearest

    def _get_gain(self, piece: Piece) -> Numbers:
        """How much of its own footprint a piece would newly cover at each site, 0 to 1."""
        reached = _get_reached(self.lattice, self.zone, self._get_room_width(piece) / 2)
        gain: Numbers = (reached @ (self.layers == 0).astype(np.float32)).astype(np.float64)
        return gain

    def _get_room_width(self, piece: Piece) -> float:
        return min(piece.head.width_cm, self.spacing * 0.8) if piece.material.is_axial else piece.head.width_cm

    def _get_room(self, piece: Piece) -> Numbers:
        """Room beside the nearest neighbour: 0 on top of it, 1 just touching, little more beyond."""
        if not self.placed:
            return np.ones(len(self.sites))
        away, widths = self.away[: self.placed], self.widths[: self.placed]
        ratio = away / (0.5 * (widths + self._get_room_width(piece)))[:, None]
        # Fillers look for the widest holes; for the others just room enough will do.
        enough = 2.0 if piece.entry.role in {Role.FILLER, Role.TEXTURE} else 1.15
        room: Numbers = np.minimum(ratio.min(axis=0), enough)
        large = widths >= self.large_from
        levels_vary = self.arranged.levels is Levels.VARIED
        if levels_vary and not piece.material.is_axial and piece.head.width_cm >= self.large_from and large.any():
            level = np.abs(self.levels - self.heights[: self.placed][large][:, None]) < ONE_LEVEL_SHARE
            room -= WEIGHTS.forbidden * ((ratio[large] < SIDE_BY_SIDE) & level).any(axis=0)
        return room
