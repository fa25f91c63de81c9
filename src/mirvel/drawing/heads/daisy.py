"""Daisies: rays round an eye, yellow for daisy chrysanthemums, dark for gerberas; and the thin hooked quills of spider
chrysanthemums, which hide theirs."""

import math

from markupsafe import Markup

from mirvel.drawing.heads.petals import blob, disc, petal, strokes
from mirvel.drawing.palette import CALYX, Tones, mix
from mirvel.drawing.svg import curve, join, path, polar, tag

EYES = {"yellow-eye": ("#dcae2f", "#9a7a1c", 15.0), "dark-eye": ("#4a3626", "#2a1d14", 13.0)}


def front(tones: Tones, habit: str, openness: float) -> Markup:
    """The face: two rings of rays, the back one showing between, and the eye."""
    if habit == "spider":
        return _spider_front(tones)
    count = 17 if habit == "yellow-eye" else 22
    half = 150 / count
    behind = "".join(petal(12, 48, 360 * (n + 0.5) / count, half, point=0.99, squeeze=0.9) for n in range(count))
    rays = "".join(
        petal(11, 49.5 - 1.6 * (n % 3), 360 * n / count, half * 0.92, point=1.0, squeeze=0.85) for n in range(count)
    )
    creases = "".join(path("M", *polar(20, 360 * n / count), "L", *polar(40, 360 * n / count)) for n in range(count))
    fill, line, size = EYES.get(habit, EYES["yellow-eye"])
    drawn = blob(behind, tones.deep, tones.line, 0.7) + blob(rays, tones.base, tones.line, 0.8)
    drawn += tag("path", d=creases, fill="none", stroke=tones.deep, stroke_width=0.7)
    if habit == "dark-eye":
        drawn += blob("".join(petal(9, 23, 360 * n / 24 + 4, 7) for n in range(24)), tones.light, tones.line, 0.5)
    dots = join(disc(*polar(size * 0.88 * (n / 16) ** 0.5, n * 137.5), 1.3, line) for n in range(1, 16))
    return drawn + disc(0, 0, size, fill, line) + dots


def side(tones: Tones, habit: str, depth: float) -> Markup:
    """From the side: the eye over a shallow dish of rays, the near ones drooping over its green cup."""
    if habit == "spider":
        return _spider_side(tones, depth)
    fill, line, size = EYES.get(habit, EYES["yellow-eye"])
    dip = min(depth * 0.5, 18.0)
    eye = path("M", -size, 1, "Q", -size * 0.8, -9, 0, -10, "Q", size * 0.8, -9, size, 1, "Z")
    cup = path("M", -12, dip * 0.7, "Q", -10, depth, 0, depth, "Q", 10, depth, 12, dip * 0.7, "Z")
    drawn = blob(eye, fill, line, 0.7) + blob(cup, CALYX, mix(CALYX, "#000000", 0.4), 0.8)
    for number in range(13):
        x = 50 * math.sin(math.radians(-78 + 13 * number))
        near = 1 - abs(x) / 50
        drop = dip * (0.25 + 0.75 * near) * (0.85 + 0.15 * (number % 3))
        ray = f"M {x * 0.2} {dip * 0.35} Q {x * 0.75 - 5} {-7 + drop * 0.2} {x} {-5 + drop} "
        ray += f"Q {x * 0.75 + 5} {7 + drop * 0.8} {x * 0.24 + 2} {dip * 0.6} Z"
        drawn += blob(curve(ray), (tones.base, tones.light, tones.deep)[number % 3], tones.line, 0.7)
    return drawn


def _quills(data: str, tone: str, tones: Tones) -> Markup:
    """Thin rays as strokes, with their edges."""
    return strokes(data, tones.line, 3.4) + strokes(data, tone, 2.3)


def _get_ring(count: int, reach: float, bend: float, start: float = 0.0) -> str:
    """Rays from the middle outwards, each bending round and hooked back at its end."""
    data = ""
    for number in range(count):
        at, far = start + 360 * number / count, reach - 3.5 * (number % 3)
        data += path("M", *polar(3, at), "Q", *polar(far * 0.7, at - bend), *polar(far, at + bend * 0.4))
        data += path("Q", *polar(far * 1.01, at + bend * 1.1), *polar(far * 0.9, at + bend * 1.2))
    return data


def _spider_front(tones: Tones) -> Markup:
    drawn = _quills(_get_ring(26, 49, 9), tones.deep, tones) + _quills(_get_ring(22, 44, 11, 5), tones.base, tones)
    drawn += _quills(_get_ring(16, 31, 15, 9), tones.base, tones) + _quills(_get_ring(11, 19, 20), tones.light, tones)
    return drawn + _quills(_get_ring(7, 10, 28, 20), mix(tones.light, "#b9c06a", 0.35), tones)


def _spider_side(tones: Tones, depth: float) -> Markup:
    """Quills that rise in the middle, arch outwards and hang at the sides, over a green cup."""
    cup = path("M", -10, depth * 0.5, "Q", -8, depth, 0, depth, "Q", 8, depth, 10, depth * 0.5, "Z")
    drawn = blob(cup, CALYX, mix(CALYX, "#000000", 0.4), 0.8)
    for row, tone in enumerate((tones.deep, tones.base, tones.light)):
        data = ""
        for number in range(13):
            x = (49 - 9 * row) * math.sin(math.radians(-84 + 14 * number))
            high = -24 * math.cos(math.radians(-84 + 14 * number)) + 6 * row
            data += path("M", x * 0.1, depth * 0.5, "Q", x * 0.7, high - 8, x, high + 6 + abs(x) * 0.25)
        drawn += _quills(data, tone, tones)
    return drawn


def back(tones: Tones, habit: str) -> Markup:
    """From behind: the rays' undersides and the green cup."""
    if habit == "spider":
        return _quills(_get_ring(26, 49, 9), tones.deep, tones) + disc(0, 0, 7, CALYX, mix(CALYX, "#000000", 0.4))
    count = 17 if habit == "yellow-eye" else 22
    rays = "".join(petal(8, 49, 360 * n / count, 150 / count, squeeze=0.9) for n in range(count))
    bracts = "".join(petal(3, 13, 30 * n, 13, point=1.15) for n in range(12))
    dark = mix(CALYX, "#000000", 0.4)
    return blob(rays, tones.deep, tones.line, 0.8) + blob(bracts, CALYX, dark, 0.6) + disc(0, 0, 5, CALYX, dark)
