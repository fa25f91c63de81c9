"""The basket: a dome under and beside its handle, with room for a hand.

The handle arches from left to right over the middle; no head sits under its crown or within a hand's breadth.
"""

import numpy as np

from mirvel.core.forms.form import Form, Proportions
from mirvel.core.forms.kinds.dome import get_dome_lobe
from mirvel.core.forms.sample_lists import LOW_SAMPLE
from mirvel.core.forms.surface import Frame, Lobe, Mask, Numbers, Site
from mirvel.core.goods.container import Container, ContainerKind, MouthShape
from mirvel.core.goods.facts import Mechanics
from mirvel.core.house.design import HeightOf, HeightRule
from mirvel.core.space.vectors import Vec

HAND_CM = 6.0  # kept free under the handle (assumption)
HANDLE_CLEAR_CM = 2.5


def get_lobes(frame: Frame) -> tuple[Lobe, ...]:
    return (get_dome_lobe(frame, centre=0.18, skirt=-0.12),)


def keep_beside_handle(frame: Frame, points: Numbers) -> Mask:
    high = points[:, 2] > 0.45 * frame.above_rim_cm
    mask: Mask = ~(high & (np.abs(points[:, 1]) < HANDLE_CLEAR_CM))
    return mask


def get_crown(frame: Frame) -> Site:
    """The highest stands in front of the handle, a little to the left."""
    point = Vec(-0.2 * frame.half_width_cm, -0.3 * frame.half_depth_cm, frame.above_rim_cm)
    return Site(point, Vec(-0.15, -0.35, 0.92).unit, 1.0)


def get_most_above(container: Container) -> float:
    """The flowers stay a hand below the top of the handle."""
    return max(4.0, container.height_cm - container.rim_height_cm - HAND_CM)


FORM = Form(
    name="basket",
    about="A low dome in a basket, its handle kept clear for the hand.",
    lobes=get_lobes,
    usual_kind=ContainerKind.BASKET,
    kinds=frozenset({ContainerKind.BASKET}),
    mouths=frozenset({MouthShape.ROUND, MouthShape.OVAL}),
    mechanics=(Mechanics.FOAM,),
    rule=HeightRule(factor=0.72, of=HeightOf.CONTAINER_HEIGHT),
    proportions=Proportions(0.9, 1.6, 1.2, depth=0.85),
    keep=keep_beside_handle,
    crown=get_crown,
    most_above=get_most_above,
    sample=LOW_SAMPLE,
)
