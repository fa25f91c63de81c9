"""Checks of how kinds and colours are spread over a piece: clumps, large heads side by side, kinds that are not carried
round.

What each means is common practice, no published source; limits are assumptions of ours, held against the demo's pieces
and against the same pieces with their flowers exchanged at random.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from mirvel.core.goods.hues import get_hue
from mirvel.core.house.design import SeenFrom
from mirvel.core.judging.check import Checks, Family, Found, Judged, School, Severity, Source, say_hour
from mirvel.core.placing.boards import LARGE_HEAD
from mirvel.core.placing.places import Place
from mirvel.core.recipe.meant import PatternKind

CHECKS = Checks(Family.COMPOSITION)
Numbers = NDArray[np.float64]
_TOGETHER = frozenset(
    {PatternKind.GROUP, PatternKind.BESIDE, PatternKind.RING, PatternKind.GATHERED, PatternKind.FRINGE}
)
_NEAREST, _WORST, _EXCHANGES, _LEAST_OF_A_KIND = 5, 3, 200, 4
MOST_CLUMPED = 2.5  # standard deviations over what chance makes of it
BESIDE_WIDTHS, BESIDE_LEVEL = 1.0, 0.05
WIDEST_GAP_HOURS, _LEAST_TO_CARRY, _FEW_KINDS = 6.0, 5, 2
_NO_HUE = "white"


def get_tips(places: Sequence[Place]) -> Numbers:
    """Where pieces end, (n, 3)."""
    return np.array([place.tip for place in places], dtype=np.float64).reshape(-1, 3)


def _get_away(tips: Numbers) -> Numbers:
    """How far each of some points is from each other, itself left out; (n, n)."""
    away: Numbers = np.sqrt(((tips[:, None] - tips) ** 2).sum(axis=2))
    np.fill_diagonal(away, np.inf)
    return away


@CHECKS.add(
    "clump",
    Severity.WARN,
    measures="share of its own kind (or colour) among the five flowers nearest to each (its three worst), against 200 "
    "exchanges of the flowers over the same places",
    limit=f"{MOST_CLUMPED:g} standard deviations over chance, all round and where kinds are not grouped",
    source=Source.ASSUMPTION,
    schools=(School.SPREAD,),
)
def find_clump(judged: Judged) -> Iterator[Found]:
    """One kind, or one colour, that stands together where all are to be spread."""
    form, blooms = judged.sizing.form, judged.blooms
    if not form.covers or form.only_listed or form.seen_from is SeenFrom.FRONT or len(blooms) <= 2 * _NEAREST:
        return
    near = np.argsort(_get_away(get_tips(blooms)), axis=1)[:, :_NEAREST]
    are_near = np.zeros((len(blooms), len(blooms)), dtype=np.float32)
    are_near[np.arange(len(blooms)), near.T] = 1.0
    told = np.zeros(len(blooms), dtype=bool)
    for alike in _get_alike(blooms):
        own = alike.own
        if own.sum() < _LEAST_OF_A_KIND or own.sum() > len(blooms) - _LEAST_OF_A_KIND or (own & told).any():
            continue  # what is told of a kind is not told of its colour again
        by_chance = _get_clumped(own[_get_exchanges(len(blooms))], are_near)
        over = (_get_clumped(own[None], are_near)[0] - by_chance.mean()) / max(float(by_chance.std()), 1e-9)
        if over > MOST_CLUMPED:
            shares = own[near].mean(axis=1)
            worst = [blooms[at] for at in np.argsort(-np.where(own, shares, -1.0), kind="stable")[:_WORST]]
            told |= own
            where = judged.build.say_at(worst[0].tip)
            reason = f"Three of them, about {where}, have mostly their own {alike.of} round them. Place it again."
            yield Found(f"{alike.name}: a clump", reason, alike.about, tuple(worst))


@lru_cache(maxsize=16)
def _get_exchanges(count: int) -> NDArray[np.int16]:
    """So many flowers over the same places, by chance, each time the same; (exchanges, n). Kept small: every process of
    the app has some."""
    numbers = np.tile(np.arange(count, dtype=np.int16), (_EXCHANGES, 1))
    return np.random.default_rng(0).permuted(numbers, axis=1)


@dataclass(frozen=True, eq=False)
class _Alike:
    """Flowers that are alike: what they are called, what they have in common, what it is about, and which they are."""

    name: str
    of: str
    about: str
    own: NDArray[np.bool_]


def _get_alike(blooms: Sequence[Place]) -> Iterator[_Alike]:
    """The flowers of each kind and, where several kinds are of one, of each colour: those that nothing is meant of."""
    ids = np.array([place.entry.id for place in blooms])
    colours = np.array([get_hue(place.material.colours[place.entry.colour]) or _NO_HUE for place in blooms])
    free = {place.entry.id for place in blooms if not place.entry.meant.decides_places}
    for entry_id in dict.fromkeys(ids.tolist()):
        if entry_id in free:
            own = ids == entry_id
            yield _Alike(blooms[int(own.argmax())].material.name, "kind", entry_id, own)
    for colour in dict.fromkeys(colours.tolist()):
        own = colours == colour
        of_it = set(ids[own].tolist())
        if len(of_it) > 1 and of_it <= free:
            yield _Alike(colour.capitalize(), "colour", f"{ids[int(own.argmax())]}-colour", own)


def _get_clumped(own: NDArray[np.bool_], are_near: NDArray[np.float32]) -> Numbers:
    """For each of some exchanges (k, n) of what is of a kind, the mean share of its own among the five nearest of the
    worst of those that are of it, (k); ``are_near`` is 1 for each of these to each, (n, n)."""
    counts = own.astype(np.float32) @ are_near.T  # of whole numbers: exact
    shares = np.where(own, counts.astype(np.float64) / _NEAREST, -1.0)
    worst: Numbers = np.sort(shares, axis=1)[:, -_WORST:].mean(axis=1)
    return worst


@CHECKS.add(
    "side-by-side",
    Severity.WARN,
    measures="distance of two heads, 1.3 times the median width and clouds left out, at one level",
    limit="one width, within a twentieth of the height",
    source=Source.ASSUMPTION,
    schools=(School.SPREAD, School.VARIED),
)
def find_large_side_by_side(judged: Judged) -> Iterator[Found]:
    """Two large heads side by side at one level."""
    heads = judged.heads
    if len(heads) < _LEAST_OF_A_KIND:
        return
    usual = float(np.median([place.head.width_cm for place in heads]))
    large = [place for place in heads if place.head.width_cm >= LARGE_HEAD * usual and not _is_together(place)]
    pairs: dict[str, list[tuple[Place, Place]]] = {}
    for number, one in enumerate(large):
        for other in large[number + 1 :]:
            apart = one.tip.minus(other.tip).length / (0.5 * (one.head.width_cm + other.head.width_cm))
            if apart < BESIDE_WIDTHS and abs(one.tip.z - other.tip.z) < BESIDE_LEVEL * one.above_rim_cm:
                pairs.setdefault(one.entry.id if one.entry.id == other.entry.id else "", []).append((one, other))
    for entry_id, found in pairs.items():
        one, other = found[0]
        at = f"{judged.build.say_place(one)} and {judged.build.say_place(other)}"
        which = "They stand" if len(found) == 1 else "Two stand"
        reason = f"{which} at {at}. Move one up or down, or set something between."
        many = "two" if len(found) == 1 else f"{len(found)} pairs"
        places = tuple({(place.entry.id, place.number): place for pair in found for place in pair}.values())
        yield Found(
            f"{one.material.name if entry_id else 'Large heads'}: {many} side by side", reason, entry_id, places
        )


def _is_together(place: Place) -> bool:
    """Whether an entry's pieces are meant to stand together."""
    pattern = place.entry.meant.pattern
    return pattern is not None and pattern.kind in _TOGETHER


