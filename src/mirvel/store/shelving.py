"""What the Shelf shows: recipes by price point, found by name, flower, occasion and form, true or false, a few of each
price at a time; with their figures and their money, as far as these are known."""

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from sqlalchemy import ColumnElement, Row, and_, false, func, or_, select, true
from sqlalchemy.orm import Session, aliased

from mirvel.core.goods.catalogue import GoodsKind
from mirvel.store.database import Database
from mirvel.store.drifts import SavedDrift, read_drift
from mirvel.store.rows import (
    DriftRow,
    FigureRow,
    GoodsRow,
    RecipeEntryRow,
    RecipeRow,
    StandardRow,
    StandingRow,
    VersionsRow,
)

A_PAGE = 24  # recipes of one price shown at first, and more at a time
_MOST_WORDS, _MOST_UNREAD = 12, 20


@dataclass(frozen=True)
class ShelfSearch:
    """What is looked for; empty fields do not matter. ``only`` is "true" or "false" of its money, "found" where a check
    stops it or warns of it or "drafts" where its newest state
    is no standard."""

    text: str = ""
    form: str = ""
    only: str = ""
    family: str = ""

    @property
    def is_empty(self) -> bool:
        return not (self.text or self.form or self.only or self.family)


@dataclass(frozen=True)
class Stood:
    """One recipe on the Shelf. ``address`` is empty where it is not drawn; ``drift`` is its money at today's costs,
    where that is known; ``is_current`` says whether both are of its newest state and of the versions asked for;
    ``standard`` is the number of that in force, ``is_draft`` whether its newest state is none, and ``standard_drift``
    the money of the standard beside a draft."""

    id: int
    name: str
    price_point: Decimal
    state_id: int
    address: str
    width_mm: float
    height_mm: float
    tall_cm: float
    wide_cm: float
    stops: int
    warnings: int
    gravest: str
    trouble: str
    drift: SavedDrift | None
    is_current: bool
    standard: int | None
    is_draft: bool
    standard_drift: SavedDrift | None


@dataclass(frozen=True)
class Unread:
    """A recipe whose newest state cannot be read any more, and why."""

    recipe_id: int
    state_id: int
    trouble: str


@dataclass(frozen=True)
class Shelved:
    """How many recipes stand at each price, and how many of all are false at today's costs; whatever was looked for,
    those that cannot be read."""

    counts: Mapping[Decimal, int]
    false_count: int
    is_current: bool
    unread: tuple[Unread, ...]

    @property
    def total(self) -> int:
        return sum(self.counts.values())


