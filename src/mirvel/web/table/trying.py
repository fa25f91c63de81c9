"""What the page of other placings gets: the piece as it is and otherwise, all drawn from the side that shows most."""

from dataclasses import dataclass

from markupsafe import Markup

from mirvel.core.changing.changes import get_entry
from mirvel.core.making.build import Build
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.trying import TRIED, Trial, try_again
from mirvel.core.working import Worked
from mirvel.drawing.sheet import Style, draw
from mirvel.drawing.view import FRONT_HOUR, View
from mirvel.store.shop import SavedRecipe
from mirvel.web.table.fitting import get_name
from mirvel.web.working import Desk

_HOURS = {"front": FRONT_HOUR, "right": 3.0, "back": 12.0, "left": 9.0}
_WIDE_PX, _HIGH_PX = 250.0, 300.0


@dataclass(frozen=True)
class AgainView:
    """The piece as it is, other placings of it and where the next begin; each with its picture."""

    saved: SavedRecipe
    entry: str
    name: str
    side: str
    own: tuple[Trial, Markup]
    found: list[tuple[Trial, Markup]]
    following: int

    @property
    def shows_foam(self) -> bool:
        return any(trial.foam for trial, _ in (self.own, *self.found))


def get_again_view(saved: SavedRecipe, desk: Desk, entry_id: str, first: int) -> AgainView:
    """Raises BadInput."""
    worked = desk.work_out(saved.recipe)
    name = get_name(get_entry(saved.recipe, entry_id), desk) if entry_id else ""

    def work_out(after: Recipe) -> Worked:
        return desk.work_out(desk.carry(saved.recipe, after))

    trials = try_again(worked, work_out, entry_id, first)
    side = _find_side(worked.build)
    own = Trial(0, worked, 0)
    found = [(trial, _draw(trial.worked.build, side)) for trial in trials]
    return AgainView(saved, entry_id, name, side, (own, _draw(worked.build, side)), found, first + TRIED)


def _find_side(build: Build) -> str:
    """From where most of the foam is seen; the front where none is."""
    if not build.sights:
        return "front"
    worst = max(build.sights, key=lambda sight: (sight.foam, sight.side == "front"))
    return worst.side if worst.foam else "front"


def _draw(build: Build, side: str) -> Markup:
    hangs = build.sizing.form.hangs
    style = Style(hour=FRONT_HOUR if hangs else _HOURS.get(side, FRONT_HOUR))
    drawing = draw(build, View.PLAN if side == "above" else View.FRONT, style)
    scale = min(_WIDE_PX / drawing.width_mm, _HIGH_PX / drawing.height_mm)
    return drawing.to_svg(width=f"{drawing.width_mm * scale:.0f}", height=f"{drawing.height_mm * scale:.0f}")
