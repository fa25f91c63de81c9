"""What a designer means by an entry: said in short words and back, met by places that are measured here anew, told
where it is not met, and kept out of the way of every other entry."""

import math
from collections.abc import Callable
from itertools import combinations, pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mirvel.core.card.steps import get_steps, say_meant
from mirvel.core.changing import changes, moving
from mirvel.core.changing.carrying import carry_places
from mirvel.core.changing.changes import set_meant
from mirvel.core.forms.kinds import FORMS
from mirvel.core.forms.parts import Part
from mirvel.core.goods.facts import Role
from mirvel.core.house.rules import HouseRules
from mirvel.core.judging.check import Severity
from mirvel.core.placing.places import Place
from mirvel.core.recipe.meant import (
    Among,
    Band,
    Depth,
    DepthKind,
    Facing,
    Grade,
    Height,
    HeightKind,
    Meant,
    Pattern,
    PatternKind,
    Sizes,
    Spot,
    Where,
)
from mirvel.core.recipe.meant_words import read_meant, write_meant
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.space.vectors import Vec
from mirvel.core.values.problems import BadInput
from mirvel.core.values.units import LengthUnit
from mirvel.core.working import Worked
from mirvel.demo import get_recipes
from tests import strategies
from tests.builds import work_out
from tests.strategies import CATALOGUE

RULES = HouseRules()
SLIPWAY = next(recipe for recipe in get_recipes() if recipe.family == "slipway")
LINES = {entry.material: number for number, entry in enumerate(SLIPWAY.entries, 1)}
SPIKE, ROSE, CARNATION, DAISY, SPRAY = (
    LINES[slug] for slug in ("snapdragon", "rose-standard", "carnation-standard", "chrys-daisy-spray", "limonium")
)


def mean(recipe: Recipe, *wishes: tuple[int, str], pieces: dict[int, int] | None = None) -> Recipe:
    """A recipe whose lines mean something, with other counts for some."""
    for line, count in (pieces or {}).items():
        recipe = changes.set_entry(recipe, recipe.entries[line - 1].id, "pieces", count).recipe
    for line, words in wishes:
        recipe = set_meant(recipe, recipe.entries[line - 1].id, words, LengthUnit.CM).recipe
    return recipe


def make(recipe: Recipe) -> Worked:
    return work_out(recipe, CATALOGUE, RULES)


def get_line(worked: Worked, line: int) -> list[Place]:
    """The places of a line, in the order of their numbers."""
    entry = worked.recipe.entries[line - 1]
    return sorted((each for each in worked.build.places if each.entry.id == entry.id), key=lambda each: each.number)


def get_tops(worked: Worked, line: int) -> list[float]:
    """How high the highest point of each head stands: of a flat disc, its upper edge."""
    found = []
    for place in get_line(worked, line):
        flat = place.half_width_cm * math.sqrt(1 - place.facing.z**2)
        ball = place.half_width_cm * (1 - place.facing.z)
        found.append(place.tip.z + (0.0 if place.material.is_axial else ball if place.material.is_ball else flat))
    return found


def find_unmet(worked: Worked) -> list[str]:
    return [check.id for check in worked.checks if check.id.startswith("meant-")]


