"""What runs through a piece (in turn, in a line, as rays, mirrored), what is told by the leaves about it, and what is
held back: measured here anew on the places."""

import math
from collections.abc import Callable
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from numpy.typing import NDArray
from scipy.stats import spearmanr

from mirvel.core.card.steps import get_steps
from mirvel.core.changing import changes, moving
from mirvel.core.changing.carrying import carry_places
from mirvel.core.fit.fitting import fit
from mirvel.core.goods.facts import Role
from mirvel.core.judging.check import Severity
from mirvel.core.placing.meeting import get_rank_correlation
from mirvel.core.placing.places import Place
from mirvel.core.placing.runs import Run, get_fan
from mirvel.core.recipe.meant import Where
from mirvel.core.recipe.meant_words import read_meant
from mirvel.core.space.vectors import Vec
from mirvel.core.values.problems import BadInput
from mirvel.core.values.units import LengthUnit
from mirvel.core.working import Worked
from mirvel.demo import get_recipes
from tests.core.test_meant import (
    CARNATION,
    DAISY,
    ROSE,
    RULES,
    SLIPWAY,
    SPIKE,
    find_unmet,
    get_line,
    get_tops,
    make,
    mean,
)
from tests.strategies import CATALOGUE


def get_hours(worked: Worked, line: int) -> list[float]:
    """Where the pieces of a line stand by the clock, 12 at the back, 3 to the right."""
    return [math.degrees(math.atan2(place.tip.x, place.tip.y)) % 360 / 30 for place in get_line(worked, line)]


@pytest.mark.parametrize("count", [3, 4, 5, 8])
def test_kinds_in_turn_alternate_along_the_run(count: int) -> None:
    """At most one pair alike: common practice, no published source. Beyond that, as many as one has more of."""
    worked = make(mean(SLIPWAY, (CARNATION, f"alternating with {ROSE}"), pieces={ROSE: 5, CARNATION: count}))
    kinds = sorted([(at, "c") for at in get_hours(worked, CARNATION)] + [(at, "r") for at in get_hours(worked, ROSE)])
    alike = sum(one[1] == other[1] for one, other in pairwise([*kinds, kinds[0]]))
    assert alike <= abs(count - 5) + 1
    assert find_unmet(worked) == []


@pytest.mark.parametrize(
    ("words", "across", "away"), [("9 to 3", 1.0, 0.0), ("12 to 6", 0.0, -1.0), ("10 to 4", None, None)]
)
def test_a_line_goes_straight_from_hour_to_hour(words: str, across: float | None, away: float | None) -> None:
    """Within half a head of a straight line: common practice, no published source."""
    worked = make(mean(SLIPWAY, (CARNATION, f"line from {words}"), pieces={CARNATION: 6}))
    frame, places = worked.build.frame, get_line(worked, CARNATION)
    if across is None or away is None:
        turn = math.radians(30 * 4)
        across, away = math.sin(turn) * frame.half_width_cm, math.cos(turn) * frame.half_depth_cm
    long = math.hypot(across, away)
    for place in places:
        assert abs(place.tip.x * away - place.tip.y * across) / long <= place.head.width_cm / 2
    along = [(place.tip.x * across + place.tip.y * away) / long for place in places]
    assert along == sorted(along)
    assert along[-1] - along[0] > 1.2 * frame.half_width_cm
    assert find_unmet(worked) == []


def test_rays_are_evenly_turned() -> None:
    round_it = make(mean(SLIPWAY, (CARNATION, "rays"), pieces={CARNATION: 6}))
    hours = sorted(get_hours(round_it, CARNATION))
    assert all(after - before == pytest.approx(2.0, abs=0.34) for before, after in pairwise([*hours, hours[0] + 12]))
    half = make(mean(SLIPWAY, (CARNATION, "rays from 9 to 3"), pieces={CARNATION: 4}))
    turns = sorted((hour + 6) % 12 for hour in get_hours(half, CARNATION))
    assert turns == pytest.approx([3, 5, 7, 9], abs=0.34)
    assert find_unmet(round_it) == find_unmet(half) == []


@pytest.mark.parametrize(
    ("words", "sides"),
    [("left and right", [(-1, 1)]), ("front and back", [(1, -1)]), ("both ways", [(-1, 1), (1, -1), (-1, -1)])],
)
@pytest.mark.parametrize("count", [4, 5, 6, 8])
def test_each_piece_has_its_partner_mirrored(words: str, sides: list[tuple[int, int]], count: int) -> None:
    """Within 1.5 cm and of its kind: common practice, no published source."""
    worked = make(mean(SLIPWAY, (CARNATION, f"mirrored {words}"), pieces={CARNATION: count}))
    tips = [place.tip for place in get_line(worked, CARNATION)]
    if words == "both ways" and count % 2:  # its one in the middle has the tallest spike there, and stands before it
        assert find_unmet(worked) == [f"meant-{SLIPWAY.entries[CARNATION - 1].id}-pattern"]
        tips = [tip for tip in tips if abs(tip.x) > 1]
        assert len(tips) == count - 1
    for tip in tips:
        for across, away in sides:
            image = tip._replace(x=across * tip.x, y=away * tip.y)
            assert min(image.minus(other).length for other in tips) <= 1.5
    assert len({(round(tip.x, 1), round(tip.y, 1), round(tip.z, 1)) for tip in tips}) == len(tips)
    assert len(tips) < count or find_unmet(worked) == []


