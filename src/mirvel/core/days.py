"""The piece on another day than the one it is cut for: heads open or tight, stems grown or not yet.

Places and cuts stay as they are made; what changes is how large each head is and how far its stem has grown.
"""

from dataclasses import dataclass, replace

from mirvel.core.heads import get_growth_cm, get_head
from mirvel.core.places import Place, get_extent
from mirvel.core.working import Worked

LAST_DAY = 14


@dataclass(frozen=True)
class DayView:
    """A worked recipe as it looks on a day, and what is over by then: (name, pieces)."""

    worked: Worked
    day: int
    past: tuple[tuple[str, int], ...]


def get_on_day(worked: Worked, day: int) -> DayView:
    """The piece so many days after it was made, 0 the day itself."""
    places = tuple(_get_place_on_day(place, worked, day) for place in worked.places)
    pose, container = worked.sizing.form.pose, worked.container
    seen = replace(worked, places=places, extent=get_extent(places, container.halves_cm, pose))
    over: dict[str, int] = {}
    for place in places:
        life = place.material.life_max_days
        if life is not None and day > life:
            over[place.material.name] = over.get(place.material.name, 0) + 1
    return DayView(seen, day, tuple(over.items()))


def _get_place_on_day(place: Place, worked: Worked, day: int) -> Place:
    """The same stem with its head as it is that day, grown along its own way."""
    head = get_head(place.material, place.entry.piece, day, worked.rules.opening_at_delivery)
    grown = get_growth_cm(place.material, day) - place.growth_cm
    if head == place.head and not grown:
        return place
    along = place.measured_to.minus(place.start).unit
    if place.material.is_axial:
        return replace(place, head=head, tip=place.tip.plus(along, grown))
    tip = place.head_base.plus(along, grown).plus(place.facing, head.length_cm)
    return replace(place, head=head, tip=tip)
