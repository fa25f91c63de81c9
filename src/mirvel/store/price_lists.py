"""Price lists brought in: kept as they came with what is mended in them, then taken in whole or not at all."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from hashlib import sha256

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from mirvel.core.buying.price_list import PricedLine
from mirvel.core.buying.review import GoodRef, KnownGood, Matches, Review, ReviewedRow, RowState, review
from mirvel.core.buying.supplier import ListChoices
from mirvel.core.goods.catalogue import Catalogue, GoodsKind
from mirvel.core.values.problems import BadInput, MirvelError, Problem
from mirvel.store.database import Database
from mirvel.store.documents import Kept, read, read_rows, write
from mirvel.store.goods import GoodsStore, get_goods_row
from mirvel.store.once import take_key
from mirvel.store.prices import add_price, bring_costs_to, load_in_force, load_last_from
from mirvel.store.rows import FeedPullRow, PriceListRow, PriceRow
from mirvel.store.suppliers import (
    SavedSupplier,
    get_saved_supplier,
    get_supplier_row,
    get_terms_for,
    load_articles,
    load_bought_from,
    save_articles,
)

OPEN, TAKEN_IN, SET_ASIDE = "open", "taken in", "set aside"


class NoSuchPriceList(MirvelError):
    """There is no price list of that number."""

    def __init__(self, list_id: int) -> None:
        super().__init__(f"There is no price list number {list_id}. Suppliers shows those brought in.")


class StaleReview(MirvelError):
    """Something that decides about the rows changed after the preview was shown."""

    def __init__(self) -> None:
        super().__init__(
            "Costs, terms or choices changed after this preview was shown, so nothing was taken in. "
            "What you see now is how it stands: look again, then take it in."
        )


@dataclass(frozen=True)
class SavedList:
    """A price list as kept."""

    id: int
    supplier: SavedSupplier
    file_name: str
    content: bytes
    since: date
    state: str
    choices: ListChoices
    made_at: datetime
    taken_in_at: datetime | None


@dataclass(frozen=True)
class FeedPull:
    """One asking of the price feed."""

    made_at: datetime
    went_well: bool
    said: str
    price_list_id: int | None


class PriceListStore:
    """What suppliers have sent."""

    def __init__(self, database: Database, goods: GoodsStore) -> None:
        self._database, self._goods = database, goods

    def add(
        self, supplier_id: int, file_name: str, content: bytes, since: date, choices: ListChoices, *, key: str = ""
    ) -> int:
        """Keep a file as it came; returns its number, the same one for the same key and file. Raises NoSuchSupplier."""
        with self._database.transaction() as session:
            once = take_key(session, key, f"{supplier_id} {file_name} {since} ".encode() + content)
            if once.made:
                return once.made
            get_supplier_row(session, supplier_id)
            row = PriceListRow(
                supplier_id=supplier_id,
                file_name=file_name[:200],
                content=content,
                since=since,
                state=OPEN,
                document=write(choices),
            )
            session.add(row)
            session.flush()
            once.note(row.id)
            return row.id

    def load(self, list_id: int) -> SavedList:
        """Raises NoSuchPriceList, Unreadable."""
        with self._database.transaction() as session:
            return _get_saved(session, _get_row(session, list_id))

    def load_file(self, list_id: int) -> tuple[str, bytes]:
        """A list's file name and content as they came. Raises NoSuchPriceList."""
        with self._database.transaction() as session:
            row = _get_row(session, list_id)
            return row.file_name, row.content

    def load_recent(self, supplier_id: int | None = None, count: int = 12) -> Kept[SavedList]:
        """The newest lists, of one supplier or of all, and those among them that cannot be read any more."""
        query = select(PriceListRow).order_by(PriceListRow.id.desc()).limit(count)
        if supplier_id is not None:
            query = query.where(PriceListRow.supplier_id == supplier_id)
        with self._database.transaction() as session:
            return read_rows(session.scalars(query).all(), lambda row: _get_saved(session, row))

    def save_choices(self, list_id: int, choices: ListChoices, *, since: date | None = None) -> None:
        """Keep what was mended so far. Raises NoSuchPriceList; BadInput once the list is taken in."""
        with self._database.transaction() as session:
            row = _get_open_row(session, list_id)
            row.document = write(choices)
            row.since = since or row.since

    def set_aside(self, list_id: int) -> None:
        """Do not take a list in. Raises NoSuchPriceList; BadInput once the list is taken in."""
        with self._database.transaction() as session:
            _get_open_row(session, list_id).state = SET_ASIDE

    def review(self, list_id: int, lines: Sequence[PricedLine]) -> Review:
        """The list looked over as goods and costs stand now. Raises NoSuchPriceList."""
        goods = self._goods.load()
        with self._database.transaction() as session:
            saved = _get_saved(session, _get_row(session, list_id))
            return _review(session, saved, lines, goods.catalogue, goods.on_day)

    def take_in(self, list_id: int, lines: Sequence[PricedLine], *, digest: str, today: date) -> Review:
        """Record every price of the list in one transaction, remember articles and columns.

        ``digest`` is that of the review the person saw. Raises StaleReview, BadInput where rows still stand in the
        way or the list was taken in already, NoSuchPriceList.
        """
        goods = self._goods.load()
        with self._database.transaction() as session:
            row = _get_open_row(session, list_id)
            supplier = get_supplier_row(session, row.supplier_id, for_update=True)
            saved = _get_saved(session, row)
            found = _review(session, saved, lines, goods.catalogue, goods.on_day)
            if get_review_digest(found, saved) != digest:
                raise StaleReview
            if found.blocking:
                raise BadInput(*(_get_blocking_problem(each) for each in found.blocking[:20]))
            for each in found.taken_in:
                _take_in_row(session, each, saved, today)
            save_articles(session, row.supplier_id, _get_known(found))
            supplier.document = {**supplier.document, "mapping": saved.choices.mapping.model_dump(mode="json")}
            row.state, row.taken_in_at = TAKEN_IN, func.now()
            session.flush()
            bring_costs_to(session, today, [each.good.ref for each in found.taken_in if each.good])
            return found

    def add_pull(self, *, went_well: bool, said: str, price_list_id: int | None = None) -> None:
        """Note one asking of the price feed."""
        with self._database.transaction() as session:
            session.add(FeedPullRow(went_well=went_well, said=said[:400], price_list_id=price_list_id))

    def load_pulls(self, count: int = 8) -> tuple[FeedPull, ...]:
        """The newest askings of the price feed."""
        with self._database.transaction() as session:
            rows = session.scalars(select(FeedPullRow).order_by(FeedPullRow.id.desc()).limit(count))
            return tuple(FeedPull(row.made_at, row.went_well, row.said, row.price_list_id) for row in rows)


