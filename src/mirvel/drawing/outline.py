"""The outer outline of a container, from its rim down: straight, bellied, waisted, necked, footed, or a bowl's curve.

A profile is a run of (half width, z) in cm, z 0 at the rim; whoever draws it decides the scale and the turn.
"""

import math
from collections.abc import Callable
from functools import lru_cache
from itertools import pairwise

from mirvel.core.goods.container import BELLY_POWER, Container, ContainerKind, MouthShape, get_widening

Profile = tuple[tuple[float, float], ...]
_POINTS = 14


@lru_cache(maxsize=512)
def get_profile(container: Container) -> Profile:
    """The outline of one vessel, rim to foot."""
    high = container.rim_height_cm
    rim, foot = container.rim_half_cm, container.vessel_base_cm / 2
    kind = container.kind
    if kind is ContainerKind.COMPOTE:
        return _get_compote(container, rim, foot, high)
    if kind is ContainerKind.URN:
        return _trace(rim, high, ((0.0, 1.0), (0.08, 0.86), (0.3, 1.02), (0.55, 0.8), (0.72, 0.32), (0.8, 0.26)), foot)
    if container.is_necked:
        widest = foot * 1.05
        return _run(high, lambda t: rim + (widest - rim) * get_widening(t) - 0.08 * widest * _ease((t - 0.8) / 0.2))
    if container.belly_cm:
        bulge = container.belly_cm / 2 - (rim + foot) / 2
        return _run(high, lambda t: rim + (foot - rim) * t + bulge * math.sin(math.pi * t) ** BELLY_POWER)
    if kind is ContainerKind.PITCHER:
        return _run(high, lambda t: rim + (foot - rim) * t + 0.16 * rim * math.sin(math.pi * min(1.0, t * 1.1)))
    if kind is ContainerKind.LOW_BOWL and container.shape is MouthShape.ROUND and foot < 0.8 * rim:
        return _run(high, lambda t: foot + (rim - foot) * math.sqrt(max(0.0, 1 - t**2.2)))
    return ((rim, 0.0), (foot, -high))


def _ease(share: float) -> float:
    share = max(0.0, min(1.0, share))
    return share * share * (3 - 2 * share)


def _run(high: float, half: Callable[[float], float]) -> Profile:
    return tuple((half(n / _POINTS), -high * n / _POINTS) for n in range(_POINTS + 1))


def _trace(rim: float, high: float, knots: tuple[tuple[float, float], ...], foot: float) -> Profile:
    """A smooth run by way of knots of (share of the height, share of the rim), to a foot that flares."""
    whole = (*knots, (0.9, max(0.3, 0.7 * foot / rim)), (1.0, foot / rim))

    def half(t: float) -> float:
        for (t1, a), (t2, b) in pairwise(whole):
            if t <= t2:
                return rim * (a + (b - a) * _ease((t - t1) / (t2 - t1)))
        return foot

    return tuple((half(n / 24), -high * n / 24) for n in range(25))


def _get_compote(container: Container, rim: float, foot: float, high: float) -> Profile:
    """A bowl on a stem: the bowl as deep as it is inside, the stem an eighth of the rim, a foot that flares."""
    bowl = (container.depth_cm + 0.6) / high
    stem = max(0.9, 0.13 * rim)

    def half(t: float) -> float:
        if t < bowl:
            return stem + (rim - stem) * math.sqrt(max(0.0, 1 - (t / bowl) ** 2.4))
        return stem + (foot - stem) * _ease((t - bowl) / (1 - bowl)) ** 2

    return tuple((half(n / 28), -high * n / 28) for n in range(29))


def get_half_at(profile: Profile, z: float) -> float:
    """Half the width at a height."""
    for (a, z1), (b, z2) in pairwise(profile):
        if z >= z2:
            return a + (b - a) * (z1 - z) / (z1 - z2)
    return profile[-1][0]


def get_breadth(container: Container, across: float, along: float) -> float:
    """How broad a container looks against its width, from a side whose direction is (across, along) of its plan."""
    ratio = container.mouth_ratio
    if container.is_cornered:
        return abs(across) + ratio * abs(along)
    return math.hypot(across, ratio * along)
