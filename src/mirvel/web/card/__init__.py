"""**Card**: the recipe on one printed page that another designer can follow. Costs are never on it."""

from bisect import bisect_left
from enum import StrEnum
from typing import Annotated

from fastapi import APIRouter, Depends, Request, Response
from jinja2 import Template
from pydantic import BaseModel

from mirvel.store.shop import SavedRecipe
from mirvel.web.card.view import DENSITIES, CardView, Density, Ink, get_card_view
from mirvel.web.requests import RecipeId, ShopHere, get_file_name, render
from mirvel.web.working import Desk, DeskHere

router = APIRouter(prefix="/card/{recipe_id}")


class Paper(StrEnum):
    """What a card is printed on."""

    A4 = "A4"
    LETTER = "letter"


class Printing(BaseModel):
    """How a card is printed."""

    paper: Paper = Paper.A4
    ink: Ink = Ink.COLOUR


PrintingHere = Annotated[Printing, Depends()]
_SIZES_MM = {Paper.A4: (210, 297), Paper.LETTER: (215.9, 279.4)}


@router.get("")
def show_card(
    request: Request,
    recipe_id: RecipeId,
    shop: ShopHere,
    desk: DeskHere,
    printing: PrintingHere,
) -> Response:
    """The card as it will print, with the ways to print it."""
    saved = shop.load_recipe(recipe_id)
    desk.work_out(saved.recipe)
    return render(
        request,
        "card/show.html",
        saved=saved,
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
    page, _ = _fill(request, desk, shop.load_recipe(recipe_id), printing)
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

    saved = shop.load_recipe(recipe_id)
    page, view = _fill(request, desk, saved, printing, is_printed=True)
    pictures = {name: str(figure.svg) for name, figure in view.figures.items()}
    pdf = desk.keep(
        f"pdf {printing.paper} {printing.ink} {saved.state_id}",
        saved.recipe,
        lambda: desk.workers.slow.ask("a card", make_pdf, page, pictures),
    )
    disposition = f'inline; filename="{get_file_name(saved.recipe.name)}.pdf"'
    return Response(pdf, media_type="application/pdf", headers={"Content-Disposition": disposition})


def _fill(
    request: Request, desk: Desk, saved: SavedRecipe, printing: Printing, *, is_printed: bool = False
) -> tuple[str, CardView]:
    """The card's page, as dense as it must be to stay on one sheet, and what it shows."""
    template = request.app.state.templates.env.get_template("card/sheet.html")
    width, height = _SIZES_MM[printing.paper]
    context = {
        "rules": desk.rules, "size": f"{width}mm {height}mm", "printing": is_printed, "state": saved.state_id,
        "number": saved.id, "measuring": False, "nonce": request.state.nonce,
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
