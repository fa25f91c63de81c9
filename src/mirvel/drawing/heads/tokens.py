"""What is set on a stick, a wire or a pick: fruit, cones, a cross, a butterfly; and a candle, along its length."""

from markupsafe import Markup

from mirvel.drawing.heads.petals import blob, disc, strokes
from mirvel.drawing.palette import CALYX, Tones, mix
from mirvel.drawing.svg import curve, join, path

_STALK, _LEAF_EDGE = "#5d4a2f", mix(CALYX, "#000000", 0.4)


def front(tones: Tones, habit: str, openness: float) -> Markup:
    """One of them by its habit; an apple where none is named."""
    draw = {
        "pear": _pear,
        "gourd": _gourd,
        "pineapple": _pineapple,
        "cone": _cone,
        "cross": _cross,
        "butterfly": _butterfly,
    }.get(habit, _apple)
    return draw(tones)


def _apple(tones: Tones) -> Markup:
    """A round fruit with its stalk, shine and shade."""
    body = curve("M 0 -40 C 20 -52 50 -40 49 -4 C 48 30 26 50 0 46 C -26 50 -48 30 -49 -4 C -50 -40 -20 -52 0 -40 Z")
    shade = curve("M 49 -4 C 48 30 26 50 0 46 C -14 48 -26 44 -34 36 C 0 42 34 26 49 -4 Z")
    stalk = strokes(path("M", 0, -38, "Q", 2, -50, 9, -54), _STALK, 3.0)
    leaf = blob(curve("M 6 -46 Q 20 -60 32 -48 Q 18 -40 6 -46 Z"), CALYX, _LEAF_EDGE, 0.7)
    shine = strokes(path("M", -30, -18, "Q", -34, -4, -28, 8), tones.light, 4.0)
    return blob(body, tones.base, tones.line) + blob(shade, tones.deep, "none", 0.1) + shine + stalk + leaf


def _pear(tones: Tones) -> Markup:
    body = curve("M 0 -40 C 16 -42 18 -22 24 -8 C 44 8 42 48 2 49 C -42 50 -44 10 -24 -8 C -18 -22 -16 -42 0 -40 Z")
    shade = curve("M 24 -8 C 44 8 42 48 2 49 C -14 49 -26 44 -32 36 C 10 42 28 22 24 -8 Z")
    stalk = strokes(path("M", 0, -40, "Q", 2, -48, 8, -52), _STALK, 3.0)
    shine = strokes(path("M", -22, 6, "Q", -28, 18, -22, 30), tones.light, 4.0)
    return blob(body, tones.base, tones.line) + blob(shade, tones.deep, "none", 0.1) + shine + stalk


def _gourd(tones: Tones) -> Markup:
    """A ribbed gourd under a thick stalk."""
    ribs = ((-34.0, 17.0, tones.deep), (34.0, 17.0, tones.deep), (-18.0, 21.0, tones.base), (18.0, 21.0, tones.base))
    drawn = [
        blob(curve(f"M {x} -30 C {x + w} -34 {x + w} 44 {x} 42 C {x - w} 44 {x - w} -34 {x} -30 Z"), fill, tones.line)
        for x, w, fill in (*ribs, (0.0, 20.0, tones.light))
    ]
    stalk = curve("M -7 -28 C -5 -40 -2 -46 6 -50 L 12 -46 C 6 -40 6 -34 7 -28 Z")
    return join(drawn) + blob(stalk, CALYX, _LEAF_EDGE, 0.8)


