"""Trumpets: lilies (star), small funnels in bunches (funnel), callas (spathe), narcissus (crowned), iris (falls)."""

from markupsafe import Markup

from mirvel.drawing.heads.petals import blob, disc, ring, strokes
from mirvel.drawing.palette import CALYX, Tones, mix
from mirvel.drawing.svg import curve, join, path, polar

_ANTHER = "#8a4a22"


def front(tones: Tones, habit: str, openness: float) -> Markup:
    """Looking into the trumpet."""
    if habit == "spathe":
        return _spathe(tones)
    if habit == "crowned":
        return _crowned(tones)
    if habit == "falls":
        return _falls(tones)
    star = habit != "funnel"
    outer = blob(ring(3, 5, 49.5, 33, 60, point=1.09), tones.deep if star else tones.base, tones.line)
    inner = blob(ring(3, 5, 48, 38, 0, point=1.06), tones.base, tones.line)
    ribs = strokes("".join(path("M", *polar(8, 60 * n), "L", *polar(42, 60 * n)) for n in range(6)), tones.deeper, 1.0)
    if not star:
        flecks = "".join(
            path("M", *polar(16 + 4 * k, at + k * 3 - 6), "L", *polar(21 + 4 * k, at + k * 3 - 6))
            for at in (0, 120, 240)
            for k in range(3)
        )
        return outer + inner + strokes(flecks, mix(tones.deeper, "#5a1f1f", 0.5), 1.4) + disc(0, 0, 6, tones.deeper)
    throat = disc(0, 0, 9, mix(tones.base, "#b9c46a", 0.45))
    stamens = strokes("".join(path("M", 0, 0, "L", *polar(23, 60 * n + 28)) for n in range(6)), "#c6cf8a", 1.6)
    tips = join(disc(*polar(24, 60 * n + 28), 3.1, _ANTHER, mix(_ANTHER, "#000000", 0.4)) for n in range(6))
    return outer + inner + ribs + throat + stamens + tips + disc(0, 0, 3, "#c6cf8a", tones.line)


def _spathe(tones: Tones) -> Markup:
    """A calla from the front: one rolled spathe round its finger."""
    sheet = curve("M 0 50 C -58 34 -52 -30 -8 -50 C -2 -54 6 -50 14 -44 C 52 -20 50 32 0 50 Z")
    fold = curve("M 0 50 C 30 30 30 -8 6 -18 C -16 -24 -28 6 0 50 Z")
    finger = curve("M -3 26 C -8 4 -4 -14 0 -16 C 5 -14 7 6 3 26 Z")
    return (
        blob(sheet, tones.base, tones.line)
        + blob(fold, tones.deep, tones.line)
        + blob(finger, "#e0b84a", "#8d6d1f", 0.8)
    )


def _spathe_back(tones: Tones) -> Markup:
    """A calla from behind: the sheet drawn out to its tip, wrapped where its edges meet, narrowing to the stem."""
    sheet = curve("M 0 46 C -56 32 -52 -30 -10 -48 C -3 -54 6 -52 12 -45 C 52 -22 52 32 0 46 Z")
    wrap = curve("M 6 44 C 34 26 34 2 3 0 C 12 14 10 30 6 44 Z")
    folds = "".join(
        path("M", 0, 0, "Q", x * 0.3, y * 0.5, x, y) for x, y in ((-26, -30), (-38, -2), (-28, 26), (4, -44), (30, -22))
    )
    dark = mix(CALYX, "#000000", 0.4)
    throat = disc(0, 0, 10, mix(tones.base, CALYX, 0.45))
    return (
        blob(sheet, tones.deep, tones.line)
        + strokes(folds, tones.line, 0.7)
        + blob(wrap, tones.base, tones.line, 0.8)
        + throat
        + disc(0, 0, 5.5, CALYX, dark)
    )


def _crowned(tones: Tones) -> Markup:
    petals = blob(ring(6, 8, 49, 33, 0, point=1.08), tones.base, tones.line)
    crown = blob(ring(9, 6, 24, 26, 0, point=0.96), mix(tones.base, "#d9861f", 0.5), mix(tones.line, "#7a4a12", 0.5))
    return petals + crown + disc(0, 0, 9, mix(tones.deeper, "#8a5a12", 0.5)) + disc(0, 0, 3, "#e8c94c")


def _falls(tones: Tones) -> Markup:
    """An iris: three falls with their signal, three standards."""
    falls = blob(ring(3, 5, 49, 44, 180, point=0.98), tones.base, tones.line)
    signal = blob(ring(3, 8, 30, 12, 180), "#e3b93a", "#9a7a1c", 0.5)
    standards = blob(ring(3, 3, 36, 22, 0, point=1.1), tones.deep, tones.line)
    return falls + signal + standards + disc(0, 0, 4, tones.light)


def side(tones: Tones, habit: str, depth: float) -> Markup:
    """The tube widening to its flaring mouth."""
    foot = depth * 0.98
    if habit == "spathe":
        body = curve(
            f"M 0 {foot} C -14 {foot * 0.6} -46 {foot * 0.4} -34 2 "
            f"C -16 10 20 -2 30 -16 C 40 {foot * 0.2} 16 {foot * 0.6} 0 {foot} Z"
        )
        return blob(body, tones.base, tones.line) + strokes(
            curve(f"M -30 4 C -8 {foot * 0.3} 14 {foot * 0.3} 28 -12"), tones.line, 0.8
        )
    tube = curve(
        f"M -5 {foot} C -12 {foot * 0.5} -24 {foot * 0.25} -30 8 L 30 8 C 24 {foot * 0.25} 12 {foot * 0.5} 5 {foot} Z"
    )
    lips = join(
        blob(curve(f"M {x * 0.4} 14 Q {x} 8 {x * 1.25} {y} Q {x * 0.7} -4 {x * 0.2} 4 Z"), fill, tones.line)
        for x, y, fill in (
            (-42.0, 4.0, tones.base),
            (42.0, 4.0, tones.base),
            (-18.0, -9.0, tones.light),
            (18.0, -9.0, tones.light),
        )
    )
    return blob(tube, tones.deep, tones.line) + lips


def back(tones: Tones, habit: str) -> Markup:
    """From behind: the outer petals and the tube's foot."""
    if habit == "spathe":
        return _spathe_back(tones)
    return blob(ring(6, 4, 49, 31, 0, point=1.07), tones.deep, tones.line) + disc(
        0, 0, 8, mix(CALYX, tones.base, 0.4), tones.line
    )
