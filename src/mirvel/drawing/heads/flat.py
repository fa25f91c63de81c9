"""Flat heads of their own kind: anthurium hearts (heart), pincushion faces (frilled), orchid blooms, and bows."""

import math

from mirvel.drawing.heads.petals import blob, disc, petal, ring, strokes
from mirvel.drawing.palette import CALYX, Tones, mix
from mirvel.drawing.svg import curve, path, polar


def disc_front(tones: Tones, habit: str, openness: float) -> str:
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
    pins = "".join(
        disc(*polar(20 * (n / 34) ** 0.5, n * 137.5), 1.9, tones.light, tones.line, 0.4) for n in range(1, 34)
    )
    return frill + inner + disc(0, 0, 21, tones.deep, tones.line) + pins


def orchid_front(tones: Tones, habit: str, openness: float) -> str:
    """Three sepals, two broad petals, and the lip."""
    sepals = blob(ring(3, 4, 49, 27, 0, point=1.03), tones.deep, tones.line)
    half = 40 if habit == "moth" else 29
    petals = blob(petal(4, 48, 78, half) + petal(4, 48, -78, half), tones.base, tones.line)
    lip_tone = mix(tones.base, "#a8285a", 0.6)
    lip = curve("M 0 4 C -16 6 -19 22 -10 32 C -4 38 4 38 10 32 C 19 22 16 6 0 4 Z")
    column = disc(0, 1, 6, tones.light, tones.line) + disc(0, 3, 2.4, "#d9b33a")
    dots = "".join(disc(x, y, 1.3, mix(lip_tone, "#3a0a1a", 0.5)) for x, y in ((-6, 20), (5, 17), (0, 26), (7, 26)))
    return sepals + petals + blob(lip, lip_tone, mix(lip_tone, "#000000", 0.4)) + dots + column


def bow_front(tones: Tones, habit: str, openness: float) -> str:
    """Five loops round a knot, two tails."""
    drawn = [
        blob(curve(f"M 0 0 L {x} 50 L {x * 0.6} 44 L {x * 0.3} 50 Z"), tones.deep, tones.line) for x in (-24.0, 24.0)
    ]
    for number in range(5):
        at = -90 + number * 45 if number != 2 else 0
        drawn.append(blob(petal(2, 46, at, 21, point=1.02), (tones.base, tones.light)[number % 2], tones.line))
        drawn.append(blob(petal(9, 36, at, 11, point=1.0), tones.deeper, tones.line, 0.6))
    return "".join(drawn) + disc(0, 0, 7.5, tones.deep, tones.line)


def side(tones: Tones, habit: str, depth: float) -> str:
    """A flat head from its edge: a shallow dish on a short neck."""
    dish = curve(f"M -50 -2 Q -20 {depth * 0.7} 0 {depth * 0.75} Q 20 {depth * 0.7} 50 -2 Q 0 8 -50 -2 Z")
    neck = curve(f"M -5 {depth * 0.6} L -3 {depth} L 3 {depth} L 5 {depth * 0.6} Z")
    return blob(neck, CALYX, mix(CALYX, "#000000", 0.4), 0.7) + blob(dish, tones.deep, tones.line)


def back(tones: Tones, habit: str) -> str:
    """From behind, plain."""
    points = [polar(47 + 3 * math.sin(n * 1.3), n * 30) for n in range(12)]
    outline = path("M", *points[0], *(part for x, y in points[1:] for part in ("L", x, y)), "Z")
    return blob(outline, tones.deep, tones.line) + disc(0, 0, 5, CALYX, mix(CALYX, "#000000", 0.4))
