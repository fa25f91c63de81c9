"""What a wanted margin makes of a price, and which of the shop's prices some goods belong to."""

from dataclasses import dataclass
from decimal import Decimal

from mirvel.core.house.rules import HouseRules
from mirvel.core.pricing.pricing import get_money, get_money_at
from mirvel.core.recipe.taking import Taken
from mirvel.core.values.money import to_cent
from mirvel.core.values.problems import BadInput, Problem
from mirvel.core.values.reading import read_percent

MOST = Decimal("0.99")


@dataclass(frozen=True)
class AtMargin:
    """At a gross margin wanted (a share of the price before tax): what flowers may cost at the recipe's price, how much
    of that is left, and the price, as customers read it, that what is in it builds; and the lowest of the shop's prices
    at which its flowers are not over, with how far they fill it, where there is one."""

    wanted: Decimal
    flower_money: Decimal
    room_left: Decimal
    built: Decimal
    belongs_to: Decimal | None
    fill: Decimal | None


def read_margin(text: str) -> Decimal:
    """A margin as a percentage that leaves something to buy goods of. Raises BadInput."""
    margin = read_percent(text, "margin")
    if margin > MOST:
        raise BadInput(Problem("margin", "leaves nothing to buy goods of.", f"Type {MOST * 100:.0f} or less."))
    return margin


def find_at_margin(taken: Taken, rules: HouseRules, wanted: Decimal) -> AtMargin:
    """What a margin makes of a recipe: gross margin is what of the price before tax no flowers and hard goods cost."""
    money = get_money(taken, rules)
    goods = money.goods
    flower_money = money.price * (1 - wanted) - goods.hard_goods
    belongs_to, fill = _find_price_point(taken, rules)
    return AtMargin(
        wanted=wanted,
        flower_money=flower_money,
        room_left=to_cent(flower_money) - to_cent(goods.flowers),
        built=(goods.flowers + goods.hard_goods) / (1 - wanted) * (1 + rules.tax_rate),
        belongs_to=belongs_to,
        fill=fill,
    )


def _find_price_point(taken: Taken, rules: HouseRules) -> tuple[Decimal, Decimal] | tuple[None, None]:
    for point in sorted(rules.price_points):
        there = get_money_at(taken, rules, point)
        if there.fill is not None and not there.is_over:
            return point, there.fill
    return None, None
