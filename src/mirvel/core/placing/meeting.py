"""Whether what is meant by an entry is met by the places its pieces have, and if not, by how much.

The same measure serves the finding, the card and the tests of placing. Tolerances are assumptions of ours; what each
wish means is common practice, no published source.
"""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from mirvel.core.forms.surface import Surface
from mirvel.core.placing.places import Place, get_head_extent
from mirvel.core.placing.windows import get_outside
from mirvel.core.recipe.meant import Depth, DepthKind, Facing, Height, HeightKind, Meant, Pattern, PatternKind
from mirvel.core.recipe.meant_words import describe_where
from mirvel.core.space.vectors import Vec
from mirvel.core.values.units import LengthUnit, format_length

LEVEL_CM, TIP_CM = 1.0, 1.0  # tips at one level, or at a height told, are within so much
STAIR_SHARE = 1 / 3  # the steps of a stair differ by no more than this share of one
OUTSIDE_SHARE = 0.03  # of the form, that a head may stand outside of where it is meant to
LEAST_ANGLE_DEG, MOST_RATIO = 30.0, 1.6  # of a triangle: no flatter, and its long sides no more unlike
GROUP_WIDTHS, BESIDE_TOUCHING = (0.85, 1.35), 1.4
RING_PIECES, RING_WIDTHS, RING_GAP_DEG = 5, 1.6, 90.0
PROUD_CM, TUCKED_SHARE = 1.0, 0.4
FACING_DEG = {Facing.OUT: 35.0, Facing.UP: 25.0, Facing.VIEWER: 35.0}
_VIEWER = Vec(0.0, -1.0, 0.0)


@dataclass(frozen=True)
class Met:
    """One wish measured: which of an entry's it is, in words too, whether it is met, and if not, what is so instead."""

    part: str
    wish: str
    is_met: bool
    instead: str = ""


@dataclass(frozen=True)
class Measuring:
    """What an entry's places are measured against: all places as the piece is built, the surface, the container's
    height, and the unit that lengths are told in."""

    places: Sequence[Place]
    surface: Surface
    container_height_cm: float
    unit: LengthUnit

    def get(self, entry_id: str) -> list[Place]:
        """The places of an entry, in the order of their numbers."""
        return sorted((place for place in self.places if place.entry.id == entry_id), key=lambda each: each.number)

    def say(self, length_cm: float) -> str:
        return format_length(length_cm, self.unit)


def measure(entry_id: str, meant: Meant, among: Measuring) -> tuple[Met, ...]:
    """Each wish of an entry, told of the piece as it is built; none where none of it is placed."""
    places = among.get(entry_id)
    if not places or not meant.is_said:
        return ()
    found = [*_measure_windows(meant, places, among)]
    if meant.height:
        found.append(_measure_height(meant.height, places, among))
    if meant.pattern:
        found.append(_measure_pattern(meant.pattern, places, among))
    if meant.depth:
        found.append(_measure_depth(meant.depth, places, among))
    if meant.facing:
        found.append(_measure_facing(meant.facing, places))
    return tuple(found)


def get_top(place: Place) -> float:
    """How high the highest point of a head stands above the rim, cm."""
    return place.tip.z + get_head_extent(place.material, place.facing, place.half_width_cm).top


def _measure_windows(meant: Meant, places: list[Place], among: Measuring) -> Iterator[Met]:
    frame = among.surface.frame
    tips = np.array([place.tip for place in places])
    shares = tips / [frame.half_width_cm, frame.half_depth_cm, frame.above_rim_cm]
    levels, parts = get_outside(meant, shares)
    if meant.levels:
        words = " or ".join(band.value for band in meant.levels)
        most = float(levels.max())
        off = f"{_count(levels > OUTSIDE_SHARE, places)} {among.say(most * frame.above_rim_cm)} off that level at most"
        yield Met("levels", words, most <= OUTSIDE_SHARE, off)
    if meant.where:
        most = float(parts.max())
        off = f"{_count(parts > OUTSIDE_SHARE, places)} {among.say(most * frame.half_width_cm)} outside of it at most"
        yield Met("where", describe_where(meant.where), most <= OUTSIDE_SHARE, off)


def _count(outside: np.ndarray, places: list[Place]) -> str:
    number = int(outside.sum())
    return f"{number} of {len(places)} {'stands' if number == 1 else 'stand'}"


