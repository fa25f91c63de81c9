"""Whole drawings: the front, the plan, both on one sheet to one scale, and the bare piece for a shelf.

Sizes are millimetres of the real piece; whoever shows a drawing decides how large a millimetre is.
"""

from collections import Counter
from dataclasses import dataclass, replace

from mirvel.core.places import Place
from mirvel.core.units import format_length
from mirvel.core.working import Worked
from mirvel.drawing import vessel
from mirvel.drawing.measures import draw_clock, draw_level, draw_ruler, draw_upright
from mirvel.drawing.palette import INK, NUMERALS, PAPER
from mirvel.drawing.pieces import Brush, draw_piece, draw_stem
from mirvel.drawing.svg import num, path, tag, text
from mirvel.drawing.symbols import Symbols
from mirvel.drawing.view import MM_PER_CM, Eye, View

_GREENS_DEEPER_CM = 3.0
_SKIRT_CM = 1.0


@dataclass(frozen=True)
class Style:
    """How a drawing is lettered: text size in mm of the piece (None: in proportion), numbers on heads, and a
    prefix for its ids."""

    text_mm: float | None = None
    numbered: bool = False
    prefix: str = ""


@dataclass(frozen=True)
class Drawing:
    """A finished drawing and its size in mm of the real piece."""

    body: str
    width_mm: float
    height_mm: float
    title: str
    description: str

    def to_svg(self, **attributes: str | float | None) -> str:
        """The drawing as one SVG element, titled and described for those who cannot see it."""
        words = tag("title", self.title) + tag("desc", self.description)
        box = f"0 0 {num(self.width_mm)} {num(self.height_mm)}"
        return tag(
            "svg",
            words + self.body,
            xmlns="http://www.w3.org/2000/svg",
            viewBox=box,
            role="img",
            **attributes,
        )


def draw(worked: Worked, view: View, style: Style = Style()) -> Drawing:
    """One view on its own, with its measures."""
    symbols, style = Symbols(style.prefix), _get_lettered(worked, style, 0.026)
    drawing = _draw_front if view is View.FRONT else _draw_plan
    body, width, height = drawing(worked, symbols, style)
    return _finish(worked, symbols, body, width, height, f"{view.value}")


def draw_both(worked: Worked, style: Style = Style()) -> Drawing:
    """Front above, plan below, on one axis and to one scale."""
    symbols, style = Symbols(style.prefix), _get_lettered(worked, style, 0.0165)
    front, front_width, front_height = _draw_front(worked, symbols, style)
    plan, plan_width, plan_height = _draw_plan(worked, symbols, style)
    width = max(front_width, plan_width)
    shift = (width - front_width) / 2, (width - plan_width) / 2
    gap = 8.0
    body = tag("g", front, transform=f"translate({num(shift[0])} 0)")
    body += tag("g", plan, transform=f"translate({num(shift[1])} {num(front_height + gap)})")
    return _finish(worked, symbols, body, width, front_height + gap + plan_height, "front and plan")


def draw_standing(worked: Worked, style: Style = Style()) -> Drawing:
    """The bare piece, its foot on the lower edge, for standing on a shelf beside others to one scale."""
    symbols, extent = Symbols(style.prefix), worked.extent
    left, right = (
        min(extent.left, -worked.container.width_cm / 2),
        max(extent.right, worked.container.width_cm / 2),
    )
    eye = Eye(View.FRONT, (2 - left) * MM_PER_CM, extent.top * MM_PER_CM + 10)
    body = _draw_piece_front(worked, symbols, eye, titled=False)
    height = eye.origin_y + worked.container.height_cm * MM_PER_CM
    return _finish(worked, symbols, body, (right - left + 4) * MM_PER_CM, height, "front")


def _get_lettered(worked: Worked, style: Style, share: float) -> Style:
    """The style with its text size settled: a share of the piece's height and depth, so that print sizes agree."""
    if style.text_mm:
        return style
    depth = worked.extent.back - worked.extent.front
    return replace(style, text_mm=round((worked.overall_height_cm + depth) * MM_PER_CM * share + 2.0, 1))


def _finish(worked: Worked, symbols: Symbols, body: str, width: float, height: float, what: str) -> Drawing:
    unit = worked.rules.unit
    counts = Counter(f"{place.material.name} {place.entry.colour}" for place in worked.places)
    size = f"{format_length(worked.overall_height_cm, unit)} tall, {format_length(worked.extent.width_cm, unit)} wide"
    pieces = ", ".join(f"{count} {name}" for name, count in counts.items()) or "no flowers yet"
    return Drawing(
        symbols.defs + body,
        width,
        height,
        f"{worked.recipe.name}: {what}",
        f"{size}, in {worked.container.name}: {pieces}.",
    )


