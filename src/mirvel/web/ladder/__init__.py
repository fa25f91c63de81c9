"""**Ladder**: one design at several price points side by side, solved together; a rung's counts can be held, its vessel
or height stepped, and all rungs kept as drafts. A climb goes on when its page is left, and is found again."""

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from urllib.parse import urlencode

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse
from markupsafe import Markup

from mirvel.core.changing.changes import set_container
from mirvel.core.fit.fitting import CannotFit, set_price
from mirvel.core.fit.ladder import Ladder, climb
from mirvel.core.pricing.drift import get_costs
from mirvel.core.pricing.repricing import format_point, get_stem
from mirvel.core.recipe.entry import Entry
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.values.problems import BadInput, Problem
from mirvel.core.values.reading import read_amount
from mirvel.core.working import Worked
from mirvel.store.shop import SavedRecipe, Worth
from mirvel.store.stale import StaleState
from mirvel.web.drawings import draw_beside
from mirvel.web.requests import RecipeId, ShopHere, TypedHere, render
from mirvel.web.table.fitting import get_name, name_question
from mirvel.web.tasks import Task, Tasks
from mirvel.web.working import Desk, DeskHere

router = APIRouter(prefix="/ladder/{recipe_id}")
MOST_RUNGS = 8
_USUAL_RUNGS = 4
_DEAREST = Decimal(100_000)


@dataclass(frozen=True)
class RungView:
    """One rung: its recipe worked out and drawn, and what its customer gets for the money."""

    recipe: Recipe
    worked: Worked
    svg: Markup
    stems: int
    stems_for_ten: str
    cover: float


@dataclass(frozen=True)
class CountsView:
    """One entry's pieces up the ladder, with how many more than the rung below, and where they are held."""

    entry: Entry
    name: str
    counts: tuple[tuple[int, int, bool], ...]


@dataclass(frozen=True)
class LadderView:
    """A climbed ladder; ``cannot`` says why where there is none."""

    ladder: Ladder | None
    rungs: tuple[RungView, ...] = ()
    entries: tuple[CountsView, ...] = ()
    cannot: CannotFit | None = None


@dataclass(frozen=True)
class Climbing:
    """A climb that is not done: where it is reached, and how many asked for before it are not done either."""

    address: str
    before: int


@router.get("")
def show_ladder(request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere) -> Response:
    """What to climb and, once asked, the rungs."""
    return _show(request, shop.load_recipe(recipe_id), desk, dict(request.query_params))


def _show(request: Request, saved: SavedRecipe, desk: Desk, typed: Mapping[str, str], said: str = "") -> Response:
    found: LadderView | Climbing | None = None
    problems: tuple[Problem, ...] = ()
    status = 409 if said else 200
    if "prices" in typed:
        try:
            found = _get_view(saved, desk, typed, request.app.state.tasks)
        except BadInput as error:
            problems, status = error.problems, 422
    prices = typed.get("prices") or ", ".join(str(price) for price in _get_usual_prices(saved.recipe, desk))
    climbing, found = (found, None) if isinstance(found, Climbing) else (None, found)
    last = None if "prices" in typed else request.app.state.tasks.find_last(_get_address(saved))
    return render(
        request, "ladder/ladder.html", status, view=saved, found=found, climbing=climbing, last=last, problems=problems,
        prices=prices, typed=typed, vessels=desk.get_vessels(saved.recipe.form, saved.recipe.container),
        rules=desk.rules, said=said,
    )  # fmt: skip


@router.post("/publish")
def publish(request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere, typed: TypedHere) -> Response:
    """Every rung as a recipe, all or none: a change of the family’s recipe at that price where there is one."""
    saved = shop.load_recipe(recipe_id)
    try:
        ladder = _climb(_get_rungs(saved.recipe, desk, typed), desk, name_question(saved.id))
    except (BadInput, CannotFit):
        return _show(request, saved, desk, typed)
    family = {each.recipe.price_point: each for each in shop.read_recipes(saved.recipe.family).rows}
    family[saved.recipe.price_point] = saved
    rungs = []
    for fitted in ladder.rungs:
        recipe = _name_rung(desk.carry(saved.recipe, fitted.recipe), saved)
        worth = Worth(recipe, get_costs(recipe, desk.catalogue), is_true=fitted.money.is_true)
        rungs.append((family.get(recipe.price_point), worth))
    try:
        shop.save_rungs(rungs, change=f"a rung of the ladder of {saved.recipe.name}"[:200])
    except StaleState as error:
        return _show(request, saved, desk, typed, said=str(error))
    return RedirectResponse(f"/publish?family={saved.recipe.family}", status_code=303)


