"""Faults of composition, put into a piece that has none: how well the checks find them is measured by these.

Each takes the places of a worked piece and gives them with one fault, weak (1) to strong (3); it says of what pieces it
can be put in at all. Nothing is left to chance, so that a fault is the same every time.
"""

from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass, replace

from mirvel.core.forms.form import Nature
from mirvel.core.goods.facts import Role
from mirvel.core.judging.check import Judged
from mirvel.core.judging.checks import DECLARED
from mirvel.core.placing.boards import LARGE_HEAD
from mirvel.core.placing.places import Place
from mirvel.core.space.vectors import Vec

STRENGTHS = (1, 2, 3)
Places = list[Place]
_LEAST_PIECES, _LEAST_HEADS, _LEAST_OF_A_KIND = 24, 12, 5


@dataclass(frozen=True)
class Fault:
    """A way to spoil a piece: where it can be, and what it does to the places at a strength."""

    suits: Callable[[Judged], bool]
    spoil: Callable[[Judged, int], Places]


@dataclass(frozen=True)
class Quality:
    """How one check fares: of how many pieces, at each strength, it finds its own fault; and of how many good pieces it
    says something all the same."""

    check_id: str
    pieces: int
    found: tuple[int, ...]
    good: int
    false_alarms: int


def put_in(judged: Judged, check_id: str, strength: int) -> Judged:
    """A piece with the fault that a check is to find."""
    places = FAULTS[check_id].spoil(judged, strength)
    return Judged(replace(judged.build, places=tuple(places)), judged.money, judged.taken)


def measure_quality(pieces: Sequence[Judged], check_ids: Collection[str] = ()) -> tuple[Quality, ...]:
    """Each check that has a fault of its own, or some of them, on pieces that are held to be good."""
    looks = {declared.id: declared for declared in DECLARED}
    found = []
    for check_id, fault in FAULTS.items():
        if check_ids and check_id not in check_ids:
            continue
        declared = looks[check_id]
        find = declared.find
        good = [judged for judged in pieces if not any(find(judged))]
        suited = [judged for judged in good if declared.speaks_of(judged) and fault.suits(judged)]
        hits = tuple(sum(any(find(put_in(judged, check_id, each))) for judged in suited) for each in STRENGTHS)
        found.append(Quality(check_id, len(suited), hits, len(pieces), len(pieces) - len(good)))
    return tuple(found)


def _move(places: Sequence[Place], to: Callable[[Place], Vec]) -> Places:
    return [replace(place, tip=to(place), start=place.start.plus(to(place).minus(place.tip))) for place in places]


def _exchange(places: Places, one: Place, other: Place) -> None:
    """Two pieces take one another's place, and keep what they are."""
    at, there = places.index(one), places.index(other)
    places[at] = replace(one, tip=other.tip, facing=other.facing, start=other.start)
    places[there] = replace(other, tip=one.tip, facing=one.facing, start=one.start)


def _get_kinds(judged: Judged) -> Mapping[str, list[Place]]:
    """The flowers of each entry that nothing is meant of, those alone of which there are some, and not most."""
    kinds: dict[str, list[Place]] = {}
    for place in judged.blooms:
        if not place.entry.meant.decides_places:
            kinds.setdefault(place.entry.id, []).append(place)
    most = len(judged.blooms) / 2
    return {entry: places for entry, places in kinds.items() if _LEAST_OF_A_KIND <= len(places) <= most}


def _push_in(judged: Judged, strength: int) -> Places:
    """A third of the clock is pushed in."""
    share = (0.85, 0.72, 0.6)[strength - 1]
    return _move(
        judged.build.places, lambda each: each.tip.times(Vec(share, share, 1)) if 1 < each.clock_hour < 5 else each.tip
    )


def _gather(judged: Judged, strength: int) -> Places:
    """Of the most numerous kind some, half or all take the places nearest to the first of them."""
    places = list(judged.build.places)
    kinds = _get_kinds(judged)
    kind = max(kinds, key=lambda entry: (len(kinds[entry]), entry))
    middle = kinds[kind][0].tip
    wanted = max(4, round(len(kinds[kind]) * (0.5, 0.75, 1.0)[strength - 1]))

    def get_away(place: Place) -> float:
        return place.tip.minus(middle).length

    for _ in range(wanted):
        near = sorted((place for place in places if place.material.is_bloom and not place.is_inside), key=get_away)
        strange = next((place for place in near[:wanted] if place.entry.id != kind), None)
        own = [place for place in near[wanted:] if place.entry.id == kind]
        if strange is None or not own:
            break
        _exchange(places, own[-1], strange)
    return places