ABOUT = (PatternKind.RING, PatternKind.BESIDE, PatternKind.ALTERNATING, PatternKind.GATHERED)
SETS = (PatternKind.SPREAD, PatternKind.CARRIED, PatternKind.LIFTED, PatternKind.FIVE, PatternKind.FRINGE)
MIRRORS = (PatternKind.SIDEWAYS, PatternKind.LENGTHWAYS, PatternKind.BOTH_WAYS)
ARMS = [part for part in Part if part.goes_out]
lengths = st.sampled_from([0.5, 1.0, 2.5, 5.0, 12.5, 40.0])
entries = st.sampled_from([entry.id for entry in SLIPWAY.entries])
meanings = st.builds(
    Meant,
    levels=st.sets(st.sampled_from(Band)).map(lambda bands: tuple(each for each in Band if each in bands)),
    height=st.none()
    | st.builds(Height, kind=st.sampled_from([HeightKind.RIM, HeightKind.TABLE, HeightKind.STAIR]), by=lengths)
    | st.builds(Height, kind=st.just(HeightKind.TIMES), by=st.sampled_from([0.5, 1.75, 2.0]))
    | st.builds(
        Height,
        kind=st.just(HeightKind.OVER),
        by=lengths | lengths.map(lambda by: -by),
        entry=entries,
        among=st.sampled_from(Among),
    )
    | st.sampled_from([Height(kind=HeightKind.LEVEL), Height(kind=HeightKind.VARIED)]),
    where=st.none()
    | st.builds(Where, spot=st.sampled_from(Spot))
    | st.builds(Where, part=st.sampled_from(Part))
    | st.builds(
        Where, part=st.sampled_from(ARMS), cm_from=st.sampled_from([0.0, 7.5]), cm_to=lengths.map(lambda by: by + 8)
    )
    | st.builds(Where, hour_from=st.integers(0, 11), hour_to=st.sampled_from([2.5, 5.25, 11.75])),
    pattern=st.none()
    | st.builds(Pattern, kind=st.sampled_from([PatternKind.TRIANGLE, PatternKind.SIDES, PatternKind.GROUP]))
    | st.builds(Pattern, kind=st.just(PatternKind.GROUP), count=st.integers(2, 12))
    | st.builds(Pattern, kind=st.sampled_from(ABOUT), entry=entries)
    | st.just(Pattern(kind=PatternKind.LINKING, entry=SLIPWAY.entries[0].id, other=SLIPWAY.entries[2].id))
    | st.builds(Pattern, kind=st.sampled_from([PatternKind.LINE, PatternKind.RAYS, *MIRRORS, *SETS]))
    | st.builds(
        Pattern,
        kind=st.sampled_from([PatternKind.LINE, PatternKind.RAYS, PatternKind.CURVE, PatternKind.FRINGE]),
        hour_from=st.integers(0, 11),
        hour_to=st.sampled_from([0.5, 4.5, 7.25]),
    ),
    depth=st.none()
    | st.builds(Depth, kind=st.sampled_from([DepthKind.PROUD, DepthKind.CLEAR]), by=st.sampled_from([0.5, 2.0, 10.0]))
    | st.builds(Depth, kind=st.sampled_from([DepthKind.TUCKED, DepthKind.LEVEL])),
    facing=st.none() | st.sampled_from(Facing),
    must=st.booleans(),
    sizes=st.none()
    | st.builds(Sizes, large=st.integers(1, 4), small=st.integers(0, 3), grade=st.none() | st.sampled_from(Grade)),
    held_back=st.sampled_from([0, 0, 1, 12]),
)


@given(meant=meanings)
def test_what_is_meant_is_written_short_and_read_back(meant: Meant) -> None:
    ids = [entry.id for entry in SLIPWAY.entries]
    assert read_meant(write_meant(meant, ids, LengthUnit.CM), ids, LengthUnit.CM) == meant


def test_a_unit_told_once_is_that_of_both_ends() -> None:
    for words in ("left arm from 4 to 8 in", "left arm from 4 in to 8 in", "left arm from 10.16 to 20.32 cm"):
        where = read_meant(words, ["e1"], LengthUnit.CM).where
        assert where
        assert (where.cm_from, where.cm_to) == pytest.approx((10.16, 20.32))


@pytest.mark.parametrize(
    ("typed", "mend"),
    [
        ("heigh", "not understood"),
        ("at 14", "no hour"),
        ("over 99 by 5", "no line 99"),
        ("tip 5 · stair 3", "a second height"),
        ("triangle · group", "a second pattern"),
        ("stair 0", "more than nothing"),
        ("line from 4 to 4", "two that differ"),
        ("curve", "curve from 9 to 3"),
        ("groups of 1", "groups of 3"),
        ("left arm from 20 to 10", "how far further"),
        (f"over {ROSE} by 5", "by itself"),
        ("tip 999", "200.0 or less"),
        ("2 large · 3 large", "a second size"),
        ("larger low", "how many are large"),
        ("<b>low</b>", "not understood"),
    ],
)
def test_what_cannot_be_meant_is_told_with_the_mend(typed: str, mend: str) -> None:
    with pytest.raises(BadInput, match=mend):
        mean(SLIPWAY, (ROSE, typed))


