"""Checks of what holds the piece: foam, mouth, holes, stems that hold and drink, balance, lifting."""

import math
from collections.abc import Iterator

from mirvel.core.goods.facts import HeadForm, Mechanics
from mirvel.core.goods.hard_good import FoamGrade
from mirvel.core.goods.material import Fitness, Material, StemType
from mirvel.core.judging.check import Checks, Family, Found, Judged, Severity, Source
from mirvel.core.making.standing import TIES
from mirvel.core.making.water import MOST_BLADE_IN_WATER_CM, get_clear_tip_cm
from mirvel.core.placing.holders import get_foam_seen
from mirvel.core.vessels.hollows import HEAVY_STEM_MM, LEAST_IN_FOAM_CM, THIN_FOAM_CM, get_inside

CHECKS = Checks(Family.MECHANICS)
_FEW_THICK = 2
WIDE_HEAD_CM = 12.0  # that big flowers are not for thin taped foam is common practice, how big an assumption
MOST_RIM_SEEN = 0.6
LINING_FORMS, LEAST_LINED = frozenset({HeadForm.STRAP, HeadForm.BROAD_LEAF}), 0.9  # of the way round; assumption


@CHECKS.add(
    "shallow",
    Severity.STOP,
    measures="how far stems go into the foam",
    limit=f"{LEAST_IN_FOAM_CM:g} cm",
    source=Source.PRACTICE,
)
def find_shallow(judged: Judged) -> Iterator[Found]:
    """Stems that barely go into the foam: they neither hold nor drink."""
    cuts = judged.build.cuts
    shallow = [cut.place for cut in cuts if cut.inside_cm < LEAST_IN_FOAM_CM and not cut.place.material.is_laid]
    if judged.recipe.mechanics is Mechanics.FOAM and shallow:
        names = ", ".join(dict.fromkeys(place.material.name for place in shallow))
        reason = (
            f"{names}: less than {judged.say(LEAST_IN_FOAM_CM)} goes in, so they neither hold nor drink. Let the foam "
            "stand higher above the rim, or make the piece wider or taller."
        )
        yield Found(f"{len(shallow)} pieces barely in the foam", reason, places=tuple(shallow))


@CHECKS.add(
    "soft",
    Severity.NOTE,
    measures="fitness for foam",
    limit="not poor; a warning where it has none",
    source=Source.PRACTICE,
)
def find_unfit_for_foam(judged: Judged) -> Iterator[Found]:
    """Stems that foam does not suit: soft or hollow ones, which bend going in or do not drink there."""
    if judged.recipe.mechanics is not Mechanics.FOAM:
        return
    by_entry = {place.entry.id: place for place in judged.build.places if not place.is_inside}
    for entry_id, first in by_entry.items():
        fitness = first.material.in_foam
        if not first.material.drinks or fitness not in {Fitness.POOR, Fitness.NO}:
            continue
        places = tuple(place for place in judged.build.places if place.entry.id == entry_id)
        words = "does not hold in foam" if fitness is Fitness.NO else "holds badly in foam"
        reason = "Make each hole first with something firmer, give it a tube of water, or use another holder or flower."
        grave = Severity.WARN if fitness is Fitness.NO else None
        yield Found(f"{first.material.name} {words}", reason, entry_id, places, grave)


