"""Clients that take for ever, open connections without end, or hang up: nobody else waits for them; it is no error."""

import logging
import socket
from collections.abc import Iterator
from contextlib import contextmanager
from urllib.parse import urlsplit

import pytest

from mirvel.web.connections import PatientProtocol
from tests.serving import call


@contextmanager
def connected(address: str, *said: bytes) -> Iterator[socket.socket]:
    """A connection on which something has been said."""
    parts = urlsplit(address)
    with socket.create_connection((parts.hostname or "", parts.port or 0), timeout=10) as connection:
        for each in said:
            connection.sendall(each)
        yield connection


@pytest.mark.parametrize("said", [(), (b"GET / HT",), (b"GET /healthz HTTP/1.1\r\nHost: 127.0.0.1\r\n", b"A: b\r\n")])
def test_a_header_that_does_not_end_is_not_waited_for(
    address: str, monkeypatch: pytest.MonkeyPatch, said: tuple[bytes, ...]
) -> None:
    monkeypatch.setattr(PatientProtocol, "header_patience_s", 0.3)
    with connected(address, *said) as connection:
        assert connection.recv(100) == b""


def test_one_address_has_so_many_connections_and_no_more(address: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(PatientProtocol, "most_of_one", 0)
    with connected(address) as connection:
        assert connection.recv(100) == b""
    monkeypatch.undo()
    assert call("GET", f"{address}/healthz").status_code == 200


def test_a_client_that_hangs_up_is_no_error(
    address: str, capfd: pytest.CaptureFixture[str], caplog: pytest.LogCaptureFixture
) -> None:
    header = b"POST /recipes HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/x-www-form-urlencoded\r\n"
    with connected(address, header, b"Content-Length: 900\r\n\r\nname=a"):
        pass
    with connected(address, b"GET / HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n"):
        pass
    assert call("GET", f"{address}/healthz").status_code == 200
    told = capfd.readouterr()
    assert "Traceback" not in told.out + told.err
    assert "unexpected error" not in told.out + told.err
    assert not [each for each in caplog.records if each.levelno >= logging.ERROR]