def test_entries_told_by_one_another_in_a_circle_are_refused_and_one_that_goes_is_named_no_more() -> None:
    recipe = mean(SLIPWAY, (ROSE, f"beside {CARNATION}"), (CARNATION, f"over {DAISY} by 2 · low"))
    with pytest.raises(BadInput, match="round another"):
        mean(recipe, (DAISY, f"ring round {ROSE}"))
    gone = changes.remove_entry(recipe, recipe.entries[DAISY - 1].id).recipe
    carnation = next(entry for entry in gone.entries if entry.material == "carnation-standard")
    assert carnation.meant == Meant(levels=(Band.LOW,))
    # in another role an entry moves in the order, and is still the one that is named
    moved = changes.set_entry(recipe, recipe.entries[DAISY - 1].id, "role", "filler").recipe
    (named,) = moved.find_entry(carnation.id).meant.named  # type: ignore[union-attr]
    assert moved.find_entry(named).material == "chrys-daisy-spray"  # type: ignore[union-attr]


def test_a_triangle_is_one() -> None:
    """Three of a kind, no angle under 30°, long sides within 1 : 1.6: common practice, no published source."""
    for where in ("low", "middle", "front", "back"):
        worked = make(mean(SLIPWAY, (ROSE, f"triangle · {where}"), pieces={ROSE: 3}))
        tips = [place.tip for place in get_line(worked, ROSE)]
        sides = sorted(one.minus(other).length for one, other in combinations(tips, 2))
        assert sides[2] <= 1.6 * sides[0]
        for a, b, c in ((0, 1, 2), (1, 2, 0), (2, 0, 1)):
            one, other = tips[b].minus(tips[a]).unit, tips[c].minus(tips[a]).unit
            assert math.degrees(math.acos(one.dot(other))) >= 30
        assert find_unmet(worked) == []


@pytest.mark.parametrize("step", [2.0, 3.5, 5.0])
def test_a_stair_falls_by_its_step_from_side_to_side(step: float) -> None:
    """The second spike 5 cm taller or shorter than the first, stair-step in threes: common practice, no published
    source; within 1 cm."""
    worked = make(mean(SLIPWAY, (SPIKE, f"stair {step} · side to side"), pieces={SPIKE: 3}))
    tops = get_tops(worked, SPIKE)
    assert [high - low for high, low in pairwise(tops)] == pytest.approx([step, step], abs=0.1)
    assert tops[0] == pytest.approx(worked.build.frame.above_rim_cm, abs=0.1)
    sides = [place.tip.x for place in get_line(worked, SPIKE)[1:]]
    assert sides[0] * sides[1] < 0
    assert find_unmet(worked) == []


def test_a_ring_stands_about_its_flower() -> None:
    """At least five pieces within 1.6 head widths on at least 270° round it: common practice, no published source."""
    worked = make(mean(SLIPWAY, (SPRAY, f"ring round {ROSE}"), pieces={ROSE: 1, SPRAY: 7}))
    (rose,) = get_line(worked, ROSE)
    away = [place.tip.minus(rose.tip) for place in get_line(worked, SPRAY)]
    assert sum(each.length <= 1.6 * rose.head.width_cm for each in away) >= 5
    across = Vec(-rose.facing.y, rose.facing.x, 0.0).unit
    up = rose.facing.cross(across)
    turns = sorted(math.degrees(math.atan2(each.dot(up), each.dot(across))) % 360 for each in away)
    assert max((after - before) % 360 for before, after in pairwise([*turns, turns[0]])) <= 90
    assert find_unmet(worked) == []


