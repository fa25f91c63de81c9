"""How much a piece weighs in the eye."""

from mirvel.core.goods.heads import Head
from mirvel.core.goods.material import Material
from mirvel.core.house.rules import HouseRules


def get_mass_cm2(material: Material, head: Head, rules: HouseRules) -> float:
    """How much a piece weighs in the eye: the area it shows, by the shop's weight for its form."""
    weight = rules.leaf_weight if material.is_leaf else rules.form_weights.get(material.form, 1.0)
    return head.footprint_cm2 * weight
