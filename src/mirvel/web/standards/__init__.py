"""**Standards**: states of a recipe published under a number, each with who, when and why, and what changed; a draft is
published, brought back from any of them, and one is retired."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from fastapi.responses import RedirectResponse
from markupsafe import Markup

from mirvel.core.pricing.drift import get_costs
from mirvel.core.publishing import Difference, Tolerances, find_blocking, find_difference, find_worries
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.core.values.problems import BadInput, MirvelError, Problem
from mirvel.core.working import Worked
from mirvel.store.shop import SavedRecipe, Shop, Worth
from mirvel.store.stale import StaleState
from mirvel.store.standards import Draft, Published, Standard
from mirvel.web.drawings import draw_beside
from mirvel.web.requests import RecipeId, ShopHere, TypedHere, read_number, render
from mirvel.web.standards.publishing import read_publishing, read_who
from mirvel.web.working import Desk, DeskHere

router = APIRouter(prefix="/standards/{recipe_id}")
_PX_PER_MM = 0.5


@dataclass(frozen=True)
class Beside:
    """Two pieces beside one another: what each is, how it looks, and what is other in the second."""

    names: tuple[str, str]
    drawn: tuple[Markup, Markup]
    difference: Difference
    beyond: tuple[str, ...]


@router.get("")
def show_standards(request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere) -> Response:
    """Every standard of a recipe, its draft beside the one in force, and what publishing it takes."""
    return _show(request, shop, desk, shop.load_recipe(recipe_id))


@router.post("")
def publish(request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere, typed: TypedHere) -> Response:
    """Publish the draft as it was read, under the next number."""
    saved = shop.load_recipe(recipe_id)
    try:
        if saved.state_id != read_number(typed.get("read_at", "")):
            raise StaleState
        in_force = shop.standards.find_in_force(recipe_id)
        if in_force and not _set_draft_beside(shop, desk, saved, in_force, desk.work_out(saved.recipe)):
            mend = "Change the recipe on its Table first."
            raise BadInput(Problem("draft", f"is standard {in_force.number} already.", mend))
        asked = read_publishing(typed, desk.rules, [(saved.recipe.name, find_blocking(desk.work_out(saved.recipe)))])
        shop.standards.publish(
            [Draft(recipe_id, saved.state_id, desk.freeze(saved.recipe))],
            asked.by,
            asked.why,
            asked.within,
            shop.get_now(),
        )
    except StaleState as error:
        return _show(request, shop, desk, shop.load_recipe(recipe_id), 409, typed=typed, said=str(error))
    except BadInput as error:
        return _show(request, shop, desk, saved, 422, typed=typed, problems=error.problems)
    request.app.state.drifter.poke()
    return RedirectResponse(f"/standards/{recipe_id}", status_code=303)


@router.get("/{number}")
def show_one(
    request: Request,
    recipe_id: RecipeId,
    number: RecipeId,
    shop: ShopHere,
    desk: DeskHere,
    beside: Annotated[int | None, Query(ge=1, le=2**31 - 1)] = None,
) -> Response:
    """One standard as it was published, beside the one before it or another."""
    saved = shop.load_recipe(recipe_id)
    published = shop.standards.load(recipe_id, number)
    other = beside or number - 1
    before = shop.standards.load(recipe_id, other) if other and other != number else None
    worked, trouble = _try_published(published, desk)
    pair = None
    if before and worked:
        old, _ = _try_published(before, desk)
        pair = _set_beside((f"Standard {other}", f"Standard {number}"), old, worked, before.standard.within)
    return render(
        request, "standards/standard.html", view=saved, standard=published.standard, worked=worked,
        trouble=trouble, pair=pair, other=before.standard.number if before else None,
        numbers=[each.number for each in reversed(shop.standards.load_all(recipe_id)) if each.number != number],
        drawn=draw_beside(worked, _PX_PER_MM) if worked and not pair else None, rules=desk.rules,
    )  # fmt: skip


@router.post("/{number}/draft")
def bring_back(
    request: Request, recipe_id: RecipeId, number: RecipeId, shop: ShopHere, desk: DeskHere, typed: TypedHere
) -> Response:
    """A standard as the recipe's draft again, a change like any other. Raises NoSuchStandard."""
    recipe = shop.standards.load(recipe_id, number).recipe
    try:
        worth = Worth(recipe, get_costs(recipe, desk.catalogue), is_true=desk.work_out(recipe).money.is_true)
        read_at = read_number(typed.get("read_at", ""))
        shop.save_recipe(recipe_id, worth, read_at=read_at, change=f"standard {number} as a draft")
    except StaleState as error:
        return _show(request, shop, desk, shop.load_recipe(recipe_id), 409, typed=typed, said=str(error))
    request.app.state.drifter.poke()
    return RedirectResponse(f"/table/{recipe_id}", status_code=303)


