"""The shop's goods: kept, found, changed. Facts are a document each; costs come from the prices."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal
from threading import Lock
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from mirvel.core.buying.review import GoodRef
from mirvel.core.goods.assembly import Assembly
from mirvel.core.goods.catalogue import Catalogue, Good, GoodsKind
from mirvel.core.goods.container import Container
from mirvel.core.goods.hard_good import HardGood
from mirvel.core.goods.material import Material
from mirvel.core.values.problems import BadInput, MirvelError, Problem
from mirvel.store.database import ChangedMeanwhile, Database, count_change
from mirvel.store.documents import Unreadable, read, write
from mirvel.store.finding import Found, Search, find_goods
from mirvel.store.prices import STARTING, bring_costs_to, by_hand
from mirvel.store.rows import GoodsRow, PriceRow, StockRow, VersionsRow

_KINDS: Mapping[GoodsKind, type[Good]] = {
    GoodsKind.MATERIALS: Material,
    GoodsKind.CONTAINERS: Container,
    GoodsKind.HARD_GOODS: HardGood,
    GoodsKind.ASSEMBLIES: Assembly,
}


class NoSuchGood(MirvelError):
    """There is no good of that kind and name."""

    def __init__(self, ref: GoodRef) -> None:
        super().__init__(f"There is no “{ref.slug}” among the {ref.kind.words}. Buckets lists what there is.")


class NameTaken(BadInput):
    """There is a good of that kind and name already."""

    def __init__(self, slug: str) -> None:
        super().__init__(Problem("name", f"“{slug}” is there already.", "Give this one a name of its own."))


@dataclass(frozen=True)
class Goods:
    """The catalogue at one moment: counters that change with it, and the day its costs are those of."""

    catalogue: Catalogue
    facts: int
    costs: int
    on_day: date
    unreadable: Mapping[GoodRef, Unreadable] = field(default_factory=dict)


@dataclass(frozen=True)
class Look:
    """The version of all facts, what cannot be read, and whether that is known of the goods as they are now."""

    facts: int
    unreadable: tuple[Unreadable, ...]
    is_known: bool


@dataclass
class _Kept:
    """The catalogue as last read, so that a page costs one small query while nothing has changed."""

    goods: Goods | None = None
    lock: Lock = field(default_factory=Lock)


class GoodsStore:
    """What a shop buys and makes ahead."""

    def __init__(self, database: Database, get_today: Callable[[], date]) -> None:
        self._database, self._kept, self._get_today = database, _Kept(), get_today

    def load(self, today: date | None = None) -> Goods:
        """The catalogue with the costs in force today."""
        day = today or self._get_today()
        with self._kept.lock, self._database.transaction() as session:
            versions = session.get_one(VersionsRow, 1)
            if versions.costs_on < day:
                bring_costs_to(session, day)
                session.refresh(versions)
            kept = self._kept.goods
            if kept is None or kept.costs != versions.costs:
                # Where something could not be read, what hangs on it has to be looked at anew.
                catalogue, unreadable = _read_changed(session, kept if kept and not kept.unreadable else None)
                kept = Goods(catalogue, versions.facts, versions.costs, versions.costs_on, unreadable)
                self._kept.goods = kept
            return kept

    def look(self) -> "Look":
        """How the goods stand, without reading them: what the catalogue as last read told of what cannot be read."""
        with self._database.transaction() as session:
            versions = session.get_one(VersionsRow, 1)
            kept = self._kept.goods
            is_known = kept is not None and kept.costs == versions.costs
            return Look(versions.facts, tuple(kept.unreadable.values()) if kept else (), is_known)

    def forget(self) -> None:
        """Read everything anew next time: for when the database was changed behind the app, as by a restore."""
        with self._kept.lock:
            self._kept.goods = None

    def find(self, search: Search) -> Found:
        """Slugs of the goods searched for, in the order to be shown, and how many there are in all."""
        with self._database.transaction() as session:
            return find_goods(session, search)

    def add(self, kind: GoodsKind, good: Good, *, since: date) -> None:
        """A new good at its cost. Raises NameTaken."""
        with self._database.transaction() as session:
            version = count_change(session, facts=True)  # whoever adds at the same time waits here
            if session.get(GoodsRow, (kind.value, good.slug)):
                raise NameTaken(good.slug)
            add_good(session, kind, good, version, since, "by hand")

    def change(self, ref: GoodRef, change: Callable[[Good], Good]) -> None:
        """New facts of a good, made from those kept at this moment, so that nobody's change is lost.

        Its cost stays with its prices. Raises NoSuchGood, and what ``change`` raises.
        """
        with self._database.transaction() as session:
            row = get_goods_row(session, ref, for_update=True)
            good = change(_read(ref, row.document, row.cost))
            row.changed = count_change(session, facts=True)
            _fill_row(row, good)

    def load_stock(self, slug: str) -> dict[str, int]:
        """Stems in the buckets by colour."""
        with self._database.transaction() as session:
            rows = session.scalars(select(StockRow).where(StockRow.slug == slug))
            return {row.colour: row.stems for row in rows if row.stems}

    def load_all_stock(self) -> tuple[tuple[str, str, int], ...]:
        """Stems in the buckets by material and colour, for export."""
        with self._database.transaction() as session:
            rows = session.scalars(select(StockRow).where(StockRow.stems > 0).order_by(StockRow.slug, StockRow.colour))
            return tuple((row.slug, row.colour, row.stems) for row in rows)

    def set_stock(self, slug: str, colour: str, stems: int, *, was: int | None = None) -> None:
        """Stems of a colour counted, over the count that was read. Raises NoSuchGood, ChangedMeanwhile."""
        with self._database.transaction() as session:
            get_goods_row(session, GoodRef(GoodsKind.MATERIALS, slug), for_update=True)
            row = session.get(StockRow, (slug, colour))
            now = row.stems if row else 0
            if was is not None and was != now:
                raise ChangedMeanwhile("stems", str(now))
            change_stock(session, slug, colour, set_to=stems)


def _read_changed(session: Session, kept: Goods | None) -> tuple[Catalogue, dict[GoodRef, Unreadable]]:
    """The catalogue with the rows read anew that changed since it was kept, and those that cannot be read."""
    unreadable: dict[GoodRef, Unreadable] = {}
    found: dict[str, dict[str, Any]] = {kind.value: {} for kind in GoodsKind}
    if kept:
        found = {kind.value: dict(getattr(kept.catalogue, kind)) for kind in GoodsKind}
    changed = select(GoodsRow.kind, GoodsRow.slug, GoodsRow.document, GoodsRow.cost).order_by(
        GoodsRow.kind, GoodsRow.slug
    )
    if kept:
        changed = changed.where(GoodsRow.changed > kept.costs)
    for kind, slug, document, cost in session.execute(changed):
        ref = GoodRef(GoodsKind(kind), slug)
        try:
            found[kind][slug] = _read(ref, document, cost)
        except Unreadable as error:
            found[kind].pop(slug, None)
            unreadable[ref] = error
    catalogue = Catalogue.model_construct(None, **found)
    if not unreadable:
        return catalogue, {}
    unmade = _find_unmade(catalogue)
    whole = {slug: each for slug, each in catalogue.assemblies.items() if slug not in unmade}
    told = {GoodRef(GoodsKind.ASSEMBLIES, slug): error for slug, error in unmade.items()}
    return Catalogue.model_construct(None, **{**found, GoodsKind.ASSEMBLIES.value: whole}), unreadable | told


def _find_unmade(catalogue: Catalogue) -> dict[str, Unreadable]:
    """Assemblies a part of which is not there."""
    found = {}
    for slug, assembly in catalogue.assemblies.items():
        try:
            for colour in assembly.colours:
                catalogue.get_assembly_as_material(assembly, colour, field="part")
        except BadInput as error:
            found[slug] = Unreadable(GoodsKind.ASSEMBLIES.singular, slug, assembly.name, str(error))
    return found


def _read(ref: GoodRef, document: dict[str, Any], cost: Decimal | None) -> Good:
    """Raises Unreadable."""
    whole = {**document, "cost": cost} if isinstance(document, dict) and cost is not None else document
    return read(_KINDS[ref.kind], whole, ref.kind.singular, ref.slug)


def get_goods_row(session: Session, ref: GoodRef, *, for_update: bool = False) -> GoodsRow:
    """Raises NoSuchGood."""
    row = session.get(GoodsRow, (ref.kind.value, ref.slug), with_for_update=for_update)
    if row is None:
        raise NoSuchGood(ref)
    return row


def change_stock(session: Session, slug: str, colour: str, *, by: int = 0, set_to: int | None = None) -> None:
    """Change or set the stems of a colour, and the material's sum of them; never below nothing. Raises NoSuchGood."""
    goods = get_goods_row(session, GoodRef(GoodsKind.MATERIALS, slug), for_update=True)
    row = session.get(StockRow, (slug, colour)) or StockRow(slug=slug, colour=colour, stems=0)
    before = row.stems
    row.stems = max(0, before + by) if set_to is None else set_to
    session.add(row)
    goods.stock += row.stems - before


