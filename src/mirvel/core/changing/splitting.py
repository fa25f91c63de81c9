"""One entry as two lines of the recipe, each of which may then mean something of its own: the open blooms of a lily and
its buds, three of nine roses picked out for a triangle. No piece moves by it."""

from mirvel.core.changing.changes import Change, get_entry, get_free_id
from mirvel.core.making.build import Build
from mirvel.core.recipe.entry import Entry
from mirvel.core.values.problems import BadInput, Problem

_FIELD = "pieces split off"


def split_entry(build: Build, entry_id: str, typed: str, first: int | None = None) -> Change:
    """So many of an entry's pieces, as typed, as a line of their own behind it, with the places they have; ``first``
    is one that is to be among them. Where nothing is typed that one alone or, without it, half. What is held back stays
    with the others. Raises BadInput."""
    recipe = build.recipe
    entry = get_entry(recipe, entry_id)
    numbers = [place.number for place in build.places if place.entry.id == entry_id]
    count = _read(typed or str(1 if first in numbers else max(1, entry.pieces // 2)), entry)
    numbers.sort(key=lambda number: (number != first, -number))
    gone = {*numbers[:count]}
    kept = {place.number: place.kept for place in build.places if place.entry.id == entry_id and place.kept}

    def take(pieces: int, stay: bool) -> dict[str, object]:
        return {
            "pieces": pieces,
            "kept": tuple(place for number, place in sorted(kept.items()) if (number in gone) != stay),
            "pins": tuple(pin for pin in entry.pins if (pin.number in gone) != stay),
            "least": None,
            "most": None,
        }

    rest = entry.model_copy(update=take(entry.pieces - count, stay=True))
    meant = entry.meant.model_copy(update={"held_back": 0})
    own = entry.model_copy(update={**take(count, stay=False), "id": get_free_id(recipe), "meant": meant})
    at = recipe.entries.index(entry)
    after = recipe.change(entries=[*recipe.entries[:at], rest, own, *recipe.entries[at + 1 :]])
    return Change(after, f"{entry.material} ({entry.colour}): {count} of {entry.pieces} as a line of their own")


def _read(typed: str, entry: Entry) -> int:
    most = min(entry.placed, entry.pieces - 1)
    if most < 1:
        raise BadInput(Problem(_FIELD, "there is only one piece.", "Add a piece first."))
    if not (typed.isascii() and typed.isdigit() and 1 <= int(typed) <= most):
        raise BadInput(Problem(_FIELD, f"“{typed[:20]}” cannot be split off.", f"Type a number from 1 to {most}."))
    return int(typed)
