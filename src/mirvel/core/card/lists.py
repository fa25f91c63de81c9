"""What is brought to the bench for so many of one recipe: the stems to pull, what each piece gets and on which side,
and what has to be set up before the first stem goes in."""

from collections import Counter
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from decimal import ROUND_HALF_UP, Decimal
from fractions import Fraction

from mirvel.core.card.steps import get_set_up
from mirvel.core.goods.hard_good import HardGood, HardGoodUse, format_amount
from mirvel.core.goods.material import Material
from mirvel.core.making.build import Build
from mirvel.core.placing.places import Place
from mirvel.core.pricing.pricing import get_pricing_rules
from mirvel.core.pricing.stems import get_demands, get_pulls
from mirvel.core.recipe.entry import Entry
from mirvel.core.recipe.taking import Taken
from mirvel.core.values.problems import BadInput, Problem
from mirvel.core.working import Worked

MOST_MADE = 500
_MIDDLE_SHARE = 0.2  # of the way out, within which a piece stands at no side
_SIDES = ("front", "right", "back", "left")  # as a piece is gone round, its front at 6 o'clock
_IN_THE_MIDDLE = "middle"
_COUNTED = "each"  # the unit of what is counted
Stock = Mapping[tuple[str, str], int]  # stems in the buckets, by material and colour


@dataclass(frozen=True)
class PullLine:
    """Stems of one material and colour to bring, spare ones beside them, and how many are at hand, None where the shop
    counts none."""

    material: Material
    colour: str
    stems: int
    spare: int
    at_hand: int | None

    @property
    def short(self) -> int:
        """How many are missing of those that are needed, the spare ones left out."""
        return 0 if self.at_hand is None else max(0, self.stems - self.at_hand)


@dataclass(frozen=True)
class TrayLine:
    """What one piece gets of an entry: how many are placed, how many kept in reserve, and how many stand at which
    side."""

    number: int
    entry: Entry
    material: Material
    placed: int
    reserve: int
    sides: Mapping[str, int]


@dataclass(frozen=True)
class SetUpLine:
    """So much of one thing that has to stand ready; ``note`` is how it is measured for a single piece."""

    name: str
    amount: str
    note: str = ""


@dataclass(frozen=True)
class MadeAhead:
    """What is made before the pieces: how many, of what each, how long all of them take, and how long they keep."""

    name: str
    count: int
    parts: str
    minutes: Decimal
    keeps_hours: int


@dataclass(frozen=True)
class BenchLists:
    """The lists for so many pieces of one recipe."""

    quantity: int
    pulls: tuple[PullLine, ...]
    sides: tuple[str, ...]
    tray: tuple[TrayLine, ...]
    set_up: tuple[SetUpLine, ...]
    how: str
    made_ahead: tuple[MadeAhead, ...]
    minutes: Decimal
    condition_hours: int

    @property
    def counts_stock(self) -> bool:
        """Whether the shop counts what is in its buckets."""
        return any(pull.at_hand is not None for pull in self.pulls)

    @property
    def has_reserve(self) -> bool:
        return any(line.reserve for line in self.tray)


def get_bench_lists(worked: Worked, taken: Taken, quantity: int, stock: Stock) -> BenchLists:
    """The lists for so many. Stems are pooled over all of them, so that a side piece left of one serves another. Raises
    BadInput where so many are not made at once."""
    check_quantity(quantity)
    tray = tuple(_get_tray(worked))
    named = {side for line in tray for side in line.sides}
    return BenchLists(
        quantity=quantity,
        pulls=tuple(_get_pull_lines(worked, taken, quantity, stock)),
        sides=tuple(sorted(named, key=_get_side_order)),
        tray=tray,
        set_up=tuple(_get_set_up_lines(taken, quantity)),
        how=get_set_up(worked).text,
        made_ahead=tuple(_get_made_ahead(worked, taken, quantity)),
        minutes=worked.recipe.minutes * quantity,
        condition_hours=max((pull.material.condition_hours for pull in worked.money.pulls if pull.stems), default=0),
    )


