"""The solver in processes of its own, so that pages stay answered while it works: one for what is answered at once, one
for climbs, which take seconds and can be cancelled without disturbing anything else."""

import multiprocessing
import os
from collections.abc import Callable
from concurrent.futures import CancelledError, Future, ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from threading import Lock
from typing import ParamSpec, TypeVar

from mirvel.core.fit.model import load_solver
from mirvel.core.problems import BadInput, Problem

Asked = ParamSpec("Asked")
Answer = TypeVar("Answer")


class Worker:
    """One process, begun when it is first asked; one question at a time."""

    def __init__(self) -> None:
        self._lock, self._cancelled = Lock(), 0
        self._pool: ProcessPoolExecutor | None = None
        self._process: Future[int] | None = None  # its number, told by itself

    def warm_up(self) -> None:
        """Have the solver loaded before anyone asks; returns at once."""
        self._get_pool().submit(load_solver)

    def ask(self, ask: Callable[Asked, Answer], *words: Asked.args, **named: Asked.kwargs) -> Answer:
        """What ``ask`` answers there, or the error it raises. A process that was lost is replaced once; where it was
        cancelled, raises BadInput."""
        began, pool = self._cancelled, self._get_pool()
        try:
            return pool.submit(ask, *words, **named).result()
        except (BrokenProcessPool, CancelledError):
            if self._cancelled > began:
                raise BadInput(Problem("fit", "it was stopped.", "Ask again when you want to.")) from None
            self._drop(pool)
            return self._get_pool().submit(ask, *words, **named).result()

    def cancel(self) -> None:
        """Stop what it is at, and all that waits for it."""
        with self._lock:
            pool, process, self._pool = self._pool, self._process, None
            self._cancelled += 1
        if not pool:
            return
        pool.shutdown(wait=False, cancel_futures=True)
        if process and process.done() and not process.cancelled():
            for child in multiprocessing.active_children():
                if child.pid == process.result():
                    child.terminate()

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
                self._pool = ProcessPoolExecutor(1, mp_context=multiprocessing.get_context("spawn"))
                self._process = self._pool.submit(os.getpid)
            return self._pool


QUICK, CLIMBING = Worker(), Worker()
