"""Suppliers: their terms, what their articles are here, and which goods are bought from them."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date

from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from mirvel.core.buying.costs import Terms, get_landed_cost
from mirvel.core.buying.review import GoodRef
from mirvel.core.buying.supplier import Supplier
from mirvel.core.goods.catalogue import GoodsKind
from mirvel.core.values.problems import BadInput, MirvelError, Problem
from mirvel.store.database import Database
from mirvel.store.documents import Kept, read, read_rows, write
from mirvel.store.goods import get_goods_row
from mirvel.store.prices import add_price, bring_costs_to, by_hand, load_in_force, load_last_from
from mirvel.store.rows import ArticleRow, GoodsRow, PriceRow, SupplierRow


class NoSuchSupplier(MirvelError):
    """There is no supplier of that number."""

    def __init__(self, supplier_id: int) -> None:
        super().__init__(f"There is no supplier number {supplier_id}. Choose one from the list of suppliers.")


@dataclass(frozen=True)
class SavedSupplier:
    """A supplier as kept, and how many goods are bought there."""

    id: int
    supplier: Supplier
    goods: int = 0


class SupplierStore:
    """Whom the shop buys from."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def load_all(self) -> tuple[SavedSupplier, ...]:
        """Every supplier that can be read, by name."""
        return self.read_all().rows

    def read_all(self) -> Kept[SavedSupplier]:
        """The same, and those that cannot be read any more."""
        with self._database.transaction() as session:
            count = func.count(GoodsRow.slug)
            rows = session.execute(
                select(SupplierRow, count)
                .outerjoin(GoodsRow, GoodsRow.bought_from == SupplierRow.id)
                .group_by(SupplierRow.id)
                .order_by(SupplierRow.name)
            )
            return read_rows(rows, lambda row: replace(get_saved_supplier(row[0]), goods=row[1]))

    def load(self, supplier_id: int) -> SavedSupplier:
        """Raises NoSuchSupplier, Unreadable."""
        with self._database.transaction() as session:
            return get_saved_supplier(get_supplier_row(session, supplier_id))

    def add(self, supplier: Supplier) -> SavedSupplier:
        """Raises BadInput when the name is taken."""
        with self._database.transaction() as session:
            _check_name_is_free(session, supplier.name, None)
            return get_saved_supplier(add_supplier(session, supplier))

    def save(self, supplier_id: int, supplier: Supplier, *, today: date) -> int:
        """New terms or name. Where terms changed, every good bought there costs by the new ones from today on;
        returns how many did. Raises NoSuchSupplier, BadInput."""
        with self._database.transaction() as session:
            row = get_supplier_row(session, supplier_id, for_update=True)
            _check_name_is_free(session, supplier.name, supplier_id)
            before = read_rows([row], get_saved_supplier).rows
            row.name, row.document = supplier.name, write(supplier)
            if supplier.has_feed and not (before and before[0].supplier.has_feed):
                _take_feed_from_others(session, supplier_id)
            is_same = bool(before) and before[0].supplier.terms == supplier.terms
            return 0 if is_same else _price_anew(session, row.id, supplier, today)

    def load_bought_from(self) -> Mapping[GoodRef, int]:
        """Which supplier each good is bought from, where one is."""
        with self._database.transaction() as session:
            return load_bought_from(session)

    def buy_from(self, ref: GoodRef, supplier_id: int | None, *, today: date) -> None:
        """Buy a good from another supplier: their newest offer counts from today. With no offer yet the cost stays
        until one comes. Raises NoSuchGood, NoSuchSupplier."""
        with self._database.transaction() as session:
            goods = get_goods_row(session, ref, for_update=True)
            if supplier_id is not None:
                name = get_supplier_row(session, supplier_id).name
                offer = load_last_from(session, supplier_id, today).get(ref)
                if offer and goods.bought_from != supplier_id:
                    add_price(
                        session,
                        PriceRow(
                            kind=ref.kind.value,
                            slug=ref.slug,
                            supplier_id=supplier_id,
                            since=today,
                            pack_price=offer.pack_price,
                            pack_size=offer.pack_size,
                            freight=offer.terms.freight,
                            dump=offer.terms.dump,
                            cost=offer.cost,
                            counts=True,
                            source=f"bought from {name} again"[:200],
                        ),
                    )
            goods.bought_from = supplier_id
            session.flush()
            bring_costs_to(session, today, [ref])


