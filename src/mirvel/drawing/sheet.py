"""Whole drawings: the front, the plan, both on one sheet to one scale, and the bare piece for a shelf.

Sizes are millimetres of the real piece; whoever shows a drawing decides how large a millimetre is.
"""

import math
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from hashlib import sha256

from markupsafe import Markup

from mirvel.core.goods.container import ContainerKind
from mirvel.core.making.build import Build
from mirvel.core.placing.places import Place
from mirvel.core.space.vectors import UPRIGHT, Vec
from mirvel.core.values.units import format_length
from mirvel.core.vessels.beds import has_bed
from mirvel.drawing import mouth, vessel
from mirvel.drawing.blades import find_passes
from mirvel.drawing.frames import draw_stand, get_shown_below_cm, is_face_on
from mirvel.drawing.guides import draw_guide, get_taken
from mirvel.drawing.knowing import leave_out
from mirvel.drawing.labels import draw_free, find_room
from mirvel.drawing.layout import Layout, get_sides, lay_out
from mirvel.drawing.marks import draw_mark
from mirvel.drawing.measures import draw_clock, draw_level, draw_ruler, draw_upright
from mirvel.drawing.palette import INK, NUMERALS, PAPER, to_greys
from mirvel.drawing.pieces import Brush, draw_piece, draw_stem
from mirvel.drawing.svg import join, num, path, polar, tag, text
from mirvel.drawing.symbols import Symbols, define
from mirvel.drawing.view import BACK_HOUR, FRONT_HOUR, MM_PER_CM, Eye, View, get_eye

_GREENS_DEEPER_CM = 3.0
_SKIRT_CM = 1.0
_FLAT_MM = 1.0  # what rises no more above the rim than this is not measured
_CUT_CM = 2.0  # in a section, what stands nearer than this to the eye is cut away


@dataclass(frozen=True)
class Style:
    """How a drawing is lettered: text size in mm of the piece (None: in proportion), numbers and marks on heads, the
    clock hour it is seen from, whether it is in greys, whether a tall stand is broken off to show the piece larger,
    and whether pieces have ids, so that another drawing of them can be told from it piece by piece."""

    text_mm: float | None = None
    numbered: bool = False
    marked: bool = False
    hour: float = FRONT_HOUR
    grey: bool = False
    broken: bool = False
    named: bool = False


@dataclass(frozen=True)
class Drawing:
    """A finished drawing, the symbols it refers to by their ids, and its size in mm of the real piece."""

    body: Markup
    symbols: Mapping[str, Markup]
    width_mm: float
    height_mm: float
    title: str
    description: str

    def to_svg(self, **attributes: str | float | None) -> Markup:
        """The drawing as one SVG element, titled and described for those who cannot see it."""
        return self._write(define(self.symbols), attributes)

    def to_bare_svg(self, known: "Drawing | None" = None, **attributes: str | float | None) -> Markup:
        """The same without its symbols, for a page that has them; and without what a drawing has that it shows."""
        body = leave_out(self.body, known.body) if known else self.body
        return replace(self, body=body)._write(Markup(), attributes)

    @property
    def mark(self) -> str:
        """What tells what it shows from what any other does."""
        return sha256(self.body.encode()).hexdigest()[:12]

    def _write(self, defs: Markup, attributes: Mapping[str, str | float | None]) -> Markup:
        words = tag("title", self.title) + tag("desc", self.description)
        box = f"0 0 {num(self.width_mm)} {num(self.height_mm)}"
        return tag(
            "svg",
            words + defs + self.body,
            xmlns="http://www.w3.org/2000/svg",
            viewBox=box,
            role="img",
            **attributes,
        )


def draw(build: Build, view: View, style: Style = Style()) -> Drawing:
    """One view on its own, with its measures."""
    symbols, style = Symbols(), _get_lettered(build, style, 0.026)
    if view is View.PLAN:
        body, width, height = _draw_plan(build, symbols, style)
    else:
        body, width, height = _draw_elevation(build, symbols, style, view)
    return finish(build, symbols, style, body, width, height, name_view(view, style.hour))


