"""The suppliers, their terms, the feed, and a new list brought in."""

from dataclasses import dataclass
from datetime import timedelta
from decimal import Decimal
from typing import Annotated

from fastapi import APIRouter, File, Form, Path, Request, Response, UploadFile
from fastapi.responses import RedirectResponse
from pydantic import ValidationError

from mirvel.core.buying.supplier import ListChoices, Supplier
from mirvel.core.buying.variance import get_rejected_share
from mirvel.core.house.rules import HouseRules
from mirvel.core.values.problems import BadInput, Problem, get_problems
from mirvel.core.values.reading import read_day, read_percent
from mirvel.exchange.tables import LARGEST_FILE
from mirvel.store.documents import Kept, Unreadable
from mirvel.store.price_lists import FeedPull, SavedList
from mirvel.store.shop import Shop
from mirvel.store.suppliers import SavedSupplier
from mirvel.web.requests import ShopHere, Typed, TypedHere, render
from mirvel.web.suppliers.reading import get_first_mapping, get_table
from mirvel.web.working import DeskHere

router = APIRouter()
SupplierId = Annotated[int, Path(ge=1, le=2**31 - 1)]
REJECTS_DAYS = 90


@dataclass(frozen=True)
class SupplierView:
    """A supplier with what came of their stems lately and the lists they sent."""

    saved: SavedSupplier
    received: int
    rejected: int
    rejected_share: Decimal
    lists: Kept[SavedList]


@dataclass(frozen=True)
class FeedView:
    """How the daily feed stands: whose it is, how it went last, whether it is waiting for somebody."""

    supplier: SavedSupplier | None
    pulls: tuple[FeedPull, ...]
    address: str

    @property
    def last(self) -> FeedPull | None:
        return self.pulls[0] if self.pulls else None


@router.get("")
def show_suppliers(request: Request, shop: ShopHere, desk: DeskHere) -> Response:
    return _show(request, shop, desk.rules)


def _show(
    request: Request,
    shop: Shop,
    rules: HouseRules,
    status: int = 200,
    *,
    problems: tuple[Problem, ...] = (),
    typed: Typed | None = None,
    at: int = 0,
) -> Response:
    rejects = shop.deliveries.load_rejects(shop.get_today() - timedelta(days=REJECTS_DAYS))
    suppliers, kept = [], shop.suppliers.read_all()
    for saved in kept.rows:
        received, rejected = rejects.get(saved.id, (0, 0))
        lists = shop.price_lists.load_recent(saved.id, 4)
        suppliers.append(SupplierView(saved, received, rejected, get_rejected_share(received, rejected), lists))
    return render(
        request, "suppliers/suppliers.html", status, suppliers=suppliers, rules=rules, problems=problems,
        typed=typed or {}, at=at, today=shop.get_today(), unreadable=kept.unreadable,
        feed=get_feed_view(request, shop, [each.saved for each in suppliers]),
    )  # fmt: skip


def get_feed_view(request: Request, shop: Shop, suppliers: list[SavedSupplier]) -> FeedView:
    owner = next((each for each in suppliers if each.supplier.has_feed), None)
    return FeedView(owner, shop.price_lists.load_pulls(5), request.app.state.settings.feed_url or "")


@router.post("")
def add_supplier(request: Request, shop: ShopHere, desk: DeskHere, typed: TypedHere) -> Response:
    """A new supplier."""
    try:
        shop.suppliers.add(_read_supplier(typed, None))
    except BadInput as error:
        return _show(request, shop, desk.rules, 422, problems=error.problems, typed=typed)
    return RedirectResponse("/suppliers", status_code=303)


@router.post("/feed/pull")
def pull_feed(request: Request) -> Response:
    """Ask the price feed now; the page says what came of it."""
    request.app.state.feeder.pull()
    return RedirectResponse("/suppliers", status_code=303)


@router.post("/{supplier_id}")
def change_supplier(
    request: Request, supplier_id: SupplierId, shop: ShopHere, desk: DeskHere, typed: TypedHere
) -> Response:
    """Another name or other terms; costs follow from today."""
    try:
        before = shop.suppliers.load(supplier_id).supplier
    except Unreadable:
        before = None  # what is typed now takes its place
    try:
        shop.suppliers.save(supplier_id, _read_supplier(typed, before), today=shop.get_today())
    except BadInput as error:
        return _show(request, shop, desk.rules, 422, problems=error.problems, typed=typed, at=supplier_id)
    request.app.state.drifter.poke()
    return RedirectResponse("/suppliers", status_code=303)


def _read_supplier(typed: Typed, before: Supplier | None) -> Supplier:
    """A supplier as typed; percent as 8 or 8.5. Raises BadInput."""
    kept = before.model_dump() if before else {}
    terms = {field: read_percent(typed.get(field, "").strip() or "0", field) for field in ("freight", "dump")}
    feed = typed.get("has_feed") == "yes" if "has_feed" in typed else bool(before and before.has_feed)
    try:
        return Supplier.model_validate(
            {**kept, "name": typed.get("name", "").strip(), "terms": terms, "has_feed": feed}
        )
    except ValidationError as error:
        raise BadInput(*get_problems(error)) from None


@router.post("/{supplier_id}/lists")
def bring_in_list(
    request: Request,
    supplier_id: SupplierId,
    shop: ShopHere,
    desk: DeskHere,
    file: Annotated[UploadFile, File()],
    since: Annotated[str, Form()] = "",
    once: Annotated[str, Form()] = "",
) -> Response:
    """Keep a price list and go on to its preview."""
    name = (file.filename or "price list").replace("\x00", "")[-120:]
    supplier = shop.suppliers.load(supplier_id).supplier
    try:
        day = read_day(since, "valid from", today=shop.get_today())
        content = file.file.read(LARGEST_FILE + 1)
        table = get_table(content, name)
    except BadInput as error:
        return _show(request, shop, desk.rules, 422, problems=error.problems, typed={"since": since}, at=supplier_id)
    mapping = get_first_mapping(table, name, supplier.mapping, desk.rules.currency)
    list_id = shop.price_lists.add(supplier_id, name, content, day, ListChoices(mapping=mapping), key=once)
    return RedirectResponse(f"/suppliers/lists/{list_id}", status_code=303)
