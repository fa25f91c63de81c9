"""The bud-vase trio: three narrow vases in a row, stepped in height, each its own origin and places."""

from mirvel.core.forms.by_role import ByRole
from mirvel.core.forms.form import Entering, Form, Proportions
from mirvel.core.forms.kinds.bud_vase import get_neck_sites
from mirvel.core.forms.sample_lists import Wanted
from mirvel.core.forms.surface import Frame, Lobe, Site
from mirvel.core.forms.wishes import Steps, Wanting, take_turns
from mirvel.core.goods.container import ContainerKind
from mirvel.core.goods.facts import HeadForm, Mechanics, Role
from mirvel.core.house.design import HeightRule
from mirvel.core.space.vectors import Vec

HEIGHTS = (0.78, 1.0, 0.60)  # of each vase's tallest, left to right


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    above = frame.above_rim_cm
    half = Vec(1.2 * frame.half_width_cm, 1.5 * frame.half_depth_cm, 0.95 * above)
    return (Lobe(Vec(0.0, 0.0, 0.05 * above), half, lowest=-0.2, power=6.0),)


def get_sites(frame: Frame) -> tuple[Site, ...]:
    reach = 0.36 * (frame.vessels[-1] - frame.vessels[0])
    return tuple(
        site
        for vessel in range(len(frame.vessels))
        for site in get_neck_sites(frame, vessel, HEIGHTS[vessel % 3], reach / 2 + 1.0)
    )


def get_crown(frame: Frame) -> Site:
    """The tallest place of the tallest vase."""
    return max(get_sites(frame), key=lambda site: site.level)


_TOPS = {Role.LINE: 1.0, Role.FOCAL: 0.95, Role.MASS: 0.62, Role.GREENERY: 0.26}


def _step_down(top: float, vessel: int) -> Wanting:
    return Wanting(Steps(top * HEIGHTS[vessel], by=0.16, least=0.12), across=((-0.7, 0.0, 0.7)[vessel],))


# Each role goes round the vases: middle, left, right.
WISHES: ByRole = {
    role: take_turns(*(_step_down(_TOPS.get(role, 0.45), vessel) for vessel in (1, 0, 2))) for role in Role
}


FORM = Form(
    name="bud-vase trio",
    about="Three bud vases in a row, each with its own few stems, stepped in height.",
    lobes=get_lobes,
    usual_kind=ContainerKind.BUD_VASE,
    kinds=frozenset({ContainerKind.BUD_VASE}),
    mechanics=(Mechanics.NATURAL,),
    rule=HeightRule(factor=2.2),
    proportions=Proportions(0.7, 1.1, 0.9, depth=0.4),
    entering=Entering.GATHERED,
    listed=get_sites,
    crown=get_crown,
    only_listed=True,
    covers=False,
    wishes=WISHES,
    vessels=3,
    sample=(
        Wanted(Role.GREENERY, HeadForm.SMALL_LEAF, 3, "pointed"),
        Wanted(Role.FOCAL, HeadForm.CUP, 3, "open"),
        Wanted(Role.FILLER, HeadForm.CLUSTER, 3, "misty"),
    ),
)
