"""The piece on another day than the one it is cut for: heads open or tight, stems grown or not yet.

Places and cuts stay as they are made; what changes is how large each head is and how far its stem has grown.
"""

from dataclasses import replace

from mirvel.core.goods.heads import get_growth_cm, get_head, scale_head
from mirvel.core.making.build import Build
from mirvel.core.making.pressing import hold, press
from mirvel.core.placing.places import Place, get_extent

LAST_DAY = 14


def get_on_day(build: Build, day: int) -> Build:
    """The piece as it looks so many days after it was made, 0 the day itself."""
    places = press([_get_place_on_day(place, build, day) for place in build.places])
    extent = get_extent(places, build.container.halves_cm, build.sizing.form.pose)
    return replace(build, places=places, extent=extent)


def get_past(build: Build, day: int) -> tuple[tuple[str, int], ...]:
    """What is over by a day: (name, pieces) of every material whose longest life is behind it."""
    over: dict[str, int] = {}
    for material in (place.material for place in build.places):
        if material.life_max_days is not None and day > material.life_max_days:
            over[material.name] = over.get(material.name, 0) + 1
    return tuple(over.items())


def _get_place_on_day(place: Place, build: Build, day: int) -> Place:
    """The same stem with its head as it is that day. A stem grows at its neck, the way its head looks."""
    entry = place.entry
    usual = get_head(place.material, entry.piece, day, build.rules.opening_at_delivery)
    sized = scale_head(usual, entry.meant.get_scale(place.number, entry.placed))
    head = hold(sized, place.material, build.sizing.fullness)
    grown = get_growth_cm(place.material, day) - place.growth_cm
    if head == place.head and not grown:
        return place
    if place.material.is_axial:
        return replace(place, head=head, tip=place.tip.plus(place.axis, grown))
    return replace(place, head=head, tip=place.head_base.plus(place.facing, grown + head.length_cm))
