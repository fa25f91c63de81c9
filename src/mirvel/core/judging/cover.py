"""Checks of cover: how full the form reads, what is seen of its mechanics, holes, and sides that lie flat."""

import math
from collections.abc import Iterator

import numpy as np

from mirvel.core.forms.form import Form
from mirvel.core.judging.check import Checks, Family, Found, Judged, School, Severity, Source, say_hour
from mirvel.core.making.build import Build
from mirvel.core.making.sight import Sight
from mirvel.core.placing.depths import get_out_cm
from mirvel.core.placing.met import get_top
from mirvel.core.placing.places import Place
from mirvel.core.recipe.entry import Outline
from mirvel.core.space.vectors import Vec, get_clock_hour
from mirvel.core.values.units import format_area

CHECKS = Checks(Family.COVER)
# Shares of what faces the eye, as seen on the drawing (assumptions): a frame has more of its foam to show than a bowl.
MOST_FOAM_SEEN, MOST_SEEN_OF_COVERED, MOST_GAPS = 0.2, 0.12, 0.25
SMALLEST_PATCH_CM2, LARGEST_PATCH_CM2 = 15.0, 45.0  # of bare foam: what is no fault, and what is one whatever the share
MOST_FLAT, _WINDOWS, _WINDOW_DEG, _FARTHEST = 0.15, 24, 70.0, 3
LEAST_REACHED = 0.85
_NEARLY = 0.7
PASSED_CM, MOST_PASSED_CM, MOST_PASSED = 2.0, 6.0, 1 / 8  # "pass by 2 to 6 cm, one in eight": common practice


@CHECKS.add(
    "thin",
    Severity.WARN,
    measures="share of its surface that heads fill",
    limit="the form's or the house's",
    source=Source.HOUSE,
)
def find_thin(judged: Judged) -> Iterator[Found]:
    """Too few heads for its size."""
    sizing = judged.sizing
    if sizing.fullness < sizing.thin_below:
        reason = (
            f"{_say_filled(judged)}, under {sizing.thin_below * 100:.0f} %. "
            "Add pieces, or lower the height so that the piece draws together."
        )
        yield Found("Reads thin", reason)


@CHECKS.add(
    "crowded",
    Severity.WARN,
    measures="share of its surface that heads fill",
    limit="the form's or the house's",
    source=Source.HOUSE,
)
def find_crowded(judged: Judged) -> Iterator[Found]:
    """Too many heads for its size."""
    sizing = judged.sizing
    if sizing.fullness >= sizing.thin_below and sizing.fullness > sizing.crowded_above:
        reason = f"{_say_filled(judged)}, over {sizing.crowded_above * 100:.0f} %. {_get_room_made(sizing.form)}"
        yield Found("Reads crowded", reason)


def _say_filled(judged: Judged) -> str:
    return f"Heads fill {judged.sizing.fullness * 100:.0f} % of the surface that its form has at this size"


def _get_room_made(form: Form) -> str:
    """What makes room in a form that is crowded: one that is as wide as what it stands in is made larger by that."""
    is_held = form.covers_frame or form.proportions.over_mouth
    return f"Take pieces out, or {'take a larger container' if is_held else 'make it larger'}."


@CHECKS.add(
    "foam-shows",
    Severity.WARN,
    measures="share of the foam facing a side it is seen from that is seen, and the largest patch",
    limit=f"{MOST_FOAM_SEEN * 100:.0f} % ({MOST_SEEN_OF_COVERED * 100:.0f} % of a frame) in a patch over "
    f"{SMALLEST_PATCH_CM2:g} cm²; any patch over {LARGEST_PATCH_CM2:g} cm²",
    source=Source.ASSUMPTION,
    schools=(School.HIDDEN,),
)
def find_bare_foam(judged: Judged) -> Iterator[Found]:
    """Foam between the flowers from a side it is seen from."""
    build = judged.build
    if not build.places:
        return
    is_covered = build.sizing.form.covers_frame
    most = MOST_SEEN_OF_COVERED if is_covered else MOST_FOAM_SEEN
    bare = [sight for sight in build.sights if _is_bare(sight, most)]
    if bare:
        largest = max(bare, key=lambda sight: sight.patch_cm2)
        # people come to a piece from the front: what shows nearly as much from there is told as seen from there
        front = (each for each in bare if each.side == "front" and each.patch_cm2 > _NEARLY * largest.patch_cm2)
        worst = next(front, largest)
        reason = f"From {worst.seen_from} about {worst.foam * 100:.0f} % of the foam is seen."
        patch = f"The largest patch, of {format_area(worst.patch_cm2, build.rules.unit)}, is"
        reason += _say_where(patch, worst.foam_at, build)
        mend = "Lay greens flat over it" if worst.side == "above" or is_covered else "Add greens low over its edge"
        mend += ", or pieces before it; where it is meant, say in the brief that bare foam may show."
        yield Found("Foam shows", f"{reason} {mend}")


def _is_bare(sight: Sight, most: float) -> bool:
    """Whether so much foam is seen from a side, in a patch, that it is a fault."""
    return sight.patch_cm2 > LARGEST_PATCH_CM2 or (sight.foam > most and sight.patch_cm2 > SMALLEST_PATCH_CM2)


@CHECKS.add(
    "gaps",
    Severity.WARN,
    measures="share of the form that the eye goes right through",
    limit=f"{MOST_GAPS * 100:.0f} %",
    source=Source.ASSUMPTION,
)
def find_gaps(judged: Judged) -> Iterator[Found]:
    """Holes right through."""
    build = judged.build
    worst = max(build.sights if build.places else (), key=lambda sight: sight.gaps, default=Sight(""))
    if worst.gaps > MOST_GAPS:
        reason = f"From {worst.seen_from} the eye goes through about {worst.gaps * 100:.0f} % of it."
        reason += _say_where("The middle of that is", worst.gaps_at, build)
        yield Found("Holes", f"{reason} Add pieces, or draw it together.")


