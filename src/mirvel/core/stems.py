"""From pieces to stems: what is pulled from the bucket, what it costs, and what is left over.

Stems are pooled over the whole recipe per material and colour, because a side piece of one entry may come
from a stem that another entry has opened.
"""

from dataclasses import dataclass
from decimal import Decimal

from mirvel.core.goods import Catalogue, Material
from mirvel.core.house import PiecePolicy
from mirvel.core.recipe import Entry, PieceSize, Recipe


@dataclass(frozen=True)
class Pull:
    """What one material and colour needs: ``stems`` from the bucket, of which ``left_over`` pieces stay."""

    material: Material
    colour: str
    pieces: int
    stems: int
    left_over: int
    cost: Decimal
    left_over_value: Decimal


def get_piece_units(entry: Entry, material: Material) -> int:
    """How many of a stem's pieces one placed piece takes: all of them for an unbroken stem, else one."""
    return material.pieces_per_stem if entry.piece is PieceSize.STEM else 1


def get_stems(units: int, need_a_stem_each: int, pieces_per_stem: int) -> int:
    """Stems for so many piece units, of which some need a stem of their own.

    >>> get_stems(units=9, need_a_stem_each=2, pieces_per_stem=4)
    3
    """
    return max(-(-units // pieces_per_stem), need_a_stem_each)


def get_pulls(recipe: Recipe, catalogue: Catalogue, policy: PiecePolicy) -> tuple[Pull, ...]:
    """Every material and colour of a recipe, in the order first named, as pulled and charged.

    Policy *whole stems* charges ``stems x cost``; *pieces used* charges ``units x cost / pieces per stem``.
    Raises UnknownGoods.
    """
    pools: dict[tuple[str, str], list[Entry]] = {}
    for entry in recipe.entries:
        pools.setdefault((entry.material, entry.colour), []).append(entry)
    return tuple(_get_pull(entries, recipe, catalogue, policy) for entries in pools.values())


def _get_pull(entries: list[Entry], recipe: Recipe, catalogue: Catalogue, policy: PiecePolicy) -> Pull:
    first = entries[0]
    material = catalogue.get_material(first.material, first.colour, field=recipe.name_entry(first.id))
    per_stem = material.pieces_per_stem
    units = sum(entry.pieces * get_piece_units(entry, material) for entry in entries)
    of_their_own = sum(entry.pieces for entry in entries if entry.piece is not PieceSize.LATERAL)
    stems = get_stems(units, of_their_own, per_stem)
    left_over = stems * per_stem - units
    charged = Decimal(stems * per_stem if policy is PiecePolicy.WHOLE_STEMS else units)
    return Pull(
        material=material,
        colour=first.colour,
        pieces=sum(entry.pieces for entry in entries),
        stems=stems,
        left_over=left_over,
        cost=charged * material.cost / per_stem,
        left_over_value=left_over * material.cost / per_stem,
    )
