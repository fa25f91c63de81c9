"""Errors to pages, in one place: what happened, what to do, and the request's id; never a traceback."""

import structlog
from fastapi import FastAPI, Request, Response
from fastapi.exceptions import RequestValidationError
from starlette.exceptions import HTTPException

from mirvel.core.values.problems import BadInput, MirvelError
from mirvel.store.database import ChangedMeanwhile, NoDatabase
from mirvel.store.deliveries import NoSuchDelivery
from mirvel.store.documents import Unreadable
from mirvel.store.goods import NoSuchGood
from mirvel.store.price_lists import NoSuchPriceList, StaleReview
from mirvel.store.stale import NoSuchRecipe, NoSuchStandard, StaleRules, StaleState
from mirvel.store.suppliers import NoSuchSupplier
from mirvel.web.requests import render
from mirvel.web.workers import Busy

log = structlog.get_logger()

_STATUS: dict[type[MirvelError], int] = {
    NoSuchRecipe: 404,
    NoSuchStandard: 404,
    NoSuchGood: 404,
    NoSuchSupplier: 404,
    NoSuchPriceList: 404,
    NoSuchDelivery: 404,
    StaleState: 409,
    StaleReview: 409,
    StaleRules: 409,
    NoDatabase: 503,
    Busy: 503,
    ChangedMeanwhile: 409,
    BadInput: 422,
    Unreadable: 409,
}
_SAID = {
    400: "What was sent could not be read; it was cut off, or has too many fields. Go back, reload and send it again.",
    404: "There is no such page. The Shelf is where everything begins.",
    405: "This page is not for that. Go back and use its own buttons.",
}
_TITLES = {
    400: "That could not be read",
    404: "Not here",
    405: "That cannot be done here",
    409: "Changed elsewhere",
    413: "Too large",
    422: "That cannot be used",
    503: "Not just now",
}


def get_status(error: MirvelError) -> int:
    """The HTTP status of an error of the family."""
    return next((status for kind, status in _STATUS.items() if isinstance(error, kind)), 400)


def add_error_pages(app: FastAPI) -> None:
    """Have every kind of error answered by the same page."""

    @app.exception_handler(MirvelError)
    def show_ours(request: Request, error: MirvelError) -> Response:
        said = [str(problem) for problem in error.problems] if isinstance(error, BadInput) else [str(error)]
        return _page(request, get_status(error), said)

    @app.exception_handler(HTTPException)
    def show_http(request: Request, error: HTTPException) -> Response:
        return _page(request, error.status_code, [_SAID.get(error.status_code, _SAID[404])])

    @app.exception_handler(RequestValidationError)
    def show_request(request: Request, error: RequestValidationError) -> Response:
        said = [f"{details['loc'][-1]}: {details['msg']}. Go back and correct it." for details in error.errors()]
        return _page(request, 422, said)


def show_unknown(request: Request, error: Exception) -> Response:
    """What nobody foresaw: told in the log, not on the page."""
    log.error("unexpected error", path=request.url.path, exc_info=error)
    return _page(request, 500, ["Something went wrong here, not with what you typed. Nothing you saved is lost."])


def _page(request: Request, status: int, said: list[str]) -> Response:
    title = _TITLES.get(status, "Something went wrong")
    number = getattr(request.state, "id", "none")
    return render(request, "shared/error.html", status, title=title, said=said, request_id=number)
