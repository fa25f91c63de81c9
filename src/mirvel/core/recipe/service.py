"""What a family is asked for a service, in kind words, and what follows from its times: how long the flowers last
without refill, and when the piece is made, drained and loaded."""

from datetime import datetime
from itertools import pairwise
from typing import Annotated

from pydantic import Field, NaiveDatetime, model_validator

from mirvel.core.values.fact import KEPT, Fact, Slug

# A time by the shop's own clock, in a year that a calendar at the bench may show.
ShopTime = Annotated[NaiveDatetime, Field(ge=datetime(2000, 1, 1), le=datetime(2100, 1, 1))]


class RibbonLine(Fact):
    """One line for the ribbon; ``read_back`` once it has been read back to the family letter by letter."""

    text: str = Field(min_length=1, max_length=80, pattern=KEPT)
    read_back: bool = False


class VenueNote(Fact):
    """What the venue, the funeral director or the cemetery asks for, and whether they have confirmed it."""

    text: str = Field(min_length=1, max_length=200, pattern=KEPT)
    confirmed: bool = False


class Service(Fact):
    """The family's wishes and the times of a service; times are local to the shop."""

    faith: str = Field(default="", max_length=120, pattern=KEPT)
    colours: str = Field(default="", max_length=200, pattern=KEPT)
    wishes: str = Field(default="", max_length=600, pattern=KEPT)
    keeps: str = Field(default="", max_length=200, pattern=KEPT, description="who keeps what afterwards")
    ribbon: Slug | None = None
    ribbon_length_cm: float = Field(default=80.0, gt=0, le=400)
    ribbon_lines: tuple[RibbonLine, ...] = Field(default=(), max_length=4)
    visitation: ShopTime | None = None
    service: ShopTime | None = None
    committal: ShopTime | None = None
    stays_days: int = Field(default=0, ge=0, le=30, description="days it is to look good after the last of them")
    travel_minutes: int = Field(default=60, ge=0, le=1440)
    venue: tuple[VenueNote, ...] = Field(default=(), max_length=8)

    @model_validator(mode="after")
    def _times_are_in_order(self) -> "Service":
        named = [("visitation", self.visitation), ("service", self.service), ("committal", self.committal)]
        known = [(name, time) for name, time in named if time]
        for (before, one), (after, other) in pairwise(known):
            if other < one:
                raise ValueError(f"The {after} is before the {before}. Correct one of the two times.")
        return self

    @property
    def lasting_days(self) -> float:
        """Days from the first time a family sees the flowers until they may be cleared."""
        known = self.times
        return self.stays_days + ((known[-1] - known[0]).total_seconds() / 86_400 if known else 0.0)

    @property
    def times(self) -> tuple[datetime, ...]:
        """The times that are known, first to last."""
        return tuple(time for time in (self.visitation, self.service, self.committal) if time)
