"""Pieces along an axis that are neither spikes nor leaves: plumes, trailers, berried and bare twigs, birds.

Drawn from the origin upwards, 100 units long; ``ratio`` is width over length; ``bend`` bows the stem sideways.
"""

import math

from markupsafe import Markup

from mirvel.drawing.heads.leaves import get_spine
from mirvel.drawing.heads.petals import blob, bud, disc, petal, strokes
from mirvel.drawing.palette import CALYX, Tones, mix
from mirvel.drawing.svg import curve, join, path, polar

_BARK = "#6b5138"


def _line(bend: float, width: float, colour: str) -> Markup:
    points = [get_spine(n / 6, bend) for n in range(7)]
    return strokes(path("M", *points[0], *(part for point in points[1:] for part in ("L", *point))), colour, width)


def plume(tones: Tones, habit: str, ratio: float, bend: float, openness: float) -> Markup:
    """Side plumes that shorten to the tip: feathery ones of florets, needled ones of needles, airy ones of seed.

    A tight plume is held close to its stem, its florets still green towards the tip. A flame is dense and upright.
    """
    if habit == "flame":
        return _flame(tones, ratio, bend, openness)
    half = 50 * ratio
    drawn, threads = [_line(bend, 1.4, mix(tones.line, CALYX, 0.5))], []
    for row in range(11):
        share = 0.14 + 0.82 * row / 11
        length = half * 1.3 * (1 - share) ** 0.6 + 3
        for side in (-1, 1):
            x, y = get_spine(share, bend)
            turn = math.radians(side * (52 - 20 * share) * (0.62 + 0.38 * openness))
            dx, dy = length * math.sin(turn), -length * math.cos(turn)
            threads.append(path("M", x, y, "q", dx * 0.6, dy * 0.3, dx, dy))
            if habit == "needled":
                threads += [
                    path("M", x, y, "l", *polar(length, math.degrees(turn) + fan)) for fan in (-24, -12, 12, 24)
                ]
                continue
            count = 3 if habit == "airy" else 6
            for k in range(1, count + 1):
                at, size = k / count, (2.0 if habit == "airy" else max(1.6, half * 0.13))
                fill = (tones.base, tones.light, tones.deep)[(row + k) % 3]
                if habit != "airy" and share > 0.25 + 0.75 * openness:
                    fill = mix(fill, CALYX, 0.6)
                drawn.append(disc(x + dx * at, y + dy * at * (0.5 + 0.5 * at), size, fill, tones.line, 0.35))
    colour = tones.deep if habit == "needled" else mix(tones.line, CALYX, 0.4)
    return strokes("".join(threads), colour, 0.9) + join(drawn)


def _flame(tones: Tones, ratio: float, bend: float, openness: float) -> Markup:
    """A plumed celosia: soft tongues that taper upwards, the lower ones before the upper."""
    half = 50 * ratio * (0.72 + 0.28 * openness)
    drawn = [strokes(path("M", 0, 0, "L", *get_spine(0.5, bend)), mix(tones.line, CALYX, 0.6), 2.6)]
    for row in range(6):
        count, low = 1 + 2 * row, -58.0 + 8.5 * row
        for number in range(count):
            side = 2 * number / (count - 1) - 1 if row else 0.0
            x, long, wide = side * half * (0.1 + 0.1 * row), 44 - 3 * row - 12 * abs(side), half * 0.15
            tip_x, tip_y = x + side * half * 0.3, low - long
            tongue = (
                f"M {x} {low + 6} C {x - wide * 1.8} {low - 8} {tip_x - wide} {tip_y + long * 0.3} {tip_x} {tip_y} "
            )
            tongue += f"C {tip_x + wide} {tip_y + long * 0.3} {x + wide * 1.8} {low - 8} {x} {low + 6} Z"
            fill = (tones.base, tones.light, tones.deep)[(row + number) % 3]
            drawn.append(blob(curve(tongue), fill, tones.line, 0.5))
    return join(drawn)


