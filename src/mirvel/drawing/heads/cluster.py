"""Clusters on fine branchlets, alike from every side: misty, dense, cupped flowers, and berries.

Drawn about the origin with the stem coming from below. What has not opened yet is a green-flushed bud.
"""

import math

from markupsafe import Markup

from mirvel.drawing.heads.petals import blob, bud, disc, is_open, petal, strokes
from mirvel.drawing.palette import CALYX, STEM, Tones, mix
from mirvel.drawing.svg import curve, join, path, polar, smooth, tag, wind


def front(tones: Tones, habit: str, openness: float) -> Markup:
    if habit == "berry":
        return _berry(tones)
    if habit == "crest":
        return _crest(tones, openness)
    return {"dense": _dense, "cupped": _cupped}.get(habit, _misty)(tones, openness)


def _twigs(points: list[tuple[float, float]], fork: float, width: float) -> Markup:
    """Branchlets from a fork below the middle to each point."""
    data = "".join(path("M", 0, fork, "Q", x * 0.25, (fork + y) / 2, x, y) for x, y in points)
    return strokes(data, STEM, width)


def _spread(count: int, reach: float, lift: float = 0.0) -> list[tuple[float, float]]:
    """Points scattered evenly over a disc, the lower middle left free for the stem."""
    points = [polar(reach * ((n + 0.6) / count) ** 0.5, n * 137.508 + 20) for n in range(count)]
    return [(x, y * 0.92 - lift) for x, y in points]


def _floret(x: float, y: float, size: float, fill: str, line: str, heart: str) -> Markup:
    data = "".join(
        path("M", x, y, "Q", x + a[0], y + a[1], x + t[0], y + t[1], "Q", x + b[0], y + b[1], x, y, "Z")
        for at in range(0, 360, 72)
        for a, t, b in [(polar(size, at - 34 + x), polar(size, at + x), polar(size, at + 34 + x))]
    )
    return blob(data, fill, line, 0.6) + disc(x, y, size * 0.22, heart)


def _misty(tones: Tones, openness: float) -> Markup:
    """A cloud of tiny flowers with air between."""
    points = _spread(30, 47, 3)
    drawn = [_twigs(points[::2], 46, 0.9)]
    for number, (x, y) in enumerate(points):
        fill = (tones.base, tones.light, tones.deep)[number % 3]
        if is_open(number, len(points), openness):
            drawn.append(_floret(x, y, 5.6 + number % 3, fill, tones.line, tones.deeper))
        else:
            drawn.append(bud(x, y, 2.8, fill, tones))
    return join(drawn)


def _dense(tones: Tones, openness: float) -> Markup:
    """Papery cups packed on flat sprays."""
    points = sorted(_spread(26, 42, 4), key=lambda point: point[1])
    drawn = [_twigs(points[::3], 47, 2.0)]
    for number, (x, y) in enumerate(points):
        if not is_open(number, len(points), openness):
            drawn.append(bud(x, y, 5.0, tones.base, tones))
            continue
        cup = "".join(petal(1, 9.5, at + number * 25, 40, point=0.92) for at in range(0, 360, 60))
        floret = blob(cup, (tones.base, tones.deep)[number % 2], tones.line, 0.6) + disc(0, 0, 2, "#f3efe2")
        drawn.append(tag("g", floret, transform=f"translate({x:.1f} {y:.1f})"))
    return join(drawn)


def _cupped(tones: Tones, openness: float) -> Markup:
    """Waxy five-petalled flowers among needles."""
    points = _spread(13, 40, 4)
    needles = "".join(
        path("M", x, y, "L", x + dx, y + dy) for x, y in points for dx, dy in (polar(13, x * 3), polar(12, x * 3 + 150))
    )
    drawn = [_twigs(points, 47, 1.3), strokes(needles, STEM, 1.2)]
    for number, (x, y) in enumerate(points):
        if not is_open(number, len(points), openness):
            drawn.append(bud(x, y, 4.6, tones.base, tones))
            continue
        drawn.append(
            _floret(
                x,
                y,
                9.5,
                (tones.base, tones.light)[number % 2],
                tones.line,
                mix(tones.deeper, "#7a2f3f", 0.5),
            )
        )
    return join(drawn)


def _crest(tones: Tones, openness: float) -> Markup:
    """A cockscomb: a velvet fan folded like a brain, its folds winding along it, on a thick stalk."""
    wide = 0.62 + 0.38 * openness

    def get_fold(reach: float, waves: int, swing: float, start: float) -> list[tuple[float, float]]:
        """A line along the fan that winds in and out of it."""
        steps = 4 * waves
        turns = [math.radians(-100 + 200 * step / steps) for step in range(steps + 1)]
        swings = [reach + swing * math.sin(start + step * math.pi / 2) for step in range(steps + 1)]
        return [
            (wide * far * math.sin(at), 8 - 0.95 * far * math.cos(at)) for at, far in zip(turns, swings, strict=True)
        ]

    stalk = curve("M -7 50 C -6 40 -14 34 -18 24 L 18 24 C 14 34 6 40 7 50 Z")
    drawn = [blob(stalk, mix(CALYX, tones.base, 0.35), mix(CALYX, "#000000", 0.4), 0.8)]
    fan = [*get_fold(46.0, 7, 4.5, 0.5), (wide * 17, 32.0), (-wide * 17, 32.0)]
    drawn.append(blob(smooth(fan), tones.deep, tones.line))
    for reach, waves, swing in ((36.0, 9, 5.0), (25.0, 7, 4.5), (14.0, 5, 4.0)):
        fold = wind(get_fold(reach, waves, swing, reach))
        drawn += [strokes(fold, tones.line, 7.0), strokes(fold, tones.base, 5.4), strokes(fold, tones.light, 1.6)]
    return join(drawn)


def _berry(tones: Tones) -> Markup:
    """Pointed berries on short stalks, each with its green collar, over a pair of leaves."""
    dark = mix(CALYX, "#000000", 0.4)
    leaves = "".join(petal(6, 44, at, 13, point=1.1) for at in (105, 255, 60, 300))
    points = [
        (0.0, -30.0),
        (-22.0, -20.0),
        (22.0, -18.0),
        (-11.0, -3.0),
        (13.0, 0.0),
        (-29.0, 4.0),
        (31.0, 8.0),
    ]
    drawn = [blob(leaves, STEM, dark, 0.8), _twigs(points, 46, 2.0)]
    for number, (x, y) in enumerate(points):
        egg = curve(
            f"M {x} {y - 15} C {x + 9} {y - 9} {x + 11} {y + 7} {x} {y + 10} "
            f"C {x - 11} {y + 7} {x - 9} {y - 9} {x} {y - 15} Z"
        )
        collar = path("M", x - 9, y + 4, "Q", x, y + 16, x + 9, y + 4, "Q", x, y + 9, x - 9, y + 4, "Z")
        shine = path("M", x - 4, y - 6, "Q", x - 6, y - 1, x - 4, y + 3)
        fill = tones.base if number % 3 else tones.deep
        drawn.append(blob(egg, fill, tones.line) + strokes(shine, tones.light, 1.6) + blob(collar, CALYX, dark, 0.6))
    return join(drawn)