@pytest.mark.parametrize("band", Band)
def test_levels_are_taken_and_shared(band: Band) -> None:
    limits = {"skirt": (-9, 0.05), "low": (0.05, 0.35), "middle": (0.35, 0.6), "high": (0.6, 0.85), "crown": (0.85, 9)}
    worked = make(mean(SLIPWAY, (DAISY, band.value), pieces={DAISY: 4}))
    low, high = limits[band.value]
    shares = [place.tip.z / worked.build.frame.above_rim_cm for place in get_line(worked, DAISY)]
    assert all(low - 0.031 <= share <= high + 0.031 for share in shares) is (find_unmet(worked) == [])
    two = make(mean(SLIPWAY, (DAISY, "low · high"), pieces={DAISY: 8}))
    levels = [place.level for place in get_line(two, DAISY)]
    assert find_unmet(two) == []
    assert min(levels.count("low"), levels.count("high")) >= 3


def test_parts_of_the_piece() -> None:
    """The clock: 6 is the front, 3 to the right (the designer's side and hand)."""
    parts: tuple[tuple[str, Callable[[Vec], bool]], ...] = (
        ("front", lambda tip: tip.y < 0),
        ("back", lambda tip: tip.y > 0),
        ("left", lambda tip: tip.x < 0),
        ("right", lambda tip: tip.x > 0),
        ("from 1 to 5", lambda tip: tip.x > 0),
        ("from 10 to 2", lambda tip: tip.y > 0),
    )
    for words, holds in parts:
        worked = make(mean(SLIPWAY, (CARNATION, words)))
        assert find_unmet(worked) == []
        assert all(holds(place.tip) for place in get_line(worked, CARNATION)), words
    worked = make(mean(SLIPWAY, (ROSE, "centre"), pieces={ROSE: 1}))
    assert math.hypot(*get_line(worked, ROSE)[0].tip[:2]) < 0.2 * worked.build.frame.half_width_cm
    edge = make(mean(SLIPWAY, (CARNATION, "edge")))
    assert min(math.hypot(*place.tip[:2]) for place in get_line(edge, CARNATION)) > 0.7 * edge.build.frame.half_width_cm


def test_heights_are_those_that_are_told() -> None:
    rim = make(SLIPWAY).build.container.rim_height_cm
    high = make(SLIPWAY).build.container.height_cm
    for words, wanted in (("tip 9", 9.0), ("tip 30 above the table", 30 - rim), ("1.5 times", 1.5 * high - rim)):
        worked = make(mean(SLIPWAY, (ROSE, words)))
        assert get_tops(worked, ROSE) == pytest.approx([wanted] * 5, abs=0.05)
    worked = make(mean(SLIPWAY, (ROSE, "tip 8"), (CARNATION, f"over {ROSE} by 3"), (DAISY, f"under {ROSE} by 2")))
    assert get_tops(worked, CARNATION) == pytest.approx([11.0] * 7, abs=0.05)
    assert get_tops(worked, DAISY) == pytest.approx([6.0] * 10, abs=0.05)
    low, middle = f"over lowest of {ROSE} by 2", f"under the middle {ROSE} by 1"
    stepped = make(mean(SLIPWAY, (ROSE, "stair 2"), (CARNATION, low), (DAISY, middle)))
    roses = sorted(get_tops(stepped, ROSE))
    assert roses[-1] - roses[0] > 6
    assert get_tops(stepped, CARNATION) == pytest.approx([roses[0] + 2.0] * 7, abs=0.05)
    assert get_tops(stepped, DAISY) == pytest.approx([roses[2] - 1.0] * 10, abs=0.05)
    level = make(mean(SLIPWAY, (CARNATION, "one level · middle")))
    assert max(get_tops(level, CARNATION)) - min(get_tops(level, CARNATION)) < 1.0  # "within 1 cm": common practice
    assert [find_unmet(each) for each in (worked, stepped, level)] == [[], [], []]


def test_the_one_that_is_taller_has_the_crown_and_the_other_makes_way() -> None:
    """Two spikes, the second 5 cm taller."""
    spike = SLIPWAY.entries[SPIKE - 1]
    two = SLIPWAY.change(
        entries=[
            each
            for entry in SLIPWAY.entries
            for each in ([entry, {**spike.model_dump(), "id": "e77", "pieces": 1}] if entry == spike else [entry])
        ]
    )
    worked = make(mean(two, (SPIKE + 1, f"over {SPIKE} by 5"), pieces={SPIKE: 1}))
    assert get_tops(worked, SPIKE + 1)[0] - get_tops(worked, SPIKE)[0] == pytest.approx(5.0, abs=0.05)
    assert get_tops(worked, SPIKE + 1)[0] == pytest.approx(worked.build.frame.above_rim_cm, abs=0.05)


