"""How a piece stands and drinks by hand, and the laws of its stems: where they stand, and what each is cut from."""

import math
from dataclasses import replace
from decimal import Decimal

import pytest

from mirvel.core.card.cutting_plan import get_cutting_plan
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.facts import PieceSize
from mirvel.core.house.terms import PiecePolicy
from mirvel.core.making.build import Build, get_build
from mirvel.core.making.cuts import Cut
from mirvel.core.making.standing import get_standing
from mirvel.core.making.water import get_foam_water, get_uptake_ml, get_vase_water
from mirvel.core.pricing.pricing import get_money
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.core.space.vectors import UPRIGHT, Vec
from mirvel.demo import RULES, get_catalogue, get_recipes
from tests.builds import some, work_out

RECIPES = get_recipes()
UPRIGHT_ONES = [recipe for recipe in RECIPES if recipe.family in {"slipway", "fender", "breakwater", "three-buoys"}]


def build(recipe: Recipe) -> Build:
    return work_out(recipe, get_catalogue(), RULES).build


def test_a_vase_balances_about_its_water_and_a_stand_lifts_that(catalogue: Catalogue) -> None:
    """By hand: 900 g about the middle of 20 cm; 600 g of stand, 100 cm high, about its own: 26 cm is
    (900 × 10 + 600 × 50) / 1500. 800 ml in a straight cube of 10 cm inside stand 8 cm deep, their middle at 4: 7.18 cm
    is (900 × 10 + 800 × 4) / 1700. It tips by the angle whose tangent is half its foot over that height."""
    vase = catalogue.containers["cube-10"].change(
        empty_weight_g=900, depth_cm=20, height_cm=20, mouth_cm=10, base_cm=10.4, water_ml=0
    )
    plain = get_standing(vase, (), 0.0, 0.0, UPRIGHT, 20.0, RULES)
    assert (plain.weight_g, plain.gravity_up_cm) == (900, 10)
    assert plain.tip_deg == pytest.approx(math.degrees(math.atan(5.2 / 10)))
    stood = get_standing(vase, (), 0.0, 100.0, UPRIGHT, 20.0, RULES)
    assert [stood.weight_g, stood.gravity_up_cm] == pytest.approx([1500, 26])
    soaked = get_standing(vase.change(water_ml=800), (), 1000.0, 0.0, UPRIGHT, 20.0, RULES)
    assert (soaked.weight_g, soaked.gravity_up_cm) == (1900, 10), "what is in the foam is all its water"
    assert [soaked.get_people(limit) for limit in (15, 1.9, 1.0, 0.5)] == [1, 1, 2, 4]
    filled = get_standing(vase.change(water_ml=800), (), 0.0, 0.0, UPRIGHT, 20.0, RULES)
    assert [filled.weight_g, filled.gravity_up_cm] == pytest.approx([1700, 12_200 / 1700], rel=1e-3)


def test_what_leans_out_falls_over_the_edge_it_leans_to(slipway: Recipe) -> None:
    """By hand: the moment of every head about the middle, over the whole weight, is how far the weight is off it; the
    foot is a disc."""
    made = build(slipway)
    one_side = tuple(cut for cut in made.cuts if cut.place.tip.x > 3)
    container = made.container.change(base_cm=10)
    leaning = get_standing(container, one_side, 0.0, 0.0, UPRIGHT, made.table_cm, RULES)
    moment = sum(
        cut.place.head.footprint_cm2 * 0.35 * cut.place.tip.x
        + math.pi
        * (cut.place.material.stem_diameter_mm / 20) ** 2
        * cut.cut_cm
        * (cut.place.start.x + cut.place.tip.x)
        / 2
        for cut in one_side
    )
    right, away = leaning.gravity_off_cm
    assert right == pytest.approx(moment / leaning.weight_g)
    assert right > 0.3, "it leans"
    assert leaning.to_edge_cm == pytest.approx(5 - math.hypot(right, away))
    mirrored = get_standing(
        container, tuple(cut.across(1) for cut in one_side), 0.0, 0.0, UPRIGHT, made.table_cm, RULES
    )
    assert mirrored.gravity_off_cm == pytest.approx((-right, away))
    assert mirrored.tip_deg == pytest.approx(leaning.tip_deg)
    upright = get_standing(container, made.cuts, 0.0, 0.0, UPRIGHT, made.table_cm, RULES)
    assert leaning.tip_deg < upright.tip_deg


def test_foam_is_dry_when_it_has_given_what_it_holds(slipway: Recipe) -> None:
    """By hand: half the foam, or twice the stems, is half the days; nothing drinks where there is no stem."""
    cuts = build(slipway).cuts
    foam = get_foam_water(cuts, 1000.0, RULES)
    assert 500 < foam.held_ml < 1000, "foam holds less than its volume, and gives up most of it"
    assert foam.days == pytest.approx(foam.held_ml / sum(get_uptake_ml(cut.place, RULES) for cut in cuts))
    assert get_foam_water(cuts, 500.0, RULES).days == pytest.approx((foam.days or 0) / 2)
    assert get_foam_water((*cuts, *cuts), 1000.0, RULES).days == pytest.approx((foam.days or 0) / 2)
    assert get_foam_water((), 1000.0, RULES).days is None


