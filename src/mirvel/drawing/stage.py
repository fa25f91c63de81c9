"""One step of making, drawn as large as a page allows: what is in place already faint, what goes in now in colour and
numbered."""

from collections.abc import Mapping
from dataclasses import replace

from markupsafe import Markup

from mirvel.core.forms.form import Guide
from mirvel.core.making.build import Build
from mirvel.core.placing.places import get_extent
from mirvel.core.space.vectors import UPRIGHT
from mirvel.drawing import mouth
from mirvel.drawing.labels import draw_free
from mirvel.drawing.layout import get_sides
from mirvel.drawing.measures import draw_clock
from mirvel.drawing.palette import INK
from mirvel.drawing.pieces import draw_piece, draw_stem
from mirvel.drawing.sheet import (
    Drawing,
    Style,
    draw_body,
    finish,
    get_brush,
    get_inner,
    get_nearness_drawn,
    get_spot,
    name_view,
    put_in_place,
)
from mirvel.drawing.svg import join, path, polar, tag
from mirvel.drawing.symbols import Symbols
from mirvel.drawing.view import FRONT_HOUR, MM_PER_CM, Eye, View, get_eye


def draw_stage(
    build: Build,
    view: View,
    now: Mapping[tuple[str, int], str],
    before: frozenset[str],
    text_mm: float,
    *,
    grey: bool = False,
) -> Drawing:
    """One step of making, without measures: the entries ``before`` it faint, the pieces that go in ``now`` in colour,
    each under what it is called, no two numbers on one another; from the side those alone that face the eye. The plan
    is of its mouth or frame, so that one that lies is looked into: its hours are those that are told."""
    symbols, form = Symbols(), build.sizing.form
    eye = _get_stage_eye(build, view)
    left, right, top, _ = _get_box(build, eye)
    is_clock, margin = _is_clock(build, view), _get_margin(build, view, text_mm)
    width, height = get_stage_size(build, view, text_mm)
    eye = eye.placed(margin - left * MM_PER_CM, margin + top * MM_PER_CM)
    places = tuple(each for each in build.places if each.entry.id in before or (each.entry.id, each.number) in now)
    among = {(each.entry.id, each.number) for each in places}
    cuts = tuple(cut for cut in build.cuts if (cut.place.entry.id, cut.place.number) in among)
    staged = replace(build, places=places, cuts=cuts)
    body, taken = Markup(), list[tuple[float, float]]()
    if view is View.PLAN:
        brush = replace(get_brush(build, symbols, eye, named=False), faint=before)
        inner = get_inner(brush)
        order = sorted((each for each in places if not each.is_inside), key=lambda each: get_nearness_drawn(each, eye))
        pieces = join(draw_stem(each.start, each.head_base, each, inner) for each in order)
        pieces += join(draw_piece(each, inner) for each in order)
        if is_clock:
            clock = (right - left) / 2 * MM_PER_CM + text_mm * 0.4
            body = draw_clock(eye.origin_x, eye.origin_y, clock, text_mm)
            hours = (polar(clock + 5 + text_mm * 0.75, hour * 30) for hour in range(1, 13))
            taken = [(eye.origin_x + x, eye.origin_y + y) for x, y in hours]
        body += mouth.draw_mouth(staged, brush) + put_in_place(pieces, inner, eye, "pieces")
        body += mouth.draw_handle_above(build, brush)
    else:
        body = draw_body(staged, symbols, eye, 0.0 if form.hangs else build.table_cm, titled=True, faint=before)
    numbered = [
        (get_spot(each, eye), now[each.entry.id, each.number])
        for each in places
        if (each.entry.id, each.number) in now
        and (view is View.PLAN or form.hangs or eye.get_nearness(each.tip) >= 0)
        and not each.is_inside
    ]
    body += _draw_arrows(eye, width, height, text_mm)
    taken += _get_arrows(eye, width, height, text_mm)
    body += draw_free(numbered, text_mm, (width, height), taken)
    return finish(build, symbols, Style(text_mm=text_mm, grey=grey), body, width, height, name_view(view, FRONT_HOUR))


def get_stage_size(build: Build, view: View, text_mm: float) -> tuple[float, float]:
    """How wide and high the paper of a step is with numbers so large, mm; the same for every step."""
    left, right, top, foot = _get_box(build, _get_stage_eye(build, view))
    margin = _get_margin(build, view, text_mm)
    return 2 * margin + (right - left) * MM_PER_CM, 2 * margin + (top - foot) * MM_PER_CM


def _get_arrows(eye: Eye, width: float, height: float, size: float) -> list[tuple[float, float]]:
    """Where on the paper's edges something points at the piece's middle: left, right, above, below."""
    near = size * 0.4
    return [
        (near, eye.origin_y),
        (width - near, eye.origin_y),
        (eye.origin_x, near),
        (eye.origin_x, height - near),
    ]


def _draw_arrows(eye: Eye, width: float, height: float, size: float) -> Markup:
    """An arrow at each of the paper's edges that points at the piece's middle, to measure places from."""
    drawn, long, half = "", size * 0.8, size * 0.3
    for x, y in ((0.0, eye.origin_y), (width, eye.origin_y), (eye.origin_x, 0.0), (eye.origin_x, height)):
        if x in (0.0, width):
            drawn += path("M", x, y - half, "L", x, y + half, "L", abs(x - long), y, "Z")
        else:
            drawn += path("M", x - half, y, "L", x + half, y, "L", x, abs(y - long), "Z")
    return tag("path", d=drawn, fill=INK, class_="middle")


def _get_stage_eye(build: Build, view: View) -> Eye:
    form = build.sizing.form
    return get_eye(view, FRONT_HOUR, UPRIGHT if view is View.PLAN else form.pose)


def _is_clock(build: Build, view: View) -> bool:
    return view is View.PLAN and build.sizing.form.guide is Guide.CLOCK


def _get_margin(build: Build, view: View, text_mm: float) -> float:
    """Room about the piece for numbers, and for the hours where there is a clock, mm."""
    return text_mm * (3.4 if _is_clock(build, view) else 2.2)


def _get_box(build: Build, eye: Eye) -> tuple[float, float, float, float]:
    """How far the piece reaches left, right, up and down in a view, cm; a plan with a clock is a square."""
    if eye.view is not View.PLAN:
        left, right = get_sides(build, eye)
        if build.sizing.form.hangs:
            return left, right, build.extent.top, build.extent.bottom
        return left, right, build.overall_height_cm - build.table_cm, -build.table_cm
    flat = get_extent(build.places, build.container.halves_cm, UPRIGHT)
    if build.sizing.form.guide is not Guide.CLOCK:
        return flat.left, flat.right, flat.back, flat.front
    reach = max(-flat.left, flat.right, flat.back, -flat.front)
    return -reach, reach, reach, -reach