def add_catalogue(session: Session, catalogue: Catalogue, since: date) -> None:
    """Put a whole catalogue into a shop that has none."""
    version = count_change(session, facts=True)
    goods = [(kind, good) for kind in GoodsKind for good in getattr(catalogue, kind).values()]
    session.add_all([_make_row(kind, good, version) for kind, good in goods])
    session.flush()
    session.add_all(price for kind, good in goods for price in _make_first_price(kind, good, since, STARTING))


def add_good(session: Session, kind: GoodsKind, good: Good, version: int, since: date, source: str) -> None:
    """A good that is not there yet, with its first price, at a version counted already."""
    session.add(_make_row(kind, good, version))
    session.flush()
    session.add_all(_make_first_price(kind, good, since, source))


def _make_row(kind: GoodsKind, good: Good, version: int) -> GoodsRow:
    row = GoodsRow(kind=kind.value, slug=good.slug, stock=0, changed=version)
    row.cost = None if isinstance(good, Assembly) else good.cost
    _fill_row(row, good)
    return row


def _make_first_price(kind: GoodsKind, good: Good, since: date, source: str) -> list[PriceRow]:
    """The price a good begins with; what is made ahead costs its parts and has none."""
    if isinstance(good, Assembly):
        return []
    return [PriceRow(kind=kind.value, slug=good.slug, **by_hand(good.cost, since, source))]


def _fill_row(row: GoodsRow, good: Good) -> None:
    """The document, and the columns a good is found by."""
    row.document = write(good, exclude=set() if isinstance(good, Assembly) else {"cost"})
    row.name, row.retired = good.name, good.retired
    row.words, row.form = good.name.lower(), ""
    row.roles, row.colours, row.season = [], [], list(range(1, 13))
    row.scent, row.safe_with_cats, row.pieces_per_stem = 0, True, 1
    if isinstance(good, Material):
        row.words, row.form = good.described, good.form.value
        row.roles, row.colours, row.season = [r.value for r in good.roles], list(good.colours), list(good.season)
        row.scent, row.safe_with_cats, row.pieces_per_stem = good.scent, good.safe_with_cats, good.pieces_per_stem
    elif isinstance(good, Container):
        row.words, row.form = f"{good.name} {good.kind} {good.shape}".lower(), good.kind.value
    elif isinstance(good, Assembly):
        row.form, row.roles, row.colours = good.form.value, [good.default_role.value], list(good.colours)
