"""What is measured on a piece, by hand: cover and its largest gap, what is seen from where, weight and balance, water,
times, ribbon and the foam's holes."""

import math
from dataclasses import replace
from datetime import datetime, timedelta
from decimal import Decimal
from fractions import Fraction

import pytest
from shapely import Polygon

from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.container import ContainerKind
from mirvel.core.goods.facts import HeadForm
from mirvel.core.goods.material import StemKind
from mirvel.core.house.design import SeenFrom
from mirvel.core.house.rules import HouseRules
from mirvel.core.making.bases import find_mouth_capacity, get_base_plan
from mirvel.core.making.cuts import Cut, get_cuts, get_inside_cut, get_vase_cuts
from mirvel.core.making.ribbon import fit_ribbon, measure_cm
from mirvel.core.making.sight import Sight, get_sides
from mirvel.core.making.standing import get_hang_cm, get_stand, get_standing
from mirvel.core.making.timeline import find_timeline
from mirvel.core.making.water import get_blade_in_water_cm, get_foam_water, get_uptake_ml
from mirvel.core.placing.places import Extent, Place
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.service import Service
from mirvel.core.recipe.taking import take
from mirvel.core.space.vectors import UPRIGHT, Vec
from mirvel.core.vessels.hollows import Hollow, get_foam
from mirvel.demo import RULES, get_catalogue, get_recipes
from tests.builds import work_out

BUILD = work_out(next(each for each in get_recipes() if each.family == "haven"), get_catalogue(), HouseRules()).build
DISC = next(place for place in BUILD.places if place.material.form is HeadForm.DAISY)
LEAF = next(place for place in BUILD.places if place.material.is_leaf)
SURFACE = BUILD.sizing.surface
SLIPWAY = work_out(
    next(each for each in get_recipes() if each.family == "slipway"), get_catalogue(), HouseRules()
).build
SPIKE = next(each for each in SLIPWAY.places if each.material.is_axial and not each.material.is_leaf)


def put(x: float, y: float, z: float = 0.0, wide: float = 4.0, of: Place = DISC) -> Place:
    """A disc facing up over a point."""
    head = replace(of.head, width_cm=wide)
    return replace(of, head=head, tip=Vec(x, y, z + 3.0), facing=Vec(0, 0, 1), start=Vec(x, y, z), entry=DISC.entry)


def cut(place: Place, inside_cm: float = 3.0, long_cm: float = 10.0, end: Vec | None = None) -> Cut:
    down = end or place.start.plus(Vec(0, 0, -1), inside_cm)
    return Cut(place, long_cm - inside_cm, inside_cm, long_cm, down)


def test_a_piece_that_lies_is_seen_from_four_sides_square_to_one_another_and_from_above() -> None:
    looks = get_sides(FORMS["all-round dome"], SeenFrom.ALL_ROUND)
    front, right, back, left, above = (looks[name] for name in ("front", "right", "back", "left", "above"))
    assert front.x == pytest.approx(0)
    assert right.y == pytest.approx(0)
    assert front.y < 0 < right.x
    for one, other in ((front, back), (right, left)):
        assert one.x == pytest.approx(-other.x)
        assert one.y == pytest.approx(-other.y)
    assert {look.z for look in (front, right, back, left)} == {0.0}  # level, as the drawing is
    assert above == Vec(0, 0, 1)
    assert all(look.length == pytest.approx(1) for look in looks.values())
    assert set(get_sides(FORMS["all-round dome"], SeenFrom.FRONT)) == {"front", "right", "left", "above"}
    hung = get_sides(FORMS["cross"], SeenFrom.FRONT)
    assert hung["front"] == Vec(0, 0, 1)
    assert [math.degrees(math.acos(hung[side].z)) for side in ("left", "right")] == pytest.approx([25, 25])
    assert hung["left"].x == -hung["right"].x < 0
    assert [look.y for look in hung.values()] == [0, 0, 0]
    assert all(look.length == pytest.approx(1) for look in hung.values())


def test_a_sight_of_a_mirrored_piece_has_its_sides_and_spots_exchanged() -> None:
    seen = Sight("left", 0.2, 30.0, Vec(3, 1, 2), 0.1, Vec(-4, 0, 5)).across()
    assert seen == Sight("right", 0.2, 30.0, Vec(-3, 1, 2), 0.1, Vec(4, 0, 5))
    assert Sight("above").across() == Sight("above")


