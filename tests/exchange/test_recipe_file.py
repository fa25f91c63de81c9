"""The open recipe file: there and back whole, its schema current, and bad files refused with field and mend."""

import json
from datetime import date
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from jsonschema import Draft202012Validator

from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.house.rules import HouseRules
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.values.problems import BadInput
from mirvel.demo import RULES, get_catalogue, get_recipes
from mirvel.exchange.recipe_file import get_schema, read_recipe_file, write_recipe_file
from mirvel.settings import PROJECT_ROOT
from tests import strategies
from tests.builds import some, work_out

DAY = date(2026, 3, 2)


@pytest.fixture(scope="module")
def text(slipway: Recipe, catalogue: Catalogue, rules: HouseRules) -> str:
    return write_recipe_file(slipway, catalogue, rules, taken_on=DAY)


def test_the_published_schema_is_current_and_the_example_follows_it(text: str) -> None:
    schema = json.loads((PROJECT_ROOT / "docs/recipe.schema.json").read_text("utf-8"))
    assert json.loads(get_schema()) == schema, "renew it: ./run mirvel schema -o docs/recipe.schema.json"
    example = json.loads((PROJECT_ROOT / "docs/examples/slipway-42.recipe.json").read_text("utf-8"))
    for document in (json.loads(text), example):
        Draft202012Validator(schema).validate(document)


@settings(max_examples=25)
@given(recipe=strategies.recipes, rules=strategies.rules)
def test_a_file_gives_back_the_recipe_and_the_same_work(recipe: Recipe, rules: HouseRules) -> None:
    file = read_recipe_file(write_recipe_file(recipe, strategies.CATALOGUE, rules, taken_on=DAY))
    assert file.recipe == recipe
    before, after = work_out(recipe, strategies.CATALOGUE, rules), file.work_out()
    assert (before.money.spent, before.money.room_left) == (after.money.spent, after.money.room_left)
    assert before.build.cuts == after.build.cuts


@pytest.mark.parametrize("recipe", some(get_recipes()), ids=lambda recipe: recipe.name)
def test_a_demo_recipe_travels_with_all_it_takes_its_ribbon_too(recipe: Recipe) -> None:
    file = read_recipe_file(write_recipe_file(recipe, get_catalogue(), RULES, taken_on=DAY))
    assert file.work_out().ribbons == work_out(recipe, get_catalogue(), RULES).ribbons


def mend(text: str, *path: str | int, to: object) -> str:
    document = json.loads(text)
    at = document
    for part in path[:-1]:
        at = at[part]
    at[path[-1]] = to
    return json.dumps(document)


@pytest.mark.parametrize(
    ("path", "to", "said"),
    [
        (("entries", 3, "pieces"), -1, r"entry 4, pieces: is too small \(-1\)\. Type 0 or more\."),
        (("entries", 3, "pieces"), 10_000, r"entry 4, pieces: is too large \(10000\)\. Type 300 or less\."),
        (("entries", 3, "pieces"), "abc", r"entry 4, pieces: is not a whole number \(abc\)\. Type a whole number"),
        (("entries", 3, "role"), "hero", r"entry 4, role: is “hero”.* Choose 'greenery'"),
        (("price_point",), "free", r"price point: is not an amount \(free\)\. Type an amount"),
        (
            ("snapshot", "catalogue", "containers", "flare-20", "depth_cm"),
            0,
            r"depth cm: is too small.* Type more than 0",
        ),
        (("colour",), "red", r"colour: is no field here\. Remove it"),
        (("format",), "something else", r"format: this is not a Mirvel recipe"),
    ],
)
def test_a_bad_field_is_named_with_its_mend(text: str, path: tuple[str | int, ...], to: object, said: str) -> None:
    with pytest.raises(BadInput, match=said):
        read_recipe_file(mend(text, *path, to=to))


def test_every_problem_is_told_at_once(text: str) -> None:
    twice = mend(mend(text, "entries", 0, "pieces", to=-1), "price_point", to="x")
    with pytest.raises(BadInput) as caught:
        read_recipe_file(twice)
    assert len(caught.value.problems) == 2


def test_an_unknown_material_is_named_with_what_there_is(text: str) -> None:
    with pytest.raises(BadInput, match=r"entry 2: the material “moonflower” is not in the catalogue\. Use one"):
        read_recipe_file(mend(text, "entries", 1, "material", to="moonflower")).work_out()


@settings(max_examples=60)
@given(data=st.data())
def test_a_truncated_file_is_refused_wherever_it_was_cut(data: st.DataObject) -> None:
    whole = (Path(PROJECT_ROOT) / "docs/examples/slipway-42.recipe.json").read_text("utf-8").rstrip()
    cut = data.draw(st.integers(0, len(whole) - 1))
    with pytest.raises(BadInput, match=r"ends too early|is not valid JSON|not a Mirvel recipe"):
        read_recipe_file(whole[:cut])
