"""One wish measured on the places an entry came to, and what it is measured against."""

from collections.abc import Sequence
from dataclasses import dataclass

from mirvel.core.forms.surface import Surface
from mirvel.core.placing.places import Place, get_head_extent
from mirvel.core.values.units import LengthUnit, format_length


@dataclass(frozen=True)
class Met:
    """One wish measured: which of an entry's it is, in words too, whether it is met, and if not, what is so instead."""

    part: str
    wish: str
    is_met: bool
    instead: str = ""


@dataclass(frozen=True)
class Measuring:
    """What an entry's places are measured against: all places as the piece is built, the surface, the container's
    height, and the unit that lengths are told in."""

    places: Sequence[Place]
    surface: Surface
    container_height_cm: float
    unit: LengthUnit

    def get(self, entry_id: str) -> list[Place]:
        """The places of an entry, in the order of their numbers."""
        return sorted((place for place in self.places if place.entry.id == entry_id), key=lambda each: each.number)

    def say(self, length_cm: float) -> str:
        return format_length(length_cm, self.unit)


def get_top(place: Place) -> float:
    """How high the highest point of a head stands above the rim, cm."""
    return place.tip.z + get_head_extent(place.material, place.facing, place.half_width_cm).top
