"""Points and directions about a piece, and the clock florists name them by.

Origin: centre of the mouth in the rim plane; x right, y away from the designer, z up, cm. The clock is seen
from above with 12 at the back and 6 at the designer's side: hour h at radius r is (r·sin 30h°, r·cos 30h°).
"""

import math
from typing import NamedTuple


class Vec(NamedTuple):
    """A point or direction, cm."""

    x: float
    y: float
    z: float

    def plus(self, other: "Vec", times: float = 1.0) -> "Vec":
        """This point moved along ``other``, so many times its length."""
        return Vec(self.x + times * other.x, self.y + times * other.y, self.z + times * other.z)

    def minus(self, other: "Vec") -> "Vec":
        return Vec(self.x - other.x, self.y - other.y, self.z - other.z)

    def scaled(self, factor: float) -> "Vec":
        return Vec(self.x * factor, self.y * factor, self.z * factor)

    def across(self, flip: float) -> "Vec":
        """The point mirrored left to right where ``flip`` is -1."""
        return Vec(self.x * flip, self.y, self.z)

    def times(self, other: "Vec") -> "Vec":
        """Each part multiplied by the other's."""
        return Vec(self.x * other.x, self.y * other.y, self.z * other.z)

    def dot(self, other: "Vec") -> float:
        return self.x * other.x + self.y * other.y + self.z * other.z

    def cross(self, other: "Vec") -> "Vec":
        """The direction square to both."""
        return Vec(
            self.y * other.z - self.z * other.y,
            self.z * other.x - self.x * other.z,
            self.x * other.y - self.y * other.x,
        )

    @property
    def length(self) -> float:
        return math.sqrt(self.x * self.x + self.y * self.y + self.z * self.z)

    @property
    def reach(self) -> float:
        """Distance from the axis."""
        return math.hypot(self.x, self.y)

    @property
    def unit(self) -> "Vec":
        """The direction alone; straight up for a zero vector."""
        length = self.length
        return Vec(self.x / length, self.y / length, self.z / length) if length > 1e-12 else Vec(0.0, 0.0, 1.0)


ORIGIN = Vec(0.0, 0.0, 0.0)


class Pose(NamedTuple):
    """How a piece stands as looked at, against its own frame (mouth in the x-y plane, z out of it): the world's
    right, away and up, each in the frame's own x, y and z. Upright for all that stand on their foot."""

    right: Vec
    away: Vec
    up: Vec

    def turn(self, point: Vec) -> Vec:
        """A point or direction of the piece's frame as it lies in the world."""
        return Vec(point.dot(self.right), point.dot(self.away), point.dot(self.up))

    def turn_back(self, point: Vec) -> Vec:
        """A point or direction of the world in the piece's frame."""
        return self.right.scaled(point.x).plus(self.away, point.y).plus(self.up, point.z)


UPRIGHT = Pose(Vec(1.0, 0.0, 0.0), Vec(0.0, 1.0, 0.0), Vec(0.0, 0.0, 1.0))


def get_clock_hour(point: Vec) -> float:
    """Clock hour of a point, 0 < h <= 12; a point on the axis reads 12.

    >>> get_clock_hour(Vec(1, 0, 0)), get_clock_hour(Vec(0, -2, 0))
    (3.0, 6.0)
    """
    if point.reach < 1e-9:
        return 12.0
    hour = math.degrees(math.atan2(point.x, point.y)) / 30 % 12
    return round(hour, 9) or 12.0


def get_lean_deg(direction: Vec) -> float:
    """Lean of a direction from the vertical, degrees."""
    return math.degrees(math.atan2(direction.reach, direction.z))


BANDS = ((0.05, "skirt"), (0.35, "low"), (0.60, "middle"), (0.85, "high"))


def get_level(z_cm: float, above_rim_cm: float) -> str:
    """Level band of a height above the rim: skirt, low, middle, high or crown.

    >>> [get_level(z, 20) for z in (-1, 3, 9, 15, 19)]
    ['skirt', 'low', 'middle', 'high', 'crown']
    """
    return next((name for limit, name in BANDS if z_cm < limit * above_rim_cm), "crown")
