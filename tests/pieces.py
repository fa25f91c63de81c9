"""Pieces on their way to a place, of so wide a head."""

from dataclasses import replace

from mirvel.core.goods.facts import PieceSize, Role
from mirvel.core.goods.heads import get_head
from mirvel.core.placing.pieces import Piece
from mirvel.core.recipe.entry import Entry, Outline
from mirvel.demo import get_catalogue

CATALOGUE = get_catalogue()


def make_piece(
    material: str = "carnation-standard",
    role: Role = Role.MASS,
    wide_cm: float = 6.0,
    reach_cm: float = 90.0,
    outline: Outline = Outline.BY_ROLE,
) -> Piece:
    """One piece of a material, with a head so wide."""
    facts = CATALOGUE.materials[material]
    head = replace(get_head(facts, PieceSize.STEM, 0, 0.5), width_cm=wide_cm)
    entry = Entry(id="e1", material=material, colour=min(facts.colours), role=role, pieces=1, outline=outline)
    return Piece(entry, facts, 1, head, reach_cm, None)
