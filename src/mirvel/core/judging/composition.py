"""Checks of composition: levels and sizes, the weight to the eye, focal flowers, and what is hidden or hardly shows.

What each means is common practice, no published source; limits are assumptions of ours, held against the demo's pieces
and against the same pieces with their flowers exchanged at random.
"""

from collections.abc import Iterator, Sequence
from statistics import median

import numpy as np
from numpy.typing import NDArray

from mirvel.core.forms.surface import Surface
from mirvel.core.goods.facts import Role
from mirvel.core.house.design import SeenFrom
from mirvel.core.judging.check import Checks, Family, Found, Judged, School, Severity, Source
from mirvel.core.judging.kinds import get_tips
from mirvel.core.making.showing import LEAST_GLIMPSED, LEAST_SEEN, get_least_seen
from mirvel.core.placing.depths import get_out_cm
from mirvel.core.placing.meeting import get_rank_correlation
from mirvel.core.placing.places import Place
from mirvel.core.space.vectors import Vec

CHECKS = Checks(Family.COMPOSITION)
Numbers = NDArray[np.float64]
_FEW = 5  # with no more flowers nothing is said of the whole
LEAST_RANGE = 0.15  # of the height, between the highest and the lowest flower
GRADED_WRONG = 0.5  # rank correlation of size with height
MOST_ASIDE = 0.15  # of the half width, that the weight to the eye lies off the middle
MOST_TOP_HEAVY = 0.12
MOST_UNDER_TOP = 0.2  # of the height
MOST_UNDER_CM, _ABOUT_CM, _FEW_FLOWERS = 6.0, 4.0, 8
PARTNER_CM = 1.5
EYES_OUT, EYES_LEVEL = 0.15, 0.1  # of half the width, of the height
_COUNTED = 9  # more than these nobody counts at a glance


@CHECKS.add(
    "one-level",
    Severity.NOTE,
    measures="height between the lowest and the highest flower, as a share of the piece's",
    limit=f"{LEAST_RANGE * 100:.0f} %",
    source=Source.ASSUMPTION,
    schools=(School.VARIED,),
)
def find_all_at_one_level(judged: Judged) -> Iterator[Found]:
    """All flowers at one level, where highs and lows were wanted."""
    form = judged.sizing.form
    says_level = any(entry.meant.height for entry in judged.recipe.entries)
    if form.covers_frame or says_level or len(judged.blooms) <= _FEW:
        return
    heights = get_tips(judged.blooms)[:, 2]
    apart = float(heights.max() - heights.min())
    if apart < LEAST_RANGE * judged.sizing.above_rim_cm:
        reason = f"Their tips are within {judged.say(apart)}. Set some higher and some lower, or say one level."
        yield Found("All at one level", reason)


@CHECKS.add(
    "graded",
    Severity.NOTE,
    measures="rank correlation of the flowers' sizes with their heights",
    limit=f"{GRADED_WRONG:g}",
    source=Source.ASSUMPTION,
    schools=(School.LARGE_LOW,),
)
def find_wrongly_graded(judged: Judged) -> Iterator[Found]:
    """The largest heads high where the school has them low."""
    form = judged.sizing.form
    heads = judged.heads
    widths = np.array([place.head.width_cm for place in heads])
    if not form.covers or form.covers_frame or len(heads) <= 2 * _FEW or np.ptp(widths) < 1.0:
        return
    heights = [place.tip.z for place in heads]
    if np.ptp(heights) > 0 and get_rank_correlation(widths.tolist(), heights) > GRADED_WRONG:
        reason = "The school in force has the largest low. Place again, give levels to the large, or change the school."
        yield Found("The largest stand highest", reason)


@CHECKS.add(
    "largest-low",
    Severity.NOTE,
    measures="how far under the highest head the highest of the largest stands, as a share of the height",
    limit=f"{MOST_UNDER_TOP * 100:.0f} %",
    source=Source.ASSUMPTION,
    schools=(School.LARGE_TOP,),
)
def find_largest_low(judged: Judged) -> Iterator[Found]:
    """The largest heads low where the school has one of them at the top."""
    form, heads = judged.sizing.form, judged.heads
    widths = np.array([place.head.width_cm for place in heads])
    is_flat = form.covers_frame or judged.build.bed is not None
    if not form.covers or is_flat or len(heads) <= _FEW or np.ptp(widths) < 1.0:
        return
    heights = np.array([place.tip.z for place in heads])
    under = float(heights.max() - heights[widths > 0.9 * widths.max()].max())
    if under > MOST_UNDER_TOP * judged.sizing.above_rim_cm:
        low = f"The school in force has one at the top; the highest of them stands {judged.say(under)} under it."
        reason = f"{low} Give it the crown, place the entry again, or change the school."
        yield Found("No large head at the top", reason)


