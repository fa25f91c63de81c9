"""What a piece is made for has to be seen: focal flowers, bows, fruit and other tokens that stand behind others come
out."""

import math
from collections.abc import Iterable, Mapping, Sequence

import numpy as np

from mirvel.core.goods.facts import Role
from mirvel.core.making.shades import Hits
from mirvel.core.placing.places import Place
from mirvel.core.recipe.entry import KeptPlace, Seat
from mirvel.core.recipe.meant import DepthKind
from mirvel.core.space.vectors import Vec

Key = tuple[str, int]
LEAST_SEEN = 0.5  # of what is to be seen, from the side it is seen best from: common practice, no published source
ROUNDS = 4
_OUT, MOST_OUT = 0.04, 1.1  # of the way out to the outline: what a hidden one comes out at a time, and at most
_SLANT = 0.25  # seen more slantingly than this a face is not seen
_SAME_CM = 0.05  # places so near are the same but for rounding
_RINGS = ((0.0, 1), (0.5, 6), (0.85, 9))  # points over a head: so far out of its half width, so many


def get_seen(places: Iterable[Place], sides: Iterable[Vec]) -> dict[Key, float]:
    """Of each head that the piece is made for, the share that is seen past all others from the side, each a way towards
    an eye, that it is seen best from."""
    shown = [place for place in places if not place.is_inside]
    looked_at = [at for at, place in enumerate(shown) if _is_to_be_seen(place)]
    if not looked_at:
        return {}
    hits = Hits(shown)
    points = np.array([_spread_over(shown[at]) for at in looked_at])  # (heads, points, 3)
    best = np.zeros(len(looked_at))
    for side in sides:
        hidden = hits.find(points.reshape(-1, 3), np.array(side)).reshape(*points.shape[:2], len(shown))
        for number, at in enumerate(looked_at):
            if shown[at].material.is_ball or shown[at].facing.dot(side) > _SLANT:
                past_others = np.delete(hidden[number], at, axis=1).any(axis=1)
                best[number] = max(best[number], 1 - past_others.mean())
    return {(shown[at].entry.id, shown[at].number): float(best[number]) for number, at in enumerate(looked_at)}


def bring_out(places: Sequence[Place], seen: Mapping[Key, float], mirror: Vec | None) -> dict[Key, KeptPlace]:
    """The places, a little further out, of what is mostly hidden and may still go elsewhere: neither a person nor the
    recipe says more of where it stands than its level. Where pieces stand in pairs, mirrored, its partner comes too."""
    free = [place for place in places if _may_come_out(place)]
    hidden = [place for place in free if seen.get((place.entry.id, place.number), 1.0) < LEAST_SEEN]
    images = [(place.entry.id, place.tip.times(mirror)) for place in hidden] if mirror else []
    partners = [
        place
        for place in free
        if any(entry == place.entry.id and image.minus(place.tip).length < _SAME_CM for entry, image in images)
    ]
    return {
        (place.entry.id, place.number): place.kept.model_copy(
            update={"out": round(min(MOST_OUT, place.kept.out + _OUT), 4)}
        )
        for place in (*hidden, *partners)
        if place.kept
    }


def is_free_to_come_out(place: Place) -> bool:
    """Whether it is to be seen and may still go elsewhere."""
    return _is_to_be_seen(place) and _may_come_out(place)


def _may_come_out(place: Place) -> bool:
    return (
        place.kept is not None
        and place.kept.seat is Seat.SURFACE
        and place.kept.out < MOST_OUT
        and not (place.zone or place.entry.meant.leave_out(["levels"]).is_said)
        and place.entry.find_kept(place.number) is None
    )


def _is_to_be_seen(place: Place) -> bool:
    """Whether it is a head that the piece is made for, and not meant to be tucked in."""
    depth, material = place.entry.meant.depth, place.material
    is_head = not (material.is_axial or material.is_laid)
    return place.entry.role in {Role.FOCAL, Role.TOKEN} and is_head and not (depth and depth.kind is DepthKind.TUCKED)


def _spread_over(place: Place) -> list[Vec]:
    """Points over the front of a head."""
    level = Vec(-place.facing.y, place.facing.x, 0.0)
    level = level.unit if level.length > 1e-6 else Vec(1.0, 0.0, 0.0)
    other = place.facing.cross(level)
    found = []
    for share, count in _RINGS:
        for number in range(count):
            turn, out = 2 * math.pi * number / count, share * place.half_width_cm
            found.append(place.tip.plus(level, out * math.sin(turn)).plus(other, out * math.cos(turn)))
    return found
