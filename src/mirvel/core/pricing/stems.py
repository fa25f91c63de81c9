"""From pieces to stems: what is pulled from the bucket, what it costs, and what is left over.

Stems are pooled over the whole recipe per material and colour, because a side piece of one entry may come
from a stem that another entry, or an assembly, has opened.
"""

from dataclasses import dataclass
from decimal import Decimal

from mirvel.core.goods.facts import PieceSize
from mirvel.core.goods.material import Material
from mirvel.core.house.terms import PiecePolicy
from mirvel.core.recipe.taking import Taken


@dataclass(frozen=True)
class Demand:
    """What one entry asks of one material and colour, as ``pieces`` of a size."""

    entry_id: str
    material: Material
    colour: str
    pieces: int
    piece: PieceSize

    @property
    def units(self) -> int:
        return self.pieces * get_piece_units(self.piece, self.material)


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

    @property
    def charged_stems(self) -> Decimal:
        """Stems the recipe is charged, a fraction where pieces are charged."""
        return self.cost / self.material.cost if self.material.cost else Decimal(self.stems)


@dataclass(frozen=True)
class Assembled:
    """Pieces made ahead for one entry, and what each is made of, in words."""

    name: str
    pieces: int
    shelf_life_hours: int
    parts: str


def get_assembled(taken: Taken) -> tuple[Assembled, ...]:
    """What is made ahead for a recipe, in the order of its entries."""
    found = []
    for entry in taken.recipe.entries:
        assembly = taken.assemblies.get(entry.id)
        if assembly is None:
            continue
        parts = [f"{part.pieces} {part.material.name}" for part in taken.parts[entry.id]]
        parts += [f"{good.name} {use.describe(good)}" for use, good in taken.assembled_uses[entry.id]]
        found.append(Assembled(assembly.name, entry.pieces, assembly.shelf_life_hours, ", ".join(parts)))
    return tuple(found)


def get_piece_units(piece: PieceSize, material: Material) -> int:
    """How many of a stem's pieces one placed piece takes: all of them for an unbroken stem, else one."""
    return material.pieces_per_stem if piece is PieceSize.STEM else 1


def get_stems(units: int, need_a_stem_each: int, pieces_per_stem: int) -> int:
    """Stems for so many piece units, of which some need a stem of their own.

    >>> get_stems(units=9, need_a_stem_each=2, pieces_per_stem=4)
    3
    """
    return max(-(-units // pieces_per_stem), need_a_stem_each)


def get_demands(taken: Taken) -> tuple[Demand, ...]:
    """What the entries ask of stems, assemblies taken apart, in the order of the entries."""
    return tuple(
        Demand(entry.id, part.material, part.colour, entry.pieces * part.pieces, part.piece)
        for entry in taken.recipe.entries
        for part in taken.parts[entry.id]
    )


def get_pulls(demands: tuple[Demand, ...], policy: PiecePolicy) -> tuple[Pull, ...]:
    """Every material and colour asked for, in the order first named, as pulled and charged.

    Policy *whole stems* charges ``stems x cost``; *pieces used* charges ``units x cost / pieces per stem``.
    """
    pools: dict[tuple[str, str], list[Demand]] = {}
    for demand in demands:
        pools.setdefault((demand.material.slug, demand.colour), []).append(demand)
    return tuple(_get_pull(pool, policy) for pool in pools.values())


def _get_pull(pool: list[Demand], policy: PiecePolicy) -> Pull:
    material = pool[0].material
    per_stem = material.pieces_per_stem
    units = sum(demand.units for demand in pool)
    of_their_own = sum(demand.pieces for demand in pool if demand.piece is not PieceSize.LATERAL)
    stems = get_stems(units, of_their_own, per_stem)
    left_over = stems * per_stem - units
    charged = Decimal(stems * per_stem if policy is PiecePolicy.WHOLE_STEMS else units)
    return Pull(
        material=material,
        colour=pool[0].colour,
        pieces=sum(demand.pieces for demand in pool),
        stems=stems,
        left_over=left_over,
        cost=charged * material.cost / per_stem,
        left_over_value=left_over * material.cost / per_stem,
    )
