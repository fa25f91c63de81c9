"""Whether what is meant by an entry is met by the places its pieces have, and if not, by how much.

The same measure serves the finding, the card and the tests of placing. Tolerances are assumptions of ours; what each
wish means is common practice, no published source.
"""

import math
from collections.abc import Iterator, Sequence
from itertools import pairwise

import numpy as np

from mirvel.core.goods.facts import Role
from mirvel.core.placing.asked import get_varied_cm
from mirvel.core.placing.depths import get_leaves_out, get_out_cm
from mirvel.core.placing.meeting_patterns import measure_pattern
from mirvel.core.placing.met import Measuring, Met, get_top
from mirvel.core.placing.places import Place
from mirvel.core.placing.runs import get_grade_key
from mirvel.core.placing.windows import OUTSIDE_SHARE, get_box, get_outside, get_outside_box
from mirvel.core.recipe.meant import Depth, DepthKind, Facing, Height, HeightKind, Meant, Sizes
from mirvel.core.recipe.meant_words import describe_where
from mirvel.core.space.vectors import Vec

LEVEL_CM, TIP_CM = 1.0, 1.0  # tips at one level, or at a height told, are within so much
STAIR_SHARE = 1 / 3  # the steps of a stair differ by no more than this share of one
PROUD_CM, TUCKED_SHARE = 1.0, 0.4
GREENS_CM = {DepthKind.CLEAR: 0.5, DepthKind.LEVEL: 2.0}  # that a face may be off the leaf tips about it
GREENS_SHARE = 0.1  # of an entry's pieces, that may be further off
_FLAT_CM = 0.01  # a bend that goes so little inwards goes straight down
GRADED = -0.5  # rank correlation of size with place, by which the larger are where they are meant to be
FACING_DEG = {Facing.OUT: 35.0, Facing.UP: 25.0, Facing.VIEWER: 35.0}
_VIEWER = Vec(0.0, -1.0, 0.0)


def measure(entry_id: str, meant: Meant, among: Measuring) -> tuple[Met, ...]:
    """Each wish of an entry, told of the piece as it is built; none where none of it is placed."""
    places = among.get(entry_id)
    if not places or not meant.is_said:
        return ()
    found = [*_measure_windows(meant, places, among)]
    if meant.height:
        found.append(_measure_height(meant.height, places, among))
    if meant.pattern:
        found.append(measure_pattern(meant.pattern, meant, places, among))
    if meant.depth:
        found.append(_measure_depth(meant.depth, places, among))
    if meant.facing:
        found.append(_measure_facing(meant.facing, places))
    if meant.sizes:
        found.append(_measure_sizes(meant.sizes, places))
    return tuple(found)


def _measure_windows(meant: Meant, places: list[Place], among: Measuring) -> Iterator[Met]:
    frame = among.surface.frame
    tips = np.array([place.tip for place in places])
    shares = tips / [frame.half_width_cm, frame.half_depth_cm, frame.above_rim_cm]
    levels, parts = get_outside(meant, shares, among.surface)
    if meant.levels:
        words = " or ".join(band.value for band in meant.levels)
        most = float(levels.max())
        off = f"{_count(levels > OUTSIDE_SHARE, places)} {among.say(most * frame.above_rim_cm)} off that level at most"
        yield Met("levels", words, most <= OUTSIDE_SHARE, off)
    if meant.where:
        most, most_cm = float(parts.max()), float(parts.max()) * frame.half_width_cm
        if meant.where.part:
            size = (frame.half_width_cm, frame.half_depth_cm)
            most_cm = float(get_outside_box(get_box(meant.where, among.surface), shares, size).max())
        off = f"{_count(parts > OUTSIDE_SHARE, places)} {among.say(most_cm)} outside of it at most"
        part, words = meant.where.part, describe_where(meant.where, among.unit)
        if part and part.is_zone:
            out = sum(place.zone is not part for place in places)
            yield Met("where", words, not out, f"{out} of {len(places)} cannot stand there in this form")
        elif part and part not in among.surface.parts:
            yield Met("where", words, is_met=False, instead=f"this form has no {part.value}")
        else:
            yield Met("where", words, most <= OUTSIDE_SHARE, off)