def get_review_digest(found: Review, saved: SavedList) -> str:
    """What decides about taking in: state, good and price of every row, and the day."""
    told = [
        (row.line.row, row.state.value, str(row.good.ref) if row.good else "", str(row.cost), str(row.pack_price))
        for row in found.rows
    ]
    return sha256(repr((saved.since, told)).encode()).hexdigest()[:32]


def _get_row(session: Session, list_id: int, *, for_update: bool = False) -> PriceListRow:
    row = session.get(PriceListRow, list_id, with_for_update=for_update)
    if row is None:
        raise NoSuchPriceList(list_id)
    return row


def _get_open_row(session: Session, list_id: int) -> PriceListRow:
    row = _get_row(session, list_id, for_update=True)
    if row.state != OPEN:
        raise BadInput(
            Problem("the price list", f"it is {row.state} already.", "Bring the file in again to read it anew.")
        )
    return row


def _get_saved(session: Session, row: PriceListRow) -> SavedList:
    return SavedList(
        id=row.id,
        supplier=get_saved_supplier(get_supplier_row(session, row.supplier_id)),
        file_name=row.file_name,
        content=row.content,
        since=row.since,
        state=row.state,
        choices=read(ListChoices, row.document, "price list", row.id, name=row.file_name),
        made_at=row.made_at,
        taken_in_at=row.taken_in_at,
    )


def _review(
    session: Session, saved: SavedList, lines: Sequence[PricedLine], catalogue: Catalogue, today: date
) -> Review:
    supplier = saved.supplier
    known = load_articles(session, supplier.id)
    known |= {article: GoodRef.parse(text) if text else None for article, text in saved.choices.matches.items()}
    last = load_last_from(session, supplier.id, saved.since)
    bought = load_bought_from(session)
    newer = {ref: point.since for ref, point in load_in_force(session, today).items() if point.since > saved.since}
    goods = {
        ref: KnownGood(
            ref=ref,
            name=good.name,
            usual_pack=good.usual_pack,
            cost=good.cost,
            bought_from=bought.get(ref),
            last=last.get(ref),
            newer_since=newer.get(ref),
        )
        for kind in (GoodsKind.MATERIALS, GoodsKind.CONTAINERS, GoodsKind.HARD_GOODS)
        for good in getattr(catalogue, kind).values()
        if not good.retired
        for ref in [GoodRef(kind, good.slug)]
    }
    matches = Matches(known, goods)
    return review(lines, matches, supplier.supplier.terms, supplier.id, saved.choices.corrections)


def _get_known(found: Review) -> dict[str, GoodRef | None]:
    """What to remember: every article that is matched or known not to be ours."""
    known: dict[str, GoodRef | None] = {row.line.article: row.good.ref for row in found.rows if row.good}
    return known | {row.line.article: None for row in found.get(RowState.NOT_OURS)}


def _get_blocking_problem(row: ReviewedRow) -> Problem:
    return Problem(f"row {row.line.row}", f"({row.line.name}) {row.why}", "Mend it or leave it out.")


def _take_in_row(session: Session, row: ReviewedRow, saved: SavedList, today: date) -> None:
    if row.good is None or row.pack_price is None or row.pack_size is None or row.cost is None:
        return
    ref = row.good.ref
    terms = get_terms_for(ref.kind, saved.supplier.supplier)
    counts = row.state is RowState.CHANGED
    if counts:
        get_goods_row(session, ref, for_update=True).bought_from = saved.supplier.id
    add_price(
        session,
        PriceRow(
            kind=ref.kind.value,
            slug=ref.slug,
            supplier_id=saved.supplier.id,
            since=saved.since,
            pack_price=row.pack_price,
            pack_size=row.pack_size,
            freight=terms.freight,
            dump=terms.dump,
            cost=row.cost,
            counts=counts,
            source=f"{saved.file_name}, row {row.line.row}"[:200],
        ),
    )