@router.post("/{number}/retire")
def retire(
    request: Request, recipe_id: RecipeId, number: RecipeId, shop: ShopHere, desk: DeskHere, typed: TypedHere
) -> Response:
    """Take a standard out of force without another in its place."""
    saved = shop.load_recipe(recipe_id)
    try:
        by, why = read_who(typed, desk.rules)
        shop.standards.retire(recipe_id, number, by, why, shop.get_now())
    except BadInput as error:
        return _show(request, shop, desk, saved, 422, typed=typed, problems=error.problems)
    except StaleState:
        said = f"Standard {number} is not in force any more."
        return _show(request, shop, desk, saved, 409, typed=typed, said=said)
    request.app.state.drifter.poke()
    return RedirectResponse(f"/standards/{recipe_id}", status_code=303)


def _show(
    request: Request,
    shop: Shop,
    desk: Desk,
    saved: SavedRecipe,
    status: int = 200,
    *,
    typed: Mapping[str, str] | None = None,
    problems: tuple[Problem, ...] = (),
    said: str = "",
) -> Response:
    standards = shop.standards.load_all(saved.id)
    in_force = next((each for each in standards if each.is_in_force), None)
    worked, trouble = _try(saved.recipe, desk)
    beside = _set_draft_beside(shop, desk, saved, in_force, worked)
    usual = (in_force.within if in_force else Tolerances()).write(desk.rules.unit)
    holds = beside.difference.before if beside else worked if in_force else None
    month = shop.get_today().month
    return render(
        request, "standards/standards.html", status, view=saved, standards=standards, in_force=in_force, worked=worked,
        trouble=trouble, pair=beside, blocking=find_blocking(worked) if worked else (), rules=desk.rules,
        drawn=draw_beside(worked, _PX_PER_MM) if worked and not beside else None, typed={**usual, **(typed or {})},
        problems=problems, said=said, holds=holds,
        worries=find_worries(take(holds.recipe, desk.catalogue), month) if holds else (),
    )  # fmt: skip


def _set_draft_beside(
    shop: Shop, desk: Desk, saved: SavedRecipe, in_force: Standard | None, worked: Worked | None
) -> Beside | None:
    """What is on the Table beside the standard in force, where it is another, or comes out otherwise by what is known
    of its goods now, and both can be worked out."""
    if not in_force or not worked:
        return None
    before, _ = _try_published(shop.standards.load(saved.id, in_force.number), desk)
    name = "Draft" if in_force.state_id != saved.state_id else "As it comes out now"
    beside = _set_beside((f"Standard {in_force.number}", name), before, worked, in_force.within)
    return beside if beside and (in_force.state_id != saved.state_id or beside.difference.is_any) else None


def _set_beside(names: tuple[str, str], before: Worked | None, after: Worked, within: Tolerances) -> Beside | None:
    if before is None:
        return None
    difference = find_difference(before, after)
    drawn = draw_beside(before, _PX_PER_MM), draw_beside(after, _PX_PER_MM)
    return Beside(names, drawn, difference, difference.find_beyond(within))


def _try(recipe: Recipe, desk: Desk) -> tuple[Worked | None, str]:
    """A recipe worked out with the goods of today, or why it cannot be."""
    try:
        return desk.work_out(recipe), ""
    except MirvelError as error:
        return None, str(error)


def _try_published(published: Published, desk: Desk) -> tuple[Worked | None, str]:
    """A standard worked out from what it was published with, at today's costs, or why it cannot be."""
    return _try(published.recipe, desk.thaw(published.frozen))