def _count(outside: np.ndarray, places: list[Place]) -> str:
    number = int(outside.sum())
    return f"{number} of {len(places)} {'stands' if number == 1 else 'stand'}"


def _measure_height(height: Height, places: list[Place], among: Measuring) -> Met:
    tops = [get_top(place) for place in places]
    if height.kind is HeightKind.LEVEL:
        apart = max(tops) - min(tops)
        return Met("height", "one level", apart <= LEVEL_CM, f"their tips are {among.say(apart)} apart in height")
    if height.kind is HeightKind.VARIED:
        return _measure_varied(places, tops, among)
    if height.kind is HeightKind.STAIR:
        return _measure_stair(height.by, tops, among)
    is_over = height.kind is HeightKind.OVER
    others = [get_top(place) for place in among.get(height.entry)] if is_over else []
    if is_over and not others:
        return Met("height", "a height over another", is_met=False, instead="there is none of the other to stand over")
    rim = among.surface.frame.rim_height_cm
    of_the_table = {HeightKind.TABLE: height.by, HeightKind.TIMES: height.by * among.container_height_cm}
    wanted = height.get_over(others) if others else of_the_table.get(height.kind, height.by + rim) - rim
    off = max(tops, key=lambda top: abs(top - wanted)) - wanted
    way = "higher" if off > 0 else "lower"
    return Met("height", "the height of its tips", abs(off) <= TIP_CM, f"they end {among.say(abs(off))} {way} at most")


def _measure_varied(places: list[Place], tops: list[float], among: Measuring) -> Met:
    """Each and the one of its kind that is nearest to it end at different heights."""
    least, alike = math.inf, 0
    for place, top in zip(places, tops, strict=True):
        others = [(place.tip.minus(other.tip).length, at) for at, other in enumerate(places) if other is not place]
        if others:
            apart = abs(top - tops[min(others)[1]])
            least, alike = min(least, apart), alike + (apart < get_varied_cm(2 * place.half_width_cm))
    told = f"{alike} of {len(places)} stand beside one that ends as high, within {among.say(least)}" if alike else ""
    return Met("height", "levels that vary", not alike, told)


def _measure_stair(step_cm: float, tops: list[float], among: Measuring) -> Met:
    steps = [high - low for high, low in pairwise(sorted(tops, reverse=True))]
    is_met = all(abs(step - step_cm) <= STAIR_SHARE * step_cm for step in steps)
    low, high = min(steps, default=step_cm), max(steps, default=step_cm)
    return Met("height", "a stair", is_met, f"its steps are {among.say(low)} to {among.say(high)} high")


def _measure_depth(depth: Depth, places: list[Place], among: Measuring) -> Met:
    if depth.kind in {DepthKind.CLEAR, DepthKind.LEVEL}:
        return _measure_to_greens(depth, places, among)
    out = [get_out_cm(place.tip, among.surface) for place in places]
    if depth.kind is DepthKind.PROUD:
        off = max(out, key=lambda each: abs(each - depth.by)) - depth.by
        way = "further" if off > 0 else "less"
        return Met("depth", "proud", abs(off) <= PROUD_CM, f"one stands out {among.say(abs(off))} {way}")
    least = min(-each / (2 * place.half_width_cm) for each, place in zip(out, places, strict=True))
    return Met(
        "depth", "tucked in", least >= TUCKED_SHARE, f"one lies {max(0.0, least):.1f} head widths inside the outline"
    )


