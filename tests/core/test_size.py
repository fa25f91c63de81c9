"""Size: height rules with their base, and width that follows the flowers."""

import pytest

from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.house.design import HeightBase, HeightOf, HeightRule
from mirvel.core.house.rules import HouseRules
from mirvel.core.placing.size import SIGHT_LINE_CM, get_ruled_height_cm, get_sizing
from mirvel.core.recipe.recipe import Recipe, Size, SizeMode
from mirvel.core.values.problems import BadInput
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
