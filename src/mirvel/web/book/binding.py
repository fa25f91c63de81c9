"""Binding a book: every card printed as it is alone, then cover and contents before them and the index behind, with
page numbers on all and marks that a reader jumps by."""

import io
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date

from pypdf import PdfReader, PdfWriter
from pypdf.generic import IndirectObject

from mirvel.core.card.book import Bound, get_contents, get_flower_index, order_for_book
from mirvel.core.values.problems import BadInput, Problem
from mirvel.store.shop import Shop
from mirvel.web.card.printing import SIZES_MM, Printed, Printing, load_printed
from mirvel.web.card.sheets import Press, print_one
from mirvel.web.working import Desk

MOST_BOUND = 120
_COVER_PAGES = 1


@dataclass(frozen=True)
class Mark:
    """A title in the book's outline and its page, counted from 0; ``under`` the price it belongs to."""

    title: str
    page: int
    under: str = ""


def bind_book(
    shop: Shop,
    desk: Desk,
    press: Press,
    chosen: Sequence[tuple[int, int]],
    printing: Printing,
    today: date,
    tell: Callable[[int, int], None],
) -> bytes:
    """The book of some standards, by recipe and number, as a PDF; ``tell`` is told how many cards of how many are
    printed. Raises BadInput where nothing of it can be printed any more."""
    from mirvel.web.pdf import make_pdf  # slow to import, wanted only here

    loaded = [
        load_printed(shop, desk, recipe_id, printing.model_copy(update={"standard": number}))
        for recipe_id, number in chosen
    ]
    if not loaded:
        raise BadInput(Problem("standards", "are missing.", "Tick one or more."))
    order = {id(recipe): at for at, recipe in enumerate(order_for_book(each.saved.recipe for each in loaded))}
    loaded.sort(key=lambda each: order[id(each.saved.recipe)])
    cards = []
    for at, printed in enumerate(loaded):
        tell(at, len(loaded))
        cards.append(print_one(press, printed, printing))
    tell(len(loaded), len(loaded))
    counts = [len(PdfReader(io.BytesIO(card)).pages) for card in cards]
    width, height = SIZES_MM[printing.paper]
    size = f"{width}mm {height}mm"

    def write(template: str, **context: object) -> bytes:
        page = press.env.get_template(f"book/{template}.html").render(size=size, rules=desk.rules, **context)
        return desk.workers.slow.ask("a book", make_pdf, page)

    def write_front(front_pages: int) -> tuple[bytes, list[Bound]]:
        bound = _count_on(loaded, counts, front_pages + 1)
        return write("front", contents=get_contents(bound), count=len(bound), on_day=today), bound

    front, bound = write_front(_COVER_PAGES + 1)
    pages = len(PdfReader(io.BytesIO(front)).pages)
    if pages != _COVER_PAGES + 1:
        front, bound = write_front(pages)
    index = write("index", flowers=get_flower_index(bound, desk.catalogue.get_name))
    total = pages + sum(counts) + len(PdfReader(io.BytesIO(index)).pages)
    numbers = write("numbers", numbers=range(1, total + 1), cover=_COVER_PAGES)
    marks = [
        Mark(f"{each.recipe.name}, standard {each.number}", each.page - 1, f"{desk.rules.currency}{price:f}")
        for price, run in get_contents(bound)
        for each in run
    ]
    return desk.workers.slow.ask("a book", join, [front, *cards, index], numbers, marks)


def _count_on(loaded: Sequence[Printed], counts: Sequence[int], first: int) -> list[Bound]:
    """The standards with the page each begins on."""
    found, page = [], first
    for printed, count in zip(loaded, counts, strict=True):
        found.append(Bound(printed.saved.recipe, printed.standard.number if printed.standard else 0, page))
        page += count
    return found


def join(parts: Sequence[bytes], numbers: bytes, marks: Sequence[Mark]) -> bytes:
    """Parts one after the other, each page with its number laid over it, and an outline."""
    writer = PdfWriter()
    for part in parts:
        writer.append(io.BytesIO(part), import_outline=False)
    for page, number in zip(writer.pages, PdfReader(io.BytesIO(numbers)).pages, strict=True):
        page.merge_page(number)
        page.compress_content_streams()
    parents: dict[str, IndirectObject] = {}
    for mark in marks:
        if mark.under not in parents:
            parents[mark.under] = writer.add_outline_item(title=mark.under, page_number=mark.page)
        writer.add_outline_item(title=mark.title, page_number=mark.page, parent=parents[mark.under])
    writer.compress_identical_objects()
    bound = io.BytesIO()
    writer.write(bound)
    return bound.getvalue()
