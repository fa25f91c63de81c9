"""Money: made in one place, rounded in one place.

Sums are carried exactly; rounding happens once, when an amount is to be shown or charged (ROUND_HALF_EVEN).
"""

from decimal import ROUND_DOWN, ROUND_HALF_EVEN, ROUND_UP, Decimal

CENT = Decimal("0.01")
COST_PLACES = Decimal("0.0001")


def to_cent(amount: Decimal) -> Decimal:
    """An amount as it is shown or charged, to the cent, half to even.

    >>> to_cent(Decimal("17.66666667"))
    Decimal('17.67')
    """
    return amount.quantize(CENT, rounding=ROUND_HALF_EVEN)


def to_cost(amount: Decimal) -> Decimal:
    """A cost to four places, rounded up, so that rounding never makes a piece look cheaper than it is."""
    return amount.quantize(COST_PLACES, rounding=ROUND_UP)


def to_budget(amount: Decimal) -> Decimal:
    """Money that may be spent, to four places, rounded down, so that rounding never overspends."""
    return amount.quantize(COST_PLACES, rounding=ROUND_DOWN)