@CHECKS.add(
    "foam-grade",
    Severity.NOTE,
    measures="what stems the foam among the hard goods is made for",
    limit=f"no stem as thick as {HEAVY_STEM_MM:g} mm in soft foam, no soft or hollow one in dense; a stop where fresh "
    "stems stand in dry foam",
    source=Source.PRACTICE,
)
def find_wrong_foam(judged: Judged) -> Iterator[Found]:
    """Thick stems in soft foam, soft ones in dense, and fresh flowers in foam that takes no water."""
    grades = {good.foam_grade for _, good in judged.taken.uses if good.foam_ml}
    if judged.recipe.mechanics is not Mechanics.FOAM or len(grades) != 1:
        return
    (grade,) = grades
    fits, grave, title, why = {
        FoamGrade.DRY: (_needs_no_water, Severity.STOP, "Fresh stems in dry foam", "it takes no water, and they do"),
        FoamGrade.SOFT: (_is_not_heavy, None, "Thick stems in soft foam", "they widen their holes and lean"),
        FoamGrade.DENSE: (_is_not_soft, None, "Soft stems in dense foam", "they bend going in"),
    }.get(grade, (None, None, "", ""))
    wrong = tuple(place for place in judged.build.places if fits and not (place.is_inside or fits(place.material)))
    if wrong:
        names = ", ".join(sorted({place.material.name for place in wrong}))
        yield Found(title, f"{names}: {why}. Take another foam, or other flowers.", places=wrong, severity=grave)


def _needs_no_water(material: Material) -> bool:
    return not material.drinks


def _is_not_heavy(material: Material) -> bool:
    return material.is_laid or material.stem_diameter_mm < HEAVY_STEM_MM


def _is_not_soft(material: Material) -> bool:
    return material.stem_type not in {StemType.SOFT, StemType.HOLLOW}


@CHECKS.add(
    "square-edges",
    Severity.NOTE,
    measures="thick stems that go into the sides of foam standing above its rim",
    limit=f"two as thick as {HEAVY_STEM_MM:g} mm, where its edges stay square",
    source=Source.PRACTICE,
)
def find_square_edges(judged: Judged) -> Iterator[Found]:
    """Thick stems that go in at the edges of foam which is not bevelled: the edge breaks out."""
    recipe, build = judged.recipe, judged.build
    if recipe.mechanics is not Mechanics.FOAM or recipe.foam_bevelled or build.bed:
        return
    thick = tuple(
        place
        for place in build.places
        if place.material.stem_diameter_mm >= HEAVY_STEM_MM
        and place.start.z < recipe.foam_above_rim_cm - 1e-6
        and not (place.is_inside or place.material.is_laid)
    )
    if len(thick) > _FEW_THICK:
        names = ", ".join(dict.fromkeys(place.material.name for place in thick))
        reason = f"{names} go in at its side. Bevel the upper edges, so that they do not break out."
        yield Found(f"{len(thick)} thick stems in square foam", reason, places=thick)


@CHECKS.add(
    "big-in-thin",
    Severity.NOTE,
    measures="width of heads in foam that is thin, and taped into a container",
    limit=f"{WIDE_HEAD_CM:g} cm, in foam up to {THIN_FOAM_CM:g} cm thick",
    source=Source.ASSUMPTION,
)
def find_big_in_thin_foam(judged: Judged) -> Iterator[Found]:
    """Very big flowers in thin taped foam: they lever it out."""
    foam = get_foam_seen(judged.recipe, judged.build.container)
    if foam is None or judged.build.bed or foam.top_z - foam.bottom_z > THIN_FOAM_CM:
        return
    big = tuple(place for place in judged.heads if place.head.width_cm >= WIDE_HEAD_CM and place.material.drinks)
    if big:
        names = ", ".join(dict.fromkeys(place.material.name for place in big))
        thick = judged.say(foam.top_z - foam.bottom_z)
        reason = f"{names} in {thick} of foam: they lever it out as they open. Use thicker foam, or foam in a cage."
        yield Found(f"{len(big)} big {'flower' if len(big) == 1 else 'flowers'} in thin foam", reason, places=big)