def _set_beside(judged: Judged, strength: int) -> Places:
    """The second of the widest heads goes beside the first, at its level."""
    first, second = _get_large(judged)[:2]
    off = (0.9, 0.75, 0.6)[strength - 1] * (first.head.width_cm + second.head.width_cm) / 2
    beside = Vec(first.tip.x - off if first.tip.x > 0 else first.tip.x + off, first.tip.y, first.tip.z)
    return [replace(each, tip=beside) if each is second else each for each in judged.build.places]


def _get_large(judged: Judged) -> list[Place]:
    widths = sorted(place.head.width_cm for place in judged.heads)
    least = LARGE_HEAD * widths[len(widths) // 2] if widths else 0.0
    large = [place for place in judged.heads if place.head.width_cm >= least and not place.entry.meant.pattern]
    return sorted(large, key=lambda place: -place.head.width_cm)


def _level(judged: Judged, strength: int) -> Places:
    """All flowers come near to their mean height."""
    heights = [place.tip.z for place in judged.blooms]
    mean, left = sum(heights) / len(heights), (0.2, 0.1, 0.0)[strength - 1]
    return _move(judged.build.places, lambda each: Vec(each.tip.x, each.tip.y, mean + left * (each.tip.z - mean)))


def _rise(judged: Judged, strength: int) -> Places:
    """The flowers of the lower half go up towards the top: a third of the way, two, all."""
    top = judged.sizing.above_rim_cm
    low = {(each.entry.id, each.number) for each in judged.blooms if each.tip.z < top / 2}
    return _move(
        judged.build.places,
        lambda each: (
            each.tip.plus(Vec(0, 0, 1), (top - each.tip.z) * strength / 3)
            if (each.entry.id, each.number) in low
            else each.tip
        ),
    )


def _raise_large(judged: Judged, strength: int) -> Places:
    """The widest heads take the highest places: of a third of them, of two, of all."""
    places = list(judged.build.places)
    by_size = sorted(judged.heads, key=lambda each: -each.head.width_cm)
    by_height = sorted(judged.heads, key=lambda each: -each.tip.z)
    for large, high in list(zip(by_size, by_height, strict=True))[: round(len(by_size) * strength / 3)]:
        now = {(each.entry.id, each.number): each for each in places}
        one = now[large.entry.id, large.number]
        other = next(each for each in places if each.tip == high.tip)
        if one is not other:
            _exchange(places, one, other)
    return places


def _cover(judged: Judged, strength: int) -> Places:
    """The widest of the other heads goes right before the first focal flower, nearer to it the stronger."""
    focal, cover = _get_covered(judged) or (judged.heads[0], judged.heads[-1])
    off = (2.0, 0.5, 0.2)[strength - 1]
    before = focal.tip.plus(focal.facing, off)
    return [replace(each, tip=before, facing=focal.facing) if each is cover else each for each in judged.build.places]


def _get_covered(judged: Judged) -> tuple[Place, Place] | None:
    """A focal flower that is to be seen and another head that is wide enough to hide it."""
    flat = [place for place in judged.heads if not place.material.is_ball]
    focal = min((p for p in flat if p.entry.role is Role.FOCAL), key=lambda place: abs(place.facing.z), default=None)
    others = [place for place in flat if focal and place.entry.id != focal.entry.id]
    cover = max(others, key=lambda place: place.head.width_cm, default=None)
    if focal is None or cover is None or cover.head.width_cm < 1.1 * focal.head.width_cm:
        return None
    return focal, cover


def _stand_on_one_side(judged: Judged, strength: int) -> Places:
    """One kind exchanges its places on the left for what stands on the right: of some of it, of most, of all."""
    places, kinds = list(judged.build.places), _get_kinds(judged)
    kind = min(kinds, key=lambda entry: (len(kinds[entry]), entry))
    left = sorted((place for place in kinds[kind] if place.tip.x < 0), key=lambda place: place.tip.x)
    for own in left[: round(len(left) * (0.6, 1.0, 1.0)[strength - 1])]:
        others = [each for each in places if each.material.is_bloom and each.entry.id != kind and each.tip.x > 1]
        if others:
            _exchange(places, own, min(others, key=lambda each: abs(each.tip.z - own.tip.z)))
    return places


def _lean_right(judged: Judged, strength: int) -> Places:
    """What stands on the left goes over to the right: a third of it, two thirds, all."""
    left = [place for place in judged.build.places if place.tip.x < 0]
    moved = {(place.entry.id, place.number) for number, place in enumerate(left) if number % 3 < strength}
    return _move(
        judged.build.places,
        lambda each: each.tip.across(-1.0) if (each.entry.id, each.number) in moved else each.tip,
    )


def _reach_out(judged: Judged, strength: int) -> Places:
    """The most numerous kind stands further out."""
    kinds, share = _get_kinds(judged), (1.15, 1.4, 1.7)[strength - 1]
    kind = max(kinds, key=lambda entry: (len(kinds[entry]), entry))
    out = {(each.entry.id, each.number) for each in kinds[kind]}
    return _move(
        judged.build.places,
        lambda each: each.tip.times(Vec(share, share, 1)) if (each.entry.id, each.number) in out else each.tip,
    )


def _part_pairs(judged: Judged, strength: int) -> Places:
    """What stands on one side moves along by a finger's, two fingers', a hand's breadth."""
    by = Vec(0.0, 0.7, 0.7).scaled((2.0, 4.0, 8.0)[strength - 1])
    by = by.plus(Vec(0.7, 0.0, 0.0), (2.0, 4.0, 8.0)[strength - 1])
    return _move(judged.build.places, lambda each: each.tip.plus(by, 1.0 if each.tip.x > 1 and each.tip.y > 0 else 0.0))


def _turn_over(judged: Judged, strength: int) -> Places:
    """Foot for top, drawn out the more the stronger."""
    longer = (0.8, 1.0, 1.2)[strength - 1]
    return _move(judged.build.places, lambda each: Vec(each.tip.x, -longer * each.tip.y, each.tip.z))


def _come_in(judged: Judged, strength: int) -> Places:
    """One, two or three of the low pieces stand in the middle."""
    above = judged.sizing.above_rim_cm
    low = [place for place in judged.build.places if 0.1 * above < place.tip.z < 0.8 * above][:strength]
    return [replace(each, tip=Vec(0.0, 0.0, each.tip.z)) if each in low else each for each in judged.build.places]


def _mix(judged: Judged, strength: int) -> Places:
    """Flowers of one end exchange places with those of the other."""
    places = list(judged.build.places)
    blooms = sorted(judged.blooms, key=lambda place: place.tip.x)
    pairs = list(zip(blooms, reversed(blooms), strict=True))[: len(blooms) // 2]
    for one, other in pairs[:: (3, 2, 2)[strength - 1]]:
        _exchange(places, one, other)
    return places


def _is_large(judged: Judged) -> bool:
    return len(judged.build.places) >= _LEAST_PIECES and len(judged.blooms) >= _LEAST_HEADS


def _may_vary(judged: Judged) -> bool:
    says = any(entry.meant.height for entry in judged.recipe.entries)
    return not (says or judged.sizing.form.covers_frame)


def _has_nature(nature: Nature) -> Callable[[Judged], bool]:
    return lambda judged: nature in judged.sizing.form.natures


def _may_be_graded(judged: Judged) -> bool:
    widths = [place.head.width_cm for place in judged.heads]
    form = judged.sizing.form
    return form.covers and not form.covers_frame and len(widths) >= _LEAST_HEADS and max(widths) - min(widths) >= 2.0


FAULTS: Mapping[str, Fault] = {
    "flat-side": Fault(lambda judged: judged.is_round and _is_large(judged), _push_in),
    "clump": Fault(lambda judged: judged.is_round and _is_large(judged) and bool(_get_kinds(judged)), _gather),
    "side-by-side": Fault(lambda judged: _may_vary(judged) and len(_get_large(judged)) >= 2, _set_beside),
    "one-level": Fault(lambda judged: _may_vary(judged) and _is_large(judged), _level),
    "graded": Fault(_may_be_graded, _raise_large),
    "top-heavy": Fault(lambda judged: _may_vary(judged) and judged.is_round and _is_large(judged), _rise),
    "hidden": Fault(lambda judged: _get_covered(judged) is not None, _cover),
    "not-carried": Fault(lambda judged: judged.is_round and bool(_get_kinds(judged)), _stand_on_one_side),
    "aside": Fault(lambda judged: judged.is_round and _is_large(judged), _lean_right),
    "outline-passed": Fault(
        lambda judged: judged.is_round and _may_vary(judged) and bool(_get_kinds(judged)), _reach_out
    ),
    "unlike": Fault(lambda judged: judged.sizing.form.mirror.x < 0, _part_pairs),
    "no-drop": Fault(_has_nature(Nature.DROP), _turn_over),
    "no-thirds": Fault(_has_nature(Nature.THIRDS), _turn_over),
    "middle-closed": Fault(_has_nature(Nature.OPEN_MIDDLE), _come_in),
    "no-blocks": Fault(lambda judged: len(judged.blooms) >= _LEAST_HEADS, _mix),
}