def _pineapple(tones: Tones) -> Markup:
    """A small one: its crown of leaves over an oval of lozenges."""
    leaves = "".join(
        curve(f"M {x * 0.3 - 4} -8 Q {x * 0.7} -34 {x} {y} Q {x * 0.6 + 5} -24 {x * 0.3 + 4} -8 Z")
        for x, y in ((-24, -36), (24, -36), (-13, -46), (13, -46), (0, -50))
    )
    body = curve("M 0 -12 C 26 -12 30 8 27 24 C 24 42 12 49 0 49 C -12 49 -24 42 -27 24 C -30 8 -26 -12 0 -12 Z")
    slants = ((-25, 2, 8, 46), (-17, -9, 23, 36), (-3, -11, 27, 22), (-27, 20, -6, 47))
    lines = "".join(path("M", s * a, b, "L", s * c, d) for s in (-1, 1) for a, b, c, d in slants)
    eyes = join(disc(x, y, 1.6, tones.deeper) for y in (4, 18, 32) for x in (-13, 0, 13))
    net = strokes(lines, tones.deeper, 1.0)
    return blob(leaves, CALYX, _LEAF_EDGE, 0.8) + blob(body, tones.base, tones.line) + net + eyes


def _cone(tones: Tones) -> Markup:
    """A fir cone standing on its stalk end, its scales open, each row before the one above it."""
    drawn = []
    for row in range(7):
        y, wide = -34.0 + 12 * row, 12.0 + 31 * (row / 6) ** 0.7
        for number in range(3 + row // 2):
            x = -wide + 2 * wide * number / (2 + row // 2)
            scale = f"M {x * 0.7 - 9} {y} Q {x - 8} {y + 12} {x} {y + 13} Q {x + 8} {y + 12} {x * 0.7 + 9} {y} Z"
            drawn.append(blob(curve(scale), (tones.base, tones.light, tones.deep)[(row + number) % 3], tones.line))
    tip = blob(curve("M -9 -30 Q 0 -54 9 -30 Z"), tones.deep, tones.line)
    return tip + join(drawn)


def _cross(tones: Tones) -> Markup:
    bars = path("M", -7, 50, "V", -12, "H", -28, "V", -26, "H", -7, "V", -50, "H", 7, "V", -26, "H", 28)
    return blob(bars + path("V", -12, "H", 7, "V", 50, "Z"), tones.base, tones.line)


def _butterfly(tones: Tones) -> Markup:
    wings = "".join(
        curve(
            f"M 0 -4 C {s * 14} -40 {s * 48} -44 {s * 48} -22 C {s * 48} -2 {s * 24} 4 {s * 2} 2 "
            f"C {s * 30} 6 {s * 40} 20 {s * 30} 34 C {s * 20} 44 {s * 6} 24 0 8 Z"
        )
        for s in (-1, 1)
    )
    spots = join(
        disc(s * x, y, r, tones.light, tones.line, 0.6) for s in (-1, 1) for x, y, r in ((34, -24, 6), (24, 24, 5))
    )
    feelers = strokes(path("M", 0, -14, "Q", -6, -28, -14, -32, "M", 0, -14, "Q", 6, -28, 14, -32), "#3b3630", 1.2)
    body = curve("M 0 -16 C 5 -10 4 18 0 26 C -4 18 -5 -10 0 -16 Z")
    return blob(wings, tones.base, tones.line) + spots + feelers + blob(body, "#3b3630", "#22201c", 0.6)


def candle(tones: Tones, ratio: float) -> Markup:
    """A candle in its holder, unlit, from the origin upwards and 100 units long; ``ratio`` is width over length."""
    half = max(2.5, 50 * ratio)
    body = path("M", -half, 0, "V", -92, "Q", 0, -95, half, -92, "V", 0, "Z")
    shade = path("M", half * 0.3, 0, "V", -93, "L", half, -92, "V", 0, "Z")
    wick = strokes(path("M", 0, -93, "Q", 0.5, -97, 1.5, -100), "#3b3630", 1.2)
    cup = path("M", -half * 1.6, -7, "L", half * 1.6, -7, "L", half, 2, "L", -half, 2, "Z")
    return (
        blob(body, tones.base, tones.line) + blob(shade, tones.deep, "none", 0.1) + wick + blob(cup, CALYX, _LEAF_EDGE)
    )


def candle_end(tones: Tones) -> Markup:
    """A candle looked down on, 100 units wide: round, its wick in the middle."""
    return disc(0, 0, 48, tones.base, tones.line, 2.0) + disc(0, 0, 34, tones.light) + disc(0, 0, 7, "#3b3630")
