"""A pattern that is just met and one that is just not, of heads of 6 cm put down by hand on a piece of known size: each
limit is what the trade, or we, say the pattern is; common practice and assumptions, no published source."""

import math
from collections.abc import Sequence
from dataclasses import replace

import pytest

from mirvel.core.goods.facts import HeadForm
from mirvel.core.placing.meeting_patterns import measure_pattern
from mirvel.core.placing.met import Measuring
from mirvel.core.placing.places import Place
from mirvel.core.recipe.meant import Facing, Meant, Pattern, PatternKind
from mirvel.core.space.vectors import Vec
from mirvel.core.values.units import LengthUnit
from mirvel.demo import RULES, get_catalogue, get_recipes
from tests.builds import work_out

BUILD = work_out(next(each for each in get_recipes() if each.family == "slipway"), get_catalogue(), RULES).build
FRAME = BUILD.sizing.frame
WIDE, DEEP, HIGH = FRAME.half_width_cm, FRAME.half_depth_cm, FRAME.above_rim_cm
DISC = next(place for place in BUILD.places if place.material.form is HeadForm.DAISY)
SPIKE = next(place for place in BUILD.places if place.material.form is HeadForm.SPIKE)
Tip = tuple[float, float, float]


def put(entry: str, tips: Sequence[Tip], half_cm: float, of: Place = DISC) -> list[Place]:
    """Heads of an entry that look up, in the order of their numbers."""
    own, head = of.entry.model_copy(update={"id": entry}), replace(of.head, width_cm=2 * half_cm)
    return [
        replace(of, entry=own, number=number, head=head, tip=Vec(*tip), facing=Vec(0.0, 0.0, 1.0), start=Vec(0, 0, -9))
        for number, tip in enumerate(tips, 1)
    ]


def meets(kind: PatternKind, tips: Sequence[Tip], *others: list[Place], of: Place = DISC, **told: object) -> bool:
    """Whether heads at tips stand in a pattern, among others: the first of them the one it is told by."""
    places = put("e1", tips, 3.0, of)
    named = {"entry", "other"} if kind is PatternKind.LINKING else {"entry"} if others else set()
    told = {field: other[0].entry.id for field, other in zip(sorted(named), others, strict=False)} | told
    pattern = Pattern.model_validate({"kind": kind, **told})
    among = Measuring([*places, *(each for other in others for each in other)], BUILD.sizing.surface, 20, LengthUnit.CM)
    return measure_pattern(pattern, Meant(pattern=pattern), places, among).is_met


def turn(degrees: float, out: float, z: float = 5.0) -> Tip:
    """A spot so far round the clock from 12, out of the middle."""
    return (out * math.sin(math.radians(degrees)), out * math.cos(math.radians(degrees)), z)


def trace(a: float, b: float, c: float) -> list[Tip]:
    """The corners of a triangle by its sides."""
    x = (a * a + b * b - c * c) / (2 * a)
    return [(0, 0, 5), (a, 0, 5), (x, math.sqrt(b * b - x * x), 5)]


@pytest.mark.parametrize(
    ("tips", "met"),
    [
        (trace(10, 10, 10), True),
        (trace(10, 12, 15.9), True),
        (trace(10, 12, 16.1), False),
        (trace(10, 11, 20), False),
        (trace(3.1, 3.1, 3.1), True),
        (trace(2.9, 2.9, 2.9), False),
        ([*trace(10, 10, 10), (0, 0, 9)], False),
        ([*trace(10, 10, 10), *trace(10, 12, 16.1)], False),
    ],
)
def test_a_triangle_is_neither_flat_nor_unlike_and_its_heads_stand_apart(tips: list[Tip], *, met: bool) -> None:
    assert meets(PatternKind.TRIANGLE, tips) is met


@pytest.mark.parametrize(
    ("across", "met"),
    [((4, -4, 4), True), ((4, 4, -4), False), ((4, 0.7, -4), True), ((4, 0.8, -4), False), ((-4, 4, -4), True)],
)
def test_each_lower_one_stands_on_the_other_side_but_what_is_in_the_middle(across: Tip, *, met: bool) -> None:
    assert meets(PatternKind.SIDES, [(x, 0, 9 - 2 * down) for down, x in enumerate(across)]) is met


