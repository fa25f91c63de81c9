"""The bud-vase trio: three narrow vases in a row, stepped in height, each its own origin and places."""

from collections.abc import Iterator

from mirvel.core.forms.form import Entering, Form, Proportions
from mirvel.core.forms.kinds.bud_vase import get_neck_sites
from mirvel.core.forms.sample_lists import Wanted
from mirvel.core.forms.surface import Frame, Lobe, Site
from mirvel.core.forms.wishes import Wish, Wishing
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


def get_wishes(wishing: Wishing) -> Iterator[Wish]:
    """Each role goes round the vases: middle, left, right."""
    tops = {Role.LINE: 1.0, Role.FOCAL: 0.95, Role.MASS: 0.62, Role.GREENERY: 0.26}
    for number in range(wishing.count):
        vessel = (1, 0, 2)[number % 3]
        top = tops.get(wishing.role, 0.45) * HEIGHTS[vessel] - 0.16 * (number // 3)
        yield Wish(max(0.12, top), 1.0, (-0.7, 0.0, 0.7)[vessel])


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
    wishes=get_wishes,
    vessels=3,
    sample=(
        Wanted(Role.GREENERY, HeadForm.SMALL_LEAF, 3, "pointed"),
        Wanted(Role.FOCAL, HeadForm.CUP, 3, "open"),
        Wanted(Role.FILLER, HeadForm.CLUSTER, 3, "misty"),
    ),
)