def _measure_to_greens(depth: Depth, places: list[Place], among: Measuring) -> Met:
    """How far the faces of an entry stand out from the leaf tips about each: nine in ten as they are meant to."""
    leaves = [place.tip for place in among.places if place.entry.role is Role.GREENERY and not place.zone]
    offs, has_leaves = [], False
    for place in places:
        face = get_out_cm(place.tip, among.surface)
        outs = get_leaves_out(place.tip, 2 * place.half_width_cm, leaves, among.surface)
        has_leaves = has_leaves or bool(outs)
        if outs and depth.kind is DepthKind.CLEAR:
            offs.append(max(0.0, depth.by - (face - max(outs))))
        elif outs:
            offs.append(max(0.0, face - max(outs), min(outs) - face))
    if not has_leaves:
        return Met("depth", depth.kind.value, is_met=False, instead="there are no leaves about them")
    wrong = [off for off in offs if off > GREENS_CM[depth.kind]]
    way = "less clear" if depth.kind is DepthKind.CLEAR else "off their level"
    is_met = len(wrong) <= GREENS_SHARE * len(places)
    most = among.say(max(wrong, default=0.0))
    told = f"{len(wrong)} of {len(places)} {'is' if len(wrong) == 1 else 'are'} {most} {way} at most"
    return Met("depth", depth.kind.value, is_met, told)


def _measure_sizes(sizes: Sizes, places: list[Place]) -> Met:
    """Whether there are as many as are to be picked out, and the larger stand where they are meant to: rank correlation
    of size with the place beyond a half."""
    if sizes.large + sizes.small > len(places):
        told = f"there are only {len(places)} to pick them from"
        return Met("sizes", "the sizes picked out", is_met=False, instead=told)
    if sizes.grade is None or len({place.half_width_cm for place in places}) == 1:
        return Met("sizes", "the sizes picked out", is_met=True)
    keys = [get_grade_key(sizes.grade, place.tip) for place in places]
    if len({round(key, 6) for key in keys}) == 1:
        return Met("sizes", sizes.grade.value, is_met=False, instead="they all stand alike")
    rank = get_rank_correlation([place.half_width_cm for place in places], keys)
    told = "size and place go together too little" if rank < 0 else "they stand the other way round"
    return Met("sizes", sizes.grade.value, rank <= GRADED, told)


def get_rank_correlation(values: Sequence[float], others: Sequence[float]) -> float:
    """Spearman's: how far two measures of the same pieces, neither all alike, rise together, -1 to 1."""
    return float(np.corrcoef(_get_ranks(values), _get_ranks(others))[0, 1])


def _bends_in(place: Place) -> bool:
    """Whether the outside of its bend does not lie away from the middle."""
    outward = Vec(place.tip.x, place.tip.y, 0.0)
    bend = place.get_bend(place.measured_to.minus(place.start))
    return outward.length < place.half_width_cm / 2 or bend.dot(outward.unit) < -_FLAT_CM


def _get_ranks(values: Sequence[float]) -> np.ndarray:
    """Their ranks, equal ones sharing the mean of theirs."""
    found = np.array(values)
    return np.array([((found < each).sum() + (found <= each).sum() - 1) / 2 for each in found])


def _measure_facing(facing: Facing, places: list[Place]) -> Met:
    if facing is Facing.CURVE:
        inward = sum(_bends_in(place) for place in places)
        told = f"{inward} of {len(places)} {'has' if inward == 1 else 'have'} no side to bend out to"
        return Met("facing", "by its own curve", not inward, told)

    def get_off_deg(place: Place) -> float:
        towards = {Facing.UP: Vec(0.0, 0.0, 1.0), Facing.VIEWER: _VIEWER}.get(facing)
        if towards is None:
            outwards = Vec(place.tip.x, place.tip.y, 0.0)
            towards = outwards.unit if outwards.length > 1e-6 else place.facing
        return math.degrees(math.acos(max(-1.0, min(1.0, place.facing.dot(towards)))))

    off = max(get_off_deg(place) for place in places)
    return Met("facing", f"facing {facing.value}", off <= FACING_DEG[facing], f"one is turned {off:.0f}° away from it")
