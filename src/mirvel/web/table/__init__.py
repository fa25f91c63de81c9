"""**Table**: the drafting table for one recipe. Every change is one round trip that recomputes entries, drawing,
money and checks together."""

from dataclasses import replace

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse

from mirvel.core.changing.changes import Change
from mirvel.core.fit.fitting import CannotFit
from mirvel.core.pricing.drift import get_costs
from mirvel.core.pricing.margins import find_at_margin, read_margin
from mirvel.core.recipe.fit_wishes import Aim
from mirvel.core.recipe.taking import take
from mirvel.core.values.problems import BadInput, MirvelError
from mirvel.exchange.recipe_file import SUFFIX, write_recipe_file
from mirvel.store.shop import SavedRecipe, Shop, Worth
from mirvel.store.stale import StaleState
from mirvel.store.standards import Standard
from mirvel.web.drawings import draw_beside
from mirvel.web.requests import (
    RecipeId,
    ShopHere,
    Typed,
    TypedHere,
    get_file_name,
    get_shop,
    read_number,
    render,
    wants_fragment,
)
from mirvel.web.table.changes import STEPS, get_change
from mirvel.web.table.fitting import (
    get_aims,
    get_extras,
    get_fit_view,
    get_name,
    get_substitutes,
    name_question,
    read_aim,
    write_extra,
)
from mirvel.web.table.looking import Has, read_has, read_looking
from mirvel.web.table.meaning import get_meant_view
from mirvel.web.table.mending import ALL, get_mend
from mirvel.web.table.places import get_places_view
from mirvel.web.table.trying import get_again_view, write_picture
from mirvel.web.table.view import get_table_view
from mirvel.web.working import Desk, DeskHere

router = APIRouter(prefix="/table/{recipe_id}")
MOST_SUGGESTED = 12


@router.get("")
def show_table(request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere) -> Response:
    return _show(request, desk, shop.load_recipe(recipe_id), dict(request.query_params))


@router.get("/drawing")
def show_drawing(request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere) -> Response:
    """The drawing turned, cut open, on another day or with labels; whole where it is no part of a page."""
    typed = dict(request.query_params)
    saved = shop.load_recipe(recipe_id)
    if not wants_fragment(request):
        return _show(request, desk, saved, typed)
    view = get_table_view(saved, None, desk, read_looking(typed), read_has(typed))
    return render(request, "table/_drawing.html", view=view, rules=desk.rules, is_part=True, problems=(), typed={})


@router.get("/meant")
def show_meant(request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere, entry: str = "") -> Response:
    """The pane about one entry: what is meant by it; the whole Table where it is no part of a page."""
    saved = shop.load_recipe(recipe_id)
    if not wants_fragment(request):
        return _show(request, desk, saved, {})
    return render(request, "table/_meant.html", view=get_meant_view(saved, desk, entry))


@router.get("/places")
def show_places(request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere) -> Response:
    """Every piece with its place and its cut three ways, the cutting plan, and how the mechanics are prepared."""
    saved = shop.load_recipe(recipe_id)
    view = get_places_view(saved, desk.work_out(saved.recipe))
    return render(request, "table/places.html", view=view, rules=desk.rules)


@router.post("/stop")
def stop(recipe_id: RecipeId, desk: DeskHere) -> Response:
    """Stop fitting, repairing or climbing this recipe; who waits for it is told."""
    desk.workers.cancel(name_question(recipe_id))
    return Response(status_code=204)


@router.get("/fit")
def show_fit(request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere) -> Response:
    """The fullest true counts for a price by an aim, before they are applied."""
    saved, typed = shop.load_recipe(recipe_id), dict(request.query_params)
    context: dict[str, object] = {"view": saved, "aim": read_aim(typed, saved.recipe), "aims": list(Aim)}
    try:
        found = get_fit_view(saved, desk, typed)
    except BadInput as error:
        return render(request, "table/_fit.html", 422, found=None, problems=error.problems, typed=typed, **context)
    return render(request, "table/_fit.html", found=found, problems=(), typed=typed, rules=desk.rules, **context)


@router.get("/fit/aims")
def show_aims(request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere) -> Response:
    """What every aim would spend and hold; some of them take long, so that nobody waits who does not ask."""
    saved, typed = shop.load_recipe(recipe_id), dict(request.query_params)
    try:
        found = get_aims(saved, desk, typed)
    except CannotFit:
        found = ()
    return render(request, "table/_aims.html", found=found, aim=read_aim(typed, saved.recipe), rules=desk.rules)


@router.get("/margin")
def show_margin(request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere, wanted: str = "") -> Response:
    """What a wanted margin makes of the recipe's price, and which of the shop's prices its goods belong to; the whole
    Table where it is no part of a page."""
    saved = shop.load_recipe(recipe_id)
    if not wants_fragment(request):
        return _show(request, desk, saved, {})
    context: dict[str, object] = {"price": saved.recipe.price_point, "rules": desk.rules}
    try:
        found = find_at_margin(take(saved.recipe, desk.catalogue), desk.rules, read_margin(wanted))
    except BadInput as error:
        return render(request, "table/_margin.html", 422, found=None, problems=error.problems, **context)
    return render(request, "table/_margin.html", found=found, problems=(), **context)


@router.get("/mend")
def show_mend(request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere, finding: str = ALL) -> Response:
    """What puts a finding right, or all that can be, with what it brings, before it is taken."""
    saved = shop.load_recipe(recipe_id)
    context: dict[str, object] = {"view": saved, "finding": finding, "rules": desk.rules}
    try:
        mend = get_mend(saved.recipe, desk, finding)
    except BadInput as error:
        return render(request, "table/_mend.html", 422, mend=None, problems=error.problems, **context)
    return render(request, "table/_mend.html", mend=mend, problems=(), **context)


