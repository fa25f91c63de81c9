"""The headstone saddle: astride a stone, its front mirrored at its back, usually of artificial stems."""

import numpy as np

from mirvel.core.forms.by_role import ByRole
from mirvel.core.forms.form import FRONT_TO_BACK, Form, Guide, Proportions
from mirvel.core.forms.locating import Located, get_thirds_along, locate_along
from mirvel.core.forms.sample_lists import SPRAY_SAMPLE
from mirvel.core.forms.surface import Frame, Lobe, Mask, Numbers, Site
from mirvel.core.forms.wishes import AS_USUAL, Each, Hanging, Wanting, take_turns
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


_OVER_ITS_SIDES = Wanting(Hanging(_DEPTH, in_pairs=True))
# Line stems reach to the left and right, over the shoulders of the stone; half the greens hang front and back.
WISHES: ByRole = {
    Role.GREENERY: take_turns(_OVER_ITS_SIDES, _OVER_ITS_SIDES, AS_USUAL, AS_USUAL),
    Role.LINE: Wanting(Each((0.2,)), across=(-1.0, -1.0, 1.0, 1.0)),
}


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
    wishes=WISHES,
    locate=locate,
    parts=get_thirds_along,
    guide=Guide.THIRDS_ALONG,
    sample=SPRAY_SAMPLE,
)
