"""Cuts as a bench reads them: by level from the crown down, or by the part of a frame, equal lengths counted."""

from dataclasses import dataclass

from mirvel.core.forms.locating import Located
from mirvel.core.goods.facts import Role
from mirvel.core.making.build import Build
from mirvel.core.making.cuts import Cut
from mirvel.core.placing.finding import LEVELS_DOWN, say_within


@dataclass(frozen=True)
class LevelCuts:
    """The cuts of one entry at one level or part of a frame: (length in cm, how many), longest first, where within it
    they go, if that is told, and what is said instead of lengths where nothing is cut."""

    level: str
    lengths: tuple[tuple[float, int], ...]
    at: tuple[str, ...] = ()
    uncut: str = ""

    @property
    def count(self) -> int:
        """How many pieces stand there."""
        return sum(count for _, count in self.lengths)


def get_level_cuts(cuts: tuple[Cut, ...], build: Build) -> tuple[LevelCuts, ...]:
    """Group the cuts of one entry; greens go all round, so that only flowers are told where."""
    unit, found = build.rules.unit, [(cut, _locate(cut, build)) for cut in cuts]
    names = sorted({located.group for _, located in found}, key=_get_order)
    groups = []
    for name in names:
        own = [(cut, located) for cut, located in found if located.group == name]
        lengths = sorted((round(cut.cut_cm, 4) for cut, _ in own), reverse=True)
        counted = tuple((length, lengths.count(length)) for length in dict.fromkeys(lengths))
        told = build.sizing.form.locate is not None and all(cut.place.entry.role is not Role.GREENERY for cut, _ in own)
        at = sorted((located for _, located in own), key=_get_place_order) if told else []
        words = dict.fromkeys(say_within(located, unit) for located in at)
        uncut = own[0][0].place.material.uncut
        groups.append(LevelCuts(name, counted, tuple(word for word in words if word), uncut))
    return tuple(groups)


def _locate(cut: Cut, build: Build) -> Located:
    """Where a piece is told to be; what is laid on lies on what holds the others, at no level of its own."""
    located = build.locate(cut.place)
    return located._replace(group="") if cut.place.material.is_laid else located


def _get_order(name: str) -> tuple[int, str]:
    return (LEVELS_DOWN.index(name), "") if name in LEVELS_DOWN else (len(LEVELS_DOWN), name)


def _get_place_order(located: Located) -> tuple[float, float]:
    if located.from_middle_cm is not None:
        return located.from_middle_cm, 0.0
    hours, _, half = located.where.partition(" ")[0].partition(":")
    return (float(hours) % 12, 0.5 * bool(half)) if hours.isdigit() else (0.0, 0.0)
