"""Looking at a piece: the front and the plan as flat pictures, x right and y down, in millimetres."""

from dataclasses import dataclass
from enum import StrEnum

from mirvel.core.geometry import Vec

MM_PER_CM = 10.0


class View(StrEnum):
    """A side a piece is drawn from."""

    FRONT = "front"
    PLAN = "plan"


@dataclass(frozen=True)
class Eye:
    """One view with the picture's point for the piece's origin (centre of the mouth)."""

    view: View
    origin_x: float
    origin_y: float

    def flatten(self, point: Vec) -> tuple[float, float]:
        """Where a point in space falls on the picture, mm."""
        up = point.z if self.view is View.FRONT else point.y
        return self.origin_x + point.x * MM_PER_CM, self.origin_y - up * MM_PER_CM

    def get_direction(self, direction: Vec) -> tuple[float, float, float]:
        """A direction as (right, up, towards the eye)."""
        if self.view is View.FRONT:
            return direction.x, direction.z, -direction.y
        return direction.x, direction.y, direction.z

    def get_nearness(self, point: Vec) -> float:
        """How near a point is to the eye, cm; larger is nearer."""
        return -point.y if self.view is View.FRONT else point.z
