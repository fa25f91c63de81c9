"""What a cutting gauge shows at its true size: every length that stems are cut to, entry by entry, and the heights of
the piece over the table."""

from dataclasses import dataclass

from mirvel.core.goods.material import Material
from mirvel.core.making.build import Build
from mirvel.core.placing.size import SIGHT_LINE_CM


@dataclass(frozen=True)
class Column:
    """One entry under its line's number: lengths in cm, the longest first, each with how many are cut to it."""

    number: int
    material: Material
    colour: str
    lengths: tuple[tuple[float, int], ...]


def get_columns(build: Build) -> tuple[Column, ...]:
    """Every entry of which something is cut."""
    found = []
    for number, entry in enumerate(build.recipe.entries, 1):
        cuts = [cut for cut in build.get_entry_cuts(entry.id) if not cut.place.material.uncut and cut.cut_cm > 0]
        lengths = sorted((round(cut.cut_cm, 4) for cut in cuts), reverse=True)
        if cuts:
            counted = tuple((length, lengths.count(length)) for length in dict.fromkeys(lengths))
            found.append(Column(number, cuts[0].place.material, entry.colour, counted))
    return tuple(found)


def get_heights(build: Build) -> tuple[tuple[str, float], ...]:
    """Heights from the table, cm, with what each is; none of what hangs."""
    if build.sizing.form.hangs:
        return ()
    found = [("rim", build.table_cm), ("top", build.overall_height_cm)]
    if build.recipe.brief.across_table:
        found.append(("sight line", SIGHT_LINE_CM))
    return tuple((words, height) for words, height in found if height > 0)
