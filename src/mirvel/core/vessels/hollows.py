"""The inside of a container, and what holds the stems in it: where a stem's ray ends.

One shape serves vases, foam, pin holders and the tied bunch: walls that run straight from a top to a bottom, or swell
to a belly (draw in to a waist) half way down, or have a neck; round or cornered in plan, as deep as wide or not (ovals,
troughs). Of several vessels each is a hollow beside the others.
"""

import math
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from mirvel.core.goods.container import BELLY_POWER, NECK_ENDS, Container, ContainerKind, get_widening
from mirvel.core.goods.material import Material
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.beds import Bed

FOAM_CLEARANCE_CM = 0.5
BEVEL_CM = 0.8  # cut off the upper edges of foam that is bevelled, as wide as high (assumption)
LEAST_IN_FOAM_CM = 1.3  # "at least half an inch, in a thin ring": common practice, no published source
Numbers = NDArray[np.float64]
_STEPS, _LAYERS, _ON_THE_WALL_CM = 60, 1500, 1e-7
MAX_LEAN_DEG = 75.0
END_UNDER_WATER_CM = 2.5
# How wide foam is of the inside it stands in; baskets take half a brick, one or two by their size (common practice, no
# published source).
FOAM_IN_MOUTH, FOAM_IN_BASKET = 0.94, 0.7
_WAY_IN = (0.25, 0.5, 0.75, 1.0)
PIN_HOLDER_HALF_CM, PIN_HOLDER_HIGH_CM = 3.5, 2.0  # a 7 cm holder
FOAM_DEPTH_HEAVY_CM = 5.0
HEAVY_STEM_MM = 8.0
TALL_STEM_CM = 40.0
THIN_FOAM_CM, THIN_SHARE = 6.0, 0.5  # 1.9 and 2.5 cm: "1.3 to 2.5 cm in a ring", common practice, no published source
FOAM_DEPTH_CM = 3.8  # "minimum so that the flower drinks and lasts": common practice, no published source