def test_ribbon_by_hand() -> None:
    """A ribbon 100 by 7 cm: 4 cm free at either end leave 92; capitals 0.45 of its width are 3.15 cm."""
    line = fit_ribbon("IN MEMORY", 100, 7)
    assert line.room_cm == pytest.approx(92)
    assert line.capital_cm == pytest.approx(3.15)
    assert measure_cm("IN MEMORY", 6.3) == pytest.approx(2 * line.length_cm)
    assert line.fits
    assert not fit_ribbon("IN MEMORY" * 12, 100, 7).fits
    assert fit_ribbon("", 5, 7).room_cm == 0
    assert replace(line, length_cm=92).fits
    assert not replace(line, length_cm=92.1).fits


def test_what_hangs_hangs_by_its_top_or_its_cage_and_clear_of_the_ground(catalogue: Catalogue) -> None:
    """By hand: a frame 76 high on a stand of 150 has its middle 38 under its top, at 112; a cage is tied at 0.82 of
    it, 123; nothing comes nearer to the ground than 8 cm; without a stand it leans on the ground."""
    frame = catalogue.containers["cross-frame-76"]
    cage = next(each for each in catalogue.containers.values() if each.kind is ContainerKind.SPRAY_CAGE)
    reach = Extent(-30, 30, -5, 5, 40, -40)
    assert get_hang_cm(150, frame, reach) == pytest.approx(150 - frame.halves_cm[1])
    assert get_hang_cm(150, cage, reach) == pytest.approx(123)
    assert get_hang_cm(60, cage, replace(reach, bottom=-55)) == pytest.approx(63)
    assert get_hang_cm(0, frame, reach) == 40


@pytest.mark.parametrize("family", ["evening-bell", "still-harbour", "long-shore"])
def test_a_piece_that_hangs_is_as_high_as_its_stand_or_its_highest_flower(family: str) -> None:
    piece = next(each for each in get_recipes() if each.family == family)
    plain = piece.change(hard_goods=[])
    for recipe in (piece, plain):
        build = work_out(recipe, get_catalogue(), HouseRules()).build
        flowers = build.table_cm + max(place.tip.y for place in build.places)
        assert build.overall_height_cm >= max(build.stand_cm, flowers - 1e-6)
        assert build.overall_height_cm <= max(build.stand_cm, flowers + 10)


def test_a_stand_is_the_tallest_of_those_charged_and_none_where_none_is(catalogue: Catalogue, slipway: Recipe) -> None:
    stands = [good for good in catalogue.hard_goods.values() if good.stand_cm]
    charged = [{"hard_good": good.slug, "quantity": 1} for good in stands]
    assert get_stand(take(slipway, catalogue)).height_cm == 0
    assert get_stand(take(slipway.change(hard_goods=charged), catalogue)).height_cm == max(
        each.stand_cm or 0 for each in stands
    )


def test_weights_and_balance_of_a_frame_by_hand(catalogue: Catalogue) -> None:
    """Foam and frame about the middle of the foam. A stem 6 mm thick and 10 cm long weighs π·0.3²·10 = 2.83 g about
    its own middle, a head 0.35 g for each cm² at its tip."""
    pad = catalogue.containers[BUILD.container.slug]
    bed = BUILD.bed
    assert bed is not None
    middle = (bed.top_z + bed.bottom_z) / 2
    bare = get_standing(pad, (), 500.0, 0.0, UPRIGHT, 5.0, RULES)
    assert bare.weight_g == pytest.approx(500 + pad.empty_weight_g)
    assert bare.gravity_up_cm == pytest.approx(5 + middle)
    place = put(0, 0, z=bed.top_z, wide=8.0)
    place = replace(place, material=place.material.model_copy(update={"stem_diameter_mm": 6.0}))
    flowered = get_standing(pad, (cut(place),), 500.0, 0.0, UPRIGHT, 5.0, RULES)
    stem, head = math.pi * 0.09 * 10, 0.35 * math.pi * 16
    weight = bare.weight_g + stem + head
    assert flowered.weight_g == pytest.approx(weight)
    moment = bare.weight_g * middle + stem * (place.start.z + 1.5) + head * place.tip.z
    assert flowered.gravity_up_cm == pytest.approx(5 + moment / weight)


