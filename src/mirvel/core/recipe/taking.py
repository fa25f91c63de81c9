"""What a recipe takes: every good it names, looked up once in a catalogue.

Whoever works on from here asks this value and no catalogue, so that a good is looked up once for a recipe, and named by
its field where it is not there.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from mirvel.core.goods.assembly import Assembly
from mirvel.core.goods.catalogue import Catalogue, Good
from mirvel.core.goods.container import Container
from mirvel.core.goods.facts import PieceSize
from mirvel.core.goods.hard_good import HardGood, HardGoodUse
from mirvel.core.goods.material import Material
from mirvel.core.recipe.entry import Entry
from mirvel.core.recipe.recipe import Recipe

Uses = tuple[tuple[HardGoodUse, HardGood], ...]


@dataclass(frozen=True)
class Part:
    """Stems of one material and colour that one piece of an entry is, or is made of."""

    material: Material
    colour: str
    pieces: int
    piece: PieceSize


@dataclass(frozen=True)
class Taken:
    """A recipe and its goods; by entry id the material as it is placed (an assembly as one), the stems it is of, the
    assembly and its hard goods where it is made ahead. ``alternatives`` are what a fit may use instead."""

    recipe: Recipe
    container: Container
    placed: Mapping[str, Material]
    parts: Mapping[str, tuple[Part, ...]]
    assemblies: Mapping[str, Assembly]
    assembled_uses: Mapping[str, Uses]
    uses: Uses
    ribbon: HardGood | None
    alternatives: tuple[Material, ...]

    @property
    def hard_goods(self) -> tuple[HardGood, ...]:
        """Every hard good once: the recipe's own, then those inside what is made ahead, where any is used."""
        inside = (self.assembled_uses.get(entry.id, ()) for entry in self.recipe.entries if entry.pieces)
        uses = (*self.uses, *(use for each in inside for use in each))
        return tuple({good.slug: good for _, good in uses}.values())

    @property
    def all_goods(self) -> tuple[Good, ...]:
        """Every good once, alternatives too: stems, container, hard goods, what is made ahead."""
        stems = {part.material.slug: part.material for parts in self.parts.values() for part in parts}
        stems |= {each.slug: each for each in self.alternatives if each.slug not in stems}
        inside = (use for uses in self.assembled_uses.values() for use in uses)
        hard = {good.slug: good for _, good in (*self.uses, *inside)}
        hard |= {self.ribbon.slug: self.ribbon} if self.ribbon else {}
        made = {each.slug: each for each in self.assemblies.values()}
        return (*stems.values(), self.container, *hard.values(), *made.values())

    def as_catalogue(self) -> Catalogue:
        """The part of a catalogue that the recipe takes."""
        goods = self.all_goods
        return Catalogue(
            materials={each.slug: each for each in goods if isinstance(each, Material)},
            containers={self.container.slug: self.container},
            hard_goods={each.slug: each for each in goods if isinstance(each, HardGood)},
            assemblies={each.slug: each for each in goods if isinstance(each, Assembly)},
        )


def take(recipe: Recipe, catalogue: Catalogue) -> Taken:
    """Look up everything a recipe takes. Raises UnknownGoods, naming the field."""
    container = catalogue.get_container(recipe.container)
    made = {entry.id: catalogue.assemblies.get(entry.material) for entry in recipe.entries}
    assemblies = {entry_id: assembly for entry_id, assembly in made.items() if assembly}
    fields = {entry.id: recipe.name_entry(entry.id) for entry in recipe.entries}
    service = recipe.brief.service
    slugs = sorted({other.material for entry in recipe.entries for other in entry.alternatives})
    return Taken(
        recipe=recipe,
        container=container,
        placed={
            entry.id: catalogue.get_material(entry.material, entry.colour, field=fields[entry.id])
            for entry in recipe.entries
        },
        parts={
            entry.id: tuple(_get_parts(entry, assemblies.get(entry.id), catalogue, fields[entry.id]))
            for entry in recipe.entries
        },
        assemblies=assemblies,
        assembled_uses={
            entry_id: tuple(
                (use, catalogue.get_hard_good(use.hard_good, field=fields[entry_id])) for use in assembly.hard_goods
            )
            for entry_id, assembly in assemblies.items()
        },
        uses=tuple(
            (use, catalogue.get_hard_good(use.hard_good, field=f"hard good {number}"))
            for number, use in enumerate(recipe.hard_goods, 1)
        ),
        ribbon=catalogue.get_hard_good(service.ribbon, field="ribbon") if service and service.ribbon else None,
        alternatives=tuple(catalogue.materials[slug] for slug in slugs if slug in catalogue.materials),
    )


def _get_parts(entry: Entry, assembly: Assembly | None, catalogue: Catalogue, field: str) -> Iterator[Part]:
    if assembly is None:
        yield Part(catalogue.get_stem(entry.material, entry.colour, field=field), entry.colour, 1, entry.piece)
        return
    for part in assembly.stems:
        colour = part.colour or entry.colour
        yield Part(catalogue.get_stem(part.material, colour, field=field), colour, part.pieces, part.piece)