class ShelfStore:
    """Recipes as they stand on the Shelf."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def count(self, search: ShelfSearch, version: str) -> Shelved:
        """How many there are of each price."""
        conditions = get_conditions(search)
        with self._database.transaction() as session:
            is_current = _is_current(version)
            query = _join(select(RecipeRow.price_point, func.count(), func.bool_and(is_current))).where(*conditions)
            rows = session.execute(query.group_by(RecipeRow.price_point).order_by(RecipeRow.price_point)).all()
            wrong = _join(select(func.count())).where(*conditions, DriftRow.is_false.is_(True))
            counts = {price: count for price, count, _ in rows}
            is_all = all(current for _, _, current in rows)
            return Shelved(counts, session.scalar(wrong) or 0, is_all, _load_unread(session))

    def load(self, search: ShelfSearch, version: str, starts: Mapping[Decimal, int]) -> tuple[Stood, ...]:
        """The next recipes of some prices, by name: at most a page of each, from as many on as ``starts`` says."""
        number = func.row_number().over(partition_by=RecipeRow.price_point, order_by=(RecipeRow.name, RecipeRow.id))
        found = _join(select(RecipeRow.id, RecipeRow.price_point, number.label("number")))
        ranked = found.where(*get_conditions(search)).subquery()
        pages = [
            and_(ranked.c.price_point == price, ranked.c.number > start, ranked.c.number <= start + A_PAGE)
            for price, start in starts.items()
        ]
        shown = _join(select(*_SHOWN, DriftRow, _StandardDrift, _is_current(version)))
        shown = shown.join(ranked, ranked.c.id == RecipeRow.id)
        ordered = shown.where(or_(false(), *pages)).order_by(RecipeRow.price_point, RecipeRow.name, RecipeRow.id)
        with self._database.transaction() as session:
            costs = session.scalar(select(VersionsRow.costs))
            return tuple(_read(row, costs) for row in session.execute(ordered))


def _load_unread(session: Session) -> tuple[Unread, ...]:
    query = select(StandingRow.recipe_id, StandingRow.state_id, StandingRow.trouble).where(StandingRow.key.is_(None))
    newest = query.join(RecipeRow, RecipeRow.current_state_id == StandingRow.state_id)
    return tuple(Unread(*row) for row in session.execute(newest.order_by(StandingRow.recipe_id).limit(_MOST_UNREAD)))


_StandardDrift = aliased(DriftRow)
_SHOWN: tuple[Any, ...] = (
    *(RecipeRow.id, RecipeRow.name, RecipeRow.price_point, RecipeRow.current_state_id),
    *(StandardRow.number, StandardRow.state_id),
    *(FigureRow.address, FigureRow.width_mm, FigureRow.height_mm, FigureRow.tall_cm, FigureRow.wide_cm),
    *(FigureRow.stops, FigureRow.warnings, FigureRow.gravest),
    *(FigureRow.trouble, StandingRow.trouble),
)


def _join(query: Any) -> Any:
    """Recipes with what is known of them."""
    return (
        query.select_from(RecipeRow)
        .outerjoin(StandingRow, StandingRow.recipe_id == RecipeRow.id)
        .outerjoin(FigureRow, FigureRow.key == StandingRow.key)
        .outerjoin(DriftRow, and_(DriftRow.recipe_id == RecipeRow.id, ~DriftRow.of_standard))
        .outerjoin(StandardRow, StandardRow.id == RecipeRow.standard_id)
        .outerjoin(_StandardDrift, and_(_StandardDrift.state_id == StandardRow.state_id, _StandardDrift.of_standard))
        .join(VersionsRow, true())
    )


def _is_current(version: str) -> ColumnElement[bool]:
    """Whether figure and money are of the newest state, of this version of all else, and of today's costs."""
    drawn = and_(StandingRow.state_id == RecipeRow.current_state_id, StandingRow.version == version)
    reckoned = and_(DriftRow.state_id == RecipeRow.current_state_id, DriftRow.costs == VersionsRow.costs)
    return func.coalesce(and_(drawn, reckoned), false())


def get_conditions(search: ShelfSearch) -> list[ColumnElement[bool]]:
    """Every word is part of the recipe's own words or of those of a good it takes."""
    conditions: list[ColumnElement[bool]] = []
    for word in search.text.lower().split()[:_MOST_WORDS]:
        flowers = (
            select(RecipeEntryRow.recipe_id)
            .join(GoodsRow, GoodsRow.slug == RecipeEntryRow.material)
            .where(
                GoodsRow.kind.in_((GoodsKind.MATERIALS.value, GoodsKind.ASSEMBLIES.value)),
                GoodsRow.words.contains(word, autoescape=True),
            )
        )
        conditions.append(or_(RecipeRow.words.contains(word, autoescape=True), RecipeRow.id.in_(flowers)))
    if search.family:
        conditions.append(RecipeRow.family == search.family)
    if search.form:
        conditions.append(RecipeRow.form == search.form)
    if search.only == "found":
        conditions.append(func.coalesce(FigureRow.stops + FigureRow.warnings, 0) > 0)
    elif search.only == "drafts":
        conditions.append(StandardRow.state_id.is_distinct_from(RecipeRow.current_state_id))
    elif search.only:
        conditions.append(func.coalesce(DriftRow.is_false, false()) == (search.only == "false"))
    return conditions


def _read(row: Row[Any], costs: int | None) -> Stood:
    number, name, price, state, standard, published, *drawn, undrawn, unread, drift, standing, current = tuple(row)
    address, width, height, tall, wide, stops, warnings, gravest = drawn
    is_money_known = drift is not None and (drift.state_id, drift.costs) == (state, costs)
    return Stood(
        id=number,
        name=name,
        price_point=price,
        state_id=state,
        address=address if address and not undrawn else "",
        width_mm=width or 0.0,
        height_mm=height or 0.0,
        tall_cm=tall or 0.0,
        wide_cm=wide or 0.0,
        stops=stops or 0,
        warnings=warnings or 0,
        gravest=gravest or "",
        trouble=undrawn or unread or "",
        drift=read_drift(drift) if is_money_known else None,
        is_current=current,
        standard=standard,
        is_draft=published != state,
        standard_drift=read_drift(standing) if standing is not None and standing.costs == costs else None,
    )
