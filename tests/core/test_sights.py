"""What is seen of a piece from its sides: foam past flowers, and gaps right through, against plane geometry."""

import math
import re
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import LineString, Point, box, unary_union

from mirvel.core.card.steps import get_steps
from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.facts import HeadForm, Role
from mirvel.core.house.rules import HouseRules
from mirvel.core.making.rim import get_rim_seen
from mirvel.core.making.showing import bring_out, get_least_seen, get_seen
from mirvel.core.making.sight import get_looks, get_sides, get_sights
from mirvel.core.placing.holders import get_foam_seen
from mirvel.core.placing.places import Place
from mirvel.core.recipe import entry
from mirvel.core.recipe.meant import Depth, DepthKind, Meant
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.space.outlines import Outline, get_oblong
from mirvel.core.space.vectors import Vec
from mirvel.core.values.units import LengthUnit
from mirvel.core.vessels.beds import Bed
from mirvel.demo import get_recipes
from tests.builds import work_out
from tests.strategies import CATALOGUE

RULES = HouseRules()
PAD = next(recipe for recipe in get_recipes() if recipe.family == "haven")
BUILD = work_out(PAD, CATALOGUE, RULES).build
BLOCK = Bed(Outline(get_oblong(30.0, 20.0)), 0.0, -6.0)
ABOVE = {"above": Vec(0.0, 0.0, 1.0)}
UP = Vec(0.0, 0.0, 1.0)
DISC = next(place for place in BUILD.places if place.material.form is HeadForm.DAISY)
LEAF = next(place for place in BUILD.places if place.material.form is HeadForm.FROND)
VASE = work_out(next(each for each in get_recipes() if each.family == "slipway"), CATALOGUE, RULES).build
SPIKE = next(place for place in VASE.places if place.material.form is HeadForm.SPIKE)


def put(place: Place, x: float, y: float, wide: float, z: float = 5.0) -> Place:
    """A disc facing up, so wide, over a point."""
    head = replace(place.head, width_cm=wide)
    return replace(place, head=head, tip=Vec(x, y, z), facing=UP, start=Vec(x, y, 0.0))


def see_foam(places: tuple[Place, ...], bed: Bed = BLOCK) -> float:
    (sight,) = get_sights(places, get_looks(BUILD.sizing.surface, bed, ABOVE, ABOVE))
    return sight.foam


@given(spots=st.lists(st.tuples(st.floats(-15, 15), st.floats(-10, 10), st.floats(4, 14)), max_size=6))
@settings(max_examples=40)
def test_discs_hide_from_above_what_their_union_covers(spots: list[tuple[float, float, float]]) -> None:
    """Against shapely; the foam is looked at in about 100 points, so that a point more or less is a hundredth. A flat
    head closes 0.92 of its width, a leaf 0.3, a spike 0.85: fitted to drawings, whose pixels are counted elsewhere."""
    top = box(-15, -10, 15, 10)
    union = unary_union([Point(x, y).buffer(0.92 * wide / 2) for x, y, wide in spots])
    expected = 1 - union.intersection(top).area / top.area
    assert see_foam(tuple(put(DISC, *spot) for spot in spots)) == pytest.approx(expected, abs=0.06)


def test_a_leaf_hides_a_strip_along_it_and_what_lies_lower_than_the_foam_hides_nothing() -> None:
    head = replace(LEAF.head, length_cm=20.0, width_cm=12.0)
    tip, way = Vec(9.0, 4.0, 4.0), Vec(2.0, 1.0, 0.0).unit  # across the rows of points that are looked at
    across = replace(LEAF, head=head, tip=tip, start=tip.plus(way, -30.0), facing=UP)
    strip = LineString([tip.plus(way, -across.shown_length_cm)[:2], tip[:2]]).buffer(0.3 * across.half_width_cm)
    top = box(-15, -10, 15, 10)
    assert see_foam((across,)) == pytest.approx(1 - strip.intersection(top).area / top.area, abs=0.06)
    assert see_foam((put(DISC, 0.0, 0.0, 14.0, z=-20.0),)) == 1.0
    ball = next(place for place in VASE.places if place.material.is_ball)
    assert see_foam((put(ball, 0.0, 0.0, 14.0, z=7.5),)) == see_foam((put(ball, 0.0, 0.0, 14.0, z=30.0),)) < 1.0
    near, far = (see_foam((put(DISC, 0.0, 0.0, 14.0, z=high),)) for high in (0.4, 30.0))
    assert near == far < 1.0
    assert see_foam(()) == 1.0


