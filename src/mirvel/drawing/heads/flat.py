"""Flat heads of their own kind: anthurium hearts (heart), pincushion faces (frilled), orchid blooms, and bows."""

import math

from markupsafe import Markup

from mirvel.drawing.heads.petals import blob, disc, petal, ring, strokes
from mirvel.drawing.palette import CALYX, Tones, mix
from mirvel.drawing.svg import curve, join, path, polar, tag


def disc_front(tones: Tones, habit: str, openness: float) -> Markup:
    """An anthurium's glossy heart with its finger, or a scabious of frilled petals round a cushion."""
    if habit == "heart":
        heart = curve(
            "M 0 50 C -30 34 -58 4 -46 -26 C -38 -48 -10 -46 0 -28 C 10 -46 38 -48 46 -26 C 58 4 30 34 0 50 Z"
        )
        veins = strokes(
            "".join(path("M", 0, -22, "Q", x * 0.6, -8, x, 22 - abs(x) * 0.3) for x in (-32, -16, 16, 32)),
            tones.deeper,
            0.9,
        )
        shine = strokes(path("M", -34, -22, "Q", -24, -36, -12, -28), tones.light, 2.4)
        finger = curve("M -4 -22 C -8 2 -6 20 0 26 C 6 20 8 2 4 -22 Z")
        return blob(heart, tones.base, tones.line) + veins + shine + blob(finger, "#e3c766", "#9a7a2a", 0.8)
    frill = blob(ring(9, 12, 49.5, 24, 0, point=0.95), tones.base, tones.line)
    inner = blob(ring(9, 10, 36, 22, 20, point=0.95), tones.light, tones.line)
    pins = join(disc(*polar(20 * (n / 34) ** 0.5, n * 137.5), 1.9, tones.light, tones.line, 0.4) for n in range(1, 34))
    return frill + inner + disc(0, 0, 21, tones.deep, tones.line) + pins


def orchid_front(tones: Tones, habit: str, openness: float) -> Markup:
    """Three sepals, two broad petals, and the lip."""
    sepals = blob(ring(3, 4, 49, 27, 0, point=1.03), tones.deep, tones.line)
    half = 40 if habit == "moth" else 29
    petals = blob(petal(4, 48, 78, half) + petal(4, 48, -78, half), tones.base, tones.line)
    lip_tone = mix(tones.base, "#a8285a", 0.6)
    lip = curve("M 0 4 C -16 6 -19 22 -10 32 C -4 38 4 38 10 32 C 19 22 16 6 0 4 Z")
    column = disc(0, 1, 6, tones.light, tones.line) + disc(0, 3, 2.4, "#d9b33a")
    dots = join(disc(x, y, 1.3, mix(lip_tone, "#3a0a1a", 0.5)) for x, y in ((-6, 20), (5, 17), (0, 26), (7, 26)))
    return sepals + petals + blob(lip, lip_tone, mix(lip_tone, "#000000", 0.4)) + dots + column


_FIVE = ((-82.0, 49.0, 25.0), (82.0, 49.0, 25.0), (-34.0, 44.0, 22.0), (34.0, 44.0, 22.0))
_PAIRS = ((102.0, 49.0, 20.0), (27.0, 43.0, 18.0), (66.0, 49.0, 20.0), (84.0, 34.0, 16.0))
_NINE = tuple((side * at, long, wide) for at, long, wide in _PAIRS for side in (-1.0, 1.0))
# Each loop's direction (0 up), length and width, the hindmost first; the one in the middle comes to them.