@pytest.mark.parametrize(
    ("side", "away", "met"), [(5.2, 20, True), (5.0, 20, False), (8.0, 20, True), (8.2, 20, False), (6, 14.2, True)]
)
def test_a_group_is_close_by_head_widths_and_away_from_the_next(side: float, away: float, *, met: bool) -> None:
    one = trace(side, side, side)
    assert meets(PatternKind.GROUP, [*one, *((x + away, y, z) for x, y, z in one)], count=3) is met
    assert not meets(PatternKind.GROUP, [*one, *((x + side + 8, y, z) for x, y, z in one)], count=3)
    assert not meets(PatternKind.GROUP, one[:2] * 2, count=3)


@pytest.mark.parametrize(
    ("turns", "out", "met"),
    [
        ((0, 72, 144, 216, 288), 12.7, True),
        ((0, 72, 144, 216, 288), 12.9, False),
        ((0, 90, 180, 270), 10, False),
        ((0, 89, 160, 230, 300), 10, True),
        ((0, 91, 160, 230, 300), 10, False),
    ],
)
def test_a_ring_is_five_and_more_within_reach_of_their_flower(turns: tuple[int, ...], out: float, *, met: bool) -> None:
    assert meets(PatternKind.RING, [turn(each, out) for each in turns], put("e2", [(0, 0, 5)], 4.0)) is met


@pytest.mark.parametrize(("apart", "met"), [(9.7, True), (9.9, False)])
def test_beside_is_nearly_touching(apart: float, *, met: bool) -> None:
    """Two fifths more than the 3 and 4 cm of their halves; of spikes as they are looked down on."""
    assert meets(PatternKind.BESIDE, [(apart, 0, 5)], put("e2", [(0, 0, 5), (50, 0, 5)], 4.0)) is met
    assert meets(PatternKind.BESIDE, [(apart, 0, 25)], put("e2", [(0, 0, 5)], 4.0, SPIKE), of=SPIKE) is met
    assert not meets(PatternKind.BESIDE, [(apart, 0, 12)], put("e2", [(0, 0, 5)], 4.0))
    assert not meets(PatternKind.BESIDE, [(1, 0, 5), (apart + 1, 0, 5)], put("e2", [(0, 0, 5)], 4.0))


@pytest.mark.parametrize(("beside", "step", "met"), [(2.9, 4, True), (3.1, 4, False), (0, 2.9, False), (0, 3.1, True)])
def test_a_line_is_straight_within_half_a_head_and_long_enough(beside: float, step: float, *, met: bool) -> None:
    tips = [(step * x, beside, 5.0) for x in (-1, 0, 1)]
    assert meets(PatternKind.LINE, tips, hour_from=9, hour_to=3) is met
    assert meets(PatternKind.LINE, [(y * WIDE / DEEP, x, z) for x, y, z in tips], hour_from=6, hour_to=12) is met


@pytest.mark.parametrize(("off", "met"), [(14, True), (16, False), (-14, True), (-16, False)])
def test_rays_are_turned_evenly_within_a_third(off: float, *, met: bool) -> None:
    """Of four rays, a quarter turn from one another, none is more than half a third of that off, 15 degrees."""
    spots = [turn(each, 1.0) for each in (0, 90 + off, 180, 270)]
    assert meets(PatternKind.RAYS, [(x * WIDE, y * DEEP, z) for x, y, z in spots]) is met


@pytest.mark.parametrize(
    ("kind", "images"),
    [
        (PatternKind.SIDEWAYS, [(-1, 1)]),
        (PatternKind.LENGTHWAYS, [(1, -1)]),
        (PatternKind.BOTH_WAYS, [(-1, 1), (1, -1), (-1, -1)]),
    ],
)
def test_a_partner_stands_where_it_is_mirrored_within_a_finger(kind: PatternKind, images: list[Tip]) -> None:
    exact = [(4.0, 5.0, 6.0), *((4.0 * image[0], 5.0 * image[1], 6.0) for image in images)]
    assert meets(kind, exact)
    for off, met in ((1.4, True), (1.6, False)):
        assert meets(kind, [*exact[:-1], (exact[-1][0], exact[-1][1], 6.0 + off)]) is met
    assert not meets(kind, exact[:1])


