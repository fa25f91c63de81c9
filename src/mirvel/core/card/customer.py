"""What a customer is told of a piece: how it is kept, how long it is good, and what may be in it by the season. No
counts, no cuts and no costs."""

import math
from collections.abc import Collection, Iterator
from dataclasses import dataclass

from mirvel.core.card.days import get_life
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.facts import Lengthened, Mechanics, Role
from mirvel.core.goods.hazards import AT_HOME, get_hazards
from mirvel.core.goods.material import ALL_YEAR, Material
from mirvel.core.judging.cautions import Risk
from mirvel.core.recipe.entry import Entry
from mirvel.core.recipe.taking import Taken
from mirvel.core.values.units import format_length
from mirvel.core.working import Worked

_FIRST = (Role.FOCAL, Role.LINE, Role.MASS, Role.TOKEN, Role.FILLER, Role.TEXTURE, Role.TRAILING, Role.GREENERY)
_GRAVEST = tuple(AT_HOME)  # as they are listed there
_OF_GOODS = frozenset({Risk.FIRE, Risk.CHOKING, Risk.ALLERGY})  # of hard goods, that go on to the customer
_MOST_OTHERS = 3
_POURED_STEP_ML, _CUT_CM = 50, 2.0
_WHEN_LOW_DAYS = 7.0  # water that lasts longer is changed before it is low; assumption


@dataclass(frozen=True)
class Offered:
    """One flower of a piece as a customer may have it: its name, the months it is to be had, and what stands in for it
    in the others."""

    name: str
    season: tuple[int, ...]
    others: tuple[str, ...]

    @property
    def is_all_year(self) -> bool:
        return len(self.season) == len(ALL_YEAR)


def get_offered(worked: Worked, taken: Taken, catalogue: Catalogue) -> tuple[Offered, ...]:
    """The flowers of a piece, those it is made for first; for each what its designer or its own facts say stands in for
    it, as far as the shop has it."""
    entries = sorted((each for each in worked.recipe.entries if each.placed), key=lambda each: _FIRST.index(each.role))
    found: dict[str, Offered] = {}
    for entry in entries:
        material = taken.placed[entry.id]
        if material.name not in found:
            others = _find_others(entry, material, catalogue)
            found[material.name] = Offered(material.name, _get_season(entry, taken), others)
    return tuple(found.values())


def _get_season(entry: Entry, taken: Taken) -> tuple[int, ...]:
    """The months in which everything that one of its pieces is made of is to be had."""
    parts = [part.material.season for part in taken.parts[entry.id]]
    return tuple(month for month in ALL_YEAR if all(month in season for season in parts))


def _find_others(entry: Entry, material: Material, catalogue: Catalogue) -> tuple[str, ...]:
    """What stands in for a flower, of goods the shop still has: by the recipe, else by the flower's own facts."""
    slugs = [each.material for each in entry.alternatives] or [*material.substitutes]
    known = (catalogue.materials[slug] for slug in slugs if slug in catalogue.materials)
    names = dict.fromkeys(each.name for each in known if not each.retired)
    return tuple(names)[:_MOST_OTHERS]


def get_care(worked: Worked) -> tuple[str, ...]:
    """How the piece is kept, in the order a customer needs it: water first, then where it stands, then how long."""
    return tuple(_say_care(worked))


def _say_care(worked: Worked) -> Iterator[str]:
    has_tubes = any(place.material.lengthened is Lengthened.TUBE for place in worked.build.places)
    if worked.build.water.a_day_ml:
        yield _say_water(worked)
    elif not has_tubes:
        yield "Needs no water: keep it dry, and dust it with a soft brush."
        return
    yield "Out of the sun, out of draughts, away from heaters and from ripening fruit. Take out what fades."
    if has_tubes:
        yield "Fill the small tubes that some blooms stand in again every day."
    life = get_life(worked.build)
    if life.count:
        first, last = life.best
        good = f"good until about day {life.good_until}" if life.good_until is not None else "good for two weeks"
        best = f"on day {first}" if first == last else f"from day {first} to day {last}"
        yield f"In a room of {life.room_c:g} °C it is at its fullest {best}, and {good}."


def _say_water(worked: Worked) -> str:
    """What somebody at home does so that it has water."""
    water = worked.build.water
    if worked.build.bed:
        days = f" and has water for about {math.floor(water.days)} days" if water.days else ""
        return f"It was soaked when it was made{days}; a mist of water every day keeps it fresh. It drips at first."
    if worked.recipe.mechanics is Mechanics.TIED:
        return (
            f"At home cut {format_length(_CUT_CM, worked.rules.unit)} off all stems together, on a slant, and leave "
            "the tie on. Stand it at once in a clean vase of lukewarm water; change the water every other day."
        )
    if worked.build.base.foam:
        ml = max(_POURED_STEP_ML, math.ceil(water.a_day_ml / _POURED_STEP_ML) * _POURED_STEP_ML)
        return f"Its foam stays wet if about {ml} ml of water is poured into its middle every day, slowly."
    often = "Every few days" if water.days is None or water.days > _WHEN_LOW_DAYS else _say_often(water.days)
    return f"{often} fill up with clean, lukewarm water; change it all when it turns cloudy."


def _say_often(days: float) -> str:
    whole = math.floor(days)
    return "Twice a day" if whole < 1 else "Every day" if whole < 2 else f"Every {whole} days"


def get_warnings(worked: Worked, taken: Taken) -> tuple[str, ...]:
    """What may hurt somebody where the piece stands, the gravest first."""
    sources: dict[str, list[str]] = {}
    for entry in worked.recipe.entries:
        if entry.placed:
            for hazard in get_hazards(taken.placed[entry.id]):
                sources.setdefault(hazard, []).append(taken.placed[entry.id].name)
    found = [f"{_list(sources[hazard])}: {AT_HOME[hazard]}" for hazard in _GRAVEST if hazard in sources]
    goods = [each for each in worked.cautions if each.risk in _OF_GOODS and each.text not in AT_HOME.values()]
    known = {good.name for good in taken.hard_goods}
    return (*found, *(f"{each.source}: {each.text}" for each in goods if each.source in known))


def _list(names: Collection[str]) -> str:
    return "; ".join(dict.fromkeys(names))
