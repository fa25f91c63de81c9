"""The stair-step line piece: each head a step lower than the one before, left, right and forward in turn.

The step is 5 cm, "the second spike 5 cm taller or shorter than the first": common practice, no published source.
"""

from mirvel.core.forms.by_role import ByRole
from mirvel.core.forms.form import ANY_MOUTH, BOWLS, VASES, Entering, Form, Proportions
from mirvel.core.forms.sample_lists import Wanted
from mirvel.core.forms.surface import Frame, Lobe, Site
from mirvel.core.forms.wishes import Spread, Steps, Wanting
from mirvel.core.goods.container import ContainerKind
from mirvel.core.goods.facts import HeadForm, Mechanics, Role
from mirvel.core.house.design import Arranging, Grading, HeightBase, HeightOf, HeightRule, SeenFrom
from mirvel.core.space.vectors import Vec

STEP_CM = 5.0
_MOST_STEPS = 24
_TREADS = (0.0, 0.5, -0.5, 0.18, -0.22)  # how far across the treads stand in turn, as shares of the half width


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    above = frame.above_rim_cm
    half = Vec(1.25 * frame.half_width_cm, 1.25 * frame.half_depth_cm, 0.95 * above)
    return (Lobe(Vec(0.0, 0.0, 0.1 * above), half, lowest=-0.25, power=3.0),)


def get_treads(frame: Frame) -> tuple[Site, ...]:
    """Five treads at each step, from the crown down to the rim and one below it for what hangs."""
    above, sites = frame.above_rim_cm, []
    for step in range(_MOST_STEPS):
        z = max(-0.05 * above, above - STEP_CM * step)
        out = min(1.0, 0.25 + 0.75 * (above - z) / above)
        for number, tread in enumerate(_TREADS):
            x = frame.half_width_cm * out * tread * (1 if step % 2 else -1)
            y = -frame.half_depth_cm * out * (0.15 + 0.2 * number)
            facing = Vec(x / frame.half_width_cm * 0.6, -0.75 * out, 0.55)
            sites.append(Site(Vec(x, y, z), facing.unit, z / above))
    return tuple(sites)


def _step_down(top: float) -> Wanting:
    """By 5 cm a piece from the role's own top."""
    return Wanting(Steps(top, by_cm=STEP_CM, least=0.04))


WISHES: ByRole = {
    Role.LINE: _step_down(1.0),
    Role.FOCAL: _step_down(0.55),
    Role.MASS: _step_down(0.62),
    Role.FILLER: _step_down(0.45),
    Role.TEXTURE: _step_down(0.5),
    Role.GREENERY: Wanting(Spread(0.02, 0.27)),
}


FORM = Form(
    name="stair-step",
    about="A slim line of spikes and heads, each 5 cm below the one before.",
    lobes=get_lobes,
    usual_kind=ContainerKind.LOW_BOWL,
    kinds=VASES | BOWLS,
    mouths=ANY_MOUTH,
    mechanics=(Mechanics.PIN_HOLDER, Mechanics.FOAM, Mechanics.TAPE_GRID),
    seen_from=SeenFrom.FRONT,
    rule=HeightRule(factor=2.0, of=HeightOf.LARGER_DIMENSION, base=HeightBase.RIM),
    proportions=Proportions(0.22, 0.45, 0.3, depth=0.7),
    arranging=Arranging(grading=Grading.LARGE_LOW),
    entering=Entering.GATHERED,
    listed=get_treads,
    only_listed=True,
    covers=False,
    wishes=WISHES,
    sample=(
        Wanted(Role.GREENERY, HeadForm.BROAD_LEAF, 5, "oval"),
        Wanted(Role.LINE, HeadForm.SPIKE, 3, "lipped"),
        Wanted(Role.FOCAL, HeadForm.ROSETTE, 3, "cupped"),
        Wanted(Role.MASS, HeadForm.ROSETTE, 5, "ruffled"),
        Wanted(Role.TEXTURE, HeadForm.BLADE, 4, "blade"),
    ),
)
