"""Frames with a bed of foam: from their face, from the side, cut through; the vine of a wreath; the stand behind."""

import math

import numpy as np
from markupsafe import Markup

from mirvel.core.goods.container import Container, ContainerKind
from mirvel.core.making.build import Build
from mirvel.core.making.cuts import Cut
from mirvel.core.making.standing import FEET_SHARE
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.beds import Bed
from mirvel.drawing.palette import FOAM, FOAM_EDGE, FOAM_IN_SHADE, INK, mix
from mirvel.drawing.pieces import Brush, draw_stem
from mirvel.drawing.svg import closed, join, path, smooth, tag
from mirvel.drawing.view import MM_PER_CM, Eye, View

_WIRE, _VINE, _LINER = "#6d7069", "#8a6b4b", "#3f4a3d"
_STONE, _STONE_EDGE, _STONE_WIDER = "#d9d5cb", "#8d897f", 1.2
_FACE_ON = 0.6
_BACK_CM = 1.0  # the board, cage or liner behind the foam
_SPREAD_SHARE = 0.16  # half the spread of a stand's feet, left to right, of its height
_BROKEN_CM = 12.0  # a stand broken off is drawn so far below the piece
CUT_CM = 2.5  # in a section, stems nearer than this to the cut are shown


def is_face_on(eye: Eye) -> bool:
    """Whether the eye looks at the face of a frame (or its back), and not at its edge."""
    return abs(eye.towards.z) > _FACE_ON


def draw_frame(build: Build, brush: Brush, *, cut_open: bool = False) -> Markup:
    """The frame and its foam, before its flowers."""
    container, bed, eye = build.container, build.bed, brush.eye
    if bed is None:
        return Markup()
    words = f"{container.name}, {'cut through' if cut_open else 'its foam'}"
    drawn = _draw_vine(container, eye) if container.kind is ContainerKind.VINE_WREATH else ""
    if cut_open:
        drawn += _draw_section(build, bed, brush)
    elif is_face_on(eye):
        drawn += draw_outline(bed, eye, FOAM_IN_SHADE if eye.towards.z > 0 else _LINER)
    else:
        drawn += _draw_edge_on(bed, eye, FOAM_IN_SHADE)
    if container.kind is ContainerKind.HEADSTONE_SADDLE and eye.view is not View.PLAN:
        drawn = _draw_stone(container, bed, eye) + drawn + _draw_legs(container, bed, eye)
    return tag("g", tag("title", words) + drawn)


def draw_outline(bed: Bed, eye: Eye, fill: str) -> Markup:
    """The foam as seen from its face."""
    data = ""
    for loop in bed.outline.loops:
        data += closed([eye.flatten(Vec(float(x), float(y), bed.top_z)) for x, y in loop])
    return tag("path", d=data, fill=fill, fill_rule="evenodd", stroke=FOAM_EDGE, stroke_width=1.0)


def _draw_edge_on(bed: Bed, eye: Eye, fill: str) -> Markup:
    """The foam as seen from its edge, each loop a slab, and what it is backed with."""
    drawn = Markup()
    for loop in bed.outline.loops:
        drawn += _draw_slab(loop.tolist(), bed.top_z, bed.bottom_z, eye, fill)
        drawn += _draw_slab(loop.tolist(), bed.bottom_z, bed.bottom_z - _BACK_CM, eye, _LINER)
    return drawn


def _draw_slab(
    loop: list[list[float]], top: float, bottom: float, eye: Eye, fill: str, edge: str = FOAM_EDGE
) -> Markup:
    """A box about a loop between two heights, as it looks from one of its sides."""
    points = [eye.flatten(Vec(x, y, z)) for x, y in loop for z in (top, bottom)]
    xs, ys = [x for x, _ in points], [y for _, y in points]
    box = [(min(xs), min(ys)), (max(xs), min(ys)), (max(xs), max(ys)), (min(xs), max(ys))]
    return tag("path", d=closed(box), fill=fill, stroke=edge, stroke_width=0.8)


def _draw_section(build: Build, bed: Bed, brush: Brush) -> Markup:
    """The foam where the cut goes through it, with the stems that stand near the cut."""
    eye, drawn = brush.eye, ""
    along = 0 if abs(eye.right.x) > abs(eye.right.y) and abs(eye.towards.x) < 0.5 else 1
    for start, end in get_intervals(bed, along):
        for top, bottom, fill in ((bed.top_z, bed.bottom_z, FOAM), (bed.bottom_z, bed.bottom_z - _BACK_CM, _LINER)):
            ends = [Vec(at, 0.0, 0.0) if along == 0 else Vec(0.0, at, 0.0) for at in (start, end)]
            low, high = ([eye.flatten(each.plus(Vec(0.0, 0.0, z))) for each in ends] for z in (bottom, top))
            drawn += tag("path", d=closed([*high, *reversed(low)]), fill=fill, stroke=FOAM_EDGE, stroke_width=0.8)
    return drawn + join(
        draw_stem(cut.place.start, cut.end, cut.place, brush, glass=True) for cut in _get_near_cuts(build, eye)
    )


def _get_near_cuts(build: Build, eye: Eye) -> list[Cut]:
    near = [cut for cut in build.cuts if abs(eye.get_nearness(cut.place.start)) < CUT_CM]
    return sorted(near, key=lambda cut: eye.get_nearness(cut.place.start))


