"""From a Table form to a change of the recipe: which fields each kind of change reads."""

import math
import re
from collections.abc import Callable, Mapping

from mirvel.core.changing import changes, moving
from mirvel.core.changing.changes import Change
from mirvel.core.goods.facts import Role
from mirvel.core.recipe.recipe import Recipe, SizeMode
from mirvel.core.values.problems import BadInput, Problem
from mirvel.core.values.units import parse_length_cm
from mirvel.drawing.view import View, get_eye
from mirvel.web.requests import Typed
from mirvel.web.table.fitting import apply_extra, apply_fit, apply_mend, apply_repair, apply_substitute
from mirvel.web.table.looking import read_looking, read_piece
from mirvel.web.working import Desk

STEPS = frozenset({"undo", "redo"})
_FURTHEST_CM = 200.0
_WISHES = frozenset({"aim", "odd_focal", "focal_from", "focal_to", "cover_from", "cover_to"})


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
    if kind in _MOVES:
        return _MOVES[kind](recipe, desk, typed)
    if kind not in _KINDS:
        raise BadInput(Problem("change", f"“{kind}” is not a change Mirvel knows.", "Reload the page and try again."))
    return _KINDS[kind](recipe, typed)


def _read_steps(typed: Typed, field: str) -> int:
    text = typed.get(field, "").replace("−", "-")
    if not re.fullmatch(r"-?\d{1,3}", text, re.ASCII):
        raise BadInput(Problem(field, f"“{text[:30]}” is not a number of steps.", "Use + or −."))
    return int(text)


def _set_entry(recipe: Recipe, typed: Typed) -> Change:
    field = typed.get("field", "")
    if field not in {"pieces", "colour", "role", "piece", "outline", "least", "most", "locked"}:
        raise BadInput(Problem("change", f"an entry has no “{field}” to change.", "Reload the page and try again."))
    return changes.set_entry(recipe, typed.get("entry", ""), field, typed.get("value", "").strip())


def _set_field(recipe: Recipe, typed: Typed) -> Change:
    field = typed.get("field", "")
    if field not in {"name", "price_point", "mechanics", "minutes", "notes"}:
        raise BadInput(Problem("change", f"a recipe has no “{field}” to change.", "Reload the page and try again."))
    return changes.set_field(recipe, field, typed.get("value", "").strip())


def _set_own_size(recipe: Recipe, desk: Desk, typed: Typed) -> Change:
    """Sizes as typed, in the unit in force; those the piece has now where nothing is typed."""
    now = desk.work_out(recipe).build.sizing
    height_cm, width_cm = now.overall_height_cm, now.width_cm
    if "height" in typed:
        height_cm = parse_length_cm(typed["height"], desk.rules.unit, field="own height")
    if "width" in typed:
        width_cm = parse_length_cm(typed["width"], desk.rules.unit, field="own width")
    return changes.set_own_size(recipe, height_cm, width_cm)


def _read_chosen(typed: Typed, field: str = "piece") -> tuple[str, int]:
    piece = read_piece(typed.get(field, ""))
    if piece is None:
        raise BadInput(Problem(field, "none is chosen.", "Choose a piece on the drawing first."))
    return piece


def _read_cm(typed: Typed, field: str) -> float:
    try:
        length = float(typed.get(field, "") or 0)
    except ValueError:
        length = math.nan
    if not abs(length) <= _FURTHEST_CM:
        raise BadInput(Problem(field, f"“{typed[field][:30]}” is not a length in cm.", "Drag the piece again."))
    return length


def _move(recipe: Recipe, desk: Desk, typed: Typed) -> Change:
    """A piece carried so far to the right and up on the view it was dragged in."""
    build = desk.work_out(recipe)
    on = View(typed["on"]) if typed.get("on") in set(View) else View.FRONT
    eye = get_eye(on, read_looking(typed).hour, build.build.sizing.form.pose)
    return moving.move_piece(
        build.build, *_read_chosen(typed), eye.get_shift(_read_cm(typed, "right"), _read_cm(typed, "up"))
    )


def _set_arranging(recipe: Recipe, typed: Typed) -> Change:
    field = typed.get("field", "")
    if field not in {"grouping", "balance", "focal", "levels", "grading"}:
        raise BadInput(Problem("change", f"there is no “{field}” to arrange by.", "Reload the page and try again."))
    return moving.set_arranging(recipe, field, typed.get("value", ""))


_MOVES: Mapping[str, Callable[[Recipe, Desk, Typed], Change]] = {
    "fit": apply_fit,
    "mend": apply_mend,
    "repair": apply_repair,
    "substitute": apply_substitute,
    "extra": apply_extra,
    "move": _move,
    "hold": lambda recipe, desk, typed: moving.hold_piece(desk.work_out(recipe).build, *_read_chosen(typed)),
    "swap": lambda recipe, desk, typed: moving.swap_pieces(
        desk.work_out(recipe).build, _read_chosen(typed), _read_chosen(typed, "with")
    ),
    "let-go": lambda recipe, desk, typed: moving.let_go(recipe, *_read_chosen(typed)),
    "let-all-go": lambda recipe, desk, typed: moving.let_all_go(recipe),
    "mirror": lambda recipe, desk, typed: moving.mirror(recipe),
    "again": lambda recipe, desk, typed: moving.place_again(recipe),
    "form": lambda recipe, desk, typed: moving.set_form(recipe, desk.catalogue, typed.get("value", "")),
    "arranging": lambda recipe, desk, typed: _set_arranging(recipe, typed),
}


def _set_school(recipe: Recipe, typed: Typed) -> Change:
    field = "pieces" if typed.get("field") == "pieces" else "pricing"
    return changes.set_school(recipe, field, typed.get("value", ""))


def _set_wish(recipe: Recipe, typed: Typed) -> Change:
    field = typed.get("field", "")
    if field not in _WISHES and field.removeprefix("money ").removeprefix("share ") not in set(Role):
        raise BadInput(Problem("change", f"a fit has no “{field}” to wish for.", "Reload the page and try again."))
    return changes.set_wish(recipe, field, typed.get("value", "").strip())


def _set_brief(recipe: Recipe, typed: Typed) -> Change:
    field = typed.get("field", "")
    if field not in {"lasts_days", "refilled"}:
        raise BadInput(Problem("change", f"a brief has no “{field}” to change.", "Reload the page and try again."))
    return changes.set_brief(recipe, field, typed.get("value", "").strip())


def _set_alternative(recipe: Recipe, typed: Typed) -> Change:
    material, colour = typed.get("material", ""), typed.get("colour", "")
    return changes.set_alternative(recipe, typed.get("entry", ""), material, colour, on=typed.get("value") == "on")


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
    "wish": _set_wish,
    "brief": _set_brief,
    "alternative": _set_alternative,
    "exclude": lambda recipe, typed: changes.set_exclusion(
        recipe, typed.get("field", ""), on=typed.get("value") == "on"
    ),
    "drop-hard-good": lambda recipe, typed: changes.drop_hard_good(recipe, typed.get("hard_good", "")),
}
