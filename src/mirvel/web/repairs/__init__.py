"""**Repairs**: every recipe that went false at today’s costs and what mends it; one recipe in three ways, drawn."""

import math
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from fastapi.responses import RedirectResponse
from markupsafe import Markup

from mirvel.core.fit.repair import Repair
from mirvel.core.goods.material import Material
from mirvel.core.mending import Mend
from mirvel.core.pricing.drift import get_costs
from mirvel.core.pricing.pricing import get_money
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.core.values.problems import MirvelError
from mirvel.store.repairs import FalseRecipe, RunState
from mirvel.store.shop import Shop, Worth
from mirvel.store.stale import StaleState
from mirvel.web.drawings import draw_beside
from mirvel.web.repairing import WHOLE_SHOP
from mirvel.web.requests import RecipeId, ShopHere, render
from mirvel.web.table.fitting import get_repairs, name_question
from mirvel.web.working import Desk, DeskHere

router = APIRouter(prefix="/repairs")
A_PAGE = 50


@dataclass(frozen=True)
class AnswerView:
    """One way to mend a recipe: its changes, what it brings, and the piece it gives."""

    repair: Repair
    mend: Mend
    svg: Markup


@router.get("")
def show_repairs(
    request: Request, shop: ShopHere, desk: DeskHere, page: Annotated[int, Query(ge=1, le=10_000)] = 1
) -> Response:
    """What is false, a page of it, with the repairs found so far."""
    count, state = shop.repairs.count_false(desk.costs_version), shop.repairs.load_state()
    pages = max(1, math.ceil(count.total / A_PAGE))
    page = min(page, pages)
    return render(
        request,
        "repairs/repairs.html",
        rows=shop.repairs.load_false(desk.costs_version, start=(page - 1) * A_PAGE, count=A_PAGE),
        page=page,
        pages=pages,
        running=state is RunState.RUNNING,
        state=state,
        count=count,
        rules=desk.rules,
    )


@router.post("/begin")
def begin(request: Request, shop: ShopHere) -> Response:
    """Look for repairs in the background; a run that was cancelled goes on where it was."""
    shop.repairs.set_state(RunState.RUNNING)
    request.app.state.repairer.poke()
    return RedirectResponse("/repairs", status_code=303)


@router.post("/cancel")
def cancel(shop: ShopHere, desk: DeskHere) -> Response:
    """Look for no more; what was found stays."""
    shop.repairs.set_state(RunState.CANCELLED, only_from=RunState.RUNNING)
    desk.workers.slow.cancel(WHOLE_SHOP)
    return RedirectResponse("/repairs", status_code=303)


@router.post("/apply")
def apply_all(request: Request, shop: ShopHere, desk: DeskHere) -> Response:
    """Every repair that was found and still holds, each a change of its recipe that can be undone there."""
    for each in shop.repairs.load_false(desk.costs_version):
        if each.repair and each.repair.mended:
            _apply(each, each.repair.mended, shop, desk)
    request.app.state.drifter.poke()
    return RedirectResponse("/repairs", status_code=303)


def _apply(each: FalseRecipe, mended: Recipe, shop: Shop, desk: Desk) -> None:
    try:
        is_true = get_money(take(mended, desk.catalogue), desk.rules).is_true
        worth = Worth(mended, get_costs(mended, desk.catalogue), is_true=is_true)
        words = f"repaired: {each.repair.words if each.repair else ''}"[:200]
        shop.save_recipe(each.recipe_id, worth, read_at=each.state_id, change=words)
    except (StaleState, MirvelError):
        return  # somebody changed it meanwhile: it stays in the list as it is now


@router.get("/{recipe_id}")
def show_one(
    request: Request,
    recipe_id: RecipeId,
    shop: ShopHere,
    desk: DeskHere,
    without: Annotated[list[str] | None, Query()] = None,
) -> Response:
    """One recipe before, and up to three ways to mend it, without what is not to be had."""
    saved = shop.load_recipe(recipe_id)
    before = desk.work_out(saved.recipe)
    answers = []
    gone = frozenset(without or ())
    for repair in get_repairs(saved.recipe, desk, gone, name_question(saved.id)):
        worked = desk.work_out_after(saved.recipe, repair.fitted.recipe)
        answers.append(AnswerView(repair, Mend((), before, worked), draw_beside(worked)))
    return render(
        request, "repairs/one.html", view=saved, before=before, drawn=draw_beside(before), answers=answers,
        rules=desk.rules, gone=gone, materials=_get_materials(saved.recipe, shop, desk),
    )  # fmt: skip


def _get_materials(recipe: Recipe, shop: Shop, desk: Desk) -> list[tuple[Material, str]]:
    """What a recipe takes, each once, and why it may not be had: out of season this month, or none of it in the cooler
    where anything is counted there."""
    month, stock = shop.get_today().month, {(slug, colour) for slug, colour, _ in shop.goods.load_all_stock()}
    found: dict[str, tuple[Material, str]] = {}
    for entry in recipe.entries:
        material = desk.catalogue.materials.get(entry.material)
        if not entry.pieces or material is None:
            continue
        why = "out of season" if month not in material.season else ""
        if stock and (entry.material, entry.colour) not in stock:
            why = ", ".join(part for part in (why, "none in the cooler") if part)
        found.setdefault(entry.material, (material, why))
    return list(found.values())
