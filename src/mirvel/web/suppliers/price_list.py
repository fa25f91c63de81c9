"""One price list looked over before it is taken in: columns, matches, mending, then one transaction."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Path, Request, Response
from fastapi.responses import RedirectResponse

from mirvel.core.buying.price_list import MOST_ROWS, Correction, ListMapping, PricePer
from mirvel.core.buying.review import GoodRef, Review, ReviewedRow, RowState
from mirvel.core.buying.supplier import ListChoices
from mirvel.core.goods.catalogue import GoodsKind
from mirvel.core.values.problems import BadInput, Problem
from mirvel.core.values.reading import read_day, read_whole
from mirvel.store.price_lists import OPEN, SavedList, StaleReview, get_review_digest
from mirvel.store.shop import Shop
from mirvel.web.requests import ShopHere, Typed, TypedHere, render, wants_fragment
from mirvel.web.suppliers.reading import ReadList, get_first_mapping, get_lines, get_table, read_list
from mirvel.web.working import Desk, DeskHere

router = APIRouter()
ListId = Annotated[int, Path(ge=1, le=2**31 - 1)]
MOST_SHOWN = 150
_COLUMNS = ("name", "code", "price", "pack", "unit")
_ORDER = (
    RowState.REFUSED,
    RowState.TO_CHECK,
    RowState.CHANGED,
    RowState.OFFER,
    RowState.UNKNOWN,
    RowState.REPEATED,
    RowState.LEFT_OUT,
    RowState.UNCHANGED,
    RowState.NOT_OURS,
)


@dataclass(frozen=True)
class GroupView:
    """Rows of one fate; only the first are shown of a great many."""

    state: RowState
    rows: tuple[ReviewedRow, ...]
    total: int


@dataclass(frozen=True)
class PreviewView:
    """A list as it stands."""

    saved: SavedList
    read: ReadList
    review: Review
    digest: str
    groups: tuple[GroupView, ...]
    headings: tuple[str, ...]
    sample: tuple[tuple[str, ...], ...]
    columns: tuple[str, ...] = _COLUMNS
    price_pers: tuple[PricePer, ...] = tuple(PricePer)

    @property
    def is_open(self) -> bool:
        return self.saved.state == OPEN


@router.get("/lists/{list_id}")
def show_list(request: Request, list_id: ListId, shop: ShopHere, desk: DeskHere) -> Response:
    return _show(request, shop, desk, list_id)


def _show(
    request: Request,
    shop: Shop,
    desk: Desk,
    list_id: int,
    status: int = 200,
    *,
    problems: tuple[Problem, ...] = (),
    said: str = "",
    typed: Typed | None = None,
) -> Response:
    template = "suppliers/_preview.html" if wants_fragment(request) else "suppliers/price_list.html"
    goods = [
        (f"{kind}/{good.slug}", good.name)
        for kind in (GoodsKind.MATERIALS, GoodsKind.CONTAINERS, GoodsKind.HARD_GOODS)
        for good in getattr(desk.catalogue, kind).values()
        if not good.retired
    ]
    return render(
        request, template, status, view=_get_preview(shop, list_id), rules=desk.rules, problems=problems, said=said,
        typed=typed or {}, goods=goods, today=shop.get_today(),
    )  # fmt: skip


def _get_preview(shop: Shop, list_id: int) -> PreviewView:
    saved = shop.price_lists.load(list_id)
    read = read_list(saved)
    found = shop.price_lists.review(list_id, read.lines)
    groups = []
    for state in _ORDER:
        rows = found.get(state)
        if rows:
            groups.append(GroupView(state, rows[:MOST_SHOWN], len(rows)))
    heading_row = saved.choices.mapping.heading_row
    sample = tuple(tuple(str(cell) for cell in row) for row in read.table.rows[heading_row : heading_row + 4])
    return PreviewView(
        saved=saved,
        read=read,
        review=found,
        digest=get_review_digest(found, saved),
        groups=tuple(groups),
        headings=read.table.get_headings(heading_row),
        sample=sample,
    )


@router.post("/lists/{list_id}/{change}")
def change_list(
    request: Request, list_id: ListId, change: str, shop: ShopHere, desk: DeskHere, typed: TypedHere
) -> Response:
    """Choose columns, match or mend a row, set the list aside, or take it in."""
    try:
        said = _make(shop, desk, list_id, change, typed)
    except StaleReview as error:
        return _show(request, shop, desk, list_id, 409, said=str(error))
    except BadInput as error:
        return _show(request, shop, desk, list_id, 422, problems=error.problems, typed=typed)
    if change == "take-in":
        request.app.state.drifter.poke()
    if change == "set-aside":
        return RedirectResponse("/suppliers", status_code=303)
    if not wants_fragment(request):
        return RedirectResponse(f"/suppliers/lists/{list_id}", status_code=303)
    return _show(request, shop, desk, list_id, said=said)


def _make(shop: Shop, desk: Desk, list_id: int, change: str, typed: Typed) -> str:
    """Do it; returns what to say. Raises BadInput, StaleReview, NoSuchPriceList, Unreadable."""
    if change == "set-aside":
        shop.price_lists.set_aside(list_id)
        return ""
    if change == "begin-again":
        file_name, content = shop.price_lists.load_file(list_id)
        mapping = get_first_mapping(get_table(content, file_name), file_name, None, desk.rules.currency)
        shop.price_lists.save_choices(list_id, ListChoices(mapping=mapping))
        return ""
    saved = shop.price_lists.load(list_id)
    choices = saved.choices
    if change == "take-in":
        done = shop.price_lists.take_in(
            list_id, get_lines(saved), digest=typed.get("digest", ""), today=shop.get_today()
        )
        return f"Taken in: {len(done.taken_in)} prices."
    if change == "columns":
        mapping = _read_mapping(choices.mapping, typed)
        shop.price_lists.save_choices(
            list_id,
            choices.change(mapping=mapping),
            since=read_day(typed.get("since", ""), "valid from", today=shop.get_today()),
        )
    elif change == "match":
        shop.price_lists.save_choices(list_id, _match(choices, desk, typed))
    elif change == "mend":
        shop.price_lists.save_choices(list_id, _mend(choices, typed))
    elif change == "leave-out-refused":
        refused = shop.price_lists.review(list_id, get_lines(saved)).get(RowState.REFUSED)
        left_out = {row.line.row: Correction(left_out=True) for row in refused}
        shop.price_lists.save_choices(list_id, _correct(choices, left_out))
    else:
        raise BadInput(Problem("change", f"“{change}” is not a change Mirvel knows.", "Reload the page and try again."))
    return ""


def _read_mapping(before: ListMapping, typed: Typed) -> ListMapping:
    fields = {
        name: typed.get(name, "") for name in (*_COLUMNS, "heading_row", "price_per", "currency") if name in typed
    }
    return before.change(**fields, decimal_comma=typed.get("decimal") == "comma")


def _match(choices: ListChoices, desk: Desk, typed: Typed) -> ListChoices:
    """An article is this good, or not ours."""
    article, good = typed.get("article", ""), typed.get("good", "").strip()
    if typed.get("not_ours"):
        good = ""
    else:
        try:
            ref = GoodRef.parse(good)
            known = ref.slug in getattr(desk.catalogue, ref.kind)
        except ValueError:
            known = False
        if not known:
            raise BadInput(Problem("match", f"“{good}” is none of the shop’s goods.", "Choose one from the list."))
    return choices.change(matches={**choices.matches, article: good})


def _mend(choices: ListChoices, typed: Typed) -> ListChoices:
    """Another price or pack for a row, a row left out, or one looked at and found right."""
    row = read_whole(typed.get("row", ""), "row", least=1, most=MOST_ROWS + 200)
    before = choices.corrections.get(row, Correction())
    changes: dict[str, object] = {name: typed[name].strip() for name in ("price", "pack") if name in typed}
    for act, change in (
        ("leave-out", {"left_out": True}),
        ("bring-back", {"left_out": False}),
        ("right", {"checked": True}),
    ):
        if typed.get("act") == act:
            changes = dict(change)
    return _correct(choices, {row: before.change(**changes)})


def _correct(choices: ListChoices, corrections: Mapping[int, Correction]) -> ListChoices:
    return choices.change(corrections={**choices.corrections, **corrections})