@CHECKS.add(
    "rim-shows",
    Severity.NOTE,
    measures="share of the tape or wire round the rim that shows from a side it is seen from",
    limit=f"{MOST_RIM_SEEN * 100:.0f} %",
    source=Source.ASSUMPTION,
)
def find_rim_that_shows(judged: Judged) -> Iterator[Found]:
    """Tape or wire at the rim that nothing hangs over."""
    bare = {side: seen for side, seen in judged.build.rim_seen.items() if seen > MOST_RIM_SEEN}
    if bare:
        side = "front" if "front" in bare else max(bare, key=lambda each: bare[each])
        seen = bare[side]
        what = "tape" if judged.recipe.mechanics is Mechanics.TAPE_GRID else "wire"
        reason = f"From the {side} {seen * 100:.0f} % of it is bare. Let leaves or flowers hang over it all round."
        yield Found(f"The {what} at the rim shows", reason)


@CHECKS.add("mouth", Severity.STOP, measures="stems in the mouth", limit="what passes it", source=Source.ASSUMPTION)
def find_full_mouth(judged: Judged) -> Iterator[Found]:
    """More stems than the mouth passes."""
    base = judged.build.base
    if base.mouth_passes is not None and base.stems > base.mouth_passes:
        reason = f"About {base.mouth_passes} stems as thick as these go through. Use a wider one or fewer stems."
        yield Found(f"{base.stems} stems in the mouth", reason)


@CHECKS.add(
    "through", Severity.WARN, measures="stems through one another in the foam", limit="none", source=Source.PRACTICE
)
def find_stems_through_others(judged: Judged) -> Iterator[Found]:
    """Stems that run through one another in the foam."""
    foam = judged.build.base.foam
    if foam and foam.through:
        reason = "In the foam a stem pushed through another loosens both. Drag one aside, or use fewer stems."
        yield Found(f"{foam.through} stems run through others", reason)


@CHECKS.add("holes", Severity.WARN, measures="foam between two holes", limit="2 mm", source=Source.ASSUMPTION)
def find_close_holes(judged: Judged) -> Iterator[Found]:
    """Holes in foam with no wall between."""
    foam = judged.build.base.foam
    if foam and foam.too_close:
        reason = "Foam tears where holes stand closer than 2 mm. Use a larger piece of foam, or fewer stems."
        yield Found(f"{foam.too_close} holes too close", reason)


@CHECKS.add(
    "lining", Severity.NOTE, measures="share of the glass that leaves line", limit="90 %", source=Source.ASSUMPTION
)
def find_gap_in_the_lining(judged: Judged) -> Iterator[Found]:
    """Leaves that line a glass side by side and do not reach round it."""
    leaves = [place for place in judged.build.places if place.is_inside and place.material.form in LINING_FORMS]
    if not leaves:
        return
    inside = get_inside(judged.build.container)
    round_cm = (8.0 if inside.square else 2 * math.pi) * inside.top_half_cm
    reach_cm = sum(place.head.width_cm for place in leaves)
    if reach_cm < LEAST_LINED * round_cm:
        more = math.ceil((round_cm - reach_cm) / leaves[0].head.width_cm)
        reason = f"Side by side they reach {reach_cm / round_cm * 100:.0f} % of the way round. Add {more}."
        title = "1 leaf does" if len(leaves) == 1 else f"{len(leaves)} leaves do"
        yield Found(f"{title} not line the glass", reason, places=tuple(leaves))


@CHECKS.add(
    "leaf-in-water",
    Severity.NOTE,
    measures="how much of the blade of single leaves stands in the water, but for a lining",
    limit=f"{MOST_BLADE_IN_WATER_CM:g} cm, which are trimmed to the rib",
    source=Source.ASSUMPTION,
)
def find_blade_in_water(judged: Judged) -> Iterator[Found]:
    """Single leaves whose blade stands in the water, where it rots: it is not stripped, as the leaves of a twig are."""
    build = judged.build
    deep = build.wet_blades
    wet = [place for place in build.places if (place.entry.id, place.number) in deep]
    if not wet:
        return
    names = ", ".join(dict.fromkeys(place.material.name for place in wet))
    clear_cm = min(get_clear_tip_cm(place.head, build.container) for place in wet)
    can_rise = clear_cm - MOST_BLADE_IN_WATER_CM <= build.sizing.above_rim_cm
    rise, smaller = ("Let it", "take a smaller leaf") if len(wet) == 1 else ("Let them", "take smaller leaves")
    mend = f"{rise} stand higher, {smaller}" if can_rise else smaller.capitalize()
    reason = (
        f"{names}: up to {judged.say(max(deep.values()))} of the blade would rot there and foul the "
        f"water. {mend}, or trim the blade to its rib."
    )
    title = "1 leaf stands in the water" if len(wet) == 1 else f"{len(wet)} leaves stand in the water"
    yield Found(title, reason, wet[0].entry.id, tuple(wet))


