"""The headstone saddle: astride a stone, its front mirrored at its back, usually of artificial stems."""

from collections.abc import Iterator

import numpy as np

from mirvel.core.forms.form import FRONT_TO_BACK, Form, Guide, Proportions
from mirvel.core.forms.locating import Located, get_thirds_along, locate_along
from mirvel.core.forms.sample_lists import SPRAY_SAMPLE
from mirvel.core.forms.surface import Frame, Lobe, Mask, Numbers, Site
from mirvel.core.forms.wishes import Wish, Wishing, get_hanging_wish, get_usual_wishes
from mirvel.core.goods.container import ContainerKind, MouthShape
from mirvel.core.goods.facts import Mechanics, Role
from mirvel.core.house.design import Arranging, Balance, HeightBase, HeightRule
from mirvel.core.space.vectors import Vec

_DEPTH = 0.5
_BESIDE_SHARE = 0.4


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    above = frame.above_rim_cm
    half = Vec(frame.half_width_cm, frame.half_depth_cm, 0.85 * above)
    return (Lobe(Vec(0.0, 0.0, 0.15 * above), half, lowest=-0.7, power=1.8),)


def keep_over_the_stone(frame: Frame, points: Numbers) -> Mask:
    """What hangs below the saddle hangs before or behind the stone, not at its ends."""
    lowest = frame.bed.bottom_z if frame.bed else 0.0
    mask: Mask = (points[:, 2] > lowest) | (np.abs(points[:, 1]) > _BESIDE_SHARE * frame.half_depth_cm)
    return mask


def get_token(frame: Frame) -> Site:
    """A bow sits in front, low in the middle; its like may sit behind."""
    point = Vec(0.0, -0.85 * frame.half_depth_cm, 0.3 * frame.above_rim_cm)
    return Site(point, Vec(0.0, -0.9, 0.4).unit, 1.0)


def get_wishes(wishing: Wishing) -> Iterator[Wish]:
    """Line stems reach to the left and right, over the shoulders of the stone."""
    for number, usual in enumerate(get_usual_wishes(wishing)):
        if wishing.role is Role.GREENERY and number % 4 < 2:  # over the saddle's sides, front and back
            yield get_hanging_wish(wishing, number // 2, _DEPTH)
        elif wishing.role is Role.LINE:
            yield Wish(0.2, 1.0, -1.0 if number // 2 % 2 == 0 else 1.0)
        else:
            yield usual


def locate(frame: Frame, point: Vec) -> Located:
    """By thirds of its width, and front, ridge or back."""
    return locate_along(frame, point, ("front", "ridge", "back"))


FORM = Form(
    name="headstone saddle",
    about="Astride a headstone: long to left and right, its back the mirror of its front.",
    lobes=get_lobes,
    usual_kind=ContainerKind.HEADSTONE_SADDLE,
    kinds=frozenset({ContainerKind.HEADSTONE_SADDLE}),
    mouths=frozenset({MouthShape.OBLONG}),
    mechanics=(Mechanics.FOAM,),
    rule=HeightRule(factor=1.0, base=HeightBase.RIM),
    keep=keep_over_the_stone,
    proportions=Proportions(1.3, 2.2, 1.7, depth=_DEPTH),
    arranging=Arranging(balance=Balance.SYMMETRIC),
    mirror=FRONT_TO_BACK,
    least_facing=-0.2,
    token=get_token,
    outline_first=True,
    wishes=get_wishes,
    locate=locate,
    parts=get_thirds_along,
    guide=Guide.THIRDS_ALONG,
    sample=SPRAY_SAMPLE,
)