def test_a_spike_hides_all_of_its_width_along_it_and_less_the_more_it_points_at_the_eye() -> None:
    """Against shapely: a strip its own width; stood on end, a circle of it."""
    fat = replace(SPIKE, head=replace(SPIKE.head, width_cm=10.0))
    wide, top = 0.85 * 5.0, box(-15, -10, 15, 10)
    tip, way = Vec(9.0, 4.0, 4.0), Vec(2.0, 1.0, 0.0).unit  # across the rows of points that are looked at
    across = replace(fat, tip=tip, start=tip.plus(way, -49.0))
    strip = LineString([tip.plus(way, -across.shown_length_cm)[:2], tip[:2]]).buffer(wide)
    assert see_foam((across,)) == pytest.approx(1 - strip.intersection(top).area / top.area, abs=0.06)
    upright = replace(fat, tip=Vec(0.0, 0.0, 40.0), start=Vec(0.0, 0.0, 0.0))
    assert see_foam((upright,)) == pytest.approx(1 - math.pi * wide**2 / top.area, abs=0.06)


@pytest.mark.parametrize("lean_deg", [1.0, 10.0, 25.0, 40.0])
def test_a_leafy_branch_that_points_at_the_eye_still_hides_half_its_length(lean_deg: float) -> None:
    """Against shapely: a strip as long as it is seen, and never shorter than half of it, since branches spread."""
    lean, top = math.radians(lean_deg), box(-15, -10, 15, 10)
    axis, long = Vec(math.sin(lean), 0.0, math.cos(lean)), 24.0
    tip = Vec(9.0, 0.0, 30.0)
    leaf = replace(LEAF, head=replace(LEAF.head, width_cm=12.0, length_cm=long), tip=tip, start=tip.plus(axis, -60.0))
    assert leaf.shown_length_cm == long
    seen = long * max(0.5, math.sin(lean))
    strip = LineString([(9.0 - seen, 0.0), (9.0, 0.0)]).buffer(0.3 * 6.0)
    assert see_foam((leaf,)) == pytest.approx(1 - strip.intersection(top).area / top.area, abs=0.06)


def test_one_disc_hides_a_round_pad_by_the_square_of_its_width() -> None:
    pad = Bed(
        Outline(tuple((10 * math.sin(n / 48 * math.pi), 10 * math.cos(n / 48 * math.pi)) for n in range(96))), 0, -4
    )
    for wide in (6.0, 10.0, 16.0):
        assert see_foam((put(DISC, 0.0, 0.0, wide),), pad) == pytest.approx(1 - (0.92 * wide / 20) ** 2, abs=0.04)


def test_the_largest_patch_is_the_larger_of_two_bare_ends_and_lies_where_it_does() -> None:
    """Of a block of 30 by 20 cm 2.6 cm are left bare at its left end and 5.6 at its right."""
    row = [1.5 * number for number in range(-8, 9)]
    covered = tuple(put(DISC, -1.5 + x * 9.5 / 12, 1.25 * y, 3.0) for x in row for y in row)
    (sight,) = get_sights(covered, get_looks(BUILD.sizing.surface, BLOCK, ABOVE, ABOVE))
    assert sight.patch_cm2 == pytest.approx(5.6 * 20, abs=25)
    assert sight.foam == pytest.approx((2.6 + 5.6) / 30, abs=0.05)
    assert sight.foam_at is not None
    assert sight.foam_at.x == pytest.approx(12.2, abs=1)
    assert sight.across().foam_at == sight.foam_at.across(-1.0)


