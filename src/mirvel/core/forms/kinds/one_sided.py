"""One-sided: faced for a hall table against a wall, full in front and flat behind."""

from dataclasses import replace

from mirvel.core.forms.by_role import ByRole
from mirvel.core.forms.form import ANY_MOUTH, BOWLS, FOAM_MECHANICS, GLASS_MECHANICS, VASES, Form, Proportions
from mirvel.core.forms.surface import Frame, Lobe, Mask, Numbers, Site
from mirvel.core.forms.wishes import AS_USUAL, Spread, Wanting, take_turns
from mirvel.core.goods.container import ContainerKind
from mirvel.core.goods.facts import Role
from mirvel.core.house.design import HeightBase, HeightRule, SeenFrom
from mirvel.core.space.vectors import Vec

BACK_SHARE = 0.30  # how far behind the middle the back stands, as a share of the half depth


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    above, deep = frame.above_rim_cm, frame.half_depth_cm
    half = Vec(frame.half_width_cm, deep, 0.9 * above)
    return (Lobe(Vec(0.0, BACK_SHARE * deep * 0.5, 0.1 * above), half, lowest=-0.24, power=1.75),)


def keep_front(frame: Frame, points: Numbers) -> Mask:
    mask: Mask = points[:, 1] <= BACK_SHARE * frame.half_depth_cm
    return mask


def get_crown(frame: Frame) -> Site:
    """The tallest stands at the back, in the middle."""
    return get_crown_at(frame, BACK_SHARE * 0.5 * frame.half_depth_cm)


def get_crown_at(frame: Frame, y: float) -> Site:
    """The tallest in the middle, so far back."""
    return Site(Vec(0.0, y, frame.above_rim_cm), Vec(0.0, -0.25, 0.97).unit, 1.0)


# Every third green closes the back, low; all else faces the room.
WISHES: ByRole = {
    Role.GREENERY: take_turns(AS_USUAL, AS_USUAL, Wanting(Spread(0.08, 0.38), shell=(1.02,), away=(BACK_SHARE,))),
    Role.LINE: replace(AS_USUAL, away=(0.1,)),
}


FORM = Form(
    name="one-sided",
    about="Faced: full towards the room, flat and greened behind, for a table against a wall.",
    lobes=get_lobes,
    usual_kind=ContainerKind.LOW_BOWL,
    kinds=VASES | BOWLS,
    mouths=ANY_MOUTH,
    mechanics=FOAM_MECHANICS + GLASS_MECHANICS[:1],
    seen_from=SeenFrom.FRONT,
    rule=HeightRule(factor=2.6, base=HeightBase.RIM),
    proportions=Proportions(0.55, 1.0, 0.8, depth=0.7),
    keep=keep_front,
    crown=get_crown,
    wishes=WISHES,
)
