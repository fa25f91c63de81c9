"""Deliveries: what came, what was rejected and why; good stems go into the stock as they are counted."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from mirvel.core.buying.costs import PurchasePrice, find_price_on
from mirvel.core.buying.receiving import CameIn, check_counts
from mirvel.core.buying.review import GoodRef
from mirvel.core.buying.variance import Bought
from mirvel.core.goods.catalogue import GoodsKind
from mirvel.core.values.problems import MirvelError
from mirvel.store.database import ChangedMeanwhile, Database
from mirvel.store.goods import change_stock, get_goods_row
from mirvel.store.once import take_key
from mirvel.store.prices import get_point
from mirvel.store.rows import DeliveryLineRow, DeliveryRow, PriceRow, SupplierRow
from mirvel.store.suppliers import SavedSupplier, get_saved_supplier, get_supplier_row


class NoSuchDelivery(MirvelError):
    """There is no delivery or line of that number."""

    def __init__(self, number: int) -> None:
        super().__init__(f"There is no delivery number {number}. Receiving shows those of today.")


@dataclass(frozen=True)
class DeliveryLine:
    """Stems of one material and colour: received, and of these rejected."""

    id: int
    slug: str
    colour: str
    received: int
    rejected: int
    reason: str

    @property
    def good(self) -> int:
        return self.received - self.rejected


@dataclass(frozen=True)
class Delivery:
    """What one supplier brought on a day."""

    id: int
    supplier: SavedSupplier
    on_day: date
    lines: tuple[DeliveryLine, ...]


class DeliveryStore:
    """What came in."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def begin(self, supplier_id: int, on_day: date) -> int:
        """A delivery of a supplier on a day, the one there is or a new one; returns its number."""
        with self._database.transaction() as session:
            get_supplier_row(session, supplier_id, for_update=True)
            here = (DeliveryRow.supplier_id == supplier_id, DeliveryRow.on_day == on_day)
            found = session.scalar(select(DeliveryRow.id).where(*here))
            if found is not None:
                return found
            row = DeliveryRow(supplier_id=supplier_id, on_day=on_day)
            session.add(row)
            session.flush()
            return row.id

    def load_day(self, on_day: date) -> tuple[Delivery, ...]:
        """Every delivery of a day."""
        with self._database.transaction() as session:
            rows = session.scalars(select(DeliveryRow).where(DeliveryRow.on_day == on_day).order_by(DeliveryRow.id))
            return tuple(_get_delivery(session, row) for row in rows)

    def load_line(self, line_id: int) -> DeliveryLine:
        """Raises NoSuchDelivery."""
        with self._database.transaction() as session:
            return _get_line(_get_line_row(session, line_id))

    def add_line(self, delivery_id: int, slug: str, colour: str, received: int, *, key: str = "") -> None:
        """Stems of a material and colour come in, once for one key and count. Raises NoSuchDelivery, NoSuchGood,
        BadInput."""
        with self._database.transaction() as session:
            once = take_key(session, key, f"{delivery_id} {slug} {colour} {received}".encode())
            if once.made:
                return
            delivery = session.get(DeliveryRow, delivery_id, with_for_update=True)
            if delivery is None:
                raise NoSuchDelivery(delivery_id)
            check_counts(received, 0)
            paid, dump = _get_paid(session, slug, delivery.on_day)
            line = DeliveryLineRow(
                delivery_id=delivery_id,
                slug=slug,
                colour=colour,
                received=received,
                rejected=0,
                reason="",
                paid=paid,
                dump=dump,
            )
            session.add(line)
            change_stock(session, slug, colour, by=received)
            session.flush()
            once.note(line.id)

    def save_line(
        self, line_id: int, *, received: int, rejected: int, reason: str, was: tuple[int, int] | None = None
    ) -> None:
        """Another count of a line, which was read as ``was`` (received, rejected); the stock follows. Raises
        NoSuchDelivery, BadInput, ChangedMeanwhile."""
        with self._database.transaction() as session:
            line = _get_line_row(session, line_id, for_update=True)
            if was is not None and was != (line.received, line.rejected):
                raise ChangedMeanwhile("the count", f"{line.received} came, {line.rejected} rejected")
            check_counts(received, rejected)
            change_stock(session, line.slug, line.colour, by=received - rejected - (line.received - line.rejected))
            line.received, line.rejected, line.reason = received, rejected, reason[:200]

    def remove_line(self, line_id: int) -> None:
        """The line was a mistake; its stems leave the stock. Raises NoSuchDelivery."""
        with self._database.transaction() as session:
            line = _get_line_row(session, line_id, for_update=True)
            change_stock(session, line.slug, line.colour, by=line.rejected - line.received)
            session.delete(line)

    def load_all(self) -> tuple[CameIn, ...]:
        """Every line ever counted in, for export."""
        with self._database.transaction() as session:
            rows = session.execute(
                select(DeliveryRow.on_day, SupplierRow.name, DeliveryLineRow)
                .join(DeliveryLineRow, DeliveryLineRow.delivery_id == DeliveryRow.id)
                .join(SupplierRow, SupplierRow.id == DeliveryRow.supplier_id)
                .order_by(DeliveryRow.on_day, DeliveryLineRow.id)
            )
            fields = ("slug", "colour", "received", "rejected", "reason", "paid", "dump")
            return tuple(CameIn(day, name, *(getattr(line, field) for field in fields)) for day, name, line in rows)

    def load_rejects(self, since: date) -> Mapping[int, tuple[int, int]]:
        """Stems received and rejected by supplier since a day."""
        with self._database.transaction() as session:
            rows = session.execute(
                select(DeliveryRow.supplier_id, func.sum(DeliveryLineRow.received), func.sum(DeliveryLineRow.rejected))
                .join(DeliveryLineRow, DeliveryLineRow.delivery_id == DeliveryRow.id)
                .where(DeliveryRow.on_day >= since)
                .group_by(DeliveryRow.supplier_id)
            )
            return {supplier: (int(received), int(rejected)) for supplier, received, rejected in rows}

    def load_bought(self, slug: str, since: date) -> tuple[Bought, ...]:
        """What was bought of a material since a day, beside the price and dump reckoned with on that day."""
        with self._database.transaction() as session:
            history = _load_history(session, slug)
            lines = session.scalars(
                select(DeliveryLineRow)
                .join(DeliveryRow, DeliveryRow.id == DeliveryLineRow.delivery_id)
                .where(DeliveryLineRow.slug == slug, DeliveryRow.on_day >= since)
            )
            standard = find_price_on(history, since) or min(history, key=lambda point: point.number, default=None)
            return tuple(
                Bought(
                    stems=line.received,
                    rejected=line.rejected,
                    paid=line.paid,
                    standard=standard.paid_each if standard else line.paid,
                    dump=standard.terms.dump if standard else line.dump,
                )
                for line in lines
            )