@CHECKS.add(
    "not-carried",
    Severity.NOTE,
    measures="widest stretch of the clock without any of a kind of five or more",
    limit=f"{WIDEST_GAP_HOURS:g} hours, all round",
    source=Source.PRACTICE,
    schools=(School.SPREAD,),
)
def find_not_carried(judged: Judged) -> Iterator[Found]:
    """A kind, and its colour, that is not carried round the piece."""
    if not judged.is_round:
        return
    kinds: dict[str, list[Place]] = {}
    for place in judged.blooms:
        kinds.setdefault(place.entry.id, []).append(place)
    found: dict[str, tuple[list[Place], float, float]] = {}
    for entry_id, places in kinds.items():
        if len(places) < _LEAST_TO_CARRY or places[0].entry.meant.decides_places:
            continue
        hours = sorted(place.clock_hour % 12 for place in places)
        gaps = [(after - before) % 12 for before, after in zip(hours, [*hours[1:], hours[0]], strict=True)]
        widest = max(range(len(gaps)), key=lambda at: gaps[at])
        if gaps[widest] > WIDEST_GAP_HOURS:
            found[entry_id] = places, hours[widest], gaps[widest]
    if len(found) > _FEW_KINDS:  # the piece itself is one-sided, and that is one fault
        names = ", ".join(dict.fromkeys(places[0].material.name for places, _, _ in found.values()))
        reason = f"{names}: half the clock or more without any of each. Place all again, or drag some of each round."
        every = tuple(place for places, _, _ in found.values() for place in places)
        yield Found(f"{len(found)} kinds not carried round", reason, places=every)
        return
    for entry_id, (places, hour, gap) in found.items():
        begin, end = say_hour(hour), say_hour(hour + gap)
        reason = f"None from {begin} to {end} o’clock. Place the entry again, or drag some round."
        yield Found(f"{places[0].material.name} not carried round", reason, entry_id, tuple(places))
