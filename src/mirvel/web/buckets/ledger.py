"""The ledger: goods of a kind, narrowed by what is typed and ticked."""

from dataclasses import replace
from decimal import Decimal
from typing import Annotated

from fastapi import APIRouter, Query, Request, Response

from mirvel.core.goods.catalogue import GoodsKind
from mirvel.core.goods.facts import LARGEST_COST, HeadForm, Role
from mirvel.core.values.problems import BadInput, Problem
from mirvel.core.values.reading import read_amount
from mirvel.store.finding import Search
from mirvel.web.buckets.rows import MONTHS, get_ledger
from mirvel.web.feeding import get_feed_trouble
from mirvel.web.requests import ShopHere, render, wants_fragment
from mirvel.web.working import DeskHere

router = APIRouter()


@router.get("")
def show_ledger(
    request: Request,
    shop: ShopHere,
    desk: DeskHere,
    kind: GoodsKind = GoodsKind.MATERIALS,
    q: Annotated[str, Query(max_length=200)] = "",
    form: Annotated[str, Query(max_length=20)] = "",
    role: Annotated[str, Query(max_length=20)] = "",
    colour: Annotated[str, Query(max_length=40)] = "",
    in_season: bool = False,
    in_stock: bool = False,
    no_scent: bool = False,
    cats: bool = False,
    under: Annotated[str, Query(max_length=12)] = "",
    retired: bool = False,
    page: Annotated[int, Query(ge=1, le=10_000)] = 1,
) -> Response:
    """Goods found; a part of the page when htmx asks."""
    today = shop.get_today()
    cost_under, problems = _read_cost(under)
    search = Search(kind=kind, text=q.replace("\x00", ""), cost_under=cost_under, retired=retired, page=page)
    if kind in {GoodsKind.MATERIALS, GoodsKind.ASSEMBLIES}:
        search = replace(search, form=form, role=role, colour=colour)
    if kind is GoodsKind.MATERIALS:  # what is ticked for stems is kept, but does not narrow other goods
        month = today.month if in_season else None
        search = replace(search, month=month, in_stock=in_stock, no_scent=no_scent, safe_with_cats=cats)
    return render(
        request,
        "buckets/_rows.html" if wants_fragment(request) else "buckets/buckets.html",
        422 if problems else 200,
        view=get_ledger(search, shop.goods.find(search), desk.catalogue, desk.rules.unit),
        rules=desk.rules,
        typed={**request.query_params},
        problems=problems,
        feed_trouble=get_feed_trouble(shop),
        troubles=desk.troubles,
        months=MONTHS,
        this_month=today.month,
        forms=tuple(HeadForm),
        roles=tuple(Role),
        colours=sorted({colour for each in desk.catalogue.materials.values() for colour in each.colours}),
    )


def _read_cost(typed: str) -> tuple[Decimal | None, tuple[Problem, ...]]:
    if not typed.strip():
        return None, ()
    try:
        return read_amount(typed, "cost under", most=LARGEST_COST, example="0.80"), ()
    except BadInput as error:
        return None, error.problems
