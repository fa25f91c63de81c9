"""From a Table form to a change of the recipe: which fields each kind of change reads."""

import math
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import cast, get_args

from mirvel.core.changing import accepting, changes, moving
from mirvel.core.changing.changes import Change
from mirvel.core.changing.ordering import order_by_school
from mirvel.core.changing.splitting import split_entry
from mirvel.core.goods.facts import Role
from mirvel.core.recipe.recipe import Recipe, SizeMode
from mirvel.core.values.problems import BadInput, Problem
from mirvel.core.values.units import parse_length_cm
from mirvel.drawing.view import View, get_eye
from mirvel.web.requests import Typed
from mirvel.web.table.fitting import apply_extra, apply_fit, apply_mend, apply_repair, apply_substitute
from mirvel.web.table.looking import read_looking, read_piece
from mirvel.web.table.mending import put_right
from mirvel.web.working import Desk

STEPS = frozenset({"undo", "redo"})
_FURTHEST_CM = 200.0
_WISHES = frozenset({"aim", "odd_focal", "focal_from", "focal_to", "cover_from", "cover_to"})
Maker = Callable[["Asked"], Change]


@dataclass(frozen=True)
class Asked:
    """A change as a form asks for it."""

    recipe: Recipe
    desk: Desk
    typed: Typed

    def get(self, name: str) -> str:
        return self.typed.get(name, "").strip()

    @property
    def entry(self) -> str:
        return self.typed.get("entry", "")

    @property
    def value(self) -> str:
        return self.get("value")

    @property
    def is_on(self) -> bool:
        return self.value == "on"

    def read_field(self, fields: object, what: str) -> str:
        """The field named, one of a literal type's. Raises BadInput."""
        field = self.typed.get("field", "")
        if field not in get_args(fields):
            raise _get_unknown(f"{what} has no “{field[:30]}” to change.")
        return field

    def read_steps(self) -> int:
        """How many steps more or fewer. Raises BadInput."""
        text = self.typed.get("by", "").replace("−", "-")
        if not re.fullmatch(r"-?\d{1,3}", text, re.ASCII):
            raise BadInput(Problem("by", f"“{text[:30]}” is not a number of steps.", "Use + or −."))
        return int(text)

    def read_attempts(self) -> int:
        """Which of the placings from now is meant: the next where none is said. Raises BadInput."""
        if not re.fullmatch(r"\d{0,3}", self.value, re.ASCII):
            raise BadInput(
                Problem("placing", f"there is none called “{self.value[:20]}”.", "Choose one of those shown.")
            )
        return int(self.value or 1)

    def read_piece(self, field: str = "piece") -> tuple[str, int]:
        """The piece chosen. Raises BadInput."""
        piece = read_piece(self.typed.get(field, ""))
        if piece is None:
            raise BadInput(Problem(field, "none is chosen.", "Choose a piece on the drawing first."))
        return piece

    def read_cm(self, field: str) -> float:
        """How far a piece was dragged one way. Raises BadInput."""
        text = self.typed.get(field, "") or "0"
        try:
            length = float(text)
        except ValueError:
            length = math.nan
        if not abs(length) <= _FURTHEST_CM:
            raise BadInput(Problem(field, f"“{text[:30]}” is not a length in cm.", "Drag the piece again."))
        return length


def get_change(recipe: Recipe, desk: Desk, typed: Typed) -> Change:
    """The change a form asks for. Raises BadInput."""
    kind = typed.get("kind", "")
    if kind not in KINDS:
        raise _get_unknown(f"“{kind[:30]}” is not a change Mirvel knows.")
    return KINDS[kind](Asked(recipe, desk, typed))


def _get_unknown(message: str) -> BadInput:
    return BadInput(Problem("change", message, "Reload the page and try again."))


def _set_entry(asked: Asked) -> Change:
    field = cast(changes.EntryField, asked.read_field(changes.EntryField, "an entry"))
    return changes.set_entry(asked.recipe, asked.entry, field, asked.value)


