"""**Book**: any selection of the standards in force as one PDF, with cover, contents and an index of flowers; bound in
the background, and found again."""

from collections.abc import Mapping
from uuid import uuid4

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse

from mirvel.core.forms.kinds import FORMS
from mirvel.core.values.problems import BadInput, Problem
from mirvel.store.standards import InForce
from mirvel.web.book.binding import MOST_BOUND, bind_book
from mirvel.web.card.printing import Paper, Printing
from mirvel.web.card.sheets import get_press
from mirvel.web.card.view import Ink
from mirvel.web.requests import ShopHere, Typed, TypedHere, read_number, render
from mirvel.web.tasks import Task, Tasks
from mirvel.web.working import DeskHere

router = APIRouter(prefix="/book")
_PROGRESS = "/book/made"


@router.get("")
def show_choice(request: Request, shop: ShopHere, desk: DeskHere, q: str = "", form: str = "") -> Response:
    """The standards in force, or those looked for, to choose from."""
    return _show(request, shop, desk, q[:100], form, {})


@router.post("")
def bind(request: Request, shop: ShopHere, desk: DeskHere, typed: TypedHere) -> Response:
    """Begin to bind those that were chosen."""
    try:
        chosen = _read_chosen(typed)
        paper, ink = Paper(typed.get("paper", Paper.A4)), Ink(typed.get("ink", Ink.COLOUR))
    except BadInput as error:
        return _show(request, shop, desk, "", "", typed, 422, problems=error.problems)
    except ValueError:
        said = Problem("paper", "is not one that there is.", "Choose one of those shown.")
        return _show(request, shop, desk, "", "", typed, 422, problems=(said,))
    tasks: Tasks = request.app.state.tasks
    last = tasks.find_last(_PROGRESS)
    if last is None or last.is_done:
        tasks.drop(_PROGRESS)  # one book is kept, the last
        press, today = get_press(request), shop.get_today()

        def make(task: Task) -> bytes:
            return bind_book(shop, desk, press, chosen, Printing(paper=paper, ink=ink), today, task.tell)

        tasks.ask(uuid4(), _PROGRESS, make)
    return RedirectResponse(_PROGRESS, status_code=303)


@router.get("/made")
def show_progress(request: Request, desk: DeskHere) -> Response:
    """How far the last book is, and where it is fetched once it is bound."""
    tasks: Tasks = request.app.state.tasks
    return render(request, "book/made.html", task=tasks.find_last(_PROGRESS), rules=desk.rules)


@router.get("/made.pdf")
def fetch_book(request: Request, shop: ShopHere) -> Response:
    """The last book bound; the choice where there is none."""
    tasks: Tasks = request.app.state.tasks
    task = tasks.find_last(_PROGRESS)
    if task is None or not task.is_done or task.trouble:
        return RedirectResponse(_PROGRESS if task else "/book", status_code=303)
    headers = {"Content-Disposition": f'inline; filename="book-{shop.get_today()}.pdf"'}
    return Response(task.answer.result(), media_type="application/pdf", headers=headers)


def _read_chosen(typed: Typed) -> list[tuple[int, int]]:
    """The recipes that were ticked, each with the number of its standard. Raises BadInput."""
    ticked = [(read_number(name[1:]), read_number(number)) for name, number in typed.items() if name.startswith("r")]
    chosen = [each for each in ticked if all(each)]
    if not 0 < len(chosen) <= MOST_BOUND:
        raise BadInput(Problem("standards", "are missing, or too many.", f"Tick 1 to {MOST_BOUND} of them."))
    return chosen


def _show(
    request: Request,
    shop: ShopHere,
    desk: DeskHere,
    text: str,
    form: str,
    typed: Mapping[str, str],
    status: int = 200,
    problems: tuple[Problem, ...] = (),
) -> Response:
    found = shop.standards.find_all_in_force(text, form, MOST_BOUND + 1)
    by_price: dict[object, list[InForce]] = {}
    for each in found[:MOST_BOUND]:
        by_price.setdefault(each.price_point, []).append(each)
    return render(
        request, "book/choose.html", status, by_price=by_price, are_more=len(found) > MOST_BOUND, most=MOST_BOUND,
        rules=desk.rules, text=text, form=form, forms=list(FORMS), typed=typed, problems=problems,
        papers=list(Paper), inks=list(Ink), task=request.app.state.tasks.find_last(_PROGRESS),
    )  # fmt: skip
