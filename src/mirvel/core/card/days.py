"""The piece on another day than the one it is cut for: heads open or tight, stems grown or not yet.

Places and cuts stay as they are made; what changes is how large each head is and how far its stem has grown.
"""

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from mirvel.core.goods.colours import wilt
from mirvel.core.goods.heads import LEAST_OPEN, get_growth_cm, get_head, get_openness, scale_head
from mirvel.core.goods.material import Material
from mirvel.core.house.rules import HouseRules
from mirvel.core.making.build import Build
from mirvel.core.making.pressing import hold, press
from mirvel.core.placing.places import Place, get_extent

LAST_DAY = 14
GOOD_SHARE = 0.75  # a piece is good as long as so many of its flowers are; assumption


class Stage(StrEnum):
    """How far a flower is on a day: of what lasts 5 to 7 days, on the 6th and 7th some are over."""

    BUD = "in bud"
    OPEN = "open"
    FADING = "fading"
    OVER = "over"


_DRY = {Stage.FADING: 0.3, Stage.OVER: 0.7}  # how far its colour is that of a dry petal; tuned by eye


@dataclass(frozen=True)
class Day:
    """How many of a piece's flowers are at which stage so many days after it was made, how far they are open
    together, of those that neither fade nor are over, and how far what grows most has grown."""

    number: int
    stages: Mapping[Stage, int]
    openness: float
    grown_cm: float

    @property
    def count(self) -> int:
        return sum(self.stages.values())

    @property
    def is_good(self) -> bool:
        """Whether most of its flowers are neither fading nor over."""
        return self.stages[Stage.BUD] + self.stages[Stage.OPEN] >= GOOD_SHARE * self.count

    @property
    def bars(self) -> Iterator[tuple[Stage, float, float]]:
        """Every stage there is as a bar upon the others: from what share of the height down, and how high."""
        bottom = 1.0
        for stage in Stage:
            high = self.stages[stage] / max(1, self.count)
            bottom -= high
            if high:
                yield stage, bottom, high

    def say(self) -> str:
        """How many of its flowers are at which stage, in words."""
        return ", ".join(f"{self.stages[each]} {each}" for each in Stage if self.stages[each]) or "it has no flowers"


@dataclass(frozen=True)
class Life:
    """The days of a piece from its making on, in the room it stands in, °C."""

    days: tuple[Day, ...]
    room_c: float

    @property
    def count(self) -> int:
        """How many flowers the piece has."""
        return self.days[0].count

    @property
    def best(self) -> tuple[int, int]:
        """From which day to which other it is as full as it ever is."""
        most = max(day.openness for day in self.days) - 1e-9
        first = next(day.number for day in self.days if day.openness >= most)
        return first, next((day.number - 1 for day in self.days[first:] if day.openness < most), self.days[-1].number)

    @property
    def good_until(self) -> int | None:
        """The day before the first on which it is good no more; None where that lies beyond the last."""
        return next((day.number - 1 for day in self.days if not day.is_good), None)


def get_life(build: Build) -> Life:
    """The days of a piece."""
    counts = Counter(place.material.slug for place in build.places)
    materials = {place.material.slug: place.material for place in build.places}
    kinds = [(materials[slug], count) for slug, count in counts.items()]
    days = (_get_day(kinds, number, build.rules) for number in range(LAST_DAY + 1))
    return Life(tuple(days), build.rules.room_c)


def _get_day(kinds: Sequence[tuple[Material, int]], number: int, rules: HouseRules) -> Day:
    """The day of a piece of so many of each material."""
    stages, openness, age = dict.fromkeys(Stage, 0), 0.0, rules.get_age(number)
    for material, count in kinds:
        if material.is_bloom:
            stage = get_stage(material, age, rules.opening_at_delivery)
            stages[stage] += count
            if stage in {Stage.BUD, Stage.OPEN}:
                openness += count * get_openness(material, age, rules.opening_at_delivery)
    grown = max((get_growth_cm(material, number) for material, _ in kinds), default=0.0)
    return Day(number, stages, openness, grown)


def get_stage(material: Material, age: float, opening_at_delivery: float) -> Stage:
    """How far a flower is so many days, at the temperature lives are told for, after the piece was made."""
    if _is_behind(material.life_max_days, material, age):
        return Stage.OVER
    if _is_behind(material.life_min_days, material, age):
        return Stage.FADING
    return Stage.OPEN if get_openness(material, age, opening_at_delivery) >= LEAST_OPEN else Stage.BUD


def _is_behind(life_days: int | None, material: Material, age: float) -> bool:
    return not material.is_artificial and life_days is not None and age > life_days


def say_later(build: Build, days: Sequence[int] = (3, 6)) -> str:
    """How the piece looks so many days after it is made, in words; nothing where none of its flowers ever fades."""
    life = get_life(build)
    if not any(place.material.is_bloom and not place.material.is_artificial for place in build.places):
        return ""
    said = [f"day {day}: {life.days[day].say()}" for day in days]
    good = f"; good until day {life.good_until}" if life.good_until is not None else ""
    return f"{'; '.join(said)}{good}, in a room of {life.room_c:g} °C."


def get_on_day(build: Build, day: int) -> Build:
    """The piece as it looks so many days after it was made, 0 the day itself."""
    places = press([_get_place_on_day(place, build, day) for place in build.places])
    extent = get_extent(places, build.container.halves_cm, build.sizing.form.pose)
    return replace(build, places=places, extent=extent)


def get_past(build: Build, day: int) -> tuple[tuple[str, int], ...]:
    """What is over by a day: (name, pieces) of every material whose longest life is behind it."""
    over = Counter(
        place.material.name
        for place in build.places
        if _is_behind(place.material.life_max_days, place.material, build.rules.get_age(day))
    )
    return tuple(over.items())


def _get_place_on_day(place: Place, build: Build, day: int) -> Place:
    """The same stem with its head as it is that day. A stem grows at its neck, the way its head looks."""
    entry = place.entry
    usual = get_head(place.material, entry.piece, build.rules.get_age(day), build.rules.opening_at_delivery)
    sized = scale_head(usual, entry.meant.get_scale(place.number, entry.placed))
    head = hold(sized, place.material, build.sizing.fullness)
    grown = get_growth_cm(place.material, day) - place.growth_cm
    stage = get_stage(place.material, build.rules.get_age(day), build.rules.opening_at_delivery)
    if place.material.is_bloom and stage in _DRY:
        place = replace(place, material=_wilt(place.material, place.entry.colour, _DRY[stage]))
    if head == place.head and not grown:
        return place
    if place.material.is_axial:
        return replace(place, head=head, tip=place.tip.plus(place.axis, grown))
    return replace(place, head=head, tip=place.head_base.plus(place.facing, grown + head.length_cm))


def _wilt(material: Material, colour: str, share: float) -> Material:
    """The same with one of its colours on its way to a dry one's."""
    return material.model_copy(update={"colours": {**material.colours, colour: wilt(material.colours[colour], share)}})
