"""Rosettes: roses (spiral), garden roses (cupped), carnations (ruffled), and many-petalled heads (many)."""

import math
from collections.abc import Sequence

from markupsafe import Markup

from mirvel.drawing.heads.petals import blob, disc, petal, strokes
from mirvel.drawing.palette import CALYX, Tones, mix
from mirvel.drawing.svg import curve, join, path, polar, smooth


def front(tones: Tones, habit: str, openness: float) -> Markup:
    """The face of a rosette."""
    return {"ruffled": _ruffled, "many": _many, "cupped": _cupped}.get(habit, _spiral)(tones, openness)


def _layers(tones: Tones, rings: Sequence[tuple[int, float, float, float]], fills: list[str], point: float) -> Markup:
    """Rings of single petals, each (count, inner, outer, half width), outermost first, overlapping in turn."""
    drawn = []
    for level, (count, inner, outer, half) in enumerate(rings):
        for number in range(count):
            at = 360 * number / count + level * 41
            reach = outer * (1 - 0.035 * ((number * 2 + level) % 3))
            drawn.append(blob(petal(inner, reach, at, half, point=point), fills[level], tones.line))
    return join(drawn)


def _spiral(tones: Tones, openness: float) -> Markup:
    rings = [(5, 8, 49, 46), (5, 6, 39, 45), (4, 5, 29, 52), (3, 3, 19, 62)]
    fills = [tones.light, tones.base, tones.base, tones.deep]
    heart = [polar(11 - 0.0075 * turn, turn) for turn in range(0, 900, 60)]
    curl: list[str | float] = ["M", *heart[0]]
    for before, after in zip(heart[1::2], heart[2::2], strict=False):
        curl += ["Q", before[0] * 1.15, before[1] * 1.15, *after]
    return (
        _layers(tones, rings, fills, 1.03 - 0.04 * openness)
        + disc(0, 0, 11.5, tones.deeper, tones.line)
        + strokes(path(*curl), tones.line, 1.1)
    )


def _cupped(tones: Tones, openness: float) -> Markup:
    outer = _layers(tones, [(6, 8, 49.5, 40), (6, 8, 41, 40)], [tones.light, tones.base], 0.99)
    swirls = []
    for quarter in range(5):
        at = quarter * 72 + 20
        for fold, reach in enumerate((31, 25, 19, 13)):
            fill = (tones.base, tones.deep)[fold % 2]
            swirls.append(blob(petal(3, reach, at + fold * 7, 34 - fold * 3, point=0.96), fill, tones.line, 0.7))
    return outer + disc(0, 0, 33, tones.deep, tones.line) + join(swirls) + disc(0, 0, 4, tones.deeper)


def _ruffled(tones: Tones, openness: float) -> Markup:
    pale = mix(tones.base, tones.light, 0.45)
    fills = [tones.base, pale, tones.base, pale, tones.base, tones.deep]
    drawn = []
    for level, radius in enumerate((49.5, 44.0, 37.0, 29.0, 20.5, 12.0)):
        teeth = 34 - level * 4
        points = []
        for tooth in range(teeth):
            wave = 1 + 0.06 * math.sin(tooth * 0.75 + level * 1.7)
            turn = 360 * tooth / teeth + level * 17
            points += [
                polar(radius * wave, turn),
                polar(radius * wave * (0.93 - 0.025 * (tooth % 3)), turn + 180 / teeth),
            ]
        drawn.append(blob(closed_path(points), fills[level], tones.line, 0.8))
        creases = "".join(
            path("M", *polar(radius * 0.60, at), "L", *polar(radius * 0.80, at + 4))
            for at in range(level * 23, 360 + level * 23, 40)
        )
        drawn.append(strokes(creases, tones.deeper, 0.7))
    return join(drawn)


def closed_path(points: list[tuple[float, float]]) -> str:
    parts: list[str | float] = []
    for number, point in enumerate(points):
        parts += ["L" if number else "M", *point]
    return path(*parts, "Z")


