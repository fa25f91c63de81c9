"""What makes a draft a standard: what keeps it from being published, what changed from one to the next, and when two
pieces count as the same."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from pydantic import Field

from mirvel.core.goods.catalogue import Catalogue, Good, GoodsKind
from mirvel.core.house.rules import PRICED, HouseRules
from mirvel.core.judging.check import Check, Severity
from mirvel.core.recipe.taking import Taken
from mirvel.core.values.fact import Fact
from mirvel.core.values.problems import BadInput, Problem
from mirvel.core.values.reading import read_percent, read_whole
from mirvel.core.values.units import LengthUnit, format_length, parse_length_cm
from mirvel.core.working import Worked

_MOST_PIECES = 50
MOVED_CM = 1.0  # what stands no further off is where it was


class Tolerances(Fact):
    """How far two hands' pieces of one standard may be apart and still count as the same: in height and width, in
    pieces of any entry, in the share of the surface that heads fill, and in what the flowers cost as a share of it.
    Assumptions of ours until a shop has measured its own hands."""

    height_cm: float = Field(default=2.0, ge=0, le=50)
    width_cm: float = Field(default=2.0, ge=0, le=50)
    pieces: int = Field(default=0, ge=0, le=_MOST_PIECES)
    cover: Decimal = Field(default=Decimal("0.05"), ge=0, le=1)
    cost: Decimal = Field(default=Decimal("0.02"), ge=0, le=1)

    def write(self, unit: LengthUnit) -> dict[str, str]:
        """As they are typed, by field."""
        return {
            "height": format_length(self.height_cm, unit),
            "width": format_length(self.width_cm, unit),
            "pieces": str(self.pieces),
            "cover": f"{(self.cover * 100).normalize():f}",
            "cost": f"{(self.cost * 100).normalize():f}",
        }


class Frozen(Fact):
    """What a standard was made from besides its recipe: the goods it takes and the shop's rules, as they were when it
    was published, so that no later fact moves a cut of it."""

    goods: Catalogue
    rules: HouseRules

    def bring_up(self, today: Catalogue, rules: HouseRules) -> tuple[Catalogue, HouseRules]:
        """The same goods at what they cost today, retired where they are now, and the same rules but those that prices
        hang on, and the unit somebody reads: goods that are not there any more stay at what they cost then."""
        goods: dict[str, Any] = {
            kind.value: {
                slug: _bring_up(good, getattr(today, kind).get(slug))
                for slug, good in getattr(self.goods, kind).items()
            }
            for kind in GoodsKind
        }
        priced = {name: getattr(rules, name) for name in (*PRICED, "unit")}
        return self.goods.model_copy(update=goods), self.rules.model_copy(update=priced)


def _bring_up(good: Any, now: Any) -> Any:
    if now is None:
        return good
    cost = {"cost": now.cost} if "cost" in type(good).model_fields else {}
    return good.model_copy(update={"retired": now.retired, **cost})


def read_tolerances(typed: Mapping[str, str], unit: LengthUnit) -> Tolerances:
    """What was typed; what was left out is as usual. Raises BadInput with all that is wrong."""
    usual = Tolerances()
    readers: dict[str, Callable[[str], object]] = {
        "height_cm": lambda text: parse_length_cm(text, unit, field="height within"),
        "width_cm": lambda text: parse_length_cm(text, unit, field="width within"),
        "pieces": lambda text: read_whole(text, "pieces within", most=_MOST_PIECES),
        "cover": lambda text: read_percent(text, "cover within"),
        "cost": lambda text: read_percent(text, "cost within"),
    }
    found: dict[str, object] = {}
    problems: list[Problem] = []
    for name, read in readers.items():
        text = typed.get(name.removesuffix("_cm"), "").strip()
        try:
            found[name] = read(text) if text else getattr(usual, name)
        except BadInput as error:
            problems += error.problems
    if problems:
        raise BadInput(*problems)
    return usual.change(**found)


@dataclass(frozen=True)
class EntryChange:
    """One entry in two pieces: how many of it go in, and what their stems are cut to, cm, sorted; none where it is not
    in one of them."""

    name: str
    colour: str
    before: tuple[float, ...]
    after: tuple[float, ...]

    @property
    def pieces(self) -> tuple[int, int]:
        return len(self.before), len(self.after)

    @property
    def cuts_differ(self) -> bool:
        return self.before != self.after


@dataclass(frozen=True)
class Difference:
    """What is other in one piece than in another, each worked out at the costs of today: entries whose counts or cuts
    differ, and how many pieces that are in both stand elsewhere."""

    before: Worked
    after: Worked
    entries: tuple[EntryChange, ...]
    moved: int

    @property
    def is_any(self) -> bool:
        return bool(self.entries or self.moved)

    @property
    def spent_by(self) -> Decimal:
        return self.after.money.spent - self.before.money.spent

    @property
    def taller_by_cm(self) -> float:
        return self.after.build.overall_height_cm - self.before.build.overall_height_cm

    @property
    def wider_by_cm(self) -> float:
        return self.after.build.extent.width_cm - self.before.build.extent.width_cm

    @property
    def fuller_by(self) -> float:
        return self.after.build.sizing.fullness - self.before.build.sizing.fullness

    def find_beyond(self, within: Tolerances) -> tuple[str, ...]:
        """In what they are further apart than two hands' pieces may be; nothing where they count as the same."""
        return tuple(self._find_beyond(within))

    def _find_beyond(self, within: Tolerances) -> Iterator[str]:
        hair = 1e-6  # what is just as far apart as it may be is not beyond
        if abs(self.taller_by_cm) > within.height_cm + hair:
            yield "height"
        if abs(self.wider_by_cm) > within.width_cm + hair:
            yield "width"
        if any(abs(each.pieces[1] - each.pieces[0]) > within.pieces for each in self.entries):
            yield "counts"
        if abs(self.fuller_by) > float(within.cover) + hair:
            yield "cover"
        if abs(self.spent_by) > within.cost * self.before.money.spent:
            yield "cost"