def draw_both(build: Build, style: Style = Style(), view: View = View.FRONT) -> Drawing:
    """An elevation (or section) above, the plan below, on one axis and to one scale."""
    symbols, style = Symbols(), _get_lettered(build, style, 0.0165)
    front, front_width, front_height = _draw_elevation(build, symbols, style, view)
    plan, plan_width, plan_height = _draw_plan(build, symbols, style)
    width = max(front_width, plan_width)
    shift = (width - front_width) / 2, (width - plan_width) / 2
    gap = 8.0
    body = tag("g", front, transform=f"translate({num(shift[0])} 0)")
    body += tag("g", plan, transform=f"translate({num(shift[1])} {num(front_height + gap)})")
    words = f"{name_view(view, style.hour)} and plan"
    return finish(build, symbols, style, body, width, front_height + gap + plan_height, words)


def draw_standing(build: Build, style: Style = Style()) -> Drawing:
    """The bare piece, its foot on the lower edge, for standing on a shelf beside others to one scale."""
    symbols, eye = Symbols(), get_eye(View.FRONT, style.hour, build.sizing.form.pose)
    left, right = get_sides(build, eye)
    top = max(build.extent.top, build.overall_height_cm - build.table_cm)
    eye = eye.placed((2 - left) * MM_PER_CM, top * MM_PER_CM + 10)
    body = draw_body(build, symbols, eye, build.table_cm, titled=False)
    height = eye.origin_y + build.table_cm * MM_PER_CM
    return finish(
        build, symbols, style, body, (right - left + 4) * MM_PER_CM, height, name_view(View.FRONT, style.hour)
    )


def name_view(view: View, hour: float) -> str:
    """A view in words: front, back, from 9 o’clock, section, plan."""
    if view is not View.FRONT:
        return view.value
    return {FRONT_HOUR: "front", BACK_HOUR: "back"}.get(hour, f"from {hour:g} o’clock")


def _get_lettered(build: Build, style: Style, share: float) -> Style:
    """The style with its text size settled: a share of the piece's height and depth, so that print sizes agree."""
    if style.text_mm:
        return style
    flat = build.bench_extent
    plan = 2 * max(-flat.left, flat.right, flat.back, -flat.front)
    high = build.overall_height_cm - build.table_cm + get_shown_below_cm(build, broken=style.broken)
    return replace(style, text_mm=round((high + plan) * MM_PER_CM * share + 2.0, 1))


def finish(build: Build, symbols: Symbols, style: Style, body: str, width: float, height: float, what: str) -> Drawing:
    unit = build.rules.unit
    counts = Counter(f"{place.material.name} {place.entry.colour}" for place in build.places)
    size = f"{format_length(build.overall_height_cm, unit)} tall, {format_length(build.extent.width_cm, unit)} wide"
    pieces = ", ".join(f"{count} {name}" for name, count in counts.items()) or "no flowers yet"
    drawn, known = Markup(body), symbols.drawn
    if style.grey:
        drawn, known = to_greys(drawn), {name: to_greys(each) for name, each in known.items()}
    return Drawing(
        drawn,
        known,
        width,
        height,
        f"{build.recipe.name}: {what}",
        f"{size}, in {build.container.name}: {pieces}.",
    )


def _draw_elevation(build: Build, symbols: Symbols, style: Style, view: View) -> tuple[str, float, float]:
    at = lay_out(build, view, style.hour, style.text_mm or 11.0, broken=style.broken)
    eye = at.eye
    guided = build.sizing.form.hangs and is_face_on(eye) and eye.towards.z > 0
    body = (
        (_say_rest(build, at) if at.hidden_cm else _draw_ground(at))
        + _draw_heights(build, at)
        + draw_body(build, symbols, eye, at.below_cm, titled=True, named=style.named)
        + (draw_guide(build, eye, at.size) if guided else "")
        + (_draw_labels(build, eye, style) if style.numbered or style.marked else "")
    )
    return tag("g", body, class_="front", data_view=eye.view.value), at.width, at.height