def _load_history(session: Session, slug: str) -> tuple[PurchasePrice, ...]:
    kind = GoodsKind.MATERIALS.value
    rows = session.scalars(select(PriceRow).where(PriceRow.kind == kind, PriceRow.slug == slug).order_by(PriceRow.id))
    return tuple(get_point(row) for row in rows)


def _get_paid(session: Session, slug: str, on_day: date) -> tuple[Decimal, Decimal]:
    """The price of a stem on a day and the dump reckoned with. Raises NoSuchGood."""
    get_goods_row(session, GoodRef(GoodsKind.MATERIALS, slug))
    point = find_price_on(_load_history(session, slug), on_day)
    return (point.paid_each, point.terms.dump) if point else (Decimal(0), Decimal(0))


def _get_line_row(session: Session, line_id: int, *, for_update: bool = False) -> DeliveryLineRow:
    row = session.get(DeliveryLineRow, line_id, with_for_update=for_update)
    if row is None:
        raise NoSuchDelivery(line_id)
    return row


def _get_line(row: DeliveryLineRow) -> DeliveryLine:
    return DeliveryLine(row.id, row.slug, row.colour, row.received, row.rejected, row.reason)


def _get_delivery(session: Session, row: DeliveryRow) -> Delivery:
    lines = session.scalars(
        select(DeliveryLineRow).where(DeliveryLineRow.delivery_id == row.id).order_by(DeliveryLineRow.id)
    )
    supplier = get_saved_supplier(get_supplier_row(session, row.supplier_id))
    return Delivery(row.id, supplier, row.on_day, tuple(_get_line(line) for line in lines))
