"""The horn of plenty lying on its side, its mouth at the piece's origin, its tail curling up behind."""

import math

import numpy as np
from markupsafe import Markup

from mirvel.core.goods.container import Container
from mirvel.core.space.vectors import Vec
from mirvel.drawing.palette import INK, mix
from mirvel.drawing.svg import closed, path, tag
from mirvel.drawing.view import MM_PER_CM, Eye

_WICKER = "#c49a63"
_RINGS = 15
_WALL_MM = 7.0
_TAPER, _CURL = 0.85, 1.5


def _get_reach_cm(container: Container) -> float:
    """From the mouth to the tail, as it lies."""
    return 0.82 * container.base_cm


def _get_ring(share: float) -> tuple[float, float]:
    """At a share of the way to its tail, how large the horn is and how high its middle line lies, both in its mouth’s
    own size."""
    size = (1 - share) ** _TAPER * 0.97 + 0.03
    return size, size - 1 + _CURL * share**2.6


def get_inside_heights(container: Container, z: float) -> tuple[float, float]:
    """From what height to what other the horn is open so far behind its mouth (z below nothing), cm from the middle of
    the mouth, as its walls are drawn from the side."""
    _, high = container.rim_halves_cm
    at, wall = [], _WALL_MM / 2 / MM_PER_CM
    for number in range(_RINGS + 1):
        share = number / _RINGS
        size, rise = _get_ring(share)
        slope = _get_slope(high, share)
        out = high * size / math.hypot(1.0, slope)
        at.append((high * rise, -_get_reach_cm(container) * share, out, slope * out))
    upper, lower = (
        sorted((deep + side * back, middle + side * out) for middle, deep, out, back in at) for side in (1.0, -1.0)
    )
    top, bottom = (
        float(np.interp(z, [deep for deep, _ in side], [height for _, height in side])) for side in (upper, lower)
    )
    return bottom + wall, top - wall


def _get_slope(high: float, share: float) -> float:
    """How steeply the middle line of a horn rises towards its tail."""
    return 0.4 * high * math.pow(share, 1.6)


def draw_horn(container: Container, eye: Eye, inside: Markup | None = None) -> Markup:
    """The horn from any side: rings along its curled middle line, the mouth's dark oval in front. Cut open, its wall
    round what is inside."""
    wide, high = container.rim_halves_cm
    reach = _get_reach_cm(container)
    lefts, rights, weave = [], [], ""
    for number in range(_RINGS + 1):
        share = number / _RINGS
        size, rise = _get_ring(share)
        middle = Vec(0.0, high * rise, -reach * share)
        x, y = eye.flatten(middle)
        ahead = eye.flatten(Vec(middle.x, middle.y + _get_slope(high, share), middle.z - 1.0))
        dx, dy = ahead[0] - x, ahead[1] - y
        length = max((dx * dx + dy * dy) ** 0.5, 1e-6)
        half = (high if eye.up.y > 0.5 else wide) * size * MM_PER_CM
        nx, ny = -dy / length * half, dx / length * half
        lefts.append((x + nx, y + ny))
        rights.append((x - nx, y - ny))
        if 0 < number < _RINGS:
            bow = 0.25 * half / length
            weave += path("M", x + nx, y + ny, "Q", x + dx * bow, y + dy * bow, x - nx, y - ny)
    body = closed([*lefts, *reversed(rights)])
    if inside is not None:
        look: dict[str, str | float | None] = {"stroke_linejoin": "round", "stroke": INK}
        wall = tag("path", d=body, fill=_WICKER, stroke_width=_WALL_MM + 2.0, **look) + tag(
            "path", d=body, fill=mix(_WICKER, INK, 0.45), **{**look, "stroke": _WICKER}, stroke_width=_WALL_MM
        )
        return tag("g", tag("title", f"{container.name}, in section") + wall + inside)
    x, y = eye.flatten(Vec(0.0, 0.0, 0.0))
    open_wide = max(abs(eye.right.x) * wide, 0.8) * MM_PER_CM
    open_high = (abs(eye.up.y) * high + abs(eye.up.z) * 0.8) * MM_PER_CM
    mouth = tag("ellipse", cx=x, cy=y, rx=open_wide, ry=open_high, fill=mix(_WICKER, INK, 0.6), stroke=INK)
    return tag(
        "g",
        tag("title", f"{container.name}, lying on its side")
        + tag("path", d=body, fill=_WICKER, stroke=INK, stroke_width=1.3, stroke_linejoin="round")
        + tag("path", d=weave, fill="none", stroke=mix(_WICKER, INK, 0.35), stroke_width=1.2)
        + (mouth if eye.towards.z > 0 or eye.up.y < 0.5 else ""),
    )
