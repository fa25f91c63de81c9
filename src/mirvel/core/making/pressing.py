"""Heads that have less room than they are wide: neighbours hold a bloom's petals together, so that it stays less open,
and no bloom is closed further than it came in bud.

Blooms side by side are all held alike where there are more than cover their form once; two that stand nearer than half
of their half widths together are held there (assumptions of ours, tuned by eye).
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

APART = 0.5  # of the half widths of two heads together
_COVERED = 1.3  # blooms side by side, petals over petals, for each of the form's surface


def hold_together(pieces: Sequence[Piece], fullness: float) -> tuple[Piece, ...]:
    """Pieces whose blooms are as open as so full a form lets them be."""
    return tuple(replace(piece, head=hold(piece.head, piece.material, fullness)) for piece in pieces)


def hold(head: Head, material: Material, fullness: float) -> Head:
    """A head as open as a form so full of heads, as a share of its surface, lets it be."""
    return _narrow(head, material, math.sqrt(_COVERED / fullness)) if fullness > _COVERED else head


def press(places: Sequence[Place]) -> tuple[Place, ...]:
    """The places with every bloom as open as its neighbours let it be."""
    numbers = [number for number, place in enumerate(places) if _has_petals(place.material) and len(place.heads) == 1]
    blooms = [places[number] for number in numbers]
    widths = [place.head.width_cm for place in blooms]
    tight = [_get_tight_cm(place.head, place.material) for place in blooms]
    for one, other, apart in _find_near(blooms):
        both = 2 * apart / APART
        share = min(1.0, both / (widths[one] + widths[other]))
        # Each gives alike; what one has no more to give, the other gives.
        least = max(tight[one], min(widths[one] * share, both - tight[other]))
        widths[other] = min(widths[other], max(tight[other], both - least))
        widths[one] = min(widths[one], max(tight[one], both - widths[other]))
    pressed = list(places)
    for number, place, width in zip(numbers, blooms, widths, strict=True):
        pressed[number] = replace(place, head=_narrow(place.head, place.material, width / place.head.width_cm))
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
    return replace(head, width_cm=width, openness=head.openness * (width - tight) / (head.width_cm - tight))


def _find_near(places: Sequence[Place]) -> list[tuple[int, int, float]]:
    """Pairs that stand nearer than they may, the nearest for their widths first, and how far apart they are, cm."""
    if len(places) < 2:
        return []
    middles = np.array([(place.tip.x, place.tip.y, place.tip.z) for place in places])
    halves = np.array([place.head.width_cm / 2 for place in places])
    apart = np.sqrt(((middles[:, None] - middles[None]) ** 2).sum(axis=2))
    share = apart / (halves[:, None] + halves[None])
    ones, others = np.nonzero(np.triu(share < APART, 1))
    order = np.argsort(share[ones, others], kind="stable")
    return [(int(ones[at]), int(others[at]), float(apart[ones[at], others[at]])) for at in order]
