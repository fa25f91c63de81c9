"""The heart: covered, solid or with an open middle, its halves alike."""

from dataclasses import replace

from mirvel.core.forms.kinds.covered_frame import COVERED_FRAME
from mirvel.core.forms.locating import Located, is_on_top, name_hour
from mirvel.core.forms.surface import Frame, Site
from mirvel.core.goods.container import ContainerKind, MouthShape
from mirvel.core.house.design import Arranging, Balance, Levels
from mirvel.core.space.vectors import Vec

_BOW_DOWN = 0.62  # where a bow sits above the point, as a share of the half height below the middle


def get_token(frame: Frame) -> Site:
    """A bow sits above the point."""
    point = Vec(0.0, -_BOW_DOWN * frame.mouth_half_depth_cm, frame.above_rim_cm)
    return Site(point, Vec(0.0, -0.15, 0.98).unit, 1.0)


def locate(frame: Frame, point: Vec) -> Located:
    """By the hour, on top or at the side."""
    face = "top" if is_on_top(frame, point) else "side"
    return Located(name_hour(point), None, face, face)


FORM = replace(
    COVERED_FRAME,
    name="heart",
    about="A heart covered all over, its two halves alike.",
    usual_kind=ContainerKind.HEART,
    kinds=frozenset({ContainerKind.HEART}),
    mouths=frozenset({MouthShape.HEART}),
    arranging=Arranging(balance=Balance.SYMMETRIC, levels=Levels.ONE_LEVEL),
    token=get_token,
    locate=locate,
)
