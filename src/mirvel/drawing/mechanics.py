"""What holds the stems, bare as it is set up: cut open with how deep its water and how high its foam is, and from above
with how wide its mouth, its block of foam and the cells of its tape are."""

from collections.abc import Iterator
from dataclasses import replace

from mirvel.core.goods.container import ContainerKind
from mirvel.core.goods.facts import Mechanics
from mirvel.core.making.build import Build
from mirvel.core.placing.holders import get_block, get_wanted_block
from mirvel.core.placing.places import get_extent
from mirvel.core.vessels.grids import get_strips
from mirvel.core.vessels.hollows import get_fill_depth_cm
from mirvel.drawing.layout import lay_out
from mirvel.drawing.measures import draw_level, draw_upright
from mirvel.drawing.sheet import Drawing, Style, draw
from mirvel.drawing.svg import join, tag
from mirvel.drawing.view import FRONT_HOUR, MM_PER_CM, View

_BELOW = 2.4  # of the text's size, from one dimension line of a plan to the next
_LONG = 4.5  # of it, a line that has room for its measure


def get_views(build: Build) -> tuple[View, ...]:
    """From where a piece's mechanics are worth drawing: a frame's from above, a horn's cut open, of what is tied in
    the hand not at all."""
    if build.container.kind is ContainerKind.TIE:
        return ()
    if build.sizing.form.lies:
        return (View.SECTION,)
    return (View.PLAN,) if build.bed else (View.SECTION, View.PLAN)


def draw_mechanics(build: Build, view: View, text_mm: float, *, grey: bool = False) -> Drawing:
    """A piece without its flowers, lettered so large (mm of the real thing)."""
    bare = _strip(build)
    drawn = draw(bare, view, Style(text_mm=text_mm, grey=grey, broken=True))
    if view is View.SECTION:
        return replace(drawn, body=drawn.body + _draw_water(bare, text_mm))
    wide = [*_list_widths(bare)]
    middle, foot = drawn.width_mm / 2, drawn.height_mm
    lines = join(
        draw_level(
            foot + (at + 0.2) * _BELOW * text_mm,
            middle + left * MM_PER_CM,
            middle + right * MM_PER_CM,
            right - left,
            bare.rules.unit,
            text_mm,
            name,
        )
        for at, (name, left, right) in enumerate(wide)
    )
    return replace(drawn, body=drawn.body + tag("g", lines), height_mm=foot + len(wide) * _BELOW * text_mm)


def _strip(build: Build) -> Build:
    """The same with no piece in it, as high as its foam."""
    extent = get_extent((), build.container.halves_cm, build.sizing.form.pose)
    if build.base.foam and not build.bed and not build.sizing.form.lies:
        extent = replace(extent, top=max(extent.top, get_block(build.recipe, build.container).top_z))
    return replace(build, places=(), cuts=(), extent=extent)


def _draw_water(bare: Build, size: float) -> str:
    """How deep the water of a vase is, measured on it."""
    watered = {Mechanics.TAPE_GRID, Mechanics.NETTING, Mechanics.PIN_HOLDER, Mechanics.NATURAL}
    at, deep = lay_out(bare, View.SECTION, FRONT_HOUR, size, broken=True), get_fill_depth_cm(bare.container)
    if bare.recipe.mechanics not in watered or bare.sizing.form.lies or deep * MM_PER_CM < _LONG * size:
        return ""
    floor = at.eye.origin_y + bare.container.depth_cm * MM_PER_CM
    return draw_upright(at.eye.origin_x, floor - deep * MM_PER_CM, floor, deep, bare.rules.unit, size, "water")


def _list_widths(bare: Build) -> Iterator[tuple[str, float, float]]:
    """What else is measured from above, its name, left and right: a block that does not fill its container, a cell of
    the tape."""
    if bare.base.foam and not bare.bed and get_wanted_block(bare.recipe, bare.container) is not None:
        half = get_block(bare.recipe, bare.container).top_half_cm
        yield "block", -half, half
    if bare.recipe.mechanics is Mechanics.TAPE_GRID:
        half = bare.container.mouth_cm / 2
        along = sorted({start.x for start, end in get_strips(bare.container) if abs(start.x - end.x) < 1e-9})
        if along:
            yield "cell", -half, along[0]
