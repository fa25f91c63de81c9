"""The container from the side: glass with its water and stems seen through, opaque with hidden lines dashed, or cut
open; the handle, the tie, the tape. The plan is in ``mouth``, the horn in ``horn``."""

import math

from markupsafe import Markup

from mirvel.core.goods.container import Container, ContainerKind
from mirvel.core.goods.facts import Mechanics
from mirvel.core.making.build import Build
from mirvel.core.making.cuts import Cut
from mirvel.core.placing.holders import get_block
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.beds import has_bed
from mirvel.core.vessels.hollows import BEVEL_CM, Hollow, get_fill_depth_cm, get_inside, get_pin_holder
from mirvel.drawing.blades import draw_blade, draw_hidden_blade
from mirvel.drawing.frames import CUT_CM, draw_frame
from mirvel.drawing.horn import draw_horn, get_inside_heights
from mirvel.drawing.inside import draw_inside
from mirvel.drawing.outline import get_breadth, get_half_at, get_profile
from mirvel.drawing.palette import FAINT_INK, FOAM, FOAM_EDGE, FOAM_IN_SHADE, GLASS, GLAZE, INK, METAL, WATER, mix
from mirvel.drawing.pieces import Brush, draw_stem
from mirvel.drawing.svg import closed, join, path, tag
from mirvel.drawing.view import MM_PER_CM

Points = list[tuple[float, float]]
_OUTLINE_MM = 1.3
_DASH = "4 3"
_WICKER, _WOOD, _TRAY, _RAFFIA = "#cda873", "#c9b08a", "#77806f", "#c8a86a"
_TRIM_STEPS = 12  # along a block that is trimmed to the curve of a horn
_BODIES = {ContainerKind.BASKET: _WICKER, ContainerKind.FOAM_TRAY: _TRAY, ContainerKind.BOX: _WOOD}


def draw_standing(build: Build, brush: Brush, *, cut_open: bool = False) -> Markup:
    """The container standing on the table; in section behind glass, or cut open."""
    container = build.container
    if container.kind is ContainerKind.HORN:
        return draw_horn(container, brush.eye, _draw_in_horn(build, brush) if cut_open else None)
    if container.kind is ContainerKind.TIE:
        return _draw_tied(build, brush)
    if has_bed(container):
        return draw_frame(build, brush, cut_open=cut_open)
    vessels = sorted(
        range(len(container.vessel_offsets)),
        key=lambda each: brush.eye.get_nearness(Vec(container.vessel_offsets[each], 0.0, 0.0)),
    )
    see_through = container.clear or cut_open
    drawn = join((_draw_open if see_through else _draw_closed)(build, brush, vessel) for vessel in vessels)
    if container.kind is ContainerKind.BASKET:
        drawn += draw_handle(container, brush)
    words = "in section" if see_through else "hidden lines dashed"
    return tag("g", tag("title", f"{container.name}, {words}") + drawn)


def _draw_in_horn(build: Build, brush: Brush) -> Markup:
    """The block of foam in a horn that is cut open along its middle, trimmed to its curve, with the stems that stand
    near the cut."""
    if build.recipe.mechanics is not Mechanics.FOAM:
        return Markup()
    block, eye = get_block(build.recipe, build.container), brush.eye
    edges = []
    for step in range(_TRIM_STEPS + 1):
        z = block.top_z + (block.bottom_z - block.top_z) * step / _TRIM_STEPS
        half = block.get_half_width(z) * block.ratio
        low, high = get_inside_heights(build.container, z) if z < 0 else (-half, half)
        edges.append((eye.flatten(Vec(0.0, max(-half, low), z)), eye.flatten(Vec(0.0, min(half, high), z))))
    around = [*(low for low, _ in edges), *(high for _, high in reversed(edges))]
    foam = tag("path", d=closed(around), fill=FOAM, stroke=FOAM_EDGE, stroke_width=0.8)
    near = [cut for cut in build.cuts if abs(eye.get_nearness(cut.place.start)) < CUT_CM]
    return foam + join(draw_stem(cut.place.start, cut.end, cut.place, brush, glass=True) for cut in near)


def _get_breadth(container: Container, brush: Brush) -> float:
    return get_breadth(container, brush.eye.right.x, brush.eye.right.y)


def _trace(brush: Brush, middle_x: float, run: list[tuple[float, float]]) -> Points:
    """A run of (half width as it looks, z), as an outline down the left side and up the right."""
    x, y = brush.eye.flatten(Vec(middle_x, 0.0, 0.0))
    left = [(x - half * MM_PER_CM, y - z * MM_PER_CM) for half, z in run]
    right = [(x + half * MM_PER_CM, y - z * MM_PER_CM) for half, z in reversed(run)]
    return [*left, *right]


