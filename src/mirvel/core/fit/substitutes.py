"""Substitutes for an entry: what could stand in for it, nearest first, with the reasons and the count that keeps its
look within the money.

Each likeness is reckoned from 0 (as good) upwards and weighed; the weights are assumptions of ours.
"""

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from decimal import Decimal

from mirvel.core.changing.changes import get_entry
from mirvel.core.fit.mass import get_mass_cm2
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.colours import get_difference
from mirvel.core.goods.facts import Mechanics, PieceSize, Role
from mirvel.core.goods.heads import get_head
from mirvel.core.goods.material import STRONG_SCENT, Fitness, Material, Toxicity
from mirvel.core.house.rules import HouseRules
from mirvel.core.pricing.pricing import Money, get_money
from mirvel.core.recipe.entry import MAX_PIECES, Entry
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take

MOST_SHOWN = 8
_FOAM = {Fitness.GOOD: 0.0, Fitness.FAIR: 0.2, Fitness.POOR: 0.7, Fitness.NO: 2.0}
_FORM, _HABIT, _OTHER_ROLE, _SIZE, _LIFE, _SEASON, _SCENT, _HARM, _STOCK = 0.5, 0.15, 0.3, 0.8, 0.1, 1.0, 0.2, 0.3, 0.6
_STURDY, _STURDY_DAYS = 0.06, 6  # for each day longer, so many days at most, where nobody tops up the water
_COLOUR_FAR = 30.0  # CIEDE2000 units that weigh as much as another role
_HOUSE_CHOICE = -0.3  # what the shop itself names as a substitute


@dataclass(frozen=True)
class Substitute:
    """One stand-in: the count that keeps the look within the money, the recipe with it, and what is like and unlike."""

    material: Material
    colour: str
    pieces: int
    colour_difference: float
    cost_change: Decimal
    reasons: tuple[str, ...]
    recipe: Recipe
    money: Money


@dataclass(frozen=True)
class _Asked:
    """What a substitute is wanted for, and with what it is found."""

    recipe: Recipe
    entry: Entry
    own: Material
    catalogue: Catalogue
    rules: HouseRules
    month: int | None
    stock: Mapping[tuple[str, str], int] | None

    @property
    def room(self) -> int:
        """How many pieces may stand in: what the recipe's other entries leave."""
        return MAX_PIECES - sum(each.pieces for each in self.recipe.entries if each.id != self.entry.id)

    def takes(self, material: Material) -> bool:
        """Whether a material may stand in: still used, not ruled out, in the role, leaf for leaf, fresh for fresh."""
        return not (
            material.slug == self.own.slug
            or material.retired
            or self.recipe.brief.rules_out(material, self.rules)
            or self.entry.role not in material.roles
            or material.is_leaf != self.own.is_leaf
            or material.is_artificial != self.own.is_artificial
        )


@dataclass(frozen=True)
class _Likeness:
    """How near a material comes: its colour, how far off that is, and what is unlike, in words, with its weight."""

    material: Material
    colour: str
    difference: float
    parts: Mapping[str, float]

    @property
    def rank(self) -> tuple[float, str]:
        score = sum(self.parts.values()) + _OTHER_ROLE * self.difference / _COLOUR_FAR
        return round(score, 9), self.material.slug


def find_substitutes(
    recipe: Recipe,
    entry_id: str,
    catalogue: Catalogue,
    rules: HouseRules,
    *,
    month: int | None = None,
    stock: Mapping[tuple[str, str], int] | None = None,
    most: int = MOST_SHOWN,
) -> tuple[Substitute, ...]:
    """What could stand in for an entry, nearest first; ``stock`` is stems by material and colour, where it is known.
    Raises BadInput where there is no such entry, UnknownGoods."""
    entry = get_entry(recipe, entry_id)
    own = catalogue.get_material(entry.material, entry.colour, field=recipe.name_entry(entry_id))
    asked = _Asked(recipe, entry, own, catalogue, rules, month, stock)
    alike = (_get_likeness(material, asked) for material in catalogue.materials.values() if asked.takes(material))
    nearest = sorted(alike, key=lambda each: each.rank)[:most]
    return tuple(_get_substitute(each, asked) for each in nearest)


