"""Everything a recipe may name, by slug."""

from collections.abc import Mapping, Sequence
from decimal import Decimal
from enum import StrEnum
from typing import Any

from pydantic import Field

from mirvel.core.goods.assembly import Assembly
from mirvel.core.goods.container import Container
from mirvel.core.goods.facts import Lengthened
from mirvel.core.goods.hard_good import HardGood
from mirvel.core.goods.material import MOST_LIFE_DAYS, Material, StemKind, StemType, Toxicity
from mirvel.core.values.fact import Fact
from mirvel.core.values.problems import Problem, UnknownGoods

Good = Material | Container | HardGood | Assembly
_COST = Decimal("0.0001")


class GoodsKind(StrEnum):
    """The four kinds of goods, as the catalogue's fields are named."""

    MATERIALS = "materials"
    CONTAINERS = "containers"
    HARD_GOODS = "hard_goods"
    ASSEMBLIES = "assemblies"

    @property
    def words(self) -> str:
        return {"hard_goods": "hard goods", "assemblies": "made ahead"}.get(self.value, self.value)

    @property
    def singular(self) -> str:
        """One of the kind, in words."""
        return {"assemblies": "made-ahead piece"}.get(self.value, self.words.removesuffix("s"))


class Catalogue(Fact):
    """The shop's goods, or the part of them that travels with a recipe."""

    materials: Mapping[str, Material] = Field(default_factory=dict)
    containers: Mapping[str, Container] = Field(default_factory=dict)
    hard_goods: Mapping[str, HardGood] = Field(default_factory=dict)
    assemblies: Mapping[str, Assembly] = Field(default_factory=dict)

    def get_name(self, slug: str) -> str:
        """What a material or assembly is called; its slug where the catalogue lacks it."""
        good = self.materials.get(slug) or self.assemblies.get(slug)
        return good.name if good else slug

    def get_material(self, slug: str, colour: str, *, field: str) -> Material:
        """The material or assembly of a slug that comes in a colour; raises UnknownGoods naming the field."""
        if slug not in self.assemblies:
            return self.get_stem(slug, colour, field=field)
        assembly = self.assemblies[slug]
        if colour not in assembly.colours:
            raise UnknownGoods(_not_in_colour(assembly, colour, field))
        return self.get_assembly_as_material(assembly, colour, field=field)

    def get_stem(self, slug: str, colour: str, *, field: str) -> Material:
        """The material, no assembly, of a slug that comes in a colour; raises UnknownGoods naming the field."""
        if slug not in self.materials:
            raise UnknownGoods(_unknown(field, "material", slug, {**self.materials, **self.assemblies}))
        if colour not in self.materials[slug].colours:
            raise UnknownGoods(_not_in_colour(self.materials[slug], colour, field))
        return self.materials[slug]

    def get_assembly_as_material(self, assembly: Assembly, colour: str, *, field: str) -> Material:
        """An assembly as the piece that is placed and drawn: unbroken, of its own size, at the cost of its parts; it
        drinks as its stems do, lasts as long as the shortest-lived of them, and is as harmful as the worst."""
        parts = [self.get_stem(part.material, part.colour or colour, field=field) for part in assembly.stems]
        stems = sum(
            (part.pieces * each.cost / each.pieces_per_stem for part, each in zip(assembly.stems, parts, strict=True)),
            Decimal(0),
        )
        return Material(
            slug=assembly.slug,
            name=assembly.name,
            form=assembly.form,
            habit=assembly.habit,
            default_role=assembly.default_role,
            head_tight_cm=assembly.width_cm,
            head_open_cm=assembly.width_cm,
            head_length_cm=assembly.length_cm,
            pieces_per_stem=1,
            stem_length_cm=assembly.stem_length_cm,
            stem_diameter_mm=assembly.stem_diameter_mm,
            lengthened=assembly.lengthened,
            own_stem_cm=_get_own_stem_cm(assembly, parts),
            **_get_nature(assembly, parts),
            hazards=tuple(dict.fromkeys(hazard for part in parts for hazard in part.hazards)),
            colours=assembly.colours,
            retired=assembly.retired,
            cost=(stems + self.get_assembly_hard_cost(assembly, field=field)).quantize(_COST),
            provenance=assembly.provenance,
        )

    def get_assembly_hard_cost(self, assembly: Assembly, *, field: str) -> Decimal:
        """What the hard goods of one assembly cost, exact. Raises UnknownGoods."""
        uses = ((use, self.get_hard_good(use.hard_good, field=field)) for use in assembly.hard_goods)
        return sum((use.get_cost(good) for use, good in uses), Decimal(0))

    def find_materials(self, typed: str) -> tuple[Material, ...]:
        """Materials and assemblies on offer whose names, form or role hold every word typed; names that begin so
        first, then those that hold what was typed."""
        typed = typed.lower().strip()
        words = typed.split()
        offered = [each for each in self.materials.values() if not each.retired]
        for assembly in self.assemblies.values():
            if not assembly.retired:
                colour = next(iter(assembly.colours))
                offered.append(self.get_assembly_as_material(assembly, colour, field=assembly.name))
        found = [each for each in offered if all(word in each.described for word in words)]

        def get_order(each: Material) -> tuple[bool, bool, str]:
            name = each.name.lower()
            return not name.startswith(typed), typed not in name, name

        return tuple(sorted(found, key=get_order))

    def get_container(self, slug: str) -> Container:
        """The container of a slug; raises UnknownGoods."""
        if slug not in self.containers:
            raise UnknownGoods(_unknown("container", "container", slug, self.containers))
        return self.containers[slug]

    def get_hard_good(self, slug: str, *, field: str) -> HardGood:
        """The hard good of a slug; raises UnknownGoods naming the field."""
        if slug not in self.hard_goods:
            raise UnknownGoods(_unknown(field, "hard good", slug, self.hard_goods))
        return self.hard_goods[slug]


