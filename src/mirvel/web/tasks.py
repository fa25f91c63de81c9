"""What takes seconds and goes on whether or not anybody waits: a page asks, shows how far it is, can be left, and finds
the answer when it comes back."""

from collections.abc import Callable, Hashable
from concurrent.futures import Future, ThreadPoolExecutor, wait
from dataclasses import dataclass, field
from threading import Lock
from typing import Any

from cachetools import LRUCache

from mirvel.core.values.problems import MirvelError

_MOST_KEPT = 40
_AT_ONCE = 4
_SHORT_S = 0.8  # what is answered in this time needs no page of its own


@dataclass
class Task:
    """One thing asked for: how much of it is done, where it is reached again, and its answer."""

    address: str
    done: int = 0
    of: int = 0
    answer: Future[Any] = field(default_factory=Future)

    def tell(self, done: int, of: int) -> None:
        """So much of so much is done."""
        self.done, self.of = done, of

    @property
    def is_done(self) -> bool:
        return self.answer.done()

    @property
    def trouble(self) -> str:
        """Why there is no answer, in words, where it failed."""
        error = self.answer.exception() if self.is_done else None
        return "" if error is None else str(error) if isinstance(error, MirvelError) else "Something went wrong in it."


class Tasks:
    """The last tasks of one app, begun in the order they were asked for."""

    def __init__(self) -> None:
        self._tasks: LRUCache[Hashable, Task] = LRUCache(_MOST_KEPT)
        self._threads = ThreadPoolExecutor(_AT_ONCE, "task")
        self._lock = Lock()

    def ask(self, key: Hashable, address: str, make: Callable[[Task], Any]) -> Task:
        """The task under a key that says all it is made from, begun if there is none; its answer, where that is quick.

        One that failed is begun again by the next who asks after its error was shown.
        """
        with self._lock:
            task = self._tasks.get(key)
            if task is None:
                task = self._tasks[key] = Task(address)
                task.answer = self._threads.submit(make, task)
        wait([task.answer], _SHORT_S)
        if task.is_done and task.answer.exception():
            with self._lock:
                self._tasks.pop(key, None)
        return task

    def find_last(self, address: str) -> Task | None:
        """The last task that is reached below an address, done or not."""
        with self._lock:
            return next((each for each in reversed([*self._tasks.values()]) if each.address.startswith(address)), None)

    def drop(self, address: str) -> None:
        """Forget what is done at an address."""
        with self._lock:
            for key, each in [*self._tasks.items()]:
                if each.address == address and each.is_done:
                    del self._tasks[key]

    def count_before(self, task: Task) -> int:
        """How many of its kind, by their address, were asked for before it and are not done."""
        kind = task.address.split("/")[1]
        with self._lock:
            waiting = [each for each in self._tasks.values() if not each.is_done and each.address.split("/")[1] == kind]
        return waiting.index(task) if task in waiting else 0

    def stop(self) -> None:
        """End with the app: what has not begun never will."""
        self._threads.shutdown(wait=False, cancel_futures=True)