SYMPATHY = [recipe for recipe in get_recipes() if recipe.brief.occasion == "funeral"]


@pytest.mark.parametrize("recipe", SYMPATHY, ids=lambda recipe: recipe.name)
def test_fewer_pieces_never_show_less_and_a_mirrored_piece_shows_as_much(recipe: Recipe) -> None:
    build = work_out(recipe, CATALOGUE, RULES).build
    sides = get_sides(build.sizing.form, recipe.brief.seen_from)
    looks = get_looks(build.sizing.surface, get_foam_seen(recipe, build.container), sides, sides)
    few = get_sights(build.places[::3], looks)
    for less, whole in zip(few, build.sights, strict=True):
        assert less.foam >= whole.foam
        assert less.gaps >= whole.gaps
    turned = work_out(
        recipe.change(arranging={**recipe.arranging.model_dump(), "mirrored": True}), CATALOGUE, RULES
    ).build
    assert max(sight.foam for sight in turned.sights) == pytest.approx(max(s.foam for s in build.sights), abs=0.05)


LYING = [recipe for recipe in SYMPATHY if not FORMS[recipe.form].hangs]


@pytest.mark.parametrize("recipe", LYING, ids=lambda recipe: recipe.name)
def test_nothing_sinks_into_the_lid_or_hangs_below_a_saddles_legs(recipe: Recipe) -> None:
    build = work_out(recipe, CATALOGUE, RULES).build
    assert build.extent.bottom >= -build.container.rim_height_cm - 0.5


@pytest.mark.parametrize("recipe", [each for each in SYMPATHY if each.form in {"lid spray", "headstone saddle"}])
def test_greens_at_the_skirt_of_a_lying_block_hang_before_its_side_from_top_to_foot(recipe: Recipe) -> None:
    build = work_out(recipe, CATALOGUE, RULES).build
    bed = build.sizing.frame.bed
    assert bed is not None
    hanging = [
        place
        for place in build.places
        if place.material.is_leaf and place.material.is_axial and place.tip.z < bed.top_z - 3
    ]
    assert len(hanging) >= 6
    for place in hanging:
        depth = float(bed.outline.get_depths(np.array([place.tip[:2]]))[0])
        assert depth < -1.5
        assert place.tip.z < bed.bottom_z
        assert place.start.z > bed.top_z - bed.thickness_cm / 4
        assert place.shown_length_cm > bed.thickness_cm / 2


def test_a_branch_cut_short_keeps_its_leaves_and_is_never_wider_than_it_was_or_than_long() -> None:
    def show(short: float) -> float:
        head = replace(LEAF.head, length_cm=40.0, width_cm=20.0)
        return replace(LEAF, head=head, start=Vec(0.0, 0.0, 0.0), tip=Vec(0.0, 0.0, short + 0.5)).shown_width_cm

    widths = [show(short) for short in (2.0, 5.0, 10.0, 20.0, 40.0)]
    assert widths == sorted(widths)
    assert widths[-1] == pytest.approx(20.0)
    for short, wide in zip((2.0, 5.0, 10.0, 20.0), widths, strict=False):
        assert short / 2 < wide <= max(short, short / 2)


def test_bare_foam_is_a_fault_unless_it_is_meant_to_show() -> None:
    thin = PAD.change(entries=PAD.entries[-1:])
    found = {check.id for check in work_out(thin, CATALOGUE, RULES).checks}
    bare = work_out(thin.change(foam_may_show=True), CATALOGUE, RULES)
    meant = {check.id for check in bare.checks}
    assert "Foam may show: take dark foam and cut it clean." in get_steps(bare)[0].text
    vase = work_out(VASE.recipe.change(foam_may_show=True), CATALOGUE, RULES)
    assert "oam" not in get_steps(vase)[0].text
    for unit, size in ((LengthUnit.CM, 1.0), (LengthUnit.INCH, 2.54**2)):
        worked = work_out(thin, CATALOGUE, RULES.change(unit=unit))
        (told,) = [check.reason for check in worked.checks if check.id == "foam-shows"]
        (patch,) = re.findall(rf"largest patch, of (\d+) {unit.value}², is at", told)
        assert int(patch) * size == pytest.approx(max(each.patch_cm2 for each in worked.build.sights), rel=0.1)
    assert found - meant == {"foam-shows"}
    assert not meant - found


