"""Places for what is meant by an entry: its pieces chosen together, by the worth of free sites and how far these are
outside of what is meant; then slid to the very height that is asked for, where the surface is smooth.

What cannot be met is placed as near as it comes; ``meeting.py`` says by how much it is not.
"""

import math
from collections.abc import Sequence
from itertools import combinations, pairwise

import numpy as np

from mirvel.core.forms.surface import Site
from mirvel.core.placing.asked import (
    OUTSIDE,
    Asked,
    Neighbour,
    Numbers,
    get_meant_wish,
    get_outside_of_sites,
    get_varied_cm,
)
from mirvel.core.placing.offs import Standing, get_off
from mirvel.core.placing.runs import (
    FIVE_LEVELS,
    get_curve_aims,
    get_even_cm,
    get_fan,
    get_five_hours,
    get_fringe_hours,
    get_fringe_span,
    get_images,
    get_line_aims,
    get_line_ends,
    get_mirrors,
    get_off_ray,
    get_parts_held,
    get_ray_hours,
)
from mirvel.core.placing.seats import lay_on_lobe, lift, slide
from mirvel.core.placing.windows import EDGE_SHARE, get_band_limits
from mirvel.core.recipe.meant import Band, HeightKind, Pattern, PatternKind
from mirvel.core.space.vectors import Vec

RING_FROM, RING_TO = 1.05, 1.5  # a ring's heads, of the two half widths and of its flower's width
TRIANGLE_LEAST_DEG, TRIANGLE_MOST_RATIO = 34.0, 1.5  # aimed at; measured it may be a little less even
_TRIED_IN_TRIANGLES, _TURNS, _TRIED_AT_A_HEIGHT, _TRIED_VARIED = 36, 12, 40, 80
_CLEAR_SHARE = 0.8  # of a head, that one is clear of another of its own at the same height
_SLIDES, _CLOSE_CM = 8, 0.02
LEVEL_SLACK_CM = 0.4  # of the first of those at one level the others may end so far, so that they need not crowd
_EVEN_SHARE, _SPREAD_PASSES = 0.95, 4  # of even spacing that pieces spread singly are set apart
_OUT_OF_THIRD = 0.3  # what a third of the clock that has one already is worth less, while another has none
VARIED_FROM = 1.25  # of what neighbours' heights are to differ by, and of how near a neighbour is, that is aimed at
_ALONG_LINK = 40  # points of the way from one head to another, as it goes over the piece
_LAID = 6  # times a point of a line is laid on the surface again, until it lies where it is looked down on


