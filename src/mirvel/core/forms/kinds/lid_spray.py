"""The lid spray: double-ended, low, as long as the family wishes, the same to its left and right."""

from mirvel.core.forms.by_role import ByRole
from mirvel.core.forms.form import Form, Guide, Proportions
from mirvel.core.forms.locating import Located, get_thirds_along, locate_along
from mirvel.core.forms.sample_lists import SPRAY_SAMPLE
from mirvel.core.forms.surface import Frame, Lobe, Site
from mirvel.core.forms.wishes import AS_USUAL, Each, Hanging, Wanting, take_turns
from mirvel.core.goods.container import ContainerKind, MouthShape
from mirvel.core.goods.facts import Mechanics, Role
from mirvel.core.house.design import Arranging, Balance, FocalPlace, HeightBase, HeightRule
from mirvel.core.space.vectors import Vec

_DEPTH = 0.45
_ENDS = ((-1.0, 0.0), (1.0, 0.0), (-0.8, 0.35), (0.8, 0.35), (-0.8, -0.35), (0.8, -0.35), (-0.45, -0.8), (0.45, -0.8))


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    above = frame.above_rim_cm
    half = Vec(frame.half_width_cm, frame.half_depth_cm, 0.92 * above)
    return (Lobe(Vec(0.0, 0.0, 0.08 * above), half, lowest=-0.35, power=1.7),)


def get_token(frame: Frame) -> Site:
    """A bow sits in front, in the middle."""
    point = Vec(0.0, -0.78 * frame.half_depth_cm, 0.5 * frame.above_rim_cm)
    return Site(point, Vec(0.0, -0.8, 0.6).unit, 1.0)


_OVER_ITS_SIDES = Wanting(Hanging(_DEPTH))
_OUTLINE = Wanting(Each((0.12,)), shell=(1.03,), across=tuple(at[0] for at in _ENDS), away=tuple(at[1] for at in _ENDS))
# Before the saddle, front and back, so that it is hidden.
_BEFORE_IT = Wanting(Each((-0.3,)), away=(-0.8, -0.8, 0.8, 0.8))
# Line stems and some greens draw its two ends and its long sides, other greens hang over the saddle; the focal flowers
# make its middle.
WISHES: ByRole = {
    Role.LINE: _OUTLINE,
    Role.GREENERY: take_turns(_OUTLINE, _OVER_ITS_SIDES, _OVER_ITS_SIDES, AS_USUAL),
    Role.MASS: take_turns(_BEFORE_IT, _BEFORE_IT, AS_USUAL, AS_USUAL, AS_USUAL, AS_USUAL),
    Role.FOCAL: Wanting(Each((0.9, 0.75, 0.6)), across=(0.0, -0.22, 0.22)),
}


def locate(frame: Frame, point: Vec) -> Located:
    """By thirds of its length, and front, top or back."""
    return locate_along(frame, point, ("front", "top", "back"))


FORM = Form(
    name="lid spray",
    about="Double-ended and low, for a lid: long ends to left and right, the best in the middle.",
    lobes=get_lobes,
    usual_kind=ContainerKind.LID_SADDLE,
    kinds=frozenset({ContainerKind.LID_SADDLE}),
    mouths=frozenset({MouthShape.OBLONG}),
    mechanics=(Mechanics.FOAM,),
    rule=HeightRule(factor=2.2, base=HeightBase.RIM),
    proportions=Proportions(1.6, 3.0, 2.2, depth=_DEPTH),
    arranging=Arranging(balance=Balance.SYMMETRIC, focal=FocalPlace.CENTRED),
    least_facing=-0.2,
    token=get_token,
    outline_first=True,
    wishes=WISHES,
    locate=locate,
    parts=get_thirds_along,
    guide=Guide.THIRDS_ALONG,
    sample=SPRAY_SAMPLE,
)
