"""The urn or pedestal piece: tall, faced, a triangle with trailing edges, for a chapel."""

from mirvel.core.forms.by_role import ByRole
from mirvel.core.forms.form import Form, Proportions
from mirvel.core.forms.kinds import one_sided
from mirvel.core.forms.surface import Frame, Lobe
from mirvel.core.forms.wishes import Each, Wanting
from mirvel.core.goods.container import ContainerKind, MouthShape
from mirvel.core.goods.facts import Mechanics, Role
from mirvel.core.house.design import Arranging, Balance, FocalPlace, HeightBase, HeightRule, SeenFrom
from mirvel.core.space.vectors import Vec

# The outline's points: the tallest, the two widest, then the shoulders.
_POINTS = ((0.9, 0.0), (0.2, -0.95), (0.2, 0.95), (0.62, -0.5), (0.62, 0.5), (0.4, -0.75), (0.4, 0.75))


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    above, deep = frame.above_rim_cm, frame.half_depth_cm
    half = Vec(frame.half_width_cm, deep, 0.92 * above)
    return (Lobe(Vec(0.0, one_sided.BACK_SHARE * deep * 0.5, 0.08 * above), half, lowest=-0.3, power=1.45),)


# Line stems set the triangle: the tallest, the two widest, then the shoulders. All else as in any faced piece.
WISHES: ByRole = {
    **one_sided.WISHES,
    Role.LINE: Wanting(
        Each((0.9, 0.2, 0.2, 0.62, 0.62, 0.4, 0.4)), across=(0.0, -0.95, 0.95, -0.5, 0.5, -0.75, 0.75), away=(0.1,)
    ),
}


FORM = Form(
    name="urn piece",
    about="Tall and faced, in an urn or on a pedestal: a triangle with a full skirt.",
    lobes=get_lobes,
    usual_kind=ContainerKind.URN,
    kinds=frozenset({ContainerKind.URN}),
    mouths=frozenset({MouthShape.ROUND}),
    mechanics=(Mechanics.FOAM, Mechanics.NETTING),
    seen_from=SeenFrom.FRONT,
    rule=HeightRule(factor=1.9, base=HeightBase.RIM),
    proportions=Proportions(0.55, 0.95, 0.72, depth=0.6),
    arranging=Arranging(balance=Balance.SYMMETRIC, focal=FocalPlace.CENTRED),
    keep=one_sided.keep_front,
    crown=one_sided.get_crown,
    outline_first=True,
    wishes=WISHES,
)