def drape(tones: Tones, habit: str, ratio: float, bend: float, openness: float) -> Markup:
    """A trailer: ropes of tiny flowers (rope), flowers along an arch that open towards its tip (arch), or lobed leaves
    on a vine (vine)."""
    half = max(50 * ratio, 6.0)
    drawn = [_line(bend, 1.6, mix(tones.line, CALYX, 0.5))]
    for row in range(16):
        x, y = get_spine(0.12 + 0.86 * row / 16, bend)
        size = half * (0.95 - 0.5 * row / 16)
        side = -1 if row % 2 else 1
        if habit == "vine":
            drawn.append(_lobed(x, y, size * 1.25, side, (tones.base, tones.light, tones.deep)[row % 3], tones.line))
        elif habit == "arch" and row > 16 * (0.35 + 0.65 * openness):
            drawn.append(bud(x, y, size * 0.42, tones.base, tones))
        elif habit == "arch":
            florets = join(
                disc(x + dx, y + dy, size * 0.36, tones.base, tones.line, 0.4)
                for dx, dy in (polar(size * 0.5, 90 * k + row * 30) for k in range(4))
            )
            drawn.append(florets + disc(x, y, size * 0.25, tones.light))
        else:
            drawn += [
                disc(
                    x + size * 0.45 * k,
                    y + 2 * k * k,
                    size * 0.5,
                    (tones.base, tones.deep, tones.light)[(row + k) % 3],
                    tones.line,
                    0.4,
                )
                for k in (-1, 1, 0)
            ]
    return join(drawn)


def _lobed(x: float, y: float, size: float, side: int, fill: str, line: str) -> Markup:
    """One ivy leaf beside its stem."""
    points = (
        (0.0, 0.0),
        (0.35, -0.55),
        (0.75, -0.5),
        (0.9, -0.95),
        (1.2, -0.35),
        (1.7, 0.0),
        (1.2, 0.3),
        (0.95, 0.8),
        (0.6, 0.4),
    )
    flat = [(x + side * size * a, y + size * b * 0.9) for a, b in points]
    return blob(path("M", *flat[0], *(part for point in flat[1:] for part in ("L", *point)), "Z"), fill, line, 0.5)


def berry(tones: Tones, habit: str, ratio: float, bend: float) -> Markup:
    """A bare twig set with berries."""
    half = max(50 * ratio, 5.0)
    drawn = [_line(bend, 2.0, _BARK)]
    for row in range(14):
        x, y = get_spine(0.15 + 0.8 * row / 14, bend)
        for side in (-1, 1):
            out = half * (0.55 + 0.35 * ((row * 3 + side) % 3) / 2)
            drawn.append(strokes(path("M", x, y, "l", side * out, -2), _BARK, 0.8))
            drawn.append(
                disc(x + side * out, y - 3, max(2.4, half * 0.36), (tones.base, tones.deep)[row % 2], tones.line, 0.5)
            )
    return join(drawn)


def twig(tones: Tones, habit: str, ratio: float, bend: float) -> Markup:
    """Bare shoots: straight, curly, or with catkins."""
    half = max(50 * ratio, 13.0)
    shoots = []
    for number in range(5):
        lean, start = half * (-1 + 0.5 * number) * 0.95, 0.05 + 0.09 * number
        x, y = get_spine(start, bend)
        top = -100 + abs(lean) * 0.5 + 4 * (number % 2)
        if habit == "curly":
            shoots.append(_curl(x, y, lean, top, number))
        else:
            shoots.append(path("M", x, y, "Q", x + lean * 0.6, (y + top) / 2, lean, top))
    drawn = strokes("".join(shoots), tones.line, 1.7) + strokes("".join(shoots), tones.base, 1.0)
    if habit != "catkin":
        return drawn
    furs = [
        (half * (-1 + 0.5 * n) * 0.95 * (0.35 + 0.15 * k), -30.0 - 15 * k - 3 * n) for n in range(5) for k in range(4)
    ]
    return drawn + join(
        blob(
            petal(0, 1, 0, 40)
            + curve(
                f"M {x} {y + 4} C {x - 4} {y} {x - 3} {y - 6} {x} {y - 7} C {x + 3} {y - 6} {x + 4} {y} {x} {y + 4} Z"
            ),
            "#d3d2cc",
            "#77756c",
            0.5,
        )
        for x, y in furs
    )


def _curl(x: float, y: float, lean: float, top: float, number: int) -> str:
    """One corkscrewed shoot: waves that tighten to its tip."""
    parts: list[str | float] = ["M", x, y]
    turns = 6
    for turn in range(1, turns + 1):
        share, before = turn / turns, (turn - 0.5) / turns
        swing = (-1) ** (turn + number) * (9.0 - 5.0 * share)
        parts += ["Q", x + lean * before + swing, y + (top - y) * before, x + lean * share, y + (top - y) * share]
    return path(*parts)


