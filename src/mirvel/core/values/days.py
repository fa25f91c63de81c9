"""Days and times as a shop reads them: the month always in letters, so that nobody takes one for the other."""

from datetime import date, datetime
from enum import StrEnum


class DayOrder(StrEnum):
    """In what order a shop reads a date."""

    DAY_FIRST = "day first"
    MONTH_FIRST = "month first"
    YEAR_FIRST = "year first"


_PATTERNS = {
    DayOrder.DAY_FIRST: "{day} {month} {year}",
    DayOrder.MONTH_FIRST: "{month} {day}, {year}",
    DayOrder.YEAR_FIRST: "{year} {month} {day}",
}


def format_day(day: date, order: DayOrder) -> str:
    """A day in the shop's order.

    >>> format_day(date(2026, 12, 4), DayOrder.DAY_FIRST), format_day(date(2026, 12, 4), DayOrder.MONTH_FIRST)
    ('4 Dec 2026', 'Dec 4, 2026')
    """
    return _PATTERNS[order].format(day=day.day, month=f"{day:%b}", year=day.year)


def format_moment(moment: datetime, order: DayOrder) -> str:
    """A day of the week, its date and the time, as they are told to somebody who has to be there.

    >>> format_moment(datetime(2026, 12, 4, 11, 0), DayOrder.DAY_FIRST)
    'Fri 4 Dec 2026, 11:00'
    """
    return f"{moment:%a} {format_day(moment, order)}, {moment:%H:%M}"
