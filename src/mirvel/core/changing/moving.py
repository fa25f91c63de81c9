"""Changes to where pieces stand and how they are arranged: move, hold, let go, swap, mirror, place again, another
form. A moved piece is pinned where it was left; all the others stay where they are.

Each takes the recipe (and what has been worked out of it) and gives the new one with words for it. All raise BadInput.
"""

from collections.abc import Callable
from typing import Literal

from mirvel.core.changing.changes import Change, get_entry
from mirvel.core.changing.samples import choose_container, choose_mechanics
from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.facts import Mechanics
from mirvel.core.making.build import Build
from mirvel.core.placing.met import get_top
from mirvel.core.placing.places import Place
from mirvel.core.placing.tips import TABLE_CLEAR_CM
from mirvel.core.recipe.entry import Entry, Pin
from mirvel.core.recipe.recipe import Recipe, SizeMode
from mirvel.core.space.vectors import UPRIGHT, Vec, get_clock_hour, get_level
from mirvel.core.values.problems import BadInput, Problem
from mirvel.core.values.units import format_length

_RAISED, _CLOSE_CM = 5, 0.05
FURTHEST = 1.6  # how far out of the outline a piece may be carried, as a share of half its width and depth
Pins = tuple[Pin, ...]
ArrangingField = Literal["grouping", "balance", "focal", "levels", "grading"]


def find_place(build: Build, entry_id: str, number: int) -> Place:
    """The place of one piece. Raises BadInput where there is none."""
    for place in build.places:
        if place.entry.id == entry_id and place.number == number:
            return place
    raise BadInput(Problem("piece", "it is not in the piece any more.", "Choose one on the drawing."))


def _set_pins(recipe: Recipe, change: Callable[[Entry], Pins], **fields: object) -> Recipe:
    entries = [{**entry.model_dump(), "pins": [pin.model_dump() for pin in change(entry)]} for entry in recipe.entries]
    return recipe.change(entries=entries, **fields)


def _pin(recipe: Recipe, tips: dict[tuple[str, int], Vec], faces: Vec | None = None) -> Recipe:
    """The recipe with some pieces pinned at tips, in place of what pins they had, facing one way where that is told."""
    looks = tuple(round(each, 4) for each in faces) if faces else None

    def get_pins(entry: Entry) -> Pins:
        mine = {number: tip for (entry_id, number), tip in tips.items() if entry_id == entry.id}
        kept = [pin for pin in entry.pins if pin.number not in mine]
        fresh = [Pin(number=n, x=round(t.x, 4), y=round(t.y, 4), z=round(t.z, 4), faces=looks) for n, t in mine.items()]
        return tuple(sorted((*kept, *fresh), key=lambda pin: pin.number))

    return _set_pins(recipe, get_pins)


def move_piece(build: Build, entry_id: str, number: int, shift: Vec) -> Change:
    """Carry one piece so far and hold it there: above the table, not over the top, within reach of the piece."""
    place, frame = find_place(build, entry_id, number), build.sizing.frame
    tip = place.tip.plus(shift)
    wide, deep = FURTHEST * frame.half_width_cm, FURTHEST * frame.half_depth_cm
    low = -0.5 * frame.above_rim_cm
    if build.sizing.form.pose == UPRIGHT:
        low = max(low, TABLE_CLEAR_CM - frame.rim_height_cm)
    tip = Vec(
        max(-wide, min(wide, tip.x)), max(-deep, min(deep, tip.y)), max(low, min(frame.above_rim_cm * 1.1, tip.z))
    )
    hour, level = round(get_clock_hour(tip)) or 12, get_level(tip.z, frame.above_rim_cm)
    words = f"{place.material.name} moved to {hour} o’clock, {level}"
    return Change(_pin(build.recipe, {(entry_id, number): tip}), words)


def set_top(build: Build, entry_id: str, number: int, top_cm: float, rebuild: Callable[[Recipe], Build]) -> Change:
    """Hold one piece where its highest point ends so far above the rim. A head turns as it is raised, so it is measured
    anew as ``rebuild`` makes it. Raises BadInput where it would be in the table or over the top."""
    above, unit = build.sizing.frame.above_rim_cm, build.rules.unit
    lowest = max(-0.5 * above, TABLE_CLEAR_CM - build.sizing.frame.rim_height_cm)
    if not lowest <= top_cm <= 1.1 * above:
        least, most = (format_length(each, unit) for each in (lowest, 1.1 * above))
        message = f"{format_length(top_cm, unit)} above the rim is in the table, or over the top of the piece."
        raise BadInput(Problem("top", message, f"Type a height from {least} to {most}."))
    change = hold_piece(build, entry_id, number)
    for _ in range(_RAISED):
        held = rebuild(change.recipe)
        reached = get_top(find_place(held, entry_id, number))
        if abs(top_cm - reached) < _CLOSE_CM:
            break
        change = move_piece(held, entry_id, number, Vec(0.0, 0.0, top_cm - reached))
    else:
        message = f"a head here ends {format_length(reached, unit)} above the rim at the nearest."
        raise BadInput(Problem("top", message, "Type that, or drag it to another side first."))
    return Change(change.recipe, f"{get_entry(build.recipe, entry_id).material}: top {format_length(top_cm, unit)}")