def _draw_heights(build: Build, at: Layout) -> Markup:
    """The ruler, and the dimension lines of an elevation."""
    unit, size = build.rules.unit, at.size
    inner, outer = at.clear_right + size * 1.4, at.clear_right + size * 3.2
    ruler, foot = at.clear_left - size * 1.1, at.table + at.hidden_cm * MM_PER_CM
    to_top = ("M", at.right + 4, at.top, "L", outer + 4, at.top)
    guides = path(*to_top, "M", at.right + 4, at.rim, "L", inner + 4, at.rim)
    drawn = draw_ruler(ruler, foot, build.overall_height_cm, unit, size, at.hidden_cm)
    drawn += tag("path", d=guides, stroke=INK, stroke_width=0.35, stroke_dasharray="2 2")
    if at.rim < at.table and at.rim - at.high > _FLAT_MM:
        drawn += draw_upright(inner, at.high, at.rim, at.rise_cm, unit, size, "above-rim")
    if not at.hidden_cm:
        drawn += draw_upright(outer, at.top, at.table, build.overall_height_cm, unit, size, "height")
    level = at.table + size * (2.5 if at.hidden_cm else 0.9)
    return drawn + draw_level(level, at.left, at.right, at.wide_cm, unit, size, "width")


def _draw_ground(at: Layout) -> Markup:
    return tag("path", d=path("M", at.size * 2.6, at.table, "L", at.width, at.table), stroke=INK, stroke_width=1.3)


def _say_rest(build: Build, at: Layout) -> Markup:
    """What the part of a stand that is not drawn adds."""
    words = f"{format_length(build.overall_height_cm, build.rules.unit)} over all, on its stand"
    x, y = (at.left + at.right) / 2, at.table + at.size * 1.6
    return text(words, x, y, at.size * 0.85, text_anchor="middle", font_family=NUMERALS, fill=INK)


def draw_body(
    build: Build,
    symbols: Symbols,
    eye: Eye,
    below_cm: float,
    *,
    titled: bool,
    named: bool = False,
    faint: frozenset[str] = frozenset(),
) -> Markup:
    """Far side first; what hangs behind the rim, the container and its stems, then everything in front. Cut open,
    what stands before the cut is left out. A stand is drawn so far below the piece's middle."""
    brush = replace(get_brush(build, symbols, eye, named=named), faint=faint)
    inner = get_inner(brush)
    shown = [place for place in build.places if not place.is_inside]
    order = sorted(shown, key=lambda place: get_nearness_drawn(place, eye))
    edge = _get_edge(build, eye)
    behind = [place for place in order if eye.get_nearness(place.tip) < edge]
    before = [place for place in order if eye.get_nearness(place.tip) >= edge]
    cut_open = eye.view is View.SECTION
    if cut_open:
        before = [place for place in before if eye.get_nearness(place.tip) < _CUT_CM]

    def drawn(places: list[Place], where: str) -> Markup:
        stems = join(draw_stem(place.start, place.head_base, place, inner) for place in places)
        return put_in_place(
            stems + join(draw_piece(place, inner, titled=titled) for place in places), inner, eye, where
        )

    body = vessel.draw_standing(build, brush, cut_open=cut_open)
    stand = draw_stand(build, eye, below_cm)
    if edge > 0:
        return tag("g", drawn(behind, "behind") + body + stand, class_="piece")
    far, near = drawn(behind, "behind"), drawn(before, "before")
    return tag("g", stand + far + vessel.draw_foam_top(build, brush) + body + near, class_="piece")


def _get_edge(build: Build, eye: Eye) -> float:
    """How near a piece has to be to be drawn before its container: at the rim; all of a horn's and a frame's are, but
    from behind none of a frame's."""
    if has_bed(build.container):
        if eye.view is View.SECTION:
            return -_CUT_CM  # what stands behind the cut is behind the foam that is cut
        return 1000.0 if eye.towards.z < -0.5 else -1000.0
    return -1000.0 if build.container.kind is ContainerKind.HORN else -_SKIRT_CM


