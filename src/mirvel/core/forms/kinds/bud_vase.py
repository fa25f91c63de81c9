"""The bud vase: one stem, or a few at different heights, in a narrow neck."""

from mirvel.core.forms.by_role import ByRole
from mirvel.core.forms.form import Entering, Form, Proportions
from mirvel.core.forms.sample_lists import Wanted
from mirvel.core.forms.surface import Frame, Lobe, Site
from mirvel.core.forms.wishes import Steps, Wanting
from mirvel.core.goods.container import ContainerKind
from mirvel.core.goods.facts import HeadForm, Mechanics, Role
from mirvel.core.house.design import HeightRule
from mirvel.core.space.vectors import Vec

# (across, away, height share) of the places in one neck: the tallest, then steps down to either side.
_NECK = (
    (0.0, 0.0, 1.0),
    (0.45, -0.2, 0.72),
    (-0.5, -0.1, 0.56),
    (0.1, -0.6, 0.42),
    (0.62, 0.25, 0.48),
    (-0.35, 0.55, 0.34),
    (-0.75, -0.35, 0.2),
    (0.75, -0.3, 0.16),
    (0.0, 0.7, 0.24),
)


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    above = frame.above_rim_cm
    half = Vec(1.5 * frame.half_width_cm, 1.5 * frame.half_depth_cm, 0.95 * above)
    return (Lobe(Vec(0.0, 0.0, 0.05 * above), half, lowest=-0.2, power=4.0),)


def get_neck_sites(frame: Frame, vessel: int, height: float, half_width: float) -> list[Site]:
    """The places over one neck, its tallest at a share of the piece's height."""
    middle = frame.vessels[vessel]
    sites = []
    for across, away, share in _NECK:
        point = Vec(middle + across * half_width, away * half_width, share * height * frame.above_rim_cm)
        facing = Vec(0.6 * across, 0.6 * away - 0.7, 0.6).unit
        sites.append(Site(point, facing, share * height, Vec(middle, 0.0, 0.0), vessel=vessel))
    return sites


def get_sites(frame: Frame) -> tuple[Site, ...]:
    return tuple(get_neck_sites(frame, 0, 1.0, frame.half_width_cm))


def get_crown(frame: Frame) -> Site:
    return get_sites(frame)[0]


_TOPS = {Role.LINE: 1.0, Role.FOCAL: 0.9, Role.MASS: 0.7, Role.GREENERY: 0.3}
# The flower tallest, what goes with it lower, greens lowest.
WISHES: ByRole = {role: Wanting(Steps(_TOPS.get(role, 0.5), by=0.22, least=0.15)) for role in Role}


FORM = Form(
    name="bud vase",
    about="One stem or a few, at different heights, in a narrow neck.",
    lobes=get_lobes,
    usual_kind=ContainerKind.BUD_VASE,
    kinds=frozenset({ContainerKind.BUD_VASE}),
    mechanics=(Mechanics.NATURAL,),
    rule=HeightRule(factor=2.0),
    proportions=Proportions(0.25, 0.6, 0.4),
    entering=Entering.GATHERED,
    listed=get_sites,
    crown=get_crown,
    only_listed=True,
    covers=False,
    wishes=WISHES,
    sample=(
        Wanted(Role.GREENERY, HeadForm.SMALL_LEAF, 1, "pointed"),
        Wanted(Role.FOCAL, HeadForm.DAISY, 1, "dark-eye"),
        Wanted(Role.FILLER, HeadForm.CLUSTER, 2, "misty"),
    ),
)
