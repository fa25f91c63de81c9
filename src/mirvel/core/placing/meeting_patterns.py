"""Whether the pieces of an entry stand to one another, or to another entry, as they are meant to.

What each pattern means is common practice, no published source; tolerances are assumptions of ours.
"""

import math
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from mirvel.core.placing.met import Measuring, Met, get_top
from mirvel.core.placing.places import Place, get_head_extent
from mirvel.core.placing.runs import (
    FIVE_LEVELS,
    Fan,
    Point,
    Run,
    get_curve_aims,
    get_even_cm,
    get_fan,
    get_fringe_span,
    get_images,
    get_line_ends,
    get_mirrors,
    get_parts_held,
    get_ray_hours,
)
from mirvel.core.placing.windows import OUTSIDE_SHARE, get_band_limits
from mirvel.core.recipe.meant import Band, Meant, Pattern, PatternKind
from mirvel.core.space.vectors import Vec

LEAST_ANGLE_DEG, MOST_RATIO = 30.0, 1.6  # of a triangle: no flatter, and its long sides no more unlike
GROUP_WIDTHS, BESIDE_TOUCHING = (0.85, 1.35), 1.4
RING_PIECES, RING_WIDTHS, RING_GAP_DEG = 5, 1.6, 90.0
LINE_WIDTHS = 0.5  # of a head, that one may stand beside its line
Numbers = NDArray[np.float64]
RAY_SHARE = 1 / 3  # the turns between rays differ by no more than this share of one
MIRROR_CM = 1.5  # within which a partner is one
FRINGE_GAP_DEG, ACROSS_DEG, FIVE_STEP_CM = 60.0, 30.0, 0.5
SPREAD_SHARE, LIFTED_SHARE = 0.7, 2 / 3
_ALONG_CURVE = 60  # points that a curve is measured by
ALIKE_PAIRS = 1  # neighbours of one kind beyond those that uneven counts bring


def measure_pattern(pattern: Pattern, meant: Meant, places: list[Place], among: Measuring) -> Met:
    """Whether a pattern of an entry is met, and if not, by how much; ``meant`` all that is meant by it."""
    others = among.get(pattern.entry) if pattern.entry else []
    if pattern.entry and not others:
        return Met("pattern", pattern.kind.value, is_met=False, instead="there is none of the other to stand by")
    match pattern.kind:
        case PatternKind.TRIANGLE:
            return _measure_triangles(places)
        case PatternKind.SIDES:
            return _measure_sides(places)
        case PatternKind.GROUP:
            return _measure_groups(pattern.count or len(places), places)
        case PatternKind.RING:
            return _measure_ring(places, others)
        case PatternKind.ALTERNATING:
            return _measure_turns(places, others, among)
        case PatternKind.LINKING:
            return _measure_link(places, others, among.get(pattern.other), among)
        case PatternKind.LINE:
            return _measure_line(get_line_ends(pattern, meant.where, among.surface), places, among)
        case PatternKind.CURVE:
            return _measure_curve(pattern, places, among)
        case PatternKind.FRINGE:
            return _measure_fringe(pattern, places, among)
        case PatternKind.FIVE:
            return _measure_five(places, among)
        case PatternKind.SPREAD:
            return _measure_spread(meant, places, among)
        case PatternKind.CARRIED:
            return _measure_carried(places, among)
        case PatternKind.LIFTED:
            return _measure_lifted(places, among)
        case PatternKind.GATHERED:
            return _measure_gathered(places, others, among)
        case PatternKind.RAYS:
            return _measure_rays(pattern, get_fan(meant.where, among.surface), places, among)
        case PatternKind.SIDEWAYS | PatternKind.LENGTHWAYS | PatternKind.BOTH_WAYS:
            return _measure_mirrored(pattern.kind, places, among)
    return _measure_beside(places, others, among)


def _measure_triangles(places: list[Place]) -> Met:
    if len(places) % 3:
        return Met("pattern", "a triangle", is_met=False, instead=f"{len(places)} pieces make no whole triangles")
    for first in range(0, len(places), 3):
        corners = places[first : first + 3]
        sides = sorted(corners[one].tip.minus(corners[other].tip).length for one, other in ((0, 1), (1, 2), (2, 0)))
        angle = get_least_angle_deg(*sides)
        if angle < LEAST_ANGLE_DEG:
            return Met("pattern", "a triangle", is_met=False, instead=f"its narrowest corner is {angle:.0f}° wide")
        if sides[2] > MOST_RATIO * sides[0]:
            return Met(
                "pattern",
                "a triangle",
                is_met=False,
                instead=f"its sides are as unlike as 1 to {sides[2] / sides[0]:.1f}",
            )
        if sides[0] < corners[0].half_width_cm:
            return Met("pattern", "a triangle", is_met=False, instead="two of its heads stand inside one another")
    return Met("pattern", "a triangle", is_met=True)


