"""What the pieces of an entry wish for by its role in a form: a small language of levels, and of how far out, across
and away, that the table of each form is written in.

Levels are shares of the height, how far out is 1 on the outline, across goes from -1 left to 1 right, away from -1 the
front to 1 the back; None does not mind. What a table leaves out is as usual (``by_role.py``), and what is meant by an
entry goes before what its role wishes (``placing/asked.py``). Runs are spread by the golden share, so that any number
of pieces reads even. Judgements of ours, tuned by eye.
"""

import math
from abc import ABC, abstractmethod
from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from mirvel.core.goods.facts import Role
from mirvel.core.house.design import Balance, FocalPlace, Grading, Grouping, Levels

GOLDEN_SHARE = (math.sqrt(5) - 1) / 2
_LARGE_CM, _LARGE_SHIFT = 6.0, 0.12  # heads larger than 6 cm sit lower, smaller ones higher, by an eighth at most
_HANGING, _ROUND_STEPS = -0.25, 360
_ATTEMPT_TURN = 0.381  # another share of the circle for each attempt
_NEVER = 10**6


@dataclass(frozen=True)
class Arranged:
    """How the flowers are arranged once recipe, form and house have all been asked."""

    grouping: Grouping
    balance: Balance
    focal: FocalPlace
    levels: Levels
    grading: Grading
    mirrored: bool
    attempt: int


@dataclass(frozen=True)
class Wishing:
    """So many pieces of one entry in a role, with heads so wide, that wish for places."""

    role: Role
    count: int
    width_cm: float
    above_rim_cm: float
    arranged: Arranged

    def get_spread(self, number: int) -> float:
        """A share from 0 to 1 for a piece, even however many there are."""
        return (0.5 + number * GOLDEN_SHARE + self.arranged.attempt * _ATTEMPT_TURN) % 1


@dataclass(frozen=True)
class Wish:
    """What one piece would like; None does not mind. Where ``by_area`` the level is a share of the surface counted
    from the skirt, so that a run over all levels is as close on a flat top as on steep sides."""

    level: float
    shell: float = 1.0
    across: float | None = None
    away: float | None = None
    by_area: bool = False


class Run(ABC):
    """How places follow one another: a piece has a number of the entry's, and one in its turn, which differ where the
    entry's pieces take turns at several things."""

    @abstractmethod
    def get_wish(self, wishing: Wishing, number: int, turn: int) -> Wish:
        """The level, and what else goes with it."""


@dataclass(frozen=True)
class Spread(Run):
    """Over all levels from one to another; ``graded`` as the school grades by size."""

    low: float
    high: float
    by_area: bool = False
    graded: bool = False

    def get_wish(self, wishing: Wishing, number: int, turn: int) -> Wish:
        shift = _get_grading_shift(wishing) if self.graded else 0.0
        return Wish(self.get_level(wishing.get_spread(number)) + shift, by_area=self.by_area)

    def get_level(self, share: float) -> float:
        """The level at a share of the way up."""
        return self.low + (self.high - self.low) * share


@dataclass(frozen=True)
class Each(Run):
    """One level after another, and again from the first."""

    levels: tuple[float, ...]

    def get_wish(self, wishing: Wishing, number: int, turn: int) -> Wish:
        return Wish(self.levels[turn % len(self.levels)])


@dataclass(frozen=True)
class Steps(Run):
    """Each lower than the one before, by a share of the height or by cm, not lower than the least; again from the first
    after so many."""

    first: float
    by: float = 0.0
    by_cm: float = 0.0
    least: float = -1.0
    every: int = _NEVER

    def get_wish(self, wishing: Wishing, number: int, turn: int) -> Wish:
        step = self.by + self.by_cm / wishing.above_rim_cm
        return Wish(max(self.least, self.first - step * (turn % self.every)))


@dataclass(frozen=True)
class Falling(Run):
    """Down by even steps from the first to the last; ``short_of`` the last by one step, as of so many at least."""

    first: float
    last: float
    short_of: int = 0

    def get_wish(self, wishing: Wishing, number: int, turn: int) -> Wish:
        steps = max(wishing.count, self.short_of) if self.short_of else max(wishing.count - 1, 1)
        return Wish(self.first - (self.first - self.last) * number / steps)


