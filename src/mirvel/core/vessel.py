"""The inside of a container, and the foam in it: where a stem's ray ends.

One shape serves vases and foam: walls that run straight from a top to a bottom, round or square in plan.
"""

import math
from dataclasses import dataclass

from mirvel.core.geometry import Vec
from mirvel.core.goods import Container
from mirvel.core.recipe import Mechanics, Recipe

MAX_LEAN_DEG = 75.0
END_UNDER_WATER_CM = 2.5
FOAM_DEPTH_CM = 3.8  # "minimum so that the flower drinks and lasts": common practice, no published source


@dataclass(frozen=True)
class Hollow:
    """A space between ``top_z`` and ``bottom_z`` (cm from the rim), half as wide as given at each.

    ``square`` hollows have their sides across x and y.
    """

    top_half_cm: float
    bottom_half_cm: float
    top_z: float
    bottom_z: float
    square: bool

    def get_half_width(self, z: float) -> float:
        """Half the width at a height, between (or beyond) top and bottom."""
        share = (self.top_z - z) / (self.top_z - self.bottom_z)
        return self.top_half_cm + (self.bottom_half_cm - self.top_half_cm) * share

    def get_edge_distance(self, direction: Vec, z: float) -> float:
        """Distance from the axis to the wall at a height, in the direction's clock position."""
        half = self.get_half_width(z)
        if not self.square or direction.reach < 1e-9:
            return half
        return half * direction.reach / max(abs(direction.x), abs(direction.y))

    def get_exit_distance(self, start: Vec, direction: Vec) -> float:
        """How far a ray runs from ``start`` inside the hollow along a unit ``direction`` that goes down.

        Returns cm to the wall or the bottom, whichever comes first.
        """
        to_bottom = (start.z - self.bottom_z) / -direction.z if direction.z < -1e-9 else math.inf
        walls = self._get_square_walls(start, direction) if self.square else self._get_round_wall(start, direction)
        return min(to_bottom, walls)

    def _get_taper(self) -> float:
        """Change of half width per cm upwards."""
        return (self.top_half_cm - self.bottom_half_cm) / (self.top_z - self.bottom_z)

    def _get_square_walls(self, start: Vec, direction: Vec) -> float:
        taper = self._get_taper()
        half = self.get_half_width(start.z)
        distances = [math.inf]
        for at, along in ((start.x, direction.x), (start.y, direction.y)):
            for side in (1.0, -1.0):
                closing = side * along - taper * direction.z
                if closing > 1e-9:
                    distances.append((half - side * at) / closing)
        return max(0.0, min(distances))

    def _get_round_wall(self, start: Vec, direction: Vec) -> float:
        taper = self._get_taper()
        half = self.get_half_width(start.z)
        a = direction.x**2 + direction.y**2 - (taper * direction.z) ** 2
        b = start.x * direction.x + start.y * direction.y - half * taper * direction.z
        c = start.x**2 + start.y**2 - half**2
        if abs(a) < 1e-12:
            return max(0.0, -c / (2 * b)) if b > 1e-12 else math.inf
        under = b * b - a * c
        if under < 0:
            return math.inf
        roots = [(-b + sign * math.sqrt(under)) / a for sign in (1.0, -1.0)]
        # Crossings with the cone's other half do not count. A ray flatter than the wall enters behind the start (or
        # at it, for a stem that enters at the edge) and leaves ahead; a steeper one only ever leaves.
        crossings = [root for root in roots if half + taper * direction.z * root > 0]
        if a > 0:
            return max(0.0, max(crossings, default=math.inf))
        ahead = [root for root in crossings if root > 1e-9]
        return min(ahead, default=math.inf if c < -1e-9 else 0.0)


def get_inside(container: Container) -> Hollow:
    """The inside of a container, rim to floor; inner foot is the outer foot less its walls."""
    foot = max(0.5, container.base_cm / 2 - min(container.wall_cm, 0.5))
    return Hollow(container.mouth_cm / 2, foot, 0.0, -container.depth_cm, container.is_square)


def get_foam(container: Container, above_rim_cm: float) -> Hollow:
    """The foam that fills a container and stands above its rim, cut to the mouth."""
    inside = get_inside(container)
    top = inside.top_half_cm * 0.94
    return Hollow(top, inside.bottom_half_cm, above_rim_cm, -container.depth_cm, container.is_square)


def get_holder(recipe: Recipe, container: Container) -> Hollow:
    """What the stems of a recipe stand in: its foam, or the inside of its container."""
    if recipe.mechanics is Mechanics.FOAM:
        return get_foam(container, recipe.foam_above_rim_cm)
    return get_inside(container)


def get_water_depth_cm(container: Container) -> float:
    """Depth of the working fill over the floor, from its volume and the straight-walled inside.

    Solves the frustum's volume by bisection; never deeper than the container.
    """
    inside = get_inside(container)

    def volume(depth: float) -> float:
        low, high = inside.bottom_half_cm, inside.get_half_width(inside.bottom_z + depth)
        section = 4.0 if inside.square else math.pi
        return section * depth / 3 * (low * low + low * high + high * high)

    shallow, deep = 0.0, container.depth_cm
    for _ in range(50):
        middle = (shallow + deep) / 2
        shallow, deep = (middle, deep) if volume(middle) < container.water_ml else (shallow, middle)
    return shallow


def get_least_drop_cm(container: Container) -> float:
    """How far below the rim a stem has to end so that it drinks."""
    dry = container.depth_cm - get_water_depth_cm(container)
    return min(container.depth_cm, dry + END_UNDER_WATER_CM)


def get_least_inside_cm(recipe: Recipe, container: Container) -> float:
    """Roughly the stem a piece has to spend below the rim: what drinking or foam asks for."""
    return FOAM_DEPTH_CM if recipe.mechanics is Mechanics.FOAM else get_least_drop_cm(container)