def _get_own_stem_cm(assembly: Assembly, parts: Sequence[Material]) -> float | None:
    """How long the flower that is bound to a leaf is itself: the shortest of the stems."""
    is_bound = assembly.lengthened is Lengthened.LEAF
    return min((part.stem_length_cm for part in parts), default=None) if is_bound else None


def _get_nature(assembly: Assembly, parts: Sequence[Material]) -> dict[str, Any]:
    """What an assembly has from its stems; one without any (a bow, fruit on a stick) takes no water and lasts as long
    as it keeps."""
    lives = [part.life_min_days for part in parts if not part.is_artificial and part.life_min_days is not None]
    kinds = {part.kind for part in parts}
    return {
        "kind": StemKind.ARTIFICIAL if kinds == {StemKind.ARTIFICIAL} else StemKind.FLOWER,
        "stem_type": next((part.stem_type for part in parts if part.drinks), StemType.NONE),
        "life_min_days": min(lives, default=None if parts else min(MOST_LIFE_DAYS, assembly.shelf_life_hours // 24)),
        "delicate": any(part.delicate for part in parts),
        "scent": max((part.scent for part in parts), default=0),
        "pollen": any(part.pollen for part in parts),
        "toxicity": max((part.toxicity for part in parts), key=list(Toxicity).index, default=Toxicity.NONE),
    }


def _not_in_colour(good: Material | Assembly, colour: str, field: str) -> Problem:
    message = f"{good.name} does not come in “{colour}”."
    return Problem(f"{field}, colour", message, f"Choose {', '.join(good.colours)}.")


def _unknown(field: str, kind: str, slug: str, known: Mapping[str, object]) -> Problem:
    some = ", ".join(sorted(known)[:4]) or "none at all"
    mend = f"Use one the catalogue has ({some} …), or add “{slug}” to it first."
    return Problem(field, f"the {kind} “{slug}” is not in the catalogue.", mend)
