"""What another price in the place of one of the shop's does to every recipe at it: seen first, then made."""

from dataclasses import dataclass
from decimal import Decimal
from hashlib import sha256

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse

from mirvel.core.pricing.drift import get_costs
from mirvel.core.pricing.repricing import Repriced, exchange, format_point, read_price, rename, reprice
from mirvel.core.recipe.taking import take
from mirvel.core.values.problems import BadInput, MirvelError, Problem
from mirvel.store.shop import SavedRecipe, Shop, Worth
from mirvel.store.stale import StaleRules, StaleState
from mirvel.web.requests import ShopHere, TypedHere, render
from mirvel.web.working import Desk, DeskHere

router = APIRouter()
_MOST_SHOWN = 120
_STALE = "Somebody changed a recipe or the rules since you looked, so nothing was changed. This is how it stands now."


@dataclass(frozen=True)
class RungView:
    """One recipe at the price that would change, what it would be called, and the prices its family stands at, as they
    would follow; ``beside`` says that another of the family is at that price already."""

    saved: SavedRecipe
    repriced: Repriced
    name: str
    ladder: tuple[Decimal, ...]
    beside: bool


@router.get("/price")
def show_price(request: Request, shop: ShopHere, desk: DeskHere, price: str = "", becomes: str = "") -> Response:
    """Every recipe at a price, as it is there and as it would be at another."""
    return _show(request, shop, desk, price, becomes)


@router.post("/price")
def make_price(request: Request, shop: ShopHere, desk: DeskHere, typed: TypedHere) -> Response:
    """Every recipe at a price put to another as it was looked at, and the shop's list of prices with it, or nothing."""
    price, becomes = typed.get("price", ""), typed.get("becomes", "")
    try:
        now, then = read_price(price, "price"), read_price(becomes, "new price")
        if now == then:
            raise BadInput(Problem("new price", "is the price they have.", "Type another."))
        rungs, _ = _get_rungs(shop, desk, now, then)
        if not rungs:
            raise BadInput(
                Problem("price", f"{format_point(now)} has no recipe that can be reckoned.", "Choose another.")
            )
        if typed.get("read") != _get_mark(rungs):
            raise StaleState
        listed = exchange(desk.rules.price_points, now, then) if "listed" in typed else desk.rules.price_points
        rules = desk.rules.model_copy(update={"price_points": listed})
        shop.save_at_price(
            [(rung.saved, _get_worth(rung, desk, then)) for rung in rungs],
            rules,
            read=desk.rules,
            change=f"its price, {format_point(now)} to {format_point(then)}, with all others at it",
        )
    except (StaleState, StaleRules):
        return _show(request, shop, desk, price, becomes, 409, (Problem("price", _STALE, ""),))
    except BadInput as error:
        return _show(request, shop, desk, price, becomes, 422, error.problems)
    request.app.state.drifter.poke()
    request.app.state.drawer.poke()
    return RedirectResponse(f"/publish?price={format_point(then)}", status_code=303)


def _get_worth(rung: RungView, desk: Desk, then: Decimal) -> Worth:
    recipe = rung.saved.recipe.change(price_point=then, name=rung.name)
    return Worth(recipe, get_costs(recipe, desk.catalogue), is_true=rung.repriced.then.is_true)


def _get_mark(rungs: tuple[RungView, ...]) -> str:
    """What stands for the recipes as they were looked at."""
    return sha256(repr([(rung.saved.id, rung.saved.state_id) for rung in rungs]).encode()).hexdigest()


def _show(
    request: Request,
    shop: Shop,
    desk: Desk,
    price: str,
    becomes: str,
    status: int = 200,
    problems: tuple[Problem, ...] = (),
) -> Response:
    points, wrong = desk.rules.price_points, list[Problem]()
    asked = {"price": price[:20], "becomes": becomes[:20]}
    now = then = next(iter(points), Decimal(1))
    for field, text in asked.items():
        try:
            value = read_price(text, "new price" if field == "becomes" else field) if text else now
        except BadInput as error:
            wrong += error.problems
            continue
        now, then = (value, value) if field == "price" else (now, value)
    rungs, left_out = ((), 0) if wrong else _get_rungs(shop, desk, now, then)
    return render(
        request, "house/price.html", 422 if wrong else status, rules=desk.rules, points=points, now=now, then=then,
        asked=asked, rungs=rungs[:_MOST_SHOWN], count=len(rungs), left_out=left_out, read=_get_mark(rungs),
        problems=problems or tuple(wrong), typed={"price": format_point(now), "becomes": format_point(then)},
    )  # fmt: skip


def _get_rungs(shop: Shop, desk: Desk, now: Decimal, then: Decimal) -> tuple[tuple[RungView, ...], int]:
    """The recipes at a price as they would be at another, and how many are there that cannot be reckoned: the Table of
    each tells what it lacks."""
    rows, found = shop.read_recipes(price=now).rows, []
    prices = shop.find_prices({saved.recipe.family for saved in rows})
    for saved in rows:
        try:
            repriced = reprice(take(saved.recipe, desk.catalogue), desk.rules, then)
        except MirvelError:
            continue
        family = prices[saved.recipe.family]
        ladder = tuple(sorted({then if each == now else each for each in family}))
        name = rename(saved.recipe.name, now, then)
        found.append(RungView(saved, repriced, name, ladder, then != now and then in family))
    return tuple(found), len(rows) - len(found)
