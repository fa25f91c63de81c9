"""**New recipe**: a name, a price point, a form and what it stands in, both chosen by their pictures; or a recipe file
brought in. Goes on to its Table."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, File, Form, Request, Response, UploadFile
from fastapi.responses import RedirectResponse
from markupsafe import Markup
from pydantic import ValidationError

from mirvel.core.changing.changes import set_container
from mirvel.core.changing.samples import choose_container, choose_mechanics
from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.container import Container
from mirvel.core.pricing.drift import get_costs
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.values.problems import BadInput, Problem, get_problems
from mirvel.drawing.specimen import draw_container
from mirvel.exchange.recipe_file import read_recipe_file
from mirvel.store.shop import Shop
from mirvel.web.figuring import STANDING, has_samples
from mirvel.web.requests import ShopHere, render
from mirvel.web.working import Desk, DeskHere

router = APIRouter(prefix="/recipes")
USUAL_FORM = "all-round dome"
_LARGEST_FILE = 2_000_000
_NAMED = ("name", "price_point", "form", "container", "mechanics")
_MOST_VESSELS = 60


@dataclass(frozen=True)
class VesselView:
    """A container to choose, by its picture."""

    container: Container
    svg: Markup


@router.get("/new")
def show_new(request: Request, shop: ShopHere, desk: DeskHere) -> Response:
    """What a recipe begins with; the vessels are those the form can stand in."""
    return _show(request, shop, desk, dict(request.query_params))


def _show(
    request: Request,
    shop: Shop,
    desk: Desk,
    typed: Mapping[str, str],
    status: int = 200,
    **problems: tuple[Problem, ...],
) -> Response:
    form = FORMS.get(typed.get("form", ""), FORMS[USUAL_FORM])
    vessels = desk.get_vessels(form.name)
    usual = choose_container(form, list(vessels)).slug if vessels else ""
    chosen = typed.get("container", "")
    chosen = chosen if any(each.slug == chosen for each in vessels) else usual
    sought = typed.get("vessel", "").lower()
    found = [each for each in vessels if sought in each.name.lower() or each.slug == chosen]
    is_drawn = has_samples(shop, desk)
    if not is_drawn:
        request.app.state.drawer.poke()
    # The chosen one comes first, whatever is looked for; however many a shop has, not all of them are drawn.
    found.sort(key=lambda each: each.slug != chosen)
    return render(
        request, "begin/new.html", status, typed=typed, form=form, forms=list(FORMS.values()), chosen=chosen,
        vessels=[VesselView(each, draw_container(each)) for each in found[:_MOST_VESSELS]], found=len(found),
        rules=desk.rules, pictures=shop.figures.load_samples(STANDING), is_drawn=is_drawn,
        **{"problems": (), "file_problems": (), **problems},
    )  # fmt: skip


@router.post("")
def begin_recipe(
    request: Request,
    shop: ShopHere,
    desk: DeskHere,
    name: Annotated[str, Form()] = "",
    price_point: Annotated[str, Form()] = "",
    container: Annotated[str, Form()] = "",
    mechanics: Annotated[str, Form()] = "",
    form: Annotated[str, Form()] = USUAL_FORM,
    once: Annotated[str, Form()] = "",
) -> Response:
    """A new recipe from a name, a price point, a form and a container; goes on to its Table."""
    typed = dict(zip(_NAMED, (name, price_point, form, container, mechanics), strict=True))
    try:
        recipe = _begin(typed, desk.catalogue)
    except BadInput as error:
        return _show(request, shop, desk, typed, 422, problems=error.problems)
    return RedirectResponse(f"/table/{_add(shop, desk, recipe, once)}", status_code=303)


def _add(shop: Shop, desk: Desk, recipe: Recipe, key: str) -> int:
    return shop.add_recipe(recipe, get_costs(recipe, desk.catalogue), key=key).id


def _begin(typed: dict[str, str], catalogue: Catalogue) -> Recipe:
    """An empty recipe from what was typed; held as is usual where nothing is said. Raises BadInput."""
    name = typed["name"].strip()
    if not name:
        raise BadInput(Problem("name", "is empty.", "Give the recipe a name, such as the family’s and its price."))
    letters = (letter if letter.isalnum() and letter.isascii() else "-" for letter in name.lower())
    family = "".join(letters).strip("-0123456789 ")
    if not typed["container"]:
        raise BadInput(Problem("container", "is not chosen.", "Choose what it stands in."))
    held = typed["mechanics"] or _get_usual_mechanics(typed, catalogue)
    fields = {**typed, "mechanics": held, "name": name, "family": family[:60] or "unnamed"}
    try:
        recipe = Recipe.model_validate(fields)
    except ValidationError as error:
        raise BadInput(*get_problems(error)) from None
    form = FORMS[recipe.form]
    brief = {**recipe.brief.model_dump(), "seen_from": form.seen_from}
    recipe = recipe.change(size={"rule": form.rule.model_dump()}, brief=brief)
    return set_container(recipe, catalogue, recipe.container).recipe


def _get_usual_mechanics(typed: Mapping[str, str], catalogue: Catalogue) -> str:
    """How the form is held in the container; what is neither is told of later."""
    form, container = FORMS.get(typed["form"]), catalogue.containers.get(typed["container"])
    return choose_mechanics(form, container).value if form and container else "foam"


@router.post("/file")
def bring_in_recipe(
    request: Request,
    shop: ShopHere,
    desk: DeskHere,
    file: Annotated[UploadFile, File()],
    once: Annotated[str, Form()] = "",
) -> Response:
    """A recipe file becomes a recipe of the shop, if the shop has all the goods it names."""
    try:
        recipe = _read(file.file.read(_LARGEST_FILE + 1))
        desk.work_out(recipe)
    except BadInput as error:
        return _show(request, shop, desk, {}, 422, file_problems=error.problems)
    return RedirectResponse(f"/table/{_add(shop, desk, recipe, once)}", status_code=303)


def _read(content: bytes) -> Recipe:
    if len(content) > _LARGEST_FILE:
        raise BadInput(Problem("the file", "it is larger than 2 MB, so it is no recipe.", "Choose another file."))
    try:
        return read_recipe_file(content.decode("utf-8")).recipe
    except UnicodeDecodeError:
        raise BadInput(Problem("the file", "it is not text.", "Choose a file that was exported as a recipe.")) from None
