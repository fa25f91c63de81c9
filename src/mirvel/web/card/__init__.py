"""**Card**: the recipe on one printed page that another designer can follow. Costs are never on it."""

from collections.abc import Sequence

from fastapi import APIRouter, Request, Response
from markupsafe import Markup

from mirvel.core.card.gauge import get_columns, get_heights
from mirvel.core.card.template import find_template
from mirvel.core.values.problems import BadInput, Problem
from mirvel.drawing.gauge import draw_gauge
from mirvel.drawing.template import draw_template
from mirvel.web.card import customer, lists, small
from mirvel.web.card.printing import SIZES_MM, Paper, Printed, Printing, PrintingHere, load_printed
from mirvel.web.card.sheets import fill_card, fill_making, get_press, print_one, print_page, send_pdf
from mirvel.web.card.view import Ink
from mirvel.web.requests import RecipeId, ShopHere, render
from mirvel.web.working import DeskHere

router = APIRouter(prefix="/card/{recipe_id}")
router.include_router(lists.router)
router.include_router(customer.router)
router.include_router(small.router)


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
    build = printed.desk.work_out(printed.saved.recipe).build
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
        has_template=find_template(build) is not None,
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
    return send_pdf(printed, "card", print_one(get_press(request), printed, printing))


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
    printed = load_printed(shop, desk, recipe_id, printing)
    page, pictures = fill_making(get_press(request), printed, printing, is_printed=True)
    return send_pdf(printed, "making", print_page(printed, "making", page, pictures))


@router.get("/gauge.pdf")
def print_gauge(
    request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere, printing: PrintingHere
) -> Response:
    """Every cut at its true size, from a base line. Raises BadInput where nothing is cut."""
    printed = load_printed(shop, desk, recipe_id, printing)
    build = printed.desk.work_out(printed.saved.recipe).build
    pages = draw_gauge(get_columns(build), get_heights(build), build.rules.unit, SIZES_MM[printing.paper])
    if not pages:
        raise BadInput(Problem("gauge", "has nothing to show: no stem of this recipe is cut.", "Add flowers to it."))
    said = [
        f"cutting gauge, {at} of {len(pages)} · measured to the base of the head, of spikes and leaves to the tip"
        for at in range(1, len(pages) + 1)
    ]
    return _print_true_size(request, printed, printing, "gauge", list(zip(pages, said, strict=True)))


@router.get("/template.pdf")
def print_template(
    request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere, printing: PrintingHere
) -> Response:
    """Foam with every hole, or a mouth with its tape grid, at its true size. Raises BadInput where there is neither."""
    printed = load_printed(shop, desk, recipe_id, printing)
    build = printed.desk.work_out(printed.saved.recipe).build
    template = find_template(build)
    if template is None:
        held = f"cannot be of a piece that is held by {build.recipe.mechanics.value}."
        raise BadInput(Problem("template", held, "Templates are of foam and of tape grids."))
    pages = [
        (page, f"{template.what}, 1 : 1{f', {name}' if name else ''} · {template.how}")
        for page, name in draw_template(template, build.rules.unit, SIZES_MM[printing.paper])
    ]
    return _print_true_size(request, printed, printing, "template", pages)


def _print_true_size(
    request: Request, printed: Printed, printing: Printing, what: str, pages: Sequence[tuple[Markup, str]]
) -> Response:
    """Pages at their true size, each with the piece's name, its standing and what is said of it."""
    width, height = SIZES_MM[printing.paper]
    page = get_press(request).env.get_template("card/true_size.html").render(
        name=printed.saved.recipe.name, what=what, standing=printed.words, pages=pages,
        size=f"{width}mm {height}mm", height=height,
    )  # fmt: skip
    return send_pdf(printed, what, print_page(printed, what, page))
