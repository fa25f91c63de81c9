"""A piece worked out once more from what was changed in it."""

from collections.abc import Callable, Mapping
from dataclasses import replace

from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.material import Material
from mirvel.core.house.rules import HouseRules
from mirvel.core.judging.check import Judged
from mirvel.core.making.build import get_build
from mirvel.core.pricing.pricing import get_money
from mirvel.core.recipe.entry import Entry
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take


def build_again(
    judged: Judged, *, recipe: Recipe | None = None, goods: Catalogue | None = None, rules: HouseRules | None = None
) -> Judged:
    """The piece placed and cut once more, from another recipe, other goods or other rules."""
    taken = take(recipe or judged.recipe, goods or judged.taken.as_catalogue())
    build = get_build(taken, rules or judged.rules)
    return Judged(build, get_money(taken, build.rules), taken)


def reckon_again(
    judged: Judged, *, recipe: Recipe | None = None, goods: Catalogue | None = None, rules: HouseRules | None = None
) -> Judged:
    """The same, where what was changed moves no stem: the piece stays as it is built."""
    taken = take(recipe or judged.recipe, goods or judged.taken.as_catalogue())
    build = replace(judged.build, recipe=taken.recipe, rules=rules or judged.rules)
    return Judged(build, get_money(taken, build.rules), taken)


def change_materials(judged: Judged, change: Callable[[Material], Mapping[str, object]]) -> Catalogue:
    """The goods of a piece with some facts of its stems changed."""
    goods = judged.taken.as_catalogue()
    changed = {slug: material.change(**change(material)) for slug, material in goods.materials.items()}
    return goods.model_copy(update={"materials": changed})


def change_container(judged: Judged, **facts: object) -> Catalogue:
    """The goods of a piece with some facts of its container changed."""
    goods, container = judged.taken.as_catalogue(), judged.taken.container
    return goods.model_copy(update={"containers": {container.slug: container.change(**facts)}})


def change_entries(judged: Judged, change: Callable[[Entry], Mapping[str, object]]) -> Recipe:
    """The recipe with something changed in its entries."""
    entries = tuple(entry.change(**change(entry)) for entry in judged.recipe.entries)
    return judged.recipe.model_copy(update={"entries": entries})
