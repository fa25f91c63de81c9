"""The order of building by a school: what each promises, that it changes the order and nothing else, and that what a
designer lists is built so."""

from itertools import pairwise

import pytest

from mirvel.core.card.steps import get_steps
from mirvel.core.changing import changes
from mirvel.core.changing.carrying import carry_places
from mirvel.core.changing.ordering import OrderSchool, order_by_school
from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.facts import PieceSize, Role
from mirvel.core.goods.material import Material
from mirvel.core.house.rules import HouseRules
from mirvel.core.recipe.entry import Entry
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.values.problems import BadInput
from mirvel.demo import get_recipes
from tests.builds import work_out
from tests.strategies import CATALOGUE

RULES = HouseRules()
# The first role that must be over before the other begins.
BEFORE = {
    OrderSchool.GREENS_FIRST: lambda entry: entry.role is Role.GREENERY,
    OrderSchool.FLOWERS_FIRST: lambda entry: entry.role is not Role.GREENERY,
    OrderSchool.TOKEN_FIRST: lambda entry: entry.role is Role.TOKEN,
    OrderSchool.TOKEN_LAST: lambda entry: entry.role is not Role.TOKEN,
    OrderSchool.FILLER_LAST: lambda entry: entry.role is not Role.FILLER,
}


def get_material(entry: Entry) -> Material:
    return CATALOGUE.get_material(entry.material, entry.colour, field="")


def get_orders(school: OrderSchool) -> list[tuple[Recipe, Recipe]]:
    return [(recipe, order_by_school(recipe, CATALOGUE, school.value).recipe) for recipe in get_recipes()]


@pytest.mark.parametrize("school", OrderSchool)
def test_a_school_orders_every_entry_and_changes_nothing_else(school: OrderSchool) -> None:
    for before, after in get_orders(school):
        assert sorted(entry.id for entry in after.entries) == sorted(entry.id for entry in before.entries)
        back = after.change(build_order=before.build_order, entries=before.entries)
        assert back == before
        assert order_by_school(after, CATALOGUE, school.value).recipe == after  # once is enough


@pytest.mark.parametrize("school", BEFORE)
def test_what_a_school_puts_first_is_over_before_the_rest_begins(school: OrderSchool) -> None:
    for _, after in get_orders(school):
        firsts = [BEFORE[school](entry) for entry in after.entries]
        assert firsts == sorted(firsts, reverse=True)


def test_large_cheap_and_delicate() -> None:
    for _, after in get_orders(OrderSchool.LARGEST_FIRST):
        wide = [get_material(entry).head_open_cm for entry in after.entries]
        assert wide == sorted(wide, reverse=True)
    for _, after in get_orders(OrderSchool.CHEAPEST_FIRST):
        for entry, later in pairwise(after.entries):
            costs = [
                get_material(each).cost / (1 if each.piece is PieceSize.STEM else get_material(each).pieces_per_stem)
                for each in (entry, later)
            ]
            assert costs[0] < costs[1] or (costs[0] == costs[1] and entry.pieces >= later.pieces)
    for _, after in get_orders(OrderSchool.DELICATE_LAST):
        delicate = [get_material(entry).delicate for entry in after.entries]
        assert delicate == sorted(delicate)


def test_filler_goes_about_the_focal() -> None:
    seen = 0
    for _, after in get_orders(OrderSchool.FILLER_WITH_FOCAL):
        roles = [entry.role for entry in after.entries]
        if {Role.FOCAL, Role.FILLER} <= {*roles}:
            last = max(at for at, role in enumerate(roles) if role is Role.FOCAL)
            fillers = roles.count(Role.FILLER)
            assert roles[last + 1 : last + 1 + fillers] == [Role.FILLER] * fillers
            seen += 1
    assert seen > 3


def test_what_is_listed_is_built_so_though_it_is_delicate_and_no_piece_moves() -> None:
    """A hydrangea that serves as the grid goes in first."""
    recipes = [each for each in get_recipes() if not FORMS[each.form].outline_first]
    recipe = next(each for each in recipes if any(get_material(entry).delicate for entry in each.entries))
    kept = work_out(carry_places(work_out(recipe, CATALOGUE, RULES).build, recipe), CATALOGUE, RULES)
    delicate = next(entry for entry in recipe.entries if get_material(entry).delicate)
    first = changes.move_entry(kept.recipe, delicate.id, -99).recipe
    after = work_out(carry_places(kept.build, first), CATALOGUE, RULES)
    (step, *_) = [step for step in get_steps(after) if step.entries]
    assert step.entries[0].id == delicate.id
    tips = [{(each.entry.id, each.number): each.tip for each in worked.build.places} for worked in (kept, after)]
    assert tips[0] == tips[1]
    usual = order_by_school(first, CATALOGUE, "").recipe
    built = [entry for step in get_steps(work_out(usual, CATALOGUE, RULES)) for entry in step.entries]
    is_late = [get_material(entry).delicate for entry in built]
    assert is_late == sorted(is_late)


def test_an_unknown_school_is_refused_by_name() -> None:
    with pytest.raises(BadInput, match="none called “by moonlight”"):
        order_by_school(get_recipes()[0], CATALOGUE, "by moonlight")