def _many(tones: Tones, openness: float) -> Markup:
    rings = [(15, 20, 49, 15), (14, 16, 41, 16), (12, 12, 33, 18), (10, 8, 24, 22), (7, 4, 15, 30)]
    fills = [tones.light, tones.base, tones.light, tones.base, tones.deep]
    eye = mix(tones.deeper, CALYX, 0.35)
    return disc(0, 0, 40, tones.deep) + _layers(tones, rings, fills, 1.02) + disc(0, 0, 4.5, eye, tones.line)


def side(tones: Tones, habit: str, depth: float) -> Markup:
    """A rosette's cup from the side; ``depth`` units from its face to its base."""
    if habit == "ruffled":
        return _side_ruffled(tones, depth)
    if habit == "many":
        return _side_many(tones, depth)
    return _side_cup(tones, depth, petals=5 if habit == "cupped" else 3)


def _side_cup(tones: Tones, depth: float, petals: int) -> Markup:
    """A rose in profile: its heart above the rim, guard petals wrapped round with their lips rolled back, the hip."""
    foot = depth * 0.98
    heart = curve(f"M -27 6 C -26 -13 -10 -19 0 -19 C 10 -19 26 -13 27 6 L 14 {depth * 0.3} L -14 {depth * 0.3} Z")
    curls = path(
        "M", -14, -4, "Q", -2, -18, 9, -9, "M", -6, -3, "Q", 3, -12, 13, -3, "M", -20, 2, "Q", -16, -9, -8, -13
    )
    rim = [(47.0, -3.0), (24.0, 4.0), (0.0, 6.0), (-24.0, 4.0), (-47.0, -3.0)]
    flank = [(-52.0, depth * 0.3), (-37.0, depth * 0.74), (-9.0, foot)]
    bowl = smooth([*rim, *flank, *((-x, y) for x, y in reversed(flank))])
    inner = blob(heart, tones.deep, tones.line) + strokes(curls, tones.line, 0.8)
    if petals > 3:
        inner = _inner_petals(tones, depth)
    drawn = [inner, blob(bowl, tones.deep, tones.line)]
    drawn += [_guard_petal(tones, sign, depth) for sign in (-1.0, 1.0)]
    middle = curve(
        f"M -24 {depth * 0.2} C -20 {depth * 0.62} -10 {depth * 0.9} 0 {foot} C 10 {depth * 0.9} 21 {depth * 0.62} "
        f"26 {depth * 0.17} C 14 {depth * 0.06} -12 {depth * 0.08} -24 {depth * 0.2} Z"
    )
    drawn.append(blob(middle, tones.light, tones.line))
    if petals > 3:
        seams = path(
            "M", -9, depth * 0.14, "Q", -7, depth * 0.6, 0, foot, "M", 11, depth * 0.13, "Q", 8, depth * 0.6, 0, foot
        )
        drawn.append(strokes(seams, tones.deeper, 0.8))
    sepals = "".join(
        curve(
            f"M {x * 0.4} {foot + 1} Q {x * 1.6} {foot - depth * 0.05} {x * 2.2} {foot - depth * 0.3} "
            f"Q {x * 0.7} {foot - depth * 0.16} {x * 0.2} {foot + 3} Z"
        )
        for x in (-12.0, 12.0, -4.0, 5.0)
    )
    dark = mix(CALYX, "#000000", 0.4)
    return join(drawn) + blob(sepals, CALYX, dark, 0.6) + disc(0, foot, 6.5, CALYX, dark)


def _inner_petals(tones: Tones, depth: float) -> Markup:
    """The heart of a peony over its rim: rows of petal tips, notched, that lean in over one another."""
    drawn = []
    for row, (top, reach) in enumerate(((-21.0, 22.0), (-14.0, 33.0), (-6.0, 41.0))):
        for number in range(4 + row):
            x = -reach + 2 * reach * number / (3 + row)
            wide, lean = 15.0, 0.82
            tip = f"M {x * 0.7} {depth * 0.45} C {x - wide} {top + 16} {x - wide} {top - 3} {x * lean - 4} {top} "
            tip += f"Q {x * lean} {top + 3.5} {x * lean + 4} {top} "
            tip += f"C {x + wide} {top - 3} {x + wide} {top + 16} {x * 0.7} {depth * 0.45} Z"
            drawn.append(blob(curve(tip), (tones.deep, tones.base, tones.light)[row], tones.line, 0.7))
    return join(drawn)


