"""The solver in processes of its own, so that pages stay answered while it works: one for what is answered at once, one
for what takes seconds. Who asks says for what; whatever was asked for that can be stopped, and nothing else is lost."""

import multiprocessing
import os
from collections import Counter
from collections.abc import Callable
from concurrent.futures import CancelledError, Future, ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass, field
from threading import Lock, Thread
from typing import ParamSpec, TypeVar

from mirvel.core.fit.model import load_solver
from mirvel.core.values.problems import BadInput, Problem

Asked = ParamSpec("Asked")
Answer = TypeVar("Answer")
_MOST_LOST = 1  # times a question is asked again after its process died of itself


class Stopped(BadInput):
    """Somebody stopped what was asked."""


class Worker:
    """One process, begun when it is first asked; one question at a time."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._pool: ProcessPoolExecutor | None = None
        self._process: Future[int] | None = None  # its number, told by itself
        self._waiting: Counter[str] = Counter()  # questions not yet answered, by what they are for
        self._stops: Counter[str] = Counter()
        self._replaced = 0  # processes ended to stop something

    def warm_up(self) -> None:
        """Have the solver loaded before anyone asks; returns at once."""
        self._get_pool().submit(load_solver)

    def ask(self, what_for: str, ask: Callable[Asked, Answer], *words: Asked.args, **named: Asked.kwargs) -> Answer:
        """What ``ask`` answers there, or the error it raises. Raises Stopped where ``what_for`` was stopped; a question
        that was only in the same process is asked again."""
        with self._lock:
            self._waiting[what_for] += 1
            stops = self._stops[what_for]
        lost = 0
        try:
            while True:
                replaced, pool = self._replaced, self._get_pool()
                try:
                    return pool.submit(ask, *words, **named).result()
                except (BrokenProcessPool, CancelledError, RuntimeError) as error:
                    if self._stops[what_for] > stops:
                        raise Stopped(Problem("fit", "it was stopped.", "Ask again when you want to.")) from None
                    self._drop(pool)
                    lost += self._replaced == replaced
                    if lost > _MOST_LOST:
                        raise error
        finally:
            with self._lock:
                self._waiting[what_for] -= 1

    def cancel(self, what_for: str) -> None:
        """Stop all that is asked for something. The process goes with it; what else waited is asked again."""
        with self._lock:
            if not self._waiting[what_for]:
                return
            pool, process, self._pool = self._pool, self._process, None
            self._stops[what_for] += 1
            self._replaced += 1
        if pool and process:
            process.add_done_callback(_end)  # at once, or as soon as the process has begun
            pool.shutdown(wait=False, cancel_futures=True)

    def stop(self) -> None:
        """End it; the next question begins another."""
        if self._pool:
            self._drop(self._pool)

    def _drop(self, pool: ProcessPoolExecutor) -> None:
        with self._lock:
            if self._pool is pool:
                self._pool = None
        pool.shutdown(wait=False, cancel_futures=True)

    def _get_pool(self) -> ProcessPoolExecutor:
        with self._lock:
            if self._pool is None:
                spawning = multiprocessing.get_context("spawn")
                self._pool = ProcessPoolExecutor(1, mp_context=spawning, initializer=_end_with_the_app)
                self._process = self._pool.submit(os.getpid)
            return self._pool


def _end_with_the_app() -> None:
    """In the process itself: end when the app has gone, however it went."""
    app = multiprocessing.parent_process()

    def watch() -> None:
        if app:
            app.join()
            os._exit(0)

    Thread(target=watch, name="watching the app", daemon=True).start()


def _end(process: Future[int]) -> None:
    if process.cancelled() or process.exception():
        return
    for child in multiprocessing.active_children():
        if child.pid == process.result():
            child.terminate()


@dataclass(frozen=True)
class Solvers:
    """The solver's two processes of one app: for what is answered at once, and for what takes seconds."""

    quick: Worker = field(default_factory=Worker)
    slow: Worker = field(default_factory=Worker)

    def cancel(self, what_for: str) -> None:
        """Stop all that is asked for something, in either."""
        self.quick.cancel(what_for)
        self.slow.cancel(what_for)

    def stop(self) -> None:
        """End both."""
        self.quick.stop()
        self.slow.stop()