@CHECKS.add(
    "hidden",
    Severity.WARN,
    measures="share of a focal, a token or fruit that is seen from the side it is seen best from",
    limit=f"{LEAST_SEEN * 100:.0f} %",
    source=Source.PRACTICE,
)
def find_hidden(judged: Judged) -> Iterator[Found]:
    """A focal flower, a bow, a fruit or another token hidden behind others from every side it is seen from."""
    for entry_id, places in _find_hidden(judged, LEAST_SEEN):
        at = _say_two(judged, places)
        reason = f"Less than half is seen of what stands at {at}. Bring it out, or take away what stands before it."
        count = "" if len(places) == 1 else f"{len(places)} "
        yield Found(f"{count}{places[0].material.name} hidden", reason, entry_id, tuple(places))


@CHECKS.add(
    "doubled",
    Severity.NOTE,
    measures="two focal flowers, on either side of the middle: how far from level they are, as a share of the height",
    limit=f"{EYES_LEVEL * 100:.0f} %, of a piece seen from the front",
    source=Source.ASSUMPTION,
    schools=(School.FREE,),
)
def find_doubled(judged: Judged) -> Iterator[Found]:
    """Two focal flowers level with one another to the left and right, like eyes: neither of them is the show."""
    focals = [place for place in judged.heads if place.entry.role is Role.FOCAL]
    if len(focals) != 2 or SeenFrom.FRONT not in {judged.recipe.brief.seen_from, judged.sizing.form.seen_from}:
        return
    left, right = sorted(focals, key=lambda place: place.tip.x)
    frame = judged.sizing.frame
    level, high = abs(left.tip.z - right.tip.z), judged.sizing.above_rim_cm
    if judged.build.bed:  # what is made lying is looked at from above
        level, high = abs(left.tip.y - right.tip.y), 2 * frame.half_depth_cm
    out = EYES_OUT * frame.half_width_cm
    if left.tip.x < -out and right.tip.x > out and level < EYES_LEVEL * high:
        reason = "Level, left and right of the middle, the eye goes to and fro. Set one higher, or both together."
        yield Found("Two focal flowers like eyes", reason, places=(left, right))


@CHECKS.add(
    "lost",
    Severity.NOTE,
    measures="share of any other flower that is seen from the side it is seen best from, however it faces",
    limit=f"{LEAST_GLIMPSED * 100:.0f} %",
    source=Source.ASSUMPTION,
)
def find_lost(judged: Judged) -> Iterator[Found]:
    """Flowers that are paid for and hardly show from any side."""
    for entry_id, places in _find_hidden(judged, LEAST_GLIMPSED):
        count = "one hardly shows" if len(places) == 1 else f"{len(places)} hardly show"
        at = _say_two(judged, places)
        reason = f"Paid for, and lost behind others at {at}. Bring them out, or take them out."
        yield Found(f"{places[0].material.name}: {count}", reason, entry_id, tuple(places))


def _find_hidden(judged: Judged, least: float) -> Iterator[tuple[str, list[Place]]]:
    """By entry, what is to be seen by so much and is not."""
    hidden: dict[str, list[Place]] = {}
    for place in judged.build.places:
        share = judged.build.seen.get((place.entry.id, place.number), 1.0)
        if get_least_seen(place) == least and share < least:
            hidden.setdefault(place.entry.id, []).append(place)
    yield from hidden.items()


def _say_two(judged: Judged, places: Sequence[Place]) -> str:
    return " and ".join(judged.build.say_place(place) for place in places[:2])


@CHECKS.add(
    "under-greens",
    Severity.NOTE,
    measures="how far out most leaf tips about a flower stand past it",
    limit=f"{MOST_UNDER_CM:g} cm, of half the flowers",
    source=Source.ASSUMPTION,
)
def find_under_greens(judged: Judged) -> Iterator[Found]:
    """Flowers that stand under the greens about them: the piece reads as leaves."""
    form, surface = judged.sizing.form, judged.sizing.surface
    mirror = Vec(-1.0 if judged.recipe.arranging.mirrored else 1.0, 1.0, 1.0)
    greens = [p for p in judged.build.places if p.material.is_leaf and not (p.is_inside or p.zone)]
    heads = [place for place in judged.heads if place.entry.meant.depth is None]
    if not form.covers or form.only_listed or len(heads) < _FEW_FLOWERS:
        return
    leaves = [(_lay_on(tip, surface), get_out_cm(tip, surface)) for tip in (each.tip.times(mirror) for each in greens)]
    under = []
    for head in heads:
        tip = head.tip.times(mirror)
        here, near_cm = _lay_on(tip, surface), head.head.width_cm + _ABOUT_CM
        outs = [out for there, out in leaves if there.minus(here).length <= near_cm]
        if outs and median(outs) - get_out_cm(tip, surface) > MOST_UNDER_CM:
            under.append(head)
    if len(under) > len(heads) / 2:
        reason = (
            f"Most leaves about them stand more than {judged.say(MOST_UNDER_CM)} past them. Bring them out, or cut "
        )
        yield Found(f"{len(under)} flowers under the greens", f"{reason}the greens shorter.", places=tuple(under))


