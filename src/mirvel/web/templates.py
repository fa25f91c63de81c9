"""Jinja set up once: escaping everywhere, rooms' folders as the search path, and filters that only format."""

import secrets
from decimal import Decimal
from hashlib import sha256
from itertools import count
from pathlib import Path

from fastapi.templating import Jinja2Templates
from jinja2 import Environment, FileSystemLoader, StrictUndefined

from mirvel.core.goods.editing import format_months
from mirvel.core.values.days import format_day, format_moment
from mirvel.core.values.money import to_cent
from mirvel.core.values.units import LengthUnit, format_length, retell


def format_money(amount: Decimal, currency: str) -> str:
    """An amount to the cent with its currency sign; "£42.00", "−£1.84"."""
    rounded = to_cent(amount)
    return f"{'−' if rounded < 0 else ''}{currency}{abs(rounded)}"


def format_signed_money(amount: Decimal, currency: str) -> str:
    """An amount to the cent with its sign, more or less: "+£0.40", "−£1.84"."""
    return f"{'+' if to_cent(amount) > 0 else ''}{format_money(amount, currency)}"


def format_price(amount: Decimal, currency: str) -> str:
    """A price point: "£42", or "£42.50"."""
    return format_money(amount, currency).removesuffix(".00")


def format_percent(share: Decimal | float | None) -> str:
    return "–" if share is None else f"{float(share) * 100:.1f} %"


def format_signed_percent(share: Decimal, places: int = 1) -> str:
    """A relative change: "+33 %", "−18.1 %"."""
    return f"{float(share) * 100:+.{places}f} %".replace("-", "−")


def format_whole_percent(share: float) -> str:
    """A share as it is told in passing: "83 %"."""
    return f"{float(share) * 100:.0f} %"


def format_typed_percent(share: Decimal | float | None) -> str:
    """A share as it stands in a field: "8.5"; nothing where there is none."""
    return "" if share is None else f"{round(float(share) * 100, 2):g}"


def make_templates() -> Jinja2Templates:
    """Templates of all rooms, found as "room/name.html"."""
    environment = Environment(
        loader=FileSystemLoader(Path(__file__).parent),
        autoescape=True,
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
        auto_reload=False,  # they come with the app, and asking the disk for each takes a twentieth of a page's time
    )
    own, numbers = secrets.token_urlsafe(12), count()
    environment.globals["fresh_key"] = lambda: f"{own}{next(numbers)}"
    environment.filters["digest"] = lambda text: sha256(text.encode()).hexdigest()[:12]
    environment.filters["money"] = format_money
    environment.filters["signed_percent"] = format_signed_percent
    environment.filters["signed_money"] = format_signed_money
    environment.filters["plain"] = lambda amount: f"{amount:f}"
    environment.filters["price"] = format_price
    environment.filters["percent"] = format_percent
    environment.filters["whole_percent"] = format_whole_percent
    environment.filters["typed_percent"] = format_typed_percent
    environment.filters["day"] = format_day
    environment.filters["months"] = format_months
    environment.filters["moment"] = format_moment
    environment.filters["length"] = lambda cm, unit: format_length(cm, LengthUnit(unit))
    environment.filters["retell"] = retell
    environment.filters["bare_length"] = lambda cm, unit: format_length(cm, LengthUnit(unit), with_unit=False)
    return Jinja2Templates(env=environment)