def test_heads_of_unlike_size_end_at_one_level() -> None:
    """By their tops, the first of them large and the others small: half of "tips within 1 cm" (common practice)."""
    worked = make(mean(SLIPWAY, (CARNATION, "low · one level · 1 large · 6 small")))
    tops = get_tops(worked, CARNATION)
    assert len(tops) == 7
    assert max(tops) - min(tops) <= 0.5
    assert find_unmet(worked) == []


def test_depth_and_facing() -> None:
    lobe = make(SLIPWAY).build.sizing.surface.lobes[0]
    plain, proud, tucked = (make(mean(SLIPWAY, (CARNATION, words))) for words in ("low", "low · proud 2", "tucked in"))
    out = [[lobe.get_stretch(place.tip) for place in get_line(worked, CARNATION)] for worked in (proud, plain, tucked)]
    assert min(out[0]) > max(out[1]) - 0.05 > max(out[2])
    up, viewer, outward = (make(mean(SLIPWAY, (ROSE, f"facing {way}"))) for way in ("up", "the viewer", "out"))
    assert all(place.facing.z > 0.99 for place in get_line(up, ROSE))
    assert all(place.facing.y < -0.95 for place in get_line(viewer, ROSE))
    assert all(abs(place.facing.z) < 0.01 for place in get_line(outward, ROSE))
    assert [find_unmet(each) for each in (proud, tucked, up, viewer, outward)] == [[]] * 5


def test_stems_bend_by_their_own_curve_away_from_the_middle_and_are_cut_as_long_as_they_bend() -> None:
    """ "With its own curve: the bend's outside lies away from the middle" (common practice, no published source)."""
    straight, bent = make(SLIPWAY), make(mean(SLIPWAY, (ROSE, "low · by its own curve")))
    assert find_unmet(bent) == []
    for place in get_line(bent, ROSE):
        chord = place.measured_to.minus(place.start)
        bend = place.get_bend(chord)
        assert bend.x * place.tip.x + bend.y * place.tip.y > (-0.05 if chord.z < 0.1 else 1e-6)
        assert bend.length == pytest.approx(chord.length / 10)
        assert bend.dot(chord) == pytest.approx(0, abs=1e-9)
        # by hand, an arc a tenth out of the straight: half its turn is atan 0.2 twice, 22.6°
        assert place.visible_cm == pytest.approx(chord.length * 0.39479 / math.sin(0.39479), rel=1e-4)
    assert all(place.bow == 0 for place in get_line(straight, ROSE))
    across = get_line(make(mean(SLIPWAY, (ROSE, "low · by its own curve")).change(arranging={"mirrored": True})), ROSE)
    assert all(place.get_bend(place.axis).x * place.tip.x >= 0 for place in across)
    middle = make(mean(SLIPWAY, (ROSE, "centre · crown · by its own curve"), pieces={ROSE: 1}))
    assert any(unmet.endswith("facing") for unmet in find_unmet(middle))


def test_a_group_stands_close_and_others_beside() -> None:
    worked = make(mean(SLIPWAY, (CARNATION, "group · front"), (DAISY, f"beside {ROSE}"), pieces={DAISY: 4}))
    group, wide = get_line(worked, CARNATION), get_line(worked, CARNATION)[0].head.width_cm
    for place in group:
        assert 0.8 * wide < min(place.tip.minus(each.tip).length for each in group if each is not place) < 1.4 * wide
    roses = get_line(worked, ROSE)
    for place in get_line(worked, DAISY):
        touching = min(place.tip.minus(rose.tip).length - rose.half_width_cm - place.half_width_cm for rose in roses)
        assert touching < 2.5
    assert find_unmet(worked) == []


