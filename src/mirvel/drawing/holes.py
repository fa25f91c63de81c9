"""The plan of entry points: where each stem goes into foam, on to pins, or through the mouth and its grid, at true
places, numbered by the lines of the recipe."""

from mirvel.core.forms.form import Guide
from mirvel.core.goods.facts import Mechanics
from mirvel.core.making.build import Build
from mirvel.core.space.vectors import UPRIGHT, Vec
from mirvel.core.vessels.bricks import get_joints
from mirvel.drawing.frames import draw_outline
from mirvel.drawing.guides import draw_guide
from mirvel.drawing.measures import draw_clock
from mirvel.drawing.mouth import draw_foam, draw_grid, draw_shape
from mirvel.drawing.palette import INK, NUMERALS, PAPER
from mirvel.drawing.pieces import Brush
from mirvel.drawing.sheet import Drawing
from mirvel.drawing.svg import path, tag, text
from mirvel.drawing.symbols import Symbols
from mirvel.drawing.view import FRONT_HOUR, MM_PER_CM, View, get_eye

_FOAM_LIGHT = "#cfdcc4"


def draw_holes(build: Build) -> Drawing:
    """The holder from above with every entry point; side holes of foam carry a tick outwards."""
    container = build.container
    reach = (max(container.vessel_offsets) + container.rim_half_cm) * MM_PER_CM
    frame = build.sizing.frame
    if build.bed:
        reach = max(abs(side) for side in build.bed.outline.box) * MM_PER_CM
    if build.bed and build.sizing.form.guide is not Guide.CLOCK:  # its words stand beside the flowers
        reach = max(reach, frame.half_width_cm * MM_PER_CM, frame.half_depth_cm * MM_PER_CM)
    size = max(4.0, reach * 0.06)
    margin = reach + size * 3.2
    eye = get_eye(View.PLAN, FRONT_HOUR, UPRIGHT).placed(margin, margin)
    foam = build.recipe.mechanics is Mechanics.FOAM
    by_clock = build.sizing.form.guide is Guide.CLOCK
    body = draw_clock(margin, margin, reach + size * 0.5, size) if by_clock else draw_guide(build, eye, size)
    for middle in () if build.bed else container.vessel_offsets:
        x, y = eye.flatten(Vec(middle, 0.0, 0.0))
        body += draw_shape(x, y, container.rim_half_cm * MM_PER_CM, "#efe8d8", container)
        body += draw_shape(x, y, container.mouth_cm / 2 * MM_PER_CM, PAPER, container)
        if foam:
            body += draw_foam(x, y, build, _FOAM_LIGHT)
    if build.bed:
        body += draw_outline(build.bed, eye, _FOAM_LIGHT)
        for start, end in get_joints(container):
            joint = path("M", *eye.flatten(Vec(*start, 0.0)), "L", *eye.flatten(Vec(*end, 0.0)))
            body += tag("path", d=joint, stroke=INK, stroke_width=0.9, stroke_dasharray="4 3")
    if build.recipe.mechanics is Mechanics.TAPE_GRID:
        body += draw_grid(container, Brush(eye, Symbols(), 0.0, 0.0))
    lines = {entry.id: number for number, entry in enumerate(build.recipe.entries, 1)}
    for place in build.places:
        x, y = eye.flatten(place.start)
        radius = max(1.2, place.material.stem_diameter_mm / 2)
        top = build.bed.top_z if build.bed else build.recipe.foam_above_rim_cm
        if foam and place.start.z < top - 1e-6 and not place.is_inside:
            out = Vec(place.start.x, place.start.y, 0.0).unit
            body += tag("path", d=path("M", x, y, "l", out.x * 7, -out.y * 7), stroke=INK, stroke_width=0.8)
        body += tag("circle", cx=x, cy=y, r=radius, fill=PAPER, stroke=INK, stroke_width=0.7)
        body += text(str(lines[place.entry.id]), x + radius + 0.5, y + size * 0.3, size * 0.8)
    body = tag("g", body, font_family=NUMERALS, fill=INK)
    words = f"{len(build.places)} entry points from above, numbered by entry; ticks go in from the side."
    return Drawing(body, {}, 2 * margin, 2 * margin, f"{build.recipe.name}: entry points", words)
