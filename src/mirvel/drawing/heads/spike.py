"""Spikes: florets up a stem, open below and in bud at the tip. Lipped, starry, double and slender ones.

Drawn from the origin upwards, 100 units long; ``ratio`` is width over length.
"""

from markupsafe import Markup

from mirvel.drawing.heads.petals import blob, disc, petal, strokes
from mirvel.drawing.palette import CALYX, STEM, Tones, mix
from mirvel.drawing.svg import curve, join, path, polar

_ROWS = {"lipped": 12, "starry": 12, "double": 11, "slender": 22}


def side(tones: Tones, habit: str, ratio: float, openness: float) -> Markup:
    """The whole spike from the side; it opens from below, the tip in bud to the last."""
    open_to = 0.35 + 0.55 * openness
    rows, half = _ROWS.get(habit, 11), 50 * ratio
    drawn = [strokes(path("M", 0, 0, "Q", half * 0.1, -50, 0, -98), STEM, max(1.2, half * 0.16))]
    for row in range(rows):
        share = row / (rows - 1)
        y = -8 - 86 * share**0.86
        size = half * (0.80 - 0.50 * share**1.6) if habit != "slender" else half * (0.5 - 0.33 * share)
        if share > open_to:
            drawn += [_bud(x, y, size * 0.8, tones) for x in (-size * 0.6, size * 0.6)]
            continue
        out = half * (0.62 - 0.42 * share)
        order = (-out, out, 0.0) if row % 2 else (out, -out, out * 0.1)
        drawn += [_floret(habit, x, y + (1.5 if x else 3.5), size, tones, row) for x in order]
    drawn.append(_bud(0, -96, half * 0.2, tones))
    return join(drawn)


def _bud(x: float, y: float, size: float, tones: Tones) -> Markup:
    data = path("M", x, y - size * 1.5, "Q", x + size, y, x, y + size, "Q", x - size, y, x, y - size * 1.5, "Z")
    return blob(data, mix(tones.base, "#b5c47e", 0.4), mix(tones.line, CALYX, 0.3), 0.45)


def _floret(habit: str, x: float, y: float, size: float, tones: Tones, row: int) -> Markup:
    fill = (tones.base, tones.light, tones.deep)[(row + (x > 0)) % 3]
    if habit == "lipped":
        upper = "".join(_lobe(x, y - size * 0.2, size * 1.05, at) for at in (-38, 38))
        lower = "".join(_lobe(x, y, size * 0.95, at) for at in (125, 180, 235))
        return (
            blob(upper, tones.deep, tones.line, 0.5)
            + blob(lower, fill, tones.line, 0.5)
            + disc(x, y, size * 0.24, tones.light)
        )
    count = {"starry": 5, "double": 6}.get(habit, 4)
    turn = row * 29 + x
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
