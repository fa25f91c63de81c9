"""A template at its true size, one user unit to the millimetre: on one page where it fits, else in tiles that overlap
by a centimetre."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from markupsafe import Markup

from mirvel.core.card.template import Hole, Loop, Template
from mirvel.core.values.units import LengthUnit, format_length
from mirvel.drawing.gauge import draw_proof
from mirvel.drawing.labels import find_room
from mirvel.drawing.palette import FAINT_INK, INK, NUMERALS, PAPER
from mirvel.drawing.svg import join, path, tag, text
from mirvel.drawing.view import MM_PER_CM

_SIDE_MM, _HEAD_MM, _FOOT_MM = 10.0, 24.0, 22.0  # that stay free on each page
_OVER_MM, _ABOUT_MM = 14.0, 18.0  # tiles overlap by so much; room about the outline for numbers beside it
_TEXT_MM = 2.85  # 8 pt
_STEP_CM, _REACH_MM = 0.5, 40.0  # how far from its hole a number may stand
Spot = tuple[float, float]
_HOLE_MM = 1.8  # half of what a hole takes up beside numbers
_CLEAR = 2.1  # of half a number's width, that it stands off from the middle of its hole
_LETTER = 0.28  # of the text's size, half as wide as a letter
_SIDE_SPOTS = (-0.7, 0.0, 0.7)  # of half its width, where a label keeps others away: it is wider than high


@dataclass(frozen=True)
class _Tile:
    """One page: which of how many across and down, and where on the whole its window begins, mm."""

    column: int
    row: int
    left: float
    top: float

    def shows(self, spot: Spot, wide: float, high: float, about: float = 0.0) -> bool:
        """Whether a point of the whole lies in its window, or so near about it."""
        x, y = spot[0] - self.left, spot[1] - self.top
        return -about <= x <= wide + about and -about <= y <= high + about


@dataclass(frozen=True)
class _Whole:
    """All of a template, mm: its lines, and its holes."""

    lines: Markup
    marks: tuple["_Mark", ...]


@dataclass(frozen=True)
class _Mark:
    """One hole, mm: where it is, how it is drawn, and its label with where that stands and half its width."""

    spot: Spot
    hole: Markup
    label_at: Spot
    half_mm: float
    label: Markup


def draw_template(
    template: Template, unit: LengthUnit, paper_mm: tuple[float, float]
) -> tuple[tuple[Markup, str], ...]:
    """Every page with its name among the tiles, empty where there is only one: the nearest row, the front, last."""
    holes = np.array([[hole.x_cm, hole.y_cm] for hole in template.holes]).reshape(-1, 2)
    points = np.concatenate([*template.loops, holes])
    (left, front), (right, back) = points.min(axis=0) * MM_PER_CM, points.max(axis=0) * MM_PER_CM
    left, right, front, back = left - _ABOUT_MM, right + _ABOUT_MM, front - _ABOUT_MM, back + _ABOUT_MM
    wide, high = paper_mm[0] - 2 * _SIDE_MM, paper_mm[1] - _HEAD_MM - _FOOT_MM
    columns, rows = _count(right - left, wide), _count(back - front, high)
    whole = _draw_whole(template, unit, left, back, (right - left, back - front))
    over = (columns * wide - (columns - 1) * _OVER_MM - (right - left)) / 2  # what is left over is shared out
    tiles = [
        _Tile(column, row, column * (wide - _OVER_MM) - over, row * (high - _OVER_MM))
        for row in range(rows)
        for column in range(columns)
    ]
    drawn = [(x * MM_PER_CM - left, back - y * MM_PER_CM) for x, y in (*_walk(template.loops), *holes.tolist())]
    tiles = [tile for tile in tiles if any(tile.shows(spot, wide, high) for spot in drawn)]
    return tuple(
        (
            _draw_page(tile, whole, unit, paper_mm, (wide, high), (columns, rows)),
            f"row {tile.row + 1} of {rows}, {tile.column + 1} of {columns} across" if len(tiles) > 1 else "",
        )
        for tile in tiles
    )


def _walk(loops: Sequence[Loop]) -> Iterator[tuple[float, float]]:
    """Points all along some loops, a few millimetres apart."""
    for loop in loops:
        for start, end in zip(loop, np.roll(loop, -1, axis=0), strict=True):
            steps = max(1, math.ceil(float(np.hypot(*(end - start))) / _STEP_CM))
            yield from ((float(x), float(y)) for x, y in np.linspace(start, end, steps, endpoint=False))


def _count(long: float, window: float) -> int:
    """How many windows that overlap it takes."""
    return max(1, math.ceil((long - _OVER_MM) / (window - _OVER_MM) - 1e-9))


def _draw_whole(template: Template, unit: LengthUnit, left: float, back: float, size: tuple[float, float]) -> _Whole:
    """All of it on one paper, the back up."""

    def put(x_cm: float, y_cm: float) -> tuple[float, float]:
        return x_cm * MM_PER_CM - left, back - y_cm * MM_PER_CM

    data = ""
    for loop in template.loops:
        spots = [put(float(x), float(y)) for x, y in loop]
        data += path("M", *spots[0], *(part for spot in spots[1:] for part in ("L", *spot)), "Z")
    drawn = [tag("path", d=data, fill="none", stroke=INK, stroke_width=0.35)]
    for start, end in template.strips:
        line = path("M", *put(start.x, start.y), "L", *put(end.x, end.y))
        drawn.append(tag("path", d=line, stroke=INK, stroke_width=0.35, stroke_dasharray="4 1.5"))
    (x, y) = put(0.0, 0.0)
    cross = path("M", x - 3, y, "L", x + 3, y, "M", x, y - 3, "L", x, y + 3)
    drawn.append(tag("path", d=cross, stroke=FAINT_INK, stroke_width=0.2))
    spots = [put(hole.x_cm, hole.y_cm) for hole in template.holes]
    return _Whole(join(drawn), tuple(_draw_holes(template.holes, unit, spots, size)))


def _draw_holes(holes: Sequence[Hole], unit: LengthUnit, spots: Sequence[Spot], size: Spot) -> Iterator[_Mark]:
    """A mark where each stem goes in, its number as near as there is room."""
    labels = [
        f"{hole.number}" + (f" ↓{format_length(hole.under_cm, unit, with_unit=False)}" if hole.under_cm else "")
        for hole in holes
    ]
    placed = _find_room(holes, labels, spots, size)
    for (x, y), (at_x, at_y), label, hole in zip(spots, placed, labels, holes, strict=True):
        mark = tag("path", d=path("M", x, y, "L", at_x, at_y), stroke=FAINT_INK, stroke_width=0.2)
        mark += tag("circle", cx=x, cy=y, r=_get_half_mm(hole), fill=PAPER, stroke=INK, stroke_width=0.25)
        mark += tag("circle", cx=x, cy=y, r=0.35, fill=INK)
        wide = _get_label_half_mm(label)
        words = tag("rect", x=at_x - wide, y=at_y - 1.3, width=2 * wide, height=2.6, fill=PAPER)
        words += text(label, at_x, at_y + 1.0, _TEXT_MM, text_anchor="middle", font_family=NUMERALS, fill=INK)
        yield _Mark((x, y), mark, (at_x, at_y), wide, words)


def _get_label_half_mm(label: str) -> float:
    return _LETTER * _TEXT_MM * len(label) + 0.2


def _get_half_mm(hole: Hole) -> float:
    """Half as wide as it is drawn: as the stem is, but never too small to be seen."""
    return max(0.8, hole.across_cm * MM_PER_CM / 2)


def _find_room(holes: Sequence[Hole], labels: Sequence[str], spots: Sequence[Spot], size: Spot) -> list[Spot]:
    """Where the number of each hole stands: of one at the side outside of the foam, of the others just above it."""
    at_side = [at for at, hole in enumerate(holes) if hole.under_cm]
    on_top = [at for at, hole in enumerate(holes) if not hole.under_cm]
    wide = max((_get_label_half_mm(labels[at]) for at in at_side), default=0.0)
    small = max((max(1.4, _get_label_half_mm(labels[at])) for at in on_top), default=1.4)
    middle_x, middle_y = size[0] / 2, size[1] / 2
    wanted = []
    for hole, (x, y) in zip(holes, spots, strict=True):
        away = math.hypot(x - middle_x, y - middle_y) or 1.0
        half = _get_half_mm(hole)
        out = (wide + half + 0.6) / away if hole.under_cm else 0.0
        wanted.append(
            (x + (x - middle_x) * out, y + (y - middle_y) * out if out else y - max(half + small, _CLEAR * small))
        )
    placed = find_room([wanted[at] for at in at_side], wide, size, spots, _HOLE_MM)
    found = dict(zip(at_side, placed, strict=True))
    taken = [(found[at][0] + share * wide, found[at][1]) for at in at_side for share in _SIDE_SPOTS]
    taken += spots
    found |= zip(on_top, find_room([wanted[at] for at in on_top], small, size, taken), strict=True)
    return [found[at] for at in range(len(holes))]


def _draw_page(
    tile: _Tile,
    whole: _Whole,
    unit: LengthUnit,
    paper_mm: tuple[float, float],
    window: tuple[float, float],
    count: tuple[int, int],
) -> Markup:
    """One window on the whole, where tiles are laid on one another, and the bar to check the printer by."""
    (width, height), (wide, high) = paper_mm, window
    clip = tag("clipPath", tag("rect", x=_SIDE_MM, y=_HEAD_MM, width=wide, height=high), id="window")
    near = [mark for mark in whole.marks if tile.shows(mark.spot, wide, high, _REACH_MM)]
    # a label that a page shows a part of stands whole on the next
    told = join(mark.label for mark in near if tile.shows(mark.label_at, wide, high, -mark.half_mm))
    marks = join(mark.hole for mark in near) + told
    shown = tag("g", whole.lines + marks, transform=f"translate({_SIDE_MM - tile.left:.3f} {_HEAD_MM - tile.top:.3f})")
    body = clip + tag("g", shown, clip_path="url(#window)") + draw_proof(height, unit)
    lines = []
    if tile.column:
        lines.append(path("M", _SIDE_MM, _HEAD_MM, "L", _SIDE_MM, _HEAD_MM + high))
    if tile.row:
        lines.append(path("M", _SIDE_MM, _HEAD_MM, "L", _SIDE_MM + wide, _HEAD_MM))
    if lines:
        body += tag("path", d="".join(lines), stroke=INK, stroke_width=0.3)
        words = "Cut along the solid line, and lay it on the dashed one of the page before."
        body += text(words, _SIDE_MM, _HEAD_MM - 1.2, _TEXT_MM, font_family=NUMERALS, fill=INK)
    dashed = []
    if tile.column < count[0] - 1:
        x = _SIDE_MM + wide - _OVER_MM
        dashed.append(path("M", x, _HEAD_MM, "L", x, _HEAD_MM + high))
    if tile.row < count[1] - 1:
        y = _HEAD_MM + high - _OVER_MM
        dashed.append(path("M", _SIDE_MM, y, "L", _SIDE_MM + wide, y))
    if dashed:
        body += tag("path", d="".join(dashed), stroke=INK, stroke_width=0.3, stroke_dasharray="3 1.5")
    size = {"width": f"{width:g}mm", "height": f"{height:g}mm"}
    return tag("svg", body, xmlns="http://www.w3.org/2000/svg", viewBox=f"0 0 {width:g} {height:g}", **size)
