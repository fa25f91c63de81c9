"""The vine wreath: bare vine with a large cluster low at one side and a small one opposite, on a stand."""

import math
from collections.abc import Iterator
from dataclasses import replace

from mirvel.core.forms.by_role import ByRole
from mirvel.core.forms.form import HUNG, Form, Proportions, keep_no_crown
from mirvel.core.forms.locating import Located, name_hour
from mirvel.core.forms.sample_lists import CLUSTER_SAMPLE
from mirvel.core.forms.surface import Frame, Lobe, Site
from mirvel.core.forms.wishes import AsUsual, Wanting
from mirvel.core.goods.container import ContainerKind, MouthShape
from mirvel.core.goods.facts import Mechanics, Role
from mirvel.core.house.design import Arranging, Balance, HeightBase, HeightRule, SeenFrom
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.beds import LOWER_HOUR, UPPER_HOUR
from mirvel.core.vessels.bricks import BRICK_CM

LOWER_SHARE, UPPER_SHARE = 0.5, 0.36  # half widths of the clusters, of half the wreath (assumptions of ours)
BESIDE_DEG, BESIDE_SHARE = 26.0, 0.72  # each cluster tapers along the vine: a smaller lobe so far to either side
TRAIL_SHELL = 1.09  # every second green trails past its cluster along the vine
UPPER_LESS = 0.72  # the upper cluster stands so much as high
_TOWARDS_LOWER = 2  # of three pieces two go to the lower cluster, as of the foam


def get_middles(frame: Frame) -> tuple[Vec, Vec]:
    """The middles of the lower and of the upper cluster."""
    middles = frame.bed.middles if frame.bed else ((0.0, -frame.mouth_half_cm), (0.0, frame.mouth_half_cm))
    lower, upper = (Vec(x, y, 0.0) for x, y in middles)
    return lower, upper


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    lower, upper = get_middles(frame)
    above, size = frame.above_rim_cm, frame.mouth_half_cm
    base = 0.4 * BRICK_CM[2]
    wide, narrow = LOWER_SHARE * size, UPPER_SHARE * size
    return (*_get_cluster(lower, base, wide, above), *_get_cluster(upper, base, narrow, UPPER_LESS * above))


def _get_cluster(middle: Vec, base: float, wide: float, high: float) -> Iterator[Lobe]:
    """A lobe over the foam and a smaller one along the vine to either side."""
    yield Lobe(middle.plus(Vec(0.0, 0.0, base)), Vec(wide, wide, high - base), lowest=-0.3)
    hour, radius = math.atan2(middle.x, middle.y), middle.reach
    for side in (-1.0, 1.0):
        turn = hour + math.radians(side * BESIDE_DEG * wide / radius / LOWER_SHARE)
        centre = Vec(radius * math.sin(turn), radius * math.cos(turn), 0.6 * base)
        half = BESIDE_SHARE * wide
        yield Lobe(centre, Vec(half, half, BESIDE_SHARE * (high - base)), lowest=-0.2)


def get_token(frame: Frame) -> Site:
    """A bow hangs at the foot of the lower cluster."""
    lower, _ = get_middles(frame)
    out = Vec(lower.x, lower.y, 0.0).unit
    point = lower.plus(out, 0.7 * LOWER_SHARE * frame.mouth_half_cm).plus(Vec(0.0, 0.0, 0.5 * frame.above_rim_cm))
    return Site(point, out.plus(Vec(0.0, 0.0, 0.8)).unit, 1.0)


_TWO_AND_ONE = Wanting(AsUsual(by_area=False), across=(-0.36, -0.36, 0.36), away=(-0.62, -0.62, 0.62))
# Two of three pieces to the lower cluster, as of the foam, one to the upper; trails run along the vine.
WISHES: ByRole = {
    **dict.fromkeys(Role, _TWO_AND_ONE),
    Role.GREENERY: replace(_TWO_AND_ONE, shell=(TRAIL_SHELL, None)),
    Role.TOKEN: replace(_TWO_AND_ONE, across=(-0.36,), away=(-0.62,)),
}


def locate(frame: Frame, point: Vec) -> Located:
    """By the cluster and the hour round its middle."""
    lower, upper = get_middles(frame)
    is_lower = point.minus(lower).reach <= point.minus(upper).reach
    middle = lower if is_lower else upper
    cluster = "lower cluster" if is_lower else "upper cluster"
    return Located(f"{cluster}, {name_hour(point.minus(middle))}", None, "", cluster)


FORM = Form(
    name="vine wreath",
    about=f"Bare vine with a large cluster at {LOWER_HOUR:g} o’clock and a small one at {UPPER_HOUR:g}, on a stand.",
    lobes=get_lobes,
    usual_kind=ContainerKind.VINE_WREATH,
    kinds=frozenset({ContainerKind.VINE_WREATH}),
    mouths=frozenset({MouthShape.RING}),
    mechanics=(Mechanics.FOAM,),
    seen_from=SeenFrom.FRONT,
    rule=HeightRule(factor=2.2, base=HeightBase.RIM),
    proportions=Proportions(1.0, 1.0, 1.0, depth=1.0, over_mouth=(1.2, 1.2)),
    arranging=Arranging(balance=Balance.FREE),
    crown=keep_no_crown,
    outline_first=True,
    wishes=WISHES,
    pose=HUNG,
    least_facing=0.45,
    token=get_token,
    locate=locate,
    sample=CLUSTER_SAMPLE,
)
