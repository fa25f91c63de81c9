"""One good: its facts, its colours, what it has cost, whom it is bought from, and which recipes use it."""

from dataclasses import dataclass
from datetime import date, timedelta
from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from markupsafe import Markup

from mirvel.core.buying.costs import PurchasePrice, find_price_on
from mirvel.core.buying.review import GoodRef
from mirvel.core.buying.variance import Report, get_report
from mirvel.core.goods.assembly import Assembly
from mirvel.core.goods.catalogue import Good, GoodsKind
from mirvel.core.goods.colours import Lab, get_lab
from mirvel.core.goods.material import Material
from mirvel.core.values.problems import BadInput, Problem
from mirvel.core.values.reading import read_day
from mirvel.drawing.history import draw_history
from mirvel.drawing.specimen import draw_material
from mirvel.store.goods import NoSuchGood
from mirvel.store.shop import Shop
from mirvel.store.suppliers import SavedSupplier
from mirvel.store.using import Using
from mirvel.web.buckets.fields import GROUPS, Field, format_fact
from mirvel.web.buckets.rows import MONTHS, RowView, get_row
from mirvel.web.requests import ShopHere, render, wants_fragment
from mirvel.web.working import Desk, DeskHere

router = APIRouter()
REPORT_DAYS = 90


@dataclass(frozen=True)
class ColourView:
    """One colour of a material, drawn, with its stems in stock."""

    name: str
    code: str
    lab: Lab
    drawing: Markup
    stems: int


@dataclass(frozen=True)
class FieldView:
    """A fact as it is typed now."""

    field: Field
    value: str


@dataclass(frozen=True)
class OneView:
    """The whole page of one good."""

    row: RowView
    groups: tuple[tuple[str, tuple[FieldView, ...]], ...]
    colours: tuple[ColourView, ...]
    history: tuple[PurchasePrice, ...]
    plot: Markup
    suppliers: tuple[SavedSupplier, ...]
    bought_from: int | None
    report: Report | None
    used_in: Using
    on_day: date | None = None
    cost_on_day: PurchasePrice | None = None

    @property
    def good(self) -> Good:
        return self.row.good

    @property
    def assembly(self) -> Assembly | None:
        return self.good if isinstance(self.good, Assembly) else None

    @property
    def supplier_names(self) -> dict[int, str]:
        return {each.id: each.supplier.name for each in self.suppliers}


@router.get("/{kind}/{slug}")
def show_good(
    request: Request,
    kind: GoodsKind,
    slug: str,
    shop: ShopHere,
    desk: DeskHere,
    on_day: str = "",
    used: Annotated[int, Query(ge=0, le=10**6)] = 0,
) -> Response:
    """One good; with ``on_day`` also what it cost then; the recipes that use it from a number on."""
    try:
        day = read_day(on_day, "day", today=shop.get_today()) if on_day else None
    except BadInput as error:
        return show_one(request, shop, desk, GoodRef(kind, slug), 422, problems=error.problems)
    return show_one(request, shop, desk, GoodRef(kind, slug), on_day=day, used_from=used)


def find_good(desk: Desk, ref: GoodRef) -> Good:
    """Raises NoSuchGood."""
    good: Good | None = getattr(desk.catalogue, ref.kind).get(ref.slug)
    if good is None:
        raise NoSuchGood(ref)
    return good


def show_one(
    request: Request,
    shop: Shop,
    desk: Desk,
    ref: GoodRef,
    status: int = 200,
    /,
    *,
    problems: tuple[Problem, ...] = (),
    typed: dict[str, str] | None = None,
    on_day: date | None = None,
    used_from: int = 0,
) -> Response:
    """The page of a good, or the part of it that htmx exchanges, with what was wrong beside what was typed."""
    template = "buckets/_one.html" if wants_fragment(request) else "buckets/one.html"
    return render(
        request,
        template,
        status,
        view=get_one(shop, desk, ref, on_day, used_from),
        rules=desk.rules,
        problems=problems,
        typed=typed or {},
        months=MONTHS,
        this_month=shop.get_today().month,
        today=shop.get_today(),
        catalogue=desk.catalogue,
    )


def get_one(shop: Shop, desk: Desk, ref: GoodRef, on_day: date | None = None, used_from: int = 0) -> OneView:
    """Everything the page shows. Raises NoSuchGood."""
    good, today = find_good(desk, ref), shop.get_today()
    stock = load_stock(shop, ref)
    history = shop.prices.load_history(ref)
    is_material = ref.kind is GoodsKind.MATERIALS
    bought = shop.deliveries.load_bought(ref.slug, today - timedelta(days=REPORT_DAYS)) if is_material else ()
    groups = (
        (title, tuple(FieldView(field, format_fact(good, field.name)) for field in fields))
        for title, fields in GROUPS[ref.kind]
    )
    return OneView(
        row=get_row(ref, desk.catalogue, sum(stock.values()), desk.rules.unit),
        groups=tuple(groups),
        colours=_get_colours(good, stock),
        history=tuple(reversed(history)),
        plot=draw_history(history, today, desk.rules.currency),
        suppliers=shop.suppliers.load_all(),
        bought_from=shop.suppliers.load_bought_from().get(ref),
        report=get_report(bought) if bought else None,
        used_in=shop.using.find(ref, used_from),
        on_day=on_day,
        cost_on_day=find_price_on(history, on_day) if on_day else None,
    )


def _get_colours(good: Good, stock: dict[str, int]) -> tuple[ColourView, ...]:
    if not isinstance(good, Material | Assembly):
        return ()
    return tuple(
        ColourView(
            name,
            code,
            get_lab(code),
            draw_material(good, name) if isinstance(good, Material) else Markup(""),
            stock.get(name, 0),
        )
        for name, code in good.colours.items()
    )


def load_stock(shop: Shop, ref: GoodRef) -> dict[str, int]:
    """Stems in the buckets by colour; only materials have any."""
    return shop.goods.load_stock(ref.slug) if ref.kind is GoodsKind.MATERIALS else {}
