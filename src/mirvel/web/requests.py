"""What every request gets: an id, a log line, its server time, and a guard against other sites' forms."""

import time
import uuid
from collections.abc import Awaitable, Callable, Mapping
from typing import Annotated
from urllib.parse import urlsplit

import structlog
from fastapi import Depends, FastAPI, Path, Request, Response
from fastapi.responses import PlainTextResponse

from mirvel.store.shop import Shop

log = structlog.get_logger()
_READING = {"GET", "HEAD", "OPTIONS"}


def get_shop(request: Request) -> Shop:
    """The shop this app serves."""
    shop: Shop = request.app.state.shop
    return shop


ShopHere = Annotated[Shop, Depends(get_shop)]


RecipeId = Annotated[int, Path(ge=1, le=2**31 - 1)]


Typed = Mapping[str, str]


async def _read_typed(request: Request) -> Typed:
    form = await request.form()
    return {key: value for key, value in form.items() if isinstance(value, str)}


TypedHere = Annotated[Typed, Depends(_read_typed)]


def get_file_name(name: str) -> str:
    """A recipe's name as a file's: lower case, digits and hyphens."""
    return "".join(letter if letter.isascii() and letter.isalnum() else "-" for letter in name.lower())


def wants_fragment(request: Request) -> bool:
    """Whether htmx asks, and a part of the page will do."""
    return request.headers.get("hx-request") == "true"


def render(request: Request, template: str, status: int = 200, /, **context: object) -> Response:
    """A template's page."""
    response: Response = request.app.state.templates.TemplateResponse(request, template, context, status_code=status)
    return response


def add_request_log(app: FastAPI) -> None:
    """Give each request an id and a line in the log; refuse changes sent from another site."""

    @app.middleware("http")
    async def serve(request: Request, call_next: Callable[[Request], Awaitable[Response]]) -> Response:
        request.state.id = uuid.uuid4().hex[:12]
        structlog.contextvars.clear_contextvars()
        structlog.contextvars.bind_contextvars(request_id=request.state.id)
        begun = time.perf_counter()
        response = await call_next(request) if _is_from_here(request) else _refuse()
        took_ms = (time.perf_counter() - begun) * 1000
        response.headers["X-Request-Id"] = request.state.id
        response.headers["Server-Timing"] = f"app;dur={took_ms:.1f}"
        log.info(
            "request",
            method=request.method,
            path=request.url.path,
            status=response.status_code,
            ms=round(took_ms, 1),
        )
        return response


def _is_from_here(request: Request) -> bool:
    """A change must come from a page of this app; browsers name the page's origin with every form."""
    origin = request.headers.get("origin")
    return request.method in _READING or origin is None or urlsplit(origin).netloc == request.headers.get("host")


def _refuse() -> Response:
    message = "This change came from a page of another site, so it was not made. Open Mirvel itself and try again."
    return PlainTextResponse(message, status_code=403)
