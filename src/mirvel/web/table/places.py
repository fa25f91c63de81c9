"""What the page of places gets: every piece as it goes in, the cutting plan, how the mechanics are prepared."""

from dataclasses import dataclass

from markupsafe import Markup

from mirvel.core.card.cutting_plan import MaterialPlan, get_cutting_plan
from mirvel.core.making.bases import BasePlan
from mirvel.core.making.cuts import Cut
from mirvel.core.working import Worked
from mirvel.drawing.holes import draw_holes
from mirvel.store.shop import SavedRecipe


@dataclass(frozen=True)
class PieceRow:
    """One piece: the line of its entry, its place, its cut three ways."""

    line: int
    cut: Cut
    below_edge_cm: float


@dataclass(frozen=True)
class PlacesView:
    """All pieces of a worked recipe and how they are prepared."""

    id: int
    worked: Worked
    rows: tuple[PieceRow, ...]
    plans: tuple[MaterialPlan, ...]
    base: BasePlan
    holes: Markup


def get_places_view(saved: SavedRecipe, worked: Worked) -> PlacesView:
    build = worked.build
    lines = {entry.id: number for number, entry in enumerate(worked.recipe.entries, 1)}
    rows = tuple(PieceRow(lines[cut.place.entry.id], cut, cut.get_below_edge_cm(build.container)) for cut in build.cuts)
    holes = draw_holes(worked.build).to_svg(class_="drawing")
    return PlacesView(saved.id, worked, rows, get_cutting_plan(worked.build), worked.build.base, holes)