def _say_where(words: str, point: Vec | None, build: Build) -> str:
    return f" {words} at {build.say_at(point)}." if point else ""


@CHECKS.add(
    "flat-side",
    Severity.WARN,
    measures="reach of the three farthest tips in each of 24 windows of 70°: the least against the median",
    limit=f"{MOST_FLAT * 100:.0f} % less",
    source=Source.ASSUMPTION,
    schools=(School.FULL,),
)
def find_flat_side(judged: Judged) -> Iterator[Found]:
    """A side of a round piece that lies flat."""
    sizing = judged.sizing
    if not judged.is_round or len(judged.build.places) < _WINDOWS:
        return
    half_wide, half_deep = sizing.frame.half_width_cm, sizing.frame.half_depth_cm
    tips = np.array([place.tip[:2] for place in judged.build.places]) / [half_wide, half_deep]
    out, turns = np.hypot(*tips.T), np.degrees(np.arctan2(tips[:, 0], tips[:, 1]))
    middles = np.arange(_WINDOWS) * 360 / _WINDOWS
    off = np.abs((turns - middles[:, None] + 180) % 360 - 180)
    reaches = np.sort(np.where(off <= _WINDOW_DEG / 2, out, 0.0), axis=1)[:, -_FARTHEST:].mean(axis=1)
    flat = 1 - float(reaches.min() / max(float(np.median(reaches)), 1e-9))
    if flat > MOST_FLAT:
        turn = math.radians(float(middles[reaches.argmin()]))
        hour = say_hour(get_clock_hour(Vec(math.sin(turn), math.cos(turn), 0.0)))
        reason = f"About {hour} o’clock it reaches {flat * 100:.0f} % less far than elsewhere. Bring some out there."
        yield Found("A flat side", reason)


@CHECKS.add(
    "not-reached",
    Severity.NOTE,
    measures="how wide and how high the piece stands, against the width and height its outline has",
    limit=f"{LEAST_REACHED * 100:.0f} %, of forms that close",
    source=Source.ASSUMPTION,
    schools=(School.FULL,),
)
def find_short_of_the_outline(judged: Judged) -> Iterator[Found]:
    """A piece that does not reach its outline: it comes out smaller than it is said to be."""
    sizing, extent, form = judged.sizing, judged.build.extent, judged.sizing.form
    if not form.covers or form.covers_frame or form.lies or len(judged.build.places) < _WINDOWS:
        return
    wide, high = extent.width_cm / sizing.width_cm, 1.0 if form.hangs else extent.top / sizing.above_rim_cm
    share, size, way = min((wide, sizing.width_cm, "wide"), (high, sizing.above_rim_cm, "high over its rim"))
    if share < LEAST_REACHED:
        reason = f"It stands {judged.say(share * size)} {way}, of {judged.say(size)}. Bring the outermost out to there."
        yield Found("Does not reach its outline", reason)


@CHECKS.add(
    "sunk",
    Severity.WARN,
    measures="heads that end under the rim, inside the container",
    limit="none whole",
    source=Source.PRACTICE,
)
def find_sunk(judged: Judged) -> Iterator[Found]:
    """Flowers that lie inside the container, under its rim: they are not seen and, in water, they rot."""
    build, form = judged.build, judged.sizing.form
    if build.bed or form.hangs or form.lies:
        return
    across, away = build.container.rim_halves_cm
    sunk = tuple(
        place
        for place in judged.blooms
        if get_top(place) < 0 and math.hypot(place.tip.x / across, place.tip.y / away) < 1
    )
    if sunk:
        names = ", ".join(sorted({place.material.name for place in sunk}))
        what = "1 flower lies" if len(sunk) == 1 else f"{len(sunk)} flowers lie"
        yield Found(
            f"{what} under the rim", f"{names}: not seen there. Drag them up, or mean them higher.", places=sunk
        )


@CHECKS.add(
    "outline-passed",
    Severity.NOTE,
    measures="flowers that stand outside the outline, of those that are not meant to",
    limit="one in eight by 2 cm, none by 6 cm",
    source=Source.PRACTICE,
    schools=(School.VARIED,),
)
def find_past_the_outline(judged: Judged) -> Iterator[Found]:
    """Flowers that stand outside the outline and are not meant to."""
    sizing = judged.sizing
    if not sizing.form.covers or not sizing.surface.lobes:
        return
    inside = [place for place in judged.blooms if _keeps_inside(place)]
    sign = -1.0 if judged.recipe.arranging.mirrored else 1.0
    outs = [get_out_cm(Vec(place.tip.x * sign, place.tip.y, place.tip.z), sizing.surface) for place in inside]
    far = [(place, out) for place, out in zip(inside, outs, strict=True) if out > PASSED_CM]
    if len(far) > MOST_PASSED * len(judged.blooms) or any(out > MOST_PASSED_CM for _, out in far):
        most = max(out for _, out in far)
        reason = f"Up to {judged.say(most)} outside. Draw them in, or mark the entry as breaking the outline."
        places = tuple(place for place, _ in far)
        count = "1 flower passes" if len(far) == 1 else f"{len(far)} flowers pass"
        yield Found(f"{count} the outline", reason, places=places)


def _keeps_inside(place: Place) -> bool:
    """Whether it is to stay within the outline: nothing that breaks it, or that is told how far out or high it is."""
    meant = place.entry.meant
    return place.entry.outline is not Outline.BREAKS and not (meant.depth or meant.height or place.pinned)