def test_what_is_out_of_turn_out_of_line_or_alone_is_told() -> None:
    """The measure on places that are not so: those of the same recipe that means nothing."""
    plain = {(place.entry.id, place.number): place.kept for place in make(SLIPWAY).build.places}
    for words in ("line from 9 to 3", "rays", "mirrored left and right", f"alternating with {DAISY}"):
        recipe = mean(SLIPWAY, (CARNATION, words))
        kept = [
            entry.model_copy(update={"kept": tuple(each for key, each in plain.items() if key[0] == entry.id and each)})
            for entry in recipe.entries
        ]
        entry = recipe.entries[CARNATION - 1].id
        assert find_unmet(make(recipe.change(entries=kept))) == [f"meant-{entry}-pattern"], words


def test_flowers_stand_clear_of_the_leaves_about_them_or_level_with_them() -> None:
    """Nine in ten faces clear of the leaf tips about them by the clearance asked, or within 2 cm of them: common
    practice, no published source."""

    def get_out(worked: Worked, place: Place) -> float:
        lobe = worked.build.sizing.surface.lobes[0]
        out = place.tip.minus(lobe.centre).length
        return out - out / lobe.get_stretch(place.tip)

    for words, low, high in (("clear of the greens 2", 1.5, math.inf), ("level with the greens", -3.0, 3.0)):
        worked = make(mean(SLIPWAY, (CARNATION, words)))
        leaves = [place for place in worked.build.places if place.entry.role is Role.GREENERY]
        for face in get_line(worked, CARNATION):
            near = [leaf for leaf in leaves if leaf.tip.minus(face.tip).length <= face.head.width_cm + 2]
            assert all(low <= get_out(worked, face) - get_out(worked, leaf) <= high for leaf in near), words
        assert find_unmet(worked) == []


def test_a_line_too_short_and_leaves_that_are_not_there_are_told() -> None:
    short = make(mean(SLIPWAY, (CARNATION, "line from 3 to 4"), pieces={CARNATION: 12}))
    bare = SLIPWAY.change(entries=[entry for entry in SLIPWAY.entries if entry.role is not Role.GREENERY])
    line = next(number for number, entry in enumerate(bare.entries, 1) if entry.role is Role.MASS)
    clear = make(mean(bare, (line, "clear of the greens 2")))
    for worked, told in ((short, "too short for 12"), (clear, "no leaves about them")):
        (note,) = [check for check in worked.checks if check.id.startswith("meant-")]
        assert told in note.reason


def test_what_is_held_back_is_paid_and_not_placed_and_no_other_moves() -> None:
    kept = make(carry_places(make(SLIPWAY).build, SLIPWAY))
    held = mean(kept.recipe, (CARNATION, "held back 2"))
    after = make(carry_places(kept.build, held))
    assert after.money.spent == kept.money.spent
    assert len(get_line(after, CARNATION)) == len(get_line(kept, CARNATION)) - 2
    was = {(place.entry.id, place.number): place.kept for place in kept.build.places}
    assert all(was[place.entry.id, place.number] == place.kept for place in after.build.places)
    text = " ".join(step.text for step in get_steps(after))
    assert "5 Carnation (cream): 2 more held back in reserve." in text
    assert f"Count {len(after.build.places)} pieces" in text
    none = make(mean(SLIPWAY, (CARNATION, "held back 9")))
    assert [check.severity for check in none.checks if check.id.startswith("held-")] == [Severity.WARN]
    assert not get_line(none, CARNATION)


def test_a_fit_pays_for_the_reserve_and_fills_the_piece_without_it() -> None:
    held = mean(SLIPWAY, (ROSE, "hold back 2"))
    plain, kept_back = (fit(recipe, CATALOGUE, RULES) for recipe in (SLIPWAY, held))
    rose = held.entries[ROSE - 1].id
    assert kept_back.counts[rose] > 2
    assert make(kept_back.recipe).money.room_left >= 0
    cover = [
        each.cover
        / sum(place.head.footprint_cm2 for place in make(each.recipe).build.places if place.material.is_bloom)
        for each in (plain, kept_back)
    ]
    assert cover[0] == pytest.approx(cover[1], rel=2e-3)


