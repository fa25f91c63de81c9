"""How the pieces of an entry stand among themselves and in the whole: spread, carried through, lifted, fringed,
grouped, curved, gathered about another, as five points. Measured here anew on the places; what each means is common
practice, no published source."""

import math
from dataclasses import replace
from itertools import combinations, pairwise

import pytest

from mirvel.core.card.steps import get_steps
from mirvel.core.placing.meeting import measure
from mirvel.core.placing.met import Measuring
from mirvel.core.placing.places import Place
from mirvel.core.values.units import LengthUnit
from mirvel.demo import get_recipes
from tests.core.test_meant import (
    CARNATION,
    DAISY,
    ROSE,
    SLIPWAY,
    SPIKE,
    SPRAY,
    find_unmet,
    get_line,
    get_tops,
    make,
    mean,
)
from tests.core.test_meant_runs import get_hours


def get_apart(one: Place, other: Place) -> float:
    return one.tip.minus(other.tip).length


@pytest.mark.parametrize("count", [3, 5, 7, 9])
def test_what_is_spread_singly_stands_no_nearer_than_seven_tenths_of_even_spacing(count: int) -> None:
    worked = make(mean(SLIPWAY, (CARNATION, "spread singly"), pieces={CARNATION: count}))
    places = get_line(worked, CARNATION)
    even = math.sqrt(worked.build.sizing.surface.area_cm2 / count)
    assert min(get_apart(*pair) for pair in combinations(places, 2)) >= 0.7 * even
    assert {int(hour // 4) for hour in get_hours(worked, CARNATION)} == {0, 1, 2}
    assert find_unmet(worked) == []


def test_a_colour_is_carried_through_five_of_six_parts_and_one_lifted_into_the_upper_third() -> None:
    for count in (6, 7, 9):
        worked = make(mean(SLIPWAY, (CARNATION, "carried through"), pieces={CARNATION: count}))
        above = worked.build.frame.above_rim_cm
        hours = get_hours(worked, CARNATION)
        places = get_line(worked, CARNATION)
        parts = {(int(hour // 4), place.tip.z > above / 2) for hour, place in zip(hours, places, strict=True)}
        assert len(parts) >= 5
        assert find_unmet(worked) == []
    for words in ("low", "one lifted"):
        worked = make(mean(SLIPWAY, (DAISY, words), pieces={DAISY: 4}))
        highest = max(place.tip.z for place in get_line(worked, DAISY)) / worked.build.frame.above_rim_cm
        assert (highest >= 2 / 3) is (words == "one lifted")
        assert find_unmet(worked) == []


@pytest.mark.parametrize("count", [2, 5, 8, 12])
def test_where_levels_vary_no_flower_ends_as_high_as_the_one_of_its_kind_beside_it(count: int) -> None:
    """A fifth of a head, or 1.5 cm: common practice, no published source."""
    worked = make(mean(SLIPWAY, (CARNATION, "levels vary"), pieces={CARNATION: count}))
    places, tops = get_line(worked, CARNATION), get_tops(worked, CARNATION)
    for place, top in zip(places, tops, strict=True):
        rest = [(get_apart(place, other), at) for at, other in enumerate(places) if other is not place]
        assert abs(top - tops[min(rest)[1]]) >= min(1.5, 0.2 * 2 * place.half_width_cm)
    assert find_unmet(worked) == []


@pytest.mark.parametrize(
    ("family", "line"), [("slipway", DAISY), ("slipway", 8), ("haven", 4), ("fender", 4), ("three-buoys", 5)]
)
def test_levels_vary_also_where_one_comes_to_be_the_nearest_of_another(family: str, line: int) -> None:
    recipe = next(each for each in get_recipes() if each.family == family)
    assert recipe.entries[line - 1].pieces >= 6
    assert find_unmet(make(mean(recipe, (line, "levels vary")))) == []


@pytest.mark.parametrize("count", [3, 6, 9])
def test_levels_vary_too_where_one_of_them_has_the_top_of_the_piece(count: int) -> None:
    carnations = SLIPWAY.entries[CARNATION - 1].model_copy(update={"pieces": count})
    alone = SLIPWAY.change(entries=[carnations.model_dump()])
    worked = make(mean(alone, (1, "levels vary")))
    assert find_unmet(worked) == []
    crown = max(get_tops(worked, 1))
    assert crown == pytest.approx(worked.build.extent.top, abs=0.1)


def test_a_ring_lies_close_about_its_flower() -> None:
    """Beside it, with no other head between, however wide its own are."""
    worked = make(mean(SLIPWAY, (SPRAY, f"ring round {ROSE}"), pieces={ROSE: 1, SPRAY: 7}))
    (rose,), sprays = get_line(worked, ROSE), get_line(worked, SPRAY)
    away = sorted(get_apart(rose, each) for each in sprays)
    assert away[3] <= 1.15 * (rose.head.width_cm + sprays[0].head.width_cm) / 2


def test_flowers_kept_at_one_level_do_not_vary_and_are_told_so() -> None:
    recipe = mean(SLIPWAY, (CARNATION, "one level"), pieces={CARNATION: 4})
    places = get_line(make(recipe), CARNATION)
    meant = mean(recipe, (CARNATION, "levels vary")).entries[CARNATION - 1].meant
    among = Measuring(tuple(places), make(recipe).build.sizing.surface, 20.0, LengthUnit.CM)
    (met,) = measure(places[0].entry.id, meant, among)
    assert (met.is_met, met.instead.split(",")[0]) == (False, "4 of 4 stand beside one that ends as high")


@pytest.mark.parametrize("count", [3, 4, 6])
def test_a_run_links_a_head_of_one_to_a_head_of_the_other_without_a_wide_gap(count: int) -> None:
    """From within a head of the one to within a head of the other: common practice, no published source."""
    away = ((ROSE, "at 9 · low"), (SPIKE, "at 3 · low"), (DAISY, f"linking {ROSE} and {SPIKE}"))
    worked = make(mean(SLIPWAY, *away, pieces={ROSE: 1, SPIKE: 1, DAISY: count}))
    (rose,), (spike,), run = (get_line(worked, line) for line in (ROSE, SPIKE, DAISY))
    run.sort(key=lambda place: place.tip.x)
    for end, last in ((rose, run[0]), (spike, run[-1])):
        assert get_apart(end, last) <= 2 * end.half_width_cm + last.half_width_cm
    gaps = [get_apart(*pair) for pair in pairwise([rose, *run, spike])]
    assert max(gaps[1:-1]) <= min(sum(gaps) / 2, 1.6 * sum(gaps[1:-1]) / (count - 1))  # nearly evenly
    assert find_unmet(worked) == []
    said = " ".join(step.text for step in get_steps(worked))
    assert "in a run from the" in said
    one = make(mean(SLIPWAY, *away, pieces={ROSE: 1, SPIKE: 1, DAISY: 1}))
    (note,) = [check for check in one.checks if check.id.startswith("meant-")]
    assert f"linking {ROSE} and {SPIKE}”: it ends" in note.reason


@pytest.mark.parametrize(("words", "span"), [("fringe", 12), ("fringe from 3 to 9", 6), ("fringe from 10 to 4", 6)])
def test_a_fringe_lies_at_the_rim_without_a_gap_of_sixty_degrees(words: str, span: int) -> None:
    worked = make(mean(SLIPWAY, (DAISY, words), pieces={DAISY: 9}))
    start = {"fringe": 0, "fringe from 3 to 9": 3, "fringe from 10 to 4": 10}[words]
    at = sorted((hour - start + 1e-3) % 12 for hour in get_hours(worked, DAISY))
    gaps = [after - before for before, after in pairwise([*at, at[0] + 12] if span == 12 else [0, *at, span])]
    assert max(gaps) < 2
    for place in get_line(worked, DAISY):
        lowest = place.tip.z - place.half_width_cm * math.hypot(place.facing.x, place.facing.y)
        assert lowest <= 0.08 * worked.build.frame.above_rim_cm
    assert find_unmet(worked) == []
    few = make(mean(SLIPWAY, (DAISY, words), pieces={DAISY: 4}))
    (note,) = [check for check in few.checks if check.id.startswith("meant-")]
    assert f"it takes {7 if span == 12 else 5}" in note.reason  # gaps of 60° between them all round, or from end to end


def test_a_fringe_whose_first_stands_a_little_before_its_hour_is_met() -> None:
    worked = make(mean(SLIPWAY, (DAISY, "fringe from 3 to 9"), pieces={DAISY: 9}))
    places = get_line(worked, DAISY)
    turned = []
    for place in places:  # ten degrees against the clock, all of them
        turn = math.radians(30 * place.clock_hour - 10)
        turned.append(
            replace(
                place, tip=place.tip._replace(x=place.tip.reach * math.sin(turn), y=place.tip.reach * math.cos(turn))
            )
        )
    assert min(place.clock_hour for place in turned) < 3
    build = worked.build
    among = Measuring(tuple(turned), build.sizing.surface, build.container.height_cm, LengthUnit.CM)
    assert [met.is_met for met in measure(places[0].entry.id, places[0].entry.meant, among)] == [True]


def test_a_fringe_of_what_stands_against_a_wall_goes_along_its_front() -> None:
    recipe = next(each for each in get_recipes() if each.name == "Breakwater 98")
    hours = sorted(get_hours(make(mean(recipe, (7, "fringe"), pieces={7: 12})), 7))
    assert hours[0] >= 2.5
    assert hours[-1] <= 9.5
    assert max(after - before for before, after in pairwise([2.5, *hours, 9.5])) < 2


@pytest.mark.parametrize("count", [6, 9, 12])
@pytest.mark.parametrize("line", [ROSE, CARNATION, DAISY])
def test_many_in_one_level_take_the_whole_of_it(line: int, count: int) -> None:
    worked = make(mean(SLIPWAY, (line, "low"), pieces={line: count}))
    above = worked.build.frame.above_rim_cm
    shares = sorted(place.tip.z / above for place in get_line(worked, line))
    assert max(after - before for before, after in pairwise([0.05, *shares, 0.35])) < 0.10  # a third of 0.05 to 0.35


@pytest.mark.parametrize("size", [2, 3])
def test_close_groups_are_close_and_well_apart(size: int) -> None:
    worked = make(mean(SLIPWAY, (CARNATION, f"groups of {size}"), pieces={CARNATION: 6}))
    places = get_line(worked, CARNATION)
    wide = places[0].head.width_cm
    for at, place in enumerate(places):
        own = [each for other, each in enumerate(places) if other // size == at // size and other != at]
        strangers = [each for other, each in enumerate(places) if other // size != at // size]
        assert 0.8 * wide < min(get_apart(place, each) for each in own) < 1.4 * wide
        assert min(get_apart(place, each) for each in strangers) > 1.35 * wide
    assert find_unmet(worked) == []
    (note,) = [
        check
        for check in make(mean(SLIPWAY, (CARNATION, f"groups of {size}"), pieces={CARNATION: 7})).checks
        if check.id.startswith("meant-")
    ]
    assert f"7 pieces make no whole groups of {size}" in note.reason


@pytest.mark.parametrize(("start", "end"), [(9, 3), (3, 9), (10, 2)])
def test_a_curve_bows_the_way_the_clock_runs_between_its_ends(start: int, end: int) -> None:
    worked = make(mean(SLIPWAY, (CARNATION, f"curve from {start} to {end}"), pieces={CARNATION: 5}))
    frame = worked.build.frame
    turn = math.radians(30 * (start + (end - start) % 12 / 2))
    out = [
        (place.tip.x * math.sin(turn) / frame.half_width_cm + place.tip.y * math.cos(turn) / frame.half_depth_cm)
        for place in get_line(worked, CARNATION)
    ]
    assert out[0] < out[1] < out[2] > out[3] > out[4]  # its middle is furthest towards the hour between its ends
    assert out[0] == pytest.approx(out[4], abs=0.12)
    assert 0.2 < out[2] - out[0] < 0.6
    assert find_unmet(worked) == []


def test_what_is_gathered_about_another_is_nearer_to_it_than_the_half_of_all() -> None:
    worked = make(mean(SLIPWAY, (CARNATION, f"gathered about {ROSE}"), pieces={ROSE: 1, CARNATION: 5}))
    (rose,) = get_line(worked, ROSE)
    rest = sorted(
        get_apart(place, rose)
        for place in worked.build.places
        if not place.material.is_leaf and place.entry.id not in {SLIPWAY.entries[CARNATION - 1].id, rose.entry.id}
    )
    assert max(get_apart(place, rose) for place in get_line(worked, CARNATION)) <= rest[len(rest) // 2]
    assert find_unmet(worked) == []


def test_five_points_fall_in_their_order_two_pairs_across_from_one_another() -> None:
    worked = make(mean(SLIPWAY, (ROSE, "five points"), pieces={ROSE: 5}))
    high, lowest, middle, lower, little = get_tops(worked, ROSE)
    assert high > middle > lower > little > lowest
    hours = get_hours(worked, ROSE)
    for one, other in ((2, 3), (1, 4)):
        assert 150 <= abs(hours[one] - hours[other]) * 30 <= 210
    assert find_unmet(worked) == []


@pytest.mark.parametrize(("words", "count"), [("spread singly", 150), ("five points", 5), ("fringe", 60)])
def test_no_two_stand_on_one_spot_however_many_there_are(words: str, count: int) -> None:
    tips = [place.tip for place in get_line(make(mean(SLIPWAY, (DAISY, words), pieces={DAISY: count})), DAISY)]
    assert len(set(tips)) == count


def test_a_middle_is_left_open() -> None:
    worked = make(mean(SLIPWAY, (DAISY, "clear of the middle")))
    frame = worked.build.frame
    for place in get_line(worked, DAISY):
        assert math.hypot(place.tip.x / frame.half_width_cm, place.tip.y / frame.half_depth_cm) >= 0.3
    assert find_unmet(worked) == []


@pytest.mark.parametrize(
    ("words", "told"),
    [
        ("spread singly", "apart, evenly spread it would be"),
        ("carried through", "of its 6 parts"),
        ("one lifted", "% of the height"),
        ("fringe", "over the rim"),
        ("groups of 3", "head widths"),
        ("curve from 9 to 3", "beside it than half a head"),
        (f"gathered about {ROSE}", "half of the others are nearer"),
        ("five points", "they do not stand each lower"),
    ],
)
def test_what_stands_otherwise_is_told(words: str, told: str) -> None:
    """The measure on places that are not so: five carnations low at the front, or crowded about the right."""
    at = "from 5 to 7 · low" if words not in {"fringe", f"gathered about {ROSE}"} else "from 2 to 4 · high"
    pieces = {CARNATION: 6 if words == "groups of 3" else 5, ROSE: 1}
    plain = make(mean(SLIPWAY, (ROSE, "left"), (CARNATION, at), pieces=pieces))
    kept = {(place.entry.id, place.number): place.kept for place in plain.build.places}
    recipe = mean(SLIPWAY, (ROSE, "left"), (CARNATION, words), pieces=pieces)
    entries = [
        entry.model_copy(update={"kept": tuple(kept[entry.id, number + 1] for number in range(entry.placed))})
        for entry in recipe.entries
    ]
    (note,) = [
        check
        for check in make(recipe.model_copy(update={"entries": tuple(entries)})).checks
        if check.id == f"meant-{recipe.entries[CARNATION - 1].id}-pattern"
    ]
    assert told in note.reason


@pytest.mark.parametrize(
    ("words", "pieces", "said"),
    [
        ("spread singly", 5, "spread singly, none beside another"),
        ("fringe from 3 to 9", 9, "low round the rim from 3 to 9 o’clock"),
        ("groups of 3", 6, "in close groups of 3"),
        ("curve from 9 to 3", 5, "in a curve from 9 to 3 o’clock"),
    ],
)
def test_the_card_says_each_in_words(words: str, pieces: int, said: str) -> None:
    recipe = mean(SLIPWAY, (CARNATION, words), pieces={CARNATION: pieces})
    assert said in " ".join(step.text for step in get_steps(make(recipe)))