def _set_field(asked: Asked) -> Change:
    if asked.get("field") == "container":
        return changes.set_container(asked.recipe, asked.desk.catalogue, asked.value)
    field = cast(changes.RecipeField, asked.read_field(changes.RecipeField, "a recipe"))
    return changes.set_field(asked.recipe, field, asked.value)


def _set_size(asked: Asked) -> Change:
    if asked.value == SizeMode.OWN:
        return _set_own_size(asked)
    field = cast(changes.SizeField, asked.read_field(changes.SizeField, "a size"))
    return changes.set_size(asked.recipe, field, asked.value)


def _set_own_size(asked: Asked) -> Change:
    """Sizes as typed, in the unit in force; those the piece has now where nothing is typed."""
    now, unit, typed = asked.desk.work_out(asked.recipe).build.sizing, asked.desk.rules.unit, asked.typed
    height_cm, width_cm = now.overall_height_cm, now.width_cm
    if "height" in typed:
        height_cm = parse_length_cm(typed["height"], unit, field="own height")
    if "width" in typed:
        width_cm = parse_length_cm(typed["width"], unit, field="own width")
    return changes.set_own_size(asked.recipe, height_cm, width_cm)


def _set_height(asked: Asked) -> Change:
    parts = {key: asked.get(key) for key in ("factor", "of", "base") if key in asked.typed}
    return changes.set_height(asked.recipe, parts)


def _set_school(asked: Asked) -> Change:
    field = cast(changes.SchoolField, asked.read_field(changes.SchoolField, "a school"))
    return changes.set_school(asked.recipe, field, asked.value)


def _set_brief(asked: Asked) -> Change:
    field = cast(changes.BriefField, asked.read_field(changes.BriefField, "a brief"))
    return changes.set_brief(asked.recipe, field, asked.value)


def _set_foam(asked: Asked) -> Change:
    unit = asked.desk.rules.unit
    return changes.set_foam(asked.recipe, parse_length_cm(asked.value, unit, field="foam above the rim"))


def _set_wish(asked: Asked) -> Change:
    field = asked.typed.get("field", "")
    if field not in _WISHES and field.removeprefix("money ").removeprefix("share ") not in set(Role):
        raise _get_unknown(f"a fit has no “{field[:30]}” to wish for.")
    return changes.set_wish(asked.recipe, field, asked.value)


def _set_arranging(asked: Asked) -> Change:
    field = cast(moving.ArrangingField, asked.read_field(moving.ArrangingField, "the arranging"))
    return moving.set_arranging(asked.recipe, field, asked.value)


def _set_alternative(asked: Asked) -> Change:
    material, colour = asked.typed.get("material", ""), asked.typed.get("colour", "")
    return changes.set_alternative(asked.recipe, asked.entry, material, colour, on=asked.is_on)


def _add(asked: Asked) -> Change:
    material, colour = asked.typed.get("material", ""), asked.typed.get("colour", "")
    return changes.add_entry(asked.recipe, asked.desk.catalogue, material, colour)


def _use_hard_good(asked: Asked) -> Change:
    slug = asked.typed.get("hard_good", "")
    return changes.use_hard_good(asked.recipe, asked.desk.catalogue, slug, asked.value)


def _move(asked: Asked) -> Change:
    """A piece carried so far to the right and up on the view it was dragged in."""
    build, on = asked.desk.work_out(asked.recipe).build, asked.typed.get("on")
    view = View(on) if on in set(View) else View.FRONT
    eye = get_eye(view, read_looking(asked.typed).hour, build.sizing.form.pose)
    shift = eye.get_shift(asked.read_cm("right"), asked.read_cm("up"))
    return moving.move_piece(build, *asked.read_piece(), shift)


def _hold(asked: Asked) -> Change:
    return moving.hold_piece(asked.desk.work_out(asked.recipe).build, *asked.read_piece())


