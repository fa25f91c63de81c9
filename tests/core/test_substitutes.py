"""Substitutes: a twin of the flower that is unlike in one thing is said to be unlike in just that, and comes after a
twin that is alike in all, or before it."""

from typing import Any

import pytest

from mirvel.core.fit.substitutes import find_substitutes
from mirvel.core.goods.facts import HeadForm, Role
from mirvel.core.goods.material import Fitness, Toxicity
from mirvel.core.recipe.recipe import Recipe
from mirvel.demo import RULES
from tests.strategies import CATALOGUE

ROSE = CATALOGUE.materials["rose-standard"].model_copy(
    update={
        "life_min_days": 7,
        "life_max_days": 10,
        "season": (5, 6, 7),
        "scent": 1,
        "stem_length_cm": 60.0,
        "head_open_cm": 9.0,
        "substitutes": (),
    }
)
MONTH = 6


def ask(recipe: Recipe, own: dict[str, Any], **unlike: Any) -> tuple[list[str], dict[str, tuple[str, ...]]]:
    """The twins in the order offered, and what is said of each."""
    rose = ROSE.model_copy(update=own)
    twins = [rose.model_copy(update={"slug": "twin"}), rose.model_copy(update={"slug": "other", **unlike})]
    goods = {**CATALOGUE.materials, "rose-standard": rose}
    kept = {entry.material for entry in recipe.entries}
    goods = {slug: good if slug in kept else good.model_copy(update={"retired": True}) for slug, good in goods.items()}
    catalogue = CATALOGUE.model_copy(update={"materials": {**goods, **{twin.slug: twin for twin in twins}}})
    entry = next(entry for entry in recipe.entries if entry.material == "rose-standard")
    found = find_substitutes(recipe, entry.id, catalogue, RULES, month=MONTH, stock={("other", entry.colour): 5})
    said = {each.material.slug: tuple(each.reasons) for each in found if each.material.slug in {"twin", "other"}}
    return list(said), said


@pytest.mark.parametrize(
    ("unlike", "words"),
    [
        ({"form": HeadForm.CUP}, "cup for rosette"),
        ({"habit": "spidery"}, "another habit"),
        ({"default_role": Role.MASS, "other_roles": (Role.FOCAL,)}, "usually mass"),
        ({"head_open_cm": 13.0}, "larger heads"),
        ({"head_open_cm": 6.0}, "smaller heads"),
        ({"stem_length_cm": 40.0}, "shorter stems"),
        ({"life_min_days": 4}, "lasts 3 days less"),
        ({"in_foam": Fitness.POOR}, "poor in foam"),
        ({"season": (11, 12)}, "out of season"),
        ({"scent": 3}, "strong scent"),
        ({"toxicity": Toxicity.MILD}, "harmful to pets"),
    ],
)
def test_a_twin_unlike_in_one_thing_comes_after_one_that_is_alike(
    slipway: Recipe, unlike: dict[str, Any], words: str
) -> None:
    recipe = slipway.change(mechanics="foam") if "in_foam" in unlike else slipway
    order, said = ask(recipe, {}, **unlike)
    assert [each for each in said["other"] if each not in said["twin"]] == [words]
    assert set(said["twin"]) - set(said["other"]) == {"none in the cooler"}
    # in the cooler it has the better of the other, so what is unlike is weighed without that
    assert rank_without_stock(recipe, {}, **unlike) == ["twin", "other"]
    assert set(order) == {"twin", "other"}


def rank_without_stock(recipe: Recipe, own: dict[str, Any], **unlike: Any) -> list[str]:
    rose = ROSE.model_copy(update=own)
    twins = {
        # by name the unlike one would come first
        "twin": rose.model_copy(update={"slug": "twin"}),
        "other": rose.model_copy(update={"slug": "other", **unlike}),
    }
    catalogue = CATALOGUE.model_copy(update={"materials": {**CATALOGUE.materials, "rose-standard": rose, **twins}})
    entry = next(entry for entry in recipe.entries if entry.material == "rose-standard")
    found = find_substitutes(recipe, entry.id, catalogue, RULES, month=MONTH, most=1000)
    return [each.material.slug for each in found if each.material.slug in twins]


def test_what_is_in_the_cooler_and_what_the_shop_names_comes_first(slipway: Recipe) -> None:
    order, _ = ask(slipway, {})
    assert order == ["other", "twin"]
    assert rank_without_stock(slipway, {"substitutes": ("twin",)}) == ["twin", "other"]
    assert rank_without_stock(slipway, {}) == ["other", "twin"]  # alike in all: by name


def test_the_further_off_in_colour_the_later(slipway: Recipe) -> None:
    entry = next(entry for entry in slipway.entries if entry.material == "rose-standard")
    own = ROSE.colours[entry.colour]
    assert rank_without_stock(slipway, {}, colours={entry.colour: "#2040c0"}) == ["twin", "other"]
    assert rank_without_stock(slipway, {}, colours={"another name": own}) == ["other", "twin"]


def test_stems_are_longer_and_lives_as_long_without_a_word(slipway: Recipe) -> None:
    _, said = ask(slipway, {}, stem_length_cm=90.0, life_min_days=9, head_open_cm=9.2)
    assert set(said["other"]) < set(said["twin"])
