"""The blade of a single leaf below the rim: it is not stripped as a twig is, and stands in the glass as it grew."""

import math

from markupsafe import Markup

from mirvel.core.goods.facts import HeadForm
from mirvel.core.making.build import Build
from mirvel.core.making.cuts import Cut
from mirvel.core.placing.places import Place, get_blade_share
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.hollows import get_inside
from mirvel.drawing.heads.leaves import get_single_half, get_strap_half
from mirvel.drawing.outline import get_breadth
from mirvel.drawing.palette import GLASS, get_tones, mix, to_faint
from mirvel.drawing.pieces import Brush, get_ratio
from mirvel.drawing.svg import closed, path, tag
from mirvel.drawing.view import MM_PER_CM, Eye, View

_STEPS = 20
Points = list[tuple[float, float]]


def trace_blade(cut: Cut, build: Build, eye: Eye) -> Points:
    """The outline below the rim of a blade that stands in the water, from its left at the rim round its foot; empty
    where it does not, or is trimmed."""
    place = cut.place
    if (place.entry.id, place.number) not in build.wet_blades:
        return []
    below_cm = _get_below_rim_cm(cut)
    chord = cut.end.minus(place.start)
    above_cm = max(0.0, place.tip.minus(place.start).length - place.shown_length_cm)
    down = place.start.plus(chord, max(0.0, below_cm - above_cm) / cut.inside_cm)
    (x1, y1), (x2, y2) = eye.flatten(place.head_base), eye.flatten(down)
    length = math.hypot(x2 - x1, y2 - y1)
    if length < 1e-6:
        return []
    whole_cm = place.shown_length_cm + below_cm
    lost = max(0.0, place.head.length_cm - whole_cm) / place.head.length_cm  # cut off with the foot of the stem
    width = _get_width(place, eye)
    across = ((y1 - y2) / length, (x2 - x1) / length)
    edges: tuple[Points, Points] = ([], [])
    for number in range(_STEPS + 1):
        run = number / _STEPS
        share = lost + (1 - lost) * below_cm * (1 - run) / whole_cm
        half = width * _get_half(cut, share)
        x, y = x1 + (x2 - x1) * run, y1 + (y2 - y1) * run
        for edge, side in zip(edges, (half, -half), strict=True):
            edge.append(_fold_in(x + side * across[0], y + side * across[1], cut, build, eye))
    return [*edges[0], *reversed(edges[1])]


def _fold_in(x: float, y: float, cut: Cut, build: Build, eye: Eye) -> tuple[float, float]:
    """A point of the picture drawn in to the wall where it is beside the vessel or its floor: a wide blade folds."""
    inside = get_inside(build.container, cut.place.vessel)
    z = max((eye.origin_y - y) / MM_PER_CM, inside.bottom_z)
    half = inside.get_half_width(min(z, 0.0)) * get_breadth(build.container, eye.right.x, eye.right.y) * MM_PER_CM
    middle, _ = eye.flatten(Vec(inside.middle_x, 0.0, z))
    return min(middle + half, max(middle - half, x)), eye.origin_y - z * MM_PER_CM


def find_passes(build: Build, eye: Eye) -> dict[tuple[str, int], float]:
    """How much of its width each leaf whose blade stands in the water shows at the rim: what is wider than the mouth
    folds to pass it. By entry and number, in tenths."""
    passes = dict.fromkeys(build.wet_blades, 1.0)
    for cut in build.cuts if eye.view is not View.PLAN else ():
        points, place = trace_blade(cut, build, eye), cut.place
        if points:
            whole = 2 * _get_width(place, eye) * _get_half(cut, 1 - place.shown_length_cm / place.head.length_cm)
            shown = math.dist(points[0], points[-1])
            passes[place.entry.id, place.number] = max(0.1, min(1.0, round(shown / max(whole, 1e-6), 1)))
    return passes


def _get_below_rim_cm(cut: Cut) -> float:
    """How much of a leaf's blade its cut leaves below what is shown of it above the rim, cm along the leaf."""
    place = cut.place
    left_cm = place.tip.minus(place.start).length + cut.inside_cm - place.shown_length_cm
    return min(left_cm, max(0.0, place.head.length_cm - place.shown_length_cm))


def _get_width(place: Place, eye: Eye) -> float:
    """What a hundredth of the length that shows above is across the leaf on the picture, mm."""
    return place.shown_length_cm * MM_PER_CM * get_blade_share(place.material, place.axis, eye.towards) / 100


def _get_half(cut: Cut, share: float) -> float:
    """Half its width at a share of its length from its foot, in hundredths of the length that shows above."""
    place = cut.place
    ratio = get_ratio(place)
    if place.material.form is HeadForm.STRAP:
        return get_strap_half(place.material.habit, ratio, share)
    return 100 * ratio * get_single_half(share)


def draw_blade(cut: Cut, build: Build, brush: Brush) -> Markup:
    """The blade below the rim as it is seen through glass, with its rib; nothing where there is none."""
    points = trace_blade(cut, build, brush.eye)
    if not points:
        return Markup()
    place = cut.place
    tones = get_tones(place.material.colours[place.entry.colour], brush.get_depth(place.start))
    fill, line = mix(tones.base, GLASS, 0.08), tones.line
    if place.entry.id in brush.faint:
        fill, line = to_faint(fill), to_faint(line)
    rim, foot = [
        ((one[0] + other[0]) / 2, (one[1] + other[1]) / 2)
        for one, other in ((points[0], points[-1]), (points[_STEPS], points[_STEPS + 1]))
    ]
    drawn = tag("path", d=closed(points), fill=fill, stroke=line, stroke_width=0.8, stroke_linejoin="round")
    rib = tag("path", d=path("M", *rim, "L", *foot), fill="none", stroke=line, stroke_width=0.9)
    return tag("g", drawn + rib, data_blade=_get_key(place))


def draw_hidden_blade(cut: Cut, build: Build, eye: Eye, colour: str) -> Markup:
    """The same as it stands behind an opaque wall; nothing where there is none."""
    points = trace_blade(cut, build, eye)
    if not points:
        return Markup()
    drawn = tag("path", d=closed(points), fill=colour, fill_opacity=0.12, stroke=colour, stroke_dasharray="4 2")
    return tag("g", drawn, data_blade=_get_key(cut.place))


def _get_key(place: Place) -> str:
    """What names the piece where a finding tells of it."""
    return f"{place.entry.id}.{place.number}"