def test_what_hangs_over_the_rim_hides_its_tape_and_what_stands_in_the_mouth_does_not(catalogue: Catalogue) -> None:
    """Nothing there: all of it shows. A third of the leaves: more shows than with all. Foam has no tape."""
    slipway = next(each for each in get_recipes() if each.family == "slipway")

    def see(recipe: Recipe) -> float:
        return sum(work_out(recipe, catalogue, HouseRules()).build.rim_seen.values())

    entries = [entry.model_dump() for entry in slipway.entries]
    sides = len(work_out(slipway, catalogue, HouseRules()).build.rim_seen)
    assert sides == 4
    assert see(slipway.change(entries=[])) == pytest.approx(sides)
    few = [{**each, "pieces": 1, "kept": ()} for each in entries if each["role"] == "greenery"]
    assert see(slipway) < see(slipway.change(entries=few)) <= sides
    assert see(next(each for each in get_recipes() if each.family == "fender")) == 0


def test_what_is_hidden_comes_out_the_faster_the_less_is_seen_of_it_and_never_far_out() -> None:
    """What a person pinned stays; so does what is seen enough, and a flower that is meant to be tucked in."""
    recipe = next(each for each in get_recipes() if each.family == "slipway")
    places = {(each.entry.id, each.number): each for each in work_out(recipe, CATALOGUE, RULES).build.places}
    rose, carnation, other = places["e5", 1], places["e6", 1], places["e6", 2]
    assert rose.kept
    assert carnation.kept
    seen = {("e5", 1): 0.45, ("e6", 1): 0.0, ("e6", 2): 0.3}
    out = {key: kept.out for key, kept in bring_out([rose, carnation, other], seen, None).items()}
    assert set(out) == {("e5", 1), ("e6", 1)}
    assert out["e6", 1] - carnation.kept.out > 1.5 * (out["e5", 1] - rose.kept.out) > 0
    far = replace(carnation, kept=carnation.kept.model_copy(update={"out": 1.2}))
    assert not bring_out([far], seen, None)
    for start, end in ((0.97, 1.0), (0.6, 0.68)):  # one that is to stay inside the outline comes out as far as that
        within = replace(
            carnation,
            entry=carnation.entry.model_copy(update={"outline": entry.Outline.INSIDE}),
            kept=carnation.kept.model_copy(update={"out": start}),
        )
        assert bring_out([within], seen, None)["e6", 1].out == pytest.approx(end)
    assert not bring_out([replace(within, kept=carnation.kept.model_copy(update={"out": 1.0}))], seen, None)
    pinned = replace(carnation, entry=carnation.entry.model_copy(update={"kept": (carnation.kept,)}))
    assert not bring_out([pinned], seen, None)
    tucked = carnation.entry.model_copy(update={"meant": Meant(depth=Depth(kind=DepthKind.TUCKED))})
    assert get_least_seen(replace(carnation, entry=tucked)) == 0 < get_least_seen(carnation) < get_least_seen(rose)
    moss = next(each for each in CATALOGUE.materials.values() if each.is_laid)
    assert get_least_seen(replace(rose, material=moss)) == 0  # it lies where it lies, though the piece be made for it
    cross = next(each for each in get_recipes() if each.family == "evening-bell")
    bow = next(each for each in work_out(cross, CATALOGUE, RULES).build.places if each.entry.role is Role.TOKEN)
    assert get_least_seen(bow) == get_least_seen(rose)
    assert get_least_seen(replace(bow, entry=carnation.entry)) == 0  # where it is not what the piece is made for


