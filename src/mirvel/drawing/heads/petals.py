"""Petal outlines, florets' buds and strokes shared by the heads."""

from markupsafe import Markup

from mirvel.drawing.palette import CALYX, Tones, mix
from mirvel.drawing.svg import path, polar, tag

_EARLY = 0.25  # share of a head's florets that has opened when it is bought tight


def petal(inner: float, outer: float, at: float, half: float, *, point: float = 1.0, squeeze: float = 1.15) -> str:
    """Path data of a petal from one radius to another, ``half`` degrees to either side of a direction.

    ``point`` above 1 draws the tip out, below 1 dents it; ``squeeze`` above 1 makes it wider than its foot.
    """
    left, right = polar(inner, at - half * 0.7), polar(inner, at + half * 0.7)
    tip = polar(outer * point, at)
    low_left, low_right = (
        polar((inner + outer) / 2, at - half * squeeze),
        polar((inner + outer) / 2, at + half * squeeze),
    )
    top_left, top_right = polar(outer * 1.06, at - half * 0.8), polar(outer * 1.06, at + half * 0.8)
    return path("M", *left, "C", *low_left, *top_left, *tip, "C", *top_right, *low_right, *right, "Z")


def ring(count: int, inner: float, outer: float, half: float, turn: float, *, point: float = 1.0) -> str:
    """Path data of a whole ring of petals in one."""
    return "".join(petal(inner, outer, turn + 360 * n / count, half, point=point) for n in range(count))


def blob(data: str, fill: str, line: str, width: float = 0.9) -> Markup:
    """A filled, outlined shape."""
    return tag("path", d=data, fill=fill, stroke=line, stroke_width=width, stroke_linejoin="round")


def disc(x: float, y: float, radius: float, fill: str, line: str | None = None, width: float = 0.7) -> Markup:
    return tag("circle", cx=x, cy=y, r=radius, fill=fill, stroke=line, stroke_width=width if line else None)


def is_open(number: int, count: int, openness: float) -> bool:
    """Whether one of a head's florets has opened; those that open first are scattered over it."""
    return (number * 7 + 3) % count < count * (_EARLY + (1 - _EARLY) * openness)


def bud(x: float, y: float, radius: float, fill: str, tones: Tones) -> Markup:
    """A floret still closed: a green-flushed bead."""
    return disc(x, y, radius, mix(fill, CALYX, 0.5), tones.line, 0.5)


def strokes(data: str, line: str, width: float) -> Markup:
    return tag("path", d=data, fill="none", stroke=line, stroke_width=width, stroke_linecap="round")