@pytest.mark.parametrize(
    ("words", "pieces", "told"),
    [
        ("triangle", {ROSE: 4}, "4 pieces make no whole triangles"),
        (f"ring round {CARNATION}", {ROSE: 3}, "3 of them stand close about it"),
        ("tip 60", {}, "lower at most"),
        (f"over {CARNATION} by 3", {CARNATION: 0}, "none of the other"),
        ("stair 8", {ROSE: 9}, "its steps are"),
    ],
)
def test_what_is_not_met_is_told_by_how_much_left_off_the_card_and_stops_where_it_must(
    words: str, pieces: dict[int, int], told: str
) -> None:
    recipe = mean(SLIPWAY, (ROSE, words), pieces=pieces)
    (note,) = [check for check in make(recipe).checks if check.id.startswith("meant-")]
    assert note.severity is Severity.NOTE
    assert told in note.reason
    assert say_meant(make(recipe), recipe.entries[ROSE - 1]) == ""
    (stop,) = [check for check in make(mean(recipe, (ROSE, f"{words} · must"))).checks if check.id.startswith("meant-")]
    assert stop.severity is Severity.STOP


def test_the_card_says_what_is_met_in_words() -> None:
    worked = make(
        mean(SLIPWAY, (ROSE, "triangle · low · from 3 to 9"), (SPIKE, "stair 4 · side to side"), pieces={ROSE: 3})
    )
    text = " ".join(step.text for step in get_steps(worked))
    assert "3 Rose (coral): in a triangle, low, from 3 to 9 o’clock." in text
    assert "3 Snapdragon (peach): from side to side, each 4 cm lower than the one before." in text


def test_what_is_meant_is_told_of_the_piece_as_it_stands() -> None:
    right = mean(SLIPWAY, (CARNATION, "right"), (ROSE, "from 1 to 4"))
    left = moving.mirror(right).recipe
    assert [write_meant(left.entries[line - 1].meant, [], LengthUnit.CM) for line in (CARNATION, ROSE)] == [
        "left",
        "from 8 to 11",
    ]
    assert all(place.tip.x < 0 for line in (CARNATION, ROSE) for place in get_line(make(left), line))
    assert find_unmet(make(left)) == []
    assert moving.mirror(left).recipe == right


def test_levels_keep_the_halves_of_a_piece_of_pairs_alike() -> None:
    paired = SLIPWAY.change(arranging={"balance": "symmetric"})
    worked = make(mean(paired, (CARNATION, "low"), (DAISY, "middle · edge"), pieces={DAISY: 4}))
    assert find_unmet(worked) == []
    for line in (CARNATION, DAISY):
        tips = [place.tip for place in get_line(worked, line)]
        assert all(any(tip.across(-1.0).minus(other).length < 0.05 for other in tips) for tip in tips)


@given(
    line=st.sampled_from([ROSE, CARNATION, DAISY]), words=st.sampled_from(["low", "edge", "facing up", "right · high"])
)
@settings(max_examples=8)
def test_one_entry_is_placed_as_it_is_meant_and_no_other_moves(line: int, words: str) -> None:
    kept = make(carry_places(make(SLIPWAY).build, SLIPWAY))
    after = make(carry_places(kept.build, mean(kept.recipe, (line, words))))
    entry = kept.recipe.entries[line - 1].id
    tips = [
        {(place.entry.id, place.number): place.tip for place in each.build.places if place.entry.id != entry}
        for each in (kept, after)
    ]
    assert tips[0] == tips[1]
    again = make(carry_places(after.build, after.recipe))
    assert [place.tip for place in again.build.places] == [place.tip for place in after.build.places]


def test_a_set_is_placed_anew_with_one_more_and_those_that_are_told_by_it() -> None:
    recipe = mean(SLIPWAY, (SPIKE, "stair 3"), (ROSE, f"under {SPIKE} by 2"), (CARNATION, "low"))
    kept = make(carry_places(make(recipe).build, recipe))
    more = changes.nudge_pieces(kept.recipe, kept.recipe.entries[SPIKE - 1].id, 1).recipe
    carried = carry_places(kept.build, more)
    without = [number for number, entry in enumerate(carried.entries, 1) if not entry.kept]
    assert without == [SPIKE, ROSE]
    assert find_unmet(make(carried)) == []
    assert get_tops(make(carried), SPIKE)[0] - get_tops(make(carried), SPIKE)[3] == pytest.approx(9.0, abs=0.2)


