"""Closing the foam: greens and fillers that have no place to keep yet go where it would be seen.

A placed piece spreads its flowers over its form; where foam shows between them, whoever makes it lays the next green
there. So does this: of the pieces that are there to close and whose place nobody chose, one after another goes where
it hides more than it did, looked at from all sides the piece is seen from; in a piece of pairs, two at a time.
"""

from collections.abc import Mapping, Sequence
from itertools import product

import numpy as np
from numpy.typing import NDArray

from mirvel.core.forms.surface import Site
from mirvel.core.goods.facts import Role
from mirvel.core.making.shades import Hits, Mask, Numbers, as_rows
from mirvel.core.making.sight import Look
from mirvel.core.placing.pieces import Piece
from mirvel.core.placing.places import Place
from mirvel.core.placing.seats import get_kept, get_point, lay_on_surface
from mirvel.core.placing.settling import Seated, Settling
from mirvel.core.recipe.entry import KeptPlace, Seat
from mirvel.core.space.vectors import Vec

Key = tuple[str, int]
Words = NDArray[np.uint64]
Movers = NDArray[np.int_]  # (u, 1) single pieces or (u, 2) pairs of them, each by its place in a list
ENOUGH = 0.1  # where no side shows more of the foam than this, nothing is moved
_CLOSING = frozenset({Role.GREENERY, Role.FILLER, Role.TEXTURE})
_WORTH_A_MOVE = 0.02  # of what is seen, as it is weighed
_GAPS_WEIGH = 2.0  # a hole right through the form weighs more than foam: greens taken from an outline leave holes
_NEAREST, _MOST_SITES = 4, 48  # sites tried: so many about each point of foam that is seen, and all in all
_MOST_LAID = 32  # of them and their depths, those where a piece of an entry hides most
_DEPTHS = (1.0, 0.6)  # each as far out as its entry usually is, and tucked in
_APART_CM = 2.0  # from the places of other pieces
_SAME_CM = 0.05  # places so near are the same but for rounding


class Seen:
    """What is seen, of points on several sides of a piece, between the placed ones and what could be laid instead."""

    def __init__(self, weights: Sequence[float], by_placed: Sequence[Mask], by_laid: Sequence[Mask]) -> None:
        """For each side and what is looked at there: what it weighs, which points each placed piece hides, (n, pieces),
        and which each that could be laid would, (n, laid, 1 or 2)."""
        self.weights, self.by_placed, self.by_laid = np.array(weights), by_placed, by_laid
        self.points = np.array([len(hits) for hits in by_placed])
        packed = [_pack(np.asarray(~hits.any(axis=2)).T) for hits in by_laid]
        self.past_laid: Words = np.concatenate(packed, axis=1)
        self.firsts = np.cumsum([0, *(words.shape[1] for words in packed[:-1])])

    def get_worth(self) -> float:
        """What is seen now, as it is weighed: a side that shows twice as much counts four times."""
        return float(
            sum(w * (~hits.any(axis=1)).mean() ** 2 for w, hits in zip(self.weights, self.by_placed, strict=True))
        )

    def get_worths(self, movers: Movers) -> Numbers:
        """The same with each of some placed ones where each of the others would be laid instead; (movers, laid)."""
        bare = [_pack((hits.sum(axis=1)[:, None] == hits[:, movers].sum(axis=2)).T) for hits in self.by_placed]
        both = np.bitwise_count(np.concatenate(bare, axis=1)[:, None, :] & self.past_laid)
        seen = np.add.reduceat(both, self.firsts, axis=2, dtype=np.int64)
        worths: Numbers = ((seen / self.points) ** 2 * self.weights).sum(axis=2)
        return worths

    def move(self, mover: Movers, to: int) -> None:
        for placed, laid in zip(self.by_placed, self.by_laid, strict=True):
            placed[:, mover] = laid[:, to]


