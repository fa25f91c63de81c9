"""The solver in a process of its own, so that pages stay answered while it works; one fit at a time."""

import multiprocessing
from collections.abc import Callable
from concurrent.futures import CancelledError, ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from threading import Lock
from typing import ParamSpec, TypeVar

from mirvel.core.fit.model import Model
from mirvel.core.problems import BadInput, Problem

Asked = ParamSpec("Asked")
Answer = TypeVar("Answer")
_lock = Lock()
_workers: list[ProcessPoolExecutor] = []
_cancelled: list[bool] = []  # one for each time it was cancelled


def warm_up() -> None:
    """Have the worker load the solver before anyone asks; returns at once."""
    _get_worker().submit(Model)


def solve_apart(ask: Callable[Asked, Answer], *words: Asked.args, **named: Asked.kwargs) -> Answer:
    """What ``ask`` answers in the worker, or the error it raises there. A worker that was lost is replaced once; where
    it was cancelled, raises BadInput."""
    began = len(_cancelled)
    try:
        return _get_worker().submit(ask, *words, **named).result()
    except (BrokenProcessPool, CancelledError):
        if len(_cancelled) > began:
            raise BadInput(Problem("fit", "it was stopped.", "Ask again when you want to.")) from None
        stop()
        return _get_worker().submit(ask, *words, **named).result()


def cancel() -> None:
    """Stop what the worker is at, and all that waits for it."""
    _cancelled.append(True)
    for process in multiprocessing.active_children():
        process.terminate()
    stop()


def stop() -> None:
    """End the worker; the next question starts another."""
    with _lock:
        for worker in _workers:
            worker.shutdown(wait=False, cancel_futures=True)
        _workers.clear()


def _get_worker() -> ProcessPoolExecutor:
    with _lock:
        if not _workers:
            _workers.append(ProcessPoolExecutor(1, mp_context=multiprocessing.get_context("spawn")))
        return _workers[0]
