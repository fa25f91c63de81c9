"""Colours of the drawing: ink, paper, greens, and the tones made from a flower's own colour.

Far and deep pieces are set back by a darker tone (never a lighter one). No gradients, no filters; neighbours are
kept apart, in colour and in grey, by an outline in a darker tone of the fill.
"""

import re
from dataclasses import dataclass
from functools import lru_cache

from markupsafe import Markup

INK = "#2b2a26"
FAINT_INK = "#8d877a"
PAPER = "#faf6ec"
GLASS = "#dfe9e6"
WATER = "#b9d3d6"
FOAM, FOAM_EDGE, FOAM_IN_SHADE = "#7f9a72", "#4d5f45", "#55684c"
METAL = "#a3a59b"
GLAZE = "#d9cfba"
STEM = "#6f8a4e"
STEM_DEEP = "#4e6a40"
CALYX = "#7d9355"
SHADE = "#2f3d2c"
NUMERALS = "Hanken Grotesk, DejaVu Sans, sans-serif"


@lru_cache(maxsize=4096)
def mix(colour: str, other: str, share: float) -> str:
    """A colour with a share of another in it.

    >>> mix("#000000", "#ffffff", 0.5)
    '#808080'
    """
    parts = zip(_channels(colour), _channels(other), strict=True)
    return "#" + "".join(f"{round(a + (b - a) * share):02x}" for a, b in parts)


def _channels(colour: str) -> tuple[int, int, int]:
    return int(colour[1:3], 16), int(colour[3:5], 16), int(colour[5:7], 16)


def get_luminance(colour: str) -> float:
    """Rough lightness, 0 to 1, enough to choose an outline by."""
    red, green, blue = _channels(colour)
    return (0.299 * red + 0.587 * green + 0.114 * blue) / 255


_COLOUR = re.compile(r"#[0-9a-f]{6}\b")


def to_greys(svg: Markup) -> Markup:
    """A drawing in greys: each colour by its lightness.

    >>> to_greys(Markup('<path fill="#ff0000" stroke="#2b2a26"/>'))
    Markup('<path fill="#4c4c4c" stroke="#2a2a2a"/>')
    """
    return Markup(_COLOUR.sub(lambda found: "#" + 3 * f"{round(255 * get_luminance(found[0])):02x}", svg))


def to_faint(colour: str) -> str:
    """A colour as a hint: a pale grey by its lightness.

    >>> to_faint("#000000")
    '#bdbdbd'
    """
    return mix("#" + 3 * f"{round(255 * get_luminance(colour)):02x}", "#ffffff", 0.74)


def fade(svg: Markup) -> Markup:
    """A drawing as a hint: each colour a pale grey."""
    return Markup(_COLOUR.sub(lambda found: to_faint(found[0]), svg))


@dataclass(frozen=True)
class Tones:
    """The tones one head is drawn in, from its colour."""

    base: str

    @property
    def light(self) -> str:
        return mix(self.base, "#ffffff", 0.28)

    @property
    def deep(self) -> str:
        return mix(self.base, self.shadow_hue, 0.16)

    @property
    def deeper(self) -> str:
        return mix(self.base, self.shadow_hue, 0.32)

    @property
    def shadow_hue(self) -> str:
        """What a colour darkens towards: pale flowers to warm grey-green, the rest to a dark red-brown."""
        return "#6d6b4a" if get_luminance(self.base) > 0.78 else mix(self.base, "#1d0f14", 0.8)

    @property
    def line(self) -> str:
        return mix(self.base, "#2a1d1a", 0.42 if get_luminance(self.base) > 0.3 else 0.6)


SET_BACK = (0.0, 0.10, 0.24)


def get_tones(colour: str, depth: int) -> Tones:
    """The tones of a colour near (0), in the middle (1) or far and deep (2)."""
    return Tones(mix(colour, SHADE, SET_BACK[depth]))