def _measure_height(height: Height, places: list[Place], among: Measuring) -> Met:
    tops = [get_top(place) for place in places]
    if height.kind is HeightKind.LEVEL:
        apart = max(tops) - min(tops)
        return Met("height", "one level", apart <= LEVEL_CM, f"their tips are {among.say(apart)} apart in height")
    if height.kind is HeightKind.STAIR:
        return _measure_stair(height.by, tops, among)
    others = [get_top(place) for place in among.get(height.entry)] if height.entry else []
    if height.kind is HeightKind.OVER and not others:
        return Met("height", "a height over another", is_met=False, instead="there is none of the other to stand over")
    rim = among.surface.frame.rim_height_cm
    wanted = {
        HeightKind.OVER: max(others, default=0.0) + height.by,
        HeightKind.TABLE: height.by - rim,
        HeightKind.TIMES: height.by * among.container_height_cm - rim,
    }.get(height.kind, height.by)
    off = max(tops, key=lambda top: abs(top - wanted)) - wanted
    way = "higher" if off > 0 else "lower"
    return Met("height", "the height of its tips", abs(off) <= TIP_CM, f"they end {among.say(abs(off))} {way} at most")


def _measure_stair(step_cm: float, tops: list[float], among: Measuring) -> Met:
    steps = [high - low for high, low in pairwise(sorted(tops, reverse=True))]
    is_met = all(abs(step - step_cm) <= STAIR_SHARE * step_cm for step in steps)
    low, high = min(steps, default=step_cm), max(steps, default=step_cm)
    return Met("height", "a stair", is_met, f"its steps are {among.say(low)} to {among.say(high)} high")


def _measure_pattern(pattern: Pattern, places: list[Place], among: Measuring) -> Met:
    others = among.get(pattern.entry) if pattern.entry else []
    if pattern.entry and not others:
        return Met("pattern", pattern.kind.value, is_met=False, instead="there is none of the other to stand by")
    match pattern.kind:
        case PatternKind.TRIANGLE:
            return _measure_triangles(places)
        case PatternKind.SIDES:
            return _measure_sides(places)
        case PatternKind.GROUP:
            return _measure_group(places)
        case PatternKind.RING:
            return _measure_ring(places, others)
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


def _measure_group(places: list[Place]) -> Met:
    if len(places) < 2:
        return Met("pattern", "a close group", is_met=True)
    near = []
    for place in places:
        gap = min(place.tip.minus(other.tip).length for other in places if other is not place)
        near.append(gap / (2 * place.half_width_cm))
    low, high = GROUP_WIDTHS
    is_met = low <= min(near) and max(near) <= high
    return Met(
        "pattern",
        "a close group",
        is_met,
        f"the nearest of its own is {min(near):.1f} to {max(near):.1f} head widths away",
    )


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
    def get_gap(place: Place) -> float:
        gaps = (
            place.tip.minus(other.tip).length - BESIDE_TOUCHING * (place.half_width_cm + other.half_width_cm)
            for other in others
        )
        return min(gaps)

    far = max(get_gap(place) for place in places)
    return Met("pattern", "beside the other", far <= 0, f"one stands {among.say(max(0.0, far))} too far from it")


def _measure_depth(depth: Depth, places: list[Place], among: Measuring) -> Met:
    out = [_get_out_cm(place, among.surface) for place in places]
    if depth.kind is DepthKind.PROUD:
        off = max(out, key=lambda each: abs(each - depth.by)) - depth.by
        way = "further" if off > 0 else "less"
        return Met("depth", "proud", abs(off) <= PROUD_CM, f"one stands out {among.say(abs(off))} {way}")
    least = min(-each / (2 * place.half_width_cm) for each, place in zip(out, places, strict=True))
    return Met(
        "depth", "tucked in", least >= TUCKED_SHARE, f"one lies {max(0.0, least):.1f} head widths inside the outline"
    )


def _get_out_cm(place: Place, surface: Surface) -> float:
    """How far outside of the surface a head's face stands, cm; negative inside."""
    if not surface.lobes:
        return (surface.get_stretch(place.tip) - 1) * surface.frame.above_rim_cm
    lobe = surface.get_lobe(place.tip)
    away, stretch = place.tip.minus(lobe.centre).length, lobe.get_stretch(place.tip)
    return away * (1 - 1 / stretch) if stretch > 1e-9 else -away


def _measure_facing(facing: Facing, places: list[Place]) -> Met:
    def get_off_deg(place: Place) -> float:
        towards = {Facing.UP: Vec(0.0, 0.0, 1.0), Facing.VIEWER: _VIEWER}.get(facing)
        if towards is None:
            outwards = Vec(place.tip.x, place.tip.y, 0.0)
            towards = outwards.unit if outwards.length > 1e-6 else place.facing
        return math.degrees(math.acos(max(-1.0, min(1.0, place.facing.dot(towards)))))

    off = max(get_off_deg(place) for place in places)
    return Met("facing", f"facing {facing.value}", off <= FACING_DEG[facing], f"one is turned {off:.0f}° away from it")
