"""A colour in CIELAB (D65), for comparing flowers by eye rather than by screen values."""

from functools import lru_cache
from typing import NamedTuple

from coloraide import Color

from mirvel.core.goods.facts import Hex

_DRY = "#7a5c3a"


class Lab(NamedTuple):
    """Lightness 0 to 100, green to red, blue to yellow."""

    lightness: float
    a: float
    b: float


@lru_cache(maxsize=4096)
def get_lab(colour: Hex) -> Lab:
    """CIELAB of an sRGB colour under D65 (source: cie-lab).

    >>> get_lab("#ffffff").lightness
    100.0
    """
    converted = Color(colour).convert("lab-d65")
    return Lab(*(round(float(converted[channel]), 4) for channel in ("l", "a", "b")))


@lru_cache(maxsize=65_536)
def get_difference(colour: Hex, other: Hex) -> float:
    """How different two colours look: CIEDE2000 (source: ciede2000), about 2 just seen side by side."""
    return get_lab_difference(get_lab(colour), get_lab(other))


def get_lab_difference(one: Lab, other: Lab) -> float:
    """CIEDE2000 of two CIELAB colours.

    >>> round(get_lab_difference(Lab(50, 0, 0), Lab(50, -1, 2)), 4)
    2.3669
    """
    first, second = (Color("lab-d65", list(each)) for each in (one, other))
    return float(first.delta_e(second, method="2000"))


@lru_cache(maxsize=4096)
def wilt(colour: Hex, share: float) -> Hex:
    """A petal's colour on its way to that of a dry one, 0 fresh to 1 dry.

    >>> wilt("#e9705c", 0.0), wilt("#e9705c", 1.0)
    ('#e9705c', '#7a5c3a')
    """
    return Color(colour).mix(_DRY, share, space="lab-d65").convert("srgb").clip().to_string(hex=True)
