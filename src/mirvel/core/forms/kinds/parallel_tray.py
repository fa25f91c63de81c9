"""The parallel grouped tray: stems upright beside one another in blocks, dark foam between them on purpose."""

from collections.abc import Iterator

from mirvel.core.forms.form import Entering, Form, Proportions
from mirvel.core.forms.locating import get_corners
from mirvel.core.forms.sample_lists import Wanted
from mirvel.core.forms.surface import Frame, Lobe, Site
from mirvel.core.forms.wishes import Wish, Wishing
from mirvel.core.goods.container import ContainerKind, MouthShape
from mirvel.core.goods.facts import HeadForm, Mechanics, Role
from mirvel.core.house.design import Arranging, Grouping, HeightBase, HeightRule, SeenFrom
from mirvel.core.space.vectors import Vec

STEP_CM = 5.0  # "the second spike 5 cm taller or shorter than the first": common practice, no published source
_COLUMNS, _ROWS, _LEVELS = 11, 4, 14


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    above = frame.above_rim_cm
    half = Vec(1.35 * frame.half_width_cm, 1.6 * frame.half_depth_cm, 1.0 * above)
    return (Lobe(Vec(0.0, 0.0, 0.1 * above), half, lowest=-0.1, power=8.0),)


def get_sites(frame: Frame) -> tuple[Site, ...]:
    """A grid over the foam; the back rows reach the full height, the front ones stay lower."""
    sites = []
    for level in range(_LEVELS):
        share = 1 - level / _LEVELS
        for row in range(_ROWS):
            if share > 1.0 - 0.17 * row:
                continue
            for column in range(_COLUMNS):
                x = (column / (_COLUMNS - 1) - 0.5) * 1.86 * frame.mouth_half_cm
                y = (0.5 - row / (_ROWS - 1)) * 1.5 * frame.mouth_half_depth_cm
                point = Vec(x, y, share * frame.above_rim_cm)
                sites.append(Site(point, Vec(0.0, -0.5, 0.87).unit, share, Vec(x, y, 0.0)))
    return tuple(sites)


def get_wishes(wishing: Wishing) -> Iterator[Wish]:
    """Spikes step by 5 cm; heads climb beside them by blocks; low pieces cover part of the foam."""
    tops = {Role.LINE: 1.0, Role.FOCAL: 0.55, Role.MASS: 0.42, Role.FILLER: 0.28, Role.TEXTURE: 0.5, Role.TOKEN: 0.3}
    step = STEP_CM / wishing.above_rim_cm
    blocks = {Role.LINE: -0.45, Role.FOCAL: 0.1, Role.MASS: 0.55, Role.TEXTURE: -0.85, Role.FILLER: 0.85}
    for number in range(wishing.count):
        top = tops.get(wishing.role, 0.14)
        fall = step if wishing.role in {Role.LINE, Role.FOCAL} else 0.5 * step
        yield Wish(max(0.1, top - fall * (number % 4)), 1.0, blocks.get(wishing.role))


FORM = Form(
    name="parallel tray",
    about="Upright blocks side by side in a tray; the dark foam may show.",
    lobes=get_lobes,
    usual_kind=ContainerKind.FOAM_TRAY,
    kinds=frozenset({ContainerKind.FOAM_TRAY, ContainerKind.LOW_BOWL, ContainerKind.BOX}),
    mouths=frozenset({MouthShape.OBLONG, MouthShape.OVAL, MouthShape.SQUARE}),
    mechanics=(Mechanics.FOAM, Mechanics.PIN_HOLDER),
    seen_from=SeenFrom.FRONT,
    rule=HeightRule(factor=6.0, base=HeightBase.RIM),
    proportions=Proportions(over_mouth=(1.0, 1.0)),
    arranging=Arranging(grouping=Grouping.GROUPED),
    entering=Entering.UPRIGHT,
    listed=get_sites,
    only_listed=True,
    covers=False,
    wishes=get_wishes,
    parts=get_corners,
    sample=(
        Wanted(Role.TEXTURE, HeadForm.STRAP, 3, "rolled"),
        Wanted(Role.LINE, HeadForm.SPIKE, 2, "starry"),
        Wanted(Role.FOCAL, HeadForm.DAISY, 2, "yellow-eye"),
        Wanted(Role.MASS, HeadForm.ROSETTE, 3, "ruffled"),
        Wanted(Role.FILLER, HeadForm.CLUSTER, 5, "dense"),
    ),
)
