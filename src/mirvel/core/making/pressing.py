"""Heads that have less room than they are wide: neighbours hold a bloom's petals together, so that it stays less open.

Blooms are all held alike where there are more than cover their form once and a third; two that stand nearer than half
of touching give way alike, by a quarter of their width at most, for petals yield and no more; and no bloom is closed
further than it came in bud (assumptions of ours, tuned by eye).
"""

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from mirvel.core.goods.heads import Head
from mirvel.core.goods.material import Material
from mirvel.core.placing.met import get_top
from mirvel.core.placing.pieces import Piece
from mirvel.core.placing.places import Place
from mirvel.core.space.vectors import Vec

_APART = 0.5  # of the half widths of two heads together
_YIELD = 0.25  # of a bloom's width
_COVERED = 1.3  # blooms side by side, petals over petals, for each of the form's surface


def hold_together(pieces: Sequence[Piece], fullness: float) -> tuple[Piece, ...]:
    """Pieces whose blooms are as open as so full a form lets them be."""
    return tuple(replace(piece, head=hold(piece.head, piece.material, fullness)) for piece in pieces)


def hold(head: Head, material: Material, fullness: float) -> Head:
    """A head as open as a form so full of heads, as a share of its surface, lets it be."""
    return _narrow(head, material, math.sqrt(_COVERED / fullness)) if fullness > _COVERED else head


def press(places: Sequence[Place]) -> tuple[Place, ...]:
    """The places with every bloom as open as its neighbours let it be, whatever the order they are in."""
    numbers = [number for number, place in enumerate(places) if _has_petals(place.material) and len(place.heads) == 1]
    if len(numbers) < 2:
        return tuple(places)
    middles = np.array([places[number].tip for number in numbers])
    halves = np.array([places[number].head.width_cm / 2 for number in numbers])
    apart = np.sqrt(((middles[:, None] - middles[None]) ** 2).sum(axis=2))
    np.fill_diagonal(apart, np.inf)
    room = (apart / (halves[:, None] + halves[None])).min(axis=1) / _APART
    pressed = list(places)
    for number, share in zip(numbers, np.clip(room, 1 - _YIELD, 1.0).tolist(), strict=True):
        place = places[number]
        pressed[number] = replace(place, head=_narrow(place.head, place.material, share))
    return tuple(pressed)


def press_to_tops(places: Sequence[Place]) -> tuple[Place, ...]:
    """The same as a piece is made: a held head that looks aside is raised to the top that its entry is told to have."""
    return tuple(
        replace(held, tip=held.tip.plus(Vec(0.0, 0.0, 1.0), get_top(place) - get_top(held)))
        if place.entry.meant.height and not place.pinned
        else held
        for place, held in zip(places, press(places), strict=True)
    )


def _has_petals(material: Material) -> bool:
    """Whether its heads are blooms that open; sprays, and heads along a stem, stand through one another."""
    return material.is_bloom and not material.is_axial and bool(material.opens_in_days)


def _get_tight_cm(head: Head, material: Material) -> float:
    """How wide a head was in bud, as large a bloom as it is."""
    usual = material.head_tight_cm + (material.head_open_cm - material.head_tight_cm) * head.openness
    return head.width_cm * min(1.0, material.head_tight_cm / usual)


def _narrow(head: Head, material: Material, share: float) -> Head:
    """A head held to a share of its width, or to that of its bud; what has no petals that open, as it is."""
    if not _has_petals(material):
        return head
    tight = _get_tight_cm(head, material)
    width = max(tight, head.width_cm * share)
    if width >= head.width_cm:
        return head
    openness, held = head.openness * (width - tight) / (head.width_cm - tight), head.held * width / head.width_cm
    return replace(head, width_cm=width, openness=openness, held=held)
