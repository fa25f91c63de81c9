"""A colour in CIELAB (D65), for comparing flowers by eye rather than by screen values."""

from functools import lru_cache
from typing import NamedTuple

from coloraide import Color

from mirvel.core.goods import Hex


class Lab(NamedTuple):
    """Lightness 0 to 100, green to red, blue to yellow."""

    lightness: float
    a: float
    b: float


@lru_cache(maxsize=4096)
def get_lab(colour: Hex) -> Lab:
    """CIELAB of an sRGB colour under D65 (CIE 015, IEC 61966-2-1).

    >>> get_lab("#ffffff").lightness
    100.0
    """
    converted = Color(colour).convert("lab-d65")
    return Lab(*(round(float(converted[channel]), 4) for channel in ("l", "a", "b")))
