"""How much of the tape (or the wire) at a vase's rim is seen from each side."""

import math
from collections.abc import Mapping

import numpy as np

from mirvel.core.goods.container import Container
from mirvel.core.making.shades import Numbers, get_shades, hide
from mirvel.core.placing.places import Place
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.hollows import get_inside

TAPE_CM = 0.5  # as wide as the strip round the rim is drawn
_POINTS = 90
_RISEN_CM = 1.0
_FACING = 0.15  # what faces the eye less than this is looked along


def get_rim_seen(places: tuple[Place, ...], container: Container, sides: Mapping[str, Vec]) -> Mapping[str, float]:
    """The share of the strip round the rims that shows from each side it is seen from, but from above."""
    shades = get_shades([place for place in places if _comes_over(place)])
    found = {}
    for side, towards in sides.items():
        if abs(towards.z) < _FACING:
            points, facing = _spread(container, towards)
            found[side] = float(facing[~hide(shades, points, np.array(towards))].sum() / facing.sum())
    return found


def _comes_over(place: Place) -> bool:
    """Whether a piece can lie before the rim: blades and spikes that rise from within the mouth do not."""
    return not place.is_inside and (not place.material.is_axial or place.tip.z < _RISEN_CM)


def _spread(container: Container, towards: Vec) -> tuple[Numbers, Numbers]:
    """Points along the middle of the strip where it faces an eye, (n, 3), and how much of it the eye sees at each,
    (n). They are looked for at the depth of the mouth's middle: a head that sits on the rim has it inside itself."""
    turns = np.arange(_POINTS) * 2 * math.pi / _POINTS
    ways = np.column_stack([np.sin(turns), np.cos(turns), np.zeros(_POINTS)])
    facing = ways @ np.array(towards)
    ways, facing = ways[facing > _FACING], facing[facing > _FACING]
    found = []
    for vessel in range(container.vessels):
        inside = get_inside(container, vessel)
        out = inside.get_edge_distances(ways[:, :2], 0.0) + inside.wall_cm
        middle = np.array([inside.middle_x, 0.0, -TAPE_CM / 2])
        found.append(middle + out[:, None] * (ways - facing[:, None] * np.array(towards)))
    return np.concatenate(found), np.tile(facing, container.vessels)
