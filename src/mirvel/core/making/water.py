"""Water without refill: what foam or vase holds against what the stems take up, for the days that are promised.

Uptake is reckoned by the head: so many ml a day for each cm² it shows and a little for each leafy stem (assumptions of
ours; a shop measures its own). Foam gives up most of what it holds; what dries off its covered top is left out. In a
vase the surface sinks by what is taken up and by what evaporates, and the piece is dry as soon as the end of its first
stem hangs in air. Artificial stems, ribbon, fruit and moss drink nothing.
"""

from collections.abc import Iterable
from dataclasses import dataclass

from mirvel.core.goods.container import Container
from mirvel.core.goods.heads import Head
from mirvel.core.goods.material import Material
from mirvel.core.making.cuts import Cut
from mirvel.core.placing.places import Place
from mirvel.core.vessels.hollows import get_fill_ml, get_surface_cm2

ML_PER_CM2_DAY, ML_PER_LEAF_DAY = 0.1, 1.0
EVAPORATES_CM_DAY = 0.2  # off open water in a room (assumption)
FOAM_GIVES = 0.8
FOAM_HOLDS = 0.95  # of its volume


@dataclass(frozen=True)
class Water:
    """What is held for the stems, what they take a day and what evaporates, how many days until the first of them is
    dry (None where nothing drinks), and which that is where it is a vase's."""

    held_ml: float
    a_day_ml: float
    evaporates_ml: float
    days: float | None
    first: Place | None = None


def get_uptake_ml(place: Place) -> float:
    """What one piece takes up in a day."""
    return get_uptake_of(place.material, place.head)


def get_uptake_of(material: Material, head: Head) -> float:
    """The same of a piece of a material with such a head."""
    if not material.drinks:
        return 0.0
    return ML_PER_LEAF_DAY if material.is_leaf else ML_PER_CM2_DAY * head.footprint_cm2


def get_foam_water(cuts: Iterable[Cut], foam_ml: float) -> Water:
    """The water of a piece in so much foam."""
    held, a_day = foam_ml * FOAM_HOLDS * FOAM_GIVES, sum(get_uptake_ml(cut.place) for cut in cuts)
    return Water(held, a_day, 0.0, held / a_day if a_day else None)


def get_vase_water(cuts: Iterable[Cut], container: Container) -> Water:
    """The water of a piece in a vase, or in several side by side: each its share; the first of all stems counts. What
    is tied in the hand has none of its own."""
    drinking = [cut for cut in cuts if get_uptake_ml(cut.place)]
    evaporates = EVAPORATES_CM_DAY * get_surface_cm2(container)
    vessels = []
    for vessel in sorted({cut.place.vessel for cut in drinking if container.water_ml}):
        within = [cut for cut in drinking if cut.place.vessel == vessel]
        first = max(within, key=lambda cut: (cut.end.z, cut.place.entry.id, cut.place.number))
        below = get_fill_ml(container, first.end.z + container.depth_cm)
        a_day = sum(get_uptake_ml(cut.place) for cut in within) + evaporates
        vessels.append((max(0.0, container.water_ml / container.vessels - below) / a_day, first.place))
    days, driest = min(vessels, key=lambda each: each[0], default=(None, None))
    a_day = sum(get_uptake_ml(cut.place) for cut in drinking)
    return Water(container.water_ml, a_day, evaporates * len(vessels), days, driest)
