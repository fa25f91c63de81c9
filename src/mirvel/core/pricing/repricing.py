"""What another price does to a recipe as it is: its money at both, nothing in it changed."""

from dataclasses import dataclass
from decimal import Decimal

from mirvel.core.house.rules import HouseRules
from mirvel.core.pricing.pricing import Money, get_money, get_money_at
from mirvel.core.recipe.taking import Taken
from mirvel.core.values.problems import BadInput, Problem
from mirvel.core.values.reading import read_amount

MOST_PRICE = Decimal(100_000)


@dataclass(frozen=True)
class Repriced:
    """One recipe's money as it is and at the other price."""

    now: Money
    then: Money

    @property
    def more_to_spend(self) -> Decimal:
        """How much more flowers may cost; below nought how much less."""
        return self.then.flower_money - self.now.flower_money


def get_stem(name: str, price: Decimal) -> str:
    """The name of a recipe without the price it ends in; all of it where it ends in none.

    >>> get_stem("Slipway 42", Decimal("42.00")), get_stem("Slipway 142", Decimal(42))
    ('Slipway', 'Slipway 142')
    """
    stem = name.removesuffix(f" {format_point(price)}").strip()
    return stem or name


def format_point(price: Decimal) -> str:
    """A price as names end in it: no pence where there are none."""
    return f"{price:.2f}" if price % 1 else f"{price:.0f}"


def rename(name: str, price: Decimal, other: Decimal) -> str:
    """The name with the other price in place of the one it ends in; as it is where it ends in none."""
    stem = get_stem(name, price)
    return name if stem == name else f"{stem} {format_point(other)}"


def exchange(points: tuple[Decimal, ...], price: Decimal, other: Decimal) -> tuple[Decimal, ...]:
    """A shop's prices with another in place of one, in order, each once."""
    return tuple(sorted({other if each == price else each for each in points}))


def read_price(text: str, field: str) -> Decimal:
    """A price as customers read it. Raises BadInput."""
    price = read_amount(text, field, most=MOST_PRICE, places=2, example="42 or 42.50")
    if price <= 0:
        raise BadInput(Problem(field, "is nothing.", "Type one such as 42 or 42.50."))
    return price


def reprice(taken: Taken, rules: HouseRules, price: Decimal) -> Repriced:
    """A recipe at another price."""
    return Repriced(get_money(taken, rules), get_money_at(taken, rules, price))
