"""The container in both views: glass with its water and stems seen through, or opaque with hidden lines dashed."""

from mirvel.core.cuts import Cut
from mirvel.core.goods import Container
from mirvel.core.recipe import Mechanics
from mirvel.core.vessel import get_foam, get_inside, get_water_depth_cm
from mirvel.core.working import Worked
from mirvel.drawing.palette import FAINT_INK, GLASS, GLAZE, INK, WATER, mix
from mirvel.drawing.pieces import Brush, draw_stem
from mirvel.drawing.svg import closed, path, tag
from mirvel.drawing.view import MM_PER_CM

_OUTLINE_MM = 1.3
_DASH = "4 3"
FOAM_IN_SHADE = "#55684c"
DEPTHS = "#62735a"  # what the eye meets between stems when it looks down into a full mouth


def _get_profile(container: Container, brush: Brush) -> list[tuple[float, float]]:
    """Outer outline in front view: rim left, rim right, foot right, foot left."""
    x, rim, foot = (
        brush.eye.origin_x,
        brush.eye.origin_y,
        brush.eye.origin_y + container.height_cm * MM_PER_CM,
    )
    top = (container.mouth_cm / 2 + min(container.wall_cm, 0.5)) * MM_PER_CM
    bottom = container.base_cm / 2 * MM_PER_CM
    return [(x - top, rim), (x + top, rim), (x + bottom, foot), (x - bottom, foot)]


def _box(brush: Brush, top_z: float, top_half: float, bottom_z: float, bottom_half: float) -> list[tuple[float, float]]:
    x, rim = brush.eye.origin_x, brush.eye.origin_y
    y1, y2 = rim - top_z * MM_PER_CM, rim - bottom_z * MM_PER_CM
    wide, narrow = top_half * MM_PER_CM, bottom_half * MM_PER_CM
    return [(x - wide, y1), (x + wide, y1), (x + narrow, y2), (x - narrow, y2)]


def draw_front(worked: Worked, brush: Brush) -> str:
    """The container standing on the table, in section behind glass where it is clear."""
    if worked.container.clear:
        return _draw_glass(worked, brush)
    return _draw_glazed(worked, brush)


def _draw_glass(worked: Worked, brush: Brush) -> str:
    container, inside = worked.container, get_inside(worked.container)
    level = inside.bottom_z + get_water_depth_cm(container)
    outline = _get_profile(container, brush)
    water = _box(brush, level, inside.get_half_width(level), inside.bottom_z, inside.bottom_half_cm)
    hollow = _box(brush, 0.0, inside.top_half_cm, inside.bottom_z, inside.bottom_half_cm)
    parts = [
        tag("path", d=closed(outline), fill=GLASS, stroke="none"),
        tag("path", d=closed(water), fill=mix(WATER, GLASS, 0.35)),
        *(draw_stem(cut.place.start, cut.end, cut.place, brush, glass=True) for cut in _far_first(worked.cuts, brush)),
    ]
    if worked.recipe.mechanics is Mechanics.FOAM:
        parts.append(_draw_foam(worked, brush))
    parts += [
        tag("path", d=closed(water), fill=WATER, opacity="0.30"),
        tag("path", d=path("M", *water[0], "L", *water[1]), stroke=mix(WATER, INK, 0.35), stroke_width=0.9),
        tag("path", d=closed(hollow), fill="none", stroke=FAINT_INK, stroke_width=0.5),
        tag(
            "path",
            d=closed(outline),
            fill="none",
            stroke=INK,
            stroke_width=_OUTLINE_MM,
            stroke_linejoin="round",
        ),
    ]
    if worked.recipe.mechanics is Mechanics.TAPE_GRID:
        parts.append(_draw_tape(outline))
    return tag("g", tag("title", f"{container.name}, in section") + "".join(parts))