def load_bought_from(session: Session) -> dict[GoodRef, int]:
    """Which supplier each good is bought from, where one is."""
    bought = select(GoodsRow.kind, GoodsRow.slug, GoodsRow.bought_from).where(GoodsRow.bought_from.is_not(None))
    return {GoodRef(GoodsKind(kind), slug): supplier for kind, slug, supplier in session.execute(bought) if supplier}


def add_supplier(session: Session, supplier: Supplier) -> SupplierRow:
    row = SupplierRow(name=supplier.name, document=write(supplier))
    session.add(row)
    session.flush()
    return row


def get_saved_supplier(row: SupplierRow) -> SavedSupplier:
    """Raises Unreadable."""
    return SavedSupplier(row.id, read(Supplier, row.document, "supplier", row.id))


def get_supplier_row(session: Session, supplier_id: int, *, for_update: bool = False) -> SupplierRow:
    """Raises NoSuchSupplier."""
    row = session.get(SupplierRow, supplier_id, with_for_update=for_update)
    if row is None:
        raise NoSuchSupplier(supplier_id)
    return row


def _check_name_is_free(session: Session, name: str, own_id: int | None) -> None:
    taken = session.scalar(select(SupplierRow.id).where(func.lower(SupplierRow.name) == name.lower()))
    if taken is not None and taken != own_id:
        raise BadInput(Problem("name", f"there is a supplier “{name}” already.", "Use that one, or another name."))


def _take_feed_from_others(session: Session, supplier_id: int) -> None:
    """The feed is one supplier's at a time."""
    for other in session.scalars(select(SupplierRow).where(SupplierRow.id != supplier_id)):
        other.document = {**other.document, "has_feed": False}


def _price_anew(session: Session, supplier_id: int, supplier: Supplier, today: date) -> int:
    """Price every good whose cost comes from a supplier by its new terms from today on, not those priced by hand since;
    returns how many cost otherwise."""
    moved = []
    for ref, point in load_in_force(session, today).items():
        terms = get_terms_for(ref.kind, supplier)
        if point.supplier_id != supplier_id or point.terms == terms:
            continue
        cost = get_landed_cost(point.pack_price, point.pack_size, terms)
        source = f"terms: freight {terms.freight * 100:g} %, dump {terms.dump * 100:g} %"
        fields = by_hand(cost, today, source)
        fields |= {"supplier_id": supplier_id, "pack_price": point.pack_price, "pack_size": point.pack_size}
        fields |= {"freight": terms.freight, "dump": terms.dump}
        add_price(session, PriceRow(kind=ref.kind.value, slug=ref.slug, **fields))
        moved.append(ref)
    bring_costs_to(session, today, moved)
    return len(moved)


def get_terms_for(kind: GoodsKind, supplier: Supplier) -> Terms:
    """A supplier's terms for a kind of goods: only stems wilt."""
    return supplier.terms if kind is GoodsKind.MATERIALS else supplier.terms.without_dump()


def load_articles(session: Session, supplier_id: int) -> dict[str, GoodRef | None]:
    """What a supplier's articles are here; None is not ours."""
    rows = session.scalars(select(ArticleRow).where(ArticleRow.supplier_id == supplier_id))
    return {row.article: GoodRef(GoodsKind(row.kind), row.slug) if row.kind and row.slug else None for row in rows}


def save_articles(session: Session, supplier_id: int, known: Mapping[str, GoodRef | None]) -> None:
    """Remember what articles are."""
    for article, ref in known.items():
        kind, slug = (ref.kind.value, ref.slug) if ref else (None, None)
        values = {"supplier_id": supplier_id, "article": article[:200], "kind": kind, "slug": slug}
        statement = insert(ArticleRow).values(values)
        session.execute(
            statement.on_conflict_do_update(
                index_elements=["supplier_id", "article"], set_={"kind": kind, "slug": slug}
            )
        )