@dataclass(frozen=True)
class Hollow:
    """A space between ``top_z`` and ``bottom_z`` (cm from the rim), half as wide as given at each.

    ``square`` hollows have their sides across x and y; ``ratio`` is depth over width, front to back; ``middle_x``
    where the hollow stands; ``belly_cm`` how much further out than straight its wall is half way down; ``wall_cm`` how
    thick the wall of a vessel is at its rim, which foam, pins and a tie have not; ``necked`` whether it is as narrow as
    its top some way down, and then widens.
    """

    top_half_cm: float
    bottom_half_cm: float
    top_z: float
    bottom_z: float
    square: bool
    ratio: float = 1.0
    middle_x: float = 0.0
    belly_cm: float = 0.0
    wall_cm: float = 0.0
    necked: bool = False

    @property
    def is_curved(self) -> bool:
        """Whether its wall runs other than straight from top to bottom."""
        return self.necked or self.belly_cm != 0.0

    @property
    def narrow_z(self) -> float:
        """Where what runs along its wall is held in: at a waist, or where a neck ends; at the bottom where its wall is
        nowhere narrower than straight."""
        if self.necked:
            return self.top_z + NECK_ENDS * (self.bottom_z - self.top_z)
        return self.bottom_z / 2 if self.belly_cm < 0 else self.bottom_z

    def get_half_width(self, z: float) -> float:
        """Half the width at a height, between (or beyond) top and bottom."""
        share = (self.top_z - z) / (self.top_z - self.bottom_z)
        if self.necked:
            return self.top_half_cm + (self.bottom_half_cm - self.top_half_cm) * get_widening(share)
        straight = self.top_half_cm + (self.bottom_half_cm - self.top_half_cm) * share
        if not self.belly_cm or not 0.0 < share < 1.0:
            return straight
        return straight + self.belly_cm * float(math.sin(math.pi * share) ** BELLY_POWER)

    def get_edge_distance(self, direction: Vec, z: float) -> float:
        """Distance from the hollow's axis to the wall at a height, in the direction's clock position."""
        half = self.get_half_width(z)
        flat = math.hypot(direction.x, direction.y)
        if flat < 1e-9:
            return half
        x, y = abs(direction.x) / flat, abs(direction.y) / flat / self.ratio
        return half / (max(x, y) if self.square else math.hypot(x, y))

    def get_edge_distances(self, offsets: Numbers, z: float) -> Numbers:
        """The same in the directions of many points off the axis, shape (n, 2) and (n,); the axis itself is as far
        from the wall as its half width."""
        flat = np.maximum(np.hypot(offsets[:, 0], offsets[:, 1]), 1e-12)
        x, y = np.abs(offsets[:, 0]) / flat, np.abs(offsets[:, 1]) / flat / self.ratio
        reach = np.maximum(x, y) if self.square else np.hypot(x, y)
        distances: Numbers = self.get_half_width(z) / np.where(flat > 1e-9, reach, 1.0)
        return distances

    def get_out_of_wall(self, direction: Vec, z: float) -> float:
        """Distance from the axis to the outside of the wall at a height, in the direction's clock position."""
        return self.get_edge_distance(direction, max(z, self.bottom_z)) + self.wall_cm

    def get_rim_point(self, over: Vec) -> Vec:
        """Where what comes in over the rim passes its inner edge."""
        off = Vec(over.x - self.middle_x, over.y, 0.0)
        edge = off.unit.scaled(self.get_edge_distance(off, self.top_z))
        return Vec(edge.x + self.middle_x, edge.y, self.top_z)

    def get_exit_distance(self, start: Vec, direction: Vec) -> float:
        """How far a ray runs from ``start`` inside the hollow along a unit ``direction`` that goes down.

        Returns cm to the wall or the bottom, whichever comes first.
        """
        return float(self.get_exit_distances(np.array([start]), np.array([direction]))[0])

    def get_exit_distances(self, starts: Numbers, directions: Numbers) -> Numbers:
        """The same for many rays at once; (n, 3) both."""
        # as they lie in the hollow drawn out to be as deep as wide
        drawn_out = np.array([1.0, self.ratio, 1.0])
        starts, directions = (starts - np.array([self.middle_x, 0.0, 0.0])) / drawn_out, directions / drawn_out
        down = -directions[:, 2]
        to_bottom: Numbers = np.where(down > 1e-9, (starts[:, 2] - self.bottom_z) / np.maximum(down, 1e-9), np.inf)
        if self.is_curved:
            rays = zip(starts.tolist(), directions.tolist(), to_bottom.tolist(), strict=True)
            return np.array([self._get_first_outside(Vec(*start), Vec(*way), most) for start, way, most in rays])
        get_walls = self._get_square_walls if self.square else self._get_round_wall
        taper = (self.top_half_cm - self.bottom_half_cm) / (self.top_z - self.bottom_z)
        half = self.top_half_cm - taper * (self.top_z - starts[:, 2])
        return np.minimum(to_bottom, get_walls(starts, directions, half, taper * directions[:, 2]))

    def _get_first_outside(self, start: Vec, direction: Vec, most: float) -> float:
        """How far a ray runs before it is outside a curved wall: found in steps, then halved down. A start on the
        wall itself counts as inside."""

        def is_inside(run: float) -> bool:
            x, y = start.x + run * direction.x, start.y + run * direction.y
            across = max(abs(x), abs(y)) if self.square else math.hypot(x, y)
            return across <= self.get_half_width(start.z + run * direction.z) + _ON_THE_WALL_CM

        within = 0.0
        for number in range(1, _STEPS + 1):
            outside = most * number / _STEPS
            if not is_inside(outside):
                break
            within = outside
        else:
            return most
        while outside - within > _ON_THE_WALL_CM:
            middle = (within + outside) / 2
            within, outside = (middle, outside) if is_inside(middle) else (within, middle)
        return within

    def _get_square_walls(self, starts: Numbers, directions: Numbers, half: Numbers, widens: Numbers) -> Numbers:
        """How far rays run to the nearest wall; where they start the hollow is ``half`` so wide, and ``widens`` by so
        much in each cm that they run."""
        signed = np.array([1.0, -1.0])
        closing = directions[:, :2, None] * signed - widens[:, None, None]
        room = half[:, None, None] - starts[:, :2, None] * signed
        ahead = np.where(closing > 1e-9, room / np.maximum(closing, 1e-9), np.inf).min(axis=(1, 2))
        distances: Numbers = np.maximum(ahead, 0.0)
        return distances

    def _get_round_wall(self, starts: Numbers, directions: Numbers, half: Numbers, widens: Numbers) -> Numbers:
        """The same of one wall all round."""
        a = directions[:, 0] ** 2 + directions[:, 1] ** 2 - widens**2
        b = starts[:, 0] * directions[:, 0] + starts[:, 1] * directions[:, 1] - half * widens
        c = starts[:, 0] ** 2 + starts[:, 1] ** 2 - half**2
        along_wall, under = np.abs(a) < 1e-12, b * b - a * c
        root = np.sqrt(np.maximum(under, 0.0))
        runs = np.stack([-b + root, -b - root]) / np.where(along_wall, 1.0, a)
        # Crossings with the cone's other half do not count. A ray flatter than the wall enters behind the start (or
        # at it, for a stem that enters at the edge) and leaves ahead; a steeper one only ever leaves.
        is_met = (half + widens * runs > 0) & (under >= 0)
        last = np.where(is_met, runs, -np.inf).max(axis=0)
        flatter = np.where(last > -np.inf, np.maximum(last, 0.0), np.inf)
        first = np.where(is_met & (runs > 1e-9), runs, np.inf).min(axis=0)
        steeper = np.where(first < np.inf, first, np.where((c < -1e-9) | (under < 0), np.inf, 0.0))
        beside = np.where(b > 1e-12, np.maximum(-c / (2 * np.where(b > 1e-12, b, 1.0)), 0.0), np.inf)
        distances: Numbers = np.where(along_wall, beside, np.where(a > 0, flatter, steeper))
        return distances


