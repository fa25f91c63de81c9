"""An app served over real HTTP by this process."""

import socket
import ssl
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

import httpx
from fastapi import FastAPI

from mirvel.devices.stand_in import StandIn
from mirvel.web.connections import make_server

# All is plain HTTP: one for all, since to make one, and read certificates for it, takes longer than most answers.
_NO_TLS = ssl.SSLContext(ssl.PROTOCOL_TLS_CLIENT)


def open_client(address: str, **kept: Any) -> httpx.Client:
    """Who asks an app at an address, as patiently as a busy machine needs."""
    return httpx.Client(base_url=address, timeout=60, verify=_NO_TLS, **kept)


def call(method: str, url: str, **sent: Any) -> httpx.Response:
    """One answer of an app at a whole address, by somebody as patient."""
    with open_client("") as client:
        return client.request(method, url, **sent)


@contextmanager
def serve(app: FastAPI) -> Iterator[str]:
    """An app served on a free port by a thread of this process; gives its address."""
    with socket.socket() as listening:
        listening.bind(("127.0.0.1", 0))
        server = make_server(app)
        thread = threading.Thread(target=server.run, kwargs={"sockets": [listening]}, daemon=True)
        thread.start()
        url = f"http://127.0.0.1:{listening.getsockname()[1]}"
        with open_client(url, transport=httpx.HTTPTransport(retries=20, verify=_NO_TLS)) as client:
            client.get("/static/mark.svg").raise_for_status()
        yield url
        server.should_exit = True
        thread.join(10)


def read_shelf(web: httpx.Client, path: str = "/") -> str:
    """The Shelf once everything on it is drawn and reckoned: it asks for itself again until then."""

    def is_done(page: httpx.Response) -> bool:
        return "hx-trigger" not in page.text.split('id="shelves"')[1].split(">")[0]

    return _read_until(is_done, lambda: web.get(path).raise_for_status()).text


def read_when_done(web: httpx.Client, path: str, params: dict[str, str] | None = None) -> httpx.Response:
    """A page whose answer takes seconds, once it is there: it asks for itself again until then."""
    return _read_until(lambda page: 'class="going-on"' not in page.text, lambda: web.get(path, params=params))


def _read_until(is_done: Callable[[httpx.Response], bool], read: Callable[[], httpx.Response]) -> httpx.Response:
    looking = threading.Event()
    for _ in range(600):
        page = read()
        if is_done(page):
            return page
        looking.wait(0.1)
    raise AssertionError("the page is never done")


def begin_stand_in(stand_in: StandIn) -> Iterator[StandIn]:
    """A stand-in for a device, answering from a thread of its own; as usual again at the end."""
    thread = threading.Thread(target=stand_in.serve_forever, daemon=True)
    thread.start()
    yield stand_in
    stand_in.set_mode(stand_in.modes[0])
    stand_in.shutdown()
    stand_in.server_close()
