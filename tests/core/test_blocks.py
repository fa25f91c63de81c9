"""One block of foam in a container: no larger than its share of a brick, inside its container, said on the card."""

from fractions import Fraction

import pytest

from mirvel.core.card.steps import get_steps
from mirvel.core.changing.changes import set_foam_block
from mirvel.core.goods.container import Container
from mirvel.core.house.design import FoamLie, FoamPart
from mirvel.core.house.rules import HouseRules
from mirvel.core.making.bases import get_base_plan
from mirvel.core.placing.holders import get_block
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.space.vectors import Vec
from mirvel.core.values.problems import BadInput
from mirvel.core.vessels.beds import has_bed
from mirvel.core.vessels.hollows import get_inside
from mirvel.demo import get_catalogue, get_recipes
from tests.builds import work_out

CONTAINERS = [each for each in get_catalogue().containers.values() if not has_bed(each)]
FENDER = next(each for each in get_recipes() if each.family == "fender")
LONG_CM = {FoamPart.WHOLE: 23.0, FoamPart.HALF: 11.5, FoamPart.THIRD: 23 / 3, FoamPart.EIGHTH: 5.75}


def count_bricks(recipe: Recipe, container: Container) -> Fraction | None:
    plan = get_base_plan(recipe, container, ())
    return plan.foam.bricks if plan.foam else None


@pytest.mark.parametrize("lie", FoamLie)
@pytest.mark.parametrize("part", LONG_CM)
def test_a_block_is_no_larger_than_its_share_of_a_brick_and_goes_into_any_container(
    part: FoamPart, lie: FoamLie
) -> None:
    """A brick is 23 × 11 × 8 cm, about two litres: common practice, no published source."""
    recipe = FENDER.change(foam_block={"part": part, "lie": lie}, foam_above_rim_cm=2.0)
    for container in CONTAINERS:
        block, inside = get_block(recipe, container), get_inside(container)
        wide, deep, high = 2 * block.top_half_cm, 2 * block.top_half_cm * block.ratio, block.top_z - block.bottom_z
        assert wide * deep * high <= 23 * 11 * 8 / part.parts + 1e-2
        assert high <= {"flat": 8.0, "on its side": 11.0, "upright": LONG_CM[part]}[lie] + 1e-3
        assert (block.top_z, block.bottom_z >= -container.depth_cm) == (2.0, True)
        for z in (-0.01, min(block.bottom_z, -0.01)):
            corner = Vec(block.get_half_width(z), block.get_half_width(z) * block.ratio, 0.0)
            assert corner.reach <= inside.get_edge_distance(corner, z) + 1e-6
        assert count_bricks(recipe, container) == Fraction(1, part.parts)


def test_a_horn_takes_half_a_brick_and_a_designer_may_take_another() -> None:
    """Common practice, no published source."""
    for slug in ("horn-35", "horn-50"):
        horn = get_catalogue().containers[slug]
        assert count_bricks(FENDER, horn) == Fraction(1, 2)
        assert count_bricks(set_foam_block(FENDER, "whole, upright").recipe, horn) == 1


def test_stems_stand_in_the_block_and_the_card_says_how_it_is_cut() -> None:
    worked = work_out(set_foam_block(FENDER, "third, on its side").recipe, get_catalogue(), HouseRules())
    block = get_block(worked.recipe, worked.build.container)
    for place in worked.build.places:
        assert abs(place.start.x) <= block.top_half_cm + 0.5
        assert abs(place.start.y) <= block.top_half_cm * block.ratio + 0.5
    text = get_steps(worked)[0].text
    assert "Cut a third of a brick of foam for the" in text
    assert "set in on its side, 7.7 × 8 × 9 cm as it stands, to stand" in text
    plain = set_foam_block(worked.recipe, "").recipe
    assert plain == FENDER
    with pytest.raises(BadInput, match="foam block"):
        set_foam_block(FENDER, "a loaf, flat")