def _draw_glazed(worked: Worked, brush: Brush) -> str:
    container, inside = worked.container, get_inside(worked.container)
    outline = _get_profile(container, brush)
    hollow = _box(brush, 0.0, inside.top_half_cm, inside.bottom_z, inside.bottom_half_cm)
    (left, rim), (right, _), (foot_right, foot), (foot_left, _) = outline
    ring = [(foot_left, foot - 4), (foot_right, foot - 4), (foot_right, foot), (foot_left, foot)]
    parts = [
        tag(
            "path",
            d=closed(outline),
            fill=GLAZE,
            stroke=INK,
            stroke_width=_OUTLINE_MM,
            stroke_linejoin="round",
        ),
        tag(
            "path",
            d=closed([(left, rim), (right, rim), (right - 1, rim + 5), (left + 1, rim + 5)]),
            fill=mix(GLAZE, INK, 0.12),
        ),
        tag("path", d=closed(ring), fill=mix(GLAZE, INK, 0.18)),
        tag(
            "path",
            d=closed(hollow),
            fill="none",
            stroke=mix(GLAZE, INK, 0.45),
            stroke_width=0.7,
            stroke_dasharray=_DASH,
        ),
    ]
    ends = [(cut, brush.eye.flatten(cut.place.start), brush.eye.flatten(cut.end)) for cut in worked.cuts]
    data = "".join(path("M", *start, "L", *end) for _, start, end in ends)
    parts.append(
        tag(
            "path",
            d=data,
            fill="none",
            stroke=mix(GLAZE, INK, 0.45),
            stroke_width=0.6,
            stroke_dasharray="2 2",
        )
    )
    return tag("g", tag("title", f"{container.name}; hidden lines dashed") + "".join(parts))


def _draw_foam(worked: Worked, brush: Brush) -> str:
    """Foam above the rim, green and pricked; below it is the container's."""
    foam = get_foam(worked.container, worked.recipe.foam_above_rim_cm)
    block = _box(brush, foam.top_z, foam.top_half_cm, foam.bottom_z, foam.bottom_half_cm)
    return tag("path", d=closed(block), fill="#7f9a72", opacity="0.45", stroke="#4d5f45", stroke_width=0.7)


def draw_foam_top(worked: Worked, brush: Brush) -> str:
    """The part of the foam that stands above the rim, behind the flowers."""
    if worked.recipe.mechanics is not Mechanics.FOAM:
        return ""
    foam = get_foam(worked.container, worked.recipe.foam_above_rim_cm)
    block = _box(brush, foam.top_z, foam.top_half_cm, 0.0, foam.get_half_width(0.0))
    return tag("path", d=closed(block), fill="#71895f", stroke="#465740", stroke_width=0.8)


def _draw_tape(outline: list[tuple[float, float]]) -> str:
    """The strip of tape round the rim."""
    (left, rim), (right, _) = outline[:2]
    band = [(left, rim), (right, rim), (right - 0.4, rim + 5), (left + 0.4, rim + 5)]
    return tag("path", d=closed(band), fill="#ffffff", opacity="0.45", stroke=FAINT_INK, stroke_width=0.4)


def _far_first(cuts: tuple[Cut, ...], brush: Brush) -> list[Cut]:
    return sorted(cuts, key=lambda cut: brush.eye.get_nearness(cut.place.start.plus(cut.end)))


def draw_plan(worked: Worked, brush: Brush) -> str:
    """The rim from above, dashed where flowers hide it."""
    container, (x, y) = worked.container, (brush.eye.origin_x, brush.eye.origin_y)
    half = (container.mouth_cm / 2 + min(container.wall_cm, 0.5)) * MM_PER_CM
    if worked.recipe.mechanics is Mechanics.FOAM:
        foam = get_foam(container, worked.recipe.foam_above_rim_cm).top_half_cm * MM_PER_CM
        return _shape(x, y, half, GLAZE, container) + _shape(x, y, foam, FOAM_IN_SHADE, container)
    mouth = get_inside(container).top_half_cm * MM_PER_CM
    body = _shape(x, y, half, GLASS if container.clear else GLAZE, container) + _shape(x, y, mouth, DEPTHS, container)
    return body + (
        _draw_grid(x, y, mouth, square=container.is_square) if worked.recipe.mechanics is Mechanics.TAPE_GRID else ""
    )


def _draw_grid(x: float, y: float, half: float, *, square: bool) -> str:
    """The tape grid across the mouth: three strips each way, two on a narrow one (common practice)."""
    strips = (-0.5, 0.0, 0.5) if half > 55 else (-0.33, 0.33)
    data = ""
    for share in strips:
        reach = half if square else half * (1 - share * share) ** 0.5
        data += path("M", x + share * half, y - reach, "L", x + share * half, y + reach)
        data += path("M", x - reach, y + share * half, "L", x + reach, y + share * half)
    return tag("path", d=data, stroke="#e9eee6", stroke_width=4.0, opacity="0.75")


def _shape(x: float, y: float, half: float, fill: str, container: Container) -> str:
    """A container's square or round outline from above."""
    look: dict[str, str | float | None] = {"fill": fill, "stroke": INK, "stroke_width": 0.9}
    if container.is_square:
        return tag("rect", x=x - half, y=y - half, width=2 * half, height=2 * half, **look)
    return tag("circle", cx=x, cy=y, r=half, **look)