def _name_rung(rung: Recipe, saved: SavedRecipe) -> Recipe:
    """The rung under the family's name and its own price, its entries no longer held."""
    stem = get_stem(saved.recipe.name, saved.recipe.price_point)
    entries = [
        {**entry.model_dump(), "locked": bool(own and own.locked)}
        for entry in rung.entries
        for own in [saved.recipe.find_entry(entry.id)]
    ]
    return rung.change(name=f"{stem} {format_point(rung.price_point)}", entries=entries)


def _get_usual_prices(recipe: Recipe, desk: Desk) -> list[Decimal]:
    """This recipe's price and the house's next ones up."""
    above = [price for price in sorted(desk.rules.price_points) if price > recipe.price_point]
    return [recipe.price_point, *above][:_USUAL_RUNGS]


def _get_rungs(recipe: Recipe, desk: Desk, typed: Mapping[str, str]) -> tuple[Recipe, ...]:
    """The recipe at each price typed, in its rung's vessel and at its height, with what is held. Raises BadInput."""
    rungs = []
    for number, price in enumerate(_read_prices(typed.get("prices", ""))):
        rung = set_price(desk.begin(recipe), price)
        if typed.get(f"vessel{number}"):
            rung = set_container(rung, desk.catalogue, typed[f"vessel{number}"]).recipe
        if typed.get(f"height{number}"):
            size = rung.size.model_dump()
            rung = rung.change(size={**size, "rule": {**size["rule"], "factor": typed[f"height{number}"]}})
        held = {entry.id: typed.get(f"held{number}-{entry.id}", "").strip() for entry in rung.entries}
        entries = [
            {**entry.model_dump(), "pieces": held[entry.id], "locked": True, "pins": ()} if held[entry.id] else entry
            for entry in rung.entries
        ]
        rungs.append(rung.change(entries=entries))
    return tuple(rungs)


def _read_prices(text: str) -> list[Decimal]:
    parts = text.replace(",", " ").replace(";", " ").split()
    prices = sorted({read_amount(part, "prices", most=_DEAREST, places=2, example="42") for part in parts[:50]})
    if not 2 <= len(prices) <= MOST_RUNGS or not prices[0]:
        mend = f"Type two to {MOST_RUNGS} prices with commas between, such as 42, 58, 75."
        raise BadInput(Problem("prices", f"“{text[:60]}” is not a run of price points.", mend))
    return prices


def _climb(rungs: tuple[Recipe, ...], desk: Desk, asker: str) -> Ladder:
    names = " ".join(rung.model_dump_json() for rung in rungs[1:])
    return desk.keep_at_costs(
        f"ladder {names}", rungs[0], lambda: desk.workers.slow.ask(asker, climb, rungs, desk.catalogue, desk.rules)
    )


def _get_address(saved: SavedRecipe, typed: Mapping[str, str] | None = None) -> str:
    """Where a climb is reached; what every climb of the recipe begins with, where nothing is typed."""
    return f"/ladder/{saved.id}?{urlencode(typed or {})}"


def _get_view(saved: SavedRecipe, desk: Desk, typed: Mapping[str, str], tasks: Tasks) -> LadderView | Climbing:
    rungs = _get_rungs(saved.recipe, desk, typed)
    key = ("climb", desk.costs, *(rung.model_dump_json() for rung in rungs))

    def climb_now(task: Task) -> Ladder:
        return _climb(rungs, desk, name_question(saved.id))

    task = tasks.ask(key, _get_address(saved, typed), climb_now)
    if not task.is_done:
        return Climbing(task.address, tasks.count_before(task))
    try:
        ladder: Ladder = task.answer.result()
    except CannotFit as error:
        return LadderView(None, cannot=error)
    views = []
    for fitted in ladder.rungs:
        recipe = desk.carry(saved.recipe, fitted.recipe)
        worked = desk.work_out(recipe)
        svg = draw_beside(worked)
        for_ten = f"{fitted.get_stems_for(Decimal(10)):.1f}"
        views.append(RungView(recipe, worked, svg, fitted.stems, for_ten, worked.build.sizing.fullness))
    return LadderView(ladder, tuple(views), _get_counts(ladder, desk, typed))


def _get_counts(ladder: Ladder, desk: Desk, typed: Mapping[str, str]) -> tuple[CountsView, ...]:
    found = []
    for entry in ladder.rungs[-1].recipe.entries:
        counts, below = [], 0
        for number, fitted in enumerate(ladder.rungs):
            pieces = fitted.counts.get(entry.id, 0)
            held = bool(typed.get(f"held{number}-{entry.id}", "").strip())
            counts.append((pieces, pieces - below if number else 0, held))
            below = pieces
        found.append(CountsView(entry, get_name(entry, desk), tuple(counts)))
    return tuple(found)
