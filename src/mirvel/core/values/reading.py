"""What a person types, read to a number, a share or a day, within limits; anything else is a problem with its mend.

A number is looked at as text first: exponents, endless digits and other scripts' digits are no numbers here, so that
nothing typed can be made to fill the memory or the day.
"""

import re
from datetime import date
from decimal import Decimal

from mirvel.core.values.days import DayOrder, format_day
from mirvel.core.values.problems import BadInput, Problem

MOST_YEARS_AWAY = 10
_SHOWN = 30
_WHOLE = re.compile(r"\d{1,9}", re.ASCII)
_AMOUNT = re.compile(r"(\d{1,10}([.,]\d{0,10})?|[.,]\d{1,10})", re.ASCII)


def read_whole(text: str, field: str, *, least: int = 0, most: int) -> int:
    """A whole number of at most nine digits. Raises BadInput.

    >>> read_whole(" 12 ", "row", most=20)
    12
    """
    text = text.strip()
    if not _WHOLE.fullmatch(text) or not least <= int(text) <= most:
        mend = f"Type a whole number from {least} to {most:,}."
        raise BadInput(Problem(field, f"“{text[:_SHOWN]}” cannot be used.", mend))
    return int(text)


def read_amount(text: str, field: str, *, most: Decimal, places: int = 4, example: str = "0.62") -> Decimal:
    """An amount from nothing to ``most`` with point or comma, a currency sign before it or not. Raises BadInput.

    >>> read_amount("£0,60", "cost", most=Decimal(100))
    Decimal('0.60')
    """
    bare = text.strip().lstrip("£$€¥₹ ")
    if not _AMOUNT.fullmatch(bare):
        raise BadInput(Problem(field, f"“{text[:_SHOWN]}” is not an amount.", f"Type one such as {example}."))
    amount = Decimal(bare.replace(",", "."))
    if amount > most:
        raise BadInput(Problem(field, f"“{text[:_SHOWN]}” is too large.", f"Type {most:,} at most."))
    if amount != round(amount, places):
        raise BadInput(Problem(field, f"has more than {places} decimal places.", f"Type {places} at most."))
    return amount


def read_percent(text: str, field: str) -> Decimal:
    """A percentage from 0 to 100 as a share, to a tenth of a percent or finer as typed. Raises BadInput.

    >>> read_percent("8,5 %", "freight")
    Decimal('0.085')
    """
    return read_amount(text.strip().rstrip("% "), field, most=Decimal(100), example="8 or 8.5").scaleb(-2)


def read_day(text: str, field: str, *, today: date) -> date:
    """A day as 2026-03-02, not more than ten years from today; today where nothing is typed. Raises BadInput."""
    try:
        day = date.fromisoformat(text.strip()) if text.strip() else today
    except ValueError:
        raise BadInput(Problem(field, f"“{text[:_SHOWN]}” is not a day.", "Type it as 2026-03-02.")) from None
    if abs(day.year - today.year) > MOST_YEARS_AWAY:
        raise BadInput(
            Problem(field, f"{format_day(day, DayOrder.DAY_FIRST)} is more than ten years away.", "Check the year.")
        )
    return day
