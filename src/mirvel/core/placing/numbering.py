"""Which of the pieces an entry had are still there: numbers stay with their places, and what is taken out is what is
missed least. Also who stands without a partner in a piece made of pairs, and who sets the height."""

from collections.abc import Iterable, Sequence
from dataclasses import replace
from itertools import groupby

import numpy as np
from numpy.typing import NDArray

from mirvel.core.forms.parts import Part
from mirvel.core.forms.surface import Surface
from mirvel.core.goods.facts import Role
from mirvel.core.placing.pieces import Piece
from mirvel.core.placing.seats import get_point
from mirvel.core.recipe.entry import KeptPlace, Seat
from mirvel.core.recipe.meant import Band, HeightKind, Meant, PatternKind, Spot
from mirvel.core.space.vectors import Vec

Numbers = NDArray[np.float64]
HIGH_ENOUGH = 0.9  # what stands so high, as a share of the form, sets the height as well as a crown does
_SAME_CM = 0.05  # places so near are the same but for rounding
# Who may set the height, the best first: what trails, lies or is tied on never does while there is anything else.
_RIGHT = {Role.LINE: 0, Role.FOCAL: 1, Role.MASS: 1, Role.FILLER: 2, Role.TEXTURE: 2, Role.GREENERY: 3}
_NO_RIGHT = 4


def number_pieces(pieces: Sequence[Piece], surface: Surface, mirror: Vec | None) -> tuple[Piece, ...]:
    """The same pieces with the numbers of those that have places, pinned or kept, and new ones for the rest; ``mirror``
    where they stand in pairs."""
    numbered: list[Piece] = []
    for _, group in groupby(pieces, key=lambda piece: piece.entry.id):
        run = list(group)
        entry = run[0].entry
        known = sorted({pin.number for pin in entry.pins} | {kept.number for kept in entry.kept})
        if len(known) > len(run):
            known = _leave_out(run[0], known, len(run), _Covered(pieces, surface), mirror)
        fresh = (number for number in range(1, len(run) + len(known) + 1) if number not in known)
        numbers = sorted([*known, *(next(fresh) for _ in range(len(run) - len(known)))])
        numbered += [replace(piece, number=number) for piece, number in zip(run, numbers, strict=True)]
    return tuple(numbered)


class _Covered:
    """What of a surface the kept places of a recipe cover, greens and flowers each for themselves."""

    def __init__(self, pieces: Iterable[Piece], surface: Surface) -> None:
        self.surface, self.pieces = surface, {piece.entry.id: piece for piece in pieces}
        frame, model = surface.frame, surface.lattice.frame
        scale = [frame.half_width_cm / model.half_width_cm, frame.half_depth_cm / model.half_depth_cm, 1.0]
        self.sites: Numbers = surface.lattice.points * scale

    def get_missed(self, piece: Piece, kept: Sequence[KeptPlace]) -> list[int]:
        """How many sites nothing would cover without each of an entry's kept places."""
        layers = np.zeros(len(self.sites), dtype=int)
        for other in self.pieces.values():
            if other.is_green == piece.is_green and other.entry.id != piece.entry.id:
                layers += self._cover(other, other.entry.kept).sum(axis=0)
        own = self._cover(piece, kept)
        layers += own.sum(axis=0)
        return [int(each) for each in (own & (layers == 1)).sum(axis=1)]

    def _cover(self, piece: Piece, kept: Sequence[KeptPlace]) -> NDArray[np.bool_]:
        points = np.array([get_point(each, self.surface.frame) for each in kept]).reshape(-1, 1, 3)
        covered: NDArray[np.bool_] = ((points - self.sites) ** 2).sum(axis=2) <= (piece.head.width_cm / 2) ** 2
        return covered


