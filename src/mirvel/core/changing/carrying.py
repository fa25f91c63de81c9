"""Places go with a recipe through its changes: what it was keeps standing where it stood, and a change places only what
it adds or takes away."""

from mirvel.core.forms.kinds import FORMS
from mirvel.core.making.build import Build
from mirvel.core.recipe.entry import Entry, KeptPlace
from mirvel.core.recipe.recipe import Recipe

_BY_WISH = ("role", "piece", "outline", "attempt")  # an entry that changes one of these looks for other places


def carry_places(build: Build, after: Recipe) -> Recipe:
    """A changed recipe with the places that the pieces of what it came from, ``build``, had. None are carried into
    another form, another arrangement (or another attempt at it) or another frame of foam, nor for an entry whose
    wishes changed, nor for a piece that is let go."""
    if _is_placed_anew(build, after):
        return after.model_copy(update={"entries": tuple(_forget(entry) for entry in after.entries)})
    found: dict[str, dict[int, KeptPlace]] = {}
    for place in build.places:
        if place.kept:
            found.setdefault(place.entry.id, {})[place.number] = place.kept
    anew = _find_anew(build.recipe, after)
    # a line that is new has the places it was given, and from whom it was split off has them no more
    fresh = {entry.id: entry.kept for entry in after.entries if build.recipe.find_entry(entry.id) is None}
    given = [place for kept in fresh.values() for place in kept]
    for entry_id, places in found.items():
        found[entry_id] = {number: place for number, place in places.items() if place not in given}
    found |= {entry_id: {place.number: place for place in kept} for entry_id, kept in fresh.items()}
    entries = [
        _forget(entry) if entry.id in anew else _carry(entry, found.get(entry.id, {})) for entry in after.entries
    ]
    return after.model_copy(update={"entries": tuple(entries)})


def _find_anew(before: Recipe, after: Recipe) -> set[str]:
    """The entries that look for other places: those that mean something else now, sets with a piece more or fewer, and
    those that are told by one that does."""
    mirrored = before.arranging.mirrored != after.arranging.mirrored
    anew = {entry.id for entry in after.entries if _is_other(before.find_entry(entry.id), entry, mirrored=mirrored)}
    for _ in after.entries:
        anew |= {entry.id for entry in after.entries if anew & {*entry.meant.named}}
    return anew


def _is_other(before: Entry | None, after: Entry, *, mirrored: bool) -> bool:
    if before is None:
        return not (after.kept or after.pins)
    if any(getattr(before, field) != getattr(after, field) for field in _BY_WISH):
        return True
    meant = before.meant.across if mirrored else before.meant
    was, now = (each.leave_out(["held_back"]) for each in (meant, after.meant))
    return was != now or (now.is_of_all_together and before.placed != after.placed)


def _forget(entry: Entry) -> Entry:
    return entry.model_copy(update={"kept": ()})


def _is_placed_anew(build: Build, after: Recipe) -> bool:
    before = build.recipe
    # Left and right are exchanged last of all, when every piece has its place.
    arrangings = [each.arranging.model_copy(update={"mirrored": False}) for each in (before, after)]
    is_other_frame = FORMS[after.form].is_as_large_as_its_container and before.container != after.container
    return before.form != after.form or arrangings[0] != arrangings[1] or is_other_frame


def _carry(after: Entry, places: dict[int, KeptPlace]) -> Entry:
    held = {pin.number for pin in after.pins}
    kept = tuple(place for number, place in sorted(places.items()) if number not in held)
    return after.model_copy(update={"kept": kept})
