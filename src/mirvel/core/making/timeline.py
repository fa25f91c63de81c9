"""What is done when for a service, worked back from the first time a family sees the piece."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from decimal import Decimal

from mirvel.core.recipe.service import Service

LOAD_MINUTES, RESERVE_MINUTES = 15, 30  # to carry out and tie down; kept free after making (assumptions)


@dataclass(frozen=True)
class Moment:
    """Something that is done at a time."""

    at: datetime
    what: str


@dataclass(frozen=True)
class Timeline:
    """What is done when, and how many days the piece lasts from leaving the shop without refill."""

    moments: tuple[Moment, ...]
    days: float
    first: datetime

    def find_missed(self, now: datetime) -> tuple[Moment, ...]:
        """What had to be done by now for a piece that no family has seen yet, the last of it first: it is done already,
        or time is missing."""
        return tuple(moment for moment in reversed(self.moments) if moment.at < now < self.first)


def _round_down(time: datetime) -> datetime:
    """To five minutes, earlier."""
    return time - timedelta(minutes=time.minute % 5, seconds=time.second, microseconds=time.microsecond)


def find_timeline(service: Service, minutes: Decimal, drain_minutes: int, condition_hours: int) -> Timeline | None:
    """The times that follow, worked back from the first a family sees it; None where no time is known."""
    if not service.times:
        return None
    first, last = service.times[0], service.times[-1] + timedelta(days=service.stays_days)
    loads = first - timedelta(minutes=service.travel_minutes + LOAD_MINUTES)
    drains = loads - timedelta(minutes=drain_minutes)
    begins = _round_down(drains - timedelta(minutes=float(minutes) + RESERVE_MINUTES))
    moments = [
        Moment(begins - timedelta(hours=condition_hours), f"flowers in water by then, to condition {condition_hours} h")
    ]
    moments.append(Moment(begins, f"made, {minutes:g} minutes, and checked"))
    if drain_minutes:
        moments.append(Moment(drains, f"drained upright, {drain_minutes} minutes"))
    moments.append(Moment(loads, "loaded"))
    for name, time in (
        ("visitation", service.visitation),
        ("service", service.service),
        ("committal", service.committal),
    ):
        if time:
            moments.append(Moment(time, name))
    if service.stays_days:
        moments.append(Moment(last, "it may be cleared"))
    return Timeline(tuple(moments), round((last - drains).total_seconds() / 86_400, 2), first)