@pytest.mark.parametrize(("foam_g", "minutes"), [(0, 0), (400, 5), (500, 5), (501, 10), (1200, 15), (3000, 30)])
def test_foam_drains_ten_minutes_a_litre_told_in_fives(catalogue: Catalogue, foam_g: float, minutes: int) -> None:
    pad = catalogue.containers[BUILD.container.slug]
    assert get_standing(pad, (), foam_g, 0.0, UPRIGHT, 5.0, RULES).drain_minutes == minutes
    assert get_standing(catalogue.containers["cube-10"], (), foam_g, 0.0, UPRIGHT, 5.0, RULES).drain_minutes == 0


def test_a_frame_is_tied_in_three_places_and_a_tall_one_at_its_foot_too(catalogue: Catalogue) -> None:
    """At least three: common practice, no published source; its foot beyond 60 cm: assumption of ours."""
    tall = catalogue.containers["cross-frame-76"]
    assert len(get_standing(tall, (), 0.0, 150.0, UPRIGHT, 5.0, RULES).ties) == 4
    assert len(get_standing(catalogue.containers["cross-foam-60"], (), 0.0, 150.0, UPRIGHT, 5.0, RULES).ties) == 3
    assert get_standing(tall, (), 0.0, 0.0, UPRIGHT, 5.0, RULES).ties == ()


@pytest.mark.parametrize(("ties", "warned"), [(0, True), (2, True), (3, False)])
def test_a_frame_that_is_tied_less_than_three_times_is_told(catalogue: Catalogue, ties: int, warned: bool) -> None:
    """At least three: common practice, no published source."""
    bell = next(each for each in get_recipes() if each.family == "evening-bell")
    own = [use.model_dump() for use in bell.hard_goods if not catalogue.hard_goods[use.hard_good].is_tie]
    tie = next(slug for slug, good in catalogue.hard_goods.items() if good.is_tie)
    recipe = bell.change(hard_goods=[*own, *([{"hard_good": tie, "quantity": ties}] if ties else [])])
    checks = {check.id for check in work_out(recipe, catalogue, HouseRules()).checks}
    assert ("ties" in checks) is warned


def test_water_by_hand() -> None:
    """A head 10 cm across shows 78.5 cm² and drinks 7.85 ml a day, a leafy stem 1 ml; of a litre of foam 760 ml."""
    head, leaf = put(0, 0, wide=10.0), put(0, 0, of=LEAF)
    assert get_uptake_ml(head, RULES) == pytest.approx(7.854, abs=0.001)
    assert get_uptake_ml(leaf, RULES) == 1.0
    dry = replace(head, material=head.material.model_copy(update={"kind": StemKind.ARTIFICIAL}))
    assert get_uptake_ml(dry, RULES) == 0
    thirsty = RULES.change(head_drinks_ml=0.2, leaf_drinks_ml=3, foam_holds=1, foam_gives=0.5)
    assert get_uptake_ml(head, thirsty) == pytest.approx(15.708, abs=0.001)
    measured = replace(leaf, material=leaf.material.model_copy(update={"drinks_ml": 12.5}))
    assert get_uptake_ml(measured, thirsty) == 12.5, "what a shop measured itself counts"
    assert get_foam_water((cut(leaf),), 1000.0, thirsty).days == pytest.approx(500 / 3)
    water = get_foam_water((cut(head), cut(leaf)), 1000.0, RULES)
    assert water.held_ml == pytest.approx(760)
    assert water.a_day_ml == pytest.approx(8.854, abs=0.001)
    assert water.days == pytest.approx(760 / 8.854, abs=0.01)


def test_times_are_worked_back_from_the_first_a_family_sees() -> None:
    """By hand: seen at 11:02; half an hour's way and 15 minutes to load: 10:17; drained 20 minutes: 9:57; 40 minutes at
    the bench and 30 in reserve: 8:47, so 8:45; conditioned 12 hours: 20:45 the day before."""
    told = Service(
        visitation=datetime(2026, 3, 2, 11, 2), committal=datetime(2026, 3, 3, 11), stays_days=2, travel_minutes=30
    )
    found = find_timeline(told, Decimal(40), 20, 12)
    assert found is not None
    assert [moment.at.strftime("%d %H:%M") for moment in found.moments] == [
        "01 20:45", "02 08:45", "02 09:57", "02 10:17", "02 11:02", "03 11:00", "05 11:00",
    ]  # fmt: skip
    assert found.days == pytest.approx(3 + 63 / 1440, abs=0.01)
    for now, past in ((1, 0), (21, 1), (33, 2), (34.9, 4), (35.1, 0)):  # hours from the first of March
        missed = found.find_missed(datetime(2026, 3, 1) + timedelta(hours=now))
        assert missed == tuple(reversed(found.moments[:past]))
    undrained = find_timeline(told, Decimal(40), 0, 12)
    assert undrained is not None
    assert len(undrained.moments) == 6
    assert find_timeline(Service(), Decimal(40), 20, 12) is None


