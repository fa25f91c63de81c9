"""**Card**: the recipe on one printed page that another designer can follow. Costs are never on it."""

from bisect import bisect_left
from hashlib import sha256

from fastapi import APIRouter, Request, Response
from jinja2 import Template

from mirvel.core.card.gauge import get_columns, get_heights
from mirvel.core.values.problems import BadInput, Problem
from mirvel.drawing.gauge import draw_gauge
from mirvel.store.shop import SavedRecipe
from mirvel.web.card import customer, lists
from mirvel.web.card.making import MakingView, get_making_views
from mirvel.web.card.printing import SIZES_MM, Paper, Printed, Printing, PrintingHere, get_code, load_printed
from mirvel.web.card.view import DENSITIES, CardView, Density, Ink, get_card_view
from mirvel.web.requests import RecipeId, ShopHere, get_file_name, render
from mirvel.web.working import Desk, DeskHere

router = APIRouter(prefix="/card/{recipe_id}")
router.include_router(lists.router)
router.include_router(customer.router)


@router.get("")
def show_card(
    request: Request,
    recipe_id: RecipeId,
    shop: ShopHere,
    desk: DeskHere,
    printing: PrintingHere,
) -> Response:
    """The card as it will print, with the ways to print it."""
    printed = load_printed(shop, desk, recipe_id, printing)
    printed.desk.work_out(printed.saved.recipe)
    return render(
        request,
        "card/show.html",
        saved=printed.saved,
        printed=printed,
        asked=printing.standard,
        paper=printing.paper,
        papers=list(Paper),
        ink=printing.ink,
        inks=list(Ink),
    )


@router.get("/sheet")
def show_sheet(
    request: Request,
    recipe_id: RecipeId,
    shop: ShopHere,
    desk: DeskHere,
    printing: PrintingHere,
) -> Response:
    """The card alone, as a page."""
    page, _ = _fill(request, load_printed(shop, desk, recipe_id, printing), printing)
    return Response(page, media_type="text/html")


@router.get("/card.pdf")
def print_card(
    request: Request,
    recipe_id: RecipeId,
    shop: ShopHere,
    desk: DeskHere,
    printing: PrintingHere,
) -> Response:
    """The card as a PDF of the paper's true size."""
    from mirvel.web.pdf import make_pdf  # slow to import, wanted only here

    printed = load_printed(shop, desk, recipe_id, printing)
    saved = printed.saved
    page, view = _fill(request, printed, printing, is_printed=True)
    pictures = {name: str(figure.svg) for name, figure in view.figures.items()}
    pdf = desk.keep(
        f"pdf {printing.paper} {printing.ink} {sha256(page.encode()).hexdigest()}",
        saved.recipe,
        lambda: desk.workers.slow.ask("a card", make_pdf, page, pictures),
    )
    disposition = f'inline; filename="{get_file_name(saved.recipe.name)}.pdf"'
    return Response(pdf, media_type="application/pdf", headers={"Content-Disposition": disposition})


@router.get("/making")
def show_making(
    request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere, printing: PrintingHere
) -> Response:
    """The making pages alone, as a page: each step drawn large, with its cuts."""
    page, _ = _fill_making(request, load_printed(shop, desk, recipe_id, printing), printing)
    return Response(page, media_type="text/html")


@router.get("/making.pdf")
def print_making(
    request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere, printing: PrintingHere
) -> Response:
    """The same as a PDF of the paper's true size."""
    from mirvel.web.pdf import make_pdf  # slow to import, wanted only here

    printed = load_printed(shop, desk, recipe_id, printing)
    page, views = _fill_making(request, printed, printing, is_printed=True)
    pictures = {
        f"{at}-{len(view.making.before)}": str(figure.svg) for view in views for at, figure in enumerate(view.figures)
    }
    pdf = desk.keep(
        f"making pdf {sha256(page.encode()).hexdigest()}",
        printed.saved.recipe,
        lambda: desk.workers.slow.ask("making pages", make_pdf, page, pictures),
    )
    name = f"{get_file_name(printed.saved.recipe.name)}-making.pdf"
    return Response(pdf, media_type="application/pdf", headers={"Content-Disposition": f'inline; filename="{name}"'})