def test_what_is_hidden_brings_its_own_partner_out_with_it_and_no_other() -> None:
    places = {(each.entry.id, each.number): each for each in VASE.places}
    hidden, partner, other = places["e6", 1], places["e6", 2], places["e5", 1]
    mirror = Vec(-1.0, 1.0, 1.0)
    across = hidden.tip.times(mirror)
    seen = {("e5", 1): 0.9, ("e6", 1): 0.0, ("e6", 2): 0.9}
    pair = [hidden, replace(partner, tip=across), replace(other, tip=across)]
    assert set(bring_out(pair, seen, mirror)) == {("e6", 1), ("e6", 2)}
    assert set(bring_out(pair, seen, None)) == {("e6", 1)}


def test_the_middle_of_a_head_counts_of_what_is_seen_of_it() -> None:
    """A disc 10 cm wide under one of 2 cm, from above: a twenty-fifth of it is hidden."""
    focal = DISC.entry.model_copy(update={"role": Role.FOCAL, "id": "e99"})
    below, above = replace(put(DISC, 0, 0, 10.0), entry=focal), put(DISC, 0, 0, 2.0, z=9.0)
    assert 0.85 < get_seen([below, above], ABOVE.values())["e99", below.number] < 1.0


def test_what_a_piece_is_made_for_is_looked_at_from_every_side_and_told_from_its_best() -> None:
    """By hand: 8 cm over it a disc lies 11 cm aside, over half of it for an eye 37° off, over none from above."""
    focal = DISC.entry.model_copy(update={"role": Role.FOCAL, "id": "e99"})
    below, above = replace(put(DISC, 0, 0, 10.0), entry=focal), put(DISC, 11.0, 0, 10.0, z=13.0)
    aslant = Vec(0.6, 0.0, 0.8)
    assert 0.5 < get_seen([below, above], [aslant])["e99", below.number] < 0.8
    assert get_seen([below, above], [aslant, UP])["e99", below.number] == 1.0


def test_a_head_before_the_rim_hides_it_and_one_behind_it_does_not() -> None:
    front = {"front": Vec(0.0, -1.0, 0.0)}
    reach = VASE.container.mouth_cm / 2 + 1.0

    def see(y: float) -> float:
        head = replace(put(DISC, 0, y, 4 * reach, z=-0.5), facing=Vec(0.0, -1.0, 0.0))
        return get_rim_seen((head,), VASE.container, front)["front"]

    assert get_rim_seen((), VASE.container, front)["front"] == 1.0
    assert see(-reach) < 0.05
    assert see(reach) == 1.0


OPEN = [recipe for recipe in get_recipes() if FORMS[recipe.form].lies or not FORMS[recipe.form].covers]


@pytest.mark.parametrize("recipe", OPEN, ids=lambda recipe: recipe.name)
def test_nobody_is_told_that_a_piece_that_is_meant_to_be_open_can_be_looked_through(recipe: Recipe) -> None:
    assert [sight.gaps for sight in work_out(recipe, CATALOGUE, RULES).build.sights if sight.gaps] == []


@pytest.mark.parametrize("family", ["quiet-water", "driftline"])
def test_what_is_paid_for_is_seen_in_a_piece_that_is_placed_from_nothing(family: str) -> None:
    """What it is made for by half, every other flower by a fifth, from the side that it is seen best from: common
    practice, no published source. Both hide three of theirs and more, as they are first laid."""
    recipe = next(each for each in get_recipes() if each.family == family)
    build = work_out(
        recipe.change(entries=[{**each.model_dump(), "kept": ()} for each in recipe.entries]), CATALOGUE, RULES
    ).build
    main = {entry.id for entry in recipe.entries if entry.role in {Role.FOCAL, Role.TOKEN}}
    assert len(build.seen) > 20
    assert [key for key, share in build.seen.items() if share < (0.5 if key[0] in main else 0.2)] == []
