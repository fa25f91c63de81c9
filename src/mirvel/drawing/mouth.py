"""The container from above: rim, mouth, tape grid, foam, handle."""

import math

from markupsafe import Markup

from mirvel.core.goods.container import Container, ContainerKind, MouthShape
from mirvel.core.goods.facts import Mechanics
from mirvel.core.making.build import Build
from mirvel.core.placing.holders import get_block, get_wanted_block
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.beds import has_bed
from mirvel.core.vessels.grids import get_strips
from mirvel.core.vessels.hollows import BEVEL_CM, get_pin_holder
from mirvel.drawing.frames import draw_frame
from mirvel.drawing.horn import draw_horn
from mirvel.drawing.palette import FOAM_IN_SHADE, GLASS, GLAZE, INK, METAL, WATER
from mirvel.drawing.pieces import Brush
from mirvel.drawing.svg import join, path, tag
from mirvel.drawing.vessel import draw_handle
from mirvel.drawing.view import MM_PER_CM

_PIN_MM = 6.0  # from pin to pin
DEPTHS = "#62735a"  # what the eye meets between stems when it looks down into a full mouth


def draw_mouth(build: Build, brush: Brush) -> Markup:
    """The rim from above and what holds the stems in it."""
    container = build.container
    if container.kind is ContainerKind.HORN:
        return draw_horn(container, brush.eye)
    if has_bed(container):
        return draw_frame(build, brush)
    drawn = []
    for middle in container.vessel_offsets:
        x, y = brush.eye.flatten(Vec(middle, 0.0, 0.0))
        half, mouth = container.rim_half_cm * MM_PER_CM, container.mouth_cm / 2 * MM_PER_CM
        drawn.append(draw_shape(x, y, half, GLASS if container.clear else GLAZE, container))
        if build.recipe.mechanics is Mechanics.FOAM:
            drawn.append(draw_foam(x, y, build, FOAM_IN_SHADE))
        elif build.recipe.mechanics is Mechanics.PIN_HOLDER:
            drawn += [draw_shape(x, y, mouth, WATER, container), _draw_pins(x, y, container)]
        else:
            drawn.append(draw_shape(x, y, mouth, DEPTHS, container))
    if build.recipe.mechanics is Mechanics.TAPE_GRID:
        drawn.append(draw_grid(container, brush))
    return join(drawn)


def draw_handle_above(build: Build, brush: Brush) -> Markup:
    """A basket's handle as seen from above, over everything."""
    if build.container.kind is not ContainerKind.BASKET:
        return Markup()
    return draw_handle(build.container, brush)


def draw_grid(container: Container, brush: Brush) -> Markup:
    """The strips of tape across the mouth."""
    data = "".join(
        path("M", *brush.eye.flatten(start), "L", *brush.eye.flatten(end)) for start, end in get_strips(container)
    )
    return tag("path", d=data, stroke="#e9eee6", stroke_width=4.0, opacity="0.75")


def _draw_pins(x: float, y: float, container: Container) -> Markup:
    """The pin holder in its dish: a metal disc, its pins as points in rows."""
    half = get_pin_holder(container).top_half_cm * MM_PER_CM
    at = [step * _PIN_MM for step in range(-int(half / _PIN_MM), int(half / _PIN_MM) + 1)]
    rows = [(across, down) for across in at for down in at if math.hypot(across, down) < half - 2]
    pins = "".join(path("M", x + across, y + down, "h", 0.1) for across, down in rows)
    disc = tag("circle", cx=x, cy=y, r=half, fill=METAL, stroke=INK, stroke_width=0.7)
    return disc + tag("path", d=pins, stroke=INK, stroke_width=1.4, stroke_linecap="round")


def draw_foam(x: float, y: float, build: Build, fill: str) -> Markup:
    """The top of the foam in a container: of a block its rectangle, else as the mouth is."""
    foam = get_block(build.recipe, build.container)
    half = foam.top_half_cm * MM_PER_CM
    bevels = (0.0, BEVEL_CM * MM_PER_CM) if build.recipe.foam_bevelled else (0.0,)
    if get_wanted_block(build.recipe, build.container) is None:
        return join(draw_shape(x, y, half - off, fill, build.container) for off in bevels)
    look: dict[str, str | float | None] = {"fill": fill, "stroke": INK, "stroke_width": 0.9}
    sides = [(half - off, half * foam.ratio - off) for off in bevels]
    return join(tag("rect", x=x - h, y=y - d, width=2 * h, height=2 * d, **look) for h, d in sides)


def draw_shape(x: float, y: float, half: float, fill: str, container: Container) -> Markup:
    """A container's outline from above, so wide to either side."""
    look: dict[str, str | float | None] = {"fill": fill, "stroke": INK, "stroke_width": 0.9}
    deep = half * container.mouth_ratio
    if container.shape in {MouthShape.SQUARE, MouthShape.OBLONG}:
        return tag("rect", x=x - half, y=y - deep, width=2 * half, height=2 * deep, **look)
    return tag("ellipse", cx=x, cy=y, rx=half, ry=deep, **look)