def test_another_order_is_another_order_and_nothing_else() -> None:
    kept = make(carry_places(make(SLIPWAY).build, SLIPWAY))
    recipe = mean(kept.recipe, (ROSE, f"beside {CARNATION}"))
    kept = make(carry_places(kept.build, recipe))
    entry = recipe.entries[CARNATION - 1].id
    for by in (-99, -1, 1, 99):
        moved = changes.move_entry(recipe, entry, by).recipe
        at = [each.id for each in moved.entries].index(entry)
        assert at == max(0, min(len(recipe.entries) - 1, CARNATION - 1 + by))
        assert [each for each in moved.entries if each.id != entry] == [
            each for each in recipe.entries if each.id != entry
        ]
        after = make(carry_places(kept.build, moved))
        assert {(p.entry.id, p.number): p.tip for p in after.build.places} == {
            (p.entry.id, p.number): p.tip for p in kept.build.places
        }
        assert after.money.spent == kept.money.spent
        line = [each.id for each in moved.entries].index(recipe.entries[ROSE - 1].id)
        said = write_meant(moved.entries[line].meant, [each.id for each in moved.entries], LengthUnit.CM)
        assert said == f"beside {at + 1}"


def test_a_length_stays_what_it_was_in_the_other_unit() -> None:
    entry = SLIPWAY.entries[ROSE - 1].id
    recipe = mean(SLIPWAY, (ROSE, "tip 12 · proud 2"))
    said = write_meant(recipe.entries[ROSE - 1].meant, [each.id for each in recipe.entries], LengthUnit.INCH)
    after = set_meant(recipe, entry, f"{said} · low", LengthUnit.INCH).recipe.entries[ROSE - 1].meant
    assert after == recipe.entries[ROSE - 1].meant.model_copy(update={"levels": (Band.LOW,)})


@pytest.mark.parametrize("family", ["evening-bell", "three-buoys", "haven", "harbour-light", "lee-side"])
def test_any_form_takes_what_is_meant_or_says_that_it_does_not(family: str) -> None:
    recipe = next(each for each in get_recipes() if each.family == family)
    line = next(number for number, entry in enumerate(recipe.entries, 1) if entry.role is not Role.GREENERY)
    for words in (
        "low · triangle",
        "left · one level",
        "stair 3 · side to side",
        "edge · proud 1",
        "tip 6 · facing up",
    ):
        worked = make(mean(recipe, (line, words)))
        places = get_line(worked, line)
        assert len({place.tip for place in places}) == len(places) or worked.build.sizing.form.only_listed
        parts = {met.part for met in worked.build.met[recipe.entries[line - 1].id]}
        assert len(parts) == len(words.split(" · "))


@given(data=st.data())
@settings(max_examples=20)
def test_anything_meant_in_any_form_is_placed_and_stays_where_it_is_once_kept(data: st.DataObject) -> None:
    form = FORMS[data.draw(st.sampled_from(sorted(FORMS)))]
    recipe = data.draw(strategies.get_recipes(form))
    ids = [entry.id for entry in recipe.entries]
    entries = []
    for at, entry in enumerate(recipe.entries):
        meant = data.draw(meanings)
        for part in ("height", "pattern"):  # told by an entry before it, so that no circle comes of it
            if (told := getattr(meant, part)) is not None and told.entry:
                fresh = dict(zip(("entry", "other"), data.draw(st.permutations(ids[:at]))[:2], strict=False))
                is_link = getattr(told, "other", "") != ""
                by = told.model_copy(update=fresh if is_link else {"entry": fresh["entry"]}) if at > is_link else None
                meant = meant.model_copy(update={part: by})
        entries.append(entry.model_copy(update={"meant": meant}))
    recipe = recipe.change(entries=entries)
    worked = make(recipe)
    assert all(math.isfinite(part) for place in worked.build.places for part in place.tip)
    assert len(worked.build.places) == sum(max(0, entry.pieces - entry.meant.held_back) for entry in entries)
    assert get_steps(worked)
    kept = make(carry_places(worked.build, recipe))
    assert [place.tip for place in kept.build.places] == [place.tip for place in worked.build.places]
