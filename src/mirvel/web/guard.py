"""What stands before every route: an id, a log line and the server's time for each request; who may ask, from where,
and how much may be sent; and headers that let a browser run nothing but what Mirvel ships.

Names and texts are escaped where they are written; this is the second wall behind that.
"""

import asyncio
import secrets
import time
import uuid
from collections.abc import Callable
from dataclasses import dataclass
from urllib.parse import urlsplit

import structlog
from fastapi import FastAPI, Request, Response
from fastapi.responses import PlainTextResponse
from starlette.datastructures import MutableHeaders
from starlette.requests import ClientDisconnect
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from mirvel.exchange.tables import LARGEST_FILE

log = structlog.get_logger()
Refusal = tuple[int, str]
ShowError = Callable[[Request, Exception], Response]

LARGEST_FORM, LARGEST_UPLOAD = 256_000, LARGEST_FILE + 1_000_000
BODY_PATIENCE_S = 60.0  # for a whole form or file
_READING = frozenset({"GET", "HEAD", "OPTIONS"})
_OWN_SITES = frozenset({"same-origin", "none"})  # "none" is a person who typed the address
_FRAMED = "/sheet"  # the card shows its own sheet in a frame
_POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'{}; img-src 'self' data:; font-src 'self'; "
    "connect-src 'self'; frame-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors {}"
)
_HEADERS = {
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Permissions-Policy": "camera=(), microphone=(), geolocation=()",
}


@dataclass
class _Answer:
    """How a request was answered, as far as it was."""

    status: int = 0

    @property
    def has_begun(self) -> bool:
        return self.status > 0


class Guard:
    """The outermost layer of the app, as ASGI."""

    def __init__(self, app: ASGIApp, hosts: frozenset[str], show_error: ShowError) -> None:
        self._app, self._hosts, self._show_error = app, hosts, show_error

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer one request."""
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        request, begun, answer = Request(scope), time.perf_counter(), _Answer()
        request.state.id, request.state.nonce = uuid.uuid4().hex[:12], secrets.token_urlsafe(16)
        structlog.contextvars.clear_contextvars()
        structlog.contextvars.bind_contextvars(request_id=request.state.id)

        async def send_on(message: Message) -> None:
            if message["type"] == "http.response.start":
                answer.status = message["status"]
                _add_headers(MutableHeaders(scope=message), request, begun)
            await send(message)

        refusal = _find_refusal(request, self._hosts)
        if refusal:
            status, said = refusal
            closing = {"Connection": "close"}  # what else it sends is not read
            await PlainTextResponse(said, status, closing)(scope, receive, send_on)
        else:
            await self._answer(request, receive, send_on, answer)
        log.info(
            "request", method=request.method, path=request.url.path, status=answer.status,
            ms=round((time.perf_counter() - begun) * 1000, 1),
        )  # fmt: skip

    async def _answer(self, request: Request, receive: Receive, send: Send, answer: _Answer) -> None:
        """Hand the request on; whatever nobody caught becomes the page of errors, a client that left nothing at all."""
        try:
            await self._app(request.scope, _be_patient(receive), send)
        except ClientDisconnect:
            log.info("client left", path=request.url.path)
        except Exception as error:
            if answer.has_begun:
                log.error("broken off", path=request.url.path, exc_info=error)
                raise
            await self._show_error(request, error)(request.scope, receive, send)


def add_guard(app: FastAPI, hosts: frozenset[str], show_error: ShowError) -> None:
    """Put the guard before everything else; ``hosts`` are the names the app answers to."""
    app.add_middleware(Guard, hosts=hosts, show_error=show_error)


def _add_headers(headers: MutableHeaders, request: Request, begun: float) -> None:
    headers["X-Request-Id"] = request.state.id
    headers["Server-Timing"] = f"app;dur={(time.perf_counter() - begun) * 1000:.1f}"
    headers.update(_HEADERS)
    may_be_framed = request.url.path.startswith("/card/") and request.url.path.endswith(_FRAMED)
    headers["X-Frame-Options"] = "SAMEORIGIN" if may_be_framed else "DENY"
    if headers.get("content-type", "").startswith(("text/html", "image/svg+xml", "text/plain")):
        own_style = f" 'nonce-{request.state.nonce}'" if may_be_framed else ""
        headers["Content-Security-Policy"] = _POLICY.format(own_style, "'self'" if may_be_framed else "'none'")


def _find_refusal(request: Request, hosts: frozenset[str]) -> Refusal | None:
    """Why a request is not answered: asked by a name that is not ours, sent from another site, or too large."""
    host = _read_host(request)
    if host not in hosts:
        return 421, f"Mirvel does not answer to the name “{host[:80]}”. If it is yours, add it to MIRVEL_HOSTS."
    if request.method in _READING:
        return None
    if not _is_from_here(request):
        return (
            403,
            "This change came from a page of another site, so it was not made. Open Mirvel itself and try again.",
        )
    length = request.headers.get("content-length")
    if length is None and "transfer-encoding" in request.headers:
        return 411, "What was sent does not say how long it is. Send it with its length."
    is_upload = request.headers.get("content-type", "").startswith("multipart/form-data")
    largest = LARGEST_UPLOAD if is_upload else LARGEST_FORM
    if int(length or 0) > largest:
        what = "file is larger than 10 MB" if is_upload else f"form is larger than {LARGEST_FORM // 1000} kB"
        return 413, f"What was sent is too large: a {what}. Send less at once; nothing was changed."
    return None


def _read_host(request: Request) -> str:
    try:
        return urlsplit(f"//{request.headers.get('host', '')}").hostname or ""
    except ValueError:
        return ""


def _is_from_here(request: Request) -> bool:
    """A change must come from a page of this app; browsers name the page's origin, and whose page it was."""
    origin = request.headers.get("origin")
    if origin is not None and origin.partition("://")[2] != request.headers.get("host"):
        return False
    return request.headers.get("sec-fetch-site", "none") in _OWN_SITES


def _be_patient(receive: Receive) -> Receive:
    """Wait so long for the whole of a body; one that does not end is as if its sender had left."""
    deadline = time.monotonic() + BODY_PATIENCE_S
    is_whole = False

    async def receive_in_time() -> Message:
        nonlocal is_whole
        if is_whole:
            return await receive()
        try:
            message = await asyncio.wait_for(receive(), max(0.01, deadline - time.monotonic()))
        except TimeoutError:
            return {"type": "http.disconnect"}
        is_whole = not message.get("more_body", False)
        return message

    return receive_in_time