def get_brush(build: Build, symbols: Symbols, eye: Eye, *, named: bool) -> Brush:
    depths = [eye.get_nearness(place.tip) for place in build.places] or [0.0]
    floor = math.inf if eye.view is View.PLAN else eye.origin_y + build.table_cm * MM_PER_CM
    say = build.say_place if build.sizing.form.locate else None
    return Brush(eye, symbols, max(depths), min(depths), floor, say, named=named, passes=find_passes(build, eye))


def get_inner(brush: Brush) -> Brush:
    """A brush that draws about the piece's own origin, so that what does not move is drawn the same though the paper
    about it grows."""
    return replace(brush, eye=brush.eye.placed(0.0, 0.0), floor_mm=brush.floor_mm - brush.eye.origin_y)


def put_in_place(drawn: Markup, inner: Brush, eye: Eye, where: str) -> Markup:
    """What was drawn so, put where the piece's origin is."""
    key = f"{eye.view.value}-{where}" if inner.named else None
    return tag("g", drawn, data_key=key, transform=f"translate({num(eye.origin_x)} {num(eye.origin_y)})")


def get_nearness_drawn(place: Place, eye: Eye) -> float:
    """Painter's order: by the middle of a leaf, the tip of a head, greens set back behind the blooms."""
    point = place.tip.plus(place.axis, -place.shown_length_cm * 0.4) if place.material.is_axial else place.tip
    return eye.get_nearness(point) - (_GREENS_DEEPER_CM if place.material.is_leaf else 0.0)


def _draw_plan(build: Build, symbols: Symbols, style: Style) -> tuple[str, float, float]:
    form, extent, unit, size = build.sizing.form, build.bench_extent, build.rules.unit, style.text_mm or 11.0
    eye = get_eye(View.PLAN, FRONT_HOUR, UPRIGHT if form.hangs else form.pose)
    reach = max(-extent.left, extent.right, extent.back, -extent.front) * MM_PER_CM
    clock = reach + size * 0.6
    margin = clock + 5 + size * 1.6
    eye = eye.placed(margin, margin)
    brush = get_brush(build, symbols, eye, named=style.named)
    order = sorted(
        (place for place in build.places if not place.is_inside), key=lambda place: get_nearness_drawn(place, eye)
    )
    inner = get_inner(brush)
    pieces = join(draw_stem(place.start, place.head_base, place, inner) for place in order) + join(
        draw_piece(place, inner) for place in order
    )
    labels = ""
    if style.numbered or style.marked:
        hours = [polar(clock + 5 + size * 0.75, hour * 30) for hour in range(1, 13)]
        taken = [(margin + x, margin + y) for x, y in hours] if form.has_hours else []
        taken += get_taken(build, eye, size)
        labels = _draw_free_labels(build, eye, style, (2 * margin, 2 * margin), taken)
    body = (
        (draw_clock(eye.origin_x, eye.origin_y, clock, size) if form.has_hours else "")
        + mouth.draw_mouth(build, brush)
        + tag("g", put_in_place(pieces, inner, eye, "pieces"), class_="piece")
        + mouth.draw_handle_above(build, brush)
        + draw_guide(build, eye, size)
        + labels
        + text(
            "foot" if form.hangs else "front",
            eye.origin_x,
            2 * margin + size * 0.4,
            size * 0.85,
            text_anchor="middle",
            font_family=NUMERALS,
            fill=INK,
        )
    )
    level = 2 * margin + size * 1.1
    left, right = eye.origin_x + extent.left * MM_PER_CM, eye.origin_x + extent.right * MM_PER_CM
    if build.places or not build.bed:  # a bare frame is as wide as it says below
        body += draw_level(level, left, right, extent.width_cm, unit, size, "width")
    if build.bed:
        frame, wide, high = _draw_frame_size(build, eye, size, (2 * margin, level + size * 2.1))
        return tag("g", body + frame, class_="plan", data_view=eye.view.value), 2 * margin + wide, level + high
    return tag("g", body, class_="plan", data_view=eye.view.value), 2 * margin, level + size * 1.7


