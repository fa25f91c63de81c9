"""Water without refill: what foam or vase holds against what the stems take up, for the days that are promised.

Uptake is reckoned by the head: so many ml a day for each cm² it shows and a little for each leafy stem (assumptions of
ours; a shop measures its own). Foam gives up most of what it holds. Artificial stems, ribbon, fruit and moss drink
nothing.
"""

from dataclasses import dataclass

from mirvel.core.making.cuts import Cut
from mirvel.core.placing.places import Place

ML_PER_CM2_DAY, ML_PER_LEAF_DAY = 0.1, 1.0
FOAM_GIVES = 0.8
FOAM_HOLDS = 0.95  # of its volume


@dataclass(frozen=True)
class Water:
    """What is held for the stems, what they take a day, and how many days that is (None where nothing drinks)."""

    held_ml: float
    a_day_ml: float

    @property
    def days(self) -> float | None:
        return self.held_ml / self.a_day_ml if self.a_day_ml > 0 else None


def get_uptake_ml(place: Place) -> float:
    """What one piece takes up in a day."""
    if not place.material.drinks:
        return 0.0
    return ML_PER_LEAF_DAY if place.material.is_leaf else ML_PER_CM2_DAY * place.head.footprint_cm2


def get_water(cuts: tuple[Cut, ...], foam_ml: float, vase_ml: float) -> Water:
    """The water for a piece: foam's where there is any, else the vase's."""
    held = foam_ml * FOAM_HOLDS * FOAM_GIVES if foam_ml else vase_ml
    return Water(held, sum(get_uptake_ml(cut.place) for cut in cuts))
