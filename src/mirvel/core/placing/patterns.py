"""Places for what is meant by an entry: its pieces chosen together, by the worth of free sites and how far these are
outside of what is meant; then slid to the very height that is asked for, where the surface is smooth.

What cannot be met is placed as near as it comes; ``meeting.py`` says by how much it is not.
"""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from mirvel.core.forms.surface import Site, Surface
from mirvel.core.forms.wishes import GOLDEN_SHARE, Wish
from mirvel.core.placing.boards import Board
from mirvel.core.placing.pieces import Piece
from mirvel.core.placing.runs import (
    Run,
    get_hour_point,
    get_images,
    get_line_aims,
    get_line_ends,
    get_mirrors,
    get_off_ray,
    get_ray_hours,
)
from mirvel.core.placing.seats import lay_on_lobe, lift, slide
from mirvel.core.placing.windows import get_band_limits, get_outside
from mirvel.core.recipe.meant import HeightKind, Meant, Pattern, PatternKind
from mirvel.core.space.vectors import Vec

Numbers = NDArray[np.float64]
GROUP_FROM, GROUP_TO = 0.9, 1.3  # heads of a close group stand so many widths apart
SPIKES_FROM, IN_FILE = 0.7, 0.3  # spikes beside one another may mingle, and stand side by side rather than in file
RING_FROM, RING_TO = 1.05, 1.5  # a ring's heads, of the two half widths and of its flower's width
TRIANGLE_LEAST_DEG, TRIANGLE_MOST_RATIO = 34.0, 1.5  # aimed at; measured it may be a little less even
SIDE_SHARE = 0.15  # so far from the middle line, as a share of the form, a piece stands to one side
STAIR_FROM = 0.95  # the first of a stair, as a share of the height, where no crown is its own
BARELY = 0.05  # of the form, that a site outside its band is off at least
OUTSIDE = 60.0  # what a whole share of the form outside of what is meant costs: more than all else is worth
_TRIED_IN_TRIANGLES, _TURNS, _TRIED_AT_A_HEIGHT = 36, 12, 40
_CLEAR_SHARE = 0.8  # of a head, that one is clear of another of its own at the same height
_SLIDES, _CLOSE_CM = 8, 0.02
LEVEL_SLACK_CM = 0.4  # of the first of those at one level the others may end so far, so that they need not crowd
_LAID = 6  # times a point of a line is laid on the surface again, until it lies where it is looked down on


@dataclass(frozen=True)
class Neighbour:
    """A piece of another entry that is placed: the middle of its head (the tip of a spike), its way out and how wide it
    is."""

    point: Vec
    normal: Vec
    width_cm: float
    is_axial: bool


@dataclass(frozen=True)
class Asked:
    """Pieces of one entry that want places by what is meant: each with the wish of its role, the target its top ends at
    (cm above the rim) where one is told, those of the entry that the pattern is about, and the crown if another has
    it."""

    meant: Meant
    waiting: Sequence[tuple[Piece, Wish]]
    tops: Sequence[float | None]
    about: Sequence[Neighbour]
    board: Board
    surface: Surface
    find_top: Callable[[Piece, Site], float]
    crown: Vec | None  # where another entry has it

    @property
    def width_cm(self) -> float:
        return self.waiting[0][0].head.width_cm


def get_first_top(meant: Meant, above_rim_cm: float) -> float:
    """Where the first and highest of a stair ends: at the top of the levels it may take."""
    highest = max((get_band_limits(band)[1] for band in meant.levels), default=STAIR_FROM)
    return min(STAIR_FROM, highest) * above_rim_cm


def order_by_naming(named: Mapping[str, Sequence[str]]) -> list[str]:
    """Entries in build order, but that one which others are told by comes before those."""
    found: list[str] = []

    def add(entry: str) -> None:
        for other in named[entry]:
            if other in named and other not in found:
                add(other)
        if entry not in found:
            found.append(entry)

    for entry in named:
        add(entry)
    return found


def get_stair_tops(count: int, step_cm: float, first_cm: float) -> list[float]:
    """The heights of a stair's tops, the first and highest given."""
    return [first_cm - number * step_cm for number in range(count)]


def find_sites(asked: Asked) -> list[Site]:
    """A site for each of the waiting pieces, in order."""
    return _Search(asked).find()


