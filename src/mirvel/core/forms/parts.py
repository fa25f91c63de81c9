"""Parts that some forms have of their own: the arms of a cross, the thirds of a spray, the corners of a tray, and
where leaves and grass keep to themselves.

Except for the last, a part is a box as the piece is looked down on, in shares of half its width and half its depth.
"""

from collections.abc import Mapping
from enum import StrEnum
from typing import NamedTuple


class Part(StrEnum):
    """A part of a form; two that are the same across the middle are each other's ``across``."""

    CROSSING = "crossing"
    LEFT_ARM = "left arm"
    RIGHT_ARM = "right arm"
    UPPER_ARM = "upper arm"
    LOWER_ARM = "lower arm"
    LEFT_THIRD = "left third"
    MIDDLE_THIRD = "middle third"
    RIGHT_THIRD = "right third"
    UPPER_THIRD = "upper third"
    LOWER_THIRD = "lower third"
    FRONT_LEFT = "front left corner"
    FRONT_RIGHT = "front right corner"
    BACK_LEFT = "back left corner"
    BACK_RIGHT = "back right corner"
    INSIDE = "in the glass"
    COLLAR = "in the collar"

    @property
    def across(self) -> "Part":
        """The same part with left and right exchanged."""
        return _ACROSS.get(self, self)

    def is_of_one_side(self, *, sideways: bool) -> bool:
        """Whether it has a partner, left and right or front and back."""
        sides = {"left", "right"} if sideways else {"front", "back", "upper", "lower"}
        return not sides.isdisjoint(self.value.split())

    @property
    def goes_out(self) -> bool:
        """Whether it goes out from the middle, so that a distance along it can be told."""
        return self in _OUTWARDS

    @property
    def is_zone(self) -> bool:
        """Whether it has places of its own that no other pieces take."""
        return self in {Part.INSIDE, Part.COLLAR}


_SIDES = (
    (Part.LEFT_ARM, Part.RIGHT_ARM),
    (Part.LEFT_THIRD, Part.RIGHT_THIRD),
    (Part.FRONT_LEFT, Part.FRONT_RIGHT),
    (Part.BACK_LEFT, Part.BACK_RIGHT),
)
_ACROSS = {one: other for left, right in _SIDES for one, other in ((left, right), (right, left))}
_LEFTWARDS, _RIGHTWARDS = {Part.LEFT_ARM, Part.LEFT_THIRD}, {Part.RIGHT_ARM, Part.RIGHT_THIRD}
_UPWARDS = {Part.UPPER_ARM, Part.UPPER_THIRD}
SIDEWAYS = frozenset(_LEFTWARDS | _RIGHTWARDS)
_OUTWARDS = SIDEWAYS | _UPWARDS | {Part.LOWER_ARM, Part.LOWER_THIRD}
_FAR = 9.0  # past every piece


class Box(NamedTuple):
    """From what share of the form to what other, across (-1 its left edge to 1 its right) and away (-1 to 1)."""

    left: float = -_FAR
    right: float = _FAR
    front: float = -_FAR
    back: float = _FAR


Parts = Mapping[Part, Box]
ALL_OVER = Box()


def get_along(parts: Parts, part: Part, start: float, end: float) -> Box:
    """The stretch of an arm or an outer third from so far out of the middle to so far, in shares of the form that way:
    out of the middle of the crossing where there is one, else of the piece."""
    whole, crossing = parts.get(part, ALL_OVER), parts.get(Part.CROSSING, ALL_OVER)
    middle = (crossing.front + crossing.back) / 2
    if part in _LEFTWARDS:
        return whole._replace(left=-end, right=min(whole.right, -start))
    if part in _RIGHTWARDS:
        return whole._replace(left=max(whole.left, start), right=end)
    if part in _UPWARDS:
        return whole._replace(front=max(whole.front, middle + start), back=middle + end)
    return whole._replace(front=middle - end, back=min(whole.back, middle - start))
