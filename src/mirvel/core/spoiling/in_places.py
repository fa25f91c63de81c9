"""Faults in where pieces stand, put into a piece that has none.

Each takes the places of a worked piece and gives them with one fault; it says of what pieces it can be put in at all.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

from mirvel.core.forms.form import Nature
from mirvel.core.goods.facts import Role
from mirvel.core.house.design import Grading, SeenFrom
from mirvel.core.judging.check import Judged, School
from mirvel.core.making.showing import LEAST_GLIMPSED, get_least_seen
from mirvel.core.placing.boards import LARGE_HEAD
from mirvel.core.placing.places import Place, get_extent
from mirvel.core.space.vectors import Vec
from mirvel.core.spoiling.fault import Fault

Places = list[Place]
_LEAST_PIECES, _LEAST_HEADS, _LEAST_OF_A_KIND, _BEHIND_CM, _MANY_SMALL = 24, 12, 5, 3.0, 9


def _in_places(suits: Callable[[Judged], bool], spoil: Callable[[Judged, int], Places]) -> Fault:
    """A fault in the places alone: size, money and goods are as they were."""
    return Fault(
        suits,
        lambda judged, strength: replace(judged, build=replace(judged.build, places=tuple(spoil(judged, strength)))),
    )


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
    _exchange_pairs(places, list(zip(by_size, by_height, strict=True))[: round(len(by_size) * strength / 3)])
    return places


def _exchange_pairs(places: Places, pairs: Sequence[tuple[Place, Place]]) -> None:
    """Of each two the first takes the place that the second had to begin with."""
    for one, had in pairs:
        now = next(each for each in places if (each.entry.id, each.number) == (one.entry.id, one.number))
        there = next(each for each in places if each.tip == had.tip)
        if now is not there:
            _exchange(places, now, there)


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


def _draw_in(judged: Judged, strength: int) -> Judged:
    """All pieces draw in to the axis: by a tenth, nearly half, three fifths."""
    share, build = (0.9, 0.55, 0.4)[strength - 1], judged.build
    places = tuple(_move(build.places, lambda each: each.tip.times(Vec(share, share, 1.0))))
    extent = get_extent(places, build.container.halves_cm, judged.sizing.form.pose)
    return replace(judged, build=replace(build, places=places, extent=extent))


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


def _lower_large(judged: Judged, strength: int) -> Judged:
    """Where the school wants a large one at the top: a third of the widest heads take the lowest places, two, all."""
    places = list(judged.build.places)
    by_size = sorted(judged.heads, key=lambda each: -each.head.width_cm)
    by_depth = sorted(judged.heads, key=lambda each: each.tip.z)
    _exchange_pairs(places, list(zip(by_size, by_depth, strict=True))[: round(len(by_size) * strength / 3)])
    arranging = judged.recipe.arranging.change(grading=Grading.LARGE_TOP)
    recipe = judged.recipe.model_copy(update={"arranging": arranging})
    return replace(judged, build=replace(judged.build, recipe=recipe, places=tuple(places)))


def _get_small(judged: Judged) -> list[Place]:
    """Flowers of one head that only have to be glimpsed, the smallest first."""
    small = [place for place in judged.heads if get_least_seen(place) == LEAST_GLIMPSED]
    return sorted(small, key=lambda place: place.head.width_cm)


def _may_hide_small(judged: Judged) -> bool:
    """Whether it is close, all round, and so many small heads may stand behind as many wide ones."""
    is_close = judged.is_round and _is_large(judged) and School.FULL in judged.schools
    return is_close and len(_get_small(judged)) > _MANY_SMALL and len(judged.heads) > 2 * _MANY_SMALL


def _bury(judged: Judged, strength: int) -> Places:
    """Of the smallest heads one stands right behind a wide one, five, nine."""
    small = _get_small(judged)[: 4 * strength - 3]
    others = [place for place in judged.heads if not any(place is lost for lost in small)]
    wide = sorted(others, key=lambda place: -place.head.width_cm)
    behind = dict(zip(map(id, small), wide, strict=False))

    def move(each: Place) -> Place:
        if not (before := behind.get(id(each))):
            return each
        down = before.start.minus(before.tip).unit
        return replace(each, tip=before.tip.plus(down, _BEHIND_CM), facing=before.facing)

    return [move(each) for each in judged.build.places]


def _has_greens_over(judged: Judged) -> bool:
    greens = [p for p in judged.build.places if p.material.is_leaf and not (p.is_inside or p.zone)]
    form = judged.sizing.form
    closes = form.covers and not form.covers_frame
    return closes and len(greens) > _LEAST_HEADS and len(judged.heads) >= _LEAST_HEADS


def _leave_greens_long(judged: Judged, strength: int) -> Places:
    """All greens stand 2 cm further out, 10, 15."""
    by = (2.0, 10.0, 15.0)[strength - 1]
    return _move(judged.build.places, lambda each: each.tip.plus(each.facing, by if each.material.is_leaf else 0.0))


def _may_look_like_eyes(judged: Judged) -> bool:
    focals = [place for place in judged.heads if place.entry.role is Role.FOCAL]
    return len(focals) > 1 and SeenFrom.FRONT in {judged.recipe.brief.seen_from, judged.sizing.form.seen_from}


def _set_like_eyes(judged: Judged, strength: int) -> Places:
    """Two focal flowers are left, one on either side, nearly level or level with one another."""
    one, other, *more = [place for place in judged.heads if place.entry.role is Role.FOCAL]
    off = (0.2, 0.06, 0.0)[strength - 1]
    frame = judged.sizing.frame
    up = Vec(0.0, 2 * frame.half_depth_cm, 0.0) if judged.build.bed else Vec(0.0, 0.0, judged.sizing.above_rim_cm)
    left = Vec(-0.4 * frame.half_width_cm, one.tip.y, one.tip.z)
    to = {id(one): left, id(other): left.across(-1.0).plus(up, off)}
    kept = [each for each in judged.build.places if not any(each is focal for focal in more)]
    return _move(kept, lambda each: to.get(id(each), each.tip))


def _stands_upright(judged: Judged) -> bool:
    form = judged.sizing.form
    return not (judged.build.bed or form.hangs or form.lies) and bool(judged.blooms)


def _sink(judged: Judged, strength: int) -> Places:
    """One, two or four flowers lie under the rim, in the middle of the vessel."""
    sunk = {id(each) for each in judged.blooms[: 2 ** (strength - 1)]}
    return _move(
        judged.build.places,
        lambda each: Vec(0.0, 0.0, -2.0 - each.head.width_cm) if id(each) in sunk else each.tip,
    )


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


PLACE_FAULTS: Mapping[str, Fault] = {
    "flat-side": _in_places(lambda judged: judged.is_round and _is_large(judged), _push_in),
    "clump": _in_places(lambda judged: judged.is_round and _is_large(judged) and bool(_get_kinds(judged)), _gather),
    "side-by-side": _in_places(lambda judged: _may_vary(judged) and len(_get_large(judged)) >= 2, _set_beside),
    "one-level": _in_places(lambda judged: _may_vary(judged) and _is_large(judged), _level),
    "graded": _in_places(_may_be_graded, _raise_large),
    "top-heavy": _in_places(lambda judged: _may_vary(judged) and judged.is_round and _is_large(judged), _rise),
    "hidden": _in_places(lambda judged: _get_covered(judged) is not None, _cover),
    "lost": _in_places(_may_hide_small, _bury),
    "under-greens": _in_places(_has_greens_over, _leave_greens_long),
    "doubled": _in_places(_may_look_like_eyes, _set_like_eyes),
    "sunk": _in_places(_stands_upright, _sink),
    "largest-low": Fault(lambda judged: _may_be_graded(judged) and not judged.build.bed, _lower_large),
    "not-carried": _in_places(lambda judged: judged.is_round and bool(_get_kinds(judged)), _stand_on_one_side),
    "aside": _in_places(lambda judged: judged.is_round and _is_large(judged), _lean_right),
    "not-reached": Fault(lambda judged: judged.is_round and _is_large(judged), _draw_in),
    "outline-passed": _in_places(
        lambda judged: judged.is_round and _may_vary(judged) and bool(_get_kinds(judged)), _reach_out
    ),
    "unlike": _in_places(lambda judged: judged.sizing.form.mirror.x < 0, _part_pairs),
    "no-drop": _in_places(_has_nature(Nature.DROP), _turn_over),
    "no-thirds": _in_places(_has_nature(Nature.THIRDS), _turn_over),
    "middle-closed": _in_places(_has_nature(Nature.OPEN_MIDDLE), _come_in),
    "no-blocks": _in_places(lambda judged: len(judged.blooms) >= _LEAST_HEADS, _mix),
}
