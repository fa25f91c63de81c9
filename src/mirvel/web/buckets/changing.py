"""Changes to goods: facts, costs, stock, colours, parts; new ones, copies, retired ones."""

from typing import Annotated

from fastapi import APIRouter, Depends, Request, Response
from fastapi.responses import RedirectResponse

from mirvel.core.buying.receiving import MOST_STEMS
from mirvel.core.buying.review import GoodRef
from mirvel.core.goods.assembly import Assembly
from mirvel.core.goods.catalogue import Good, GoodsKind
from mirvel.core.goods.editing import get_slug, make
from mirvel.core.goods.facts import LARGEST_COST
from mirvel.core.goods.material import Material
from mirvel.core.values.problems import BadInput, Problem
from mirvel.core.values.reading import read_amount, read_whole
from mirvel.store.goods import NameTaken
from mirvel.store.shop import LONG_AGO, Shop
from mirvel.web.buckets.changes import CHANGES, change_good
from mirvel.web.buckets.fields import TYPES, get_fresh
from mirvel.web.buckets.one import find_good, load_stock, show_one
from mirvel.web.buckets.rows import MONTHS, get_row
from mirvel.web.requests import ShopHere, Typed, TypedHere, read_was, render, wants_fragment
from mirvel.web.working import Desk, DeskHere, load_desk

router = APIRouter()
MOST_NUMBER = 999_999_999
_MOST_COPIES = 200


def get_ref(kind: GoodsKind, slug: str) -> GoodRef:
    return GoodRef(kind, slug)


RefHere = Annotated[GoodRef, Depends(get_ref)]


@router.get("/new")
def show_new(request: Request, desk: DeskHere, kind: GoodsKind = GoodsKind.MATERIALS) -> Response:
    return _show_new(request, desk, kind)


def _show_new(
    request: Request,
    desk: Desk,
    kind: GoodsKind,
    status: int = 200,
    *,
    problems: tuple[Problem, ...] = (),
    typed: Typed | None = None,
) -> Response:
    return render(
        request, "buckets/new.html", status, kind=kind, kinds=tuple(GoodsKind), fields=get_fresh(kind),
        rules=desk.rules, problems=problems, typed=typed or {}, catalogue=desk.catalogue,
    )  # fmt: skip


@router.post("/new")
def add_good(request: Request, shop: ShopHere, desk: DeskHere, typed: TypedHere) -> Response:
    """A new good of the shop's own."""
    kind = GoodsKind(typed["goods"]) if typed.get("goods") in set(GoodsKind) else GoodsKind.MATERIALS
    fields: dict[str, object] = {field.name: typed.get(field.name, "") for field in get_fresh(kind)}
    fields |= {"slug": get_slug(typed.get("name", "")) or "unnamed", "provenance": "the shop’s own"}
    if kind in {GoodsKind.MATERIALS, GoodsKind.ASSEMBLIES}:
        fields["colours"] = {typed.get("colour", "").strip() or "white": typed.get("code", "#ffffff").lower()}
    if kind is GoodsKind.ASSEMBLIES:
        fields["stems"] = [{"material": typed.get("part", ""), "pieces": typed.get("pieces") or "1"}]
    else:
        fields["cost"] = "0"
    try:
        if "cost" in fields and typed.get("cost", "").strip():
            fields["cost"] = read_amount(typed["cost"], "cost", most=LARGEST_COST)
        good = make(TYPES[kind], fields)
        if isinstance(good, Assembly):
            desk.catalogue.get_assembly_as_material(good, next(iter(good.colours)), field="part")
        shop.goods.add(kind, good, since=LONG_AGO)
    except BadInput as error:
        return _show_new(request, desk, kind, 422, problems=error.problems, typed=typed)
    return RedirectResponse(f"/buckets/{kind}/{good.slug}", status_code=303)


@router.post("/{kind}/{slug}/{change}")
def change_one(
    request: Request, ref: RefHere, change: str, shop: ShopHere, desk: DeskHere, typed: TypedHere
) -> Response:
    """Make one change; answers with the good as it is then, or with what was wrong beside what was typed."""
    find_good(desk, ref)
    try:
        went_to = _make(shop, desk, ref, change, typed)
    except BadInput as error:
        return _answer(request, shop, desk, ref, typed, problems=error.problems)
    if went_to or not wants_fragment(request):
        return RedirectResponse(f"/buckets/{went_to or ref}", status_code=303)
    request.app.state.drifter.poke()
    return _answer(request, shop, load_desk(request, shop), ref, typed)


def _answer(
    request: Request, shop: Shop, desk: Desk, ref: GoodRef, typed: Typed, *, problems: tuple[Problem, ...] = ()
) -> Response:
    """The ledger's row where the change was made there, else the good's own page."""
    status = 422 if problems else 200
    if typed.get("at") != "row":
        return show_one(request, shop, desk, ref, status, problems=problems, typed=dict(typed) if problems else None)
    stock = load_stock(shop, ref)
    row = get_row(ref, desk.catalogue, sum(stock.values()), desk.rules.unit)
    return render(
        request, "buckets/_row.html", status, row=row, rules=desk.rules,
        problems=problems, typed=typed if problems else {}, months=MONTHS, this_month=shop.get_today().month,
    )  # fmt: skip


def _make(shop: Shop, desk: Desk, ref: GoodRef, change: str, typed: Typed) -> str:
    """Do it; returns where to go when the good is another one then. Raises BadInput."""
    good = find_good(desk, ref)
    if change in CHANGES:
        change_good(shop, desk.catalogue, ref, change, typed)
    elif change == "cost":
        cost = read_amount(typed.get("value", ""), "cost", most=LARGEST_COST)
        was = read_was(typed, lambda text: read_amount(text, "cost", most=LARGEST_COST))
        shop.prices.set_by_hand(ref, cost, today=shop.get_today(), was=was)
    elif change == "stock" and isinstance(good, Material):
        desk.catalogue.get_stem(ref.slug, typed.get("colour", ""), field="stock")
        stems = read_whole(typed.get("value", ""), "stems", most=MOST_STEMS)
        was_stems = read_was(typed, lambda text: read_whole(text, "stems", most=MOST_STEMS))
        shop.goods.set_stock(ref.slug, typed.get("colour", ""), stems, was=was_stems)
    elif change == "supplier":
        chosen = typed.get("value", "").strip()
        supplier = read_whole(chosen, "supplier", most=MOST_NUMBER) if chosen else None
        shop.suppliers.buy_from(ref, supplier, today=shop.get_today())
    elif change == "copy":
        return _copy(shop, ref, good)
    else:
        raise BadInput(Problem("change", f"“{change}” is not a change Mirvel knows.", "Reload the page and try again."))
    return ""


def _copy(shop: Shop, ref: GoodRef, good: Good) -> str:
    """A copy under the first "… copy" that is free, even where several people copy at once; returns where it is."""
    stem = good.name[:65]
    for number in range(1, _MOST_COPIES):
        name = f"{stem} copy{f' {number}' if number > 1 else ''}"
        facts = {"name": name, "slug": get_slug(name), "retired": False, "provenance": f"copied from {ref.slug}"}
        fresh = good.change(**facts)
        try:
            shop.goods.add(ref.kind, fresh, since=LONG_AGO)
        except NameTaken:
            continue
        return f"{ref.kind}/{fresh.slug}"
    raise BadInput(Problem("copy", f"there are {_MOST_COPIES} copies already.", "Rename some of them first."))