@CHECKS.add(
    "upright",
    Severity.STOP,
    measures="what has to stand upright",
    limit="in foam, of a piece that stands or lies flat",
    source=Source.PRACTICE,
)
def find_what_cannot_stand(judged: Judged) -> Iterator[Found]:
    """What has to stand upright, as a candle does, in a piece that hangs or lies on its side, or without foam."""
    build = judged.build
    form = build.sizing.form
    upright = tuple(place for place in build.places if place.material.stands_whole)
    has_foam = get_foam_seen(build.recipe, build.container) is not None
    if upright and (form.hangs or form.lies or not has_foam):
        names = ", ".join(sorted({place.material.name for place in upright}))
        reason = "It stands only in the foam of a piece that stands or lies flat. Take it out, or choose such a piece."
        yield Found(f"{names} cannot stand", reason, places=upright)


@CHECKS.add(
    "tips", Severity.WARN, measures="the angle at which it falls", limit="the shop's least", source=Source.HOUSE
)
def find_top_heavy(judged: Judged) -> Iterator[Found]:
    """A piece that falls when it is tipped a little, filled or soaked as it is carried."""
    build, standing, least = judged.build, judged.build.standing, judged.rules.least_tip_deg
    if not build.tips_soon:
        return
    title, falls = f"Tips at {math.floor(standing.tip_deg)}°", f"By the shop’s rule it stands {least:g}°"
    if build.stand_cm:
        yield Found(title, f"{falls}. Use a wider stand, weight its feet or hang it lower.")
        return
    right, away = standing.gravity_off_cm
    off = max((abs(right), "right" if right > 0 else "left"), (abs(away), "back" if away > 0 else "front"))
    beside = f" and {judged.say(off[0])} to the {off[1]} of its middle" if off[0] > 1 else ""
    mend = "Weight the foot, make the piece lower, or use a container with a wider foot."
    yield Found(title, f"{falls}: its weight lies {judged.say(standing.gravity_up_cm)} up{beside}. {mend}")


@CHECKS.add("ties", Severity.WARN, measures="ties among the hard goods", limit=f"{TIES}", source=Source.PRACTICE)
def find_too_few_ties(judged: Judged) -> Iterator[Found]:
    """A frame on a stand that is not tied to it in enough places."""
    if judged.sizing.form.hangs and judged.build.stand_cm:
        ties = sum(use.quantity for use, good in judged.taken.uses if good.is_tie)
        if ties < TIES:
            reason = f"A frame is tied to its stand in at least {TIES} places, the ends trimmed. Add ties."
            yield Found("Not tied enough", reason)


@CHECKS.add("lift", Severity.NOTE, measures="weight, soaked", limit="what one person lifts", source=Source.HOUSE)
def find_heavy(judged: Judged) -> Iterator[Found]:
    """A piece that more than one person lifts."""
    standing, rules = judged.build.standing, judged.rules
    people = standing.get_people(rules.lift_limit_kg)
    if people > 1:
        reason = (
            f"It weighs about {standing.weight_g / 1000:.1f} kg soaked; one person lifts {rules.lift_limit_kg:g} kg."
        )
        yield Found(f"{people} people lift it", reason)
