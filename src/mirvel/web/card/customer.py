"""What a customer gets to see or to take home: the counter sheet, and slips that say how a piece is kept."""

from fastapi import APIRouter, Request, Response

from mirvel.core.card.customer import get_care, get_offered, get_warnings
from mirvel.core.recipe.taking import take
from mirvel.drawing.sheet import draw_standing
from mirvel.web.card.printing import SIZES_MM, Printed, Printing, PrintingHere, load_printed
from mirvel.web.card.sheets import get_press, print_page, send_pdf
from mirvel.web.card.view import Figure, Ink, place_figure
from mirvel.web.requests import RecipeId, ShopHere
from mirvel.web.working import Desk, DeskHere

router = APIRouter()
_PICTURE_MM = (150.0, 108.0)  # across and high, of the counter sheet
_SLIP_MARGIN_MM = 9.0


@router.get("/counter.pdf")
def print_counter_sheet(
    request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere, printing: PrintingHere
) -> Response:
    """The piece as it is shown to a customer: picture, size, price, what is in it by the season; no counts."""
    printed = load_printed(shop, desk, recipe_id, printing)
    figure = printed.desk.keep("counter picture", printed.saved.recipe, lambda: _draw(printed))
    month = shop.get_today().month
    return _print(request, desk, printed, printing, "counter", {"figure": figure, "month": month}, figure)


@router.get("/slips.pdf")
def print_slips(
    request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere, printing: PrintingHere
) -> Response:
    """Four slips to a sheet that go with the piece: how it is kept, and what may hurt somebody."""
    printed = load_printed(shop, desk, recipe_id, printing)
    width, height = SIZES_MM[printing.paper]
    across, down = width / 2 - 2 * _SLIP_MARGIN_MM, height / 2 - 2 * _SLIP_MARGIN_MM
    return _print(request, desk, printed, printing, "slips", {"across": across, "down": down})


def _draw(printed: Printed) -> Figure:
    drawing = draw_standing(printed.desk.work_out(printed.saved.recipe).build)
    across, high = _PICTURE_MM
    return place_figure(drawing, min(across / drawing.width_mm, high / drawing.height_mm))


def _print(
    request: Request,
    desk: Desk,
    printed: Printed,
    printing: Printing,
    what: str,
    context: dict[str, object],
    figure: Figure | None = None,
) -> Response:
    recipe, (width, height) = printed.saved.recipe, SIZES_MM[printing.paper]
    worked, taken = printed.desk.work_out(recipe), take(recipe, printed.desk.catalogue)
    page = get_press(request).env.get_template(f"card/{what}.html").render(
        worked=worked, recipe=recipe, rules=printed.desk.rules, printed=printed, size=f"{width}mm {height}mm",
        offered=get_offered(worked, taken, desk.catalogue), care=get_care(worked),
        warnings=get_warnings(worked, taken), grey=printing.ink is Ink.GREY, **context,
    )  # fmt: skip
    return send_pdf(printed, what, print_page(printed, what, page, {"piece": str(figure.svg)} if figure else {}))
