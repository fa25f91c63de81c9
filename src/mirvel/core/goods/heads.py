"""How large one placed piece is: from the facts of its material, what of the stem it is, and the day.

A spray or branch broken down gives side pieces about half the length of the stem (assumption of ours).
"""

import math
from dataclasses import dataclass, replace

from mirvel.core.goods.facts import HeadForm, PieceSize
from mirvel.core.goods.material import Material

LATERAL_SHARE = 0.5
_TAPERING = frozenset({HeadForm.SPIKE, HeadForm.PLUME, HeadForm.DRAPE, HeadForm.BERRY})
UNBROKEN_SPREAD = 0.8  # heads of an unbroken spray overlap: its width grows with 0.8 of the root of their number
LEAST_OPEN = 0.5  # of the way a bloom opens, from which on it reads open; assumption
GROWTH_CAP_CM = 7.0
ORCHID_DEPTH = 0.4
_FOOTPRINT_OF_LENGTH = 0.5  # a spike tapers: about half of its length by width is seen as flower


@dataclass(frozen=True)
class Head:
    """Size of one piece on the day it is looked at, cm; ``length_cm`` runs along its axis, and ``held`` is the share of
    its width with room that those beside it leave it."""

    form: HeadForm
    width_cm: float
    length_cm: float
    stem_length_cm: float
    openness: float
    held: float = 1.0

    @property
    def footprint_cm2(self) -> float:
        """Area the piece shows towards the eye: a disc, or a tapering spike."""
        if self.form in _TAPERING:
            return self.width_cm * self.length_cm * _FOOTPRINT_OF_LENGTH
        return math.pi * self.width_cm**2 / 4


def get_openness(material: Material, days: float, opening_at_delivery: float) -> float:
    """How open a bloom is after so many days, 0 tight to 1 open; what opens no further is open."""
    if not material.opens_in_days:
        return 1.0
    return min(1.0, opening_at_delivery + (1 - opening_at_delivery) * days / material.opens_in_days)


def get_growth_cm(material: Material, days: int) -> float:
    """Growth in the vase over so many days, capped (cap: assumption of ours)."""
    return min(material.growth_cm_per_day * days, GROWTH_CAP_CM)


def get_head(material: Material, piece: PieceSize, days: float, opening_at_delivery: float) -> Head:
    """Size of one piece of a material on the day."""
    return get_head_at(material, piece, get_openness(material, days, opening_at_delivery))


def scale_head(head: Head, scale: float) -> Head:
    """A bloom larger or smaller than is usual, on the same stem."""
    if scale == 1.0:
        return head
    return replace(head, width_cm=head.width_cm * scale, length_cm=head.length_cm * scale)


def get_head_at(material: Material, piece: PieceSize, openness: float) -> Head:
    """Size of one piece of a material, so far open (0 tight, 1 open)."""
    width = material.head_tight_cm + (material.head_open_cm - material.head_tight_cm) * openness
    length, stem = material.head_length_cm, material.stem_length_cm
    if material.form is HeadForm.ORCHID:
        length = ORCHID_DEPTH * width  # the length held is the whole spray's; a bloom is shallow
    if piece is PieceSize.LATERAL and material.pieces_per_stem > 1:
        stem *= LATERAL_SHARE
        length *= LATERAL_SHARE if material.is_axial else 1.0
    if piece is PieceSize.STEM and material.pieces_per_stem > 1 and not material.is_axial:
        width *= UNBROKEN_SPREAD * math.sqrt(material.pieces_per_stem)
    return Head(material.form, width, length, stem, openness)
