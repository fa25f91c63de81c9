"""Families of hue by the eye: where a colour's hue lies in CIELAB, and what several of them make together.

The borders are judgements of ours; of one hue, what is light is called pink or orange and what is dark red.
"""

import math
from collections.abc import Iterable
from enum import StrEnum

from mirvel.core.goods.colours import Lab, get_lab
from mirvel.core.goods.facts import Hex

LEAST_CHROMA = 14.0  # what has less is white, cream or grey, and no hue
_LIGHT = 60.0  # lightness from which a red is a pink or an orange
NEIGHBOURS_DEG, OPPOSITE_DEG, THIRDS_DEG = 100.0, 135.0, 90.0


class Hue(StrEnum):
    """A family of hue, as florists sort their flowers."""

    RED = "red"
    ORANGE = "orange"
    YELLOW = "yellow"
    GREEN = "green"
    BLUE = "blue"
    VIOLET = "violet"
    PINK = "pink"


_BORDERS = ((112, Hue.YELLOW), (180, Hue.GREEN), (308, Hue.BLUE), (335, Hue.VIOLET))  # from 75 on


class Scheme(StrEnum):
    """What hues make together, as designers call it."""

    NEUTRAL = "white and green"
    ONE = "monochromatic"
    NEIGHBOURS = "analogous"
    OPPOSITE = "complementary"
    THIRDS = "triadic"
    MANY = "polychromatic"


def get_angle(lab: Lab) -> float:
    """A colour's hue in CIELAB, degrees from 0 to 360."""
    return math.degrees(math.atan2(lab.b, lab.a)) % 360


def get_hue(colour: Hex) -> Hue | None:
    """The family of a colour; None for white, cream and grey."""
    lab = get_lab(colour)
    if math.hypot(lab.a, lab.b) < LEAST_CHROMA:
        return None
    angle, is_light = get_angle(lab), lab.lightness >= _LIGHT
    if angle < 30 or angle >= 335:
        return Hue.PINK if is_light else Hue.RED
    if angle < 75:
        return Hue.ORANGE if is_light or angle >= 50 else Hue.RED
    return next(hue for border, hue in _BORDERS if angle < border)


def get_scheme(colours: Iterable[Hex]) -> Scheme:
    """What the hues of a piece's flowers make together, by how they lie on the circle."""
    found: dict[Hue, list[float]] = {}
    for colour in colours:
        hue = get_hue(colour)
        if hue:
            found.setdefault(hue, []).append(math.radians(get_angle(get_lab(colour))))
    if len(found) < 2:
        return Scheme.ONE if found else Scheme.NEUTRAL
    means = sorted(
        math.degrees(math.atan2(sum(map(math.sin, each)), sum(map(math.cos, each)))) % 360 for each in found.values()
    )
    gaps = [after - before for before, after in zip(means, [*means[1:], means[0] + 360], strict=True)]
    if 360 - max(gaps) <= NEIGHBOURS_DEG:
        return Scheme.NEIGHBOURS
    if len(means) == 2 and min(gaps) >= OPPOSITE_DEG:
        return Scheme.OPPOSITE
    return Scheme.THIRDS if len(means) == 3 and min(gaps) >= THIRDS_DEG else Scheme.MANY
