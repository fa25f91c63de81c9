"""What a good costs landed, and what it cost on any day.

Landed cost per unit ``c = pack price / pack size x (1 + freight) / (1 - dump)``, to four places, half to even.
Dump is the share of stems bought that is never sold (broken, refused, wilted); it is charged to the stems that are.
Common practice, no published source.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from decimal import ROUND_HALF_EVEN, Decimal

from pydantic import Field

from mirvel.core.values.fact import Fact

FOUR_PLACES = Decimal("0.0001")


class Terms(Fact):
    """What a supplier's goods cost on top of the list: freight as a share of price, dump as a share of stems."""

    freight: Decimal = Field(default=Decimal(0), ge=0, le=3, max_digits=6, decimal_places=4)
    dump: Decimal = Field(default=Decimal("0.05"), ge=0, lt=1, max_digits=6, decimal_places=4)

    def without_dump(self) -> "Terms":
        """The terms for what does not wilt: containers and hard goods."""
        return Terms(freight=self.freight, dump=Decimal(0))


def get_landed_cost(pack_price: Decimal, pack_size: Decimal, terms: Terms) -> Decimal:
    """Cost of one usable unit, to four places.

    >>> get_landed_cost(Decimal("12.50"), Decimal(25), Terms(freight=Decimal("0.10"), dump=Decimal("0.05")))
    Decimal('0.5789')
    """
    landed = pack_price / pack_size * (1 + terms.freight) / (1 - terms.dump)
    return landed.quantize(FOUR_PLACES, rounding=ROUND_HALF_EVEN)


@dataclass(frozen=True)
class PurchasePrice:
    """One price as recorded: in force since a day, and where it came from.

    ``counts`` is False for an offer of a supplier the shop does not buy this good from; ``number`` is the order
    of recording.
    """

    number: int
    since: date
    pack_price: Decimal
    pack_size: Decimal
    terms: Terms
    cost: Decimal
    supplier_id: int | None
    counts: bool
    source: str

    @property
    def paid_each(self) -> Decimal:
        """What one unit is bought at, with freight, before dump."""
        return (self.pack_price / self.pack_size * (1 + self.terms.freight)).quantize(FOUR_PLACES)

    def is_like(self, pack_price: Decimal, pack_size: Decimal, terms: Terms) -> bool:
        """Whether it says the same as a price about to be recorded."""
        return (self.pack_price, self.pack_size, self.terms) == (pack_price, pack_size, terms)


def find_price_on(history: Iterable[PurchasePrice], day: date) -> PurchasePrice | None:
    """The price in force on a day: the newest that counts, by day and then by order of recording."""
    known = [point for point in history if point.counts and point.since <= day]
    return max(known, key=lambda point: (point.since, point.number), default=None)
