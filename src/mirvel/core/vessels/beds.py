"""Foam beds: the flat foam of rings, pads, crosses and hearts, and the open blocks of cages, saddles and vine wreaths.

A bed lies on the bench with its top at z 0, x right, y towards its top as it will hang. Stems go in from above or from
its sides, and stay inside: never through the back, never beside the foam.
"""

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from mirvel.core.goods.container import Container, ContainerKind, MouthShape
from mirvel.core.space.outlines import Outline, Point, get_circle, get_cross, get_drawn_in, get_heart, get_oblong
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.bricks import BRICK_CM, LOWER_BLOCK_CM, UPPER_BLOCK_CM, USUAL_BAR_CM, get_brick_cuts

Numbers = NDArray[np.float64]
BED_KINDS = frozenset(
    {
        ContainerKind.FOAM_RING,
        ContainerKind.POSY_PAD,
        ContainerKind.CROSS,
        ContainerKind.HEART,
        ContainerKind.VINE_WREATH,
        ContainerKind.SPRAY_CAGE,
        ContainerKind.LID_SADDLE,
        ContainerKind.HEADSTONE_SADDLE,
    }
)
_OPEN_BLOCKS = frozenset({ContainerKind.SPRAY_CAGE, ContainerKind.LID_SADDLE, ContainerKind.HEADSTONE_SADDLE})
_SIDE_SHARE = 0.42  # stems that go in from the side do so at this share of the thickness below the top
_FLAT, _GATHERED = 0.7, 0.5  # stems flatter than this rise go in from the side; others half-way to their head at most
# Stem that shows below a head: 2.5 to 3.8 cm of stem in all on a ring (common practice, no published source).
CLEAR_CM = 0.6
_ALONG_HEAD = (0.4, 0.6, 0.8, 1.0)  # of a head, back from its tip, that is to be clear of the foam
_CLEAR_STEPS, _CLEAR_STEP_CM = 100, 0.25
_OVER = 0.2  # what hangs over the side goes in so far below the top, as a share of the thickness
_SIDE_TRIES, _SIDE_LAYERS_CM = 60, (0.0, -0.6, 0.6)
_EDGE_CM = 0.9  # holes in the top stay so far from the edge of the foam
LOWER_HOUR, UPPER_HOUR = 7.0, 1.0  # where a vine wreath's clusters sit