def test_holes_are_counted_and_what_is_too_near_or_runs_through_another_is_found(
    catalogue: Catalogue, slipway: Recipe
) -> None:
    """By hand: stems 5 mm thick 3 cm apart, then 6 mm apart, of which 1 mm is wall: less than 2. Two that cross."""

    def plan(*cuts: Cut) -> tuple[float, int, int]:
        foam = get_base_plan(in_foam, bowl, cuts).foam
        assert foam is not None
        return round(foam.nearest_cm, 6), foam.too_close, foam.through

    def thin(x: float, end: Vec | None = None) -> Cut:
        place = put(x, 0)
        material = place.material.model_copy(update={"stem_diameter_mm": 5.0})
        return cut(replace(place, material=material), end=end)

    bowl = next(each for each in catalogue.containers.values() if each.kind is ContainerKind.LOW_BOWL)
    in_foam = slipway.change(container=bowl.slug, mechanics="foam", foam_above_rim_cm=0)
    assert plan(thin(0)) == (0.0, 0, 0)
    assert plan(thin(0), thin(3)) == (3.0, 0, 0)
    assert plan(thin(0), thin(0.6), thin(3)) == (0.6, 1, 0)
    assert plan(thin(0), thin(0.71)) == (0.71, 0, 0)
    assert plan(thin(-1, Vec(1, 0, -3)), thin(1, Vec(-1, 0, -3))) == (2.0, 0, 1)
    foam = get_base_plan(in_foam, bowl, (thin(0), thin(0.3), thin(4))).foam
    assert foam is not None
    assert dict(foam.holes) == {"centre": 2, "edge": 1, "sides": 0}
    for share, zone in ((0.4, "centre"), (0.5, "edge")):  # of the foam's half width
        there = get_base_plan(in_foam, bowl, (thin(share * foam.top_cm[0] / 2),)).foam
        assert there is not None
        assert dict(there.holes)[zone] == 1
    assert foam.soaked_g == pytest.approx(foam.volume_ml)
    assert foam.bricks >= Fraction(1, 12)
    (wide, deep), (foot, _), high = foam.top_cm, foam.foot_cm, foam.height_cm
    assert deep <= wide
    assert min(wide, foot) ** 2 * high * 0.7 < foam.volume_ml < max(wide, foot) ** 2 * high


def test_foam_in_a_frame_is_as_wide_at_its_foot_as_at_its_top_and_comes_out_of_whole_bricks_cut_up() -> None:
    """A brick of 23 × 11 × 8 cm, common practice, no published source; none where a frame comes with its foam."""
    for recipe in (each for each in get_recipes() if each.family in {"still-harbour", "evening-bell", "driftline"}):
        build = work_out(recipe, get_catalogue(), RULES).build
        foam = build.base.foam
        assert foam is not None
        assert foam.foot_cm == foam.top_cm
        for size, half in zip(foam.top_cm, build.container.halves_cm, strict=True):
            assert 0 < size <= 2 * half + 1e-6
        bricks_ml = 0.0 if build.container.foam_included else foam.volume_ml
        assert float(foam.bricks) * 23 * 11 * 8 == pytest.approx(bricks_ml, rel=0.01)


@pytest.mark.parametrize("slug", ["bowl-22", "cube-10", "basket-oval-30", "dish-oval-30"])
def test_a_block_holds_what_its_slices_add_up_to(catalogue: Catalogue, slipway: Recipe, slug: str) -> None:
    """Against shapely: the sections of round, square and oval foam, from its foot to its top."""
    foam = get_foam(catalogue.containers[slug], 2.0)
    ways = [Vec(math.sin(turn / 99), math.cos(turn / 99), 0.0) for turn in range(622)]
    step = (foam.top_z - foam.bottom_z) / 40
    slices = [
        Polygon([way.scaled(foam.get_edge_distance(way, foam.bottom_z + (number + 0.5) * step))[:2] for way in ways])
        for number in range(40)
    ]
    recipe = slipway.change(container=slug, mechanics="foam", foam_above_rim_cm=2)
    plan = get_base_plan(recipe, catalogue.containers[slug], (cut(put(0, 0)),)).foam
    assert plan is not None
    assert plan.volume_ml == pytest.approx(step * sum(each.area for each in slices), rel=0.01)


