"""Somebody the shop buys from, and what has been chosen and mended in one of their price lists."""

from collections.abc import Mapping
from typing import Annotated

from pydantic import Field

from mirvel.core.buying.costs import Terms
from mirvel.core.buying.price_list import Correction, ListMapping
from mirvel.core.values.fact import KEPT, Fact, Name


class Supplier(Fact):
    """A supplier: terms, and how the price list was read last time."""

    name: Name
    terms: Terms = Terms()
    mapping: ListMapping | None = Field(default=None, description="how the price list was read last time")
    has_feed: bool = Field(default=False, description="the daily price feed is this supplier's")
    note: str = Field(default="", max_length=300, pattern=KEPT)


RowNumber = Annotated[int, Field(ge=1)]


class ListChoices(Fact):
    """What a person has settled in a price list so far; a match of "" is an article that is not ours."""

    mapping: ListMapping
    corrections: Mapping[RowNumber, Correction] = Field(default_factory=dict)
    matches: Mapping[str, str] = Field(default_factory=dict)
