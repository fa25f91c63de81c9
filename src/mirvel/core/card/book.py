"""The book of a shop's standards: which stands on what page, by price and family, and where each flower is found."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from decimal import Decimal
from itertools import groupby

from mirvel.core.recipe.recipe import Recipe


@dataclass(frozen=True)
class Bound:
    """One standard in the book: the recipe, its number, and its first page."""

    recipe: Recipe
    number: int
    page: int


@dataclass(frozen=True)
class FlowerPages:
    """One flower and the pages of the standards it is in."""

    name: str
    pages: tuple[int, ...]


def order_for_book(recipes: Iterable[Recipe]) -> list[Recipe]:
    """By price, then by family and name, as they are leafed through."""
    return sorted(recipes, key=lambda each: (each.price_point, each.family, each.name))


def get_contents(bound: Sequence[Bound]) -> tuple[tuple[Decimal, tuple[Bound, ...]], ...]:
    """The standards of each price, as they are bound."""
    return tuple((price, tuple(run)) for price, run in groupby(bound, key=lambda each: each.recipe.price_point))


def get_flower_index(bound: Iterable[Bound], get_name: Callable[[str], str]) -> tuple[FlowerPages, ...]:
    """Every flower, green and made thing that is in one of them, by name; what an entry has none of is left out."""
    pages: dict[str, set[int]] = {}
    for each in bound:
        for entry in each.recipe.entries:
            if entry.pieces:
                pages.setdefault(get_name(entry.material), set()).add(each.page)
    return tuple(FlowerPages(name, tuple(sorted(pages[name]))) for name in sorted(pages, key=str.casefold))
