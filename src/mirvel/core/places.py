"""A place: where one piece sits, which way it faces, where its stem enters. What is stored is the tip of the
head and the entry point; clock, level, lean and length derive from them."""

import math
from dataclasses import dataclass

from mirvel.core.geometry import Vec, get_clock_hour, get_lean_deg, get_level
from mirvel.core.goods import Material
from mirvel.core.heads import Head
from mirvel.core.recipe import Entry


@dataclass(frozen=True)
class Place:
    """One placed piece; ``tip`` is the front of its head, or the end of its leaf or spike."""

    entry: Entry
    material: Material
    number: int
    head: Head
    tip: Vec
    facing: Vec
    start: Vec
    growth_cm: float
    above_rim_cm: float

    @property
    def axis(self) -> Vec:
        """From the entry point to the tip."""
        return self.tip.minus(self.start).unit

    @property
    def shown_length_cm(self) -> float:
        """Length of the head or leaf that shows; foliage that would start below its entry point is stripped."""
        if not self.material.is_axial:
            return self.head.length_cm
        return min(self.head.length_cm, max(1.0, self.tip.minus(self.start).length - 0.5))

    @property
    def head_base(self) -> Vec:
        """Where the head begins on its stem."""
        along = self.axis if self.material.is_axial else self.facing
        return self.tip.plus(along, -self.shown_length_cm)

    @property
    def measured_to(self) -> Vec:
        """Where a cut is measured to: the base of a head, but the tip of a spike or leaf, which is flower or
        foliage along its stem, so that its base cannot be felt on the ruler."""
        return self.tip if self.material.is_axial else self.head_base

    @property
    def clock_hour(self) -> float:
        return get_clock_hour(self.tip)

    @property
    def level(self) -> str:
        return get_level(self.tip.z, self.above_rim_cm)

    @property
    def lean_deg(self) -> float:
        return get_lean_deg(self.measured_to.minus(self.start))

    @property
    def half_width_cm(self) -> float:
        return self.head.width_cm / 2


@dataclass(frozen=True)
class Extent:
    """The box a piece fills, cm from the origin."""

    left: float
    right: float
    front: float
    back: float
    top: float
    bottom: float

    @property
    def width_cm(self) -> float:
        return self.right - self.left


def get_head_extent(material: Material, facing: Vec, radius: float) -> Extent:
    """The box of a head about its tip: a disc across its facing, or a ball whose front is the tip."""
    if material.is_axial:
        return Extent(0.0, 0.0, 0.0, 0.0, 0.0, 0.0)
    if material.is_ball:
        low, high = ([part * -radius + sign * radius for part in facing] for sign in (-1, 1))
    else:
        high = [radius * math.sqrt(max(0.0, 1 - part * part)) for part in facing]
        low = [-part for part in high]
    return Extent(low[0], high[0], low[1], high[1], high[2], low[2])


def get_extent(places: tuple[Place, ...], container_half_cm: float) -> Extent:
    """The box around all heads, the tips of leaves and spikes, and the container's rim."""
    xs, ys, zs = [-container_half_cm, container_half_cm], [-container_half_cm, container_half_cm], [0.0]
    for place in places:
        head = get_head_extent(place.material, place.facing, place.half_width_cm)
        xs += [place.tip.x + head.left, place.tip.x + head.right]
        ys += [place.tip.y + head.front, place.tip.y + head.back]
        zs += [place.tip.z + head.top, place.tip.z + head.bottom]
    return Extent(min(xs), max(xs), min(ys), max(ys), max(zs), min(zs))