def get_least_angle_deg(short: float, middle: float, long: float) -> float:
    """The narrowest corner of a triangle by its sides, degrees; 0 where it has no sides."""
    if short <= 1e-9:
        return 0.0
    cosine = (middle**2 + long**2 - short**2) / (2 * middle * long)
    return math.degrees(math.acos(max(-1.0, min(1.0, cosine))))


def _measure_sides(places: list[Place]) -> Met:
    down = sorted(places, key=lambda place: -get_top(place))
    off_middle = [place for place in down if abs(place.tip.x) > place.half_width_cm / 4]
    same = sum(one.tip.x * other.tip.x > 0 for one, other in pairwise(off_middle))
    return Met("pattern", "from side to side", not same, f"{same} of them on the same side as the one above")


def _measure_groups(count: int, places: list[Place]) -> Met:
    """Each so many that follow one another, close; two groups no nearer than two heads that are not close."""
    if len(places) % count:
        told = f"{len(places)} pieces make no whole groups of {count}"
        return Met("pattern", "close groups", is_met=False, instead=told)
    groups = [places[first : first + count] for first in range(0, len(places), count)]
    words = "close groups" if len(groups) > 1 else "a close group"
    near = [_get_widths_apart(place, group) for group in groups if len(group) > 1 for place in group]
    apart = [
        _get_widths_apart(place, [place, *other])
        for group in groups
        for other in groups
        if other is not group
        for place in group
    ]
    low, high = GROUP_WIDTHS
    if near and not (low <= min(near) and max(near) <= high):
        told = f"the nearest of its own is {min(near):.1f} to {max(near):.1f} head widths away"
        return Met("pattern", words, is_met=False, instead=told)
    told = f"two groups come as near as {min(apart, default=0.0):.1f} head widths"
    return Met("pattern", words, min(apart, default=math.inf) > high, told)


def _get_widths_apart(place: Place, others: list[Place]) -> float:
    """How many of its own widths away the nearest of some others stands."""
    return min(place.tip.minus(other.tip).length for other in others if other is not place) / (2 * place.half_width_cm)


def _measure_ring(places: list[Place], flowers: list[Place]) -> Met:
    best = max((_find_ring(places, flower) for flower in flowers), key=lambda ring: (ring[0], -ring[1]))
    count, gap = best
    is_met = count >= RING_PIECES and gap <= RING_GAP_DEG
    return Met("pattern", "a ring", is_met, f"{count} of them stand close about it, with a gap of {gap:.0f}° at most")


def _find_ring(places: list[Place], flower: Place) -> tuple[int, float]:
    """How many stand close about a flower, and the widest gap between them round its face, degrees."""
    level = Vec(-flower.facing.y, flower.facing.x, 0.0)
    level = level.unit if level.length > 1e-9 else Vec(1.0, 0.0, 0.0)
    other = flower.facing.cross(level)
    turns = []
    for place in places:
        off = place.tip.minus(flower.tip)
        if off.length <= RING_WIDTHS * 2 * flower.half_width_cm:
            turns.append(math.degrees(math.atan2(off.dot(other), off.dot(level))) % 360)
    turns.sort()
    gaps = [(after - before) % 360 or 360.0 for before, after in pairwise([*turns, *turns[:1]])]
    return len(turns), max(gaps, default=360.0)


def _measure_beside(places: list[Place], others: list[Place], among: Measuring) -> Met:
    def get_apart(place: Place, other: Place) -> float:
        off = place.tip.minus(other.tip)
        # two spikes stand side by side also where one ends lower
        return off.reach if place.material.is_axial and other.material.is_axial else off.length

    def get_gap(place: Place) -> float:
        touching = ((other, place.half_width_cm + other.half_width_cm) for other in others)
        return min(get_apart(place, other) - BESIDE_TOUCHING * both for other, both in touching)

    far = max(get_gap(place) for place in places)
    return Met("pattern", "beside the other", far <= 0, f"one stands {among.say(max(0.0, far))} too far from it")


def _get_shares(places: list[Place], among: Measuring) -> Numbers:
    frame = among.surface.frame
    return np.array([place.tip[:2] for place in places]) / [frame.half_width_cm, frame.half_depth_cm]


def _measure_turns(places: list[Place], others: list[Place], among: Measuring) -> Met:
    frame = among.surface.frame
    own, theirs = (_get_shares(each, among) for each in (places, others))
    alike, have_to = Run(frame.half_width_cm, frame.half_depth_cm).count_alike(own, theirs)
    told = f"{alike} of them and of the others stand beside their own kind"
    return Met("pattern", "in turn with the other", alike <= have_to + ALIKE_PAIRS, told)


