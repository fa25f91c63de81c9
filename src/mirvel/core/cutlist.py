"""Cuts as a bench reads them: by level from the crown down, equal lengths counted."""

from dataclasses import dataclass

from mirvel.core.cuts import Cut
from mirvel.core.geometry import BANDS

_TOP_DOWN = ("crown", *(name for _, name in reversed(BANDS)))


@dataclass(frozen=True)
class LevelCuts:
    """The cuts of one entry at one level: (length in cm, how many), longest first."""

    level: str
    lengths: tuple[tuple[float, int], ...]


def get_level_cuts(cuts: tuple[Cut, ...]) -> tuple[LevelCuts, ...]:
    """Group the cuts of one entry."""
    groups = []
    for level in _TOP_DOWN:
        lengths = sorted((round(cut.cut_cm, 4) for cut in cuts if cut.place.level == level), reverse=True)
        if lengths:
            counted = tuple((length, lengths.count(length)) for length in dict.fromkeys(lengths))
            groups.append(LevelCuts(level, counted))
    return tuple(groups)
