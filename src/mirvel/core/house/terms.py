"""On what terms a price is made where it is not on the house's: an occasion's, or a recipe's own."""

import re
from collections.abc import Callable
from decimal import Decimal
from enum import StrEnum
from typing import Annotated, Any

from pydantic import Field

from mirvel.core.values.fact import Fact
from mirvel.core.values.problems import BadInput, Problem
from mirvel.core.values.reading import read_amount

PriceShare = Annotated[Decimal, Field(ge=0, lt=1)]
Markup = Annotated[Decimal, Field(ge=1, le=20)]
LabourOnTop = Annotated[Decimal, Field(ge=0, le=2)]


class PricingSchool(StrEnum):
    """How a price and its flower money hang together."""

    MARKUP_ON_TOP = "mark-up, labour on top"
    MARKUP_SHARE = "mark-up, labour as a share"
    SLICES = "slices of the price"
    TIME_AND_MATERIALS = "time and materials"


class PiecePolicy(StrEnum):
    """What a broken-down stem is charged at."""

    WHOLE_STEMS = "whole stems"
    PIECES = "pieces used"


class Terms(Fact):
    """What is priced otherwise; None follows who comes before: a recipe its occasion, an occasion the house."""

    pricing: PricingSchool | None = None
    pieces: PiecePolicy | None = None
    flower_markup: Markup | None = Field(default=None, description="on all flowers, whatever their class")
    hard_goods_markup: Markup | None = None
    labour_on_top: LabourOnTop | None = None
    labour_share: PriceShare | None = None

    @property
    def said(self) -> dict[str, Any]:
        """What is not left to who comes before, by its name."""
        return {name: value for name in type(self).model_fields if (value := getattr(self, name)) is not None}


_MOST_MARKUP, _MOST_PERCENT = Decimal(20), Decimal(200)
_EXAMPLE = "flowers × 3.5; labour on top 25 %"


def _times(text: str, field: str) -> Decimal:
    return read_amount(text.lstrip("×x* "), field, most=_MOST_MARKUP, example="3.5")


def _percent(text: str, field: str) -> Decimal:
    return read_amount(text.rstrip("% "), field, most=_MOST_PERCENT, example="25").scaleb(-2)


# Each term that is a number: how it begins in words, how its number is read, and how it is written again.
NUMBERS: dict[str, tuple[str, Callable[[str, str], Decimal], Callable[[Decimal], str]]] = {
    "flower_markup": ("flowers", _times, lambda value: f"× {value:f}"),
    "hard_goods_markup": ("hard goods", _times, lambda value: f"× {value:f}"),
    "labour_on_top": ("labour on top", _percent, lambda value: f"{(value * 100).normalize():f} %"),
    "labour_share": ("labour as a share", _percent, lambda value: f"{(value * 100).normalize():f} %"),
}
_CHOICES: dict[str, type[StrEnum]] = {"pricing": PricingSchool, "pieces": PiecePolicy}


def read_term(name: str, text: str) -> Any:
    """One term as it is typed alone, its number read; None where nothing is. Raises BadInput."""
    text = text.strip()
    if not text or name not in NUMBERS:
        return text or None
    words, read, _ = NUMBERS[name]
    return read(text, words)


def write_term(name: str, value: Any) -> str:
    """One term as it is typed alone."""
    if value is None:
        return ""
    return NUMBERS[name][2](value).strip("×% ") if name in NUMBERS else str(value)


def write_terms(terms: Terms) -> str:
    """All terms in a line: “flowers × 3.5; labour on top 25 %”."""
    parts = [
        f"{NUMBERS[name][0]} {NUMBERS[name][2](value)}" if name in NUMBERS else str(value)
        for name, value in terms.said.items()
    ]
    return "; ".join(parts)


def read_terms(text: str, field: str) -> Terms:
    """The terms in a line. Raises BadInput."""
    found: dict[str, Any] = {}
    for part in filter(None, map(str.strip, text.split(";"))):
        name, value = _read_part(" ".join(part.split()), field)
        if name in found:
            raise BadInput(Problem(field, f"“{part[:40]}” is said twice.", "Keep one of the two."))
        found[name] = value
    if not found:
        raise BadInput(Problem(field, "says nothing of an occasion.", f"Type such as {_EXAMPLE}."))
    return Terms.model_validate(found)


def _read_part(part: str, field: str) -> tuple[str, Any]:
    for name, kind in _CHOICES.items():
        if part.lower() in [each.value for each in kind]:
            return name, kind(part.lower())
    for name, (words, read, _) in NUMBERS.items():
        match = re.fullmatch(rf"{words}\s*(.+)", part, re.IGNORECASE)
        if match:
            return name, read(match[1], field)
    raise BadInput(Problem(field, f"“{part[:40]}” is not understood.", f"Type such as {_EXAMPLE}."))
