"""How the app speaks to devices over HTTP: with a limit on time and size, and every trouble told in words."""

import time

import httpx

from mirvel.core.values.problems import MirvelError

LARGEST_ANSWER = 5_000_000


class DeviceTrouble(MirvelError):
    """A device did not do as asked; ``why`` says so in words."""

    def __init__(self, device: str, why: str) -> None:
        self.why = why
        super().__init__(f"The {device} {why}.")


def ask(device: str, url: str, *, patience_s: float, send: bytes | None = None, kind: str = "") -> bytes:
    """A device's answer, all of it within the patience. Raises DeviceTrouble."""
    ends = time.monotonic() + patience_s
    method, headers = ("GET", {}) if send is None else ("POST", {"Content-Type": kind})
    try:
        with (
            httpx.Client(timeout=patience_s, trust_env=False) as client,
            client.stream(method, url, content=send, headers=headers) as answer,
        ):
            body = _read(device, answer, ends, patience_s)
            if answer.is_error:
                raise DeviceTrouble(device, f"answered with error {answer.status_code}: {_get_words(body)}")
            return body
    except httpx.TimeoutException:
        raise DeviceTrouble(device, f"did not answer within {patience_s:g} s") from None
    except httpx.HTTPError as error:
        raise DeviceTrouble(device, f"cannot be reached ({type(error).__name__})") from None
    except httpx.InvalidURL:
        raise DeviceTrouble(device, "has no usable address; mend the setting") from None


def _read(device: str, answer: httpx.Response, ends: float, patience_s: float) -> bytes:
    """The body; one that drips for longer than the patience is given up too."""
    body = b""
    for part in answer.iter_bytes():
        body += part
        if time.monotonic() > ends:
            raise DeviceTrouble(device, f"did not finish its answer within {patience_s:g} s")
        if len(body) > LARGEST_ANSWER:
            raise DeviceTrouble(device, "sent more than 5 MB, so it was not read")
    return body


def _get_words(body: bytes) -> str:
    return body[:80].decode("utf-8", "replace").replace("\n", " ").strip() or "nothing said"
