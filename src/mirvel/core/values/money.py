"""Money: made in one place, rounded in one place.

Sums are carried exactly; rounding happens once, when an amount is to be shown or charged (ROUND_HALF_EVEN).
"""

from decimal import ROUND_HALF_EVEN, Decimal

CENT = Decimal("0.01")


def find_change(before: Decimal, after: Decimal) -> Decimal | None:
    """Relative change of a cost, e.g. 0.333 for a third dearer; None from nothing."""
    return after / before - 1 if before else None


def to_cent(amount: Decimal) -> Decimal:
    """An amount as it is shown or charged, to the cent, half to even.

    >>> to_cent(Decimal("17.66666667"))
    Decimal('17.67')
    """
    return amount.quantize(CENT, rounding=ROUND_HALF_EVEN)