def find_sites(asked: Asked) -> list[Site]:
    """A site for each of the waiting pieces, in order."""
    return _Search(asked).find()


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
        if kind is PatternKind.LINKING and self.asked.about and self.asked.linked:
            self._find_link()
        if pattern and kind in {PatternKind.LINE, PatternKind.CURVE}:
            self._find_line(pattern)
        if pattern and kind is PatternKind.RAYS:
            self._find_rays(pattern)
        if pattern and kind is PatternKind.FRINGE:
            self._find_fringe(pattern)
        if self.asked.is_of_five:
            self._find_five()
        if kind is PatternKind.SPREAD:
            self._find_spread()
        if kind and get_mirrors(kind):
            self._find_mirrored(get_mirrors(kind))
        while len(self.found) < len(self.asked.waiting):
            left = len(self.asked.waiting) - len(self.found)
            if kind is PatternKind.TRIANGLE and left >= 3:
                self._take(*self._find_triangle())
            else:
                standing = Standing(self.asked, self.points, self.shares, self.found)
                self._take_best(self._get_worth(len(self.found)) - OUTSIDE * get_off(pattern, standing))
        return self.found

    def _take_best(self, worth: Numbers) -> None:
        """The site worth most; where a height is told, the first of the best that, once there, is clear of the others:
        two sites one over the other come to the same."""
        height = self.asked.meant.height
        if height and height.kind is HeightKind.VARIED:
            self._take_varied(worth)
            return
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

    def _take_varied(self, worth: Numbers) -> None:
        """The site worth most that ends at another level than those it comes to stand beside."""
        piece, _ = self.asked.waiting[len(self.found)]
        least = VARIED_FROM * get_varied_cm(piece.head.width_cm)
        standing = [*self.asked.own, *(each.point for each in self.found)]
        tops = [self.asked.find_top(piece, each) for each in self.found]
        away = [
            min((one.minus(other).length for other in standing if other is not one), default=math.inf)
            for one in standing
        ]
        for at in np.argsort(-worth, kind="stable")[:_TRIED_VARIED].tolist():
            if not self.board.free[at]:
                break
            site = self.surface.fit(self.board.sites[at])
            top = self.asked.find_top(piece, site)
            gaps = [site.point.minus(each).length for each in standing]
            own = [each.z + top - site.point.z for each in self.asked.own]  # of one kind, so as high over its place
            nearest = VARIED_FROM * min(gaps, default=0.0)
            near = zip([*own, *tops], gaps, away, strict=True)
            if all(abs(top - other) >= least for other, gap, far in near if gap <= max(nearest, far)):
                self._seat(site)
                return
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
        if self.asked.is_of_five and self.asked.tops[number] is None:
            return FIVE_LEVELS[number - len(self.asked.waiting)] * self.surface.frame.above_rim_cm
        return self.asked.tops[number]

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

    def _find_link(self) -> None:
        """Evenly from the head of one to that of the other, of the two that stand nearest to each other."""
        pairs = ((one, other) for one in self.asked.about for other in self.asked.linked)
        start, end = min(pairs, key=lambda pair: pair[0].point.minus(pair[1].point).length)
        way, count = end.point.minus(start.point), len(self.asked.waiting)
        laid = [self._lay(start.point.plus(way, step / _ALONG_LINK)).point for step in range(_ALONG_LINK + 1)]
        along = np.cumsum([0.0, *(one.minus(other).length for one, other in pairwise(laid))])
        first, last = ((each.width_cm + self.asked.width_cm) / 2 for each in (start, end))
        last = max(first, float(along[-1]) - last)
        for number in range(count):
            at = first + (last - first) * (number / (count - 1) if count > 1 else 0.5)
            self._take_site(self._lay(laid[int(np.argmin(np.abs(along - at)))]))

    def _find_line(self, pattern: Pattern) -> None:
        """Evenly from its one end to the other, as it is looked down on."""
        count = len(self.asked.waiting)
        ends = get_line_ends(pattern, self.asked.meant.where, self.surface)
        is_curved = pattern.kind is PatternKind.CURVE
        for aim in get_curve_aims(pattern, count) if is_curved else get_line_aims(ends, count):
            off = np.hypot(self.shares[:, 0] - aim[0], self.shares[:, 1] - aim[1])
            best = int(np.argmax(self._get_worth(len(self.found)) - 2 * OUTSIDE * off))
            x, y = (float(each) for each in self.half_cm * aim)
            self._take_site(self._lay_below(Vec(x, y, float(self.points[best][2]))))

    def _find_rays(self, pattern: Pattern) -> None:
        """One towards each of the hours, out of the middle of the piece or of the part it is meant to stand in, as far
        out and as high as is worth most."""
        fan = get_fan(self.asked.meant.where, self.surface)
        offs = fan.get_offs(self.shares)
        for hour in get_ray_hours(pattern, len(self.asked.waiting)):
            best = int(np.argmax(self._get_worth(len(self.found)) - 2 * OUTSIDE * get_off_ray(offs, hour)))
            out = max(0.2, math.hypot(*offs[best]))
            x, y = (float(each) for each in self.half_cm * fan.get_point(hour, out))
            self._take_site(self._lay_below(Vec(x, y, float(self.points[best][2]))))

    def _find_fringe(self, pattern: Pattern) -> None:
        """Evenly round the rim, or from the one hour to the other, all low and at the edge."""
        _, high = get_band_limits(Band.SKIRT)
        off = np.maximum(0.0, self.shares[:, 2] - high)
        off += 0.3 * np.maximum(0.0, EDGE_SHARE - np.hypot(self.shares[:, 0], self.shares[:, 1]))
        span = get_fringe_span(pattern, self.surface)
        for hour in get_fringe_hours(span, len(self.asked.waiting)):
            beside = off + get_off_ray(self.shares, hour)
            self._take(int(np.argmax(self._get_worth(len(self.found)) - 2 * OUTSIDE * beside)))

    def _find_five(self) -> None:
        """The five, each at its height, turned to where they are worth most."""
        count = len(self.asked.waiting)
        worths = [self._get_worth(number) for number in range(count)]
        turned = []
        for turn in range(_TURNS):
            hours = get_five_hours(12 * turn / _TURNS)[-count:]  # the first may have the crown already
            offs = [0.0 if hour is None else 2 * OUTSIDE * get_off_ray(self.shares, hour) for hour in hours]
            left = [worth - off for worth, off in zip(worths, offs, strict=False)]
            chosen: list[int] = []
            for each in left:
                each[chosen] = -np.inf
                chosen.append(int(np.argmax(each)))
            turned.append((float(sum(each[at] for each, at in zip(left, chosen, strict=True))), chosen))
        self._take(*max(turned, key=lambda each: round(each[0], 9))[1])

    def _find_spread(self) -> None:
        """Each well away from all others of its kind: one after another, then each anew, the others being where they
        are."""
        asked = self.asked
        count = len(asked.waiting)
        even_cm = _EVEN_SHARE * get_even_cm(self.surface, asked.meant, len(asked.own) + count)
        worths = [self._get_worth(number) for number in range(count)]
        thirds, chosen = get_parts_held(self.shares) % 3, list[int]()
        spots = np.concatenate([self.points, np.array(asked.own).reshape(-1, 3)])
        away = np.sqrt(sum((self.points[:, axis, None] - spots[:, axis]) ** 2 for axis in range(3)))
        own = list(range(len(self.points), len(spots)))
        for step in range(_SPREAD_PASSES * count):
            number = step % count
            kept = [at for place, at in enumerate(chosen) if place != number]
            short = np.maximum(0.0, even_cm - away[:, own + kept].min(axis=1, initial=np.inf)) / even_cm
            held = np.bincount(thirds[kept], minlength=3)
            again = _OUT_OF_THIRD * ((held[thirds] > 0) & (held.min() == 0))
            left = np.round(worths[number] - OUTSIDE * (short + again), 9)
            left[kept] = -np.inf
            best = int(np.argmax(left))
            chosen = [*kept[:number], best, *kept[number:]]
        self._take(*chosen)

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
                site = lift(site, self.surface.frame, site.point.z + off)
            elif self.surface.lobes:
                site = slide(site, self.surface, off)
        return site