def _pack(rows: Mask) -> Words:
    """Rows of yes and no, 64 to a word: to count what two have in common is then very quick."""
    spare = -rows.shape[1] % 64
    words: Words = np.ascontiguousarray(np.packbits(np.pad(rows, ((0, 0), (0, spare))), axis=1)).view(np.uint64)
    return words


def find_closing(
    pieces: Sequence[Piece], places: Sequence[Place], settling: Settling, looks: Sequence[Look], mirror: Vec | None
) -> Mapping[Key, KeptPlace]:
    """The places that pieces of a placed recipe change to, so that less of its foam is seen; none where that is little
    already, or where all that could close it is held, keeps its place or is meant to stand somewhere. ``mirror`` where
    they stand in pairs."""
    if not any(len(look.foam) for look in looks):
        return {}
    shown = [place for place in places if not place.is_inside]
    movers = _find_movers(pieces, shown, settling, mirror)
    if not len(movers):
        return {}
    by_shown = Hits(shown)
    hits = [by_shown.find(look.foam, look.towards) for look in looks]
    seen = [look.foam[~hit.any(axis=1)] for look, hit in zip(looks, hits, strict=True)]
    if all(len(bare) <= ENOUGH * len(look.foam) for bare, look in zip(seen, looks, strict=True)):
        return {}
    sites = _find_sites(np.concatenate(seen), shown, settling, mirror)
    laid = _lay([shown[at] for at in movers[:, 0]], sites, pieces, settling)
    laid = _choose(laid, seen, looks) if laid else []
    if not laid:
        return {}
    by_laid = Hits([place for together in laid for place in together])
    views = [
        (weight, look.towards, points)
        for look in looks
        for weight, points in ((1.0, look.foam), (_GAPS_WEIGH, look.behind))
        if len(points)
    ]
    by_placed = [by_shown.find(points, towards) for _, towards, points in views]
    by_each = [by_laid.find(points, towards).reshape(len(points), len(laid), -1) for _, towards, points in views]
    return _move(shown, movers, laid, Seen([weight for weight, _, _ in views], by_placed, by_each))


def _choose(laid: list[list[Place]], seen: Sequence[Numbers], looks: Sequence[Look]) -> list[list[Place]]:
    """Of each entry those that would hide most of the foam which is seen, in the order given."""
    hits = Hits([place for together in laid for place in together])
    hidden = np.sum(
        [hits.find(points, look.towards).sum(axis=0) for points, look in zip(seen, looks, strict=True)], axis=0
    )
    hidden = hidden.reshape(len(laid), -1).sum(axis=1)
    entries = np.array([together[0].entry.id for together in laid])
    chosen = [
        np.flatnonzero(entries == entry)[np.argsort(-hidden[entries == entry], kind="stable")[:_MOST_LAID]]
        for entry in dict.fromkeys(entries.tolist())
    ]
    return [laid[at] for at in np.sort(np.concatenate(chosen)).tolist() if hidden[at]]


def _move(shown: Sequence[Place], movers: Movers, laid: Sequence[Sequence[Place]], seen: Seen) -> dict[Key, KeptPlace]:
    """One mover after another to where that helps most, each once, while it helps enough."""
    moved: dict[Key, KeptPlace] = {}
    entries = np.array([places[0].entry.id for places in laid])
    spots = as_rows([places[0].tip for places in laid])
    is_free = np.ones(len(laid), dtype=bool)
    while len(movers) and is_free.any():
        worths = seen.get_worths(movers)
        own = entries == np.array([shown[at].entry.id for at in movers[:, 0]])[:, None]
        worths[~(own & is_free)] = np.inf
        best, to = divmod(int(np.argmin(np.round(worths, 9))), len(laid))
        if worths[best, to] > seen.get_worth() * (1 - _WORTH_A_MOVE):
            break
        seen.move(movers[best], to)
        for at, place in zip(movers[best].tolist(), laid[to], strict=True):
            if place.kept:
                number = shown[at].number
                moved[shown[at].entry.id, number] = place.kept.model_copy(update={"number": number})
        is_free &= ((spots - spots[to]) ** 2).sum(axis=1) >= _APART_CM**2
        movers = np.delete(movers, best, axis=0)
    return moved