@pytest.mark.parametrize("family", ["still-harbour", "driftline", "haven"])
def test_the_holes_of_a_frame_are_all_counted_at_its_top_or_its_sides(family: str, catalogue: Catalogue) -> None:
    """What goes in as high as the highest goes in at the top, which is flat; all else at the sides."""
    found = work_out(next(each for each in get_recipes() if each.family == family), catalogue, HouseRules()).build
    foam, starts = found.base.foam, [each.place.start.z for each in found.cuts]
    on_top = sum(z > max(starts) - 0.01 for z in starts)
    assert foam is not None
    assert dict(foam.holes) == {"top": on_top, "sides": len(starts) - on_top}
    assert 0 < on_top < len(starts)


def test_vases_side_by_side_tip_over_the_edge_of_one_of_them(catalogue: Catalogue) -> None:
    """By hand: three feet of 6.4 cm in a row, 13 cm high, empty: the tangent is 3.2 over the height of their middle."""
    trio = catalogue.containers["bud-trio"].change(water_ml=0)
    stands = get_standing(trio, (), 0.0, 0.0, UPRIGHT, trio.height_cm, HouseRules())
    assert stands.to_edge_cm == pytest.approx(3.2)
    assert stands.tip_deg == pytest.approx(math.degrees(math.atan(3.2 / stands.gravity_up_cm)))


def test_a_blade_is_swirled_as_far_as_it_is_long_and_from_the_floor_to_the_rim_at_least() -> None:
    glass = Hollow(5.0, 5.0, 0.0, -20.0, square=False)
    head = replace(LEAF.head, form=HeadForm.BLADE, stem_length_cm=75.0)
    blade = replace(LEAF, material=LEAF.material.change(form=HeadForm.BLADE), tip=Vec(0, 0, -3.0))
    for long_cm, cut_cm in ((60.0, 60.0), (10.0, 20.0), (90.0, 75.0)):
        assert get_inside_cut(replace(blade, head=replace(head, length_cm=long_cm)), glass, 0.5).cut_cm == cut_cm
    leaf = replace(LEAF, head=replace(LEAF.head, stem_length_cm=75.0), tip=Vec(0, 0, -3.0))
    whole = get_inside_cut(leaf, glass, 0.5)
    assert (whole.visible_cm, whole.inside_cm, whole.cut_cm) == (0.0, 17.0, 17.0)


def test_a_stem_that_is_just_long_enough_is_not_too_long_for_what_was_bought() -> None:
    place = put(0, 0)
    most = place.head.stem_length_cm - place.head.length_cm
    assert [cut(place, long_cm=most + more).is_too_long for more in (-0.5, 0.0, 0.5)] == [False, False, True]


def test_only_what_a_cut_leaves_of_a_blade_below_the_water_stands_in_it(catalogue: Catalogue) -> None:
    """By hand: 20 cm of glass filled to 15, straight. A leaf that shows 12 cm and goes 18 cm down stands 13 cm in the
    water: with a blade of 40 cm all of that, of 22 cm the 5 that reach so far, of 17 cm none; if laid level, none."""
    cube = catalogue.containers["cube-10"].change(depth_cm=20, height_cm=20, mouth_cm=10, base_cm=10.4, water_ml=1500)
    for blade_cm, wet_cm in ((40.0, 13.0), (22.0, 5.0), (17.0, 0.0)):
        leaf = replace(LEAF, head=replace(LEAF.head, length_cm=blade_cm), start=Vec(0, 0, 0), tip=Vec(0, 0, 12.0))
        assert get_blade_in_water_cm(cut(leaf, 18.0, 30.0), cube) == pytest.approx(wet_cm, abs=0.1)
        assert get_blade_in_water_cm(replace(cut(leaf, 18.0, 30.0), end=Vec(5, 0, 0)), cube) == 0.0


