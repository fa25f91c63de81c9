"""What the card's template gets: drawings at their printed size, lines, steps and cautions. No money at all."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from markupsafe import Markup

from mirvel.core.card.cut_list import LevelCuts, get_level_cuts
from mirvel.core.card.days import say_later
from mirvel.core.card.steps import Step, get_steps
from mirvel.core.goods.material import Material
from mirvel.core.recipe.entry import Entry
from mirvel.core.working import Worked
from mirvel.drawing.marks import draw_mark
from mirvel.drawing.sheet import Drawing, Style, draw
from mirvel.drawing.svg import tag
from mirvel.drawing.view import View

WIDTH_MM = 184.0  # what both drawings may take of the page's width, side by side
TEXT_MM = 2.5
MOST_NUMBERED = 80  # pieces whose numbers have room beside one another on a plan half a page wide


class Ink(StrEnum):
    """How a card is printed; in grey each material also has a mark."""

    COLOUR = "colour"
    GREY = "grey"


@dataclass(frozen=True)
class Density:
    """How tightly a card is set: the drawings' height and the type size."""

    drawings_mm: float
    type_pt: float


DENSITIES = (
    Density(108, 8.4),
    Density(98, 8.0),
    Density(86, 7.6),
    Density(74, 7.2),
    Density(62, 6.8),
    Density(52, 6.2),
)


@dataclass(frozen=True)
class Figure:
    """A drawing at its printed size."""

    title: str
    svg: Markup
    width_mm: float
    height_mm: float


@dataclass(frozen=True)
class LineView:
    """One line of the card."""

    number: int
    entry: Entry
    material: Material
    cuts: tuple[LevelCuts, ...]
    mark: Markup

    @property
    def span_cm(self) -> tuple[float, float] | None:
        """From its shortest cut to its longest; None where nothing is cut."""
        lengths = [length for group in self.cuts if not group.uncut for length, _ in group.lengths]
        return (min(lengths), max(lengths)) if lengths else None


@dataclass(frozen=True)
class PullView:
    """Stems to bring to the bench."""

    name: str
    stems: int


@dataclass(frozen=True)
class CardView:
    """A card, ready to print; ``is_glance`` where a piece has too many pieces to number on one page, so that its single
    cuts and places are left to the making pages."""

    worked: Worked
    figures: Mapping[str, Figure]
    scale: float
    lines: tuple[LineView, ...]
    pulls: tuple[PullView, ...]
    held_back: tuple[str, ...]
    steps: tuple[Step, ...]
    later: str
    numbers: Mapping[str, int]
    marked: bool
    is_glance: bool


def get_card_view(worked: Worked, density: Density, ink: Ink) -> CardView:
    """The card of a worked recipe."""
    front, plan, scale = _get_drawings(worked, density.drawings_mm, ink)
    recipe = worked.recipe
    names = {pull.material.slug: pull.material.name for pull in worked.money.pulls}
    return CardView(
        worked=worked,
        figures={"front": place_figure(front, scale), "plan": place_figure(plan, scale)},
        scale=1 / scale,
        lines=get_lines(worked, ink),
        pulls=tuple(
            PullView(f"{pull.material.name}, {pull.colour}", pull.stems) for pull in worked.money.pulls if pull.stems
        ),
        held_back=tuple(
            f"{entry.pieces - entry.placed} {names.get(entry.material, entry.material)}, {entry.colour}"
            for entry in recipe.entries
            if entry.placed < entry.pieces
        ),
        steps=get_steps(worked),
        later=say_later(worked.build),
        numbers={entry.id: number for number, entry in enumerate(recipe.entries, 1)},
        marked=ink is Ink.GREY,
        is_glance=_is_glance(worked),
    )


def _is_glance(worked: Worked) -> bool:
    return len(worked.build.places) > MOST_NUMBERED


def get_lines(worked: Worked, ink: Ink) -> tuple[LineView, ...]:
    """Every entry of which something is placed, with its cuts by level."""
    return tuple(
        LineView(number, entry, cuts[0].place.material, get_level_cuts(cuts, worked.build), _draw_key(number, ink))
        for number, entry in enumerate(worked.recipe.entries, 1)
        if (cuts := worked.build.get_entry_cuts(entry.id))
    )


def _draw_key(line: int, ink: Ink) -> Markup:
    """A line's mark, for beside its number; nothing where colour tells."""
    if ink is Ink.COLOUR:
        return Markup()
    return tag("svg", draw_mark(line, 5, 5, 2.8), viewBox="0 0 10 10", width="3mm", height="3mm")


def _get_drawings(worked: Worked, high: float, ink: Ink) -> tuple[Drawing, Drawing, float]:
    """Front and plan to the one scale at which both fit, lettered for print."""

    def draw_at(text_mm: float) -> tuple[Drawing, Drawing]:
        grey = ink is Ink.GREY
        front = draw(worked.build, View.FRONT, Style(text_mm=text_mm, marked=grey, grey=grey, broken=True))
        is_numbered = not _is_glance(worked)
        plan = Style(text_mm=text_mm, numbered=is_numbered, marked=grey and is_numbered, grey=grey)
        return front, draw(worked.build, View.PLAN, plan)

    def get_scale(front: Drawing, plan: Drawing) -> float:
        return min(WIDTH_MM / (front.width_mm + plan.width_mm), high / max(front.height_mm, plan.height_mm))

    front, plan = draw_at(TEXT_MM * 4)
    front, plan = draw_at(TEXT_MM / get_scale(front, plan))
    return front, plan, get_scale(front, plan)


def place_figure(drawing: Drawing, scale: float) -> Figure:
    """A drawing at the size it is printed at."""
    width, height = drawing.width_mm * scale, drawing.height_mm * scale
    svg = drawing.to_svg(width=f"{width:.2f}mm", height=f"{height:.2f}mm")
    return Figure(drawing.title, svg, width, height)
