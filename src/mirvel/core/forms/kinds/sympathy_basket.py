"""The sympathy basket: faced, fanning up before a tall arched handle that stays clear to lift it."""

from dataclasses import replace

from mirvel.core.forms.by_role import ByRole
from mirvel.core.forms.form import Form, Proportions
from mirvel.core.forms.kinds import one_sided
from mirvel.core.forms.kinds.basket import get_most_above
from mirvel.core.forms.surface import Frame, Mask, Numbers, Site
from mirvel.core.forms.wishes import AS_USUAL, Firstly, Spread, Wanting, take_turns
from mirvel.core.goods.container import ContainerKind, MouthShape
from mirvel.core.goods.facts import Mechanics, Role
from mirvel.core.house.design import Arranging, FocalPlace, HeightOf, HeightRule, SeenFrom

_BEFORE_HANDLE_CM, _LOW_SHARE = 2.5, 0.45


def keep_before_handle(frame: Frame, points: Numbers) -> Mask:
    """Nothing stands under the crown of the handle or behind it but what is low."""
    low = points[:, 2] < _LOW_SHARE * frame.above_rim_cm
    mask: Mask = low | (points[:, 1] < -_BEFORE_HANDLE_CM)
    return mask


def get_crown(frame: Frame) -> Site:
    """The highest place, before the handle."""
    return one_sided.get_crown_at(frame, -min(_BEFORE_HANDLE_CM, 0.1 * frame.half_depth_cm))


_FACED = replace(AS_USUAL, away=(-0.45,))
_CLOSING = Wanting(Spread(0.15, 0.45), shell=(0.9,), away=(0.4,))
# As in any faced piece, but that every third green and some small flowers close the back, low.
WISHES: ByRole = {
    **one_sided.WISHES,
    Role.GREENERY: take_turns(AS_USUAL, AS_USUAL, Wanting(Spread(0.05, 0.25), shell=(0.98, 0.7, 0.4), away=(0.5,))),
    **dict.fromkeys((Role.MASS, Role.FILLER), take_turns(_FACED, _FACED, _FACED, _CLOSING)),
    **dict.fromkeys((Role.FOCAL, Role.TEXTURE, Role.TRAILING), _FACED),
    Role.TOKEN: Firstly(AS_USUAL, _FACED, count=1),
}


FORM = Form(
    name="sympathy basket",
    about="Faced, in a basket with a tall arched handle: flowers fan up in front of it, the handle stays free.",
    lobes=one_sided.get_lobes,
    usual_kind=ContainerKind.BASKET,
    kinds=frozenset({ContainerKind.BASKET}),
    mouths=frozenset({MouthShape.ROUND, MouthShape.OVAL}),
    mechanics=(Mechanics.FOAM,),
    seen_from=SeenFrom.FRONT,
    rule=HeightRule(factor=0.95, of=HeightOf.CONTAINER_HEIGHT),
    proportions=Proportions(0.6, 1.1, 0.8, depth=0.75),
    arranging=Arranging(focal=FocalPlace.CENTRED),
    keep=keep_before_handle,
    crown=get_crown,
    outline_first=True,
    wishes=WISHES,
    most_above=get_most_above,
)