@dataclass(frozen=True, eq=False)
class Bed:
    """Foam of one outline (seen from above) between two heights; where stems radiate from the middle of each block,
    its ``middles``."""

    outline: Outline
    top_z: float
    bottom_z: float
    middles: tuple[Point, ...] = ()

    @property
    def thickness_cm(self) -> float:
        return self.top_z - self.bottom_z

    @property
    def volume_ml(self) -> float:
        return self.outline.area_cm2 * self.thickness_cm

    @property
    def mirrored(self) -> "Bed":
        """The same with left and right exchanged."""
        return _get_mirrored(self)

    def get_exit_distance(self, start: Vec, direction: Vec) -> float:
        """How far a ray runs in the foam along a unit ``direction`` that goes down: to its back or its side."""
        return float(self.get_exit_distances(np.array([start]), np.array([direction]))[0])

    def get_exit_distances(self, starts: Numbers, directions: Numbers) -> Numbers:
        """The same for many rays at once; (n, 3) both."""
        down = -directions[:, 2]
        to_bottom = np.where(down > 1e-9, (starts[:, 2] - self.bottom_z) / np.maximum(down, 1e-9), np.inf)
        distances: Numbers = np.minimum(to_bottom, self.outline.get_runs_inside(starts[:, :2], directions[:, :2]))
        return distances

    def contains(self, point: Vec, slack_cm: float = 1e-6) -> bool:
        """Whether a point lies in the foam."""
        depth = float(self.outline.get_depths(np.array([[point.x, point.y]]))[0])
        return depth >= -slack_cm and self.bottom_z - slack_cm <= point.z <= self.top_z + slack_cm

    def get_start(self, base: Vec) -> Vec:
        """Where the stem to a head's base would enter: straight below it, a little nearer the middle of the foam; from
        the side where it lies further out than up."""
        at = (base.x, base.y)
        if self.middles:
            return self._get_radiating_start(base)
        depth = float(self.outline.get_depths(np.array([at]))[0])
        side_z = self.top_z - _SIDE_SHARE * self.thickness_cm
        if depth < 0 and -depth > base.z - side_z:
            return Vec(*self.outline.get_nearest_edge(at), side_z)
        x, y = self.get_held_in(at)
        return Vec(x, y, self.top_z)

    def _get_radiating_start(self, base: Vec) -> Vec:
        """On the line from the nearest block's middle to the head: in the top, or, for what lies flat, in the side, the
        lower the head the lower."""
        middle = min(self.middles, key=lambda each: math.hypot(base.x - each[0], base.y - each[1]))
        off = (base.x - middle[0], base.y - middle[1])
        reach = math.hypot(*off)
        # as a share of the way to the head
        edge = float(self.outline.get_runs_inside(np.array([middle]), np.array([off]))[0])
        up = base.z - self.top_z
        if edge < 1 and base.z < self.bottom_z:  # it hangs over the side, and hides it from top to foot
            return Vec(middle[0] + edge * off[0], middle[1] + edge * off[1], self.top_z - _OVER * self.thickness_cm)
        if edge < 1 and up < _FLAT * (1 - edge) * reach:
            low = max(_SIDE_SHARE / 2, min(0.8, _SIDE_SHARE - up / (4 * self.thickness_cm)))
            return Vec(middle[0] + edge * off[0], middle[1] + edge * off[1], self.top_z - low * self.thickness_cm)
        share = min(0.8 * edge, _GATHERED)
        x, y = self.get_held_in((middle[0] + share * off[0], middle[1] + share * off[1]))
        return Vec(x, y, self.top_z)

    def get_held_in(self, point: Point, around_cm: float = _EDGE_CM) -> Point:
        """The point itself where there is foam all round it, so much of it, else the nearest that has."""
        depth = float(self.outline.get_depths(np.array([point]))[0])
        if depth >= around_cm:
            return point
        edge = self.outline.get_nearest_edge(point)
        sign = 1.0 if depth >= 0 else -1.0
        off = (sign * (point[0] - edge[0]), sign * (point[1] - edge[1]))
        length = math.hypot(*off)
        if length < 1e-9:
            return point
        return edge[0] + off[0] / length * around_cm, edge[1] + off[1] / length * around_cm

    def get_tries(self, wished: Vec, offsets: Numbers) -> Numbers:
        """Entry points about a wished one, ``offsets`` (n, 2) from it, nearest first: over the top, or along the side;
        (m, 3). On the top, some may have no foam about them."""
        if wished.z > self.top_z - 1e-9:
            flat = np.array([wished.x, wished.y]) + offsets
            return np.column_stack([flat, np.full(len(flat), self.top_z)])
        rim = self.outline.get_edge_points((wished.x, wished.y), _SIDE_TRIES)
        layers = [np.column_stack([rim, np.full(len(rim), wished.z + up)]) for up in _SIDE_LAYERS_CM]
        return np.concatenate(layers)

    def get_held(self, points: Numbers) -> Numbers:
        """Of entry points (n, 3), those with foam about them: all at a side, on the top those far enough from its
        edge."""
        at_side = points[:, 2] < self.top_z - 1e-9
        if at_side.all():
            return points
        return points[at_side | (self.outline.get_depths(points[:, :2]) >= 0.8 * _EDGE_CM)]

    def get_clear_of_foam(self, tip: Vec, facing: Vec, outwards: Vec, length_cm: float) -> Vec:
        """A head's tip, moved as far outwards as it has to be for its base to stand clear of the foam; level, where
        outwards is downwards."""
        base = tip.plus(facing, -length_cm)
        up = self.top_z + CLEAR_CM - base.z
        if up <= 0:
            return tip
        way = outwards if outwards.z >= 0 else Vec(outwards.x, outwards.y, 0.0).unit
        depth = float(self.outline.get_depths(np.array([[base.x, base.y]]))[0]) + CLEAR_CM
        if depth > 0 and base.z >= self.bottom_z:
            ways = [up / way.z] if way.z > 1e-6 else []
            ways += [depth / way.reach] if way.reach > 1e-6 else []
            tip = tip.plus(way, min(ways, default=0.0))
        # a long head may reach right through the foam, its base beyond it
        head = np.array([tip.plus(facing, -share * length_cm) for share in _ALONG_HEAD])
        if not self._is_in(head).any():
            return tip
        steps = np.arange(_CLEAR_STEPS) * _CLEAR_STEP_CM
        moved = (head + steps[:, None, None] * np.array(way)).reshape(-1, 3)
        clear = ~self._is_in(moved).reshape(len(steps), -1).any(axis=1)
        return tip.plus(way, float(steps[int(np.argmax(clear))]))

    def _is_in(self, points: Numbers) -> NDArray[np.bool_]:
        """Whether points (n, 3) lie in the foam."""
        inside: NDArray[np.bool_] = (points[:, 2] < self.top_z) & (points[:, 2] > self.bottom_z)
        if inside.any():
            inside[inside] = self.outline.get_depths(points[inside, :2]) > 0
        return inside


