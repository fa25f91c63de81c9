"""A shop of a year's use: the demo's recipes and materials many times over, a little different, with made-up names."""

import random
from collections.abc import Iterator
from decimal import Decimal

from sqlalchemy import text

from mirvel.core.goods.catalogue import GoodsKind
from mirvel.core.goods.material import Material
from mirvel.core.pricing.drift import get_costs
from mirvel.core.recipe.recipe import Recipe
from mirvel.demo import get_catalogue, get_recipes
from mirvel.store.database import count_change
from mirvel.store.goods import add_good
from mirvel.store.shop import LONG_AGO, Shop

MATERIALS, RECIPES = 5_000, 1_000
_TINTS = ("copper", "pale", "dark", "early", "late", "double", "tall", "dwarf", "market", "field")
_NAMES = ("Mole", "Spinnaker", "Gannet", "Shingle", "Groyne", "Marram", "Kittiwake", "Halyard", "Samphire", "Estuary")


def fill_goods(shop: Shop, count: int = MATERIALS) -> None:
    """Bring the materials to so many, copied from the demo's under other names."""
    materials = list(get_catalogue().materials.values())
    with shop.database.transaction() as session:
        version = count_change(session, facts=True)
        for number in range(count - len(materials)):
            each = materials[number % len(materials)]
            name = f"{_TINTS[number % len(_TINTS)].capitalize()} {number} {each.name}"[:80]
            copy = each.model_copy(update={"slug": f"{each.slug[:40]}-{number}", "name": name})
            add_good(session, GoodsKind.MATERIALS, copy, version, LONG_AGO, "bench")
    with shop.database.transaction() as session:
        session.execute(text("ANALYZE goods"))


def fill_recipes(shop: Shop, count: int = RECIPES) -> None:
    """Bring the recipes to so many: the demo's with other flowers of the same facts, other counts, names and prices."""
    catalogue = shop.goods.load().catalogue
    alike: dict[str, list[Material]] = {}
    for material in catalogue.materials.values():
        alike.setdefault(material.slug.rstrip("0123456789").rstrip("-"), []).append(material)
    for recipe in _vary(get_recipes(), alike, count - len(shop.load_recipes())):
        shop.add_recipe(recipe, get_costs(recipe, catalogue))
    with shop.database.transaction() as session:
        session.execute(text("ANALYZE"))


def _vary(recipes: tuple[Recipe, ...], alike: dict[str, list[Material]], count: int) -> Iterator[Recipe]:
    chance = random.Random(7)
    for number in range(count):
        recipe = recipes[number % len(recipes)]
        entries = []
        for entry in recipe.entries:
            others = alike.get(entry.material) or []
            material = chance.choice(others).slug if others else entry.material
            pieces = max(0, entry.pieces + chance.randint(-1, 1))
            entries.append({**entry.model_dump(), "material": material, "pieces": pieces, "pins": ()})
        price = recipe.price_point + Decimal(chance.choice((0, 0, 0, 2, 5)))
        name = f"{_NAMES[number % len(_NAMES)]} {number} {price}"
        yield recipe.change(name=name, family=f"family-{number // 4}", price_point=price, entries=entries)
