"""Looking at a piece: from any clock hour, from above, or cut open, as a flat picture, x right and y down, in mm."""

import math
from dataclasses import dataclass
from enum import StrEnum

from mirvel.core.space.vectors import ORIGIN, UPRIGHT, Pose, Vec

MM_PER_CM = 10.0
FRONT_HOUR, BACK_HOUR, SIDE_HOUR = 6.0, 12.0, 3.0


class View(StrEnum):
    """A way a piece is drawn."""

    FRONT = "front"
    PLAN = "plan"
    SECTION = "section"


@dataclass(frozen=True)
class Eye:
    """One view: the picture's right, up and towards the eye as directions of the piece's own frame, and the
    picture's point for the piece's origin (centre of the mouth)."""

    view: View
    right: Vec
    up: Vec
    towards: Vec
    origin_x: float = 0.0
    origin_y: float = 0.0

    def placed(self, origin_x: float, origin_y: float) -> "Eye":
        """The same view with its origin on the picture."""
        return Eye(self.view, self.right, self.up, self.towards, origin_x, origin_y)

    @property
    def pose(self) -> Pose:
        """The view as a pose, so that boxes can be measured in it."""
        return Pose(self.right, self.towards.scaled(-1.0), self.up)

    def flatten(self, point: Vec) -> tuple[float, float]:
        """Where a point of the piece falls on the picture, mm."""
        right, up = self.right, self.up
        return (
            self.origin_x + (point.x * right.x + point.y * right.y + point.z * right.z) * MM_PER_CM,
            self.origin_y - (point.x * up.x + point.y * up.y + point.z * up.z) * MM_PER_CM,
        )

    def get_shift(self, right_cm: float, up_cm: float) -> Vec:
        """What a move on the picture is in the piece's own frame."""
        return self.right.scaled(right_cm).plus(self.up, up_cm)

    def get_direction(self, direction: Vec) -> tuple[float, float, float]:
        """A direction as (right, up, towards the eye)."""
        return direction.dot(self.right), direction.dot(self.up), direction.dot(self.towards)

    def get_nearness(self, point: Vec) -> float:
        """How near a point is to the eye, cm; larger is nearer."""
        return point.dot(self.towards)


def get_eye(view: View, hour: float = FRONT_HOUR, pose: Pose = UPRIGHT) -> Eye:
    """The eye at a clock hour (6 the designer's side) level with the piece, or above it with 6 below."""

    def in_frame(x: float, y: float, z: float) -> Vec:
        return ORIGIN.plus(pose.right, x).plus(pose.away, y).plus(pose.up, z)

    if view is View.PLAN:
        return Eye(view, in_frame(1, 0, 0), in_frame(0, 1, 0), in_frame(0, 0, 1))
    turn = math.radians(30 * hour)
    x, y = round(math.sin(turn), 12), round(math.cos(turn), 12)
    return Eye(view, in_frame(-y, x, 0), in_frame(0, 0, 1), in_frame(x, y, 0))
