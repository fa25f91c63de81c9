"""What a customer is told of a piece: how to keep it, what hurts, and what may be in it; never a count or a cost."""

import re

import pytest

from mirvel.core.card.customer import get_care, get_offered, get_warnings
from mirvel.core.card.days import say_later
from mirvel.core.card.template import find_template
from mirvel.core.goods.facts import Mechanics
from mirvel.core.house.rules import HouseRules
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.core.values.units import LengthUnit
from mirvel.demo import get_catalogue, get_recipes
from tests.builds import work_out

CATALOGUE, RULES = get_catalogue(), HouseRules()
RECIPES = get_recipes()
FAMILIES = {recipe.family: recipe for recipe in RECIPES}


@pytest.mark.parametrize("recipe", RECIPES, ids=lambda each: f"{each.family}-{each.form}")
def test_water_comes_first_and_is_that_of_how_the_piece_is_made(recipe: Recipe) -> None:
    worked = work_out(recipe, CATALOGUE, RULES)
    first, second, *rest = [*get_care(worked), ""]
    if all(place.material.is_artificial for place in worked.build.places):
        assert (first.split(":")[0], second) == ("Needs no water", "")
        return
    told = "cut 2 cm off" if recipe.mechanics is Mechanics.TIED else "change it all"
    told = "soaked" if worked.build.bed else "its middle every day" if worked.build.base.foam else told
    assert told in first
    assert "ripening fruit" in second
    assert re.search(r"fullest (on|from) day \d", " ".join(rest))
    if "ml of water" in first:  # what is poured in a day is at least what is taken up, to the next 50 ml
        poured = float(re.findall(r"about (\d+) ml", first)[0])
        assert worked.build.water.a_day_ml <= poured <= worked.build.water.a_day_ml + 50


def test_tubes_are_filled_again_also_where_nothing_else_drinks() -> None:
    longline = FAMILIES["longline"]
    tubes = [entry for entry in longline.entries if entry.material == "orchid-on-stem"]
    for recipe, water in ((longline, "change it all"), (longline.change(entries=tubes), "Out of the sun")):
        care = get_care(work_out(recipe, CATALOGUE, RULES))
        assert water in care[0]
        assert sum("tubes" in line and "every day" in line for line in care) == 1
        assert not any("dry" in line for line in care)


def test_lengths_are_told_in_the_unit_of_the_shop() -> None:
    """2 cm are 0.79 in; what is tied in the hand is cut again at home."""
    inches = RULES.model_copy(update={"unit": LengthUnit.INCH})
    said = [get_care(work_out(FAMILIES["lee-side"], CATALOGUE, rules))[0] for rules in (RULES, inches)]
    assert "cut 2 cm off" in said[0]
    assert "cut ¾ in off" in said[1]
    assert " cm" not in said[1]
    for unit, rules in (("cm", RULES), ("in", inches)):
        template = find_template(work_out(FAMILIES["winkle"], CATALOGUE, rules).build)
        assert template
        assert f"so many {unit} under the top edge" in template.how


def test_what_hurts_at_home_is_told_with_what_it_comes_from_and_the_gravest_first() -> None:
    """Lilies: "every part, and the water: serious" for cats: common practice, no published source."""
    recipe = FAMILIES["slipway"]
    fields = [each.model_dump() for each in recipe.entries]
    lilies = [{**each, "material": "lily-trumpet", "colour": "white"} if each["role"] == "focal" else each
              for each in fields]  # fmt: skip
    changed = recipe.change(entries=lilies)
    told = get_warnings(work_out(changed, CATALOGUE, RULES), take(changed, CATALOGUE))
    assert "deadly to cats, the water too" in told[0]
    assert told[0].startswith("Lily")
    usual = get_warnings(work_out(recipe, CATALOGUE, RULES), take(recipe, CATALOGUE))
    assert not any("cats" in line for line in usual)
    assert any(line.startswith("Rose: thorns") for line in usual)
    assert not any(word in line for line in (*told, *usual) for word in ("Knife", "gloves", "drain"))  # of the bench


def test_what_is_in_it_comes_focal_first_with_its_months_and_what_stands_in() -> None:
    """Waxflower: October to June; from memory."""
    for family in ("lee-side", "evening-bell"):
        recipe = FAMILIES[family]
        offered = get_offered(work_out(recipe, CATALOGUE, RULES), take(recipe, CATALOGUE), CATALOGUE)
        names = [each.name for each in offered]
        assert len(set(names)) == len(names)
        roles = {CATALOGUE.get_name(entry.material): entry.role.value for entry in recipe.entries}
        assert roles[names[0]] == "focal"
        assert roles[names[-1]] == "greenery"
        known = {each.name for each in CATALOGUE.materials.values()}
        assert all(other in known for each in offered for other in each.others)
        if family == "lee-side":
            (wax,) = [each for each in offered if each.name == "Waxflower"]
            assert wax.season == (1, 2, 3, 4, 5, 6, 10, 11, 12)
            assert not wax.is_all_year
    wanted = [{"material": "hydrangea", "colour": "blue"}]
    own = [
        {**each.model_dump(), "alternatives": wanted if number == 0 else []}
        for number, each in enumerate(FAMILIES["lee-side"].entries)
    ]
    recipe = FAMILIES["lee-side"].change(entries=own)
    offered = get_offered(work_out(recipe, CATALOGUE, RULES), take(recipe, CATALOGUE), CATALOGUE)
    mine = CATALOGUE.get_name(recipe.entries[0].material)
    assert next(each for each in offered if each.name == mine).others == (CATALOGUE.get_name("hydrangea"),)


def test_a_card_says_how_the_piece_looks_in_three_and_in_six_days() -> None:
    build = work_out(FAMILIES["low-tide"], CATALOGUE, RULES).build
    blooms = sum(place.material.is_bloom for place in build.places)
    said = say_later(build)
    counts = [sum(map(int, re.findall(r"(\d+) (?:in bud|open|fading|over)", part))) for part in said.split(";")[:2]]
    assert counts == [blooms, blooms]
    assert said.startswith("day 3: ")
    assert "; day 6: " in said
    assert "room of 20 °C" in said
    assert say_later(work_out(FAMILIES["saltpan"], CATALOGUE, RULES).build) == ""  # artificial: it looks as it does
