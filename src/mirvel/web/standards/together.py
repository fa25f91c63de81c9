"""Drafts published together: those of a price point, or of a family's ladder, all or none."""

from decimal import Decimal
from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from fastapi.responses import RedirectResponse

from mirvel.core.publishing import Tolerances, find_blocking
from mirvel.core.values.problems import BadInput, Problem
from mirvel.store.shelving import ShelfSearch, Stood
from mirvel.store.shop import Shop
from mirvel.store.stale import StaleState
from mirvel.store.standards import Draft
from mirvel.web.figuring import get_version
from mirvel.web.requests import ShopHere, Typed, TypedHere, read_number, render
from mirvel.web.standards.publishing import read_publishing
from mirvel.web.working import Desk, DeskHere

router = APIRouter(prefix="/publish")
MOST_TOGETHER = 48
Price = Annotated[Decimal | None, Query(ge=0, le=10**8, max_digits=12, decimal_places=2)]
Family = Annotated[str, Query(max_length=60)]


@router.get("")
def show_drafts(request: Request, shop: ShopHere, desk: DeskHere, price: Price = None, family: Family = "") -> Response:
    """The drafts of a price point or a family, to choose from."""
    return _show(request, shop, desk, price, family, {})


@router.post("")
def publish_together(
    request: Request, shop: ShopHere, desk: DeskHere, typed: TypedHere, price: Price = None, family: Family = ""
) -> Response:
    """Publish every draft that was chosen, as it was read, or none."""
    try:
        drafts = _read_drafts(typed)
        saved = [shop.load_recipe(recipe_id) for recipe_id, _ in drafts]
        if [(each.id, each.state_id) for each in saved] != drafts:
            raise StaleState
        blocking = ((each.recipe.name, find_blocking(desk.work_out(each.recipe))) for each in saved)
        asked = read_publishing(typed, desk.rules, blocking)
        frozen = (Draft(each.id, each.state_id, desk.freeze(each.recipe)) for each in saved)
        shop.standards.publish(frozen, asked.by, asked.why, asked.within, shop.get_now())
    except StaleState:
        said = (
            "One of these was changed elsewhere since you opened them, so none was published. Look at them once more."
        )
        return _show(request, shop, desk, price, family, typed, 409, problems=(Problem("drafts", said, ""),))
    except BadInput as error:
        return _show(request, shop, desk, price, family, typed, 422, problems=error.problems)
    request.app.state.drifter.poke()
    return RedirectResponse("/", status_code=303)


def _read_drafts(typed: Typed) -> list[tuple[int, int]]:
    """The recipes that were chosen, each with the state it was read at. Raises BadInput."""
    chosen = [(read_number(name[1:]), read_number(state)) for name, state in typed.items() if name.startswith("r")]
    drafts = sorted((recipe_id, state) for recipe_id, state in chosen if recipe_id)
    if not 0 < len(drafts) <= MOST_TOGETHER:
        raise BadInput(Problem("drafts", "are missing, or too many.", f"Choose 1 to {MOST_TOGETHER} of them."))
    return drafts


def _find_drafts(shop: Shop, price: Decimal | None, family: str) -> tuple[Stood, ...]:
    search = ShelfSearch(only="drafts", family=family)
    version = get_version(shop.goods.look().facts, shop.load_rules())
    prices = [price] if price is not None else list(shop.shelf.count(search, version).counts)
    return shop.shelf.load(search, version, dict.fromkeys(prices, 0))[:MOST_TOGETHER]


def _show(
    request: Request,
    shop: Shop,
    desk: Desk,
    price: Decimal | None,
    family: str,
    typed: Typed,
    status: int = 200,
    *,
    problems: tuple[Problem, ...] = (),
) -> Response:
    return render(
        request, "standards/together.html", status, drafts=_find_drafts(shop, price, family), price=price,
        family=family, typed={**Tolerances().write(desk.rules.unit), **typed}, problems=problems, rules=desk.rules,
    )  # fmt: skip
