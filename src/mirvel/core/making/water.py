"""Water without refill: what foam or vase holds against what the stems take up, for the days that are promised.

What a piece drinks is what the shop measured of its material; else it is reckoned by the head: so many ml a day for
each cm² it shows and a little for each leafy stem (house rules, whose usual values are assumptions of ours). Foam
gives up most of what it holds; what dries off its covered top is left out. In a vase the surface sinks by what is
taken up and by what evaporates, and the piece is dry as soon as the end of its first stem hangs in air. Artificial
stems, ribbon, fruit and moss drink nothing.
"""

from collections.abc import Iterable
from dataclasses import dataclass

from mirvel.core.goods.container import Container
from mirvel.core.goods.facts import HeadForm, Mechanics
from mirvel.core.goods.heads import Head
from mirvel.core.goods.material import Material
from mirvel.core.house.rules import HouseRules
from mirvel.core.making.cuts import Cut
from mirvel.core.placing.places import Place
from mirvel.core.vessels.hollows import get_fill_depth_cm, get_fill_ml, get_surface_cm2

MOST_BLADE_IN_WATER_CM = 5.0  # that leaves under water rot is common practice, how much is trimmed an assumption


@dataclass(frozen=True)
class Water:
    """What is held for the stems, what they take a day and what evaporates, how many days until the first of them is
    dry (None where nothing drinks), and which that is where it is a vase's."""

    held_ml: float
    a_day_ml: float
    evaporates_ml: float
    days: float | None
    first: Place | None = None


def get_uptake_ml(place: Place, rules: HouseRules) -> float:
    """What one piece takes up in a day."""
    return get_uptake_of(place.material, place.head, rules)


def get_uptake_of(material: Material, head: Head, rules: HouseRules) -> float:
    """The same of a piece of a material with such a head."""
    if not material.drinks:
        return 0.0
    if material.drinks_ml is not None:
        return material.drinks_ml
    return rules.leaf_drinks_ml if material.is_leaf else rules.head_drinks_ml * head.footprint_cm2


def get_foam_held_ml(foam_ml: float, rules: HouseRules) -> float:
    """The water that so much foam has for its stems."""
    return foam_ml * rules.foam_holds * rules.foam_gives


def get_foam_water(cuts: Iterable[Cut], foam_ml: float, rules: HouseRules) -> Water:
    """The water of a piece in so much foam."""
    held, a_day = get_foam_held_ml(foam_ml, rules), sum(get_uptake_ml(cut.place, rules) for cut in cuts)
    return Water(held, a_day, 0.0, held / a_day if a_day else None)


def get_vase_water(cuts: Iterable[Cut], container: Container, rules: HouseRules) -> Water:
    """The water of a piece in a vase, or in several side by side: each its share; the first of all stems counts. What
    is tied in the hand has none of its own."""
    drinking = [cut for cut in cuts if get_uptake_ml(cut.place, rules)]
    evaporates = rules.evaporates_mm / 10 * get_surface_cm2(container)
    vessels = []
    for vessel in sorted({cut.place.vessel for cut in drinking if container.water_ml}):
        within = [cut for cut in drinking if cut.place.vessel == vessel]
        first = max(within, key=lambda cut: (_get_foot_z(cut), cut.place.entry.id, cut.place.number))
        below = get_fill_ml(container, _get_foot_z(first) + container.depth_cm)
        a_day = sum(get_uptake_ml(cut.place, rules) for cut in within) + evaporates
        vessels.append((max(0.0, container.water_ml / container.vessels - below) / a_day, first.place))
    days, driest = min(vessels, key=lambda each: each[0], default=(None, None))
    a_day = sum(get_uptake_ml(cut.place, rules) for cut in drinking)
    return Water(container.water_ml, a_day, evaporates * len(vessels), days, driest)


def _get_foot_z(cut: Cut) -> float:
    """How high what drinks ends: where the cut does or, bound to a longer leaf, where its own stem does."""
    own_cm, inside_cm = cut.place.material.own_stem_cm, cut.inside_cm
    if own_cm is None or not inside_cm:
        return cut.end.z
    return cut.end.z + max(0.0, cut.total_cm - own_cm) * (cut.place.start.z - cut.end.z) / inside_cm


def find_wet_blades(cuts: Iterable[Cut], mechanics: Mechanics, container: Container) -> list[tuple[Cut, float]]:
    """Single leaves, which are not stripped as a twig is, of whose blade more stands below the working fill than is
    trimmed to its rib, and how much, cm; for foam and below a tie all of it is trimmed."""
    if mechanics in {Mechanics.FOAM, Mechanics.TIED}:
        return []
    single = [cut for cut in cuts if _is_single_leaf(cut.place.material) and not cut.place.is_inside]
    wet = [(cut, get_blade_in_water_cm(cut, container)) for cut in single]
    return [(cut, blade_cm) for cut, blade_cm in wet if blade_cm > MOST_BLADE_IN_WATER_CM]


def _is_single_leaf(material: Material) -> bool:
    """Whether it is one fresh leaf with a blade, and no twig."""
    is_round = material.form is HeadForm.BROAD_LEAF and material.habit == "single"
    return (is_round or material.form is HeadForm.STRAP) and material.drinks


def get_clear_tip_cm(head: Head, container: Container) -> float:
    """How high over the rim an upright leaf ends whose blade reaches down to the working fill and no further."""
    return head.length_cm - (container.depth_cm - get_fill_depth_cm(container))


def get_blade_in_water_cm(cut: Cut, container: Container) -> float:
    """How much of a leaf's blade its cut leaves below the working fill of a vessel, cm along the leaf."""
    place, inside_cm = cut.place, cut.inside_cm
    level, drop = get_fill_depth_cm(container) - container.depth_cm, place.start.z - cut.end.z
    wet_cm = inside_cm * min(1.0, max(0.0, level - cut.end.z) / drop) if drop > 0 else 0.0
    blade_cm = min(inside_cm, max(0.0, place.head.length_cm - place.tip.minus(place.start).length))
    return max(0.0, blade_cm - (inside_cm - wet_cm))
