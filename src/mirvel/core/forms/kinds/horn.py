"""The horn of plenty, lying on its side: flowers, blades and fruit spill from its mouth on to the table.

Built in its own frame, z out of the mouth and y up as it lies; nothing goes below the table it lies on.
"""

from mirvel.core.forms.by_role import ByRole
from mirvel.core.forms.form import Form, Proportions
from mirvel.core.forms.sample_lists import GREENS, Wanted
from mirvel.core.forms.surface import Frame, Lobe, Mask, Numbers, Site
from mirvel.core.forms.wishes import Each, Firstly, Wanting
from mirvel.core.goods.container import ContainerKind, MouthShape
from mirvel.core.goods.facts import HeadForm, Mechanics, Role
from mirvel.core.house.design import Arranging, FocalPlace, HeightBase, HeightOf, HeightRule, SeenFrom
from mirvel.core.space.vectors import Pose, Vec


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    above = frame.above_rim_cm
    half = Vec(frame.half_width_cm, frame.half_depth_cm, 0.9 * above)
    return (Lobe(Vec(0.0, -0.05 * frame.half_depth_cm, 0.1 * above), half, lowest=-0.2),)


def keep_above_table(frame: Frame, points: Numbers) -> Mask:
    mask: Mask = points[:, 1] >= -0.85 * frame.mouth_half_depth_cm
    return mask


def get_crown(frame: Frame) -> Site:
    """The longest reaches out along the table."""
    y = -0.45 * frame.mouth_half_depth_cm
    return Site(Vec(0.0, y, frame.above_rim_cm), Vec(0.0, 0.15, 0.98).unit, 1.0)


# One focal long, the others shorter; fruit at the mouth; blades wherever they reach.
WISHES: ByRole = {
    Role.FOCAL: Firstly(Wanting(Each((0.85,))), Wanting(Each((0.4,))), count=1),
    Role.TOKEN: Wanting(Each((0.25, 0.40, 0.55))),
}


FORM = Form(
    name="horn",
    about="A horn on its side, flowers and fruit spilling from its mouth.",
    lobes=get_lobes,
    usual_kind=ContainerKind.HORN,
    kinds=frozenset({ContainerKind.HORN}),
    mouths=frozenset({MouthShape.OVAL}),
    mechanics=(Mechanics.FOAM,),
    seen_from=SeenFrom.FRONT,
    rule=HeightRule(factor=1.3, of=HeightOf.CONTAINER_HEIGHT, base=HeightBase.RIM),
    proportions=Proportions(0.5, 0.9, 0.7, depth=0.85),
    arranging=Arranging(focal=FocalPlace.OFF_CENTRE),
    keep=keep_above_table,
    crown=get_crown,
    wishes=WISHES,
    lies=True,
    # Seen from the front the mouth opens to the right and a little towards the eye.
    pose=Pose(Vec(0.45, 0.0, 0.893), Vec(0.893, 0.0, -0.45), Vec(0.0, 1.0, 0.0)),
    sample=(
        *GREENS,
        Wanted(Role.FOCAL, HeadForm.ROSETTE, 3, "cupped"),
        Wanted(Role.MASS, HeadForm.ROSETTE, 6, "ruffled"),
        Wanted(Role.TOKEN, HeadForm.FRUIT, 3),
        Wanted(Role.FILLER, HeadForm.CLUSTER, 6, "dense"),
        Wanted(Role.TEXTURE, HeadForm.BLADE, 3, "blade"),
    ),
)