@pytest.mark.parametrize("family", ["still-harbour", "long-shore", "fender"])
def test_what_hangs_lies_on_its_back_while_it_is_made_and_what_stands_is_made_standing(family: str) -> None:
    recipe = next(each for each in get_recipes() if each.family == family)
    build = work_out(recipe, get_catalogue(), RULES).build
    hung, laid = build.extent, build.bench_extent
    if family == "fender":
        assert laid == hung
        return
    assert (laid.left, laid.right) == pytest.approx((hung.left, hung.right))
    assert (laid.front, laid.back) == pytest.approx((hung.bottom, hung.top))
    assert (laid.bottom, laid.top) == pytest.approx((-hung.back, -hung.front))


@pytest.mark.parametrize(
    ("shape", "stem_mm", "passes"),
    [("round", 100.0, 1), ("round", 50.0, 2), ("round", 33.3, 7), ("square", 50.0, 4), ("square", 33.3, 9)],
)
def test_as_many_stems_pass_a_mouth_as_circles_lie_in_it(
    catalogue: Catalogue, shape: str, stem_mm: float, passes: int
) -> None:
    """One circle in a circle, two of half its width, seven of a third: the known packings of circles in a circle; in a
    square four of half its side, nine of a third."""
    vase = next(each for each in catalogue.containers.values() if each.kind is ContainerKind.CYLINDER)
    vase = vase.change(mouth_cm=10.0, shape=shape)
    place = put(0, 0)
    thick = replace(place, material=place.material.model_copy(update={"stem_diameter_mm": stem_mm}))
    inside = find_mouth_capacity(vase, (cut(thick),))
    assert inside is not None
    assert abs(inside - passes) <= 1
    assert find_mouth_capacity(vase, ()) is None


def test_a_stem_beside_a_waist_is_drawn_in_by_it(slipway: Recipe, catalogue: Catalogue) -> None:
    """Standing along its own wall: a straight one takes it to the floor beside it, a waist sends it across."""
    tube, waist = (Hollow(5.0, 5.0, 0.0, -20.0, square=False, belly_cm=belly) for belly in (0.0, -2.0))
    place = replace(put(4.6, 0), tip=Vec(4.8, 0.0, 12.0))
    straight, drawn_in = (get_vase_cuts([place], inside, 2.5, 0.5)[0] for inside in (tube, waist))
    assert straight.end.x == pytest.approx(4.6 - 0.2 / 12 * 20, abs=0.1)
    assert straight.end.z == pytest.approx(-20)
    assert drawn_in.end.x < 2.0
    neck = Hollow(5.0, 9.0, 0.0, -20.0, square=False, necked=True)
    assert [neck.get_half_width(z) for z in (-6.9, -11.0, -15.1)] == pytest.approx([5.0, 7.0, 9.0])
    (beside,) = get_vase_cuts([replace(place, tip=Vec(3.4, 0.0, 12.0))], neck, 2.5, 0.5)
    assert beside.end == pytest.approx((4.6 + 0.25 / 7 * 20, 0.0, -20.0), abs=0.01), "past the end of the neck"
    (flat,) = get_vase_cuts([replace(put(-3, 0), tip=Vec(-34.0, 0.0, 3.0))], neck, 9.0, 0.5)
    assert flat.end == pytest.approx((3 / 7 * 20 - 3, 0.0, -20.0)), "through the middle of the neck's end"
    assert get_cuts((), slipway, catalogue.containers[slipway.container], 0.5) == ()


def test_a_stem_too_flat_to_drink_is_bent_and_ends_at_the_far_wall_where_it_does() -> None:
    """By hand, a tube 10 cm wide, 9.5 across from the stem: bent to 45° it is 9.5 cm under at the far wall; where it
    must go 12 cm under, it ends at the wall there."""
    tube = Hollow(5.0, 5.0, 0.0, -20.0, square=False)
    flat = replace(put(-4.5, 0), tip=Vec(-34.0, 0.0, 3.0))
    shallow, deep, free = (get_vase_cuts([flat], tube, drop_cm, 0.5)[0].end for drop_cm in (8.0, 12.0, 1.0))
    assert shallow.minus(Vec(5.0, 0.0, -9.5)).length < 1e-6
    assert deep.minus(Vec(5.0, 0.0, -12.0)).length < 1e-6
    assert free.z == pytest.approx(-9.5 / math.tan(math.radians(75)))