@lru_cache(maxsize=64)
def _get_mirrored(bed: Bed) -> Bed:
    loops = [tuple((-float(x), float(y)) for x, y in loop) for loop in bed.outline.loops]
    return Bed(Outline(*loops), bed.top_z, bed.bottom_z, tuple((-x, y) for x, y in bed.middles))


def has_bed(container: Container) -> bool:
    """Whether a container is a frame with a bed of foam."""
    return container.kind in BED_KINDS


@lru_cache(maxsize=256)
def get_bed(container: Container) -> Bed:
    """The foam of a frame."""
    if container.kind is ContainerKind.VINE_WREATH:
        blocks = (
            get_oblong(*LOWER_BLOCK_CM, get_cluster_middle(container, LOWER_HOUR)),
            get_oblong(*UPPER_BLOCK_CM, get_cluster_middle(container, UPPER_HOUR)),
        )
        middles = tuple(get_cluster_middle(container, hour) for hour in (LOWER_HOUR, UPPER_HOUR))
        return Bed(Outline(*blocks), BRICK_CM[2], 0.0, middles)
    if container.kind in _OPEN_BLOCKS:
        block = get_oblong(container.mouth_cm, container.mouth_cm * container.mouth_ratio)
        return Bed(Outline(block), 0.0, -_get_thickness_cm(container), _get_middles(container))
    return Bed(get_frame_outline(container), 0.0, -_get_thickness_cm(container))


def _get_thickness_cm(container: Container) -> float:
    """As deep as the frame, or as thick as the slices of brick laid in it."""
    return min([container.depth_cm, *(cut.size_cm[2] for cut in get_brick_cuts(container))])


def _get_middles(container: Container) -> tuple[Point, ...]:
    """Where stems radiate from: along a long block from several points, as far apart as the block is deep."""
    deep = container.mouth_cm * container.mouth_ratio
    count = max(1, round(container.mouth_cm / deep)) | 1  # odd, so that one is the middle
    step = (container.mouth_cm - deep) / max(count - 1, 1)
    return tuple(((number - (count - 1) / 2) * step, 0.0) for number in range(count))


def get_cluster_middle(container: Container, hour: float) -> Point:
    """The middle of the vine at an hour of a wreath."""
    radius = (container.mouth_cm + (container.mouth_across_cm or 0.6 * container.mouth_cm)) / 4
    turn = math.radians(30 * hour)
    return round(radius * math.sin(turn), 9), round(radius * math.cos(turn), 9)


@lru_cache(maxsize=256)
def get_frame_outline(container: Container) -> Outline:
    """A frame from above: ring, cross, heart or disc, about the middle of its box."""
    wide = container.mouth_cm
    across = container.mouth_across_cm or wide
    if container.shape is MouthShape.RING:
        return Outline(get_circle(wide / 2), get_circle(across / 2))
    if container.shape is MouthShape.CROSS:
        return Outline(get_cross(wide, across, container.bar_cm or USUAL_BAR_CM))
    if container.shape is MouthShape.HEART:
        heart = get_heart(wide, across)
        return Outline(heart, get_drawn_in(heart, container.bar_cm)) if container.bar_cm else Outline(heart)
    return Outline(get_circle(wide / 2))