@pytest.mark.parametrize(("grade", "way"), [("low", lambda tip: tip.z), ("inward", lambda tip: tip.reach)])
def test_the_larger_blooms_go_where_they_are_meant_to(grade: str, way: Callable[[Vec], float]) -> None:
    """Sizes fall with height, or with the distance from the middle (rank correlation under −0.5): common practice."""
    worked = make(mean(SLIPWAY, (CARNATION, f"3 large · 2 small · larger {grade}"), pieces={CARNATION: 8}))
    places = get_line(worked, CARNATION)
    wide = [place.head.width_cm for place in places]
    usual = get_line(make(SLIPWAY), CARNATION)[0].head.width_cm
    assert (wide.count(max(wide)), wide.count(min(wide)), wide.count(usual)) == (3, 2, 3)
    assert max(wide) > usual > min(wide)
    rank = spearmanr(wide, [way(place.tip) for place in places]).statistic
    assert rank < -0.5
    assert find_unmet(worked) == []
    text = " ".join(step.text for step in get_steps(worked))
    assert "3 of the largest and 2 of the smallest picked out" in text
    wrong = make(mean(SLIPWAY, (ROSE, "4 large · 3 small")))
    assert find_unmet(wrong) == [f"meant-{SLIPWAY.entries[ROSE - 1].id}-sizes"]


def test_one_over_of_what_is_mirrored_both_ways_has_the_very_middle_where_no_other_may_set_the_height() -> None:
    two = SLIPWAY.change(entries=[SLIPWAY.entries[0].model_dump(), SLIPWAY.entries[ROSE - 1].model_dump()])
    worked = make(mean(two, (1, "low"), (2, "mirrored both ways"), pieces={2: 5}))
    middle = [place.tip for place in get_line(worked, 2) if place.tip.reach < 0.1]
    assert [round(tip.z, 1) for tip in middle] == [round(worked.build.frame.above_rim_cm, 1)]


@pytest.mark.parametrize(
    "words", ["low", "left", "tip 9", "stair 2 · side to side", "group", "rays", "mirrored both ways"]
)
def test_what_is_placed_as_meant_takes_its_room(words: str) -> None:
    """No flower of what goes in after it stands in the same place: heads here are 3 cm wide and more."""
    places = [each for each in make(mean(SLIPWAY, (ROSE, words))).build.places if each.entry.role is not Role.GREENERY]
    gaps = [
        one.tip.minus(other).length for at, one in enumerate(places) for other in [each.tip for each in places[:at]]
    ]
    assert min(gaps) > 2.0


def test_the_collar_of_a_frame_hangs_over_its_side_clear_of_what_it_lies_on() -> None:
    """Greens hide the foam's side and do not lie in the wet: a third and more of them end 1 cm above it."""
    for family in ("evening-bell", "haven"):
        build = make(next(each for each in get_recipes() if each.family == family)).build
        greens = [place for place in build.places if place.entry.role is Role.GREENERY and place.material.is_leaf]
        hang = [place for place in greens if place.tip.z + build.frame.rim_height_cm == pytest.approx(1.0, abs=0.01)]
        assert len(greens) > len(hang) >= len(greens) / 3


def test_a_spike_that_stands_too_low_for_its_flower_is_told_and_the_card_says_what_to_strip() -> None:
    """A snapdragon's flower is 25 cm long: with its tip 6 cm over the rim under a third of it shows."""
    low = make(mean(SLIPWAY, (SPIKE, "tip 6")))
    (told,) = [check for check in low.checks if check.id.startswith("stripped-")]
    assert told.title == "3 Snapdragon show less than a third of the flower"
    for place in get_line(low, SPIKE):
        clear = place.tip.minus(place.start).length
        assert place.head.length_cm == 25 > 25 / 3 > place.shown_length_cm
        assert place.shown_length_cm <= clear
    text = " ".join(step.text for step in get_steps(low))
    assert "Strip lower flowers, leave" in text
    assert "of 3 Snapdragon (peach)" in text
    tall = make(SLIPWAY.change(size={"mode": "own", "own_height_cm": 75, "own_width_cm": 40}))
    assert not [check for check in tall.checks if check.id.startswith("stripped-")]


