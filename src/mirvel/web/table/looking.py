"""How a person looks at the Table's drawing: from which side, which view, on which day, with which labels, and which
piece is chosen. It belongs to the page, not to the recipe, and travels with each request."""

import re
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum

from mirvel.core.card.days import LAST_DAY
from mirvel.drawing.sheet import Style
from mirvel.drawing.view import FRONT_HOUR, View
from mirvel.web.requests import Typed

COMPASS = (6.0, 7.5, 9.0, 10.5, 12.0, 1.5, 3.0, 4.5)
_STEP_HOURS = 1.5


class Labels(StrEnum):
    """What stands on the heads."""

    NONE = "none"
    NUMBERS = "numbers"
    MARKS = "marks"


@dataclass(frozen=True)
class Looking:
    """A way of looking; ``day`` is None on the day the piece is cut for; ``piece`` is (entry id, number) if one is
    chosen."""

    hour: float = FRONT_HOUR
    view: View = View.FRONT
    day: int | None = None
    labels: Labels = Labels.NONE
    piece: tuple[str, int] | None = None

    @property
    def style(self) -> Style:
        numbered, marked = self.labels is Labels.NUMBERS, self.labels is Labels.MARKS
        return Style(numbered=numbered, marked=marked, hour=self.hour, broken=True, named=True)

    @property
    def key(self) -> str:
        """What the drawing hangs on, in words."""
        return f"{self.hour} {self.view} {self.day} {self.labels}"

    @property
    def chosen(self) -> str:
        """The chosen piece as the page names it."""
        return f"{self.piece[0]}.{self.piece[1]}" if self.piece else ""

    @property
    def left(self) -> float:
        """The next compass turn, the piece turned to the left."""
        return (self.hour - _STEP_HOURS) % 12 or 12.0

    @property
    def right(self) -> float:
        return (self.hour + _STEP_HOURS) % 12 or 12.0

    def without_piece(self) -> "Looking":
        return replace(self, piece=None)


@dataclass(frozen=True)
class Has:
    """What a page has already and need not be sent: symbols that drawings refer to, and its parts by id, each with the
    mark of what stands in it."""

    symbols: frozenset[str] = frozenset()
    marks: Mapping[str, str] = field(default_factory=dict)


def read_looking(typed: Typed) -> Looking:
    """The way of looking a request asks for; what it does not say, or says wrongly, is as usual."""
    view = typed.get("view", "")
    labels = typed.get("labels", "")
    return Looking(
        hour=_read_hour(typed.get("hour", "")),
        view=View(view) if view in {View.FRONT, View.SECTION} else View.FRONT,
        day=_read_day(typed.get("day", "")),
        labels=Labels(labels) if labels in set(Labels) else Labels.NONE,
        piece=read_piece(typed.get("piece", "")),
    )


def read_has(typed: Typed) -> Has:
    """What a page says it has."""
    parts = (part.partition("=") for part in typed.get("marks", "").split(","))
    return Has(frozenset(typed.get("has", "").split(",")), {name: mark for name, _, mark in parts if mark})


def _read_hour(text: str) -> float:
    try:
        hour = round(float(text), 1) % 12
    except (ValueError, OverflowError):
        return FRONT_HOUR
    return (hour or 12.0) if hour == hour else FRONT_HOUR


def _read_day(text: str) -> int | None:
    return min(LAST_DAY, int(text)) if re.fullmatch(r"\d{1,3}", text, re.ASCII) else None


def read_piece(text: str) -> tuple[str, int] | None:
    """A piece as the page names it, "e3.2" the second of entry e3; None where it is none."""
    entry, _, number = text.rpartition(".")
    return (entry, int(number)) if entry and re.fullmatch(r"\d{1,4}", number, re.ASCII) else None
