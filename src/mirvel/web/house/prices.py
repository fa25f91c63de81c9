"""What another price in the place of one of the shop's does to every recipe at it, seen before it is made."""

from dataclasses import dataclass
from decimal import Decimal

from fastapi import APIRouter, Request, Response

from mirvel.core.pricing.repricing import Repriced, read_price, reprice
from mirvel.core.recipe.taking import take
from mirvel.core.values.problems import BadInput, MirvelError, Problem
from mirvel.store.shop import SavedRecipe, Shop
from mirvel.web.requests import ShopHere, render
from mirvel.web.working import Desk, DeskHere

router = APIRouter()
_MOST_SHOWN = 120


@dataclass(frozen=True)
class RungView:
    """One recipe at the price that would change, and the other prices its family stands at, as they would follow."""

    saved: SavedRecipe
    repriced: Repriced
    ladder: tuple[Decimal, ...]


@router.get("/price")
def show_price(request: Request, shop: ShopHere, desk: DeskHere, price: str = "", becomes: str = "") -> Response:
    """Every recipe at a price, as it is there and as it would be at another."""
    points, problems = desk.rules.price_points, list[Problem]()
    asked = {"price": price[:20], "becomes": becomes[:20]}
    now = then = next(iter(points), Decimal(1))
    for field, text in asked.items():
        try:
            value = read_price(text, "new price" if field == "becomes" else field) if text else now
        except BadInput as error:
            problems += error.problems
            continue
        now, then = (value, value) if field == "price" else (now, value)
    rungs, count = ((), 0) if problems else _get_rungs(shop, desk, now, then)
    return render(
        request, "house/price.html", 422 if problems else 200, rules=desk.rules, points=points, now=now, then=then,
        asked=asked, rungs=rungs, count=count, problems=tuple(problems),
    )  # fmt: skip


def _get_rungs(shop: Shop, desk: Desk, now: Decimal, then: Decimal) -> tuple[tuple[RungView, ...], int]:
    rows, found = shop.read_recipes(price=now).rows, []
    prices = shop.find_prices({saved.recipe.family for saved in rows[:_MOST_SHOWN]})
    for saved in rows[:_MOST_SHOWN]:
        try:
            repriced = reprice(take(saved.recipe, desk.catalogue), desk.rules, then)
        except MirvelError:  # its Table tells what it lacks
            continue
        ladder = sorted(then if each == now else each for each in prices[saved.recipe.family])
        found.append(RungView(saved, repriced, tuple(ladder)))
    return tuple(found), len(rows)
