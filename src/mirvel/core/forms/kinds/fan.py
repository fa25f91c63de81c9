"""The fan: a flat half circle of line flowers radiating from one spot, filled towards its middle."""

from mirvel.core.forms.by_role import ByRole
from mirvel.core.forms.form import ANY_MOUTH, BOWLS, FOAM_MECHANICS, Entering, Form, Proportions
from mirvel.core.forms.sample_lists import GREENS, Wanted
from mirvel.core.forms.surface import Frame, Lobe, Mask, Numbers
from mirvel.core.forms.wishes import Arch, Wanting
from mirvel.core.goods.container import ContainerKind
from mirvel.core.goods.facts import HeadForm, Role
from mirvel.core.house.design import Arranging, Balance, FocalPlace, HeightBase, HeightRule, SeenFrom
from mirvel.core.space.vectors import Vec


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    above = frame.above_rim_cm
    return (Lobe(Vec(0.0, 0.0, 0.04 * above), Vec(frame.half_width_cm, frame.half_depth_cm, 0.96 * above), -0.12),)


def keep_front(frame: Frame, points: Numbers) -> Mask:
    mask: Mask = points[:, 1] <= 0.25 * frame.half_depth_cm
    return mask


# Line flowers at even angles round the rim of the fan, the tallest first, then to either side in turn.
WISHES: ByRole = {Role.LINE: Wanting(Arch(reach=0.95, least=0.12))}


FORM = Form(
    name="fan",
    about="A flat half circle spread from one spot, seen from the front.",
    lobes=get_lobes,
    usual_kind=ContainerKind.LOW_BOWL,
    kinds=BOWLS,
    mouths=ANY_MOUTH,
    mechanics=FOAM_MECHANICS,
    seen_from=SeenFrom.FRONT,
    rule=HeightRule(factor=2.6, base=HeightBase.RIM),
    proportions=Proportions(0.8, 1.15, 1.0, depth=0.34),
    arranging=Arranging(balance=Balance.SYMMETRIC, focal=FocalPlace.CENTRED),
    entering=Entering.GATHERED,
    keep=keep_front,
    wishes=WISHES,
    sample=(
        *GREENS,
        Wanted(Role.LINE, HeadForm.SPIKE, 7, "lipped"),
        Wanted(Role.FOCAL, HeadForm.ROSETTE, 5, "cupped"),
        Wanted(Role.MASS, HeadForm.ROSETTE, 9, "ruffled"),
        Wanted(Role.FILLER, HeadForm.CLUSTER, 6, "misty"),
    ),
)
