"""**Card**: the recipe on one printed page that another designer can follow. Costs are never on it."""

from hashlib import sha256

from fastapi import APIRouter, Request, Response

from mirvel.core.card.gauge import get_columns, get_heights
from mirvel.core.values.problems import BadInput, Problem
from mirvel.drawing.gauge import draw_gauge
from mirvel.web.card import customer, lists
from mirvel.web.card.printing import SIZES_MM, Paper, PrintingHere, load_printed
from mirvel.web.card.sheets import fill_card, fill_making, get_press, print_one
from mirvel.web.card.view import Ink
from mirvel.web.requests import RecipeId, ShopHere, get_file_name, render
from mirvel.web.working import DeskHere

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
    page, _ = fill_card(get_press(request), load_printed(shop, desk, recipe_id, printing), printing)
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
    printed = load_printed(shop, desk, recipe_id, printing)
    pdf = print_one(get_press(request), printed, printing)
    disposition = f'inline; filename="{get_file_name(printed.saved.recipe.name)}.pdf"'
    return Response(pdf, media_type="application/pdf", headers={"Content-Disposition": disposition})


@router.get("/making")
def show_making(
    request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere, printing: PrintingHere
) -> Response:
    """The making pages alone, as a page: each step drawn large, with its cuts."""
    page, _ = fill_making(get_press(request), load_printed(shop, desk, recipe_id, printing), printing)
    return Response(page, media_type="text/html")


@router.get("/making.pdf")
def print_making(
    request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere, printing: PrintingHere
) -> Response:
    """The same as a PDF of the paper's true size."""
    from mirvel.web.pdf import make_pdf  # slow to import, wanted only here

    printed = load_printed(shop, desk, recipe_id, printing)
    page, views = fill_making(get_press(request), printed, printing, is_printed=True)
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
