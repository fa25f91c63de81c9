"""Drift: what cost changes have done to a recipe since it was last true, and which goods did it.

A recipe keeps the unit costs it was last true at. Each good whose cost has moved since is put back to that cost on
its own; what that does to the room left is its share of the drift.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal

from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.house.rules import HouseRules
from mirvel.core.pricing.pricing import Money, get_money
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.core.values.money import find_change

_COSTED = ("materials", "containers", "hard_goods")
LEAST_SHOWN = Decimal("0.005")


@dataclass(frozen=True)
class Cause:
    """One good's part: its relative change of cost, and what that adds to (or takes from) the room of one piece."""

    name: str
    change: Decimal | None
    per_piece: Decimal


@dataclass(frozen=True)
class Drift:
    """A recipe at today's costs, and what moved it; causes dearest first."""

    money: Money
    causes: tuple[Cause, ...]


def get_culprits(causes: tuple[Cause, ...], room_left: Decimal) -> tuple[Cause, ...]:
    """The causes that push the way the recipe is false: dearer goods when it is over, cheaper ones when under; worst
    first."""
    over = room_left < 0
    return tuple(
        sorted((each for each in causes if (each.per_piece < 0) == over), key=lambda each: -abs(each.per_piece))
    )


def get_costs(recipe: Recipe, catalogue: Catalogue) -> dict[str, Decimal]:
    """Unit costs of everything a recipe uses, by "kind/slug". Raises UnknownGoods."""
    used = take(recipe, catalogue).as_catalogue()
    return {f"{kind}/{slug}": good.cost for kind in _COSTED for slug, good in getattr(used, kind).items()}


def get_drift(recipe: Recipe, catalogue: Catalogue, rules: HouseRules, true_costs: Mapping[str, Decimal]) -> Drift:
    """Money today, and each good that has moved since ``true_costs``. Raises UnknownGoods."""
    taken = take(recipe, catalogue)
    used, money = taken.as_catalogue(), get_money(taken, rules)
    causes = []
    for kind in _COSTED:
        for slug, good in getattr(used, kind).items():
            before = true_costs.get(f"{kind}/{slug}", good.cost)
            if before == good.cost:
                continue
            back = used.model_copy(
                update={kind: {**getattr(used, kind), slug: good.model_copy(update={"cost": before})}}
            )
            per_piece = money.room_left - get_money(take(recipe, back), rules).room_left
            if abs(per_piece) >= LEAST_SHOWN:
                causes.append(Cause(good.name, find_change(before, good.cost), per_piece))
    return Drift(money, tuple(sorted(causes, key=lambda cause: cause.per_piece)))