def check_quantity(quantity: int) -> None:
    """Whether so many are made at once. Raises BadInput."""
    if not 1 <= quantity <= MOST_MADE:
        raise BadInput(Problem("how many", f"{quantity} cannot be.", f"Type 1 to {MOST_MADE}."))


def _get_pull_lines(worked: Worked, taken: Taken, quantity: int, stock: Stock) -> Iterator[PullLine]:
    demands = tuple(replace(each, pieces=each.pieces * quantity) for each in get_demands(taken))
    for pull in get_pulls(demands, get_pricing_rules(worked.recipe, worked.rules).pieces):
        if pull.stems:
            spare = int((pull.stems * worked.rules.spare_share).quantize(Decimal(1), ROUND_HALF_UP))
            at_hand = stock.get((pull.material.slug, pull.colour), 0) if stock else None
            yield PullLine(pull.material, pull.colour, pull.stems, spare, at_hand)


def _get_tray(worked: Worked) -> Iterator[TrayLine]:
    build = worked.build
    for number, entry in enumerate(worked.recipe.entries, 1):
        places = [place for place in build.places if place.entry.id == entry.id]
        if entry.pieces:
            sides = Counter(_name_side(place, build) for place in places)
            material = places[0].material if places else None
            if material:
                yield TrayLine(number, entry, material, len(places), entry.pieces - len(places), sides)


def _name_side(place: Place, build: Build) -> str:
    """Where a piece is counted out to: the part of its form that it stands in, else the side."""
    if build.sizing.form.locate:
        return build.locate(place).group
    frame = build.frame
    x, y = place.tip.x / frame.half_width_cm, place.tip.y / frame.half_depth_cm
    if x * x + y * y < _MIDDLE_SHARE**2:
        return _IN_THE_MIDDLE
    return _SIDES[round((6 - place.clock_hour) % 12 / 3) % 4]


def _get_side_order(name: str) -> tuple[int, str]:
    order = (*_SIDES, _IN_THE_MIDDLE)
    return (order.index(name) if name in order else len(order), name)


def _get_set_up_lines(taken: Taken, quantity: int) -> Iterator[SetUpLine]:
    yield SetUpLine(taken.container.name, f"{quantity}")
    for use, good in taken.uses:
        one = use.typed if good.unit == _COUNTED else use.describe(good)
        yield SetUpLine(good.name, _say_amount(use, good, quantity), one)


def _say_amount(use: HardGoodUse, good: HardGood, quantity: int) -> str:
    """So many times what one piece takes, in the good's unit; of what is counted, how many have to be opened for it."""
    if use.loops is not None:
        amount = Fraction(use.loops * (good.loop_m or Decimal(1)))
    else:
        amount = Fraction(use.quantity) / use.divided_by
    whole = amount * quantity
    if whole.denominator == 1:
        return f"{whole}" if good.unit == _COUNTED else f"{whole} {good.unit}"
    if good.unit != _COUNTED:
        return f"{format_amount(round(Decimal(whole.numerator) / whole.denominator, 2))} {good.unit}"
    rest = whole - whole.numerator // whole.denominator
    said = f"{whole.numerator // whole.denominator} {rest}" if whole > 1 else f"{rest}"
    return f"{said}, from {-(-whole.numerator // whole.denominator)}"


def _get_made_ahead(worked: Worked, taken: Taken, quantity: int) -> Iterator[MadeAhead]:
    made = [taken.assemblies[entry.id] for entry in worked.recipe.entries if entry.id in taken.assemblies]
    for each, assembly in zip(worked.assembled, made, strict=True):
        if each.pieces:
            count = each.pieces * quantity
            yield MadeAhead(each.name, count, each.parts, assembly.minutes * count, each.shelf_life_hours)
