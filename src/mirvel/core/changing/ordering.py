"""The order of building by a school: one to begin with, that a designer then changes line by line.

The schools are common practice, no published source.
"""

from collections.abc import Callable, Sequence
from decimal import Decimal
from enum import StrEnum

from mirvel.core.changing.changes import Change
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.facts import PieceSize, Role
from mirvel.core.goods.material import Material
from mirvel.core.house.design import BuildOrder
from mirvel.core.recipe.entry import Entry
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.values.problems import BadInput, Problem


class OrderSchool(StrEnum):
    """Ways of ordering the work."""

    GREENS_FIRST = "greens first"
    FLOWERS_FIRST = "flowers first, greens last"
    LARGEST_FIRST = "largest first, as a grid for the rest"
    CHEAPEST_FIRST = "most and cheapest first, dearest last"
    TOKEN_FIRST = "token first"
    TOKEN_LAST = "token last"
    FILLER_WITH_FOCAL = "filler about the focal"
    FILLER_LAST = "filler at the end"
    DELICATE_LAST = "delicate last"


Line = tuple[Entry, Material]


def order_by_school(recipe: Recipe, catalogue: Catalogue, typed: str) -> Change:
    """The entries in a school's order, as which they are listed from then on; by none, as is usual in the form. The
    pieces stay where they are. Raises BadInput for a school that there is not, UnknownGoods where an entry is of a
    material that the catalogue lacks."""
    if not typed:
        return Change(recipe.change(build_order=BuildOrder.USUAL), "order of building: as usual")
    school = next((each for each in OrderSchool if each.value == typed), None)
    if school is None:
        raise BadInput(Problem("order of building", f"there is none called “{typed[:40]}”.", "Choose one of the list."))
    lines = [
        (entry, catalogue.get_material(entry.material, entry.colour, field=recipe.name_entry(entry.id)))
        for entry in recipe.entries
    ]
    about_focal = school is OrderSchool.FILLER_WITH_FOCAL
    found = _put_behind_focal(lines) if about_focal else sorted(lines, key=_RANKS[school])
    entries = [entry for entry, _ in found]
    return Change(recipe.change(entries=entries, build_order=BuildOrder.AS_LISTED), f"order of building: {school}")


def _put_behind_focal(lines: Sequence[Line]) -> list[Line]:
    """Filler right behind the last focal flower, or at the end where there is none."""
    fillers = [each for each in lines if each[0].role is Role.FILLER]
    rest = [each for each in lines if each[0].role is not Role.FILLER]
    at = max((number for number, each in enumerate(rest, 1) if each[0].role is Role.FOCAL), default=len(rest))
    return [*rest[:at], *fillers, *rest[at:]]


def _get_usual_rank(line: Line) -> int:
    return list(Role).index(line[0].role)


def _get_piece_cost(line: Line) -> Decimal:
    entry, material = line
    return material.cost if entry.piece is PieceSize.STEM else material.cost_per_piece


_RANKS: dict[OrderSchool, Callable[[Line], int | float | tuple[Decimal, int]]] = {
    OrderSchool.GREENS_FIRST: _get_usual_rank,
    OrderSchool.FLOWERS_FIRST: lambda line: line[0].role is Role.GREENERY,
    OrderSchool.LARGEST_FIRST: lambda line: -line[1].head_open_cm,
    OrderSchool.CHEAPEST_FIRST: lambda line: (_get_piece_cost(line), -line[0].pieces),
    OrderSchool.TOKEN_FIRST: lambda line: line[0].role is not Role.TOKEN,
    OrderSchool.TOKEN_LAST: lambda line: line[0].role is Role.TOKEN,
    OrderSchool.FILLER_LAST: lambda line: line[0].role is Role.FILLER,
    OrderSchool.DELICATE_LAST: lambda line: line[1].delicate,
}
