"""Writing SVG text: fixed decimals, fixed order, everything escaped.

An element is ``Markup``; whatever else stands inside or beside one is text and is escaped as it goes in, so that a name
with markup in it is never more than a name.
"""

import math
import re
from collections.abc import Iterable
from functools import cache
from html import escape
from itertools import pairwise

from markupsafe import Markup

_find_special = re.compile("[&<>\"']").search


def num(value: float) -> str:
    """A number to a tenth of a millimetre, without a trailing zero or a negative zero.

    >>> num(-0.04), num(12.0), num(3.14159)
    ('0', '12', '3.1')
    """
    text = f"{value:.1f}".removesuffix(".0")
    return "0" if text == "-0" else text


def _as_markup(written: str) -> Markup:
    """Text that is escaped already; Markup's own beginning asks the same of every string, thousands in a drawing."""
    return str.__new__(Markup, written)


def tag(name: str, content: str = "", /, **attributes: str | float | None) -> Markup:
    """One element; underscores in names become hyphens, and a trailing one is dropped. None leaves one out.

    >>> tag("title", "<b>Slipway")
    Markup('<title>&lt;b&gt;Slipway</title>')
    """
    said = "".join(
        [
            f'{_get_opening(key)}{_escape(value) if isinstance(value, str) else num(value)}"'
            for key, value in attributes.items()
            if value is not None
        ]
    )
    return _as_markup(f"<{name}{said}>{_write(content)}</{name}>" if content else f"<{name}{said}/>")


@cache
def _get_opening(key: str) -> str:
    """How an attribute begins; they are as many as the code names."""
    return f' {key.rstrip("_").replace("_", "-")}="'


def _escape(value: str) -> str:
    return escape(value) if _find_special(value) else value


def _write(part: str) -> str:
    """An element as it is, all else as text."""
    return part if isinstance(part, Markup) else Markup.escape(part)


def join(parts: Iterable[str]) -> Markup:
    """Elements one after the other; what is no element is text."""
    return _as_markup("".join([_write(part) for part in parts]))


def text(content: str, x: float, y: float, size: float, **attributes: str | float | None) -> Markup:
    return tag("text", content, x=x, y=y, font_size=size, **attributes)


def path(*parts: str | float) -> str:
    """Path data from command letters and numbers, as short as it can be written."""
    written, last_is_number = [], False
    for part in parts:
        is_number = not isinstance(part, str)
        word = num(part) if isinstance(part, (int, float)) else part
        written.append(f" {word}" if is_number and last_is_number and not word.startswith("-") else word)
        last_is_number = is_number
    return "".join(written)


def curve(data: str) -> str:
    """Path data written out by hand, every number in it shortened as ``path`` does."""
    return path(*(part if part.isalpha() else float(part) for part in data.split()))


def polar(radius: float, degrees: float) -> tuple[float, float]:
    """A point at a radius, 0° up and clockwise, y down."""
    turn = math.radians(degrees)
    return radius * math.sin(turn), -radius * math.cos(turn)


def closed(points: Iterable[tuple[float, float]]) -> str:
    """A straight-sided outline through points."""
    parts: list[str | float] = []
    for number, (x, y) in enumerate(points):
        parts += ["L" if number else "M", x, y]
    return path(*parts, "Z")


def smooth(points: list[tuple[float, float]]) -> str:
    """A closed outline that runs smoothly by way of the points, each edge's middle being on it."""
    middles = [
        ((x + points[(n + 1) % len(points)][0]) / 2, (y + points[(n + 1) % len(points)][1]) / 2)
        for n, (x, y) in enumerate(points)
    ]
    parts: list[str | float] = ["M", *middles[-1]]
    for point, middle in zip(points, middles, strict=True):
        parts += ["Q", *point, *middle]
    return path(*parts, "Z")


def wind(points: list[tuple[float, float]]) -> str:
    """An open line that runs smoothly by way of the points, from the first to the last."""
    parts: list[str | float] = ["M", *points[0]]
    for point, after in pairwise(points[1:]):
        parts += ["Q", *point, (point[0] + after[0]) / 2, (point[1] + after[1]) / 2]
    return path(*parts, "L", *points[-1])