def _get_outlines(build: Build, brush: Brush, vessel: int) -> tuple[Points, Points, Points]:
    """Outer outline, inner outline and water of one vessel, as they look from the eye."""
    container, inside = build.container, get_inside(build.container, vessel)
    broad, middle = _get_breadth(container, brush), container.vessel_offsets[vessel]
    profile = get_profile(container)
    outer = [(half * broad, z) for half, z in profile]
    level, side = inside.bottom_z + get_fill_depth_cm(container), container.side_cm
    zs = [0.0, *(z for _, z in profile if inside.bottom_z < z < 0.0), inside.bottom_z]
    inner = [(max(0.3, get_half_at(profile, z) - side) * broad, z) for z in zs]
    wet = [(max(0.3, get_half_at(profile, z) - side) * broad, z) for z in (level, *(z for z in zs if z < level - 1e-9))]
    return _trace(brush, middle, outer), _trace(brush, middle, inner), _trace(brush, middle, wet)


def _draw_open(build: Build, brush: Brush, vessel: int) -> Markup:
    container, mechanics = build.container, build.recipe.mechanics
    outer, inner, wet = _get_outlines(build, brush, vessel)
    body = GLASS if container.clear else mix(_BODIES.get(container.kind, GLAZE), INK, 0.22)
    has_water = container.water_ml > 0
    parts = [
        tag("path", d=closed(outer), fill=body, stroke="none"),
        "" if container.clear else tag("path", d=closed(inner), fill="#f1ecdf"),
        tag("path", d=closed(wet), fill=mix(WATER, GLASS, 0.35)) if has_water else "",
        *(
            draw_stem(cut.place.start, cut.end, cut.place, brush, glass=True) + draw_blade(cut, build, brush)
            for cut in _get_cuts(build, brush, vessel)
        ),
    ]
    if mechanics is Mechanics.FOAM:
        parts.insert(
            3, _draw_block(get_block(build.recipe, container), container, brush, "0.75", bevel_cm=_get_bevel_cm(build))
        )
    if mechanics is Mechanics.PIN_HOLDER:
        parts.append(_draw_pins(container, brush))
    parts.append(draw_inside(build, brush, vessel, near=True))
    if has_water:
        (x1, y1), (x2, _) = wet[0], wet[-1]
        parts += [
            tag("path", d=closed(wet), fill=WATER, opacity="0.30"),
            tag("path", d=path("M", x1, y1, "L", x2, y1), stroke=mix(WATER, INK, 0.35), stroke_width=0.9),
        ]
    parts += [
        tag("path", d=closed(inner), fill="none", stroke=FAINT_INK, stroke_width=0.5),
        _draw_edges(container, brush, vessel, FAINT_INK),
        tag("path", d=closed(outer), fill="none", stroke=INK, stroke_width=_OUTLINE_MM, stroke_linejoin="round"),
    ]
    if mechanics in {Mechanics.TAPE_GRID, Mechanics.NETTING}:
        parts.append(_draw_tape(outer))
    return join(parts)


def _draw_closed(build: Build, brush: Brush, vessel: int) -> Markup:
    container = build.container
    outer, inner, _ = _get_outlines(build, brush, vessel)
    colour = _BODIES.get(container.kind, GLAZE)
    hidden = mix(colour, INK, 0.45)
    (left, rim), (right, _) = outer[0], outer[-1]
    parts = [
        _draw_spout(container, brush, colour),
        tag("path", d=closed(outer), fill=colour, stroke=INK, stroke_width=_OUTLINE_MM, stroke_linejoin="round"),
        _draw_texture(container, brush, outer),
        tag(
            "path",
            d=closed([(left, rim), (right, rim), (right - 1, rim + 5), (left + 1, rim + 5)]),
            fill=mix(colour, INK, 0.12),
        ),
        _draw_edges(container, brush, vessel, hidden),
        tag("path", d=closed(inner), fill="none", stroke=hidden, stroke_width=0.7, stroke_dasharray=_DASH),
    ]
    cuts = _get_cuts(build, brush, vessel)
    ends = [(brush.eye.flatten(cut.place.start), brush.eye.flatten(cut.end)) for cut in cuts]
    data = "".join(path("M", *start, "L", *end) for start, end in ends)
    parts.append(tag("path", d=data, fill="none", stroke=hidden, stroke_width=0.6, stroke_dasharray="2 2"))
    parts += [draw_hidden_blade(cut, build, brush.eye, hidden) for cut in cuts]
    if build.recipe.mechanics is Mechanics.PIN_HOLDER:
        parts.append(_draw_pins(container, brush, dashed=True))
    return join(parts)


