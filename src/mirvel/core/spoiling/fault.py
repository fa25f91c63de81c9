"""What a fault is: a way to spoil a piece, weak (1) to strong (3)."""

from collections.abc import Callable
from dataclasses import dataclass

from mirvel.core.judging.check import Judged

STRENGTHS = (1, 2, 3)


@dataclass(frozen=True)
class Fault:
    """A way to spoil a piece: where it can be, and the piece spoilt at a strength. Nothing is left to chance, so that a
    fault is the same every time."""

    suits: Callable[[Judged], bool]
    spoil: Callable[[Judged, int], Judged]
