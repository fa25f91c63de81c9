"""Filling the sheets of a card: what a page needs of the app, and the pages themselves, as HTML or printed."""

from bisect import bisect_left
from collections.abc import Mapping
from dataclasses import dataclass
from hashlib import sha256

from fastapi import Request, Response
from jinja2 import Environment, Template
from markupsafe import Markup

from mirvel.core.card.cutting_plan import get_shared_stems
from mirvel.core.card.steps import get_set_up
from mirvel.drawing.qr import draw_qr
from mirvel.store.shop import SavedRecipe
from mirvel.web.card.making import get_making_views, get_set_up_figures
from mirvel.web.card.printing import SIZES_MM, Printed, Printing
from mirvel.web.card.view import DENSITIES, CardView, Density, Ink, get_card_view
from mirvel.web.requests import get_file_name
from mirvel.web.working import Desk

_NONE: Mapping[str, str] = {}
CODE_MM = 17.0  # half a millimetre to a module


@dataclass(frozen=True)
class Press:
    """What pages are printed with: the templates, the mark of styles that may apply, and the address that codes lead
    to."""

    env: Environment
    nonce: str
    root: str


def get_press(request: Request) -> Press:
    """The press as a request finds it."""
    root = request.app.state.settings.address or str(request.base_url)
    return Press(request.app.state.templates.env, request.state.nonce, root.rstrip("/"))


def get_code(press: Press, printed: Printed) -> Markup:
    """The address of a standard as a code that a phone reads; nothing for a draft, which changes."""
    if printed.standard is None:
        return Markup()
    number = printed.standard.number
    address = f"{press.root}/card/{printed.saved.id}?standard={number}"
    return draw_qr(address, f"Standard {number}: {address}", CODE_MM)


def print_one(press: Press, printed: Printed, printing: Printing) -> bytes:
    """A card as a PDF of the paper's true size."""
    page, view = fill_card(press, printed, printing, is_printed=True)
    return print_page(printed, "card", page, {name: str(figure.svg) for name, figure in view.figures.items()})


def print_page(printed: Printed, what: str, page: str, pictures: Mapping[str, str] = _NONE) -> bytes:
    """A page about a recipe as a PDF of its paper's true size, printed once as long as it is the same."""
    from mirvel.web.pdf import make_pdf  # slow to import, wanted only here

    desk = printed.desk
    return desk.keep(
        f"{what} pdf {sha256(page.encode()).hexdigest()}",
        printed.saved.recipe,
        lambda: desk.workers.slow.ask(what, make_pdf, page, pictures),
    )


def send_pdf(printed: Printed, what: str, pdf: bytes) -> Response:
    """A print under the name of its recipe and what it is of it."""
    disposition = f'inline; filename="{get_file_name(printed.saved.recipe.name)}-{what}.pdf"'
    return Response(pdf, media_type="application/pdf", headers={"Content-Disposition": disposition})


def fill_making(
    press: Press, printed: Printed, printing: Printing, *, is_printed: bool = False
) -> tuple[str, Mapping[str, str]]:
    """The making pages, and the drawings on them by name."""
    saved, desk, (width, height) = printed.saved, printed.desk, SIZES_MM[printing.paper]
    worked = desk.work_out(saved.recipe)
    views = desk.keep(
        f"making {printing.ink}",
        saved.recipe,
        lambda: desk.workers.slow.ask("making pages", get_making_views, worked, printing.ink),
    )
    set_up = desk.keep(f"set-up {printing.ink}", saved.recipe, lambda: get_set_up_figures(worked, printing.ink))
    template = press.env.get_template("card/making.html")
    page: str = template.render(
        rules=desk.rules, size=f"{width}mm {height}mm", printing=is_printed, number=saved.id, worked=worked,
        views=views, set_up=get_set_up(worked), set_up_figures=set_up, grey=printing.ink is Ink.GREY,
        stems=get_shared_stems(worked.build), standing=printed.words,
        nonce=press.nonce, code=get_code(press, printed),
    )  # fmt: skip
    pictures = {f"set-up-{at}": str(figure.svg) for at, figure in enumerate(set_up)}
    for view in views:
        own = len(view.making.before)
        pictures |= {f"{at}-{own}": str(figure.svg) for at, figure in enumerate(view.figures)}
    return page, pictures


def fill_card(press: Press, printed: Printed, printing: Printing, *, is_printed: bool = False) -> tuple[str, CardView]:
    """The card's page, as dense as it must be to stay on one sheet, and what it shows."""
    template = press.env.get_template("card/sheet.html")
    saved, desk, (width, height) = printed.saved, printed.desk, SIZES_MM[printing.paper]
    context = {
        "rules": desk.rules, "size": f"{width}mm {height}mm", "printing": is_printed, "state": saved.state_id,
        "number": saved.id, "measuring": False, "nonce": press.nonce, "printed": printed,
        "code": get_code(press, printed),
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