def _measure_line(ends: tuple[Point, Point], places: list[Place], among: Measuring) -> Met:
    frame = among.surface.frame
    (ax, ay), (bx, by) = ((x * frame.half_width_cm, y * frame.half_depth_cm) for x, y in ends)
    long = math.hypot(bx - ax, by - ay)

    def get_beside(place: Place) -> float:
        return abs((place.tip.x - ax) * (by - ay) - (place.tip.y - ay) * (bx - ax)) / long

    return _say_run("a line", places, [get_beside(place) for place in places], among)


def _measure_curve(pattern: Pattern, places: list[Place], among: Measuring) -> Met:
    frame = among.surface.frame
    curve = np.array(get_curve_aims(pattern, _ALONG_CURVE)) * [frame.half_width_cm, frame.half_depth_cm]
    beside = [float(np.hypot(*(curve - place.tip[:2]).T).min()) for place in places]
    return _say_run("a curve", places, beside, among)


def _say_run(words: str, places: list[Place], beside_cm: list[float], among: Measuring) -> Met:
    """Whether pieces follow one another without standing inside each other, none too far beside the way."""
    gaps = [one.tip.minus(other.tip).length for one, other in pairwise(places)]
    if min(gaps, default=math.inf) < places[0].half_width_cm:
        told = f"it is too short for {len(places)}: two of its heads stand inside one another"
        return Met("pattern", words, is_met=False, instead=told)
    off = max(far - 2 * LINE_WIDTHS * place.half_width_cm for far, place in zip(beside_cm, places, strict=True))
    told = f"one stands {among.say(max(0.0, off))} further beside it than half a head"
    return Met("pattern", words, off <= 0, told)


def _measure_fringe(pattern: Pattern, places: list[Place], among: Measuring) -> Met:
    """All at the rim, and no gap of the clock between them wide: all round, or from the one hour to the other."""
    above = among.surface.frame.above_rim_cm
    highest = max(map(_get_bottom, places)) - get_band_limits(Band.SKIRT)[1] * above
    if highest > OUTSIDE_SHARE * above:
        return Met("pattern", "a fringe", is_met=False, instead=f"one stands {among.say(highest)} over the rim’s band")
    start, span = get_fringe_span(pattern, among.surface)
    step = FRINGE_GAP_DEG / 30
    least = math.floor(span / step) + (1 if span == 12 else 2)
    if len(places) < least:
        told = f"{len(places)} are too few to leave no gap of {FRINGE_GAP_DEG:.0f}°: it takes {least}"
        return Met("pattern", "a fringe", is_met=False, instead=told)
    before = (12 - span) / 2  # what stands a little before its beginning belongs to that
    at = sorted((place.clock_hour - start + before) % 12 - before for place in places)
    ends = [at[0] + 12 - at[-1]] if span == 12 else [abs(at[0]), abs(span - at[-1])]
    gaps = [*ends, *(after - one for one, after in pairwise(at))]
    told = f"a gap of {30 * max(gaps):.0f}° of the clock is left in it"
    return Met("pattern", "a fringe", 30 * max(gaps) < FRINGE_GAP_DEG, told)


def _get_bottom(place: Place) -> float:
    """How high the lowest point of a head stands above the rim, cm."""
    return place.tip.z + get_head_extent(place.material, place.facing, place.half_width_cm).bottom


def _measure_five(places: list[Place], among: Measuring) -> Met:
    """Five heights in their order, and the two pairs across the piece from one another."""
    if len(places) != len(FIVE_LEVELS):
        return Met("pattern", "five points", is_met=False, instead=f"there are {len(places)} to make five points of")
    high, lowest, middle, lower, little = places
    down = (high, middle, lower, little, lowest)
    if any(get_top(one) - get_top(other) < FIVE_STEP_CM for one, other in pairwise(down)):
        return Met("pattern", "five points", is_met=False, instead="they do not stand each lower than the one before")
    turns = [
        abs((one.clock_hour - other.clock_hour) % 12 - 6) * 30 for one, other in ((middle, lower), (lowest, little))
    ]
    told = f"two stand {max(turns):.0f}° off being across from one another"
    return Met("pattern", "five points", max(turns) <= ACROSS_DEG, told)