def get_ways_down(measured_to: Numbers, starts: Numbers) -> Numbers:
    """The ways stems go on below their entry points, as unit directions: straight on from what they carry, never
    flatter than 75° from the vertical, and never up; (n, 3) all."""
    off = starts - measured_to
    reach = np.hypot(off[:, 0], off[:, 1])
    leans = np.minimum(np.arctan2(reach, -off[:, 2]), math.radians(MAX_LEAN_DEG))
    is_upright = reach <= np.maximum(1e-9 * np.abs(off[:, 2]), 1e-12)  # what sits on its hole goes straight down
    flat = np.where(is_upright, 0.0, np.sin(leans) / np.where(is_upright, 1.0, reach))
    down: Numbers = np.where(is_upright, -1.0, -np.cos(leans))
    return np.column_stack([off[:, 0] * flat, off[:, 1] * flat, down])


def lean_over(down: Vec, lean_deg: float) -> Vec:
    """A downward direction at the same clock position and another lean."""
    if down.reach < 1e-9:
        return Vec(0.0, 0.0, -1.0)
    flat = math.sin(math.radians(lean_deg)) / down.reach
    return Vec(down.x * flat, down.y * flat, -math.cos(math.radians(lean_deg)))


def get_foam_depth_cm(material: Material, visible_cm: float, foam: Hollow | Bed) -> float:
    """How deep a stem goes into foam: 5 cm when heavy or tall, 3.8 cm otherwise, half as deep in the thin foam of a
    frame (common practice)."""
    thin = THIN_SHARE if foam.top_z - foam.bottom_z <= THIN_FOAM_CM else 1.0
    is_heavy = material.stem_diameter_mm >= HEAVY_STEM_MM or visible_cm >= TALL_STEM_CM
    return thin * (FOAM_DEPTH_HEAVY_CM if is_heavy else FOAM_DEPTH_CM)


def get_inside(container: Container, vessel: int = 0) -> Hollow:
    """The inside of a container (of one of its vessels), rim to floor; inner foot is the outer foot less its walls."""
    mouth, side = container.mouth_cm / 2, container.side_cm
    foot = max(0.5, container.vessel_base_cm / 2 - side)
    return Hollow(
        mouth,
        foot,
        0.0,
        -container.depth_cm,
        container.is_cornered,
        container.mouth_ratio,
        container.vessel_offsets[vessel],
        container.belly_cm / 2 - side - (mouth + foot) / 2 if container.belly_cm else 0.0,
        side,
        container.is_necked,
    )


def get_foam(container: Container, above_rim_cm: float) -> Hollow:
    """The foam in a container, standing above its rim; it never swells into a belly, and has no wall."""
    inside = get_inside(container)
    foot = min(inside.bottom_half_cm, inside.top_half_cm) if inside.is_curved else inside.bottom_half_cm
    in_basket = container.kind is ContainerKind.BASKET
    return replace(
        inside,
        top_half_cm=inside.top_half_cm * (FOAM_IN_BASKET if in_basket else FOAM_IN_MOUTH),
        bottom_half_cm=foot * (FOAM_IN_BASKET if in_basket else 1.0),
        top_z=above_rim_cm,
        belly_cm=0.0,
        wall_cm=0.0,
        necked=False,
    )


