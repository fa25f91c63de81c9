"""The all-round dome: its outline, its surface, and the sites heads can take on it.

The outline is a spheroid about the axis: widest a little above the rim, as high as the height rule says, cut
off where the skirt leans over the rim. Sites lie on a golden-angle lattice spaced evenly by area. Their number
belongs to the form, not to the flowers, so that one more flower moves as few others as can be.
"""

import math
from dataclasses import dataclass
from functools import lru_cache

from mirvel.core.geometry import Vec

GOLDEN_ANGLE = math.pi * (3 - math.sqrt(5))  # 137.508°
SITES = 360
MODEL_STEP_CM = 4.0
CENTRE_SHARE = 0.16  # the widest level, as a share of the height above the rim
SKIRT_SHARE = -0.10  # how far below the rim the lowest heads hang, as a share of the same
_STEPS = 240


@dataclass(frozen=True)
class Site:
    """A free place on the surface: the outermost point, the way out, and its height as a share of the dome's."""

    point: Vec
    normal: Vec
    level: float


@dataclass(frozen=True)
class Dome:
    """A dome ``above_rim_cm`` high and ``radius_cm`` from axis to widest point."""

    above_rim_cm: float
    radius_cm: float

    @property
    def centre(self) -> Vec:
        return Vec(0.0, 0.0, CENTRE_SHARE * self.above_rim_cm)

    @property
    def upright_cm(self) -> float:
        """Vertical half axis of the spheroid."""
        return (1 - CENTRE_SHARE) * self.above_rim_cm

    @property
    def area_cm2(self) -> float:
        """Area from the crown to the skirt's edge."""
        return _get_areas(self.radius_cm, self.upright_cm)[-1]

    @property
    def model(self) -> "Dome":
        """The dome on which sites are shared out: of a radius in coarse steps, so that a few more flowers, which
        make the piece a little wider, leave the others at the sites they had."""
        steps = max(1, round(self.radius_cm / MODEL_STEP_CM))
        return Dome(self.above_rim_cm, steps * MODEL_STEP_CM)

    def get_stretch(self, point: Vec) -> float:
        """How far out a point lies: 1 on the outline, less inside."""
        height = (point.z - self.centre.z) / self.upright_cm
        return math.hypot(point.reach / self.radius_cm, height)

    def get_sites(self) -> tuple[Site, ...]:
        """All sites, crown first."""
        return _get_sites(self.above_rim_cm, self.radius_cm)

    def get_site(self, height: float, turn: float) -> Site:
        """The site at a height along the spheroid's axis (1 top, 0 widest) and a turn in radians."""
        around = math.sqrt(max(0.0, 1 - height * height))
        out = Vec(around * math.sin(turn), around * math.cos(turn), height)
        point = Vec(out.x * self.radius_cm, out.y * self.radius_cm, self.centre.z + height * self.upright_cm)
        normal = Vec(out.x / self.radius_cm, out.y / self.radius_cm, height / self.upright_cm).unit
        return Site(point, normal, point.z / self.above_rim_cm)


LOWEST = (SKIRT_SHARE - CENTRE_SHARE) / (1 - CENTRE_SHARE)


@lru_cache(maxsize=256)
def _get_areas(radius: float, upright: float) -> tuple[float, ...]:
    """Area of the spheroid from the top down to each of the steps, midpoint rule on the exact ring element."""
    step = (1 - LOWEST) / _STEPS
    areas = [0.0]
    for number in range(_STEPS):
        height = 1 - (number + 0.5) * step
        ring = math.sqrt((radius * height) ** 2 + upright**2 * (1 - height * height))
        areas.append(areas[-1] + 2 * math.pi * radius * ring * step)
    return tuple(areas)


@lru_cache(maxsize=64)
def _get_sites(above_rim: float, radius: float) -> tuple[Site, ...]:
    dome = Dome(above_rim, radius)
    areas = _get_areas(radius, dome.upright_cm)
    step = (1 - LOWEST) / _STEPS
    sites, at = [], 0
    for number in range(SITES):
        wanted = areas[-1] * (number + 0.5) / SITES
        while areas[at + 1] < wanted:
            at += 1
        share = (wanted - areas[at]) / (areas[at + 1] - areas[at])
        sites.append(dome.get_site(1 - (at + share) * step, number * GOLDEN_ANGLE))
    return tuple(sites)
