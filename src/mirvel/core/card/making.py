"""The making of a piece step by step: of each step what goes in, numbered through, with its cuts put together so that a
person cuts all of one length at once."""

from collections.abc import Iterable
from dataclasses import dataclass

from mirvel.core.card.steps import Step, get_steps
from mirvel.core.making.build import Build
from mirvel.core.making.cuts import Cut
from mirvel.core.recipe.entry import Entry
from mirvel.core.working import Worked

Key = tuple[str, int]


@dataclass(frozen=True)
class Numbered:
    """One piece of a step under its number there, with its cut and where it goes."""

    number: int
    cut: Cut
    where: str

    @property
    def key(self) -> Key:
        return self.cut.place.entry.id, self.cut.place.number


@dataclass(frozen=True)
class OneLength:
    """Pieces of one entry that are cut to one length, cm, or not cut at all, ``uncut`` saying what is done instead; how
    high the base of each then stands above the rim, and how far below the table's edge it is cut beside its vase: from
    the least to the most, cm."""

    entry: Entry
    name: str
    cut_cm: float
    uncut: str
    pieces: tuple[Numbered, ...]
    above_rim_cm: tuple[float, float]
    below_edge_cm: tuple[float, float]


@dataclass(frozen=True)
class Making:
    """One step of making: its words, what is in place before it, and what goes in, by length."""

    step: Step
    before: frozenset[str]
    lengths: tuple[OneLength, ...]

    @property
    def pieces(self) -> tuple[Numbered, ...]:
        return tuple(piece for length in self.lengths for piece in length.pieces)


def get_makings(worked: Worked) -> tuple[Making, ...]:
    """Every step in which something goes in, in the order of building."""
    found: list[Making] = []
    before: frozenset[str] = frozenset()
    for step in get_steps(worked):
        if step.entries:
            found.append(Making(step, before, tuple(_get_lengths(step.entries, worked.build))))
            before |= {entry.id for entry in step.entries}
    return tuple(found)


def _get_lengths(entries: Iterable[Entry], build: Build) -> Iterable[OneLength]:
    """Entry by entry, the longest first; of one length in the order of the clock."""
    number = 0
    for entry in entries:
        cuts = sorted(build.get_entry_cuts(entry.id), key=lambda cut: (-cut.cut_cm, cut.place.clock_hour % 12))
        for length in dict.fromkeys(round(cut.cut_cm, 4) for cut in cuts):
            own = [cut for cut in cuts if round(cut.cut_cm, 4) == length]
            pieces = tuple(Numbered(number + at, cut, build.say_place(cut.place)) for at, cut in enumerate(own, 1))
            number += len(own)
            above = [cut.above_rim_cm for cut in own]
            below = [cut.get_below_edge_cm(build.container) for cut in own]
            material = own[0].place.material
            heights = (min(above), max(above)), (min(below), max(below))
            yield OneLength(entry, material.name, length, material.uncut, pieces, *heights)