def test_a_vase_is_dry_when_its_first_stem_hangs_in_air(slipway: Recipe, catalogue: Catalogue) -> None:
    """By hand, in a straight cube of 10 cm inside: 1,500 ml stand 15 cm deep, 5 under the rim. With the highest end
    8 cm under the rim there are 300 ml over it, of which 20 a day evaporate off 100 cm² (2 mm a day, an assumption)."""
    cube = catalogue.containers["cube-10"].change(
        depth_cm=20, height_cm=20, mouth_cm=10, base_cm=10.4, belly_cm=None, water_ml=1500
    )
    ends = [(-8.0, 1), (-20.0, 2), (-12.0, 3)]
    cuts = [replace(cut, end=Vec(0, 0, z)) for cut, (z, _) in zip(build(slipway).cuts[-3:], ends, strict=True)]
    a_day = sum(get_uptake_ml(cut.place, RULES) for cut in cuts)
    water = get_vase_water(cuts, cube, RULES)
    assert water.days == pytest.approx(300 / (a_day + 20), rel=1e-3)
    assert water.first is cuts[0].place
    assert get_vase_water(cuts[1:], cube, RULES).first is cuts[2].place
    deep = [replace(cut, end=Vec(0, 0, -20)) for cut in cuts]
    assert get_vase_water(deep, cube, RULES).days == pytest.approx(1500 / (a_day + 20), rel=1e-3)
    assert get_vase_water(cuts, cube.change(water_ml=1100), RULES).days == 0, "an end that hangs in air is dry at once"
    assert get_vase_water((), cube, RULES).days is None


def test_of_vases_side_by_side_the_first_that_is_dry_counts() -> None:
    trio = next(recipe for recipe in RECIPES if recipe.family == "three-buoys")
    made = build(trio)
    each = [
        get_vase_water([cut for cut in made.cuts if cut.place.vessel == vessel], made.container, RULES)
        for vessel in (0, 1, 2)
    ]
    assert made.water.days == min(water.days or 0 for water in each)
    assert made.water.a_day_ml == pytest.approx(sum(water.a_day_ml for water in each))


@pytest.mark.parametrize("recipe", UPRIGHT_ONES, ids=lambda each: each.family)
def test_a_standing_piece_is_as_tall_as_its_vessel_and_what_rises_above_it(recipe: Recipe) -> None:
    made = build(recipe)
    rim, above = made.container.rim_height_cm, max(place.tip.z for place in made.places)
    widest = max(place.head.width_cm for place in made.places)
    assert rim + above <= made.overall_height_cm + 1e-9
    assert made.overall_height_cm <= rim + above + widest / 2, "no head rises further over its tip than half its width"
    size = recipe.size.model_dump()
    taller = build(recipe.change(size={**size, "rule": {**size["rule"], "factor": size["rule"]["factor"] + 0.3}}))
    assert taller.overall_height_cm > made.overall_height_cm
    assert taller.table_cm == made.table_cm == rim


def test_every_stem_of_a_trio_stands_in_its_own_vase() -> None:
    trio = next(recipe for recipe in RECIPES if recipe.family == "three-buoys")
    made = build(trio)
    offsets = made.container.vessel_offsets
    assert len(set(offsets)) == 3
    for cut in made.cuts:
        middle = offsets[cut.place.vessel]
        assert abs(cut.place.start.x - middle) <= made.container.mouth_cm / 2 + 1e-6
        assert abs(cut.end.x - middle) <= made.container.base_cm / 2 + made.container.mouth_cm / 2
    assert {cut.place.vessel for cut in made.cuts} == {0, 1, 2}


@pytest.mark.parametrize("recipe", some(RECIPES), ids=lambda each: each.name)
def test_the_cutting_plan_cuts_every_piece_once_and_no_stem_twice(recipe: Recipe) -> None:
    taken = take(recipe, get_catalogue())
    made = get_build(taken, RULES)
    pulls = get_money(taken, RULES.change(pieces=PiecePolicy.WHOLE_STEMS)).pulls
    pulled = {(pull.material.slug, pull.colour): pull for pull in pulls}
    cuts: list[Cut] = []
    compared = 0
    for plan in get_cutting_plan(made):
        if plan.material.slug in taken.assemblies or (plan.material.slug, plan.colour) not in pulled:
            continue
        pull = pulled[plan.material.slug, plan.colour]
        for stem in plan.stems:
            sizes = [cut.place.entry.piece for cut in stem.cuts]
            tips = sum(size is not PieceSize.LATERAL for size in sizes)
            assert tips <= 1, "a stem has one tip"
            alone = len(sizes) == 1 or plan.material.pieces_per_stem == 1
            assert alone or PieceSize.STEM not in sizes, "an unbroken stem is one piece"
            assert 0 <= stem.spare_pieces <= plan.material.pieces_per_stem - len(stem.cuts)
            longest = max(cut.total_cm for cut in stem.cuts)
            assert 0 <= stem.offcut_cm <= max(0.0, plan.material.stem_length_cm - longest) + 1e-9
            cuts += stem.cuts
        named = (plan.material.slug, plan.colour)
        own = [entry.pieces for entry in recipe.entries if (entry.material, entry.colour) == named]
        held = [entry for entry in recipe.entries if entry.meant.held_back and (entry.material, entry.colour) == named]
        if sum(own) == pull.pieces and not held:  # nothing of it is inside what is made ahead, or in reserve
            compared += 1
            assert len(plan.stems) == pull.stems
            assert plan.spare_pieces == pull.left_over
    assert compared
    assert len(cuts) == len({id(cut) for cut in cuts})
    assert Decimal(len(cuts)) <= len(made.cuts)
