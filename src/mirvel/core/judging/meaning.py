"""Checks of what a designer means by an entry, as its own wishes have it."""

from collections.abc import Iterator

from mirvel.core.judging.check import Checks, Family, Found, Judged, Severity, Source
from mirvel.core.recipe.meant_words import write_meant

CHECKS = Checks(Family.COMPOSITION)


@CHECKS.add(
    "held", Severity.WARN, measures="pieces held back of an entry", limit="not all of them", source=Source.RECIPE
)
def find_all_held_back(judged: Judged) -> Iterator[Found]:
    """An entry that is held back whole."""
    for number, entry in enumerate(judged.recipe.entries, 1):
        if entry.pieces and not entry.placed:
            reason = f"{entry.meant.held_back} held back of {entry.pieces}: hold fewer back, or add pieces."
            yield Found(f"{number} {judged.taken.placed[entry.id].name}: none is placed", reason, entry.id)


@CHECKS.add(
    "meant",
    Severity.NOTE,
    measures="each wish of an entry, as its places meet it",
    limit="what is meant; a stop where it must be",
    source=Source.RECIPE,
)
def find_unmet(judged: Judged) -> Iterator[Found]:
    """What a designer means by an entry and its places do not meet."""
    build = judged.build
    ids = [entry.id for entry in judged.recipe.entries]
    for number, entry in enumerate(judged.recipe.entries, 1):
        for met in build.met.get(entry.id, ()):
            if met.is_met:
                continue
            said = write_meant(entry.meant, ids, judged.rules.unit)
            reason = f"Meant is “{said}”: {met.instead}. Place it again, make room for it, or mean it otherwise."
            yield Found(
                f"{number} {judged.taken.placed[entry.id].name}: not {met.wish}",
                reason,
                f"{entry.id}-{met.part}",
                tuple(place for place in build.places if place.entry.id == entry.id),
                Severity.STOP if entry.meant.must else None,
            )
