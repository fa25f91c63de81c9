"""Globes, alike from every side: hydrangea (florets), green ball dianthus (threads), buttons (button)."""

from markupsafe import Markup

from mirvel.drawing.heads.petals import blob, bud, disc, strokes
from mirvel.drawing.palette import Tones, mix
from mirvel.drawing.svg import curve, join, path, polar, smooth


def front(tones: Tones, habit: str, openness: float) -> Markup:
    if habit == "threads":
        return _threads(tones)
    return _button(tones) if habit == "button" else _florets(tones, openness)


def _florets(tones: Tones, openness: float) -> Markup:
    """Four-petalled florets over a dark ground, outer ones first so that the middle stands proud; the edge opens
    first, the middle last, green until then."""
    count = 38
    edge = [polar(47 + 3 * ((n * 5) % 3 - 1), n * 20) for n in range(18)]
    drawn = [blob(smooth(edge), tones.deeper, tones.line)]
    for number in range(count, 0, -1):
        x, y = polar(41 * ((number - 0.5) / count) ** 0.5, number * 137.508)
        fill = (tones.light, tones.base, mix(tones.base, tones.deep, 0.7))[number % 3]
        if number <= (1 - openness) * 0.75 * count:
            drawn.append(bud(x, y, 3.4, fill, tones))
            continue
        leaves = "".join(_moved(9.2, 90 * n + number * 31, x, y) for n in range(4))
        drawn.append(blob(leaves, fill, tones.line, 0.6) + disc(x, y, 1.3, tones.deeper))
    return join(drawn)


def _moved(reach: float, at: float, x: float, y: float) -> str:
    """One rounded petal of a floret centred off the origin."""
    tip = polar(reach, at)
    left, right = polar(reach * 0.95, at - 42), polar(reach * 0.95, at + 42)
    return curve(
        f"M {x} {y} Q {x + left[0]} {y + left[1]} {x + tip[0]} {y + tip[1]} Q {x + right[0]} {y + right[1]} {x} {y} Z"
    )


def _threads(tones: Tones) -> Markup:
    """A ball of fine bracts: a bristling edge and tufts within."""
    edge = []
    for number in range(44):
        at = number * 360 / 44
        edge += [polar(50 - (number * 7) % 4, at), polar(42, at + 4.1)]
    outline = path("M", *edge[0], *(part for point in edge[1:] for part in ("L", *point)), "Z")
    drawn = [blob(outline, tones.deep, tones.line, 0.7)]
    for number in range(46, 0, -1):
        x, y = polar(40 * (number / 46) ** 0.5, number * 137.508)
        tuft = "".join(
            path("M", x, y, "L", x + dx, y + dy)
            for dx, dy in (polar(7.5, at + number * 20) for at in range(0, 360, 60))
        )
        drawn.append(strokes(tuft, (tones.light, tones.base, tones.deeper)[number % 3], 1.5))
    return join(drawn)


def _button(tones: Tones) -> Markup:
    """A tight button: scales in a spiral."""
    drawn = [disc(0, 0, 49.5, tones.deep, tones.line, 1.4)]
    for number in range(70, 0, -1):
        x, y = polar(45 * (number / 70) ** 0.5, number * 137.508)
        size = 4.0 + 3.0 * (number / 70)
        drawn.append(disc(x, y, size, tones.light if number % 4 == 0 else tones.base, tones.line, 0.6))
    return join(drawn)
