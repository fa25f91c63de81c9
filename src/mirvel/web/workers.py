"""What takes a processor's time in processes of its own, so that pages stay answered meanwhile: one a core that builds
and draws, one that solves what is answered at once, one for what takes seconds.

Whoever asks comes after those who asked before, and no page asks for a second thing before it has the first, so a page
that needs many pieces lets others in between. Who asks says for what; whatever was asked for that can be stopped, and
nothing else is lost.
"""

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
from mirvel.core.house.rules import HouseRules
from mirvel.core.making.build import Build, get_build
from mirvel.core.recipe.taking import Taken
from mirvel.core.values.problems import BadInput, MirvelError, Problem
from mirvel.drawing.sheet import Drawing, Style, draw_both
from mirvel.drawing.view import View
from mirvel.web.collecting import collect_seldom

Asked = ParamSpec("Asked")
Answer = TypeVar("Answer")
_MOST_LOST = 1  # times a question is asked again after its process died of itself
# More than these do not wait for a piece, and none longer than that: a page that says so beats one that never comes.
_MOST_WAITING, _PATIENCE_S = 30, 20.0
_MOST_BUILDERS = 8  # each holds about 120 MB, and no shop has as many people pressing at the same moment
BEHIND = 3  # how much others come first, as the system counts it, where most that is made is not waited for


class Stopped(BadInput):
    """Somebody stopped what was asked."""


class Busy(MirvelError):
    """Too many have asked before."""

    def __init__(self) -> None:
        super().__init__(
            "Mirvel is working out pieces for many others just now, and this one was not begun. Try again in a few "
            "seconds."
        )


class Worker:
    """Processes begun when they are first asked, one question a process at a time; one process unless told.

    ``most`` is how many questions may wait, ``patience_s`` how long one may wait to be begun; ``behind`` for what comes
    after whatever else the machine does.
    """

    def __init__(
        self, processes: int = 1, most: int | None = None, patience_s: float | None = None, behind: int = 0
    ) -> None:
        self._processes, self._most, self._patience_s, self._behind = processes, most, patience_s, behind
        self._lock = Lock()
        self._pool: ProcessPoolExecutor | None = None
        self._process: Future[int] | None = None  # its number, told by itself
        self._waiting: Counter[str] = Counter()  # questions not yet answered, by what they are for
        self._stops: Counter[str] = Counter()
        self._replaced = 0  # processes ended to stop something

    def warm_up(self, load: Callable[[], object]) -> Future[object]:
        """Have something loaded in each before anyone asks; returns at once, with what is done when the last has it."""
        return [self._get_pool().submit(load) for _ in range(self._processes)][-1]

    def ask(self, what_for: str, ask: Callable[Asked, Answer], *words: Asked.args, **named: Asked.kwargs) -> Answer:
        """What ``ask`` answers there, or the error it raises. Raises Stopped where ``what_for`` was stopped, Busy where
        it would wait too long; a question that was only in the same process is asked again."""
        with self._lock:
            if self._most is not None and self._waiting.total() >= self._most:
                raise Busy
            self._waiting[what_for] += 1
            stops = self._stops[what_for]
        lost = 0
        try:
            while True:
                replaced, pool = self._replaced, self._get_pool()
                try:
                    return self._await(pool.submit(ask, *words, **named))
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

    def _await(self, answer: Future[Answer]) -> Answer:
        try:
            return answer.result(self._patience_s)
        except TimeoutError:
            if answer.cancel():
                raise Busy from None
            return answer.result()  # it is being worked out, or this is its own error

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
                self._pool = ProcessPoolExecutor(self._processes, _get_beginning(), _begin, (self._behind,))
                self._process = self._pool.submit(os.getpid)
            return self._pool


def _get_beginning() -> multiprocessing.context.BaseContext:
    """How processes begin: as copies of one that has loaded what they need and does nothing else, so that each is there
    in hundredths of a second, where loading it anew took one to three seconds, and shares its memory."""
    copying = multiprocessing.get_context("forkserver")
    copying.set_forkserver_preload([__name__])
    return copying


def _begin(behind: int) -> None:
    """In the process itself: come after others where that was asked, and end when the app has gone, however it went."""
    os.nice(behind)
    collect_seldom()
    app = multiprocessing.parent_process()

    def watch() -> None:
        if app:
            app.join()
            os._exit(0)

    Thread(target=watch, name="watching the app", daemon=True).start()


def _build(taken: Taken, rules: HouseRules) -> Build:
    return get_build(taken, rules).look()


def _end(process: Future[int]) -> None:
    if process.cancelled() or process.exception():
        return
    for child in multiprocessing.active_children():
        if child.pid == process.result():
            child.terminate()


def _make_builders() -> Worker:
    cores = min(_MOST_BUILDERS, len(os.sched_getaffinity(0)))
    return Worker(cores, most=_MOST_WAITING, patience_s=_PATIENCE_S)


@dataclass(frozen=True)
class Workers:
    """The processes of one app: those that build and draw, one a core; the solver for what is answered at once, and for
    what takes seconds."""

    builders: Worker = field(default_factory=_make_builders)
    quick: Worker = field(default_factory=Worker)
    slow: Worker = field(default_factory=Worker)

    def warm_up(self) -> None:
        """Have ready what the first pages will ask for; returns at once. The solver is loaded once there are builders,
        so that the first piece does not wait for it."""

        def load_the_solver(built: Future[object]) -> None:
            if not built.cancelled():
                self.quick.warm_up(load_solver)

        self.builders.warm_up(os.getpid).add_done_callback(load_the_solver)

    def build(self, taken: Taken, rules: HouseRules) -> Build:
        """A recipe built. Raises BadInput, Busy."""
        return self.builders.ask("a build", _build, taken, rules)

    def draw(self, build: Build, style: Style, view: View) -> Drawing:
        """A build drawn as the Table shows it. Raises Busy."""
        return self.builders.ask("a drawing", draw_both, build, style, view)

    def cancel(self, what_for: str) -> None:
        """Stop all that is solved for something."""
        self.quick.cancel(what_for)
        self.slow.cancel(what_for)

    def stop(self) -> None:
        """End all."""
        for each in (self.builders, self.quick, self.slow):
            each.stop()
