"""The lists for the bench: what is pulled, counted out and set up for so many of a recipe."""

from typing import Annotated

from fastapi import APIRouter, Depends, Query, Request, Response

from mirvel.core.card.days import get_life
from mirvel.core.card.lists import MOST_MADE, BenchLists, check_quantity, get_bench_lists
from mirvel.core.recipe.taking import take
from mirvel.core.values.problems import BadInput, Problem
from mirvel.store.shop import Shop
from mirvel.web.card.printing import SIZES_MM, Paper, Printed, PrintingHere, load_printed
from mirvel.web.card.sheets import get_press, print_page, send_pdf
from mirvel.web.requests import RecipeId, ShopHere, render
from mirvel.web.working import DeskHere

router = APIRouter()
_LABELS, _MARGIN_MM = (3, 8), 8.0  # across a sheet and down it


def _read_quantity(quantity: Annotated[str, Query(max_length=40)] = "1") -> int:
    """How many are made. Raises BadInput."""
    text = quantity.strip() or "1"
    if not (text.isascii() and text.isdecimal() and len(text) < 6):
        raise BadInput(Problem("how many", f"“{text[:20]}” is not a number.", f"Type 1 to {MOST_MADE}."))
    return int(text)


ManyHere = Annotated[int, Depends(_read_quantity)]


@router.get("/lists")
def show_lists(
    request: Request,
    recipe_id: RecipeId,
    shop: ShopHere,
    desk: DeskHere,
    printing: PrintingHere,
    quantity: ManyHere,
) -> Response:
    """The lists on the screen, with the ways to print them."""
    printed = load_printed(shop, desk, recipe_id, printing)
    return render(
        request,
        "card/lists.html",
        saved=printed.saved,
        printed=printed,
        asked=printing.standard,
        papers=list(Paper),
        lists=_get_lists(shop, printed, quantity),
        most=MOST_MADE,
    )


@router.get("/lists.pdf")
def print_lists(
    request: Request,
    recipe_id: RecipeId,
    shop: ShopHere,
    desk: DeskHere,
    printing: PrintingHere,
    quantity: ManyHere,
) -> Response:
    """The same as a PDF of the paper's true size."""
    printed, (width, height) = load_printed(shop, desk, recipe_id, printing), SIZES_MM[printing.paper]
    page = get_press(request).env.get_template("card/lists_sheet.html").render(
        name=printed.saved.recipe.name, printed=printed, rules=printed.desk.rules,
        lists=_get_lists(shop, printed, quantity), size=f"{width}mm {height}mm", on_day=shop.get_today(),
    )  # fmt: skip
    return send_pdf(printed, "lists", print_page(printed, "lists", page))


@router.get("/labels.pdf")
def print_labels(
    request: Request,
    recipe_id: RecipeId,
    shop: ShopHere,
    desk: DeskHere,
    printing: PrintingHere,
    quantity: ManyHere,
) -> Response:
    """A label for each of so many: what it is, which of them, and room for who made it. Raises BadInput."""
    printed, (width, height) = load_printed(shop, desk, recipe_id, printing), SIZES_MM[printing.paper]
    check_quantity(quantity)
    worked, (across, down) = printed.desk.work_out(printed.saved.recipe), _LABELS
    page = get_press(request).env.get_template("card/labels.html").render(
        recipe=printed.saved.recipe, printed=printed, worked=worked, rules=printed.desk.rules, quantity=quantity,
        life=get_life(worked.build), size=f"{width}mm {height}mm", width=width, margin=_MARGIN_MM,
        across=(width - 2 * _MARGIN_MM) / across, down=(height - 2 * _MARGIN_MM) / down, each_sheet=across * down,
    )  # fmt: skip
    return send_pdf(printed, "labels", print_page(printed, "labels", page))


def _get_lists(shop: Shop, printed: Printed, quantity: int) -> BenchLists:
    desk, recipe = printed.desk, printed.saved.recipe
    stock = {(slug, colour): stems for slug, colour, stems in shop.goods.load_all_stock()}
    return get_bench_lists(desk.work_out(recipe), take(recipe, desk.catalogue), quantity, stock)