def _set_top(asked: Asked) -> Change:
    desk = asked.desk
    top = parse_length_cm(asked.value, desk.rules.unit, field="top")
    build = desk.work_out(asked.recipe).build
    return moving.set_top(build, *asked.read_piece(), top, lambda recipe: desk.work_out(recipe).build)


def _split(asked: Asked) -> Change:
    piece = read_piece(asked.typed.get("piece", ""))
    first = piece[1] if piece and piece[0] == asked.entry else None
    return split_entry(asked.desk.work_out(asked.recipe).build, asked.entry, asked.value, first)


def _swap(asked: Asked) -> Change:
    build = asked.desk.work_out(asked.recipe).build
    return moving.swap_pieces(build, asked.read_piece(), asked.read_piece("with"))


def _accept(asked: Asked) -> Change:
    worked = asked.desk.work_out(asked.recipe)
    check = next((each for each in (*worked.checks, *worked.accepted) if each.id == asked.get("finding")), None)
    if check is None:
        raise BadInput(Problem("finding", "it is not found any more.", "There is nothing to let stand."))
    return accepting.accept(asked.recipe, check.id, check.title, len(check.pieces), asked.value)


def _apply(apply: Callable[[Recipe, Desk, Typed], Change]) -> Maker:
    return lambda asked: apply(asked.recipe, asked.desk, asked.typed)


KINDS: Mapping[str, Maker] = {
    "add": _add,
    "remove": lambda asked: changes.remove_entry(asked.recipe, asked.entry),
    "nudge": lambda asked: changes.nudge_pieces(asked.recipe, asked.entry, asked.read_steps()),
    "entry": _set_entry,
    "order": lambda asked: changes.move_entry(asked.recipe, asked.entry, asked.read_steps()),
    "order-school": lambda asked: order_by_school(asked.recipe, asked.desk.catalogue, asked.value),
    "accept": _accept,
    "put-right": _apply(put_right),
    "tell-again": lambda asked: accepting.tell_again(asked.recipe, asked.get("finding")),
    "foam": _set_foam,
    "foam-shows": lambda asked: changes.let_foam_show(asked.recipe, on=asked.is_on),
    "foam-bevel": lambda asked: changes.bevel_foam(asked.recipe, on=asked.is_on),
    "foam-block": lambda asked: changes.set_foam_block(asked.recipe, asked.value),
    "meant": lambda asked: changes.set_meant(asked.recipe, asked.entry, asked.value, asked.desk.rules.unit),
    "alternative": _set_alternative,
    "field": _set_field,
    "hard-good": _use_hard_good,
    "drop-hard-good": lambda asked: changes.drop_hard_good(asked.recipe, asked.typed.get("hard_good", "")),
    "height": _set_height,
    "height-nudge": lambda asked: changes.nudge_height(asked.recipe, asked.read_steps()),
    "size": _set_size,
    "own-size": _set_own_size,
    "school": _set_school,
    "brief": _set_brief,
    "exclude": lambda asked: changes.set_exclusion(asked.recipe, asked.typed.get("field", ""), on=asked.is_on),
    "wish": _set_wish,
    "form": lambda asked: moving.set_form(asked.recipe, asked.desk.catalogue, asked.value),
    "arranging": _set_arranging,
    "move": _move,
    "hold": _hold,
    "top": _set_top,
    "swap": _swap,
    "split": _split,
    "let-go": lambda asked: moving.let_go(asked.recipe, *asked.read_piece()),
    "let-all-go": lambda asked: moving.let_all_go(asked.recipe),
    "mirror": lambda asked: moving.mirror(asked.recipe),
    "again": lambda asked: moving.place_again(asked.recipe, asked.entry, asked.read_attempts()),
    "fit": _apply(apply_fit),
    "mend": _apply(apply_mend),
    "repair": _apply(apply_repair),
    "substitute": _apply(apply_substitute),
    "extra": _apply(apply_extra),
}
