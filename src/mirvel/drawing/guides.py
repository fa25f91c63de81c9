"""What is drawn round (or under) a piece so that its places can be found: the clock, distances along a cross's arms,
thirds of a spray. They are the words of the places in lists and on cards."""

from collections.abc import Iterator

from markupsafe import Markup

from mirvel.core.forms.form import Guide
from mirvel.core.forms.kinds.cross import get_crossing
from mirvel.core.making.build import Build
from mirvel.core.space.vectors import Vec
from mirvel.core.values.units import CM_PER_INCH, LengthUnit
from mirvel.core.vessels.bricks import USUAL_BAR_CM
from mirvel.drawing.palette import FAINT_INK, INK, NUMERALS
from mirvel.drawing.svg import join, path, tag, text
from mirvel.drawing.view import Eye, View

_ARM_STEP_CM = {LengthUnit.CM: 10.0, LengthUnit.INCH: 4 * CM_PER_INCH}
_BESIDE_CM = 1.2
_WORDS, _LETTER = 0.8, 0.5  # of the size, words beside a plan; of their height, a letter's width
Spot = tuple[float, float]


def draw_guide(build: Build, eye: Eye, size: float) -> Markup:
    """The guide of a form that is not found by the clock; nothing for one that is. From the front its lines go without
    the words, which stand beside the plan. What has no flowers has no thirds."""
    guide = build.sizing.form.guide
    if guide is Guide.ARMS:
        drawn = join(_draw_arms(build, eye, size))
    elif not build.places:
        return Markup()
    elif guide is Guide.THIRDS_UP:
        drawn = join(_draw_thirds(build, eye, size, along=False))
    elif guide is Guide.THIRDS_ALONG:
        drawn = join(_draw_thirds(build, eye, size, along=True))
    else:
        return Markup()
    return tag("g", drawn, class_="guide", font_family=NUMERALS, fill=INK)


def _draw_arms(build: Build, eye: Eye, size: float) -> Iterator[str]:
    """Marks along each arm at steps from the middle of the crossing, their distances beside them."""
    frame, unit = build.sizing.frame, build.rules.unit
    middle = Vec(0.0, get_crossing(frame), 0.0)
    step, per = _ARM_STEP_CM[unit], 1.0 if unit is LengthUnit.CM else CM_PER_INCH
    bar = build.container.bar_cm or USUAL_BAR_CM
    out = bar / 2 + frame.half_width_cm - frame.mouth_half_cm + _BESIDE_CM
    upper = frame.mouth_half_depth_cm - middle.y
    lower = 2 * frame.mouth_half_depth_cm - upper
    arms = [(-1, 0, frame.mouth_half_cm), (1, 0, frame.mouth_half_cm), (0, 1, upper), (0, -1, lower)]
    for way, length in ((Vec(x, y, 0), length) for x, y, length in arms):
        beside = Vec(0, -1, 0) if way.x else Vec(1, 0, 0)
        for number in range(1, int(length / step) + 1):
            if number * step < out:
                continue
            at = middle.plus(way, number * step).plus(beside, out)
            x, y = eye.flatten(at)
            x2, y2 = eye.flatten(at.plus(beside, 1.2))
            yield tag("path", d=path("M", x, y, "L", x2, y2), stroke=INK, stroke_width=0.8)
            x3, y3 = eye.flatten(at.plus(beside, 1.6))
            anchor = "middle" if way.x else "start"
            label = f"{number * step / per:g}"
            yield text(label, x3, y3 + size * (0.8 if way.x else 0.33), size * 0.85, text_anchor=anchor)


def _draw_thirds(build: Build, eye: Eye, size: float, *, along: bool) -> Iterator[str]:
    """Two dashed lines that part a spray in thirds, by its length as it hangs or lies."""
    frame = build.sizing.frame
    if along:
        cuts = [Vec(side * frame.half_width_cm / 3, 0.0, 0.0) for side in (-1, 1)]
        reach = Vec(0.0, frame.half_depth_cm + 2.0, 0.0)
    else:
        cuts = [Vec(0.0, 0.0, 0.0), Vec(0.0, -2 * frame.half_depth_cm / 3, 0.0)]
        reach = Vec(frame.half_width_cm + 2.0, 0.0, 0.0)
    for cut in cuts:
        start, end = eye.flatten(cut.minus(reach)), eye.flatten(cut.plus(reach))
        line = path("M", *start, "L", *end)
        yield tag("path", d=line, stroke=FAINT_INK, stroke_width=0.9, stroke_dasharray="5 4")
    if eye.view is View.PLAN:
        for name, (x, y) in _list_thirds(build, eye, along=along):
            yield text(name, x, y, size * _WORDS, text_anchor="middle" if along else "start")


def _list_thirds(build: Build, eye: Eye, *, along: bool) -> Iterator[tuple[str, Spot]]:
    """What the thirds are called, and where their words stand beside a plan: in their middles, or from there on."""
    frame = build.sizing.frame
    if along:
        for name, x in zip(("left", "middle", "right"), (-1, 0, 1), strict=True):
            yield f"{name} third", eye.flatten(Vec(x * frame.half_width_cm * 2 / 3, frame.half_depth_cm + 2.6, 0.0))
        return
    spots = (frame.half_depth_cm / 3, -frame.half_depth_cm / 3, -frame.half_depth_cm)
    for name, y in zip(("upper", "middle", "lower"), spots, strict=True):
        yield f"{name} third", eye.flatten(Vec(frame.half_width_cm + 2.6, y, 0.0))


def get_taken(build: Build, eye: Eye, size: float) -> list[Spot]:
    """Points of a plan where words of its guide stand, so that nothing else is written there."""
    guide = build.sizing.form.guide
    if guide not in {Guide.THIRDS_ALONG, Guide.THIRDS_UP}:
        return []
    along, high = guide is Guide.THIRDS_ALONG, size * _WORDS
    found = []
    for name, (x, y) in _list_thirds(build, eye, along=along):
        wide = _LETTER * high * len(name)
        left = x - wide / 2 if along else x
        found += [(left + share * wide, y - high / 3) for share in (0.0, 0.25, 0.5, 0.75, 1.0)]
    return found
