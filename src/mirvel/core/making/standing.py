"""How a piece stands or hangs: on what stand and how high, what it weighs, where its centre of gravity is, how far it
can be tipped, where it is tied, how long it drains.

Weights of soaked foam and stems are reckoned, not weighed: 1 g per ml of water and of soaked foam, and so much for
every cm³ of stem and cm² of head (house rules, whose usual values are assumptions of ours). A vase weighs filled, as
it is carried. What stands falls over the edge of its foot that is nearest to below its centre of gravity, which need
not be over its middle.
"""

import math
from dataclasses import dataclass
from typing import NamedTuple

from mirvel.core.goods.container import Container, ContainerKind
from mirvel.core.house.rules import HouseRules
from mirvel.core.making.cuts import Cut
from mirvel.core.placing.places import Extent
from mirvel.core.recipe.taking import Taken
from mirvel.core.space.vectors import Pose, Vec
from mirvel.core.vessels.beds import get_bed, has_bed
from mirvel.core.vessels.hollows import get_fill_depth_cm

LEAST_CLEAR_CM = 8.0  # a hung piece keeps clear of the ground
CAGE_SHARE = 0.82  # a spray's cage is tied so high on its stand (assumption)
FEET_SHARE = 0.34  # half the spread of a stand's feet, front to back, of its height (assumption)
TIES = 3  # at least three: common practice, no published source
TIE_EVERY_CM = 30.0


class Stand(NamedTuple):
    """What a piece is hung on: its name and how high it is, cm; neither where there is none."""

    name: str = ""
    height_cm: float = 0.0


def get_stand(taken: Taken) -> Stand:
    """The tallest stand among a recipe's own hard goods."""
    stands = (Stand(good.name, good.stand_cm) for _, good in taken.uses if good.stand_cm)
    return max(stands, key=lambda stand: stand.height_cm, default=Stand())


def get_hang_cm(stand_cm: float, container: Container, extent: Extent) -> float:
    """How high above the ground the middle of a hung frame is: by its top on the stand, a cage by its own place on it;
    leaning on the ground without one."""
    if not stand_cm:
        return -extent.bottom
    is_cage = container.kind is ContainerKind.SPRAY_CAGE
    wished = CAGE_SHARE * stand_cm if is_cage else stand_cm - container.halves_cm[1]
    return max(wished, LEAST_CLEAR_CM - extent.bottom)


@dataclass(frozen=True)
class Standing:
    """What a piece weighs soaked or filled, how high its centre of gravity is and how far to the right and to the back
    of its middle, how far that is from the edge it falls over, how far it may be tipped before it does, where it is
    tied and how long it drains."""

    weight_g: float
    foam_g: float
    gravity_up_cm: float
    gravity_off_cm: tuple[float, float]
    to_edge_cm: float
    tip_deg: float
    ties: tuple[str, ...]
    drain_minutes: int

    def get_people(self, limit_kg: float) -> int:
        """How many people lift it at so much each."""
        return max(1, math.ceil(self.weight_g / 1000 / limit_kg))


def get_tip_deg(to_edge_cm: float, gravity_up_cm: float) -> float:
    """How far a standing piece can be tipped before its centre of gravity passes the edge of its foot: atan(way to the
    edge / height); 0 where it is past that already."""
    return math.degrees(math.atan2(max(0.0, to_edge_cm), gravity_up_cm)) if gravity_up_cm > 0 else 90.0


def _get_to_edge_cm(container: Container, right_cm: float, away_cm: float) -> float:
    """How far it is from below the centre of gravity to the nearest edge of the foot; negative past it."""
    wide, deep = container.base_cm / 2, container.vessel_base_cm / 2
    if container.vessels == 1:
        deep = min(wide, container.halves_cm[1])
    if container.is_cornered or deep < wide:
        return min(wide - abs(right_cm), deep - abs(away_cm))
    return wide - math.hypot(right_cm, away_cm)


def get_standing(
    container: Container,
    cuts: tuple[Cut, ...],
    foam_g: float,
    stand_cm: float,
    pose: Pose,
    table_cm: float,
    rules: HouseRules,
) -> Standing:
    """A piece's weight and balance; ``table_cm`` is how far the ground lies below its middle. Without foam the
    container is filled."""
    if has_bed(container):
        bed = get_bed(container)
        x, y = bed.outline.centroid
        foam_middle = Vec(x, y, (bed.top_z + bed.bottom_z) / 2)
    else:
        foam_middle = Vec(0.0, 0.0, -container.depth_cm / 2)
    parts = [(foam_g + container.empty_weight_g, foam_middle)]
    if not (foam_g or has_bed(container)):
        parts.append((container.water_ml, Vec(0.0, 0.0, get_fill_depth_cm(container) / 2 - container.depth_cm)))
    for cut in cuts:
        place = cut.place
        stem = math.pi * (place.material.stem_diameter_mm / 20) ** 2 * cut.cut_cm * rules.stem_weighs_g
        parts.append((stem, place.start.plus(place.tip).scaled(0.5)))
        parts.append((place.head.footprint_cm2 * rules.head_weighs_g, place.tip))
    weight = sum(each for each, _ in parts)
    moments = [sum(each * at.dot(way) for each, at in parts) for way in (pose.up, pose.right, pose.away)]
    stand_g = stand_cm * rules.stand_weighs_g
    moments[0] += stand_g * (stand_cm / 2 - table_cm)
    up, right, away = (moment / max(weight + stand_g, 1e-9) for moment in moments)
    to_edge = FEET_SHARE * stand_cm if stand_cm else _get_to_edge_cm(container, right, away)
    return Standing(
        weight_g=weight + stand_g,
        foam_g=foam_g,
        gravity_up_cm=table_cm + up,
        gravity_off_cm=(right, away),
        to_edge_cm=to_edge,
        tip_deg=get_tip_deg(to_edge, table_cm + up),
        ties=get_ties(container, stand_cm),
        drain_minutes=5 * math.ceil(rules.drains_minutes * foam_g / 1000 / 5) if foam_g and has_bed(container) else 0,
    )


def get_ties(container: Container, stand_cm: float) -> tuple[str, ...]:
    """Where a frame is tied to its stand, in at least three places (common practice, no published source); none without
    a stand."""
    if not stand_cm:
        return ()
    wide, high = container.halves_cm
    places = ["top", "left side", "right side"]
    if max(wide, high) * 2 > 2 * TIE_EVERY_CM:
        places.append("foot")
    return tuple(places)