def test_one_piece_ends_as_high_as_is_typed_and_no_other_moves() -> None:
    kept = make(carry_places(make(SLIPWAY).build, SLIPWAY))
    for line, number, top in ((CARNATION, 2, 12.5), (ROSE, 1, 4.0), (SPIKE, 2, 9.0)):
        entry = kept.recipe.entries[line - 1].id
        change = moving.set_top(kept.build, entry, number, top, lambda recipe: make(recipe).build)
        after = make(carry_places(kept.build, change.recipe))
        at = [place.number for place in get_line(after, line)].index(number)
        assert get_tops(after, line)[at] == pytest.approx(top, abs=0.06)
        tips = [
            {
                (each.entry.id, each.number): each.tip
                for each in worked.build.places
                if (each.entry.id, each.number) != (entry, number)
            }
            for worked in (kept, after)
        ]
        assert tips[0] == tips[1]
    with pytest.raises(BadInput, match="Type a height from"):
        moving.set_top(kept.build, entry, number, 60.0, lambda recipe: make(recipe).build)


def test_a_dear_word_is_read_in_every_way_it_is_said() -> None:
    ids = [entry.id for entry in SLIPWAY.entries]
    for one, other in (
        ("held 1", "hold back 1"),
        ("clear of greens by 2", "clear of the greens 2"),
        ("level with greens", "level with the greens"),
    ):
        assert read_meant(one, ids, LengthUnit.CM) == read_meant(other, ids, LengthUnit.CM)


@pytest.mark.parametrize("family", ["lee-side", "harbour-light"])
def test_mirrored_hours_go_with_a_mirrored_piece(family: str) -> None:
    recipe = next(each for each in get_recipes() if each.family == family)
    line = next(number for number, entry in enumerate(recipe.entries, 1) if entry.role is Role.MASS)
    meant = mean(recipe, (line, "rays from 1 to 4")).entries[line - 1].meant.across
    assert (meant.pattern.hour_from, meant.pattern.hour_to) == (8, 11)  # type: ignore[union-attr]
    assert changes.nudge_pieces(recipe, recipe.entries[line - 1].id, 1).recipe


@given(st.lists(st.tuples(st.integers(0, 4), st.integers(0, 4)), min_size=3, max_size=12))
def test_how_two_measures_rise_together_against_a_library(pairs: list[tuple[int, int]]) -> None:
    """Spearman's, where several are alike too; the reference is that of a library of statistics."""
    ones, others = ([float(each) for each in column] for column in zip(*pairs, strict=True))
    assume(len(set(ones)) > 1 and len(set(others)) > 1)
    assert get_rank_correlation(ones, others) == pytest.approx(spearmanr(ones, others).statistic)


def test_one_of_another_kind_goes_in_where_fewest_stand_between_two_of_the_other() -> None:
    """Three others at 12, 4 and 8 o’clock, one found in each of two stretches: the third is free, and what lies off it
    is so by its turn to the nearer end."""

    def at(*degrees: float) -> NDArray[np.float64]:
        return np.array([(math.sin(math.radians(each)), math.cos(math.radians(each))) for each in degrees])

    others, found = at(0, 120, 240), at(60, 300)
    off = Run(10.0, 10.0).get_off_turn(at(125, 180, 235, 110, 90, 260, 350), others, found)
    assert off[:3].tolist() == [0, 0, 0]
    beyond = [10, 30, 20, 110]
    assert (off[4:] - off[3]).tolist() == pytest.approx([(each - 10) / 180 for each in beyond[1:]])
    assert off[3] > 0
    along = Run(30.0, 10.0).get_off_turn(
        np.array([(-0.6, 0.0), (0.2, 0.5), (0.7, 0.0)]), np.array([(-0.5, 0.0), (0.5, 0.0)]), np.array([(-0.9, 0.0)])
    )
    assert along[1] == 0
    assert along[0] - along[2] == pytest.approx(0.1 - 0.2)


@pytest.mark.parametrize("family", ["evening-bell", "long-shore"])
def test_the_further_end_of_a_part_is_one_away_from_its_middle_as_rays_go(family: str) -> None:
    surface = make(next(each for each in get_recipes() if each.family == family)).build.sizing.surface
    half = [surface.frame.half_width_cm, surface.frame.half_depth_cm]
    parts = [part for part in surface.parts if part.goes_out]
    assert parts
    for part in parts:
        fan, box = get_fan(Where(part=part), surface), surface.parts[part]
        low, high = (np.clip(np.array(corner), -1, 1) for corner in ((box.left, box.front), (box.right, box.back)))
        offs = np.abs(fan.get_offs(np.array([low, high])))
        assert offs.max() == pytest.approx(1)
        sides = (high - low) * half
        assert offs.max(axis=0) == pytest.approx(sides / sides.max())


@pytest.mark.parametrize(("band", "share"), [("low", 0.35), ("middle", 0.6), ("high", 0.85)])
def test_a_stair_in_a_band_begins_at_the_top_of_it(band: str, share: float) -> None:
    worked = make(mean(SLIPWAY, (SPIKE, f"{band} · stair 1"), pieces={SPIKE: 2}))
    assert get_tops(worked, SPIKE)[0] == pytest.approx(share * worked.build.frame.above_rim_cm, abs=0.15)
