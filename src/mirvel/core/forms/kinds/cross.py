"""The cross: covered arms in matched pairs, a bow over the crossing worked round."""

from dataclasses import replace

from mirvel.core.forms.form import Guide
from mirvel.core.forms.kinds.covered_frame import COVERED_FRAME
from mirvel.core.forms.locating import Located, is_on_top
from mirvel.core.forms.parts import Box, Part, Parts
from mirvel.core.forms.sample_lists import LARGE_FRAME_SAMPLE
from mirvel.core.forms.surface import Frame, Site
from mirvel.core.goods.container import ContainerKind, MouthShape
from mirvel.core.house.design import Arranging, Balance, Levels
from mirvel.core.space.vectors import Vec

CROSSING_CM = 5.0  # to each side of its middle
_ARM_CM = 8.0  # to each side of an arm’s middle, with what hangs over its edges; so far from the crossing it begins


def get_crossing(frame: Frame) -> float:
    """How high, as it hangs, the middle of the crossing lies above the middle of its height: its upper arm is as long
    as its side arms."""
    return frame.mouth_half_depth_cm - frame.mouth_half_cm


def get_token(frame: Frame) -> Site:
    """The bow fills the crossing."""
    return Site(Vec(0.0, get_crossing(frame), frame.above_rim_cm), Vec(0.0, 0.0, 1.0), 1.0)


def get_laid_from(frame: Frame, point: Vec) -> Vec:
    """Sprays are laid outwards along the arms, from the crossing."""
    x, y = point.x, point.y - get_crossing(frame)
    if abs(x) > abs(y):
        return Vec(-1.0 if x > 0 else 1.0, 0.0, 0.0)
    return Vec(0.0, -1.0 if y > 0 else 1.0, 0.0)


def get_parts(frame: Frame) -> Parts:
    """Its arms and its crossing."""
    middle = get_crossing(frame) / frame.half_depth_cm
    x, y = CROSSING_CM / frame.half_width_cm, CROSSING_CM / frame.half_depth_cm
    wide, deep = _ARM_CM / frame.half_width_cm, _ARM_CM / frame.half_depth_cm
    return {
        Part.CROSSING: Box(-x, x, middle - y, middle + y),
        Part.LEFT_ARM: Box(right=-wide, front=middle - deep, back=middle + deep),
        Part.RIGHT_ARM: Box(left=wide, front=middle - deep, back=middle + deep),
        Part.UPPER_ARM: Box(-wide, wide, front=middle + deep),
        Part.LOWER_ARM: Box(-wide, wide, back=middle - deep),
    }


def locate(frame: Frame, point: Vec) -> Located:
    """By the arm and the distance from the middle of the crossing."""
    x, y = point.x, point.y - get_crossing(frame)
    face = "top" if is_on_top(frame, point) else "side"
    if max(abs(x), abs(y)) < CROSSING_CM:
        return Located("crossing", None, face, "crossing")
    if abs(x) > abs(y):
        arm = "left arm" if x < 0 else "right arm"
        return Located(arm, abs(x), face, arm)
    arm = "upper arm" if y > 0 else "lower arm"
    return Located(arm, abs(y), face, arm)


FORM = replace(
    COVERED_FRAME,
    name="cross",
    about="A cross covered all over, its arms in matched pairs, a bow over the crossing.",
    usual_kind=ContainerKind.CROSS,
    kinds=frozenset({ContainerKind.CROSS}),
    mouths=frozenset({MouthShape.CROSS}),
    arranging=Arranging(balance=Balance.SYMMETRIC, levels=Levels.ONE_LEVEL),
    laid_from=get_laid_from,
    token=get_token,
    locate=locate,
    parts=get_parts,
    guide=Guide.ARMS,
    sample=LARGE_FRAME_SAMPLE,
)
