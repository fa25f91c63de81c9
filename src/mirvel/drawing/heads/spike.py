"""Spikes: florets round a stem, open below and in bud at the tip. Lipped, starry, double, slender; large funnels in two
ranks (funnel); and brushes, which open from the top (brush).

Drawn from the origin upwards, 100 units long; ``ratio`` is width over length.
"""

import math

from markupsafe import Markup

from mirvel.drawing.heads.petals import blob, disc, petal, strokes
from mirvel.drawing.palette import CALYX, STEM, Tones, mix
from mirvel.drawing.svg import curve, join, path, polar

_FLORETS = {"lipped": 30, "starry": 34, "double": 30, "slender": 56, "brush": 44, "funnel": 9}
_GOLDEN_DEG = 137.508


def side(tones: Tones, habit: str, ratio: float, openness: float) -> Markup:
    """The whole spike from the side; it opens from below, the tip in bud to the last, but for a brush."""
    if habit == "funnel":
        return _funnels(tones, ratio, openness)
    open_to, florets, half = 0.35 + 0.55 * openness, _FLORETS.get(habit, 30), 50 * ratio
    drawn = [strokes(path("M", 0, 0, "Q", half * 0.1, -50, 0, -98), STEM, max(1.2, half * 0.16))]
    front: list[Markup] = []
    for number in range(florets):
        share = number / (florets - 1)
        y, turn = -7 - 87 * share**0.9, math.radians(number * _GOLDEN_DEG)
        size = half * (0.80 - 0.48 * share**1.6) if habit not in {"slender", "brush"} else half * (0.5 - 0.3 * share)
        x = half * (0.64 - 0.42 * share) * math.sin(turn)
        is_open = share > 1 - open_to if habit == "brush" else share <= open_to
        layer = front if math.cos(turn) > -0.2 else drawn
        green = 0.12 + 0.4 * (1 - share - open_to if habit == "brush" else share - open_to)  # next to open, coloured
        layer.append(_floret(habit, x, y, size, tones, number) if is_open else _bud(x, y, size * 0.7, tones, green))
    return join([*drawn, *front, *([] if habit == "brush" else [_bud(0, -96, half * 0.2, tones)])])


def _funnels(tones: Tones, ratio: float, openness: float) -> Markup:
    """A gladiolus: wide funnels one over the other in two ranks towards the eye, tight ones in their green sheaths."""
    half, open_to, florets = 50 * ratio, 0.28 + 0.5 * openness, _FLORETS["funnel"]
    drawn = [strokes(path("M", 0, 0, "Q", half * 0.1, -50, 0, -98), STEM, max(1.4, half * 0.2))]
    for number in reversed(range(florets)):
        share, side = number / (florets - 1), 1 if number % 2 else -1
        y, size = -10 - 84 * share**0.92, half * (1.08 - 0.55 * share)
        if share > open_to:
            drawn.append(_sheath(side * half * 0.2 * (1 - share), y, half * (0.62 - 0.34 * share), side, tones))
        else:
            drawn.append(_funnel(side * half * (0.34 - 0.2 * share), y, size, tones, number))
    return join(drawn)


def _sheath(x: float, y: float, size: float, side: int, tones: Tones) -> Markup:
    """A bud half out of its green sheath."""
    bud = path(
        "M",
        x,
        y + size,
        "Q",
        x + side * size,
        y,
        x + side * size * 0.5,
        y - size * 1.3,
        "Q",
        x - side * 2,
        y,
        x,
        y + size,
        "Z",
    )
    leaf = path(
        "M",
        x,
        y + size * 1.3,
        "Q",
        x + side * size * 0.8,
        y + size * 0.3,
        x + side * size * 0.3,
        y - size * 0.5,
        "Q",
        x - side * 2,
        y,
        x,
        y + size * 1.3,
        "Z",
    )
    return blob(bud, mix(tones.base, CALYX, 0.25), tones.line, 0.5) + blob(leaf, CALYX, mix(CALYX, "#000000", 0.4), 0.5)