def bird(tones: Tones, habit: str, ratio: float, bend: float) -> Markup:
    """A bird of paradise (crest over a beak), a heliconia's stepped bracts (claws), a ginger cone (cone)."""
    half = 50 * ratio
    if habit == "claws":
        drawn = [_line(0, 3.0, tones.deep)]
        for row in range(5):
            y, side = -14.0 - 17 * row, -1 if row % 2 else 1
            out = side * half * (1.0 - 0.13 * row)
            drawn.append(
                blob(
                    curve(f"M 0 {y + 6} Q {out * 0.6} {y + 6} {out} {y - 12} Q {out * 0.3} {y - 6} 0 {y - 12} Z"),
                    (tones.base, tones.light)[row % 2],
                    tones.line,
                )
            )
        return join(drawn)
    if habit == "cone":
        return _cone(tones, half)
    beak = curve(f"M -3 -30 Q {half * 0.6} -40 {half} -52 Q {half * 0.5} -58 -5 -52 Z")
    crest = "".join(
        curve(f"M 0 -46 Q {x * 0.6 - 3} -72 {x} {y} Q {x * 0.7 + 6} -66 4 -48 Z")
        for x, y in ((-half * 0.6, -88.0), (-half * 0.1, -100.0), (half * 0.4, -92.0))
    )
    tongue = curve(f"M 2 -48 Q {half * 0.4} -66 {half * 0.75} -70 Q {half * 0.4} -58 4 -46 Z")
    neck = strokes(path("M", 0, 0, "Q", -3, -20, -2, -46), CALYX, 4.5)
    return (
        neck
        + blob(crest, tones.base, tones.line)
        + blob(tongue, "#3f5fa8", "#22356a")
        + blob(beak, mix(CALYX, "#7d4f52", 0.35), mix(CALYX, "#000000", 0.5))
    )


def end(tones: Tones, habit: str) -> Markup:
    """Seen from the tip: side plumes all round, the outermost below; needles, or beads along fine threads."""
    if habit == "needled":
        needles = "".join(path("M", *polar(4, 9 * n), "L", *polar(49 - 9 * (n % 3), 9 * n + 5)) for n in range(40))
        return strokes(needles, tones.deep, 1.4)
    threads = "".join(path("M", 0, 0, "L", *polar(44 - 5 * (n % 2), 30 * n)) for n in range(12))
    beads, reaches = [], (42, 33, 24, 15, 7)
    for row, reach in enumerate(reaches):
        fill = (tones.deep, tones.base, tones.light)[row % 3]
        size = 3.0 if habit == "airy" else 6.2
        for n in range(12):
            x, y = polar(reach - 4 * (n % 2), 30 * n + 9 * (row % 2))
            beads.append(disc(x, y, size, fill, tones.line, 0.5))
    return strokes(threads, mix(tones.line, CALYX, 0.4), 0.9) + join(beads)


def _cone(tones: Tones, half: float) -> Markup:
    """A ginger's torch: waxy bracts with turned-out lips, each row before the one above it."""
    bracts = [strokes(path("M", 0, 0, "L", 0, -40), CALYX, 5.0)]
    for row in reversed(range(9)):
        share = row / 8
        y, wide = -26.0 - 62 * share, 0.95 * half * (1 - share**2.4) ** 0.6 * (0.72 + 0.28 * min(1.0, 4 * share)) + 2.5
        high = 15 - 5 * share
        for side in (-0.72, 0.72, 0.0) if row % 2 else (-0.95, 0.95, -0.36, 0.36):
            x, broad = side * wide, wide * 0.52
            tip = (x * 1.12, y - high)
            (tip_x, tip_y), low, mid = tip, x * 0.7, y - high * 0.4
            bract = f"M {low - broad * 0.6} {y + 5} C {x - broad * 1.1} {mid} {tip_x - broad * 0.7} {tip_y} "
            bract += (
                f"{tip_x} {tip_y} C {tip_x + broad * 0.7} {tip_y} {x + broad * 1.1} {mid} {low + broad * 0.6} {y + 5} Z"
            )
            over = broad * 0.42
            lip = path("M", tip_x - over, tip_y + 2.2, "Q", tip_x, tip_y + 0.6, tip_x + over, tip_y + 2.2)
            fill = tones.base if abs(side) < 0.5 else tones.deep
            bracts += [blob(curve(bract), fill, tones.line, 0.6), strokes(lip, tones.light, 1.1)]
    return join(bracts)
