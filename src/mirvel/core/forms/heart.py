"""The heart: covered, solid or with an open middle, its halves alike."""

from mirvel.core.design import Arranging, Balance, HeightBase, HeightRule, Levels, Mechanics, SeenFrom
from mirvel.core.forms.form import HUNG, Form, keep_no_crown
from mirvel.core.forms.locating import Located, is_on_top, name_hour
from mirvel.core.forms.samples import FRAME_SAMPLE
from mirvel.core.forms.surface import Frame, Site
from mirvel.core.forms.wishes import get_frame_wishes
from mirvel.core.geometry import Vec
from mirvel.core.goods import ContainerKind, MouthShape

_BOW_DOWN = 0.62  # where a bow sits above the point, as a share of the half height below the middle


def get_token(frame: Frame) -> Site:
    """A bow sits above the point."""
    point = Vec(0.0, -_BOW_DOWN * frame.mouth_half_depth_cm, frame.above_rim_cm)
    return Site(point, Vec(0.0, -0.15, 0.98).unit, 1.0)


def locate(frame: Frame, point: Vec) -> Located:
    """By the hour, on top or at the side."""
    face = "top" if is_on_top(frame, point) else "side"
    return Located(name_hour(point), None, face, face)


FORM = Form(
    name="heart",
    about="A heart covered all over, its two halves alike.",
    usual_kind=ContainerKind.HEART,
    covers_frame=True,
    kinds=frozenset({ContainerKind.HEART}),
    mouths=frozenset({MouthShape.HEART}),
    mechanics=(Mechanics.FOAM,),
    seen_from=SeenFrom.FRONT,
    rule=HeightRule(factor=1.0, base=HeightBase.RIM),
    arranging=Arranging(balance=Balance.SYMMETRIC, levels=Levels.ONE_LEVEL),
    crown=keep_no_crown,
    wishes=get_frame_wishes,
    pose=HUNG,
    fullness=(0.9, 2.2),
    token=get_token,
    locate=locate,
    sample=FRAME_SAMPLE,
)