def _get_cuts(build: Build, brush: Brush, vessel: int) -> list[Cut]:
    """The stems of one vessel, far ones first; what lies against the glass is drawn apart."""
    cuts = [cut for cut in build.cuts if cut.place.vessel == vessel and not cut.place.is_inside]
    return sorted(cuts, key=lambda cut: brush.eye.get_nearness(cut.place.start.plus(cut.end)))


def _draw_edges(container: Container, brush: Brush, vessel: int, colour: str) -> Markup:
    """The upright edges of a cornered container that face the eye, where they are not its outline."""
    if not container.is_cornered:
        return Markup()
    profile, data = get_profile(container), ""
    (top, _), (foot, low) = profile[0], profile[-1]
    middle = container.vessel_offsets[vessel]
    for x, y in ((-1, -1), (1, -1), (1, 1), (-1, 1)):
        corner = Vec(float(x), y * container.mouth_ratio, 0.0)
        across, towards = corner.dot(brush.eye.right), brush.eye.get_nearness(corner)
        if towards > 0.05 and abs(across) < 0.97 * _get_breadth(container, brush):
            start = brush.eye.flatten(Vec(middle, 0, 0).plus(corner, top))
            end = brush.eye.flatten(Vec(middle, 0, low).plus(corner, foot))
            data += path("M", *start, "L", *end)
    return tag("path", d=data, stroke=colour, stroke_width=0.8) if data else Markup()


def _draw_spout(container: Container, brush: Brush, colour: str) -> Markup:
    """A pitcher's lip and handle, behind its body."""
    if container.kind is not ContainerKind.PITCHER:
        return Markup()
    rim, high = get_profile(container)[0][0], container.rim_height_cm
    ear = [Vec(x, 0.0, z) for x, z in ((rim, -0.1 * high), (rim * 1.9, -0.12 * high), (rim * 1.8, -0.7 * high))]
    x1, y1 = brush.eye.flatten(ear[0])
    x2, y2 = brush.eye.flatten(ear[1])
    x3, y3 = brush.eye.flatten(ear[2])
    x4, y4 = brush.eye.flatten(Vec(rim, 0.0, -0.66 * high))
    data = path("M", x1, y1, "C", x2, y2, x3, y3, x4, y4)
    lip = [brush.eye.flatten(Vec(-rim, 0, 0)), brush.eye.flatten(Vec(-1.22 * rim, 0, 0.6))]
    lip.append(brush.eye.flatten(Vec(-rim, 0, -0.14 * high)))
    return (
        tag("path", d=data, fill="none", stroke=INK, stroke_width=11)
        + tag("path", d=data, fill="none", stroke=colour, stroke_width=8.6)
        + tag("path", d=closed(lip), fill=colour, stroke=INK, stroke_width=_OUTLINE_MM, stroke_linejoin="round")
    )