def _find_movers(pieces: Sequence[Piece], shown: Sequence[Place], settling: Settling, mirror: Vec | None) -> Movers:
    """The placed pieces that are there to close and may go elsewhere, with their partners in a piece of pairs: neither
    a person nor the recipe says where they stand, and no other entry is told by them."""
    named = {name for piece in pieces for name in piece.meant.named}
    # greens about a frame are its outline, which goes in before what fills it and stays as it is
    greens_stay = settling.form.covers_frame or any(piece.meant.is_told_by_greens for piece in pieces)
    alone = [
        at
        for at, place in enumerate(shown)
        if place.entry.role in _CLOSING
        and not (place.zone or place.entry.meant.is_said or place.entry.id in named)
        and not (greens_stay and place.entry.role is Role.GREENERY)
        and place.kept
        and place.kept.seat is Seat.SURFACE
        and place.entry.find_kept(place.number) is None
    ]
    if mirror is None:
        return np.array(alone, dtype=int).reshape(-1, 1)
    points = {at: get_point(kept, settling.frame) for at in alone if (kept := shown[at].kept)}
    pairs = [
        (one, other)
        for one, other in product(alone, alone)
        if one < other
        and shown[one].entry.id == shown[other].entry.id
        and points[other].minus(points[one].times(mirror)).length < _SAME_CM
    ]
    return np.array(pairs, dtype=int).reshape(-1, 2)


def _find_sites(
    seen: Numbers, shown: Sequence[Place], settling: Settling, mirror: Vec | None
) -> list[tuple[Site, ...]]:
    """The free sites about the foam that is seen, with their mirror images in a piece of pairs."""
    surface = settling.surface
    frame, model = surface.frame, surface.lattice.frame
    scale = [frame.half_width_cm / model.half_width_cm, frame.half_depth_cm / model.half_depth_cm, 1.0]
    open_at = np.array([at for at, site in enumerate(surface.lattice.sites) if not site.zone], dtype=int)
    if not len(open_at):
        return []
    points = surface.lattice.points[open_at] * scale
    nearest = np.argsort(((seen[:, None, :] - points) ** 2).sum(axis=2), axis=1, kind="stable")[:, :_NEAREST]
    near, often = np.unique(nearest, return_counts=True)
    taken = as_rows([get_point(place.kept, frame) for place in shown if place.kept])
    is_free = ((points[near, None, :] - taken) ** 2).sum(axis=2).min(axis=1) >= _APART_CM**2
    near = near[is_free][np.argsort(-often[is_free], kind="stable")[:_MOST_SITES]]
    sites = [surface.fit(surface.lattice.sites[at]) for at in open_at[near].tolist()]
    if mirror is None:
        return [(site,) for site in sites]
    pairs = [(site, site.mirrored(mirror)) for site in sites]
    return [(one, other) for one, other in pairs if one.point.minus(other.point).length >= _APART_CM]


def _lay(
    movers: Sequence[Place], sites: Sequence[tuple[Site, ...]], pieces: Sequence[Piece], settling: Settling
) -> list[list[Place]]:
    """A piece (or two) of each entry that may move, as it would lie at each of the sites."""
    laid = []
    for entry in dict.fromkeys(place.entry.id for place in movers):
        piece = next(each for each in pieces if each.entry.id == entry)
        outs = sorted(place.kept.out for place in movers if place.entry.id == entry and place.kept)
        for together, deep in product(sites, _DEPTHS):
            laid.append([_lay_at(site, deep * outs[len(outs) // 2], piece, settling) for site in together])
    return laid


def _lay_at(site: Site, out: float, piece: Piece, settling: Settling) -> Place:
    kept = get_kept(piece.number, site, out, settling.frame, Seat.SURFACE)
    return settling.lay(piece, Seated(lay_on_surface(kept, settling.form, settling.surface), kept.out, kept))