def bow_front(tones: Tones, habit: str, openness: float) -> Markup:
    """Loops of ribbon round the one in the middle, each open at its end, over two tails with notched ends."""
    drawn = [_bow_tail(tones, side) for side in (-1.0, 1.0)]
    for number, loop in enumerate(_NINE if habit == "nine loops" else _FIVE):
        drawn.append(_bow_loop(tones, (tones.deep, tones.base, tones.light)[min(2, number // 2)], *loop))
    middle = curve("M -7 6 C -13 -2 -9 -14 0 -14 C 9 -14 13 -2 7 6 Z")
    inside = curve("M -3.5 2 C -7 -3 -5 -9 0 -9 C 5 -9 7 -3 3.5 2 Z")
    return join(drawn) + blob(middle, tones.base, tones.line) + blob(inside, tones.deeper, tones.line, 0.6)


def _bow_tail(tones: Tones, side: float) -> Markup:
    tail = f"M {-2 * side} 0 C {-1 * side} 16 {2 * side} 30 {3 * side} 50 L {14 * side} 42 L {25 * side} 48 "
    return blob(curve(f"{tail} C {23 * side} 30 {18 * side} 14 {7 * side} 0 Z"), tones.deep, tones.line)


def _bow_loop(tones: Tones, tone: str, at: float, long: float, wide: float) -> Markup:
    """One loop from the knot outwards: the band, a sheen along it, and the inside where it turns back."""
    sin, cos = math.sin(math.radians(at)), -math.cos(math.radians(at))

    def turn(*points: tuple[float, float]) -> str:
        """Points as shares along and across the loop, as the drawing has them."""
        return " ".join(
            f"{u * long * sin - v * wide * cos:.2f} {u * long * cos + v * wide * sin:.2f}" for u, v in points
        )

    band = f"M 0 0 C {turn((0.3, -0.18), (0.55, -0.5), (0.84, -0.5))} C {turn((1.05, -0.5), (1.05, 0.5), (0.84, 0.5))} "
    band += f"C {turn((0.55, 0.5), (0.3, 0.18), (0.0, 0.0))} Z"
    inside = f"M {turn((0.82, -0.4))} C {turn((1.0, -0.36), (1.0, 0.36), (0.82, 0.4))} "
    inside += f"C {turn((0.7, 0.3), (0.7, -0.3), (0.82, -0.4))} Z"
    sheen = f"M {turn((0.14, 0.0))} C {turn((0.3, -0.08), (0.45, -0.16), (0.62, -0.2))}"
    return (
        blob(curve(band), tone, tones.line)
        + strokes(curve(sheen), tones.line, 0.7)
        + blob(curve(inside), tones.deeper, tones.line, 0.6)
    )


def bow_side(tones: Tones, habit: str, depth: float) -> Markup:
    """A bow from its edge: loops that fan out from the knot, narrow as they are seen, over its tails."""
    loops = ((-84.0, 47.0, 13.0), (84.0, 47.0, 13.0), (-48.0, 44.0, 16.0), (48.0, 44.0, 16.0), (-14.0, 38.0, 18.0))
    more = ((16.0, 41.0, 17.0), (-66.0, 40.0, 13.0), (66.0, 40.0, 13.0)) if habit == "nine loops" else ()
    drawn = [_bow_tail(tones, side) for side in (-1.0, 1.0)]
    drawn += [
        _bow_loop(tones, (tones.deep, tones.base, tones.light)[n % 3], *loop) for n, loop in enumerate((*loops, *more))
    ]
    knot = curve("M -6 5 C -8 -3 8 -3 6 5 C 5 9 -5 9 -6 5 Z")
    return tag("g", join(drawn) + blob(knot, tones.deep, tones.line), transform=f"translate(0 {depth * 0.6:.1f})")


def bow_back(tones: Tones, habit: str) -> Markup:
    """A bow from behind: the same loops, and the tie that gathers them."""
    drawn = [_bow_tail(tones, side) for side in (-1.0, 1.0)]
    drawn += [_bow_loop(tones, tones.deep, *loop) for loop in (_NINE if habit == "nine loops" else _FIVE)]
    tie = strokes(path("M", -6, -4, "L", 6, 4, "M", -6, 4, "L", 6, -4), "#8d877a", 2.0)
    return join(drawn) + disc(0, 0, 7, tones.deeper, tones.line) + tie


def side(tones: Tones, habit: str, depth: float) -> Markup:
    """A flat head from its edge: a shallow dish on a short neck."""
    if habit == "frilled":
        return _side_frilled(tones, depth)
    if habit == "heart":
        return _side_heart(tones, depth)
    dish = curve(f"M -50 -2 Q -20 {depth * 0.7} 0 {depth * 0.75} Q 20 {depth * 0.7} 50 -2 Q 0 8 -50 -2 Z")
    neck = curve(f"M -5 {depth * 0.6} L -3 {depth} L 3 {depth} L 5 {depth * 0.6} Z")
    return blob(neck, CALYX, mix(CALYX, "#000000", 0.4), 0.7) + blob(dish, tones.deep, tones.line)


def _side_frilled(tones: Tones, depth: float) -> Markup:
    """A scabious from its edge: a pincushion over a skirt of frilled petals."""
    low = max(depth, 24.0)
    cushion = curve("M -22 2 C -20 -16 20 -16 22 2 Z")
    pins = join(disc(-16 + 4 * n, -9 - 3 * (n % 2), 1.6, tones.light, tones.line, 0.4) for n in range(9))
    neck = curve(f"M -6 {low * 0.6} L -3 {low} L 3 {low} L 6 {low * 0.6} Z")
    drawn = blob(neck, CALYX, mix(CALYX, "#000000", 0.4), 0.7) + blob(cushion, tones.deep, tones.line) + pins
    for x in (-34.0, 34.0, -19.0, 19.0, 0.0):
        wide = 15 if abs(x) < 30 else 17
        petal_path = f"M {x * 0.3} 2 C {x - wide} 2 {x * 1.2 - wide} {low * 0.5} {x * 1.2 - 8} {low * 0.55} "
        petal_path += f"L {x * 1.2 - 3} {low * 0.46} L {x * 1.2 + 2} {low * 0.6} L {x * 1.2 + 8} {low * 0.5} "
        petal_path += f"C {x * 1.2 + wide} {low * 0.4} {x + wide} 2 {x * 0.3} 2 Z"
        drawn += blob(curve(petal_path), tones.light if x == 0 else tones.base, tones.line)
    return drawn


def _side_heart(tones: Tones, depth: float) -> Markup:
    """An anthurium from its edge: a thin bowed leaf, its finger standing out of it."""
    leaf = curve("M -50 -10 C -24 12 24 12 50 -4 C 26 22 -22 22 -50 -10 Z")
    finger = curve("M -4 8 C -12 -16 -16 -32 -10 -38 C -4 -36 0 -14 4 8 Z")
    return blob(finger, "#e3c766", "#9a7a2a", 0.8) + blob(leaf, tones.base, tones.line)


def back(tones: Tones, habit: str) -> Markup:
    """From behind: the undersides of petals or leaf round the neck."""
    dark = mix(CALYX, "#000000", 0.4)
    if habit == "frilled":
        return blob(ring(9, 6, 49, 25, 0, point=0.95), tones.deep, tones.line) + disc(0, 0, 10, CALYX, dark)
    if habit == "heart":
        heart = "M 0 50 C -30 34 -58 4 -46 -26 C -38 -48 -10 -46 0 -28 C 10 -46 38 -48 46 -26 C 58 4 30 34 0 50 Z"
        veins = "".join(path("M", 0, -20, "L", x, 14) for x in (-24, -8, 8, 24))
        return (
            blob(curve(heart), tones.deep, tones.line) + strokes(veins, tones.line, 0.8) + disc(0, -16, 5, CALYX, dark)
        )
    if habit in {"", "moth"}:
        sepals = ring(3, 4, 49, 27, 0, point=1.03) + petal(4, 48, 78, 34) + petal(4, 48, -78, 34)
        return blob(sepals, tones.deep, tones.line) + disc(0, 0, 6, CALYX, dark)
    points = [polar(47 + 3 * math.sin(n * 1.3), n * 30) for n in range(12)]
    outline = path("M", *points[0], *(part for x, y in points[1:] for part in ("L", x, y)), "Z")
    return blob(outline, tones.deep, tones.line) + disc(0, 0, 5, CALYX, mix(CALYX, "#000000", 0.4))
