"""From pieces to stems: what is pulled from the bucket, what it costs, and what is left over.

Stems are pooled over the whole recipe per material and colour, because a side piece of one entry may come
from a stem that another entry, or an assembly, has opened.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from decimal import Decimal

from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.facts import PieceSize
from mirvel.core.goods.material import Material
from mirvel.core.house.rules import PiecePolicy
from mirvel.core.recipe.entry import Entry
from mirvel.core.recipe.recipe import Recipe


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


def get_assembled(recipe: Recipe, catalogue: Catalogue) -> tuple[Assembled, ...]:
    """What is made ahead for a recipe, in the order of its entries. Raises UnknownGoods."""
    found = []
    for entry in recipe.entries:
        assembly, field = catalogue.assemblies.get(entry.material), recipe.name_entry(entry.id)
        if assembly is None:
            continue
        stems = [
            f"{part.pieces} {catalogue.get_stem(part.material, part.colour or entry.colour, field=field).name}"
            for part in assembly.stems
        ]
        for use in assembly.hard_goods:
            good = catalogue.get_hard_good(use.hard_good, field=field)
            stems.append(f"{good.name} {use.describe(good)}")
        found.append(Assembled(assembly.name, entry.pieces, assembly.shelf_life_hours, ", ".join(stems)))
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


def get_demands(recipe: Recipe, catalogue: Catalogue) -> tuple[Demand, ...]:
    """What the entries ask of stems, assemblies taken apart, in the order of the entries. Raises UnknownGoods."""
    return tuple(demand for entry in recipe.entries for demand in _get_entry_demands(recipe, entry, catalogue))


def _get_entry_demands(recipe: Recipe, entry: Entry, catalogue: Catalogue) -> Iterator[Demand]:
    field = recipe.name_entry(entry.id)
    assembly = catalogue.assemblies.get(entry.material)
    if assembly is None:
        material = catalogue.get_stem(entry.material, entry.colour, field=field)
        yield Demand(entry.id, material, entry.colour, entry.pieces, entry.piece)
        return
    for part in assembly.stems:
        colour = part.colour or entry.colour
        material = catalogue.get_stem(part.material, colour, field=field)
        yield Demand(entry.id, material, colour, entry.pieces * part.pieces, part.piece)


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


def get_used_goods(recipe: Recipe, catalogue: Catalogue) -> Catalogue:
    """The part of a catalogue that a recipe names, the parts of its assemblies and its alternatives too. Raises
    UnknownGoods."""
    assemblies = {
        entry.material: catalogue.assemblies[entry.material]
        for entry in recipe.entries
        if entry.material in catalogue.assemblies
    }
    uses = [(use.hard_good, f"hard good {number}") for number, use in enumerate(recipe.hard_goods, 1)]
    uses += [(use.hard_good, each.name) for each in assemblies.values() for use in each.hard_goods]
    materials = {demand.material.slug: demand.material for demand in get_demands(recipe, catalogue)}
    alternatives = {other.material for entry in recipe.entries for other in entry.alternatives}
    materials |= {slug: catalogue.materials[slug] for slug in sorted(alternatives) if slug in catalogue.materials}
    return Catalogue(
        materials=materials,
        containers={recipe.container: catalogue.get_container(recipe.container)},
        hard_goods={slug: catalogue.get_hard_good(slug, field=field) for slug, field in uses},
        assemblies=assemblies,
    )
