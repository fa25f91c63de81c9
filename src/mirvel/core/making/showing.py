"""What is paid for has to be seen: focal flowers, bows, fruit and other tokens at least by half, of every other flower
something. What stands behind others comes out."""

import math
from collections.abc import Iterable, Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from mirvel.core.goods.facts import Role
from mirvel.core.making.shades import Hits, get_across
from mirvel.core.placing.places import Place
from mirvel.core.recipe.entry import KeptPlace, Outline, Seat
from mirvel.core.recipe.meant import DepthKind
from mirvel.core.space.vectors import Vec

Key = tuple[str, int]
Numbers = NDArray[np.float64]
Mask = NDArray[np.bool_]
# Of what a piece is made for, and of any other flower, from the side it is seen best from: common practice, no
# published source, and an assumption.
LEAST_SEEN, LEAST_GLIMPSED = 0.5, 0.2
ROUNDS = 6
_OUT, MOST_OUT = 0.04, 1.1  # of the way out to the outline: what a hidden one comes out at a time, and at most
_SLANT = 0.25  # seen more slantingly than this a face is not seen
_SAME_CM = 0.05  # places so near are the same but for rounding
# Points over a head: so far out of its half width, so many; of what need not be seen by half, fewer will do.
_FACE = np.array(  # points over a head, as shares of its half width: level, and across that
    [
        (share * math.sin(2 * math.pi * number / count), share * math.cos(2 * math.pi * number / count))
        for share, count in ((0.0, 1), (0.5, 6), (0.85, 9))
        for number in range(count)
    ]
)
_FEW = np.array([(0.0, 0.0), *((0.65 * math.cos(turn), 0.65 * math.sin(turn)) for turn in np.arange(6) * math.pi / 3)])
_LEVEL = 1e-6  # a head that leans less faces up
_MIDDLE = 0.2  # what of a head is to be seen from its side lies a little behind its front


def get_least_seen(place: Place) -> float:
    """The share of a head that is to be seen; 0 where it does not matter."""
    depth, material = place.entry.meant.depth, place.material
    if material.is_axial or material.is_laid or place.is_inside or (depth and depth.kind is DepthKind.TUCKED):
        return 0.0
    if place.entry.role in {Role.FOCAL, Role.TOKEN}:
        return LEAST_SEEN
    return LEAST_GLIMPSED if material.is_bloom else 0.0


def get_seen(places: Iterable[Place], sides: Iterable[Vec]) -> dict[Key, float]:
    """Of each head that is to be seen, the share that is seen past all others from the side, each a way towards an eye,
    that it is seen best from: of what the piece is made for its face, of any other flower as much as shows, and no side
    more is looked at once that is enough."""
    shown, towards = [place for place in places if not place.is_inside], np.array(list(sides))
    hits = Hits(shown)
    best = np.zeros(len(shown))
    least = np.array([get_least_seen(place) for place in shown])
    for share, get_points in ((LEAST_SEEN, _get_face), (LEAST_GLIMPSED, _get_round)):
        for side in towards:
            numbers = np.flatnonzero((least == share) & ((best < share) | (share == LEAST_SEEN)))
            if not len(numbers):
                break
            points, shows = get_points([shown[at] for at in numbers], side)  # (heads, points, 3), (heads,)
            hidden = hits.find(points.reshape(-1, 3), side).reshape(*points.shape[:2], len(shown))
            hidden[np.arange(len(numbers)), :, numbers] = False
            best[numbers] = np.maximum(best[numbers], np.where(shows, 1 - hidden.any(axis=2).mean(axis=1), 0.0))
    return {(shown[at].entry.id, shown[at].number): float(best[at]) for at in np.flatnonzero(least)}


def _get_face(places: Sequence[Place], side: Numbers) -> tuple[Numbers, Mask]:
    """Points over the fronts of some heads, and which of these are turned to an eye in a direction."""
    facing = np.array([place.facing for place in places])
    is_ball = np.array([place.material.is_ball for place in places])
    tips, halves = np.array([place.tip for place in places]), np.array([place.half_width_cm for place in places])
    flat = np.hypot(facing[:, 0], facing[:, 1])
    is_level = flat > _LEVEL
    level = np.zeros_like(facing)
    level[:, 0] = np.where(is_level, -facing[:, 1] / np.where(is_level, flat, 1.0), 1.0)
    level[:, 1] = np.where(is_level, facing[:, 0] / np.where(is_level, flat, 1.0), 0.0)
    over = _FACE[:, 0, None] * level[:, None] + _FACE[:, 1, None] * np.cross(facing, level)[:, None]
    return tips[:, None] + halves[:, None, None] * over, is_ball | (facing @ side > _SLANT)


def _get_round(places: Sequence[Place], side: Numbers) -> tuple[Numbers, Mask]:
    """Points over some heads as an eye in a direction has them, however they face."""
    middles = np.array([place.tip.plus(place.facing, -_MIDDLE * place.half_width_cm) for place in places])
    halves = np.array([place.half_width_cm for place in places])
    over = _FEW @ get_across(side).T
    return middles[:, None] + halves[:, None, None] * over, np.ones(len(places), dtype=bool)


def bring_out(places: Sequence[Place], seen: Mapping[Key, float], mirror: Vec | None) -> dict[Key, KeptPlace]:
    """The places, a little further out, of what is mostly hidden and may still go elsewhere: neither a person nor the
    recipe says more of where it stands than its level. Where pieces stand in pairs, mirrored, its partner comes too."""
    free = [place for place in places if _may_come_out(place)]
    hidden = [place for place in free if seen.get((place.entry.id, place.number), 1.0) < get_least_seen(place)]
    images = [(place.entry.id, place.tip.times(mirror)) for place in hidden] if mirror else []
    partners = [
        place
        for place in free
        if any(entry == place.entry.id and image.minus(place.tip).length < _SAME_CM for entry, image in images)
    ]
    return {
        (place.entry.id, place.number): place.kept.model_copy(
            update={"out": round(min(_get_most_out(place), place.kept.out + _get_step(place, seen)), 4)}
        )
        for place in (*hidden, *partners)
        if place.kept
    }


def _get_most_out(place: Place) -> float:
    """How far out it may come: not past the outline where the recipe keeps it inside."""
    return 1.0 if place.entry.outline is Outline.INSIDE else MOST_OUT


def _get_step(place: Place, seen: Mapping[Key, float]) -> float:
    """How far it comes out at a time: twice as far where nothing of it is seen."""
    return _OUT if seen.get((place.entry.id, place.number), 1.0) else 2 * _OUT


def is_free_to_come_out(place: Place) -> bool:
    """Whether it is to be seen and may still go elsewhere."""
    return get_least_seen(place) > 0 and _may_come_out(place)


def _may_come_out(place: Place) -> bool:
    return (
        place.kept is not None
        and place.kept.seat is Seat.SURFACE
        and place.kept.out < _get_most_out(place)
        and not (place.zone or place.entry.meant.leave_out(["levels"]).is_said)
        and place.entry.find_kept(place.number) is None
    )
