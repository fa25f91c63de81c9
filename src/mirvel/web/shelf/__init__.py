"""**Shelf**: every recipe drawn to one scale, standing on shelf lines by price point; new recipes begin here."""

from dataclasses import dataclass
from decimal import Decimal
from typing import Annotated

from fastapi import APIRouter, File, Form, Request, Response, UploadFile
from fastapi.responses import RedirectResponse
from markupsafe import Markup
from pydantic import ValidationError

from mirvel.core.changing.changes import set_container
from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.facts import Mechanics
from mirvel.core.pricing.drift import Cause, get_costs, get_culprits
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.values.problems import BadInput, MirvelError, Problem, get_problems
from mirvel.core.working import Worked
from mirvel.drawing.sheet import Drawing, Style, draw_standing
from mirvel.exchange.recipe_file import read_recipe_file
from mirvel.store.documents import Kept
from mirvel.store.drifts import SavedDrift
from mirvel.store.shop import SavedRecipe, Shop
from mirvel.web.feeding import get_feed_trouble
from mirvel.web.requests import ShopHere, render
from mirvel.web.working import Desk, DeskHere

router = APIRouter()
PX_PER_MM = 0.56
USUAL_FORM = "all-round dome"
_LARGEST_FILE = 2_000_000


@dataclass(frozen=True)
class StandingView:
    """One recipe on its shelf line, with what moved its money; ``problem`` is set where it cannot be worked out."""

    id: int
    name: str
    svg: Markup
    worked: Worked | None
    causes: tuple[Cause, ...] = ()
    problem: str = ""

    @property
    def is_false(self) -> bool:
        """Whether it has flowers and is not worth its price; an empty one is only not begun."""
        return self.worked is None or (self.worked.money.spent > 0 and not self.worked.money.is_true)


_BROADEST = 8


@dataclass(frozen=True)
class ShelfView:
    """One shelf line: a price point and what stands at it."""

    price_point: Decimal
    standing: tuple[StandingView, ...]

    @property
    def breadth(self) -> str:
        """How much of a row it takes beside others, as its style is named; an empty one takes none."""
        return f"holds-{min(_BROADEST, len(self.standing))}" if self.standing else "bare"


@router.get("/")
def show_shelf(request: Request, shop: ShopHere, desk: DeskHere, flower: str = "") -> Response:
    """All recipes, or those that use a flower whose name holds what was typed."""
    kept = shop.read_recipes()
    if flower.strip():
        using = shop.find_recipes_with(material.slug for material in desk.catalogue.find_materials(flower))
        kept = Kept(tuple(each for each in kept.rows if each.id in using), kept.unreadable)
    return _show(request, shop, desk, kept, flower=flower.strip())


def _show(
    request: Request, shop: Shop, desk: Desk, kept: Kept[SavedRecipe], status: int = 200, **form: object
) -> Response:
    saved = kept.rows
    prices = sorted({*desk.rules.price_points, *(each.recipe.price_point for each in saved)})
    drifts = shop.drifts.load_all()
    standing = [(each.recipe.price_point, _stand(each, desk, drifts.get(each.id))) for each in saved]
    current = {(each.id, each.state_id, desk.costs_version) for each in saved}
    reckoned = {(each.recipe_id, each.state_id, each.costs) for each in drifts.values()}
    reckoning = not current <= reckoned
    if reckoning:
        request.app.state.drifter.poke()
    shelves = [ShelfView(price, tuple(view for at, view in standing if at == price)) for price in prices]
    usual = desk.get_vessels(USUAL_FORM)
    context: dict[str, object] = {
        "typed": {},
        "usual_container": usual[0].slug if usual else "",
        "problems": (),
        "file_problems": (),
        "flower": "",
        "unreadable": kept.unreadable,
        "troubles": desk.troubles,
        "count": len(saved),
        "false_count": sum(view.is_false for _, view in standing),
        "reckoning": reckoning,
        "feed_trouble": get_feed_trouble(shop),
        **form,
    }
    return render(
        request, "shelf/shelf.html", status, shelves=shelves, rules=desk.rules, mechanics=list(Mechanics),
        containers=desk.get_all_vessels(), forms=list(FORMS.values()), **context,
    )  # fmt: skip


def _stand(saved: SavedRecipe, desk: Desk, drift: SavedDrift | None) -> StandingView:
    try:
        worked = desk.work_out(saved.recipe)
    except MirvelError as error:
        return StandingView(saved.id, saved.recipe.name, Markup(""), None, problem=str(error))
    drawing: Drawing = desk.keep(
        f"standing {saved.id}", saved.recipe, lambda: draw_standing(worked.build, Style(prefix=f"r{saved.id}-"))
    )
    size = {"width": f"{drawing.width_mm * PX_PER_MM:.1f}", "height": f"{drawing.height_mm * PX_PER_MM:.1f}"}
    now = (saved.state_id, desk.costs_version)
    causes = get_culprits(drift.causes, drift.room_left) if drift and (drift.state_id, drift.costs) == now else ()
    return StandingView(saved.id, saved.recipe.name, drawing.to_svg(**size), worked, causes)


@router.post("/recipes")
def begin_recipe(
    request: Request,
    shop: ShopHere,
    desk: DeskHere,
    name: Annotated[str, Form()] = "",
    price_point: Annotated[str, Form()] = "",
    container: Annotated[str, Form()] = "",
    mechanics: Annotated[str, Form()] = Mechanics.TAPE_GRID,
    form: Annotated[str, Form()] = USUAL_FORM,
    once: Annotated[str, Form()] = "",
) -> Response:
    """A new recipe from a name, a price point and a container; goes on to its Table."""
    typed = {"name": name, "price_point": price_point, "container": container, "mechanics": mechanics, "form": form}
    try:
        recipe = _begin(typed, desk.catalogue)
    except BadInput as error:
        return _show(request, shop, desk, shop.read_recipes(), 422, typed=typed, problems=error.problems)
    return RedirectResponse(f"/table/{_add(shop, desk, recipe, once)}", status_code=303)


def _add(shop: Shop, desk: Desk, recipe: Recipe, key: str) -> int:
    return shop.add_recipe(recipe, get_costs(recipe, desk.catalogue), key=key).id


def _begin(typed: dict[str, str], catalogue: Catalogue) -> Recipe:
    """An empty recipe from what was typed. Raises BadInput."""
    name = typed["name"].strip()
    if not name:
        raise BadInput(Problem("name", "is empty.", "Give the recipe a name, such as the family’s and its price."))
    family = "".join(letter if letter.isalnum() and letter.isascii() else "-" for letter in name.lower()).strip(
        "-0123456789 "
    )
    try:
        recipe = Recipe.model_validate({**typed, "name": name, "family": family[:60] or "unnamed"})
        recipe = recipe.change(size={"rule": FORMS[recipe.form].rule.model_dump()})
    except ValidationError as error:
        raise BadInput(*get_problems(error)) from None
    return set_container(recipe, catalogue, recipe.container).recipe


@router.post("/recipes/file")
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
        return _show(request, shop, desk, shop.read_recipes(), 422, file_problems=error.problems)
    return RedirectResponse(f"/table/{_add(shop, desk, recipe, once)}", status_code=303)


def _read(content: bytes) -> Recipe:
    if len(content) > _LARGEST_FILE:
        raise BadInput(Problem("the file", "it is larger than 2 MB, so it is no recipe.", "Choose another file."))
    try:
        return read_recipe_file(content.decode("utf-8")).recipe
    except UnicodeDecodeError:
        raise BadInput(Problem("the file", "it is not text.", "Choose a file that was exported as a recipe.")) from None