@pytest.mark.parametrize(
    ("falls", "across", "met"), [(0.6, 180, True), (0.4, 180, False), (1, 209, True), (1, 211, False), (1, 149, False)]
)
def test_five_points_fall_in_their_order_the_pairs_across(falls: float, across: float, *, met: bool) -> None:
    """The highest, the lowest, the middle, a lower one across from it, and the little one across from the lowest."""
    down = [9 - falls * step for step in range(5)]
    tips = [(0, 0, down[0]), turn(90, 6, down[4]), turn(0, 6, down[1]), turn(across, 6, down[2]), turn(270, 6, down[3])]
    assert meets(PatternKind.FIVE, tips) is met
    assert not meets(PatternKind.FIVE, tips[:4])


@pytest.mark.parametrize(("high", "met"), [(0.66, False), (0.67, True)])
def test_one_that_is_lifted_stands_in_the_upper_third(high: float, *, met: bool) -> None:
    assert meets(PatternKind.LIFTED, [(0, 0, 1), (2, 0, high * HIGH)]) is met


def test_a_colour_is_carried_through_all_parts_but_one() -> None:
    """Thirds of the clock, low and high."""
    six = [turn(each, 5, z) for each in (60, 180, 300) for z in (0.1 * HIGH, 0.9 * HIGH)]
    assert meets(PatternKind.CARRIED, six)
    assert meets(PatternKind.CARRIED, six[1:])
    assert not meets(PatternKind.CARRIED, six[2:])
    assert not meets(PatternKind.CARRIED, [*six[2:], six[2], six[3]])


@pytest.mark.parametrize(("away", "met"), [(9.9, True), (10.1, False)])
def test_what_is_gathered_is_nearer_than_the_half_of_all(away: float, *, met: bool) -> None:
    flower, rest = put("e2", [(0, 0, 5)], 4.0), put("e3", [(5, 0, 5), (0, 10, 5), (-20, 0, 5)], 3.0)
    assert meets(PatternKind.GATHERED, [(1, 0, 5), (0, -away, 5)], flower, rest) is met


@pytest.mark.parametrize(
    ("tips", "met"),
    [
        ([(10, 0, 5), (20, 0, 5), (30, 0, 5)], True),
        ([(11.1, 0, 5), (20, 0, 5), (30, 0, 5)], False),
        ([(10, 0, 5), (20, 0, 5), (28.9, 0, 5)], False),
        ([(10, 0, 5), (30.2, 0, 5)], False),
        ([(10.2, 0, 5), (30, 0, 5)], True),
        ([(30, 0, 5), (20, 0, 5), (10, 0, 5)], True),
    ],
)
def test_a_run_links_two_without_a_gap_of_half_its_way(tips: list[Tip], *, met: bool) -> None:
    """From within a head of one to within a head of the other: 2 × 4 and 3 cm."""
    one, other = put("e2", [(0, 0, 5)], 4.0), put("e3", [(40, 0, 5)], 4.0)
    assert meets(PatternKind.LINKING, tips, one, other) is met
    assert not meets(PatternKind.LINKING, tips, one, other=("e9"))


@pytest.mark.parametrize(("wide", "met"), [(59, True), (61, False)])
def test_a_fringe_has_no_gap_of_sixty_degrees(wide: float, *, met: bool) -> None:
    others = [each * (360 - wide) / 7 for each in range(8)]
    assert meets(PatternKind.FRINGE, [turn(each, 9, 0.0) for each in others]) is met
    assert not meets(PatternKind.FRINGE, [turn(each, 9, 0.9 * HIGH if each else 0.0) for each in others])
    half = [turn(90 + each * (180 - wide) / 4, 9, 0.0) for each in range(5)]
    assert meets(PatternKind.FRINGE, half, hour_from=3, hour_to=9) is met
    assert not meets(PatternKind.FRINGE, half[::4], hour_from=3, hour_to=9)


def test_a_stem_bends_outwards_where_it_is_upright_and_down_where_it_comes_out_level() -> None:
    """By its own curve, a tenth out of the straight; one that goes on as it would bend anyway does not."""
    meant = Meant(facing=Facing.CURVE)
    out = replace(DISC, entry=DISC.entry.model_copy(update={"meant": meant}), tip=Vec(10.0, 0.0, 0.0), bow=0.1)
    assert out.get_bend(Vec(8.0, 0.0, 0.0)) == pytest.approx(Vec(0.0, 0.0, -0.8))
    assert out.get_bend(Vec(0.0, 0.0, 8.0)) == pytest.approx(Vec(0.8, 0.0, 0.0))
    assert out.get_bend(Vec(10.0, 0.0, -2.0)) == Vec(0.0, 0.0, 0.0)
