"""How a piece stands and drinks by hand, and the laws of its stems: where they stand, and what each is cut from."""

import math
from decimal import Decimal

import pytest

from mirvel.core.card.cutting_plan import get_cutting_plan
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.facts import PieceSize
from mirvel.core.house.rules import PiecePolicy
from mirvel.core.making.build import Build, get_build
from mirvel.core.making.cuts import Cut
from mirvel.core.making.standing import get_standing
from mirvel.core.making.water import get_uptake_ml, get_water
from mirvel.core.pricing.pricing import get_money
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.core.space.vectors import UPRIGHT
from mirvel.demo import RULES, get_catalogue, get_recipes
from tests.builds import work_out

RECIPES = get_recipes()
UPRIGHT_ONES = [recipe for recipe in RECIPES if recipe.family in {"slipway", "fender", "breakwater", "three-buoys"}]


def build(recipe: Recipe) -> Build:
    return work_out(recipe, get_catalogue(), RULES).build


def test_an_empty_vase_balances_about_its_middle_and_a_stand_lifts_that(catalogue: Catalogue) -> None:
    """By hand: 900 g about the middle of 20 cm; 600 g of stand, 100 cm high, about its own: 26 cm is
    (900 × 10 + 600 × 50) / 1500. It tips by the angle whose tangent is half its foot over that height."""
    vase = catalogue.containers["cube-10"].change(empty_weight_g=900, depth_cm=20, height_cm=20, base_cm=10)
    plain = get_standing(vase, (), 0.0, 0.0, UPRIGHT, 20.0)
    assert (plain.weight_g, plain.gravity_up_cm) == (900, 10)
    assert plain.tip_deg == pytest.approx(math.degrees(math.atan(plain.half_base_cm / 10)))
    assert plain.half_base_cm <= 5
    stood = get_standing(vase, (), 0.0, 100.0, UPRIGHT, 20.0)
    assert [stood.weight_g, stood.gravity_up_cm] == pytest.approx([1500, 26])
    soaked = get_standing(vase, (), 1000.0, 0.0, UPRIGHT, 20.0)
    assert (soaked.weight_g, soaked.gravity_up_cm) == (1900, 10)
    assert [soaked.get_people(limit) for limit in (15, 1.9, 1.0, 0.5)] == [1, 1, 2, 4]


def test_water_lasts_by_what_is_held_over_what_is_drunk(slipway: Recipe) -> None:
    """By hand: half the water, or twice the stems, is half the days; nothing drinks where there is no stem."""
    cuts = build(slipway).cuts
    days = 1200 / sum(get_uptake_ml(cut.place) for cut in cuts)
    assert get_water(cuts, 0.0, 1200.0).days == pytest.approx(days)
    assert get_water(cuts, 0.0, 600.0).days == pytest.approx(days / 2)
    assert get_water((*cuts, *cuts), 0.0, 1200.0).days == pytest.approx(days / 2)
    assert get_water((), 0.0, 1200.0).days is None
    foam = get_water(cuts, 1000.0, 5000.0)
    assert 500 < foam.held_ml < 1000, "foam holds less than its volume, and gives up most of it; the vase adds none"


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


@pytest.mark.parametrize("recipe", RECIPES, ids=lambda each: each.name)
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