def get_intervals(bed: Bed, along: int) -> list[tuple[float, float]]:
    """Where the middle line of a bed, along x (0) or y (1), lies in foam."""
    crossings: list[float] = []
    for loop in bed.outline.loops:
        ends = np.roll(loop, -1, axis=0)
        off, off_end = loop[:, 1 - along] - 1e-6, ends[:, 1 - along] - 1e-6
        for number in np.flatnonzero((off > 0) != (off_end > 0)).tolist():
            share = off[number] / (off[number] - off_end[number])
            crossings.append(float(loop[number, along] + share * (ends[number, along] - loop[number, along])))
    ordered = sorted(crossings)
    return list(zip(ordered[::2], ordered[1::2], strict=False))


def _draw_vine(container: Container, eye: Eye) -> Markup:
    """Rounds of bare vine, wound about one another."""
    outer, inner = container.mouth_cm / 2, (container.mouth_across_cm or 0.6 * container.mouth_cm) / 2
    middle, half = (outer + inner) / 2, (outer - inner) / 2
    drawn = Markup()
    for strand in range(9):
        points = []
        for number in range(73):
            turn = 2 * math.pi * number / 72
            wave = strand * 2 * math.pi / 9 + 5 * turn + 0.6 * math.sin(3 * turn + strand)
            radius = middle + 0.85 * half * math.sin(wave) + 0.3 * math.sin(7 * turn + 2 * strand)
            z = 0.8 * half * math.cos(wave) - 0.6 * container.depth_cm
            points.append(eye.flatten(Vec(radius * math.sin(turn), radius * math.cos(turn), z)))
        tone = mix(_VINE, INK, 0.08 * (strand % 4))
        line = smooth(points)
        drawn += tag("path", d=line, fill="none", stroke=mix(tone, INK, 0.5), stroke_width=8.5)
        drawn += tag("path", d=line, fill="none", stroke=tone, stroke_width=6.6)
    return drawn


def _draw_stone(container: Container, bed: Bed, eye: Eye) -> Markup:
    """The head of the stone a saddle sits astride, as far down as its legs reach."""
    half_x, half_y = container.halves_cm
    half_x *= _STONE_WIDER
    corners = [[x, y] for x in (-half_x, half_x) for y in (-half_y, half_y)]
    return _draw_slab(corners, bed.bottom_z - _BACK_CM, -container.rim_height_cm, eye, _STONE, edge=_STONE_EDGE)


def _draw_legs(container: Container, bed: Bed, eye: Eye) -> Markup:
    """The sprung legs of a saddle, down the front and back of the stone."""
    half_x, half_y = container.halves_cm
    data = ""
    for x in (-0.6 * half_x, 0.6 * half_x):
        for y in (-half_y, half_y):
            start, end = Vec(x, y, bed.bottom_z), Vec(x, 1.15 * y, -container.rim_height_cm)
            data += path("M", *eye.flatten(start), "L", *eye.flatten(end))
    return tag("path", d=data, fill="none", stroke=_WIRE, stroke_width=3.0, stroke_linecap="round")


def get_stand(build: Build) -> tuple[Vec, ...]:
    """The top of the easel a piece hangs on, its two feet in front and the one behind; nothing without one."""
    high = build.stand_cm
    if not high or not build.sizing.form.hangs:
        return ()
    ground = -build.table_cm
    back = (build.bed.bottom_z if build.bed else 0.0) - _BACK_CM - 0.5
    before = [Vec(side * _SPREAD_SHARE * high, ground, back + FEET_SHARE * high * 0.4) for side in (-1.0, 1.0)]
    return Vec(0.0, ground + high, back), *before, Vec(0.0, ground, back - FEET_SHARE * high)


def get_shown_below_cm(build: Build, *, broken: bool) -> float:
    """How far below its middle a piece is drawn: to the ground or, where its stand is broken off, to just below it."""
    shown = _BROKEN_CM - build.extent.bottom
    return shown if broken and get_stand(build) and build.table_cm - shown > _BROKEN_CM else build.table_cm


def draw_stand(build: Build, eye: Eye, below_cm: float) -> Markup:
    """The easel a piece hangs on: two legs in front, one behind, a rest under the frame; drawn so far down, and broken
    off there where that is above the ground."""
    stand, high = get_stand(build), build.stand_cm
    if not stand or eye.view is View.PLAN:
        return Markup()
    share = (high - build.table_cm + below_cm) / high
    top = stand[0]
    *feet, behind = (top.plus(foot.minus(top), share) for foot in stand[1:])
    rest_y = max(build.extent.bottom + 2.0, -build.container.halves_cm[1])
    at_rest = (top.y - rest_y) / (share * high)
    rests = [top.plus(foot.minus(top), at_rest) for foot in feet]
    data = path("M", *eye.flatten(top), "L", *eye.flatten(behind))
    for foot in feet:
        data += path("M", *eye.flatten(top), "L", *eye.flatten(foot))
    data += path("M", *eye.flatten(rests[0]), "L", *eye.flatten(rests[1]))
    line: dict[str, str | float | None] = {"fill": "none", "stroke_linecap": "round", "stroke_linejoin": "round"}
    words = tag("title", f"stand, {high:g} cm")
    width = 0.9 * MM_PER_CM
    return tag(
        "g",
        words
        + tag("path", d=data, stroke=INK, stroke_width=width, **line)
        + tag("path", d=data, stroke=_WIRE, stroke_width=width - 2.4, **line)
        + (join(_draw_break(*eye.flatten(foot)) for foot in (*feet, behind)) if share < 1 else ""),
    )


def _draw_break(x: float, y: float) -> Markup:
    """The mark of something that goes on: two short slanting strokes across a leg's end."""
    data = path("M", x - 16, y - 2, "l", 32, -12, "M", x - 16, y + 8, "l", 32, -12)
    return tag("path", d=data, stroke=INK, stroke_width=1.6, fill="none")
