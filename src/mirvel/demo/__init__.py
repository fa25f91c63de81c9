"""The made-up shop Tern & Tansy: its goods, rules and standards. Nothing in it is real.

Costs are the trade's usual relative costs with one standard rose at 0.60; facts of stems and containers are from
memory and common practice. Both are defaults to start from, not evidence.
"""

from importlib.resources import files

from mirvel.core.goods import Catalogue
from mirvel.core.house import HouseRules
from mirvel.core.recipe import Recipe
from mirvel.store.shop import Shop

RULES = HouseRules(shop="Tern & Tansy")


def get_catalogue() -> Catalogue:
    """Everything the demo shop buys."""
    return Catalogue.model_validate_json(files(__name__).joinpath("catalogue.json").read_text("utf-8"))


def get_recipes() -> tuple[Recipe, ...]:
    """The demo shop's standards, by file name."""
    found = sorted(files(__name__).joinpath("recipes").iterdir(), key=lambda file: file.name)
    return tuple(Recipe.model_validate_json(file.read_text("utf-8")) for file in found if file.name.endswith(".json"))


def load_once(shop: Shop) -> bool:
    """Fill an empty shop with the demo; a shop that has recipes is left alone. Returns whether it was filled."""
    return shop.fill_if_empty(get_catalogue(), RULES, get_recipes())