def _draw_frame_size(build: Build, eye: Eye, size: float, corner: tuple[float, float]) -> tuple[str, float, float]:
    """Dimension lines of the bare frame (a wreath's vine, the foam of others) below and beside a plan, and the width
    and height they add to it."""
    unit, half = build.rules.unit, build.container.mouth_cm / 2
    west, east, south, north = -half, half, -half, half
    if build.bed and build.container.kind is not ContainerKind.VINE_WREATH:
        west, east, south, north = build.bed.outline.box
    (x1, y1), (x2, y2) = eye.flatten(Vec(west, north, 0.0)), eye.flatten(Vec(east, south, 0.0))
    across = draw_level(corner[1], x1, x2, east - west, unit, size, "frame-width")
    upright = draw_upright(corner[0] + size, y1, y2, north - south, unit, size, "frame-height")
    return across + upright, size * 2.4, size * 3.8


def _draw_free_labels(
    build: Build, eye: Eye, style: Style, paper: tuple[float, float], taken: Sequence[tuple[float, float]]
) -> Markup:
    """The entry's line number (or its mark) of each piece seen from above: on it or, where others are there already, as
    near as there is room, with a line to it."""
    size, lines = style.text_mm or 11.0, {entry.id: number for number, entry in enumerate(build.recipe.entries, 1)}
    places = sorted(
        (place for place in build.places if not place.is_inside), key=lambda place: -eye.get_nearness(place.tip)
    )
    spots = [(get_spot(place, eye), lines[place.entry.id]) for place in places]
    if not style.marked:
        return draw_free([(spot, str(line)) for spot, line in spots], size * 0.9, paper, taken)
    placed = find_room([spot for spot, _ in spots], size * 0.62, paper, taken)
    drawn = []
    for (spot, line), (x, y) in zip(spots, placed, strict=True):
        if (x, y) != spot:
            drawn.append(tag("path", d=path("M", *spot, "L", x, y), stroke=INK, stroke_width=0.06 * size))
        drawn.append(tag("circle", cx=x, cy=y, r=size * 0.62, fill=PAPER, stroke=INK, stroke_width=0.5))
        drawn.append(draw_mark(line, x, y, size * 0.42))
    return tag("g", join(drawn), class_="numbers")


def _draw_labels(build: Build, eye: Eye, style: Style) -> Markup:
    """The entry's line number (or its mark) on each piece that faces the eye from the side, as far as the numbers have
    room."""
    size = style.text_mm or 11.0
    lines = {entry.id: number for number, entry in enumerate(build.recipe.entries, 1)}
    drawn: list[str] = []
    spots: list[tuple[float, float]] = []
    for place in sorted(build.places, key=lambda place: -eye.get_nearness(place.tip)):
        x, y = get_spot(place, eye)
        crowded = any(math.hypot(x - a, y - b) < size * 1.3 for a, b in spots)
        if eye.get_nearness(place.tip) < 0 or place.is_inside or crowded:
            continue
        spots.append((x, y))
        drawn.append(tag("circle", cx=x, cy=y, r=size * 0.62, fill=PAPER, stroke=INK, stroke_width=0.5))
        line = lines[place.entry.id]
        if style.marked:
            drawn.append(draw_mark(line, x, y, size * 0.42))
        else:
            drawn.append(text(str(line), x, y + size * 0.33, size * 0.9, text_anchor="middle"))
    return tag("g", join(drawn), class_="numbers", font_family=NUMERALS, fill=INK)


def get_spot(place: Place, eye: Eye) -> tuple[float, float]:
    """Where a piece is numbered: on its head, or on a leaf short of its tip."""
    return eye.flatten(place.tip.plus(place.axis, -2.0) if place.material.is_axial else place.tip)