def get_outside_of_sites(meant: Meant, board: Board, surface: Surface) -> Numbers:
    """How far each site of a board is outside of the levels and the part of the piece that are meant; shares of the
    form, (n,)."""
    frame = surface.frame
    points = surface.outline[0][board.at]
    levels, places = get_outside(
        meant, points / [frame.half_width_cm, frame.half_depth_cm, frame.above_rim_cm], surface.parts
    )
    # barely outside is outside: a card tells the band, and the part of a form, that a head stands in
    has_name = meant.where is not None and meant.where.part is not None
    return levels + places + BARELY * ((levels > 1e-6) | (has_name & (places > 1e-6)))


def get_meant_wish(meant: Meant, number: int, wish: Wish) -> Wish:
    """The wish of the role, but for what is meant: levels are shared out, and a part is taken anywhere in it."""
    if meant.levels:
        low, high = get_band_limits(meant.levels[number % len(meant.levels)])
        low, high = max(low, -0.05), min(high, 1.0)
        spread = (0.5 + number // len(meant.levels) * GOLDEN_SHARE) % 1
        wish = replace(wish, level=low + (high - low) * spread, by_area=False)
    return replace(wish, across=None, away=None) if meant.where else wish


class _Search:
    """Sites of a board, as they lie on the surface, and how far each is outside of what is meant."""

    def __init__(self, asked: Asked) -> None:
        self.asked, self.board, self.surface = asked, asked.board, asked.surface
        frame = self.surface.frame
        points, _ = self.surface.outline
        self.points: Numbers = points[self.board.at]
        self.shares = self.points / [frame.half_width_cm, frame.half_depth_cm, frame.above_rim_cm]
        self.outside = get_outside_of_sites(asked.meant, self.board, self.surface)
        self.half_cm = np.array([frame.half_width_cm, frame.half_depth_cm])
        self.found: list[Site] = []

    def find(self) -> list[Site]:
        pattern = self.asked.meant.pattern
        kind = pattern.kind if pattern else None
        if kind is PatternKind.RING and self.asked.about:
            self._find_ring()
        if pattern and pattern.kind is PatternKind.LINE:
            self._find_line(pattern)
        if pattern and pattern.kind is PatternKind.RAYS:
            self._find_rays(pattern)
        if kind and get_mirrors(kind):
            self._find_mirrored(get_mirrors(kind))
        while len(self.found) < len(self.asked.waiting):
            left = len(self.asked.waiting) - len(self.found)
            if kind is PatternKind.TRIANGLE and left >= 3:
                self._take(*self._find_triangle())
            else:
                self._take_best(self._get_worth(len(self.found)) - OUTSIDE * self._get_off(kind))
        return self.found

    def _take_best(self, worth: Numbers) -> None:
        """The site worth most; where a height is told, the first of the best that, once there, is clear of the others:
        two sites one over the other come to the same."""
        if self._get_top(len(self.found)) is None or not self.found:
            self._take(int(np.argmax(worth)))
            return
        nearest, best = -1.0, None
        for at in np.argsort(-worth, kind="stable")[:_TRIED_AT_A_HEIGHT].tolist():
            if not self.board.free[at]:
                break
            site = self._slide(self.surface.fit(self.board.sites[at]))
            gap = min(site.point.minus(other.point).length for other in self.found)
            if gap > nearest:
                nearest, best = gap, site
            if gap >= _CLEAR_SHARE * self.asked.width_cm:
                break
        if best:
            self._seat(best)
        else:
            self._take(int(np.argmax(worth)))

    def _get_worth(self, number: int) -> Numbers:
        """What each site is worth to the piece of a number, what lies outside of what is meant worth less."""
        piece, wish = self.asked.waiting[number]
        top = self._get_top(number)
        outside = self.outside
        if top is not None:
            above = self.surface.frame.above_rim_cm
            outside = outside + np.maximum(0.0, np.abs(self.points[:, 2] - top) - self._get_slack_cm()) / above
        return self.board.get_worth(piece, get_meant_wish(self.asked.meant, number, wish)) - OUTSIDE * outside

    def _get_slack_cm(self) -> float:
        """How far off the height it is told by a top may end: nothing but where all are to be at one level."""
        height = self.asked.meant.height
        return LEVEL_SLACK_CM if height and height.kind is HeightKind.LEVEL else 0.0

    def _get_top(self, number: int) -> float | None:
        """Where a piece's top ends; of those at one level, where the first's does."""
        height = self.asked.meant.height
        if height and height.kind is HeightKind.LEVEL and self.found:
            return self.asked.find_top(self.asked.waiting[0][0], self.found[0])
        return self.asked.tops[number]

    def _get_off(self, kind: PatternKind | None) -> Numbers:
        """How far each site is off the pattern, given those found; shares of the form."""
        none, wide = np.zeros(len(self.points)), self.asked.width_cm
        if kind is PatternKind.SIDES:
            last = self.found[-1].point.x if self.found else 0.0
            side = -math.copysign(1.0, last) if last else 1.0 if len(self.found) % 2 else -1.0
            return np.maximum(0.0, SIDE_SHARE - side * self.shares[:, 0])
        if kind is PatternKind.GROUP and self.found:
            near = self._get_nearest([site.point for site in self.found])
            return self._get_beyond(near, GROUP_FROM * wide, GROUP_TO * wide)
        if kind is PatternKind.BESIDE and self.asked.about:
            other = self.asked.about[len(self.found) % len(self.asked.about)]
            touching = (wide + other.width_cm) / 2
            if other.is_axial and self.asked.waiting[0][0].material.is_axial:  # however high each of the two ends
                across, deep = self.points[:, 0] - other.point.x, self.points[:, 1] - other.point.y
                beyond = self._get_beyond(np.hypot(across, deep), SPIKES_FROM * touching, GROUP_TO * touching)
                return beyond + IN_FILE * np.abs(deep) / self.surface.frame.above_rim_cm
            return self._get_beyond(self._get_nearest([other.point]), GROUP_FROM * touching, GROUP_TO * touching)
        if kind is PatternKind.ALTERNATING:
            others, own = (
                np.array([[point.x, point.y] for point in points]).reshape(-1, 2) / self.half_cm
                for points in ([each.point for each in self.asked.about], [site.point for site in self.found])
            )
            return Run(*self.half_cm).get_off_turn(self.shares, others, own)
        return none

    def _get_nearest(self, points: list[Vec]) -> Numbers:
        others = np.array(points)
        nearest: Numbers = np.sqrt(((self.points[:, None] - others) ** 2).sum(axis=2)).min(axis=1)
        return nearest

    def _get_beyond(self, away: Numbers, least: float, most: float) -> Numbers:
        beyond: Numbers = np.maximum(0.0, np.maximum(least - away, away - most)) / self.surface.frame.above_rim_cm
        return beyond

    def _find_triangle(self) -> list[int]:
        """The three free sites worth most together that make a triangle, not too flat, none inside another's head."""
        worth = self._get_worth(len(self.found))
        tried = self._get_best_apart(worth, 0.5 * self.asked.width_cm)
        if len(tried) < 3:
            return [int(each) for each in np.argsort(-worth, kind="stable")[:3]]
        threes = np.array(list(combinations(tried, 3)))
        ones, twos, others = (self.points[threes[:, corner]] for corner in range(3))
        edges = (ones - twos, twos - others, others - ones)
        sides = np.sort([np.sqrt((edge**2).sum(axis=1)) for edge in edges], axis=0)
        short, middle, long = np.maximum(sides, 1e-9)
        cosine = np.clip((middle**2 + long**2 - short**2) / (2 * middle * long), -1.0, 1.0)
        bad = np.maximum(0.0, TRIANGLE_LEAST_DEG - np.degrees(np.arccos(cosine))) / 60
        bad += np.maximum(0.0, long / short - TRIANGLE_MOST_RATIO) + np.maximum(0.0, 1 - short / self.asked.width_cm)
        best = int(np.argmax(np.round(worth[threes].sum(axis=1) - OUTSIDE * bad, 9)))
        return [int(each) for each in threes[best]]

    def _get_best_apart(self, worth: Numbers, apart_cm: float) -> list[int]:
        """The free sites worth most, none nearer to another than so much."""
        found: list[int] = []
        for at in np.argsort(-worth, kind="stable").tolist():
            if not self.board.free[at] or len(found) == _TRIED_IN_TRIANGLES:
                break
            if all(((self.points[at] - self.points[other]) ** 2).sum() >= apart_cm**2 for other in found):
                found.append(at)
        return found

    def _find_ring(self) -> None:
        """Evenly round a flower, or round so many as have five pieces each, turned to where these are worth most."""
        pieces = len(self.asked.waiting)
        rings = max(1, min(len(self.asked.about), pieces // 5))
        for number, flower in enumerate(self.asked.about[:rings]):
            count = pieces // rings + (number < pieces % rings)
            worth = self._get_worth(len(self.found))
            turned = [self._get_round(flower, count, turn / _TURNS) for turn in range(_TURNS)]
            best = max(turned, key=lambda ring: sum(max(-1e3, float(worth[self._find_at(point)])) for point in ring))
            for point in best:
                self._take_site(self._lay(point))

    def _get_round(self, flower: Neighbour, count: int, turn: float) -> list[Vec]:
        level = Vec(-flower.normal.y, flower.normal.x, 0.0)
        level = level.unit if level.length > 1e-9 else Vec(1.0, 0.0, 0.0)
        other = flower.normal.cross(level)
        away = min(RING_FROM * (flower.width_cm + self.asked.width_cm) / 2, RING_TO * flower.width_cm)
        found = []
        for number in range(count):
            angle = 2 * math.pi * (number + turn) / count
            found.append(flower.point.plus(level, away * math.cos(angle)).plus(other, away * math.sin(angle)))
        return found

    def _find_line(self, pattern: Pattern) -> None:
        """Evenly from its one end to the other, as it is looked down on."""
        ends = get_line_ends(pattern, self.asked.meant.where, self.surface)
        for aim in get_line_aims(ends, len(self.asked.waiting)):
            off = np.hypot(self.shares[:, 0] - aim[0], self.shares[:, 1] - aim[1])
            best = int(np.argmax(self._get_worth(len(self.found)) - 2 * OUTSIDE * off))
            x, y = (float(each) for each in self.half_cm * aim)
            self._take_site(self._lay_below(Vec(x, y, float(self.points[best][2]))))

    def _find_rays(self, pattern: Pattern) -> None:
        """One towards each of the hours, as far out and as high as is worth most."""
        for hour in get_ray_hours(pattern, len(self.asked.waiting)):
            best = int(np.argmax(self._get_worth(len(self.found)) - 2 * OUTSIDE * get_off_ray(self.shares, hour)))
            out = max(0.2, math.hypot(*self.shares[best][:2]))
            x, y = (float(each) for each in self.half_cm * get_hour_point(hour) * out)
            self._take_site(self._lay_below(Vec(x, y, float(self.points[best][2]))))

    def _find_mirrored(self, mirrors: Sequence[Vec]) -> None:
        """Each set of images where it is worth most; what is over stands on the line, or the middle, between them."""
        axes = [0 if mirror.x < 0 else 1 for mirror in mirrors]
        while left := len(self.asked.waiting) - len(self.found):
            # one over stands in the very middle, or before the crown where another entry has that
            single = axes[:1] if self.asked.crown else axes
            on = single if left == 1 else axes[1:] if len(axes) == 2 and left < 4 else []
            clear = 0.55 * self.asked.width_cm / self.half_cm
            off = sum(
                (
                    np.abs(self.shares[:, axis])
                    if axis in on
                    else np.maximum(0.0, clear[axis] - np.abs(self.shares[:, axis]))
                )
                for axis in axes
            )
            best = int(np.argmax(self._get_worth(len(self.found)) - 2 * OUTSIDE * off))
            point = Vec(*(float(each) for each in self.points[best]))
            point = Vec(0.0 if 0 in on else point.x, 0.0 if 1 in on else point.y, point.z)
            for image in get_images(point, mirrors)[:left]:
                self._take_site(self._lay_below(image))

    def _lay_below(self, point: Vec) -> Site:
        """The surface where a point is looked down on, as far as it has points of its own there."""
        site = self._lay(point)
        if self.surface.lobes and not self.board.lattice.is_listed:
            for _ in range(_LAID):
                site = lay_on_lobe(Vec(point.x, point.y, site.point.z), self.surface)
        return site

    def _lay(self, point: Vec) -> Site:
        """A point on the surface, or the free site nearest to it where that has only its own."""
        if self.surface.lobes and not self.board.lattice.is_listed:
            return lay_on_lobe(point, self.surface)
        return self.surface.fit(self.board.get_nearest_free(self.surface.get_in_lattice(point)))

    def _find_at(self, point: Vec) -> int:
        return int(np.argmin(((self.points - np.array(point)) ** 2).sum(axis=1)))

    def _take(self, *at: int) -> None:
        for number in at:
            self._take_site(self.surface.fit(self.board.sites[number]))

    def _take_site(self, site: Site) -> None:
        self._seat(self._slide(site))

    def _seat(self, site: Site) -> None:
        piece, _ = self.asked.waiting[len(self.found)]
        self.board.mark(piece, self.surface.get_in_lattice(site.point), taking=True)
        self.found.append(site)

    def _slide(self, site: Site) -> Site:
        """The site where the next piece's top ends as it is meant to."""
        piece, _ = self.asked.waiting[len(self.found)]
        top = self._get_top(len(self.found))
        if top is None or site.zone:
            return site
        close_cm = max(_CLOSE_CM, self._get_slack_cm())
        for _ in range(_SLIDES):
            off = top - self.asked.find_top(piece, site)
            if abs(off) < close_cm:
                break
            if self.board.lattice.is_listed:
                site = lift(site, self.surface.frame, off)
            elif self.surface.lobes:
                site = slide(site, self.surface, off)
        return site