def _draw_front(worked: Worked, symbols: Symbols, style: Style) -> tuple[str, float, float]:
    extent, unit, size = worked.extent, worked.rules.unit, style.text_mm or 11.0
    left_margin, right_margin = size * 4.4, size * 4.6
    table = (worked.overall_height_cm * MM_PER_CM) + size * 2.2
    eye = Eye(View.FRONT, left_margin - extent.left * MM_PER_CM, table - worked.container.height_cm * MM_PER_CM)
    left, right = left_margin, eye.origin_x + extent.right * MM_PER_CM
    width = right + right_margin
    top = table - worked.overall_height_cm * MM_PER_CM
    inner, outer = right + size * 1.4, right + size * 3.2
    guides = path("M", right + 4, top, "L", outer + 4, top, "M", right + 4, eye.origin_y, "L", inner + 4, eye.origin_y)
    body = (
        tag("path", d=path("M", size * 2.6, table, "L", width, table), stroke=INK, stroke_width=1.3)
        + draw_ruler(left - size * 1.1, table, worked.overall_height_cm, unit, size)
        + tag("path", d=guides, stroke=INK, stroke_width=0.35, stroke_dasharray="2 2")
        + draw_upright(inner, top, eye.origin_y, worked.extent.top, unit, size, "above-rim")
        + draw_upright(outer, top, table, worked.overall_height_cm, unit, size, "height")
        + draw_level(table + size * 0.9, left, right, extent.width_cm, unit, size, "width")
        + _draw_piece_front(worked, symbols, eye, titled=True)
    )
    return tag("g", body, class_="front"), width, table + size * 2.6


def _draw_piece_front(worked: Worked, symbols: Symbols, eye: Eye, *, titled: bool) -> str:
    """Far side first; what hangs behind the rim, the container and its stems, then everything in front."""
    brush = _get_brush(worked, symbols, eye)
    order = sorted(worked.places, key=lambda place: _get_nearness(place, eye))
    behind = [place for place in order if place.tip.y > _SKIRT_CM]
    before = [place for place in order if place.tip.y <= _SKIRT_CM]

    def drawn(places: list[Place]) -> str:
        stems = "".join(draw_stem(place.start, place.head_base, place, brush) for place in places)
        return stems + "".join(draw_piece(place, brush, titled=titled) for place in places)

    return tag(
        "g",
        drawn(behind) + vessel.draw_foam_top(worked, brush) + vessel.draw_front(worked, brush) + drawn(before),
        class_="piece",
    )


def _get_brush(worked: Worked, symbols: Symbols, eye: Eye) -> Brush:
    depths = [eye.get_nearness(place.tip) for place in worked.places] or [0.0]
    return Brush(eye, symbols, max(depths), min(depths))


def _get_nearness(place: Place, eye: Eye) -> float:
    """Painter's order: by the middle of a leaf, the tip of a head, greens set back behind the blooms."""
    point = place.tip.plus(place.axis, -place.shown_length_cm * 0.4) if place.material.is_axial else place.tip
    return eye.get_nearness(point) - (_GREENS_DEEPER_CM if place.material.is_leaf else 0.0)


def _draw_plan(worked: Worked, symbols: Symbols, style: Style) -> tuple[str, float, float]:
    extent, unit, size = worked.extent, worked.rules.unit, style.text_mm or 11.0
    reach = max(-extent.left, extent.right, extent.back, -extent.front) * MM_PER_CM
    clock = reach + size * 0.6
    margin = clock + 5 + size * 1.6
    eye = Eye(View.PLAN, margin, margin)
    brush = _get_brush(worked, symbols, eye)
    order = sorted(worked.places, key=lambda place: _get_nearness(place, eye))
    pieces = "".join(draw_stem(place.start, place.head_base, place, brush) for place in order) + "".join(
        draw_piece(place, brush) for place in order
    )
    numbers = _draw_numbers(worked, eye, size) if style.numbered else ""
    body = (
        draw_clock(eye.origin_x, eye.origin_y, clock, size)
        + vessel.draw_plan(worked, brush)
        + tag("g", pieces, class_="piece")
        + numbers
        + text(
            "front",
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
    body += draw_level(level, left, right, extent.width_cm, unit, size, "width")
    return tag("g", body, class_="plan"), 2 * margin, level + size * 1.7


def _draw_numbers(worked: Worked, eye: Eye, size: float) -> str:
    """The entry's line number on each piece, on a spot of paper so that it reads on any colour."""
    lines = {entry.id: number for number, entry in enumerate(worked.recipe.entries, 1)}
    drawn = []
    for place in worked.places:
        x, y = eye.flatten(place.tip.plus(place.axis, -2.0) if place.material.is_axial else place.tip)
        drawn.append(tag("circle", cx=x, cy=y, r=size * 0.62, fill=PAPER, stroke=INK, stroke_width=0.5))
        drawn.append(text(str(lines[place.entry.id]), x, y + size * 0.33, size * 0.9, text_anchor="middle"))
    return tag("g", "".join(drawn), class_="numbers", font_family=NUMERALS, fill=INK)