def _lay_on(point: Vec, surface: Surface) -> Vec:
    """Where the outline is before, or behind, a point: of a covered frame, where it is looked down on."""
    if not surface.lobes:
        return Vec(point.x, point.y, 0.0)
    lobe = surface.get_lobe(point)
    return lobe.centre.plus(point.minus(lobe.centre), 1 / max(lobe.get_stretch(point), 1e-9))


@CHECKS.add(
    "aside",
    Severity.NOTE,
    measures="how far the weight to the eye lies off the middle line, as a share of half the width",
    limit=f"{MOST_ASIDE * 100:.0f} %, of forms that are alike on both sides",
    source=Source.ASSUMPTION,
)
def find_weight_aside(judged: Judged) -> Iterator[Found]:
    """A piece that looks heavier on one side."""
    form = judged.sizing.form
    lobes = judged.sizing.surface.lobes
    is_alike = form.covers and not form.only_listed and all(abs(lobe.centre.x) < 1e-6 for lobe in lobes)
    if not is_alike or len(judged.blooms) <= _FEW:
        return
    weights = np.array([_get_weight(judged, place) for place in judged.build.places if not place.is_inside])
    across = get_tips([place for place in judged.build.places if not place.is_inside])[:, 0]
    aside = float((weights * across).sum() / weights.sum()) / judged.sizing.frame.half_width_cm
    if abs(aside) > MOST_ASIDE:
        side = "right" if aside > 0 else "left"
        reason = f"Its weight to the eye lies {abs(aside) * 100:.0f} % of the way out to the {side}. Move some across."
        yield Found(f"Heavier on the {side}", reason)


@CHECKS.add(
    "top-heavy",
    Severity.NOTE,
    measures="how far above the middle of its outline the weight of flowers to the eye lies, as a share of the height",
    limit=f"{MOST_TOP_HEAVY * 100:.0f} %, of forms that flowers cover",
    source=Source.ASSUMPTION,
    schools=(School.VARIED,),
)
def find_top_heavy(judged: Judged) -> Iterator[Found]:
    """A piece that looks as if it would topple: large and heavy flowers at the top, light ones at the foot."""
    form, blooms = judged.sizing.form, judged.blooms
    if not form.covers or form.covers_frame or form.only_listed or form.hangs or len(blooms) <= 2 * _FEW:
        return
    weights = np.array([_get_weight(judged, place) for place in blooms])
    middle = float((weights * get_tips(blooms)[:, 2]).sum() / weights.sum())
    above = (middle - float(judged.sizing.surface.lattice.points[:, 2].mean())) / judged.sizing.above_rim_cm
    if above > MOST_TOP_HEAVY:
        reason = "Its flowers stand high, or the heavy ones do. Bring some down, or give the heavy ones lower levels."
        yield Found("Top-heavy to the eye", reason)


def _get_weight(judged: Judged, place: Place) -> float:
    """How much a piece weighs in the eye: what it shows, by what kind of head it is."""
    rules, material = judged.rules, place.material
    usual = rules.leaf_weight if material.is_leaf else 1.0
    return rules.form_weights.get(material.form, usual) * place.head.footprint_cm2


@CHECKS.add(
    "unlike",
    Severity.NOTE,
    measures="pieces of a mirrored form without a partner of their kind across",
    limit=f"within {PARTNER_CM:g} cm; one over of each kind",
    source=Source.PRACTICE,
    schools=(School.SYMMETRIC,),
)
def find_unlike_halves(judged: Judged) -> Iterator[Found]:
    """Mirrored halves that are not alike."""
    form = judged.sizing.form
    kinds: dict[str, list[Place]] = {}
    for place in judged.build.places:
        if not place.is_inside and not place.entry.meant.decides_places:
            kinds.setdefault(place.entry.id, []).append(place)
    alone: list[Place] = []
    for places in kinds.values():
        tips = get_tips(places)
        images = tips * np.array(form.mirror)
        away = np.sqrt(((images[:, None] - tips) ** 2).sum(axis=2)).min(axis=1)
        found = [place for place, far in zip(places, away, strict=True) if far > PARTNER_CM]
        alone += found if len(found) > 1 else []
    if alone:
        names = ", ".join(dict.fromkeys(place.material.name for place in alone))
        reason = f"{names}: no partner across. Place them again, or say free balance."
        yield Found(f"{len(alone)} pieces unlike across", reason, places=tuple(alone))


@CHECKS.add(
    "even-focals",
    Severity.NOTE,
    measures="focal flowers, where there are up to nine",
    limit="an odd number, where the shop wants that",
    source=Source.HOUSE,
    schools=(School.FREE,),
)
def find_even_focals(judged: Judged) -> Iterator[Found]:
    """An even number of focal flowers, where the shop wants odd ones and nothing is mirrored."""
    focals = tuple(place for place in judged.build.places if place.entry.role is Role.FOCAL and place.material.is_bloom)
    if judged.rules.odd_focals and 0 < len(focals) <= _COUNTED and len(focals) % 2 == 0:
        reason = "An odd number is easier to place so that none pairs off. Take one more or one fewer."
        yield Found(f"{len(focals)} focal flowers", reason, places=focals)
