"""Two small cards to a sheet, for the hand that has made the piece before: its picture, counts and cuts."""

from hashlib import sha256

from fastapi import APIRouter, Request, Response
from jinja2 import Template

from mirvel.drawing.sheet import Style, draw
from mirvel.drawing.view import View
from mirvel.web.card.printing import SIZES_MM, Printed, PrintingHere, load_printed
from mirvel.web.card.sheets import get_code, get_press, print_page, send_pdf
from mirvel.web.card.view import TEXT_MM, Figure, Ink, get_lines, place_figure
from mirvel.web.requests import RecipeId, ShopHere
from mirvel.web.working import DeskHere

router = APIRouter()
_PICTURE_MM = (78.0, 104.0)  # across and high
TYPES_PT = (8.4, 7.6, 7.0)


@router.get("/small.pdf")
def print_small_cards(
    request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere, printing: PrintingHere
) -> Response:
    """The same small card twice on one sheet, to be cut in two."""
    printed, (width, height) = load_printed(shop, desk, recipe_id, printing), SIZES_MM[printing.paper]
    worked, press = printed.desk.work_out(printed.saved.recipe), get_press(request)
    figure = printed.desk.keep(
        f"small picture {printing.ink}", printed.saved.recipe, lambda: _draw(printed, printing.ink)
    )
    context = {
        "worked": worked, "recipe": worked.recipe, "rules": printed.desk.rules, "printed": printed, "figure": figure,
        "lines": get_lines(worked, printing.ink), "code": get_code(press, printed),
        "size": f"{width}mm {height}mm", "high": height / 2,
    }  # fmt: skip
    template = press.env.get_template("card/small.html")
    page = printed.desk.keep(
        f"small {sha256(template.render(context, type_pt=TYPES_PT[0]).encode()).hexdigest()}",
        printed.saved.recipe,
        lambda: _fill(printed, template, context),
    )
    return send_pdf(printed, "small", print_page(printed, "small", page, {"piece": str(figure.svg)}))


def _fill(printed: Printed, template: Template, context: dict[str, object]) -> str:
    """The page in the largest type in which both cards stand on one sheet; in the smallest, each on its own."""
    from mirvel.web.pdf import count_pages  # slow to import, wanted only here

    page = ""
    for type_pt in TYPES_PT:
        page = template.render(context, type_pt=type_pt)
        bare = page.replace('<img src="picture:piece"', "<img")  # its box is as large without what is in it
        if printed.desk.workers.slow.ask("small cards", count_pages, bare) == 1:
            break
    return page


def _draw(printed: Printed, ink: Ink) -> Figure:
    build, (across, high) = printed.desk.work_out(printed.saved.recipe).build, _PICTURE_MM
    grey, text_mm, scale = ink is Ink.GREY, TEXT_MM * 4, 1.0
    for _ in range(2):  # the paper about it is as wide as its lettering is large
        drawing = draw(build, View.FRONT, Style(text_mm=text_mm, marked=grey, grey=grey, broken=True))
        scale = min(across / drawing.width_mm, high / drawing.height_mm)
        text_mm = TEXT_MM / scale
    return place_figure(drawing, scale)
