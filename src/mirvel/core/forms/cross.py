"""The cross: covered arms in matched pairs, a bow over the crossing worked round."""

from mirvel.core.design import Arranging, Balance, HeightBase, HeightRule, Levels, Mechanics, SeenFrom
from mirvel.core.forms.form import HUNG, Form, Guide, keep_no_crown
from mirvel.core.forms.locating import Located, is_on_top
from mirvel.core.forms.samples import LARGE_FRAME_SAMPLE
from mirvel.core.forms.surface import Frame, Site
from mirvel.core.forms.wishes import get_frame_wishes
from mirvel.core.geometry import Vec
from mirvel.core.goods import ContainerKind, MouthShape


def get_crossing(frame: Frame) -> float:
    """How high, as it hangs, the middle of the crossing lies above the middle of its height: its upper arm is as long
    as its side arms."""
    return frame.mouth_half_depth_cm - frame.mouth_half_cm


def get_token(frame: Frame) -> Site:
    """The bow fills the crossing."""
    return Site(Vec(0.0, get_crossing(frame), frame.above_rim_cm), Vec(0.0, 0.0, 1.0), 1.0)


def locate(frame: Frame, point: Vec) -> Located:
    """By the arm and the distance from the middle of the crossing."""
    x, y = point.x, point.y - get_crossing(frame)
    face = "top" if is_on_top(frame, point) else "side"
    if max(abs(x), abs(y)) < 5.0:
        return Located("crossing", None, face, "crossing")
    if abs(x) > abs(y):
        arm = "left arm" if x < 0 else "right arm"
        return Located(arm, abs(x), face, arm)
    arm = "upper arm" if y > 0 else "lower arm"
    return Located(arm, abs(y), face, arm)


FORM = Form(
    name="cross",
    about="A cross covered all over, its arms in matched pairs, a bow over the crossing.",
    usual_kind=ContainerKind.CROSS,
    covers_frame=True,
    kinds=frozenset({ContainerKind.CROSS}),
    mouths=frozenset({MouthShape.CROSS}),
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
    guide=Guide.ARMS,
    sample=LARGE_FRAME_SAMPLE,
)
