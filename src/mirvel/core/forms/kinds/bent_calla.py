"""The single bent stem: one calla warmed in the hand and bowed out of a vase, alone."""

from mirvel.core.forms.form import VASES, Entering, Form, Proportions
from mirvel.core.forms.sample_lists import Wanted
from mirvel.core.forms.surface import Frame, Lobe, Site
from mirvel.core.goods.container import ContainerKind
from mirvel.core.goods.facts import HeadForm, Mechanics, Role
from mirvel.core.house.design import HeightRule, SeenFrom
from mirvel.core.space.vectors import Vec

BOW = 0.22  # how far the stem bows out of the straight, as a share of it


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    above = frame.above_rim_cm
    half = Vec(1.4 * frame.half_width_cm, 1.4 * frame.half_depth_cm, 1.1 * above)
    return (Lobe(Vec(0.0, 0.0, 0.0), half, lowest=-0.1, power=5.0),)


def get_sites(frame: Frame) -> tuple[Site, ...]:
    """The bowed stem first; a second and a third echo it, lower."""
    sites = []
    for across, share, bow in ((0.8, 1.0, BOW), (-0.5, 0.72, -0.8 * BOW), (0.95, 0.5, 0.7 * BOW)):
        x = across * frame.half_width_cm
        facing = Vec(0.7 if across > 0 else -0.7, -0.35, 0.5).unit
        sites.append(Site(Vec(x, -0.1 * frame.half_depth_cm, share * frame.above_rim_cm), facing, share, bow=bow))
    return tuple(sites)


def get_crown(frame: Frame) -> Site:
    return get_sites(frame)[0]


FORM = Form(
    name="single bent stem",
    about="One calla, bowed by hand, alone in a vase.",
    lobes=get_lobes,
    usual_kind=ContainerKind.CYLINDER,
    kinds=VASES | {ContainerKind.BUD_VASE},
    mechanics=(Mechanics.NATURAL,),
    seen_from=SeenFrom.FRONT,
    rule=HeightRule(factor=2.3),
    proportions=Proportions(0.35, 0.6, 0.5, depth=0.5),
    entering=Entering.GATHERED,
    listed=get_sites,
    only_listed=True,
    covers=False,
    crown=get_crown,
    sample=(Wanted(Role.FOCAL, HeadForm.TRUMPET, 1, "spathe"),),
)
