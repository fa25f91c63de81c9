"""A set: recipes of one family that share a palette. What is changed once, a flower or the palette, all follow."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.colours import get_difference
from mirvel.core.goods.facts import PieceSize, Role
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.values.problems import BadInput, Problem

Flower = tuple[str, str]
_KEEPS_ITS_COLOUR = frozenset({Role.GREENERY})


@dataclass(frozen=True)
class Shared:
    """One material and colour of a set: its role, and its pieces in each recipe."""

    flower: Flower
    name: str
    role: Role
    pieces: tuple[int, ...]


def get_shared(recipes: Sequence[Recipe], catalogue: Catalogue) -> tuple[Shared, ...]:
    """Everything the recipes of a set take, in build order, with how much of it each takes."""
    roles: dict[Flower, Role] = {}
    for recipe in recipes:
        for entry in recipe.entries:
            roles.setdefault((entry.material, entry.colour), entry.role)
    ordered = sorted(roles, key=lambda flower: list(Role).index(roles[flower]))
    return tuple(
        Shared(flower, catalogue.get_name(flower[0]), roles[flower], tuple(_count(each, flower) for each in recipes))
        for flower in ordered
    )


def _count(recipe: Recipe, flower: Flower) -> int:
    return sum(entry.pieces for entry in recipe.entries if (entry.material, entry.colour) == flower)


def swap_flower(recipe: Recipe, old: Flower, new: Flower, catalogue: Catalogue) -> Recipe:
    """The recipe with one material and colour in another's place, as many pieces. Raises UnknownGoods, BadInput."""
    material = catalogue.get_material(new[0], new[1], field="the new flower")
    if material.retired:
        raise BadInput(Problem("the new flower", f"{material.name} is retired.", "Choose one the shop still uses."))
    fresh: dict[str, object] = {"material": new[0], "colour": new[1], "pins": (), "alternatives": ()}
    if material.pieces_per_stem == 1:
        fresh["piece"] = PieceSize.STEM  # there is nothing to break down
    entries = [
        {**entry.model_dump(), **fresh} if (entry.material, entry.colour) == old else entry.model_dump()
        for entry in recipe.entries
    ]
    return recipe.change(entries=entries)


def get_palette_colours(
    recipes: Sequence[Recipe], palette: Sequence[str], catalogue: Catalogue
) -> Mapping[Flower, str]:
    """The colour each flower of a set takes in a palette of sRGB colours: they are dealt out over the flowers in turn,
    so that the whole palette shows, and each flower takes the nearest (CIEDE2000) it is to be had in. Greens keep
    theirs."""
    shared = [each for each in get_shared(recipes, catalogue) if each.role not in _KEEPS_ITS_COLOUR]
    found = {}
    for number, each in enumerate(shared):
        good = catalogue.materials.get(each.flower[0]) or catalogue.assemblies.get(each.flower[0])
        colours = good.colours if good else {}
        if colours and palette:
            wanted = palette[number % len(palette)]
            found[each.flower] = min(colours, key=lambda name: (get_difference(colours[name], wanted), name))
    return found


def set_palette(recipe: Recipe, colours: Mapping[Flower, str], palette_name: str) -> Recipe:
    """The recipe with its flowers in other colours; its notes name the palette."""
    entries = [
        {**entry.model_dump(), "colour": colours.get((entry.material, entry.colour), entry.colour)}
        for entry in recipe.entries
    ]
    lines = [line for line in recipe.notes.split("\n") if not line.startswith("Palette:")]
    notes = "\n".join([f"Palette: {palette_name}.", *lines]).strip()
    return recipe.change(entries=entries, notes=notes[:2000])
