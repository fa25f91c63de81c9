"""Work done beside the pages, in a thread of its own: at once when poked, and every so often anyway."""

import threading
from collections.abc import Callable

import structlog

from mirvel.core.values.problems import MirvelError

log = structlog.get_logger()
_FIRST_AFTER_S = 4.0  # whoever waits for the app to begin has their page first


class Background:
    """Does ``work`` again and again; it is handed the event that says the app is ending."""

    def __init__(self, name: str, work: Callable[[threading.Event], object], every_s: float) -> None:
        self._name, self._work, self._every_s = name, work, every_s
        self._wake, self._ended = threading.Event(), threading.Event()
        self._thread = threading.Thread(target=self._run, name=name, daemon=True)

    def start(self) -> None:
        self._thread.start()

    def end(self) -> None:
        """Begin no other portion."""
        self._ended.set()
        self._wake.set()

    def stop(self) -> None:
        """End it, after the portion in hand."""
        self.end()
        self._thread.join(timeout=10)

    def poke(self) -> None:
        """There may be something to do."""
        self._wake.set()

    def _run(self) -> None:
        self._wake.wait(_FIRST_AFTER_S)
        while not self._ended.is_set():
            try:
                self._work(self._ended)
            except MirvelError as error:
                if not self._ended.is_set():
                    log.warning("not done", work=self._name, reason=str(error))
            except Exception:
                log.exception("not done", work=self._name)
            self._wake.wait(self._every_s)
            self._wake.clear()
