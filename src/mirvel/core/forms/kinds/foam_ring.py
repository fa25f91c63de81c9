"""The foam ring, fully covered: greens at its rims, flowers all round, the hole left open."""

from dataclasses import replace

from mirvel.core.forms.kinds.covered_frame import COVERED_FRAME
from mirvel.core.forms.locating import Located, is_on_top, name_hour
from mirvel.core.forms.surface import Frame, Site
from mirvel.core.house.design import HeightBase, HeightRule
from mirvel.core.space.vectors import Vec


def get_middle_radius(frame: Frame) -> float:
    """From the middle of the ring to the centre-line of its foam."""
    if frame.bed is None:
        return frame.mouth_half_cm
    radii = [abs(loop[0][1]) for loop in frame.bed.outline.loops]
    return float(sum(radii) / len(radii))


def get_token(frame: Frame) -> Site:
    """A bow sits at the foot of the ring."""
    return Site(Vec(0.0, -get_middle_radius(frame), frame.above_rim_cm), Vec(0.0, -0.2, 0.98).unit, 1.0)


def locate(frame: Frame, point: Vec) -> Located:
    """By the hour, on top or at one of its sides."""
    side = "outer side" if point.reach > get_middle_radius(frame) else "inner side"
    face = "top" if is_on_top(frame, point) else side
    return Located(name_hour(point), None, face, face)


FORM = replace(
    COVERED_FRAME,
    name="foam ring",
    about="A ring of foam covered all over, its rims greened, its hole left open.",
    rule=HeightRule(factor=1.1, base=HeightBase.RIM),
    token=get_token,
    locate=locate,
)