def _leave_out(piece: Piece, known: list[int], pieces: int, covered: _Covered, mirror: Vec | None) -> list[int]:
    """The numbers that stay: first those a person holds, then the crown's and the token's, then what would be missed
    most. Of pairs both go, or what stands alone."""
    entry = piece.entry
    held = {pin.number for pin in entry.pins}
    stays = [each for each in entry.kept if each.number not in held]
    while len(held) + len(stays) > pieces and stays:
        points = [get_point(each, covered.surface.frame) for each in stays]
        alone = find_partnerless(points, mirror, with_middle=True) if mirror else list(range(len(stays)))
        too_many = len(held) + len(stays) - pieces
        breaks_pair = [too_many % 2 == 1 and at not in alone for at in range(len(stays))]
        missed = covered.get_missed(piece, stays)
        losses = [
            (place.seat is not Seat.SURFACE, breaks, sites, -place.number)
            for place, breaks, sites in zip(stays, breaks_pair, missed, strict=True)
        ]
        gone = {min(range(len(stays)), key=losses.__getitem__)}
        if mirror and too_many > 1 and not gone & set(alone):
            image = points[min(gone)].times(mirror)
            gone.add(next(at for at, point in enumerate(points) if point.minus(image).length < _SAME_CM))
        stays = [each for at, each in enumerate(stays) if at not in gone]
    return sorted([*sorted(held)[:pieces], *(each.number for each in stays)])


def find_partnerless(points: Sequence[Vec], mirror: Vec, *, with_middle: bool = False) -> list[int]:
    """Which of some points have no mirror image among the others; with what lies on the middle line, or without."""
    found = []
    for at, point in enumerate(points):
        image = point.times(mirror)
        if point.minus(image).length < _SAME_CM:
            found += [at] if with_middle else []
        elif all(other.minus(image).length >= _SAME_CM for other in points):
            found.append(at)
    return found


_WITH_CROWN = frozenset(
    {PatternKind.SIDES, PatternKind.SPREAD, PatternKind.CARRIED, PatternKind.LIFTED, PatternKind.FIVE}
)


def _may_have_crown(meant: Meant) -> bool:
    """Whether what is meant by an entry lets one of its pieces set the height of the whole."""
    height, where, pattern = meant.height, meant.where, meant.pattern
    return (
        (not meant.levels or Band.CROWN in meant.levels)
        and (height is None or height.kind in {HeightKind.STAIR, HeightKind.VARIED} or height.is_over_all)
        and (where is None or where.spot is Spot.CENTRE)
        and (pattern is None or pattern.kind in _WITH_CROWN)
    )


def _get_right(piece: Piece) -> int:
    return _RIGHT.get(piece.entry.role, _NO_RIGHT)


def choose_heir(pieces: Sequence[Piece], above_rim_cm: float) -> Piece | None:
    """Who takes the crown of a form: the first line stem, else the first flower, else the first green. Where pieces
    have places already, the crown is theirs who has it, until one comes with a better right or it is taken out."""
    able = [piece for piece in pieces if piece.zone != Part.INSIDE and not piece.pin and _may_have_crown(piece.meant)]
    able = [piece for piece in able if not (piece.kept and piece.kept.seat is Seat.TOKEN)]
    able = [piece for piece in able if piece.zone is None] or able
    lower = {entry for piece in able for entry in piece.meant.named if piece.meant.height}  # others stand over them
    fresh = [piece for piece in able if not piece.kept]
    fresh.sort(key=lambda piece: (_get_right(piece), piece.entry.id in lower))
    kept = [(piece, piece.kept) for piece in able if piece.kept]
    if not kept:
        return fresh[0] if fresh else None
    holder = next((piece for piece, place in kept if place.seat is Seat.CROWN), None)
    if holder:
        return fresh[0] if fresh and _get_right(fresh[0]) < _get_right(holder) else None
    by_right = sorted(kept, key=lambda each: (_get_right(each[0]), -each[1].up))
    heirs = [by_right[0][0], *fresh[:1]]
    tops = [place.up * min(1.0, place.out) for piece, place in kept if piece.is_green <= heirs[0].is_green]
    tops += [piece.pin.z / above_rim_cm for piece in pieces if piece.pin]
    return None if max(tops) >= HIGH_ENOUGH else min(heirs, key=_get_right)
