"""Heads alike from every side: pompons, umbels, pods, moss."""

import math

from markupsafe import Markup

from mirvel.drawing.heads.petals import blob, bud, disc, is_open, petal, strokes
from mirvel.drawing.palette import CALYX, STEM, Tones, mix
from mirvel.drawing.svg import join, path, polar, tag


def pompon(tones: Tones, habit: str, openness: float) -> Markup:
    """Petals rolled in rows, outermost first; they close over the heart, the more so the tighter the head."""
    drawn = [disc(0, 0, 47, tones.deeper, tones.line)]
    rows = ((18, 49.5), (17, 43), (15, 35.5), (13, 28), (10, 20), (7, 12))
    for row, (count, reach) in enumerate(rows):
        for number in range(count):
            at = 360 * (number + 0.5 * (row % 2)) / count
            fill = (tones.deep, tones.base, tones.base, tones.light)[(row + number % 2) % 4]
            drawn.append(blob(petal(reach - 15, reach, at, 190 / count, point=0.97), fill, tones.line, 0.6))
    heart = 4 + 15 * (1 - openness)
    folds = "".join(
        path("M", *polar(heart * 0.96, at), "Q", *polar(heart * 0.5, at + 50), *polar(heart * 0.12, at + 130))
        for at in range(0, 360, 45)
    )
    closed_heart = disc(0, 0, heart, mix(tones.deep, CALYX, 0.5 * (1 - openness)), tones.line, 0.6)
    return join(drawn) + closed_heart + strokes(folds, tones.line, 0.6)


def umbel(tones: Tones, habit: str, openness: float) -> Markup:
    """Rays from one point, each with its knot of florets; lacy ones leave air between."""
    lacy = habit == "lacy"
    points = [polar(43 * ((n + 0.5) / 22) ** 0.5, n * 137.508) for n in range(22)]
    rays = "".join(path("M", 0, 46, "Q", x * 0.3, 22, x, y * 0.72 - 8) for x, y in points)
    drawn = [strokes(rays, STEM, 0.9 if lacy else 1.3)]
    for number, (x, y) in enumerate(points):
        size = 5.6 if lacy else 10.5
        fill = (tones.base, tones.light, tones.deep)[number % 3]
        if not is_open(number, len(points), openness):
            drawn.append(bud(x, y * 0.72 - 8, size * 0.6, fill, tones))
            continue
        knots = 6 if lacy else 5
        florets = join(
            disc(x + dx, y * 0.72 - 8 + dy, size * 0.42, fill, tones.line, 0.4)
            for dx, dy in (polar(size * 0.62, 360 * k / knots + number * 20) for k in range(knots))
        )
        drawn.append(florets + disc(x, y * 0.72 - 8, size * 0.38, tones.light, tones.line, 0.4))
    return join(drawn)


def spiny(tones: Tones, habit: str) -> Markup:
    """A thistle's cone on a ruff of spines, or the long pins of a pincushion."""
    pins = habit == "pins"
    ruff = "".join(petal(10, 50, 360 * n / 13, 9, point=1.02) for n in range(13))
    under = blob(ruff, tones.base if pins else mix(tones.base, "#9aa7a0", 0.4), tones.line, 0.7)
    styles = strokes(
        "".join(path("M", *polar(10, 9 * n), "Q", *polar(36, 9 * n + 8), *polar(46, 9 * n)) for n in range(40)),
        tones.light if pins else tones.deep,
        1.5,
    )
    tips = join(disc(*polar(46, 9 * n), 1.9, tones.light, tones.line, 0.3) for n in range(40)) if pins else ""
    cone = disc(0, 0, 21, tones.deep, tones.line)
    knobs = join(disc(*polar(19 * (n / 40) ** 0.5, n * 137.5), 2.0, tones.light, tones.line, 0.3) for n in range(1, 40))
    return under + (styles + tips if pins else "") + cone + knobs


def pod(tones: Tones, habit: str, openness: float) -> Markup:
    """A ball of papery cups, each with its dark star."""
    drawn = [disc(0, 0, 48, tones.deep, tones.line)]
    for number in range(30, 0, -1):
        x, y = polar(42 * (number / 30) ** 0.5, number * 137.508)
        drawn.append(disc(x, y, 8.5, tones.light if number % 3 else tones.base, tones.line, 0.5))
        star = "".join(
            path("M", x, y, "L", x + dx, y + dy) for dx, dy in (polar(5, 72 * k + number * 9) for k in range(5))
        )
        drawn.append(strokes(star, tones.deeper, 0.9))
    return join(drawn)


def moss(tones: Tones, habit: str, openness: float) -> Markup:
    """A low cushion of tufts: a flat mat of sheet moss, or a sponge of reindeer moss (sponge)."""
    count, size, high = (34, 7.5, 24.0) if habit == "sponge" else (26, 10.0, 15.0)
    middles = [
        (
            43 * share**0.5 * math.sin(n * 2.4),
            2 + high * share**0.5 * math.cos(n * 2.4),
            size * (0.8 + 0.4 * (n % 3) / 2),
        )
        for n in range(count)
        for share in [(n + 0.5) / count]
    ]

    def draw_tufts(share: float, lift: float) -> str:
        return "".join(
            path("M", x - r * share, y - lift, "a", r * share, r * share, 0, 1, 0, 2 * r * share, 0)
            + path("a", r * share, r * share, 0, 1, 0, -2 * r * share, 0)
            for x, y, r in middles
        )

    blades = "".join(
        path("M", x, y, "l", *polar(size * 0.7, n * 47 + k))
        for n, (x, y, _) in enumerate(middles)
        for k in (0, 70, -70)
    )
    edge = tag("path", d=draw_tufts(1.0, 0.0), fill=tones.deep, stroke=tones.line, stroke_width=1.4)
    body = tag("path", d=draw_tufts(0.94, 0.6), fill=tones.base)
    tips = tag("path", d=draw_tufts(0.45, size * 0.3), fill=tones.light) if habit == "sponge" else Markup("")
    return edge + body + tips + strokes(blades, tones.deep, 1.0)
