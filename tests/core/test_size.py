"""Size: height rules with their base, and width that follows the flowers."""

import pytest

from mirvel.core.changing.samples import find_samples
from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.house.design import HeightBase, HeightOf, HeightRule
from mirvel.core.house.rules import HouseRules
from mirvel.core.placing.size import (
    SIGHT_LINE_CM,
    Sizing,
    get_footprint_range_cm2,
    get_ruled_height_cm,
    get_sizing,
)
from mirvel.core.recipe.recipe import Brief, Density, Recipe, Size, SizeMode
from mirvel.core.values.problems import BadInput
from mirvel.demo import get_recipes
from tests.builds import work_out


@pytest.mark.parametrize(
    ("rule", "container", "height_cm"),
    [
        # "double the vase, measured from the table": common practice, no published source
        (HeightRule(factor=2.0, base=HeightBase.TABLE), "cylinder-10x20", 40.0),
        # "above the rim 1.5 times the container's height or width, whichever is larger": design manuals, common
        # practice
        (HeightRule(factor=1.5, of=HeightOf.LARGER_DIMENSION, base=HeightBase.RIM), "cylinder-10x20", 20.0 + 30.0),
        (HeightRule(factor=1.5, of=HeightOf.LARGER_DIMENSION, base=HeightBase.RIM), "bowl-22", 8.5 + 1.5 * 22.0),
    ],
)
def test_height_rules(catalogue: Catalogue, rule: HeightRule, container: str, height_cm: float) -> None:
    assert get_ruled_height_cm(rule, catalogue.containers[container]) == pytest.approx(height_cm)


def test_sight_line_follows_from_seated_eye_height() -> None:
    """Seated eye 685 mm above a 440 mm seat, table 740 mm: source: bodyspace, from memory."""
    assert pytest.approx((685 + 440 - 740) / 10) == SIGHT_LINE_CM


def test_more_flowers_make_a_wider_piece_of_the_same_height(catalogue: Catalogue, slipway: Recipe) -> None:
    vase, rules = catalogue.containers[slipway.container], HouseRules()
    sizes = [get_sizing(slipway, vase, footprints, rules) for footprints in (200.0, 700.0, 1000.0, 4000.0)]
    widths = [size.width_cm for size in sizes]
    assert widths == sorted(widths)
    assert widths[0] < widths[-1]
    assert {size.overall_height_cm for size in sizes} == {35.0}


@pytest.mark.parametrize("footprints", [700.0, 760.0, 905.0, 1010.0])
def test_a_piece_is_as_wide_as_its_flowers_fill_to_half_a_centimetre(
    catalogue: Catalogue, slipway: Recipe, footprints: float
) -> None:
    """Half a centimetre narrower it is fuller than the shop wants, half a centimetre wider not full."""
    vase, rules = catalogue.containers[slipway.container], HouseRules()
    found = get_sizing(slipway, vase, footprints, rules)
    assert found.width_cm == round(found.width_cm)

    def get_fullness(wide_cm: float) -> float:
        size = Size(mode=SizeMode.OWN, own_height_cm=found.overall_height_cm, own_width_cm=wide_cm)
        return get_sizing(slipway.model_copy(update={"size": size}), vase, footprints, rules).fullness

    assert get_fullness(found.width_cm + 0.5) < rules.target_fullness <= get_fullness(found.width_cm - 0.5)


def test_size_from_fullness_is_as_full_as_the_shop_wants_and_never_above_the_rule(
    catalogue: Catalogue, slipway: Recipe
) -> None:
    vase, rules = catalogue.containers[slipway.container], HouseRules()
    recipe = slipway.model_copy(update={"size": Size(mode=SizeMode.FROM_FULLNESS, rule=HeightRule(factor=2.5))})
    for footprints in (400.0, 900.0, 1400.0):
        sizing = get_sizing(recipe, vase, footprints, rules)
        assert sizing.fullness == pytest.approx(rules.target_fullness, rel=0.12)
        assert sizing.overall_height_cm <= sizing.ruled_height_cm


def test_a_rule_that_leaves_no_room_above_the_rim_is_refused(
    catalogue: Catalogue, slipway: Recipe, rules: HouseRules
) -> None:
    low = slipway.model_copy(update={"size": Size(rule=HeightRule(factor=0.9))})
    with pytest.raises(BadInput, match=r"size, rule, factor: .* Make it at least 23 cm over all"):
        work_out(low, catalogue, rules)


def test_what_takes_a_height_down_is_named(catalogue: Catalogue, slipway: Recipe) -> None:
    """By hand: a 20 cm vase by a rule of 2.5 is 50 cm; across a table 38.5 at most; a basket keeps under its handle."""
    rules, vase = HouseRules(), catalogue.containers[slipway.container]
    tall = slipway.model_copy(update={"size": Size(rule=HeightRule(factor=2.5))})
    across = tall.model_copy(update={"brief": Brief(across_table=True)})
    free, held = (get_sizing(each, vase, 900.0, rules) for each in (tall, across))
    assert (free.overall_height_cm, free.capped_by) == (50.0, "")
    assert (held.overall_height_cm, held.ruled_height_cm, held.capped_by) == (38.5, 50.0, "the sight-line")
    low = slipway.model_copy(update={"size": Size(rule=HeightRule(factor=1.5)), "brief": Brief(across_table=True)})
    assert get_sizing(low, vase, 900.0, rules).overall_height_cm == 30
    assert not get_sizing(low, vase, 900.0, rules).capped_by
    ferry = next(each for each in get_recipes() if each.family == "ferry-basket")
    high = ferry.model_copy(update={"size": Size(rule=HeightRule(factor=3.0))})
    basket = catalogue.containers[ferry.container]
    under = get_sizing(high, basket, 900.0, rules)
    assert under.capped_by == "the handle"
    assert under.overall_height_cm < basket.height_cm


