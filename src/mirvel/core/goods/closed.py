"""How much of its outline each kind of head or leaf closes: petals end in points, sprays and plumes are mostly air.

All shares are fitted to what is painted of one piece alone on the drawings, seen on its face, from its side and lying;
habits that are not listed close as much as others of their form.
"""

from collections.abc import Mapping

from mirvel.core.goods.facts import HeadForm
from mirvel.core.goods.material import Material

Shares = Mapping[HeadForm, float]
Habits = Mapping[tuple[HeadForm, str], float]

# Of its width, where what is painted is drawn together to a disc (heads) or to a rod along it (the others).
_ACROSS: Shares = {
    HeadForm.ROSETTE: 0.95,
    HeadForm.CUP: 0.98,
    HeadForm.DAISY: 0.95,
    HeadForm.DISC: 0.92,
    HeadForm.TRUMPET: 0.92,
    HeadForm.ORCHID: 0.8,
    HeadForm.GLOBE: 0.95,
    HeadForm.POMPON: 1.0,
    HeadForm.POD: 1.0,
    HeadForm.FRUIT: 1.0,
    HeadForm.UMBEL: 0.79,
    HeadForm.CLUSTER: 0.8,
    HeadForm.SPRAY: 0.7,
    HeadForm.MOSS: 0.7,
    HeadForm.SPIKE: 0.75,
    HeadForm.PLUME: 0.5,
    HeadForm.DRAPE: 0.5,
    HeadForm.BERRY: 0.6,
    HeadForm.BIRD: 0.2,
    HeadForm.TWIG: 0.05,
    HeadForm.FROND: 0.33,
    HeadForm.BROAD_LEAF: 0.4,
    HeadForm.SMALL_LEAF: 0.34,
    HeadForm.STRAP: 0.58,
    HeadForm.BLADE: 1.2,
    HeadForm.BOW: 0.7,
}
_ACROSS_OF: Habits = {
    (HeadForm.DAISY, "spider"): 0.86,
    (HeadForm.TRUMPET, "falls"): 0.8,
    (HeadForm.CLUSTER, "berry"): 0.66,
    (HeadForm.CLUSTER, "cupped"): 0.62,
    (HeadForm.CLUSTER, "misty"): 0.65,
    (HeadForm.UMBEL, "lacy"): 0.61,
    (HeadForm.GLOBE, "spiny"): 0.82,
    (HeadForm.SPIKE, "brush"): 0.5,
    (HeadForm.SPIKE, "funnel"): 0.6,
    (HeadForm.SPIKE, "slender"): 0.55,
    (HeadForm.PLUME, "airy"): 0.22,
    (HeadForm.PLUME, "needled"): 0.31,
    (HeadForm.DRAPE, "vine"): 0.75,
    (HeadForm.BIRD, "cone"): 0.6,
    (HeadForm.FROND, "feathery"): 0.28,
    (HeadForm.BROAD_LEAF, "single"): 0.48,
    (HeadForm.BLADE, "fine"): 2.8,
}
# The leaves of a long branch are smaller than those of one cut short: what they close goes down with the root of length
# over width.
_SHORTENING: Habits = {
    (HeadForm.BROAD_LEAF, "oval"): 0.45,
    (HeadForm.SMALL_LEAF, "oval"): 0.47,
    (HeadForm.SMALL_LEAF, "pointed"): 0.54,
}
# Of length by width, what is painted of a flower seen from its side: a trumpet or an orchid is mostly throat or air.
_FROM_SIDE: Shares = {HeadForm.ROSETTE: 0.97, HeadForm.CUP: 0.67, HeadForm.DAISY: 0.5, HeadForm.DISC: 0.45}
_FROM_SIDE_OF: Habits = {(HeadForm.ROSETTE, "ruffled"): 0.46, (HeadForm.DAISY, "spider"): 0.74}
_USUAL_FROM_SIDE = 0.4


def get_closed_across(material: Material, length_cm: float, width_cm: float) -> float:
    """What share of its width a head, leaf or spike of a size closes."""
    kind = (material.form, material.habit)
    if kind in _SHORTENING:
        return float(min(0.6, _SHORTENING[kind] * (width_cm / length_cm) ** 0.5))
    return _ACROSS_OF.get(kind, _ACROSS[material.form])


def get_closed_from_side(material: Material) -> float:
    """What share of its length by its width a flower that is no ball closes, seen from its side."""
    kind = (material.form, material.habit)
    return _FROM_SIDE_OF.get(kind, _FROM_SIDE.get(material.form, _USUAL_FROM_SIDE))
