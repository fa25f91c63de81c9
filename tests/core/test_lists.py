"""The lists for the bench: nothing is missing for so many pieces, and nothing is pulled that none of them takes."""

import math
from collections import Counter
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mirvel.core.card.lists import BenchLists, Stock, get_bench_lists
from mirvel.core.goods.facts import PieceSize
from mirvel.core.house.rules import HouseRules
from mirvel.core.recipe.taking import take
from mirvel.core.values.problems import BadInput
from mirvel.demo import get_catalogue, get_recipes
from tests.builds import some, work_out

CATALOGUE, RULES = get_catalogue(), HouseRules()
FAMILIES = {recipe.family: recipe for recipe in get_recipes()}


def list_for(family: str, quantity: int, stock: Stock | None = None) -> BenchLists:
    recipe = FAMILIES[family]
    return get_bench_lists(work_out(recipe, CATALOGUE, RULES), take(recipe, CATALOGUE), quantity, stock or {})


@given(family=st.sampled_from(sorted(FAMILIES)), quantity=st.integers(1, 60))
def test_the_stems_of_many_are_enough_for_all_and_no_more_than_each_alone_would_take(
    family: str, quantity: int
) -> None:
    many, one = ({(each.material.slug, each.colour): each for each in list_for(family, n).pulls} for n in (quantity, 1))
    assert many.keys() == one.keys()
    for key, pull in many.items():
        assert pull.stems <= quantity * one[key].stems
        assert pull.stems >= math.ceil(quantity * (one[key].stems - 1) * 1.0)  # each alone wastes less than a stem
        assert abs(pull.spare - 0.05 * pull.stems) <= 0.5


def test_side_pieces_left_of_one_piece_serve_the_next() -> None:
    """So many pieces as a stem gives side pieces take a stem for each side piece of one, and leave none over."""
    tried = 0
    for family, recipe in FAMILIES.items():
        for pull in work_out(recipe, CATALOGUE, RULES).money.pulls:
            of_it = [
                each for each in recipe.entries if (each.material, each.colour) == (pull.material.slug, pull.colour)
            ]
            sides = sum(each.pieces for each in of_it if each.piece is PieceSize.LATERAL)
            gives = pull.material.pieces_per_stem
            if pull.left_over and sides == pull.pieces and tried < 5:
                (many,) = [each for each in list_for(family, gives).pulls if each.material is pull.material
                           and each.colour == pull.colour]  # fmt: skip
                assert many.stems == sides < gives * pull.stems
                tried += 1
    assert tried == 5


@pytest.mark.parametrize("recipe", some(get_recipes()), ids=lambda each: each.family)
def test_what_is_counted_out_is_every_piece_once_by_where_it_stands(recipe: object) -> None:
    family = getattr(recipe, "family", "")
    lists, build = list_for(family, 3), work_out(FAMILIES[family], CATALOGUE, RULES).build
    placed = Counter(place.entry.id for place in build.places)
    assert {line.entry.id: line.placed for line in lists.tray} == placed
    for line in lists.tray:
        assert sum(line.sides.values()) == line.placed
        assert set(line.sides) <= set(lists.sides)
        assert line.placed + line.reserve == line.entry.pieces
    if not build.sizing.form.locate:
        far = build.frame.half_width_cm / 2
        left = sum(place.tip.x < -abs(place.tip.y) and place.tip.reach > far for place in build.places)
        assert left <= sum(line.sides.get("left", 0) for line in lists.tray)


def test_what_is_short_is_what_the_buckets_lack_for_all() -> None:
    needed = {(each.material.slug, each.colour): each.stems for each in list_for("slipway", 4).pulls}
    stock = {key: stems - 1 for key, stems in needed.items()}
    assert {each.short for each in list_for("slipway", 4, stock).pulls} == {1}
    assert {each.short for each in list_for("slipway", 4, needed).pulls} == {0}
    assert not list_for("slipway", 4).counts_stock  # a shop that counts none is told of none
    assert all(each.short == each.stems for each in list_for("slipway", 4, {("x", "y"): 1}).pulls)


def test_hard_goods_are_told_for_all_in_what_they_are_counted_by() -> None:
    uses = [{"hard_good": "foam-brick-standard", "divided_by": 3}, {"hard_good": "bind-wire", "quantity": "0.9"}]
    recipe = FAMILIES["quiet-water"].change(hard_goods=[*uses, {"hard_good": "ribbon-38", "loops": 5}])
    worked, taken = work_out(recipe, CATALOGUE, RULES), take(recipe, CATALOGUE)
    unit = CATALOGUE.hard_goods["bind-wire"].unit
    loop = CATALOGUE.hard_goods["ribbon-38"].loop_m or Decimal(1)
    for quantity, foam, wire in ((1, "1/3, from 1", "0.9"), (4, "1 1/3, from 2", "3.6"), (6, "2", "5.4")):
        (_, *said) = [line.amount for line in get_bench_lists(worked, taken, quantity, {}).set_up]
        metres = 5 * loop * quantity
        assert said[:2] == [foam, f"{wire} {unit}"]
        assert Decimal(said[2].split()[0]) == metres


@pytest.mark.parametrize("quantity", [0, -1, 501])
def test_as_many_as_nobody_makes_at_once_are_refused(quantity: int) -> None:
    with pytest.raises(BadInput, match="how many"):
        list_for("slipway", quantity)