def test_an_own_size_is_kept_and_no_less_than_three_centimetres_above_the_rim(
    catalogue: Catalogue, slipway: Recipe
) -> None:
    vase, rules = catalogue.containers[slipway.container], HouseRules()

    def make(high: float, wide: float, footprints: float = 900.0) -> Sizing:
        size = Size(mode=SizeMode.OWN, own_height_cm=high, own_width_cm=wide)
        return get_sizing(slipway.model_copy(update={"size": size}), vase, footprints, rules)

    made = make(44.0, 31.0)
    assert (made.overall_height_cm, made.width_cm, made.above_rim_cm) == (44.0, 31.0, 24.0)
    assert make(23.0, 31.0).above_rim_cm == 3.0
    with pytest.raises(BadInput):
        make(22.9, 31.0)
    assert made.fullness == pytest.approx(2 * make(44.0, 31.0, 450.0).fullness)


def test_what_fills_a_piece_lies_between_thin_at_its_narrowest_and_crowded_at_its_widest(
    catalogue: Catalogue, slipway: Recipe
) -> None:
    vase, rules = catalogue.containers[slipway.container], HouseRules()
    low, high = get_footprint_range_cm2(slipway, vase, rules)
    assert 0 < low < high
    thin, crowded = (get_sizing(slipway, vase, footprints, rules) for footprints in (low, high))
    assert thin.fullness == pytest.approx(rules.thin_below)
    assert crowded.fullness == pytest.approx(rules.crowded_above)
    assert get_sizing(slipway, vase, 0.9 * low, rules).fullness < rules.thin_below
    assert get_sizing(slipway, vase, 1.1 * high, rules).fullness > rules.crowded_above


def test_an_airy_piece_takes_a_third_of_the_flowers_and_is_drawn_in(catalogue: Catalogue, slipway: Recipe) -> None:
    """By hand: thin below 0.3 of what a full one is, and at most 0.65 as wide (assumptions of ours)."""
    vase, rules = catalogue.containers[slipway.container], HouseRules()
    airy = slipway.model_copy(update={"size": slipway.size.model_copy(update={"density": Density.AIRY})})
    few, full = (get_sizing(each, vase, 9000.0, rules) for each in (airy, slipway))
    assert few.thin_below == pytest.approx(0.3 * full.thin_below)
    assert few.width_cm == pytest.approx(0.65 * full.width_cm, abs=1.0)


def test_flowers_on_a_frame_follow_it_and_stand_no_more_than_a_hand_over_its_foam(catalogue: Catalogue) -> None:
    haven, rules = next(each for each in get_recipes() if each.family == "haven"), HouseRules()
    pad = catalogue.containers[haven.container]
    few, many = (get_sizing(haven, pad, footprints, rules) for footprints in (100.0, 5000.0))
    assert few.width_cm == many.width_cm > pad.width_cm

    def make(high: float) -> Sizing:
        size = Size(mode=SizeMode.OWN, own_height_cm=pad.rim_height_cm + high, own_width_cm=30)
        return get_sizing(haven.model_copy(update={"size": size}), pad, 900.0, rules)

    assert make(20.0).above_rim_cm == 20.0
    with pytest.raises(BadInput, match="above the foam"):
        make(20.6)


def test_vases_side_by_side_are_as_wide_as_they_stand(catalogue: Catalogue) -> None:
    trio = next(each for each in get_recipes() if each.family == "three-buoys")
    vases = catalogue.containers[trio.container]
    made = get_sizing(trio, vases, 1.0, HouseRules())
    assert made.width_cm >= 2 * (max(vases.vessel_offsets) + vases.mouth_cm / 2)


@pytest.mark.parametrize("form", ["asymmetric", "stair-step", "column"])
def test_what_flowers_do_not_cover_keeps_its_shape_as_it_grows(catalogue: Catalogue, form: str) -> None:
    """Twice as high over the rim it is twice as wide, and neither as narrow nor as wide as it may be."""
    sample = find_samples(catalogue)[form]
    vase = catalogue.containers[sample.container]
    rule = HeightRule(factor=2.4, of=HeightOf.LARGER_DIMENSION, base=HeightBase.RIM)
    small, large = (
        get_sizing(sample.change(size=Size(rule=rule.model_copy(update={"factor": factor}))), vase, 800.0, HouseRules())
        for factor in (2.4, 4.8)
    )
    assert large.above_rim_cm == pytest.approx(2 * small.above_rim_cm, rel=0.01)
    assert large.width_cm == pytest.approx(2 * small.width_cm, rel=0.05)
    shape = FORMS[form].proportions
    assert 1.02 * shape.narrowest < large.width_cm / 2 / large.above_rim_cm < 0.98 * shape.widest
