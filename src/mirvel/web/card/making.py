"""What the making pages show: each step drawn at its printed size, with its cuts."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from mirvel.core.card.making import Making, OneLength, get_makings
from mirvel.core.working import Worked
from mirvel.drawing.mechanics import draw_mechanics
from mirvel.drawing.mechanics import get_views as get_mechanics_views
from mirvel.drawing.sheet import Drawing
from mirvel.drawing.stage import draw_stage, get_stage_size
from mirvel.drawing.view import View
from mirvel.web.card.view import WIDTH_MM, Figure, Ink, place_figure

TEXT_MM = 2.85  # 8 pt and a little, so that every number reads at arm's length
_HIGH_MM, _ALONE_HIGH_MM = 96.0, 168.0  # a pair of views leaves room for two steps on a page, where that is not small
_STACKED_HIGH_MM, _LEAST_SCALE = 190.0, 1 / 7.5
_MOST_SCALE = 1 / 3  # of what is drawn alone: its table stands on the same page
_SET_UP_HIGH_MM, _SET_UP_ALONE_HIGH_MM, _SMALL_SCALE = 58.0, 120.0, 1 / 9
_SCALINGS = 8
_PAGE_MM, _LEAST_HIGH_MM = 252.0, 60.0  # of a page's height below a step's heading; of a drawing's
_HEAD_MM, _ROW_MM, _LINE_MM = 12.0, 5.2, 3.8  # of a table: its head, a row, and each line more of one
_LETTERS, _LETTERS_WIDE, _LETTERS_OF_NAME = 48, 74, 22  # that a line of where pieces go holds, and of what they are
Size = tuple[float, float]  # across and high, mm


@dataclass(frozen=True)
class MakingView:
    """One step with its drawings, at a scale of one to ``scale``."""

    making: Making
    figures: tuple[Figure, ...]
    scale: float


def get_set_up_figures(worked: Worked, ink: Ink) -> tuple[Figure, ...]:
    """What holds the stems, bare and with its measures, its drawings to one scale."""
    views = get_mechanics_views(worked.build)

    def draw_at(text_mm: float) -> list[Drawing]:
        return [draw_mechanics(worked.build, view, text_mm, grey=ink is Ink.GREY) for view in views]

    def find_scale(high: float) -> float:
        scale = _MOST_SCALE
        for _ in range(_SCALINGS):  # the paper about it is as wide as its figures are large
            sizes = [(each.width_mm, each.height_mm) for each in draw_at(TEXT_MM / scale)]
            scale = min(_MOST_SCALE, _get_scale(sizes, high))
        return scale

    if not views:
        return ()
    scale = find_scale(_SET_UP_HIGH_MM)
    if scale < _SMALL_SCALE:  # what is so large has its first step on the next page in any case
        scale = find_scale(_SET_UP_ALONE_HIGH_MM)
    return tuple(place_figure(each, scale) for each in draw_at(TEXT_MM / scale))


def get_making_views(worked: Worked, ink: Ink) -> tuple[MakingView, ...]:
    """Every step, all drawn to one scale: from the front and from above or, of what hangs or lies, its face alone."""
    makings, form = get_makings(worked), worked.build.sizing.form
    views = (View.FRONT,) if form.hangs else (View.PLAN,) if form.lies else (View.FRONT, View.PLAN)

    def draw_at(making: Making, text_mm: float) -> tuple[Drawing, ...]:
        now = {piece.key: str(piece.number) for piece in making.pieces}
        return tuple(
            draw_stage(worked.build, view, now, making.before, text_mm, grey=ink is Ink.GREY) for view in views
        )

    def find_scale(get_scale: Callable[[Sequence[Size]], float]) -> float:
        scale = 0.25
        for _ in range(_SCALINGS):  # the paper about a piece is as wide as its numbers are large
            scale = get_scale([get_stage_size(worked.build, view, TEXT_MM / scale) for view in views])
        return scale

    scale = find_scale(lambda sizes: _get_scale(sizes, _HIGH_MM if len(views) > 1 else _ALONE_HIGH_MM))
    if len(views) == 1:  # no larger than leaves its page room for the longest table, while it still reads
        beside = max((_get_table_mm(making, worked) for making in makings), default=0.0)
        high = max(_LEAST_HIGH_MM, _PAGE_MM - beside)
        scale = min(scale, _MOST_SCALE, max(find_scale(lambda sizes: _get_scale(sizes, high)), _LEAST_SCALE))
    if scale < _LEAST_SCALE:
        scale = max(find_scale(lambda sizes: _get_scale(sizes, _ALONE_HIGH_MM)), find_scale(_get_stacked_scale))
    found = []
    for making in makings:
        drawings = draw_at(making, TEXT_MM / scale)
        found.append(MakingView(making, tuple(place_figure(each, scale) for each in drawings), 1 / scale))
    return tuple(found)


def _get_table_mm(making: Making, worked: Worked) -> float:
    """About how high the table of a step is: a row has the lines that what its pieces are, or where they go, take."""
    each_line = _LETTERS_WIDE if worked.build.bed or worked.build.sizing.form.lies else _LETTERS

    def count_lines(line: OneLength) -> int:
        told = sum(len(piece.where) + 5 for piece in line.pieces)
        name = len(f"{line.name}, {line.entry.colour}, {line.part}")
        return max(1, math.ceil(told / each_line), math.ceil(name / _LETTERS_OF_NAME))

    return _HEAD_MM + sum(_ROW_MM + _LINE_MM * (count_lines(line) - 1) for line in making.lengths)


def _get_scale(sizes: Sequence[Size], high: float) -> float:
    """The largest at which papers so wide and high stand beside one another on the page."""
    return min(WIDTH_MM / sum(wide for wide, _ in sizes), high / max(tall for _, tall in sizes))


def _get_stacked_scale(sizes: Sequence[Size]) -> float:
    """The largest at which they stand one over the other."""
    return min(WIDTH_MM / max(wide for wide, _ in sizes), _STACKED_HIGH_MM / sum(tall for _, tall in sizes))
