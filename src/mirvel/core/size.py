"""How large the piece is: by rule, as the recipe says, or as its flowers allow.

A height rule names its factor, what it multiplies, and the base it is measured from (table or rim). The width
follows the flowers: the dome is as wide as its blooms fill at the shop's target fullness, within proportions
that still read as the form. Fullness is the sum of head footprints over the dome's area.
"""

from dataclasses import dataclass

from mirvel.core.forms.dome import Dome
from mirvel.core.goods import Container
from mirvel.core.house import HouseRules
from mirvel.core.problems import BadInput, Problem
from mirvel.core.recipe import Density, HeightBase, HeightOf, HeightRule, Recipe, SizeMode

LEAST_ABOVE_RIM_CM = 3.0
_WIDTH_STEP_CM = 0.5


@dataclass(frozen=True)
class Proportions:
    """Limits of radius over height above the rim, the shape kept when size follows fullness, and how densely
    the blooms stand against the shop's target. Assumptions of ours."""

    narrowest: float
    widest: float
    natural: float
    density: float


PROPORTIONS = {
    Density.FULL: Proportions(0.55, 0.95, 1 / 1.15, 1.0),
    Density.COMPACT: Proportions(0.85, 1.6, 1.25, 1.0),
    Density.AIRY: Proportions(0.36, 0.62, 0.5, 0.3),
}


@dataclass(frozen=True)
class Sizing:
    """The size a recipe comes out at, and how full that is (1 = footprints equal the surface)."""

    dome: Dome
    overall_height_cm: float
    fullness: float
    thin_below: float
    crowded_above: float
    ruled_height_cm: float


def get_ruled_height_cm(rule: HeightRule, container: Container) -> float:
    """Overall height, table to tip, that a rule gives with a container."""
    of = container.height_cm
    if rule.of is HeightOf.LARGER_DIMENSION:
        of = max(container.height_cm, container.width_cm)
    return rule.factor * of + (container.height_cm if rule.base is HeightBase.RIM else 0.0)


def get_sizing(recipe: Recipe, container: Container, footprints_cm2: float, rules: HouseRules) -> Sizing:
    """The dome of a recipe whose blooms show ``footprints_cm2`` in all.

    Raises BadInput when the height asked for leaves no room above the rim.
    """
    size, shape = recipe.size, PROPORTIONS[recipe.size.density]
    ruled = get_ruled_height_cm(size.rule, container)
    target = rules.target_fullness * shape.density
    if size.mode is SizeMode.OWN and size.own_height_cm and size.own_width_cm:
        above = _get_room_above(size.own_height_cm, container, "size, own height")
        dome = Dome(above, size.own_width_cm / 2)
    elif size.mode is SizeMode.FROM_FULLNESS:
        most = _get_room_above(ruled, container, "size, rule, factor")
        above = _get_height_from_fullness(footprints_cm2, target, shape, most)
        dome = Dome(above, _get_radius(above, footprints_cm2, target, shape, container))
    else:
        above = _get_room_above(ruled, container, "size, rule, factor")
        dome = Dome(above, _get_radius(above, footprints_cm2, target, shape, container))
    return Sizing(
        dome=dome,
        overall_height_cm=container.height_cm + dome.above_rim_cm,
        fullness=footprints_cm2 / dome.area_cm2,
        thin_below=rules.thin_below * shape.density,
        crowded_above=rules.crowded_above,
        ruled_height_cm=ruled,
    )


def _get_room_above(overall_cm: float, container: Container, field: str) -> float:
    above = overall_cm - container.height_cm
    if above < LEAST_ABOVE_RIM_CM:
        message = f"{overall_cm:.1f} cm over all leaves {above:.1f} cm above a {container.height_cm:g} cm container."
        mend = (
            f"Make it at least {container.height_cm + LEAST_ABOVE_RIM_CM:g} cm over all, or choose a lower container."
        )
        raise BadInput(Problem(field, message, mend))
    return round(above, 6)


def _get_radius(above: float, footprints: float, target: float, shape: Proportions, container: Container) -> float:
    """The radius at which the blooms fill the dome, within the form's proportions and over the rim."""
    low = max(shape.narrowest * above, container.mouth_cm / 2 * 1.1)
    high = max(low, shape.widest * above)

    def is_full(radius: float) -> bool:
        return footprints >= target * Dome(above, radius).area_cm2

    if not is_full(low) or is_full(high):
        radius = high if is_full(high) else low
    else:
        for _ in range(20):
            middle = (low + high) / 2
            low, high = (middle, high) if is_full(middle) else (low, middle)
        radius = low
    return max(_WIDTH_STEP_CM, round(radius / _WIDTH_STEP_CM) * _WIDTH_STEP_CM)


def _get_height_from_fullness(footprints: float, target: float, shape: Proportions, most: float) -> float:
    """The height at which blooms fill a dome of the form's natural shape, not above the rule's."""
    unit_area = Dome(1.0, shape.natural).area_cm2
    height: float = (footprints / (target * unit_area)) ** 0.5
    return min(most, max(LEAST_ABOVE_RIM_CM, round(height / _WIDTH_STEP_CM) * _WIDTH_STEP_CM))