def hold_piece(build: Build, entry_id: str, number: int) -> Change:
    """Pin a piece where it is."""
    place = find_place(build, entry_id, number)
    held = _pin(build.recipe, {(entry_id, number): place.tip}, place.facing)
    return Change(held, f"{place.material.name} held in place")


def let_go(recipe: Recipe, entry_id: str, number: int) -> Change:
    """Unpin a piece, which then finds its own place."""
    name = get_entry(recipe, entry_id).material

    def get_pins(entry: Entry) -> Pins:
        return tuple(pin for pin in entry.pins if entry.id != entry_id or pin.number != number)

    return Change(_set_pins(recipe, get_pins), f"{name} let go")


def let_all_go(recipe: Recipe) -> Change:
    return Change(_set_pins(recipe, lambda entry: ()), "all pieces let go")


def swap_pieces(build: Build, one: tuple[str, int], other: tuple[str, int]) -> Change:
    """Two pieces change places, each held where the other was."""
    first, second = find_place(build, *one), find_place(build, *other)
    if one == other:
        raise BadInput(Problem("swap", "a piece cannot change places with itself.", "Choose another one."))
    swapped = _pin(build.recipe, {one: second.tip, other: first.tip})
    return Change(swapped, f"{first.material.name} and {second.material.name} changed places")


def mirror(recipe: Recipe) -> Change:
    """The whole piece with left and right exchanged, pinned pieces too."""

    def get_pins(entry: Entry) -> Pins:
        return tuple(pin.across for pin in entry.pins)

    arranging = {**recipe.arranging.model_dump(), "mirrored": not recipe.arranging.mirrored}
    after = _set_pins(recipe, get_pins, arranging=arranging)
    entries = [entry.model_copy(update={"meant": entry.meant.across}) for entry in after.entries]
    return Change(after.change(entries=entries), "mirrored")


def place_again(recipe: Recipe, entry_id: str = "", attempts: int = 1) -> Change:
    """Everything that is not held finds another place, or all that is not held of one entry; the so-manyth from now."""
    if entry_id:
        entry = get_entry(recipe, entry_id)
        fresh = entry.model_copy(update={"attempt": (entry.attempt + attempts) % 1000})
        entries = [fresh if each.id == entry_id else each for each in recipe.entries]
        return Change(recipe.change(entries=entries), f"{entry.material} ({entry.colour}) placed again")
    attempt = (recipe.arranging.attempt + attempts) % 1000
    arranging = {**recipe.arranging.model_dump(), "attempt": attempt}
    return Change(recipe.change(arranging=arranging), "the rest placed again")


def set_arranging(recipe: Recipe, field: ArrangingField, typed: str) -> Change:
    """Replace one choice of the arranging; an empty one follows the form and the house."""
    arranging = {**recipe.arranging.model_dump(), field: typed or None}
    return Change(recipe.change(arranging=arranging), f"{field}: {typed or 'as the form does'}")


def set_form(recipe: Recipe, catalogue: Catalogue, name: str) -> Change:
    """Another form, by its own rule and as it is usually held; in another container where it cannot stand in this
    one. Pins belong to a shape, so they are let go."""
    form = FORMS.get(name)
    if form is None:
        raise BadInput(Problem("form", f"there is no form “{name}”.", "Choose one from the list."))
    container = catalogue.get_container(recipe.container)
    if not form.takes(container):
        fit = [each for each in catalogue.containers.values() if form.takes(each) and not each.retired]
        if not fit:
            mend = "Add a container it can be made in to Buckets first."
            raise BadInput(Problem("form", f"the shop has nothing to make {form.name} in.", mend))
        container = choose_container(form, fit)
    mechanics: Mechanics = recipe.mechanics
    if mechanics not in form.mechanics:
        mechanics = choose_mechanics(form, container)
    mode = SizeMode.BY_RULE if recipe.size.mode is SizeMode.OWN else recipe.size.mode
    size = {**recipe.size.model_dump(), "mode": mode, "rule": form.rule.model_dump()}
    brief = {**recipe.brief.model_dump(), "seen_from": form.seen_from}
    fields = {"form": name, "container": container.slug, "mechanics": mechanics, "size": size, "brief": brief}
    return Change(_set_pins(recipe, lambda entry: (), **fields), f"form {form.name} in {container.name}")
