"""The lid spray: double-ended, low, as long as the family wishes, the same to its left and right."""

from collections.abc import Iterator

from mirvel.core.forms.form import Form, Guide, Proportions
from mirvel.core.forms.locating import Located, get_thirds_along, locate_along
from mirvel.core.forms.sample_lists import SPRAY_SAMPLE
from mirvel.core.forms.surface import Frame, Lobe, Site
from mirvel.core.forms.wishes import Wish, Wishing, get_hanging_wish, get_usual_wishes
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


def get_wishes(wishing: Wishing) -> Iterator[Wish]:
    """Line stems and some greens draw its two ends and its long sides, other greens hang over the saddle; the focal
    flowers make its middle."""
    for number, usual in enumerate(get_usual_wishes(wishing)):
        if wishing.role is Role.LINE or (wishing.role is Role.GREENERY and number % 4 == 0):
            across, away = _ENDS[(number if wishing.role is Role.LINE else number // 4) % len(_ENDS)]
            yield Wish(0.12, 1.03, across, away)
        elif wishing.role is Role.GREENERY and number % 4 != 3:
            yield get_hanging_wish(wishing, number // 2, _DEPTH)
        elif wishing.role is Role.MASS and number % 6 < 2:  # before the saddle, front and back, so that it is hidden
            yield Wish(-0.3, 1.0, None, -0.8 if number // 6 % 2 == 0 else 0.8)
        elif wishing.role is Role.FOCAL:
            yield Wish(0.9 - 0.15 * (number % 3), 1.0, (0.0, -0.22, 0.22)[number % 3])
        else:
            yield usual


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
    wishes=get_wishes,
    locate=locate,
    parts=get_thirds_along,
    guide=Guide.THIRDS_ALONG,
    sample=SPRAY_SAMPLE,
)
