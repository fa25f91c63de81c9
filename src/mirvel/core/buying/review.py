"""A price list looked over before it is taken in: for each row what would change, what is unknown, what is refused.

Nothing is taken in while a row of the shop's own goods is refused or waits to be looked at; unknown articles do
not stand in the way, since a wholesaler lists more than any shop buys.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from enum import StrEnum
from functools import cached_property

from rapidfuzz import fuzz, process
from rapidfuzz.utils import default_process

from mirvel.core.buying.costs import PurchasePrice, Terms, get_landed_cost
from mirvel.core.buying.price_list import Correction, PricedLine
from mirvel.core.goods.catalogue import GoodsKind
from mirvel.core.goods.facts import LARGEST_COST
from mirvel.core.values.days import DayOrder, format_day

ABSURD = 3  # a cost that moves by more than this factor waits for a person (assumption of ours)
LEAST_LIKENESS = 55
MOST_SUGGESTED_FOR = 300


@dataclass(frozen=True, order=True)
class GoodRef:
    """A good by kind and slug, written "materials/rose-standard"."""

    kind: GoodsKind
    slug: str

    def __str__(self) -> str:
        return f"{self.kind.value}/{self.slug}"

    @staticmethod
    def parse(text: str) -> "GoodRef":
        """Raises ValueError."""
        kind, _, slug = text.partition("/")
        return GoodRef(GoodsKind(kind), slug)


@dataclass(frozen=True)
class KnownGood:
    """What the review knows of a good: its name, usual pack, today's cost, whom it is bought from, the last price
    from the supplier of the list, and the day of a price in force that is newer than the list."""

    ref: GoodRef
    name: str
    usual_pack: Decimal
    cost: Decimal
    bought_from: int | None
    last: PurchasePrice | None
    newer_since: date | None = None


class RowState(StrEnum):
    """What becomes of a row."""

    REFUSED = "refused"
    TO_CHECK = "look at this"
    CHANGED = "new cost"
    OFFER = "offer kept"
    UNCHANGED = "unchanged"
    REPEATED = "repeated"
    UNKNOWN = "unknown"
    NOT_OURS = "not ours"
    LEFT_OUT = "left out"


BLOCKING = frozenset({RowState.REFUSED, RowState.TO_CHECK})
TAKEN_IN = frozenset({RowState.CHANGED, RowState.OFFER})


@dataclass(frozen=True)
class ReviewedRow:
    """One row with its fate; ``cost`` is the landed cost it would bring, ``before`` the one in force."""

    line: PricedLine
    state: RowState
    why: str = ""
    good: KnownGood | None = None
    pack_price: Decimal | None = None
    pack_size: Decimal | None = None
    cost: Decimal | None = None
    suggestions: tuple[KnownGood, ...] = ()

    @property
    def before(self) -> Decimal | None:
        return self.good.cost if self.good else None

    @property
    def change(self) -> Decimal | None:
        """Relative change of the cost in force."""
        if self.good is None or self.cost is None or not self.good.cost:
            return None
        return self.cost / self.good.cost - 1


@dataclass(frozen=True)
class Review:
    """All rows of a list looked over."""

    rows: tuple[ReviewedRow, ...]

    def get(self, *states: RowState) -> tuple[ReviewedRow, ...]:
        return tuple(row for row in self.rows if row.state in states)

    @property
    def taken_in(self) -> tuple[ReviewedRow, ...]:
        return self.get(*TAKEN_IN)

    @property
    def blocking(self) -> tuple[ReviewedRow, ...]:
        return self.get(*BLOCKING)


@dataclass(frozen=True)
class Matches:
    """What a supplier's articles are: remembered or chosen goods; None is an article that is not ours."""

    known: Mapping[str, GoodRef | None]
    goods: Mapping[GoodRef, KnownGood]

    @cached_property
    def _by_name(self) -> dict[str, KnownGood]:
        return {good.name.casefold(): good for good in self.goods.values()}

    def find(self, line: PricedLine) -> tuple[KnownGood | None, bool]:
        """The good of a line, and whether the article is known to be not ours."""
        if line.article in self.known:
            ref = self.known[line.article]
            return (None, True) if ref is None else (self.goods.get(ref), False)
        return self.find_by_name(line), False

    def find_by_name(self, line: PricedLine) -> KnownGood | None:
        """The good the shop calls just what the list does."""
        return self._by_name.get(" ".join(line.name.split()).casefold())


