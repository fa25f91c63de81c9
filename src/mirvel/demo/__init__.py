"""The made-up shop Tern & Tansy: its goods, rules and standards. Nothing in it is real.

Costs are the trade's usual relative costs with one standard rose at 0.60; facts of stems and containers are from
memory and common practice. Both are defaults to start from, not evidence.
"""

import json
from decimal import Decimal
from functools import cache
from importlib.resources import files

from mirvel.core.buying.costs import Terms
from mirvel.core.buying.supplier import Supplier
from mirvel.core.goods.catalogue import Catalogue, GoodsKind
from mirvel.core.house.rules import HouseRules
from mirvel.core.publishing import Frozen, Tolerances
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.store.shop import Shop
from mirvel.store.standards import Draft

LEAD_DESIGNER = "Wilf Okoro-Lane"
RULES = HouseRules(
    shop="Tern & Tansy",
    people=("Ines Harrow", LEAD_DESIGNER, "Priya Sandell", "Tomas Reed", "Juno Abel", "Marit Vance"),
    palettes={
        "sea-mist": ("#f4f2ea", "#9fb0a2", "#a9c4d6"),
        "rust and rope": ("#b0623a", "#f0b27a", "#f0e4c4"),
        "gorse": ("#f0c929", "#f4ecb0", "#b9cf4a"),
        "heather": ("#b48ac0", "#6e2d5a", "#c9c6cf"),
        "lantern": ("#e9705c", "#f4b490", "#f3cfc4"),
    },
)
SUPPLIERS = (
    Supplier(name="Causeway Flowers", terms=Terms(freight=Decimal("0.08"), dump=Decimal("0.05")), has_feed=True),
    Supplier(name="Fenside Growers", terms=Terms(freight=Decimal("0.04"), dump=Decimal("0.07"))),
    Supplier(name="North Quay Sundries", terms=Terms(freight=Decimal("0.06"), dump=Decimal(0))),
)


@cache
def get_catalogue() -> Catalogue:
    """Everything the demo shop buys, one file a kind."""
    folder = files(__name__).joinpath("goods")
    return Catalogue.model_validate(
        {kind: json.loads(folder.joinpath(f"{kind}.json").read_text("utf-8")) for kind in GoodsKind}
    )


def get_recipes() -> tuple[Recipe, ...]:
    """The demo shop's standards, by file name: everyday, then sympathy, then studies of what a designer may mean."""
    everyday = files(__name__).joinpath("recipes")
    found = [
        file
        for folder in (everyday, everyday.joinpath("sympathy"), everyday.joinpath("studies"))
        for file in sorted(folder.iterdir(), key=lambda file: file.name)
        if file.name.endswith(".json")
    ]
    return tuple(Recipe.model_validate_json(file.read_text("utf-8")) for file in found)


def load_once(shop: Shop) -> bool:
    """Fill an empty shop with the demo, each recipe a standard; a shop that has recipes is left alone. Returns whether
    it was filled."""
    was_empty = shop.fill_if_empty(get_catalogue(), RULES, get_recipes(), SUPPLIERS)
    if was_empty:
        drafts = [
            Draft(
                saved.id, saved.state_id, Frozen(goods=take(saved.recipe, get_catalogue()).as_catalogue(), rules=RULES)
            )
            for saved in shop.load_recipes()
        ]
        shop.standards.publish(drafts, LEAD_DESIGNER, "The first of the range.", Tolerances(), shop.get_now())
    return was_empty