def get_foam_block(container: Container, above_rim_cm: float, size_cm: tuple[float, float, float]) -> Hollow:
    """A block so wide, deep and high in a container, standing above its rim; what does not go in is trimmed off, the
    longer side first. Where it is lower than the container it is wedged or raised."""
    wide, deep, high = size_cm
    inside, foam = get_inside(container), get_foam(container, above_rim_cm)
    bottom = max(foam.bottom_z, above_rim_cm - high)
    rim = inside.top_half_cm * FOAM_IN_MOUTH
    # it goes in by the rim, and by whatever is narrower on the way down
    down = min(rim, *(inside.get_half_width(share * min(bottom, 0.0)) for share in _WAY_IN))
    top, foot = (_trim(inside, room, wide / 2, deep / 2) for room in (rim, down))
    return replace(
        foam,
        top_half_cm=top[0],
        bottom_half_cm=top[0] * min(foot[0] / top[0], foot[1] / top[1]),
        bottom_z=bottom,
        square=True,
        ratio=top[1] / top[0],
    )


def _trim(inside: Hollow, room: float, half_wide: float, half_deep: float) -> tuple[float, float]:
    """Half the width and depth of a block that goes in where it is half so wide."""
    if inside.square:
        return min(half_wide, room), min(half_deep, room * inside.ratio)
    across, away = half_wide / room, half_deep / (room * inside.ratio)
    if math.hypot(across, away) > 1:
        if half_wide >= half_deep:
            away = min(away, math.sqrt(0.5))
            across = math.sqrt(1 - away * away)
        else:
            across = min(across, math.sqrt(0.5))
            away = math.sqrt(1 - across * across)
    return across * room, away * room * inside.ratio


def get_pin_holder(container: Container) -> Hollow:
    """A pin holder on the floor of a container."""
    half = min(PIN_HOLDER_HALF_CM, container.base_cm / 2)
    floor = -container.depth_cm
    return Hollow(half, half, min(-0.5, floor + PIN_HOLDER_HIGH_CM), floor, square=False)


@lru_cache(maxsize=512)
def _get_fills(container: Container) -> tuple[Numbers, Numbers]:
    """Depths over the floor of one vessel, and what it holds up to each, ml, both (n,): summed up in thin frustums."""
    inside = get_inside(container)
    depths = np.linspace(0.0, container.depth_cm, _LAYERS + 1)
    halves = np.array([inside.get_half_width(inside.bottom_z + depth) for depth in depths.tolist()])
    low, high = halves[:-1], halves[1:]
    layers = _get_section(inside) * np.diff(depths) / 3 * (low * low + low * high + high * high)
    return depths, np.concatenate([[0.0], layers.cumsum()])


def _get_section(inside: Hollow) -> float:
    """The area of a hollow's section, cm² for each cm² of its half width squared."""
    return (4.0 if inside.square else math.pi) * inside.ratio


def get_fill_depth_cm(container: Container) -> float:
    """Depth of the working fill over the floor, from its volume and the shape of the inside; never deeper than the
    container. Vessels side by side share the fill."""
    depths, held = _get_fills(container)
    return float(np.interp(container.water_ml / container.vessels, held, depths))


def get_fill_ml(container: Container, depth_cm: float) -> float:
    """What one vessel holds up to a depth over its floor."""
    depths, held = _get_fills(container)
    return float(np.interp(depth_cm, depths, held))


def get_surface_cm2(container: Container) -> float:
    """How much of one vessel's working fill is open to the air: its surface, or its mouth where that is narrower."""
    inside = get_inside(container)
    half = min(inside.get_half_width(inside.bottom_z + get_fill_depth_cm(container)), inside.top_half_cm)
    return _get_section(inside) * half * half


def get_least_drop_cm(container: Container) -> float:
    """How far below the rim a stem has to end so that it drinks."""
    dry = container.depth_cm - get_fill_depth_cm(container)
    return min(container.depth_cm, dry + END_UNDER_WATER_CM)
