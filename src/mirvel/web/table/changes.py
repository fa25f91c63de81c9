"""From a Table form to a change of the recipe: which fields each kind of change reads."""

from collections.abc import Callable, Mapping

from mirvel.core import changes
from mirvel.core.changes import Change
from mirvel.core.problems import BadInput, Problem
from mirvel.core.recipe import Recipe, SizeMode
from mirvel.core.units import parse_length_cm
from mirvel.web.requests import Typed
from mirvel.web.working import Desk

STEPS = frozenset({"undo", "redo"})


def get_change(recipe: Recipe, desk: Desk, typed: Typed) -> Change:
    """The change a form asks for. Raises BadInput."""
    kind = typed.get("kind", "")
    if kind == "add":
        return changes.add_entry(recipe, desk.catalogue, typed.get("material", ""), typed.get("colour", ""))
    if kind == "own-size" or (kind == "size" and typed.get("value") == SizeMode.OWN):
        return _set_own_size(recipe, desk, typed)
    if kind == "field" and typed.get("field") == "container":
        return changes.set_container(recipe, desk.catalogue, typed.get("value", ""))
    if kind == "hard-good":
        slug = typed.get("hard_good", "")
        return changes.use_hard_good(recipe, desk.catalogue, slug, typed.get("value", ""))
    if kind not in _KINDS:
        raise BadInput(Problem("change", f"“{kind}” is not a change Mirvel knows.", "Reload the page and try again."))
    return _KINDS[kind](recipe, typed)


def _read_steps(typed: Typed, field: str) -> int:
    text = typed.get(field, "").replace("−", "-")
    if not text.removeprefix("-").isdecimal() or len(text) > 4:
        raise BadInput(Problem(field, f"“{text}” is not a number of steps.", "Use + or −."))
    return int(text)


def _set_entry(recipe: Recipe, typed: Typed) -> Change:
    field = typed.get("field", "")
    if field not in {"pieces", "colour", "role", "piece"}:
        raise BadInput(Problem("change", f"an entry has no “{field}” to change.", "Reload the page and try again."))
    return changes.set_entry(recipe, typed.get("entry", ""), field, typed.get("value", "").strip())


def _set_field(recipe: Recipe, typed: Typed) -> Change:
    field = typed.get("field", "")
    if field not in {"name", "price_point", "mechanics", "minutes", "notes"}:
        raise BadInput(Problem("change", f"a recipe has no “{field}” to change.", "Reload the page and try again."))
    return changes.set_field(recipe, field, typed.get("value", "").strip())


def _set_own_size(recipe: Recipe, desk: Desk, typed: Typed) -> Change:
    """Sizes as typed, in the unit in force; those the piece has now where nothing is typed."""
    now = desk.work_out(recipe).sizing
    height_cm, width_cm = now.overall_height_cm, now.width_cm
    if "height" in typed:
        height_cm = parse_length_cm(typed["height"], desk.rules.unit, field="own height")
    if "width" in typed:
        width_cm = parse_length_cm(typed["width"], desk.rules.unit, field="own width")
    return changes.set_own_size(recipe, height_cm, width_cm)


def _set_school(recipe: Recipe, typed: Typed) -> Change:
    field = "pieces" if typed.get("field") == "pieces" else "pricing"
    return changes.set_school(recipe, field, typed.get("value", ""))


_KINDS: Mapping[str, Callable[[Recipe, Typed], Change]] = {
    "nudge": lambda recipe, typed: changes.nudge_pieces(recipe, typed.get("entry", ""), _read_steps(typed, "by")),
    "entry": _set_entry,
    "remove": lambda recipe, typed: changes.remove_entry(recipe, typed.get("entry", "")),
    "field": _set_field,
    "height": lambda recipe, typed: changes.set_height(
        recipe, {key: typed[key].strip() for key in ("factor", "of", "base") if key in typed}
    ),
    "height-nudge": lambda recipe, typed: changes.nudge_height(recipe, _read_steps(typed, "by")),
    "size": lambda recipe, typed: changes.set_size(
        recipe, "density" if typed.get("field") == "density" else "mode", typed.get("value", "")
    ),
    "school": _set_school,
    "drop-hard-good": lambda recipe, typed: changes.drop_hard_good(recipe, typed.get("hard_good", "")),
}