def _get_likeness(material: Material, asked: _Asked) -> _Likeness:
    colour, difference = _get_nearest_colour(material, asked.own.colours[asked.entry.colour])
    parts = {
        **dict(_compare_looks(asked.own, material, asked.entry.role)),
        **dict(_compare_lasting(asked.own, material, refilled=asked.recipe.brief.refilled)),
        **dict(_compare_use(asked.own, material, asked)),
    }
    if asked.stock is not None and not asked.stock.get((material.slug, colour)):
        parts["none in the cooler"] = _STOCK
    return _Likeness(material, colour, difference, parts)


def _get_nearest_colour(material: Material, wanted: str) -> tuple[str, float]:
    """The colour of a material nearest to a wanted one, and how far off it is."""
    return min(
        ((name, get_difference(wanted, colour)) for name, colour in material.colours.items()), key=lambda each: each[1]
    )


def _compare_looks(own: Material, other: Material, role: Role) -> Iterator[tuple[str, float]]:
    """What looks unlike, in words, and how much it weighs."""
    if other.form is not own.form:
        yield f"{other.form.value} for {own.form.value}", _FORM
    elif other.habit != own.habit:
        yield "another habit", _HABIT
    if other.default_role is not role:
        yield f"usually {other.default_role.value}", _OTHER_ROLE
    ratio = other.head_open_cm / own.head_open_cm
    if abs(math.log(ratio)) > 0.1:
        yield f"{'larger' if ratio > 1 else 'smaller'} heads", _SIZE * abs(math.log(ratio))
    if other.stem_length_cm < 0.8 * own.stem_length_cm:
        yield "shorter stems", _SIZE * (1 - other.stem_length_cm / own.stem_length_cm)


def _compare_lasting(own: Material, other: Material, *, refilled: bool) -> Iterator[tuple[str, float]]:
    """The two lives, where both are known; sturdy ones come first where nobody tops up the water."""
    if own.life_min_days is None or other.life_min_days is None:
        return
    shorter = own.life_min_days - other.life_min_days
    if shorter > 0:
        yield f"lasts {shorter} days less", _LIFE * shorter
    if not refilled and shorter < 0:
        yield f"lasts {-shorter} days longer", -_STURDY * min(-shorter, _STURDY_DAYS)


def _compare_use(own: Material, other: Material, asked: _Asked) -> Iterator[tuple[str, float]]:
    """What is unlike in the hand and for whom it is, and what the shop itself names."""
    if asked.recipe.mechanics is Mechanics.FOAM and other.in_foam is not Fitness.GOOD:
        yield f"{other.in_foam.value} in foam", _FOAM[other.in_foam]
    if asked.month is not None and asked.month not in other.season:
        yield "out of season", _SEASON
    if other.scent >= STRONG_SCENT > own.scent:
        yield "strong scent", _SCENT
    if other.toxicity is not Toxicity.NONE and own.toxicity is Toxicity.NONE:
        yield "harmful to pets", _HARM
    if other.slug in own.substitutes:
        yield "named as a substitute by the shop", _HOUSE_CHOICE


def _get_substitute(like: _Likeness, asked: _Asked) -> Substitute:
    """A likeness with the count that keeps the look, as far as the money and the room in the recipe go."""
    recipe, entry, other = asked.recipe, asked.entry, like.material
    piece = PieceSize.LATERAL if other.pieces_per_stem > 1 else PieceSize.STEM
    day = (asked.rules.get_age(recipe.brief.days_to_viewing), asked.rules.opening_at_delivery)
    before, after = (
        get_mass_cm2(material, get_head(material, size, *day), asked.rules)
        for material, size in ((asked.own, entry.piece), (other, piece))
    )
    pieces = min(asked.room, max(1 if entry.pieces else 0, round(entry.pieces * before / after)))

    def swap(count: int) -> Recipe:
        fresh = {
            **entry.model_dump(),
            "material": other.slug,
            "colour": like.colour,
            "piece": piece,
            "pieces": count,
            "pins": (),
            "alternatives": (),
        }
        return recipe.change(entries=[fresh if each.id == entry.id else each for each in recipe.entries])

    swapped = swap(pieces)
    money = get_money(take(swapped, asked.catalogue), asked.rules)
    while money.room_left < 0 and pieces > 1:  # the money has the last word over the look
        pieces -= 1
        swapped = swap(pieces)
        money = get_money(take(swapped, asked.catalogue), asked.rules)
    off = like.difference
    seen = "no difference to see" if off < 2 else f"colour {off:.0f} off, where 2 is just seen"
    spent = get_money(take(recipe, asked.catalogue), asked.rules).spent
    return Substitute(other, like.colour, pieces, off, money.spent - spent, (seen, *like.parts), swapped, money)