def _draw_texture(container: Container, brush: Brush, outer: Points) -> Markup:
    """Weave on a basket, boards on a wooden box."""
    (left, top), (right, _) = outer[0], outer[-1]
    lows = outer[len(outer) // 2 - 1 : len(outer) // 2 + 1]
    (foot_left, foot), (foot_right, _) = lows
    rows = max(2, round((foot - top) / 14))

    def at(share: float, across: float) -> tuple[float, float]:
        x1, x2 = left + (foot_left - left) * share, right + (foot_right - right) * share
        return x1 + (x2 - x1) * across, top + (foot - top) * share

    data = ""
    if container.kind is ContainerKind.BASKET:
        columns = max(6, round((right - left) / 16))
        for row in range(rows):
            for column in range(columns):
                start, end = at((row + 0.5) / rows, column / columns), at((row + 0.5) / rows, (column + 1) / columns)
                bow = 5.0 if (row + column) % 2 else -5.0
                data += path("M", *start, "Q", (start[0] + end[0]) / 2, start[1] + bow, *end)
    elif container.kind is ContainerKind.BOX and container.is_cornered:
        data = "".join(path("M", *at(row / 3, 0.0), "L", *at(row / 3, 1.0)) for row in (1, 2))
    colour = mix(_BODIES.get(container.kind, GLAZE), INK, 0.35)
    return tag("path", d=data, fill="none", stroke=colour, stroke_width=1.0) if data else Markup()


def draw_handle(container: Container, brush: Brush) -> Markup:
    """A basket's handle, arching over the middle from its left to its right."""
    data = _get_handle_path(container, brush)
    return tag("path", d=data, fill="none", stroke=INK, stroke_width=9.5) + tag(
        "path", d=data, fill="none", stroke=_WICKER, stroke_width=7.4
    )


def _get_handle_path(container: Container, brush: Brush) -> str:
    """The line of a handle from rim to rim."""
    rim, top = get_profile(container)[0][0], container.height_cm - container.rim_height_cm
    points = []
    for number in range(19):
        turn = math.pi * number / 18
        # Upright at the rim, then a rounded arch: a superellipse.
        x = -rim * math.copysign(abs(math.cos(turn)) ** 0.7, math.cos(turn))
        points.append(brush.eye.flatten(Vec(x, 0.0, top * math.sin(turn) ** 0.75)))
    return path("M", *points[0], *(part for point in points[1:] for part in ("L", *point)))


def _draw_block(
    block: Hollow,
    container: Container,
    brush: Brush,
    opacity: str,
    down_to: float | None = None,
    fill: str = FOAM,
    bevel_cm: float = 0.0,
) -> Markup:
    """A block of foam, as far down as its floor or as given, so much of its upper edges cut off."""
    low = block.bottom_z if down_to is None else down_to
    broad = _get_breadth(container, brush)
    off = min(bevel_cm, max(0.0, block.top_z - low))
    run = [((block.top_half_cm - off) * broad, block.top_z), (block.get_half_width(low) * broad, low)]
    if off:
        run.insert(1, (block.get_half_width(block.top_z - off) * broad, block.top_z - off))
    return tag(
        "path",
        d=closed(_trace(brush, block.middle_x, run)),
        fill=fill,
        opacity=opacity,
        stroke=FOAM_EDGE,
        stroke_width=0.7,
    )


def draw_foam_top(build: Build, brush: Brush) -> Markup:
    """The part of the foam that stands above the rim, behind the flowers."""
    lies = build.container.kind is ContainerKind.HORN
    if build.recipe.mechanics is not Mechanics.FOAM or lies or has_bed(build.container):
        return Markup()
    foam = get_block(build.recipe, build.container)
    return _draw_block(foam, build.container, brush, "1", 0.0, fill=FOAM_IN_SHADE, bevel_cm=_get_bevel_cm(build))


def _get_bevel_cm(build: Build) -> float:
    return BEVEL_CM if build.recipe.foam_bevelled else 0.0


def _draw_pins(container: Container, brush: Brush, *, dashed: bool = False) -> Markup:
    """The pin holder on the floor: a metal disc set with pins."""
    holder = get_pin_holder(container)
    base = holder.bottom_z + 0.7
    x, y = brush.eye.flatten(Vec(0.0, 0.0, base))
    half, foot = holder.top_half_cm * MM_PER_CM, y + 7.0
    pins = "".join(path("M", x + half * (n / 6 - 1), y, "L", x + half * (n / 6 - 1), y - 10) for n in range(13))
    look: dict[str, str | float | None] = {"stroke": INK, "stroke_width": 0.7}
    if dashed:
        look |= {"stroke": mix(GLAZE, INK, 0.45), "stroke_dasharray": "2 2", "fill": "none"}
    box = [(x - half, y), (x + half, y), (x + half, foot), (x - half, foot)]
    return tag("path", d=pins, **look) + tag("path", d=closed(box), **{"fill": METAL, **look})


def _draw_tape(outer: Points) -> Markup:
    """The strip of tape round the rim."""
    (left, rim), (right, _) = outer[0], outer[-1]
    band = [(left, rim), (right, rim), (right - 0.4, rim + 5), (left + 0.4, rim + 5)]
    return tag("path", d=closed(band), fill="#ffffff", opacity="0.45", stroke=FAINT_INK, stroke_width=0.4)


def _draw_tied(build: Build, brush: Brush) -> Markup:
    """A tied bunch below its tie: the stems splayed and cut level, raffia round the binding point."""
    stems = join(draw_stem(cut.place.start, cut.end, cut.place, brush) for cut in _get_cuts(build, brush, 0))
    half = get_profile(build.container)[0][0] * MM_PER_CM
    x, y = brush.eye.flatten(Vec(0.0, 0.0, 0.0))
    band = [(x - half, y - 6), (x + half, y - 6), (x + half, y + 7), (x - half, y + 7)]
    wraps = "".join(path("M", x - half, y - 6 + step * 3.2, "L", x + half, y - 4.5 + step * 3.2) for step in range(4))
    tails = path("M", x - 2, y + 6, "q", -9, 14, -5, 34, "M", x + 3, y + 6, "q", 8, 16, 12, 29)
    return tag(
        "g",
        tag("title", f"{build.container.name}: binding point")
        + stems
        + tag("path", d=tails, fill="none", stroke=mix(_RAFFIA, INK, 0.15), stroke_width=2.4)
        + tag("path", d=closed(band), fill=_RAFFIA, stroke=INK, stroke_width=0.9)
        + tag("path", d=wraps, stroke=mix(_RAFFIA, INK, 0.35), stroke_width=0.8),
    )
