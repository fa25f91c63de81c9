"""**Card**: the recipe on one printed page that another designer can follow. Costs are never on it."""

from enum import StrEnum

from fastapi import APIRouter, Request, Response

from mirvel.store.shop import SavedRecipe
from mirvel.web.card.view import CardView, get_card_view
from mirvel.web.requests import ShopHere, render
from mirvel.web.working import Desk, load_desk

router = APIRouter(prefix="/card/{recipe_id}")


class Paper(StrEnum):
    """What a card is printed on."""

    A4 = "A4"
    LETTER = "letter"


_SIZES_MM = {Paper.A4: (210, 297), Paper.LETTER: (215.9, 279.4)}


@router.get("")
def show_card(request: Request, recipe_id: int, shop: ShopHere, paper: Paper = Paper.A4) -> Response:
    """The card as it will print, with the ways to print it."""
    width, height = _SIZES_MM[paper]
    saved = shop.load_recipe(recipe_id)
    load_desk(shop).work_out(saved.recipe)
    return render(request, "card/show.html", saved=saved, paper=paper, papers=list(Paper), width=width, height=height)


@router.get("/sheet")
def show_sheet(request: Request, recipe_id: int, shop: ShopHere, paper: Paper = Paper.A4) -> Response:
    """The card alone, as a page."""
    return render(request, "card/sheet.html", **_get_context(load_desk(shop), shop.load_recipe(recipe_id), paper, "/static"))


@router.get("/card.pdf")
def print_card(request: Request, recipe_id: int, shop: ShopHere, paper: Paper = Paper.A4) -> Response:
    """The card as a PDF at true paper size."""
    from mirvel.web.card.pdf import STATIC, make_pdf  # slow to import, wanted only here

    saved = shop.load_recipe(recipe_id)
    template = request.app.state.templates.env.get_template("card/sheet.html")
    pdf = make_pdf(template.render(_get_context(load_desk(shop), saved, paper, STATIC.as_uri())))
    name = "".join(letter if letter.isascii() and letter.isalnum() else "-" for letter in saved.recipe.name.lower())
    return Response(pdf, media_type="application/pdf", headers={"Content-Disposition": f'inline; filename="{name}.pdf"'})


def _get_context(desk: Desk, saved: SavedRecipe, paper: Paper, static: str) -> dict[str, object]:
    width, height = _SIZES_MM[paper]
    view: CardView = desk.keep("card", saved.recipe, lambda: get_card_view(desk.work_out(saved.recipe)))
    size = f"{width}mm {height}mm"
    return {"view": view, "rules": desk.rules, "size": size, "static": static, "state": saved.state_id, "number": saved.id}
