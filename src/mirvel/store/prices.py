"""Prices: recorded once and kept for good; the cost of a good is that of its newest price that counts."""

from collections.abc import Iterable, Mapping
from datetime import date
from decimal import Decimal
from typing import Any

from sqlalchemy import func, select, update
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session

from mirvel.core.buying.costs import PurchasePrice, Terms
from mirvel.core.buying.review import GoodRef
from mirvel.core.goods.catalogue import GoodsKind
from mirvel.core.goods.facts import LARGEST_COST
from mirvel.core.values.problems import BadInput, Problem
from mirvel.store.database import ChangedMeanwhile, Database, count_change
from mirvel.store.rows import GoodsRow, PriceRow, VersionsRow

STARTING = "starting value"


class PriceStore:
    """What goods have cost."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def load_history(self, ref: GoodRef) -> tuple[PurchasePrice, ...]:
        """Every price of a good in the order recorded, offers too."""
        with self._database.transaction() as session:
            rows = session.scalars(
                select(PriceRow).where(PriceRow.kind == ref.kind.value, PriceRow.slug == ref.slug).order_by(PriceRow.id)
            )
            return tuple(get_point(row) for row in rows)

    def set_by_hand(self, ref: GoodRef, cost: Decimal, *, today: date, was: Decimal | None = None) -> None:
        """A cost typed in for a good there is, over the one that was read: it counts from today until the next price.
        Raises ChangedMeanwhile."""
        with self._database.transaction() as session:
            now = session.scalar(
                select(GoodsRow.cost)
                .where(GoodsRow.kind == ref.kind.value, GoodsRow.slug == ref.slug)
                .with_for_update()
            )
            if was is not None and now is not None and was != now:
                raise ChangedMeanwhile("cost", f"{now:.4f}")
            add_price(session, PriceRow(kind=ref.kind.value, slug=ref.slug, **by_hand(cost, today, "by hand")))
            bring_costs_to(session, today, [ref])

    def load_all(self) -> tuple[tuple[GoodRef, PurchasePrice], ...]:
        """Every price of every good, for export."""
        with self._database.transaction() as session:
            rows = session.scalars(select(PriceRow).order_by(PriceRow.kind, PriceRow.slug, PriceRow.id))
            return tuple((GoodRef(GoodsKind(row.kind), row.slug), get_point(row)) for row in rows)


def get_point(row: PriceRow) -> PurchasePrice:
    return PurchasePrice(
        number=row.id,
        since=row.since,
        pack_price=row.pack_price,
        pack_size=row.pack_size,
        terms=Terms(freight=row.freight, dump=row.dump),
        cost=row.cost,
        supplier_id=row.supplier_id,
        counts=row.counts,
        source=row.source,
    )


def by_hand(cost: Decimal, since: date, source: str) -> dict[str, Any]:
    """The fields of a price that is a cost as such: for one, nothing on top."""
    nothing = Decimal(0)
    return {
        "supplier_id": None,
        "since": since,
        "pack_price": cost,
        "pack_size": Decimal(1),
        "freight": nothing,
        "dump": nothing,
        "cost": cost,
        "counts": True,
        "source": source,
    }


def add_price(session: Session, row: PriceRow) -> None:
    """Record a price. Raises BadInput where a unit would cost more than a good can."""
    if row.cost > LARGEST_COST:
        mend = "Check pack price, pack size, freight and dump."
        raise BadInput(Problem("cost", f"{row.slug} would cost {row.cost:f} each, beyond {LARGEST_COST:f}.", mend))
    session.add(row)
    session.flush()


def load_last_from(session: Session, supplier_id: int, since: date) -> Mapping[GoodRef, PurchasePrice]:
    """The newest price of each good from one supplier, as of a day."""
    rows = session.scalars(
        select(PriceRow)
        .where(PriceRow.supplier_id == supplier_id, PriceRow.since <= since)
        .order_by(PriceRow.kind, PriceRow.slug, PriceRow.since, PriceRow.id)
    )
    return {GoodRef(GoodsKind(row.kind), row.slug): get_point(row) for row in rows}


def load_in_force(session: Session, day: date) -> Mapping[GoodRef, PurchasePrice]:
    """The price of each good that is in force on a day."""
    rows = session.scalars(
        select(PriceRow)
        .ext(distinct_on(PriceRow.kind, PriceRow.slug))
        .where(PriceRow.counts, PriceRow.since <= day)
        .order_by(PriceRow.kind, PriceRow.slug, PriceRow.since.desc(), PriceRow.id.desc())
    )
    return {GoodRef(GoodsKind(row.kind), row.slug): get_point(row) for row in rows}


def bring_costs_to(session: Session, day: date, refs: Iterable[GoodRef] | None = None) -> None:
    """Have each good (or those named) cost what its newest counting price by that day says, and count the change."""
    newest = (
        select(PriceRow.cost)
        .where(PriceRow.kind == GoodsRow.kind, PriceRow.slug == GoodsRow.slug, PriceRow.counts, PriceRow.since <= day)
        .order_by(PriceRow.since.desc(), PriceRow.id.desc())
        .limit(1)
        .scalar_subquery()
        .correlate(GoodsRow)
    )
    moved = update(GoodsRow).where(newest.is_not(None), newest.is_distinct_from(GoodsRow.cost))
    if refs is not None:
        slugs = [ref.slug for ref in refs]
        moved = moved.where(GoodsRow.slug.in_(slugs))
    version = session.scalars(select(VersionsRow.costs).with_for_update()).one()
    changed = session.execute(moved.values(cost=newest, changed=version + 1).returning(GoodsRow.slug)).all()
    if changed:
        count_change(session, facts=False)
    session.execute(update(VersionsRow).values(costs_on=func.greatest(VersionsRow.costs_on, day)))
