"""The foam ring, fully covered: greens at its rims, flowers all round, the hole left open."""

from mirvel.core.design import Arranging, HeightBase, HeightRule, Levels, Mechanics, SeenFrom
from mirvel.core.forms.form import HUNG, Form, keep_no_crown
from mirvel.core.forms.locating import Located, is_on_top, name_hour
from mirvel.core.forms.samples import FRAME_SAMPLE
from mirvel.core.forms.surface import Frame, Site
from mirvel.core.forms.wishes import get_frame_wishes
from mirvel.core.geometry import Vec
from mirvel.core.goods import ContainerKind, MouthShape


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


FORM = Form(
    name="foam ring",
    about="A ring of foam covered all over, its rims greened, its hole left open.",
    usual_kind=ContainerKind.FOAM_RING,
    covers_frame=True,
    kinds=frozenset({ContainerKind.FOAM_RING}),
    mouths=frozenset({MouthShape.RING}),
    mechanics=(Mechanics.FOAM,),
    seen_from=SeenFrom.FRONT,
    rule=HeightRule(factor=1.1, base=HeightBase.RIM),
    arranging=Arranging(levels=Levels.ONE_LEVEL),
    crown=keep_no_crown,
    wishes=get_frame_wishes,
    pose=HUNG,
    fullness=(0.9, 2.2),
    token=get_token,
    locate=locate,
    sample=FRAME_SAMPLE,
)
