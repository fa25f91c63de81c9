"""What all stand-ins share: one address, a mode to be told, and an end when whoever began them ends."""

import json
import sys
import threading
from collections.abc import Mapping
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from urllib.parse import parse_qs

HOST = "127.0.0.1"
_LARGEST_BODY = 20_000_000


class StandIn(ThreadingHTTPServer):
    """A server with a mode; subclasses name their modes and answer requests."""

    daemon_threads = True
    modes: tuple[str, ...] = ("well",)

    def __init__(self, port: int = 0) -> None:
        super().__init__((HOST, port), _Handler)
        self.mode = self.modes[0]
        self.changed = threading.Condition()

    @property
    def url(self) -> str:
        return f"http://{HOST}:{self.server_port}"

    def set_mode(self, mode: str) -> None:
        with self.changed:
            self.mode = mode
            self.changed.notify_all()

    def wait_while(self, mode: str, at_most_s: float) -> None:
        """Answer nothing until told to behave otherwise, or for so long."""
        with self.changed:
            self.changed.wait_for(lambda: self.mode != mode, timeout=at_most_s)

    def get(self, path: str) -> tuple[int, str, bytes]:
        """Status, type and body of a page."""
        return 404, "text/plain", b"no such page"

    def post(self, path: str, body: bytes) -> tuple[int, str, bytes]:
        """Status, type and body of an answer to what was sent."""
        return 404, "text/plain", b"no such page"


def to_json(value: Mapping[str, object], status: int = 200) -> tuple[int, str, bytes]:
    return status, "application/json", json.dumps(value).encode()


class _Handler(BaseHTTPRequestHandler):
    server: StandIn

    def do_GET(self) -> None:
        self._answer(*self.server.get(self.path))

    def do_POST(self) -> None:
        length = min(int(self.headers.get("Content-Length") or 0), _LARGEST_BODY)
        body = self.rfile.read(length)
        if self.path == "/mode":
            mode = parse_qs(body.decode("ascii", "replace")).get("mode", [""])[0]
            if mode not in self.server.modes:
                self._answer(*to_json({"problem": f"choose a mode: {', '.join(self.server.modes)}"}, 422))
                return
            self.server.set_mode(mode)
            self._answer(*to_json({"mode": mode}))
            return
        self._answer(*self.server.post(self.path, body))

    def _answer(self, status: int, kind: str, body: bytes) -> None:
        try:
            self.send_response(status)
            self.send_header("Content-Type", kind)
            self.send_header("Content-Length", str(len(body)))
            self.end_headers()
            self.wfile.write(body)
        except OSError:  # whoever asked has gone
            self.close_connection = True

    def log_message(self, format: str, *args: object) -> None:
        """Say nothing: the app that asks keeps the log."""


def serve_until_abandoned(server: StandIn) -> None:
    """Say the address, serve, and end when standard input closes."""
    print(server.url, flush=True)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    sys.stdin.read()
    server.shutdown()
