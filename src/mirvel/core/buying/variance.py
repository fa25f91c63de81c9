"""What buying cost against the standard: by price and by usage.

Price variance ``(AP - SP) AQ`` and usage variance ``(AQ - SQ) SP``, adverse when positive (standard costing,
source: cost-accounting). For stems the standard quantity is what the good stems would have taken at
the dump the shop reckons with, ``SQ = good / (1 - dump)``; prices are per stem with freight, before dump.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal


@dataclass(frozen=True)
class Variance:
    """Money over (positive, adverse) or under (negative, favourable) the standard."""

    price: Decimal
    usage: Decimal


def get_variance(
    standard_price: Decimal, standard_quantity: Decimal, actual_price: Decimal, actual_quantity: Decimal
) -> Variance:
    """Price and usage variance of one purchase."""
    return Variance(
        price=(actual_price - standard_price) * actual_quantity,
        usage=(actual_quantity - standard_quantity) * standard_price,
    )


@dataclass(frozen=True)
class Bought:
    """Stems of one material received, and what one cost with freight; ``standard`` and ``dump`` are those reckoned
    with at the beginning of the period."""

    stems: int
    rejected: int
    paid: Decimal
    standard: Decimal
    dump: Decimal


@dataclass(frozen=True)
class Report:
    """All purchases of one material over a period."""

    stems: int
    rejected: int
    variance: Variance

    @property
    def rejected_share(self) -> Decimal:
        return get_rejected_share(self.stems, self.rejected)


def get_rejected_share(stems: int, rejected: int) -> Decimal:
    """The share of stems received that was rejected: what dump turned out to be so far."""
    return Decimal(rejected) / stems if stems else Decimal(0)


def get_report(purchases: Iterable[Bought]) -> Report:
    """Purchases summed; each is set against its own standard."""
    bought = list(purchases)
    found = [
        get_variance(each.standard, (each.stems - each.rejected) / (1 - each.dump), each.paid, Decimal(each.stems))
        for each in bought
    ]
    return Report(
        stems=sum(each.stems for each in bought),
        rejected=sum(each.rejected for each in bought),
        variance=Variance(
            sum((each.price for each in found), Decimal(0)), sum((each.usage for each in found), Decimal(0))
        ),
    )
