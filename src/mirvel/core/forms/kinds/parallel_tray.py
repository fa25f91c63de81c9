"""The parallel grouped tray: stems upright beside one another in blocks, dark foam between them on purpose."""

from mirvel.core.forms.by_role import ByRole
from mirvel.core.forms.form import Entering, Form, Proportions
from mirvel.core.forms.locating import get_corners
from mirvel.core.forms.sample_lists import Wanted
from mirvel.core.forms.surface import Frame, Lobe, Site
from mirvel.core.forms.wishes import Steps, Wanting
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


def _step_down(top: float, across: float | None, by_cm: float = STEP_CM / 2) -> Wanting:
    """In fours from the role's own top, in its own block."""
    return Wanting(Steps(top, by_cm=by_cm, least=0.1, every=4), across=() if across is None else (across,))


# Spikes step by 5 cm; heads climb beside them by blocks; low pieces cover part of the foam.
WISHES: ByRole = {
    Role.LINE: _step_down(1.0, -0.45, STEP_CM),
    Role.FOCAL: _step_down(0.55, 0.1, STEP_CM),
    Role.MASS: _step_down(0.42, 0.55),
    Role.FILLER: _step_down(0.28, 0.85),
    Role.TEXTURE: _step_down(0.5, -0.85),
    Role.TOKEN: _step_down(0.3, None),
    Role.GREENERY: _step_down(0.14, None),
    Role.TRAILING: _step_down(0.14, None),
}


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
    wishes=WISHES,
    parts=get_corners,
    sample=(
        Wanted(Role.TEXTURE, HeadForm.STRAP, 3, "rolled"),
        Wanted(Role.LINE, HeadForm.SPIKE, 2, "starry"),
        Wanted(Role.FOCAL, HeadForm.DAISY, 2, "yellow-eye"),
        Wanted(Role.MASS, HeadForm.ROSETTE, 3, "ruffled"),
        Wanted(Role.FILLER, HeadForm.CLUSTER, 5, "dense"),
    ),
)
