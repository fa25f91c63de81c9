"""What the page of other placings gets: the piece as it is and otherwise, all drawn from the side that shows most."""

from dataclasses import dataclass
from functools import partial

from markupsafe import Markup

from mirvel.core.changing.changes import get_entry
from mirvel.core.making.build import Build
from mirvel.core.making.sight import Sight
from mirvel.core.trying import TRIED, Trial, try_again
from mirvel.drawing.sheet import Drawing, Style, draw
from mirvel.drawing.symbols import define
from mirvel.drawing.view import FRONT_HOUR, View
from mirvel.store.shop import SavedRecipe
from mirvel.web.table.fitting import get_name
from mirvel.web.working import Desk

_HOURS = {"front": FRONT_HOUR, "right": 3.0, "back": 12.0, "left": 9.0}
_WIDE_PX, _HIGH_PX = 250.0, 300.0


@dataclass(frozen=True)
class AgainView:
    """The piece as it is, other placings of it and where the next begin; each with its picture from one side, which is
    where most of its foam is seen, or the front."""

    saved: SavedRecipe
    entry: str
    name: str
    drawn_from: str
    own: tuple[Trial, Drawing]
    found: list[tuple[Trial, Drawing]]
    following: int

    @property
    def symbols(self) -> Markup:
        """What all the pictures refer to, once."""
        return define({name: each for _, drawn in (self.own, *self.found) for name, each in drawn.symbols.items()})

    @property
    def shows_foam(self) -> bool:
        return any(trial.foam.foam for trial, _ in (self.own, *self.found))


def get_again_view(saved: SavedRecipe, desk: Desk, entry_id: str, first: int) -> AgainView:
    """Raises BadInput."""
    worked = desk.work_out(saved.recipe)
    name = get_name(get_entry(saved.recipe, entry_id), desk) if entry_id else ""

    trials = try_again(worked, partial(desk.work_out_after, saved.recipe), entry_id, first)
    own = Trial(0, worked, 0)
    # what hangs is drawn from the front only
    worst = Sight("front") if worked.build.sizing.form.hangs or not own.foam.foam else own.foam
    found = [(trial, _draw(trial.worked.build, worst.side)) for trial in trials]
    drawn = (own, _draw(worked.build, worst.side))
    return AgainView(saved, entry_id, name, worst.seen_from, drawn, found, first + TRIED)


def _draw(build: Build, side: str) -> Drawing:
    view = View.PLAN if side == "above" else View.FRONT
    return draw(build, view, Style(hour=_HOURS.get(side, FRONT_HOUR)))


def write_picture(drawing: Drawing) -> Markup:
    """A drawing at the size it has on the page, without the symbols, which the page has."""
    scale = min(_WIDE_PX / drawing.width_mm, _HIGH_PX / drawing.height_mm)
    return drawing.to_bare_svg(width=f"{drawing.width_mm * scale:.0f}", height=f"{drawing.height_mm * scale:.0f}")