@router.get("/extras")
def show_extras(request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere, all: bool = False) -> Response:
    """What still fits in the room left: of the recipe's own materials, or of all."""
    saved = shop.load_recipe(recipe_id)
    extras = [(extra, write_extra(extra)) for extra in get_extras(saved.recipe, desk, whole_catalogue=all)]
    return render(request, "table/_extras.html", view=saved, extras=extras, all=all, rules=desk.rules)


@router.get("/substitutes")
def show_substitutes(request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere, entry: str) -> Response:
    """What could stand in for an entry, each drawn beside the piece as it is."""
    saved = shop.load_recipe(recipe_id)
    try:
        stock = {(slug, colour): stems for slug, colour, stems in shop.goods.load_all_stock()}
        found = get_substitutes(saved.recipe, desk, entry, stock, shop.get_today().month)
    except BadInput as error:
        return _show(request, desk, saved, {}, 422, problems=error.problems, typed={})
    drawn = [draw_beside(desk.work_out(desk.carry(saved.recipe, each.recipe))) for each in found]
    own = next(each for each in saved.recipe.entries if each.id == entry)
    before = desk.work_out(saved.recipe)
    return render(
        request, "table/substitutes.html", view=saved, own=own, name=get_name(own, desk), before=before,
        drawn=draw_beside(before), found=list(zip(found, drawn, strict=True)), rules=desk.rules,
    )  # fmt: skip


@router.get("/again")
def show_again(
    request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere, entry: str = "", first: int = 1
) -> Response:
    """Other placings of the piece, or of one entry, beside it as it is."""
    saved = shop.load_recipe(recipe_id)
    try:
        view = get_again_view(saved, desk, entry, max(1, min(first, 990)))
    except BadInput as error:
        return _show(request, desk, saved, {}, 422, problems=error.problems, typed={})
    return render(request, "table/again.html", view=view, write_picture=write_picture, rules=desk.rules)


@router.post("/change")
def change(request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere, typed: TypedHere) -> Response:
    """Make one change, or step back or on; answers with the worked Table, or with what was wrong beside it."""
    try:
        saved = _make(shop, desk, recipe_id, typed)
    except StaleState as error:
        return _show(request, desk, shop.load_recipe(recipe_id), typed, 409, said=str(error))
    except BadInput as error:
        return _show(request, desk, shop.load_recipe(recipe_id), typed, 422, problems=error.problems, typed=typed)
    if not wants_fragment(request):
        return RedirectResponse(f"/table/{recipe_id}", status_code=303)
    return _show(request, desk, saved, typed)


def _make(shop: Shop, desk: Desk, recipe_id: int, typed: Typed) -> SavedRecipe:
    """Raises StaleState, BadInput, NoSuchRecipe. A change that cannot be worked out is not saved."""
    read_at = read_number(typed.get("read_at", ""))
    if typed.get("kind") in STEPS:
        return {"undo": shop.undo, "redo": shop.redo}[typed["kind"]](recipe_id, read_at=read_at)
    before = shop.load_recipe(recipe_id)
    if before.state_id != read_at:
        raise StaleState
    made: Change = get_change(before.recipe, desk, typed)
    if made.recipe == before.recipe:
        return before
    after = desk.carry(before.recipe, made.recipe)
    worth = Worth(after, get_costs(after, desk.catalogue), is_true=desk.work_out(after).money.is_true)
    return shop.save_recipe(recipe_id, worth, read_at=read_at, change=made.words)


def _show(
    request: Request, desk: Desk, saved: SavedRecipe, looked: Typed, status: int = 200, **said: object
) -> Response:
    is_part = wants_fragment(request)
    context: dict[str, object] = {"problems": (), "typed": {}, "said": "", **said}
    standard = get_shop(request).standards.find_in_force(saved.id)
    view = get_table_view(saved, standard, desk, read_looking(looked), read_has(looked) if is_part else Has())
    view = replace(view, comes_out_otherwise=_comes_out_otherwise(get_shop(request), desk, saved, standard))
    template = "table/_work.html" if is_part else "table/table.html"
    return render(request, template, status, view=view, rules=desk.rules, is_part=is_part, **context)


def _comes_out_otherwise(shop: Shop, desk: Desk, saved: SavedRecipe, standard: Standard | None) -> bool:
    """Whether what is on the Table is the standard in force, but by what is known now another piece."""
    if standard is None or standard.state_id != saved.state_id:
        return False
    try:
        return desk.knows_otherwise(shop.standards.load(saved.id, standard.number).frozen, saved.recipe)
    except MirvelError:  # the Table tells what is missing, the standards' page what cannot be read
        return False


@router.get("/materials")
def suggest_materials(request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere, q: str = "") -> Response:
    """Materials whose name holds what is typed, as a list to choose from."""
    return render(
        request,
        "table/_materials.html",
        view=shop.load_recipe(recipe_id),
        found=desk.catalogue.find_materials(q)[:MOST_SUGGESTED],
        q=q,
    )


@router.get("/recipe.json")
def export_recipe(recipe_id: RecipeId, shop: ShopHere, desk: DeskHere) -> Response:
    """The open recipe file, with a snapshot of today's goods and rules."""
    saved = shop.load_recipe(recipe_id)
    text = write_recipe_file(saved.recipe, desk.catalogue, desk.rules, taken_on=shop.get_today())
    disposition = f'attachment; filename="{get_file_name(saved.recipe.name)}{SUFFIX}"'
    return Response(text, media_type="application/json", headers={"Content-Disposition": disposition})
