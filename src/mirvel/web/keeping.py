"""What has been worked out and drawn, kept for a while by what it was made from: a saved state never changes.

Whoever asks for something that is being made waits for it rather than making it again.
"""

from collections.abc import Callable, Hashable
from threading import Condition
from typing import Any, TypeVar, cast

from cachetools import LRUCache

Made = TypeVar("Made")
MOST_KEPT = 800


class Kept:
    """The last so many things made, each under a key that says all it was made from."""

    def __init__(self, most: int = MOST_KEPT) -> None:
        self._kept: LRUCache[Hashable, Any] = LRUCache(maxsize=most)
        self._being_made: set[Hashable] = set()
        self._changed = Condition()

    def find(self, key: Hashable) -> Any:
        """What is kept under a key; None where nothing is any more."""
        with self._changed:
            return self._kept.get(key)

    def keep(self, key: Hashable, make: Callable[[], Made]) -> Made:
        """What is kept under a key, or what ``make`` makes, once however many ask. Raises what ``make`` raises."""
        with self._changed:
            self._changed.wait_for(lambda: key not in self._being_made)
            if key in self._kept:
                return cast(Made, self._kept[key])
            self._being_made.add(key)
        try:
            made = make()
            with self._changed:
                self._kept[key] = made
            return made
        finally:
            with self._changed:
                self._being_made.discard(key)
                self._changed.notify_all()