def review(
    lines: Iterable[PricedLine],
    matches: Matches,
    terms: Terms,
    supplier_id: int,
    corrections: Mapping[int, Correction] | None = None,
) -> Review:
    """Look a list over. Rows come back in the order of the file."""
    mended, first_rows = corrections or {}, dict[GoodRef, ReviewedRow]()
    rows = []
    for line in lines:
        row = _review_line(line, matches, terms, supplier_id, mended.get(line.row, Correction()))
        if row.good and row.state is not RowState.LEFT_OUT:
            earlier = first_rows.setdefault(row.good.ref, row)
            if earlier is not row:
                row = _review_repeated(row, earlier)
        rows.append(row)
    return Review(_suggest(rows, matches))


def _review_line(line: PricedLine, matches: Matches, terms: Terms, supplier_id: int, mended: Correction) -> ReviewedRow:
    good, not_ours = matches.find(line)
    if not_ours:
        return ReviewedRow(line, RowState.NOT_OURS)
    if good is None:
        return ReviewedRow(line, RowState.UNKNOWN, line.why)
    if mended.left_out:
        return ReviewedRow(line, RowState.LEFT_OUT, line.why, good)
    pack = line.find_pack(good.usual_pack)
    if pack is None:
        return ReviewedRow(line, RowState.REFUSED, line.why, good)
    price, size = pack
    own_terms = terms if good.ref.kind is GoodsKind.MATERIALS else terms.without_dump()
    cost = get_landed_cost(price, size, own_terms)
    state, why = _judge(good, cost, supplier_id, same=bool(good.last and good.last.is_like(price, size, own_terms)))
    if cost > LARGEST_COST:
        why = f"comes to {cost:f} each, beyond {LARGEST_COST:f}; is the pack size right?"
        return ReviewedRow(line, RowState.REFUSED, why, good)
    named = matches.find_by_name(line)
    if named and named.ref != good.ref and not mended.checked:
        why = f"the code is remembered as {good.name}, but the list calls it {named.name}: say which it is."
        return ReviewedRow(line, RowState.TO_CHECK, why, good, price, size, cost, suggestions=(named,))
    if state in TAKEN_IN and not mended.checked and good.cost and not 1 / Decimal(ABSURD) <= cost / good.cost <= ABSURD:
        why = f"{cost / good.cost:.1f} times the cost in force: is the pack size right? Mend it, or say it is right."
        state = RowState.TO_CHECK
    return ReviewedRow(line, state, why, good, price, size, cost)


def _judge(good: KnownGood, cost: Decimal, supplier_id: int, *, same: bool) -> tuple[RowState, str]:
    if same:
        return RowState.UNCHANGED, ""
    if good.bought_from not in {None, supplier_id}:
        return RowState.OFFER, "bought from another supplier, so the cost in force stays"
    if good.newer_since is not None:
        since = format_day(good.newer_since, DayOrder.DAY_FIRST)
        return RowState.CHANGED, f"a newer price holds since {since}; this one is for the days before"
    return RowState.CHANGED, ""


def _review_repeated(row: ReviewedRow, earlier: ReviewedRow) -> ReviewedRow:
    """A second row of one good: ignored where it says the same, refused where it does not."""
    state, why = RowState.REPEATED, f"says the same as row {earlier.line.row}"
    if (row.pack_price, row.pack_size) != (earlier.pack_price, earlier.pack_size) or row.state is RowState.REFUSED:
        state = RowState.REFUSED
        why = f"{row.line.why} Row {earlier.line.row} prices the same good: leave one of the two out.".strip()
    return ReviewedRow(row.line, state, why, row.good, row.pack_price, row.pack_size, row.cost)


def _suggest(rows: list[ReviewedRow], matches: Matches) -> tuple[ReviewedRow, ...]:
    """The likeliest goods for the first unknown rows, by likeness of name."""
    choices = {ref: good.name for ref, good in matches.goods.items()}
    left = MOST_SUGGESTED_FOR
    suggested = []
    for row in rows:
        if row.state is RowState.UNKNOWN and left:
            left -= 1
            found = process.extract(
                row.line.name,
                choices,
                scorer=fuzz.WRatio,
                processor=default_process,
                limit=3,
                score_cutoff=LEAST_LIKENESS,
            )
            row = ReviewedRow(row.line, row.state, row.why, suggestions=tuple(matches.goods[ref] for *_, ref in found))
        suggested.append(row)
    return tuple(suggested)
