"""**Set**: the recipes of one family side by side, priced together; a palette or a flower changed once, all follow."""

from collections.abc import Callable
from dataclasses import dataclass
from decimal import Decimal
from itertools import takewhile

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse
from markupsafe import Markup

from mirvel.core.changing.sets import Flower, get_palette_colours, get_shared, set_palette, swap_flower
from mirvel.core.fit.fitting import CannotFit, fit
from mirvel.core.pricing.drift import get_costs
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.values.problems import BadInput, Problem
from mirvel.core.working import Worked
from mirvel.store.shop import SavedRecipe, Shop, Worth
from mirvel.store.stale import StaleState
from mirvel.web.drawings import draw_beside
from mirvel.web.requests import ShopHere, Typed, TypedHere, render
from mirvel.web.working import Desk, DeskHere

router = APIRouter(prefix="/sets/{family}")
_SHELF_PX, _BETWEEN_MM, _MOST_PX_PER_MM = 1150.0, 120.0, 0.62  # all members of a set on one shelf, to one scale
_NAMES_END = " ,.-–0123456789"


@dataclass(frozen=True)
class MemberView:
    """One recipe of a set, worked out and drawn."""

    saved: SavedRecipe
    worked: Worked
    svg: Markup


@router.get("")
def show_set(request: Request, family: str, shop: ShopHere, desk: DeskHere) -> Response:
    """The set as it stands."""
    return _show(request, family, shop, desk)


def _load(family: str, shop: Shop) -> list[SavedRecipe]:
    found = shop.read_recipes(family).rows if family else ()
    if not found:
        raise BadInput(Problem("set", f"there is no family “{family}”.", "Open a recipe and follow its link."))
    return sorted(found, key=lambda saved: (-saved.recipe.price_point, saved.recipe.name))


def _show(request: Request, family: str, shop: Shop, desk: Desk, status: int = 200, **said: object) -> Response:
    worked = [(saved, desk.work_out(saved.recipe)) for saved in _load(family, shop)]
    wide_mm = sum(10 * each.build.extent.width_cm + _BETWEEN_MM for _, each in worked)
    scale = min(_MOST_PX_PER_MM, _SHELF_PX / wide_mm)
    members = [MemberView(saved, each, draw_beside(each, scale)) for saved, each in worked]
    recipes = [each.saved.recipe for each in members]
    moneys = [each.worked.money for each in members]
    return render(
        request,
        "sets/set.html",
        status,
        family=family,
        name=_get_common_name(recipes) or family,
        members=members,
        shared=get_shared(recipes, desk.catalogue),
        palettes=desk.rules.palettes,
        price=sum((recipe.price_point for recipe in recipes), Decimal(0)),
        spent=sum((money.spent for money in moneys), Decimal(0)),
        flower_money=sum((money.flower_money for money in moneys), Decimal(0)),
        true_count=sum(money.is_true for money in moneys),
        read_at=" ".join(str(each.saved.state_id) for each in members),
        rules=desk.rules,
        **{"problems": (), "typed": {}, "text": "", **said},
    )


def _get_common_name(recipes: list[Recipe]) -> str:
    """The words all names begin with."""
    words = zip(*(recipe.name.split() for recipe in recipes), strict=False)
    return " ".join(same[0] for same in takewhile(lambda each: len(set(each)) == 1, words)).rstrip(_NAMES_END)


@router.post("/palette")
def change_palette(request: Request, family: str, shop: ShopHere, desk: DeskHere, typed: TypedHere) -> Response:
    """Every flower of the set in the nearest colours of another palette."""

    def make(recipes: list[Recipe]) -> Callable[[Recipe], Recipe]:
        name = typed.get("palette", "")
        palette = desk.rules.palettes.get(name)
        if palette is None:
            raise BadInput(Problem("palette", f"there is no palette “{name}”.", "Choose one from the list."))
        colours = get_palette_colours(recipes, palette, desk.catalogue)
        return lambda recipe: set_palette(recipe, colours, name)

    return _change(request, family, shop, desk, typed, make, f"palette {typed.get('palette', '')}")


@router.post("/swap")
def change_flower(request: Request, family: str, shop: ShopHere, desk: DeskHere, typed: TypedHere) -> Response:
    """One flower for another wherever the set has it."""

    def make(recipes: list[Recipe]) -> Callable[[Recipe], Recipe]:
        old, new = _read_flower(typed.get("old", "")), _find_flower(typed, desk)
        return lambda recipe: swap_flower(recipe, old, new, desk.catalogue)

    return _change(request, family, shop, desk, typed, make, "a flower of the set")


@router.post("/fit")
def fit_all(request: Request, family: str, shop: ShopHere, desk: DeskHere, typed: TypedHere) -> Response:
    """Every recipe of the set that is false fitted to its own price point."""

    def fit_one(recipe: Recipe) -> Recipe:
        if desk.work_out(recipe).money.is_true:
            return recipe
        try:
            return desk.workers.slow.ask(f"set {family}", fit, recipe, desk.catalogue, desk.rules).recipe
        except CannotFit as error:
            why = error.clashes[0].why if error.clashes else "no counts keep every limit."
            raise BadInput(Problem(recipe.name, why, "Open it and ask for a fit there.")) from None

    return _change(request, family, shop, desk, typed, lambda recipes: fit_one, "fitted with its set")


def _change(
    request: Request,
    family: str,
    shop: Shop,
    desk: Desk,
    typed: Typed,
    make: Callable[[list[Recipe]], Callable[[Recipe], Recipe]],
    words: str,
) -> Response:
    """One change made to every recipe of a set, all or none."""
    members = _load(family, shop)
    try:
        if typed.get("read_at", "") != " ".join(str(saved.state_id) for saved in members):
            raise StaleState
        change = make([saved.recipe for saved in members])
        rungs = []
        for saved in members:
            changed = change(saved.recipe)
            if changed != saved.recipe:
                recipe = desk.carry(saved.recipe, changed)
                is_true = desk.work_out(recipe).money.is_true
                rungs.append((saved, Worth(recipe, get_costs(recipe, desk.catalogue), is_true=is_true)))
        shop.save_rungs(rungs, change=words[:200])
    except StaleState as error:
        return _show(request, family, shop, desk, 409, text=str(error), typed=typed)
    except BadInput as error:
        return _show(request, family, shop, desk, 422, problems=error.problems, typed=typed)
    request.app.state.drifter.poke()
    return RedirectResponse(f"/sets/{family}", status_code=303)


def _read_flower(text: str) -> Flower:
    material, _, colour = text.partition("|")
    return material, colour


def _find_flower(typed: Typed, desk: Desk) -> Flower:
    """The flower typed by name, and its colour: the one typed, else the material's first."""
    text = typed.get("new", "").strip()
    found = desk.catalogue.find_materials(text) if text else ()
    if not found:
        mend = "Type part of a name, such as carnation."
        raise BadInput(Problem("the new flower", f"there is no material “{text}”.", mend))
    material, colour = found[0], typed.get("colour", "").strip().lower()
    if colour and colour not in material.colours:
        mend = f"Choose one of: {', '.join(material.colours)}."
        raise BadInput(Problem("colour", f"{material.name} is not to be had in “{colour}”.", mend))
    return material.slug, colour or next(iter(material.colours))