def _guard_petal(tones: Tones, sign: float, depth: float) -> Markup:
    """One outer petal from the foot to the rim on one side, its lip rolled outwards."""
    foot = depth * 0.98
    petal_path = curve(
        f"M 0 {foot} C {sign * 24} {depth * 0.88} {sign * 50} {depth * 0.6} {sign * 50} {depth * 0.06} "
        f"C {sign * 34} {-depth * 0.06} {sign * 16} {depth * 0.08} {sign * 6} {depth * 0.3} "
        f"C {sign * 6} {depth * 0.6} 0 {depth * 0.8} 0 {foot} Z"
    )
    lip = curve(
        f"M {sign * 53} {depth * 0.1} "
        f"C {sign * 50} {-depth * 0.1} {sign * 26} {-depth * 0.08} {sign * 12} {depth * 0.1} "
        f"C {sign * 26} {depth * 0.04} {sign * 44} {depth * 0.1} {sign * 53} {depth * 0.1} Z"
    )
    return blob(petal_path, tones.base, tones.line) + blob(lip, tones.light, tones.line, 0.7)


def _side_ruffled(tones: Tones, depth: float) -> Markup:
    """A carnation: a frill standing on a long green tube."""
    waist = depth * 0.42
    edge = []
    for number in range(13):
        x = -49 + number * 98 / 12
        drop = (x / 49) ** 2 * waist * 0.35
        edge += [(x, drop - 3 - 3 * (number % 2)), (x + 4, drop + 3)]
    frill = closed_path([*edge, (34, waist * 0.8), (11, waist + 3), (-11, waist + 3), (-34, waist * 0.8)])
    folds = "".join(path("M", x * 0.3, waist, "L", x, 6 + abs(x) * 0.1) for x in (-36, -22, -8, 9, 23, 37))
    tube = curve(
        f"M -12 {waist - 1} C -12 {depth * 0.7} -8 {depth * 0.9} -4 {depth} L 4 {depth} "
        f"C 8 {depth * 0.9} 12 {depth * 0.7} 12 {waist - 1} Z"
    )
    green = mix(CALYX, "#9db08a", 0.4)
    return (
        blob(tube, green, mix(green, "#000000", 0.4))
        + blob(frill, tones.deep, tones.line)
        + strokes(folds, tones.line, 0.7)
    )


def _side_many(tones: Tones, depth: float) -> Markup:
    """A many-petalled head: a cushion of scales in rows over its green base, bulging a little past its face."""
    base = curve(f"M -14 {depth * 0.8} Q -10 {depth} 0 {depth} Q 10 {depth} 14 {depth * 0.8} Z")
    drawn = [blob(base, CALYX, mix(CALYX, "#000000", 0.4), 0.8)]
    for row, (count, reach, y) in enumerate(((9, 45.0, 0.62), (9, 47.0, 0.42), (8, 43.0, 0.22), (6, 31.0, 0.04))):
        for number in range(count):
            x = reach * math.sin(math.radians(-80 + 160 * number / (count - 1)))
            foot, tip, half = depth * (y + 0.34), depth * y - 4, 4.5 + 5.5 * math.cos(math.radians(x * 1.6))
            left, right = f"{x - half} {foot - 4} {x - half} {tip}", f"{x + half} {tip} {x + half} {foot - 4}"
            scale = curve(f"M {x * 0.85} {foot} C {left} {x} {tip} C {right} {x * 0.85} {foot} Z")
            drawn.append(blob(scale, (tones.deep, tones.base, tones.base, tones.light)[row], tones.line, 0.8))
    return join(drawn)


def back(tones: Tones, habit: str) -> Markup:
    """A rosette from behind: guard petals and the calyx star."""
    count = 9 if habit in {"ruffled", "many"} else 5
    petals = join(
        blob(petal(4, 48, 360 * n / count + 15, 200 / count, point=0.98), tones.deep, tones.line) for n in range(count)
    )
    star = "".join(petal(2, 20, 72 * n, 15, point=1.25) for n in range(5))
    return petals + blob(star, CALYX, mix(CALYX, "#000000", 0.4), 0.7) + disc(0, 0, 6, mix(CALYX, "#000000", 0.15))
