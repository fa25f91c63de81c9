"""The all-round dome: widest a little above the rim, cut off where its skirt leans over the rim."""

from mirvel.core.forms.form import ANY_MOUTH, Form
from mirvel.core.forms.surface import Frame, Lobe
from mirvel.core.goods.container import ContainerKind
from mirvel.core.space.vectors import Vec

CENTRE_SHARE = 0.16  # the widest level, as a share of the height above the rim
SKIRT_SHARE = -0.10  # how far below the rim the lowest heads hang, as a share of the same


def get_dome_lobe(frame: Frame, centre: float = CENTRE_SHARE, skirt: float = SKIRT_SHARE, power: float = 2.0) -> Lobe:
    """A lobe over the mouth, its widest level and its skirt as shares of the height above the rim."""
    above, upright = frame.above_rim_cm, (1 - centre) * frame.above_rim_cm
    half = Vec(frame.half_width_cm, frame.half_depth_cm, upright)
    return Lobe(Vec(0.0, 0.0, centre * above), half, (skirt - centre) / (1 - centre), power)


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    return (get_dome_lobe(frame),)


FORM = Form(
    name="all-round dome",
    about="A full round piece for a table or desk, the same from every side.",
    lobes=get_lobes,
    usual_kind=ContainerKind.FLARE,
    mouths=ANY_MOUTH,
)