def _funnel(x: float, y: float, size: float, tones: Tones, number: int) -> Markup:
    """One floret looked into: three petals behind, three ruffled ones before, and its throat."""
    turn = 12 * (1 if number % 2 else -1)
    behind = "".join(_wide_lobe(x, y, size, at + turn) for at in (0, 120, 240))
    before = "".join(_wide_lobe(x, y, size * 0.94, at + turn) for at in (60, 180, 300))
    throat = "".join(_lobe(x, y, size * 0.46, at + turn) for at in (150, 180, 210))
    return (
        blob(behind, tones.deep, tones.line, 0.5)
        + blob(before, tones.base if number % 2 else tones.light, tones.line, 0.5)
        + blob(throat, mix(tones.deeper, "#f0e3a0", 0.35), "none", 0.1)
        + disc(x, y, size * 0.1, mix(tones.deeper, "#f0e3a0", 0.5))
    )


def _wide_lobe(x: float, y: float, reach: float, at: float) -> str:
    tip, left, right = polar(reach, at), polar(reach * 1.2, at - 46), polar(reach * 1.2, at + 46)
    return curve(
        f"M {x} {y} C {x + left[0] * 0.7} {y + left[1] * 0.7} {x + left[0] * 0.95} {y + left[1] * 0.95} "
        f"{x + tip[0]} {y + tip[1]} C {x + right[0] * 0.95} {y + right[1] * 0.95} {x + right[0] * 0.7} "
        f"{y + right[1] * 0.7} {x} {y} Z"
    )


def _bud(x: float, y: float, size: float, tones: Tones, green: float = 0.4) -> Markup:
    data = path("M", x, y - size * 1.5, "Q", x + size, y, x, y + size, "Q", x - size, y, x, y - size * 1.5, "Z")
    return blob(data, mix(tones.base, "#b5c47e", green), mix(tones.line, CALYX, 0.3), 0.45)


def _floret(habit: str, x: float, y: float, size: float, tones: Tones, number: int) -> Markup:
    fill = (tones.base, tones.light, tones.deep)[number % 3]
    if habit == "lipped":
        lean = 24 if x > 0 else -24
        tube = path("M", x * 0.3, y + size * 0.5, "L", x - size * 0.4, y, "L", x + size * 0.4, y, "Z")
        upper = "".join(_lobe(x, y - size * 0.1, size * 1.0, at + lean) for at in (-32, 32))
        lip = "".join(_lobe(x, y + size * 0.1, size * 0.92, 180 - lean + at) for at in (-58, 0, 58))
        return (
            blob(tube, tones.deep, tones.line, 0.4)
            + blob(upper, tones.deep, tones.line, 0.5)
            + blob(lip, fill, tones.line, 0.5)
            + disc(x, y + size * 0.16, size * 0.26, mix(tones.light, "#f0d46a", 0.4))
        )
    if habit == "brush":
        hairs = "".join(path("M", x, y, "l", *polar(size * 1.5, at + number * 40)) for at in range(0, 360, 45))
        return (
            disc(x, y, size * 0.7, tones.deep, tones.line, 0.4)
            + strokes(hairs, tones.line, 1.2)
            + strokes(hairs, fill, 0.8)
        )
    count = {"starry": 5, "double": 6}.get(habit, 4)
    turn = number * 29 + x
    star = "".join(_lobe(x, y, size * 1.06, turn + 360 * n / count) for n in range(count))
    drawn = blob(star, fill, tones.line, 0.5)
    if habit == "double":
        inner = "".join(_lobe(x, y, size * 0.6, turn + 25 + 90 * n) for n in range(4))
        drawn += blob(inner, tones.light, tones.line, 0.45)
    if habit == "starry":
        drawn += disc(x, y, size * 0.26, "#f5f2e4", tones.line, 0.4)
    return drawn


def _lobe(x: float, y: float, reach: float, at: float) -> str:
    tip, left, right = polar(reach, at), polar(reach * 1.02, at - 40), polar(reach * 1.02, at + 40)
    return curve(
        f"M {x} {y} Q {x + left[0]} {y + left[1]} {x + tip[0]} {y + tip[1]} Q {x + right[0]} {y + right[1]} {x} {y} Z"
    )


def end(tones: Tones, habit: str) -> Markup:
    """The spike seen from its tip, 100 units wide: a small rosette round the buds."""
    outer = "".join(petal(6, 48, 45 * n, 21, point=0.95) for n in range(8))
    inner = "".join(petal(4, 32, 60 * n + 20, 27, point=0.97) for n in range(6))
    drawn = blob(outer, tones.deep, tones.line) + blob(inner, tones.base, tones.line)
    return drawn + join(_bud(*polar(9, 120 * n), 8, tones) for n in range(3))