@dataclass(frozen=True)
class Arch(Run):
    """At even angles round the rim of a half circle so wide: the tallest first, then to either side in turn."""

    reach: float
    least: float

    def get_wish(self, wishing: Wishing, number: int, turn: int) -> Wish:
        step = (number + 1) // 2
        across = (-1) ** number * min(self.reach, 2 * self.reach * step / max(wishing.count, 3))
        return Wish(max(self.least, (1 - across * across) ** 0.5), across=across)


@dataclass(frozen=True)
class Hanging(Run):
    """Over the side of a block of foam, evenly round an oval so deep to its width; ``in_pairs`` two and two for one
    place, the second at its mirror."""

    depth: float
    in_pairs: bool = False

    def get_wish(self, wishing: Wishing, number: int, turn: int) -> Wish:
        at = turn - turn % 2 if self.in_pairs else turn
        across, away = _walk_round(self.depth)[int(wishing.get_spread(at) * _ROUND_STEPS)]
        return Wish(_HANGING, across=across, away=away)


@dataclass(frozen=True)
class AsUsual(Run):
    """Whatever its role usually does, in any form; ``by_area`` where that is told otherwise."""

    by_area: bool | None = None

    def get_wish(self, wishing: Wishing, number: int, turn: int) -> Wish:
        raise NotImplementedError("What is usual is found where it is written down.")


@dataclass(frozen=True)
class Wanting:
    """What pieces wish for one after another: their levels, and in turn how far out, across and away; what is left out
    is as the levels say, and a share out of None as they have it."""

    levels: Run
    shell: tuple[float | None, ...] = ()
    across: tuple[float, ...] = ()
    away: tuple[float, ...] = ()

    def add_to(self, wish: Wish, turn: int) -> Wish:
        """A wish of its levels, with all else that is told."""
        shell = self.shell[turn % len(self.shell)] if self.shell else None
        return replace(
            wish,
            shell=wish.shell if shell is None else shell,
            across=self.across[turn % len(self.across)] if self.across else wish.across,
            away=self.away[turn % len(self.away)] if self.away else wish.away,
        )


@dataclass(frozen=True)
class InTurn:
    """The pieces of an entry take turns: the first wishes for the first of these, the next for the next, and so on."""

    each: tuple[Wanting, ...]


@dataclass(frozen=True)
class Firstly:
    """The first pieces of an entry, so many or such a share of them, wish for something of their own."""

    first: Wanting
    others: Wanting
    count: int = 0
    share: float = 0.0

    def get_count(self, count: int) -> int:
        """How many of so many are first."""
        return self.count or math.ceil(count * self.share)


Wants = Wanting | InTurn | Firstly
AS_USUAL = Wanting(AsUsual())


def take_turns(*each: Wanting) -> InTurn:
    """What the pieces of an entry wish for in turn."""
    return InTurn(each)


@dataclass(frozen=True)
class Turn:
    """The number of a piece, what it wishes for, and its number among those of the entry that wish the same."""

    number: int
    wanting: Wanting
    turn: int


def get_turns(wants: Wants, wishing: Wishing) -> Iterator[Turn]:
    """What each piece wishes for."""
    for number in range(wishing.count):
        if isinstance(wants, InTurn):
            at = number % len(wants.each)
            mine = wants.each[at]
            rounds = number // len(wants.each) * wants.each.count(mine)
            yield Turn(number, mine, rounds + wants.each[:at].count(mine))
        elif isinstance(wants, Firstly):
            yield Turn(number, wants.first if number < wants.get_count(wishing.count) else wants.others, number)
        else:
            yield Turn(number, wants, number)


@lru_cache(maxsize=16)
def _walk_round(depth: float) -> tuple[tuple[float, float], ...]:
    """Across and away of points that follow one another at even steps round an oval."""
    turns = np.linspace(0, 2 * math.pi, 2 * _ROUND_STEPS + 1)
    across, away = np.sin(turns), -np.cos(turns)
    run = np.concatenate([[0.0], np.hypot(np.diff(across), depth * np.diff(away)).cumsum()])
    found = np.interp(np.arange(_ROUND_STEPS) / _ROUND_STEPS * run[-1], run, turns)
    return tuple(zip(np.sin(found).tolist(), (-np.cos(found)).tolist(), strict=True))


def _get_grading_shift(wishing: Wishing) -> float:
    """Where the school grades by size: large heads lower, small ones higher, as a share of the height."""
    if wishing.arranged.grading is not Grading.LARGE_LOW:
        return 0.0
    return -_LARGE_SHIFT * max(-1.0, min(1.0, (wishing.width_cm - _LARGE_CM) / _LARGE_CM))
