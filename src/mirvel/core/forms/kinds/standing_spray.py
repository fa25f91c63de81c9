"""The standing spray: a teardrop on an easel, two thirds of it below its focal point and a third above."""

from dataclasses import replace

from mirvel.core.forms.by_role import ByRole
from mirvel.core.forms.form import HUNG, Form, Guide, Nature, Proportions
from mirvel.core.forms.locating import Located, name_side
from mirvel.core.forms.parts import Box, Part, Parts
from mirvel.core.forms.sample_lists import SPRAY_SAMPLE
from mirvel.core.forms.surface import Frame, Lobe, Site
from mirvel.core.forms.wishes import AS_USUAL, Each, Firstly, Wanting, take_turns
from mirvel.core.goods.container import ContainerKind, MouthShape
from mirvel.core.goods.facts import Mechanics, Role
from mirvel.core.house.design import Arranging, Balance, FocalPlace, HeightBase, HeightRule, SeenFrom
from mirvel.core.space.vectors import Vec

BELOW, ABOVE = 4 / 3, 2 / 3  # of the half length: two thirds below the focal point, one third above
# The outline's points: the lowest, the highest, then pairs nearer and nearer the sides, which stay close.
_POINTS = (
    (0.0, -BELOW),
    (0.0, ABOVE),
    (-0.55, -0.75),
    (0.55, -0.75),
    (-0.75, 0.2),
    (0.75, 0.2),
    (-0.4, -1.1),
    (0.4, -1.1),
)


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    above, deep = frame.above_rim_cm, frame.half_depth_cm
    half = Vec(frame.half_width_cm, ABOVE * deep, above)
    return (Lobe(Vec(0.0, 0.0, 0.0), half, lowest=-0.12, power=1.7, front=BELOW * deep),)


def get_crown(frame: Frame) -> Site:
    """The longest point is the lowest as it hangs."""
    return Site(
        Vec(0.0, -0.99 * BELOW * frame.half_depth_cm, 0.05 * frame.above_rim_cm), Vec(0.0, -0.95, 0.3).unit, 0.05
    )


def get_token(frame: Frame) -> Site:
    """A bow sits just below the focal point."""
    return Site(Vec(0.0, -0.35 * frame.half_depth_cm, 0.86 * frame.above_rim_cm), Vec(0.0, -0.3, 0.95).unit, 1.0)


_ACROSS, _AWAY = tuple(at[0] for at in _POINTS), tuple(at[1] for at in _POINTS)
_MIDDLE = Wanting(Each((0.92, 0.8, 0.68)), away=(0.0, -0.35, 0.12))
# Line stems and half the greens make the outline, the focal flowers the middle, all else the body.
WISHES: ByRole = {
    Role.LINE: Wanting(Each((0.08,)), across=_ACROSS, away=_AWAY),
    Role.GREENERY: take_turns(Wanting(Each((0.04,)), shell=(1.04,), across=_ACROSS, away=_AWAY), AS_USUAL),
    Role.FOCAL: Firstly(replace(_MIDDLE, across=(0.0,)), _MIDDLE, count=1),
}


def get_parts(frame: Frame) -> Parts:
    """The thirds of its length."""
    return {
        Part.UPPER_THIRD: Box(front=0.0),
        Part.MIDDLE_THIRD: Box(front=-BELOW / 2, back=0.0),
        Part.LOWER_THIRD: Box(back=-BELOW / 2),
    }


def locate(frame: Frame, point: Vec) -> Located:
    """By thirds of its length and of its width."""
    long = frame.half_depth_cm
    third = "upper third" if point.y > 0 else "middle third" if point.y > -BELOW * long / 2 else "lower third"
    return Located(f"{third}, {name_side(point.x, frame.half_width_cm)}", None, "", third)


FORM = Form(
    name="standing spray",
    about="A teardrop on an easel: two thirds below the focal point, a third above, its sides kept near.",
    lobes=get_lobes,
    usual_kind=ContainerKind.SPRAY_CAGE,
    kinds=frozenset({ContainerKind.SPRAY_CAGE}),
    mouths=frozenset({MouthShape.OBLONG}),
    mechanics=(Mechanics.FOAM,),
    seen_from=SeenFrom.FRONT,
    rule=HeightRule(factor=2.0, base=HeightBase.RIM),
    proportions=Proportions(0.8, 1.7, 1.2, depth=1.8),
    arranging=Arranging(balance=Balance.SYMMETRIC, focal=FocalPlace.CENTRED),
    crown=get_crown,
    outline_first=True,
    wishes=WISHES,
    pose=HUNG,
    least_facing=0.45,
    token=get_token,
    locate=locate,
    parts=get_parts,
    guide=Guide.THIRDS_UP,
    natures=frozenset({Nature.DROP, Nature.THIRDS}),
    sample=SPRAY_SAMPLE,
)
