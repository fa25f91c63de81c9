"""How the app listens: a client that takes for ever over its request, or opens connections without end, is let go, so
that it keeps nobody else waiting."""

import asyncio

import h11
import uvicorn
from fastapi import FastAPI
from uvicorn.protocols.http.h11_impl import H11Protocol

HEADER_PATIENCE_S = 10.0  # for a whole header; a browser sends it at once
MOST_CONNECTIONS_OF_ONE = 64  # a browser opens six


class PatientProtocol(H11Protocol):
    """Gives a client so long to send a header, and so many connections."""

    header_patience_s = HEADER_PATIENCE_S
    most_of_one = MOST_CONNECTIONS_OF_ONE
    _timer: asyncio.TimerHandle | None = None

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        """Take a connection, or close it where its address has too many."""
        super().connection_made(transport)
        address = self.client[0] if self.client else None
        others = [client[0] for each in self.connections if (client := getattr(each, "client", None))]
        if others.count(address) > self.most_of_one:
            transport.close()
            return
        self._timer = self.loop.call_later(self.header_patience_s, self._end_if_unsaid)

    def data_received(self, data: bytes) -> None:
        """Read on; the first bytes of a header begin its time."""
        if self._timer is None and self.conn.their_state is h11.IDLE:
            self._timer = self.loop.call_later(self.header_patience_s, self._end_if_unsaid)
        super().data_received(data)
        if self._timer and self.conn.their_state is not h11.IDLE:
            self._timer.cancel()
            self._timer = None

    def connection_lost(self, exc: Exception | None) -> None:
        """The client is gone."""
        if self._timer:
            self._timer.cancel()
        super().connection_lost(exc)

    def _end_if_unsaid(self) -> None:
        self._timer = None
        if self.conn.their_state is h11.IDLE and not self.transport.is_closing():
            self.transport.close()


def make_server(app: FastAPI) -> uvicorn.Server:
    """A server of the app that logs nothing of its own."""
    return uvicorn.Server(uvicorn.Config(app, http=PatientProtocol, log_config=None, access_log=False))