def find_difference(before: Worked, after: Worked) -> Difference:
    """What is other in a piece than in one before it: an entry is the same where material and colour are."""
    cuts = [_get_cuts(worked) for worked in (before, after)]
    keys = dict.fromkeys(key for found in cuts for key in found)
    entries = (EntryChange(*key, *(found.get(key, ()) for found in cuts)) for key in keys)
    tips = [
        {(place.entry.id, place.number, place.material.slug): place.tip for place in worked.build.places}
        for worked in (before, after)
    ]
    moved = sum(tip.minus(tips[1][key]).length > MOVED_CM for key, tip in tips[0].items() if key in tips[1])
    return Difference(before, after, tuple(each for each in entries if each.cuts_differ), moved)


def _get_cuts(worked: Worked) -> Mapping[tuple[str, str], tuple[float, ...]]:
    found: dict[tuple[str, str], list[float]] = {}
    for cut in worked.build.cuts:
        found.setdefault((cut.place.material.name, cut.place.entry.colour), []).append(cut.cut_cm)
    return {key: tuple(sorted(lengths)) for key, lengths in found.items()}


def find_blocking(worked: Worked) -> tuple[Check, ...]:
    """What keeps a draft from being a standard: every stop that is not let stand with a reason."""
    return tuple(check for check in worked.checks if check.severity is Severity.STOP)


def find_worries(taken: Taken, month: int) -> tuple[str, ...]:
    """What of a recipe is not to be had: goods that are retired, and flowers out of season in a month."""
    placed = [taken.placed[entry.id] for entry in taken.recipe.entries if entry.pieces]
    goods: tuple[Good, ...] = (*placed, taken.container, *taken.hard_goods)
    gone = dict.fromkeys(good.name for good in goods if good.retired)
    late = dict.fromkeys(each.name for each in placed if month not in each.season and each.name not in gone)
    return (*(f"{name}: retired" for name in gone), *(f"{name}: out of season" for name in late))
