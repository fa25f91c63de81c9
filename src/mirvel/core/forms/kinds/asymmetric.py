"""The asymmetric piece: a tall lobe on one side, a low one reaching out on the other, and a fall between them."""

from mirvel.core.forms.by_role import ByRole
from mirvel.core.forms.form import ANY_MOUTH, BOWLS, GLASS_MECHANICS, VASES, Entering, Form, Proportions
from mirvel.core.forms.sample_lists import GREENS, Wanted
from mirvel.core.forms.surface import Frame, Lobe, Site
from mirvel.core.forms.wishes import Each, Steps, Wanting, take_turns
from mirvel.core.goods.container import ContainerKind
from mirvel.core.goods.facts import HeadForm, Mechanics, Role
from mirvel.core.house.design import Arranging, FocalPlace, HeightBase, HeightOf, HeightRule, SeenFrom
from mirvel.core.space.vectors import Vec

TALL_SIDE, LOW_SIDE = -0.30, 0.42  # where the lobes stand, as shares of the half width; left is the tall side


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    above, wide, deep = frame.above_rim_cm, frame.half_width_cm, frame.half_depth_cm
    tall = Lobe(
        Vec(TALL_SIDE * wide, 0.05 * deep, 0.34 * above), Vec(0.46 * wide, 0.7 * deep, 0.66 * above), -0.62, 1.8
    )
    low = Lobe(Vec(LOW_SIDE * wide, -0.1 * deep, 0.12 * above), Vec(0.58 * wide, 0.75 * deep, 0.30 * above), -0.6)
    return (tall, low)


def get_crown(frame: Frame) -> Site:
    """The tallest stands in the tall lobe."""
    return Site(
        Vec(TALL_SIDE * frame.half_width_cm, 0.05 * frame.half_depth_cm, frame.above_rim_cm),
        Vec(-0.12, -0.05, 0.99).unit,
        1.0,
    )


# Two line pieces in three rise in the tall lobe, the third sweeps out low; the focal sits where they meet.
_TALL = Wanting(Steps(0.96, by=0.2), across=(TALL_SIDE,))
WISHES: ByRole = {
    Role.LINE: take_turns(_TALL, _TALL, Wanting(Each((0.16,)), across=(0.95,))),
    Role.FOCAL: Wanting(Each((0.36, 0.2, 0.5)), shell=(0.99,), across=(-0.05, 0.4, -0.3)),
}


FORM = Form(
    name="asymmetric",
    about="Two unequal lobes: tall on one side, low and long on the other.",
    lobes=get_lobes,
    usual_kind=ContainerKind.LOW_BOWL,
    kinds=VASES | BOWLS,
    mouths=ANY_MOUTH,
    mechanics=(Mechanics.PIN_HOLDER, Mechanics.FOAM, *GLASS_MECHANICS[:3]),
    seen_from=SeenFrom.FRONT,
    rule=HeightRule(factor=1.5, of=HeightOf.LARGER_DIMENSION, base=HeightBase.RIM),
    proportions=Proportions(0.6, 0.95, 0.75, depth=0.55),
    arranging=Arranging(focal=FocalPlace.OFF_CENTRE),
    entering=Entering.GATHERED,
    covers=False,
    crown=get_crown,
    wishes=WISHES,
    sample=(
        *GREENS,
        Wanted(Role.LINE, HeadForm.SPIKE, 3, "lipped"),
        Wanted(Role.FOCAL, HeadForm.DAISY, 3, "dark-eye"),
        Wanted(Role.MASS, HeadForm.ROSETTE, 7, "ruffled"),
        Wanted(Role.TEXTURE, HeadForm.BLADE, 4, "blade"),
    ),
)