@router.get("/gauge.pdf")
def print_gauge(
    request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere, printing: PrintingHere
) -> Response:
    """Every cut at its true size, from a base line. Raises BadInput where nothing is cut."""
    from mirvel.web.pdf import make_pdf  # slow to import, wanted only here

    printed, (width, height) = load_printed(shop, desk, recipe_id, printing), SIZES_MM[printing.paper]
    build, name = printed.desk.work_out(printed.saved.recipe).build, printed.saved.recipe.name
    pages = draw_gauge(get_columns(build), get_heights(build), build.rules.unit, (width, height))
    if not pages:
        raise BadInput(Problem("gauge", "has nothing to show: no stem of this recipe is cut.", "Add flowers to it."))
    template = request.app.state.templates.env.get_template("card/gauge.html")
    page = template.render(name=name, standing=printed.words, pages=pages, size=f"{width}mm {height}mm", height=height)
    key = f"gauge {sha256(page.encode()).hexdigest()}"
    pdf = desk.keep(key, printed.saved.recipe, lambda: desk.workers.slow.ask("a gauge", make_pdf, page))
    disposition = f'inline; filename="{get_file_name(name)}-gauge.pdf"'
    return Response(pdf, media_type="application/pdf", headers={"Content-Disposition": disposition})


def _fill_making(
    request: Request, printed: Printed, printing: Printing, *, is_printed: bool = False
) -> tuple[str, tuple[MakingView, ...]]:
    """The making pages, and what they show."""
    saved, desk, (width, height) = printed.saved, printed.desk, SIZES_MM[printing.paper]
    worked = desk.work_out(saved.recipe)
    views = desk.keep("making", saved.recipe, lambda: desk.workers.slow.ask("making pages", get_making_views, worked))
    template = request.app.state.templates.env.get_template("card/making.html")
    page: str = template.render(
        rules=desk.rules, size=f"{width}mm {height}mm", printing=is_printed, number=saved.id, worked=worked,
        views=views, standing=printed.words, nonce=request.state.nonce, code=get_code(request, printed),
    )  # fmt: skip
    return page, views


def _fill(request: Request, printed: Printed, printing: Printing, *, is_printed: bool = False) -> tuple[str, CardView]:
    """The card's page, as dense as it must be to stay on one sheet, and what it shows."""
    template = request.app.state.templates.env.get_template("card/sheet.html")
    saved, desk, (width, height) = printed.saved, printed.desk, SIZES_MM[printing.paper]
    context = {
        "rules": desk.rules, "size": f"{width}mm {height}mm", "printing": is_printed, "state": saved.state_id,
        "number": saved.id, "measuring": False, "nonce": request.state.nonce, "printed": printed,
        "code": get_code(request, printed),
    }  # fmt: skip
    density = desk.keep(
        f"density {printing.paper}", saved.recipe, lambda: _find_density(template, desk, saved, context)
    )
    view = _get_view(desk, saved, density, printing.ink)
    page: str = template.render({**context, "view": view, "density": density})
    return page, view


def _get_view(desk: Desk, saved: SavedRecipe, density: Density, ink: Ink) -> CardView:
    return desk.keep(
        f"card {density} {ink}", saved.recipe, lambda: get_card_view(desk.work_out(saved.recipe), density, ink)
    )


def _find_density(template: Template, desk: Desk, saved: SavedRecipe, context: dict[str, object]) -> Density:
    """The roomiest density that takes one sheet, measured with empty boxes in the drawings' places and the marks of a
    grey card; the tightest where none does. Most take the roomiest, so that it is tried first."""
    from mirvel.web.pdf import count_pages

    def is_enough(density: Density) -> bool:
        view = _get_view(desk, saved, density, Ink.GREY)
        measured = {**context, "view": view, "density": density, "measuring": True, "printing": True}
        return desk.workers.slow.ask("a card", count_pages, template.render(measured)) == 1

    roomiest, *tighter = DENSITIES
    if is_enough(roomiest):
        return roomiest
    return tighter[bisect_left(tighter[:-1], True, key=is_enough)]