def _measure_spread(meant: Meant, places: list[Place], among: Measuring) -> Met:
    """None nearer to its own kind than so much of an even spacing, and some on every third of the clock."""
    even = get_even_cm(among.surface, meant, len(places))
    gaps = [min(place.tip.minus(other.tip).length for other in places if other is not place) for place in places[1:]]
    nearest = min(gaps, default=even)
    if nearest < SPREAD_SHARE * even:
        told = f"two of them stand {among.say(nearest)} apart, evenly spread it would be {among.say(even)}"
        return Met("pattern", "spread singly", is_met=False, instead=told)
    thirds = {int(place.clock_hour % 12 // 4) for place in places}
    is_over = bool(meant.where) or len(places) < 3 or len(thirds) == 3
    return Met("pattern", "spread singly", is_over, f"they stand on {len(thirds)} of three thirds of the clock")


def _measure_carried(places: list[Place], among: Measuring) -> Met:
    """In all parts of the piece, thirds of the clock low and high, but one that there are."""
    frame = among.surface.frame
    half = [frame.half_width_cm, frame.half_depth_cm, frame.above_rim_cm]
    there = set(get_parts_held(among.surface.outline[0] / half).tolist())
    held = set(get_parts_held(np.array([place.tip for place in places]) / half).tolist())
    least = max(1, len(there) - 1)
    told = f"they stand in {len(held & there)} of its {len(there)} parts"
    return Met("pattern", "carried through", len(held & there) >= least, told)


def _measure_lifted(places: list[Place], among: Measuring) -> Met:
    highest = max(place.tip.z for place in places) / among.surface.frame.above_rim_cm
    told = f"the highest of them stands at {highest * 100:.0f} % of the height"
    return Met("pattern", "one lifted", highest >= LIFTED_SHARE, told)


def _measure_gathered(places: list[Place], others: list[Place], among: Measuring) -> Met:
    """Nearer to the other than the half of all flowers are."""

    def get_away(place: Place) -> float:
        return min(place.tip.minus(other.tip).length for other in others)

    own = {place.entry.id for place in (*places, *others)}
    rest = [get_away(each) for each in among.places if not each.material.is_leaf and each.entry.id not in own]
    if not rest:
        return Met("pattern", "gathered about the other", is_met=True)
    far = max(get_away(place) for place in places)
    told = f"one stands {among.say(far)} away, half of the others are nearer than {among.say(float(np.median(rest)))}"
    return Met("pattern", "gathered about the other", far <= float(np.median(rest)), told)


def _measure_link(places: list[Place], starts: list[Place], ends: list[Place], among: Measuring) -> Met:
    """A run from within a head of one to within a head of the other, no gap in it wider than a head or half of the way
    it goes."""
    if not ends:
        return Met("pattern", "linking the two", is_met=False, instead="there is none of the second to lead to")
    start, end = min(
        ((one, other) for one in starts for other in ends), key=lambda pair: pair[0].tip.minus(pair[1].tip).length
    )
    way = end.tip.minus(start.tip)
    run = [place.tip for place in sorted(places, key=lambda place: place.tip.minus(start.tip).dot(way))]
    short = max(
        run[at].minus(head.tip).length - 2 * head.half_width_cm - places[0].half_width_cm
        for at, head in ((0, start), (-1, end))
    )
    if short > 0:
        told = f"it ends {among.say(short)} further from one of the two than a head"
        return Met("pattern", "linking the two", is_met=False, instead=told)
    gap = max((one.minus(other).length for one, other in pairwise(run)), default=0.0)
    whole = sum(one.minus(other).length for one, other in pairwise([start.tip, *run, end.tip]))
    most = max(whole / 2, 2 * start.half_width_cm, 2 * end.half_width_cm)
    return Met("pattern", "linking the two", gap <= most, f"a gap of {among.say(gap)} is left in the run")


def _measure_rays(pattern: Pattern, fan: Fan, places: list[Place], among: Measuring) -> Met:
    hours = get_ray_hours(pattern, len(places))
    step = (hours[1] - hours[0]) if len(hours) > 1 else 12.0
    shares, free = fan.get_offs(_get_shares(places, among)), list(hours)
    at = np.degrees(np.arctan2(shares[:, 0], shares[:, 1])) / 30
    off = 0.0
    for own in at:
        nearest = min(free, key=lambda hour: abs((own - hour + 6) % 12 - 6))
        free.remove(nearest)
        off = max(off, float(abs((own - nearest + 6) % 12 - 6)))
    told = f"one is turned {30 * off:.0f}° from where it would be even"
    return Met("pattern", "evenly turned", off <= RAY_SHARE * step / 2, told)


def _measure_mirrored(kind: PatternKind, places: list[Place], among: Measuring) -> Met:
    far = 0.0
    for place in places:
        for image in get_images(place.tip, get_mirrors(kind))[1:]:
            far = max(far, min(other.tip.minus(image).length for other in places))
    return Met(
        "pattern", kind.value, far <= MIRROR_CM, f"one stands {among.say(far)} from where its partner mirrors it"
    )
