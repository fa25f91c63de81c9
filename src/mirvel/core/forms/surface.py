"""Surfaces that heads sit on: one or more rounded lobes, and the even lattice of sites over them.

A lobe is an ellipsoid, or with a power above 2 a squarer, below 2 a more pointed one: |ρ|^p + |h|^p = 1, where ρ
is the share of the half widths and h that of the half height. Sites lie on a golden-angle lattice spaced evenly
by area; where two lobes meet, what lies inside the other is left out.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from mirvel.core.forms.parts import Part, Parts
from mirvel.core.space.vectors import ORIGIN, Vec
from mirvel.core.vessels.beds import Bed

Numbers = NDArray[np.float64]
Mask = NDArray[np.bool_]
Keep = Callable[["Frame", Numbers], Mask]
GOLDEN_ANGLE = math.pi * (3 - math.sqrt(5))  # 137.508°
SITES = 360
MODEL_STEP_CM = 4.0
_RINGS, _SECTORS = 96, 64
_MEETING = 0.96  # a site inside another lobe by more than this is in the seam, and left out


@dataclass(frozen=True)
class Frame:
    """The box a form is built in: height above the rim, half the width and depth, the mouth it stands over, where
    its vessels stand, how high their rim is above the table, and a frame's bed of foam."""

    above_rim_cm: float
    half_width_cm: float
    half_depth_cm: float
    mouth_half_cm: float
    mouth_half_depth_cm: float
    vessels: tuple[float, ...] = (0.0,)
    rim_height_cm: float = 20.0
    bed: Bed | None = None

    @property
    def model(self) -> "Frame":
        """The frame on which sites are shared out: its width in coarse steps, so that a few more flowers, which
        make the piece a little wider, leave the others at the sites they had."""
        steps = max(1, round(self.half_width_cm / MODEL_STEP_CM))
        width = steps * MODEL_STEP_CM
        depth = width * self.half_depth_cm / self.half_width_cm
        return replace(self, half_width_cm=width, half_depth_cm=depth)

    def get_edge_distance(self, x: float, y: float) -> float:
        """From the axis to the edge of the box's ellipse, in the direction of a point."""
        flat = math.hypot(x, y)
        if flat < 1e-9:
            return self.half_width_cm
        return 1 / math.hypot(x / flat / self.half_width_cm, y / flat / self.half_depth_cm)


@dataclass(frozen=True)
class Site:
    """A free place on the surface: the outermost point, the way out, its height as a share of the form's, the
    middle it is drawn in towards, the zone it belongs to, the vessel below it and how its stem is bowed."""

    point: Vec
    normal: Vec
    level: float
    centre: Vec = ORIGIN
    zone: Part | None = None
    vessel: int = 0
    bow: float = 0.0

    def mirrored(self, mirror: Vec) -> "Site":
        """The site across the middle: left to right, or front to back."""
        point, normal, centre = (each.times(mirror) for each in (self.point, self.normal, self.centre))
        return replace(self, point=point, normal=normal, centre=centre, bow=-self.bow)

    def on_middle(self, mirror: Vec) -> "Site":
        """The site moved on to the line that pairs are mirrored across."""
        point = self.point.plus(self.point.times(mirror)).scaled(0.5)
        return replace(self, point=point, normal=self.normal.plus(self.normal.times(mirror)).unit)


@dataclass(frozen=True)
class Lobe:
    """One rounded body; ``lowest`` is where it is cut off, as a share of its half height (-1 its foot), ``front`` its
    half depth towards the front where that is another than behind (a teardrop's)."""

    centre: Vec
    half: Vec
    lowest: float = -1.0
    power: float = 2.0
    front: float = 0.0

    def get_half_depth(self, y: float) -> float:
        """Half the depth on the side a point lies on."""
        return self.front if self.front and y < self.centre.y else self.half.y

    def _get_half_depths(self, y: Numbers) -> Numbers:
        depths: Numbers = np.where(y < self.centre.y, self.front or self.half.y, self.half.y)
        return depths

    def get_stretch(self, point: Vec) -> float:
        """How far out a point lies: 1 on the surface, less inside."""
        across = math.hypot(
            (point.x - self.centre.x) / self.half.x, (point.y - self.centre.y) / self.get_half_depth(point.y)
        )
        up = abs(point.z - self.centre.z) / self.half.z
        if self.power == 2.0:
            return math.hypot(across, up)
        return float((across**self.power + up**self.power) ** (1 / self.power))

    def get_stretches(self, points: Numbers) -> Numbers:
        """The same for points of shape (n, 3)."""
        deep = self._get_half_depths(points[:, 1])
        across = np.hypot((points[:, 0] - self.centre.x) / self.half.x, (points[:, 1] - self.centre.y) / deep)
        up = np.abs(points[:, 2] - self.centre.z) / self.half.z
        stretch: Numbers = (across**self.power + up**self.power) ** (1 / self.power)
        return stretch

    def get_points(self, tilts: Numbers, turns: Numbers) -> Numbers:
        """Points at tilts from the top and turns about the axis, radians, each of one shape or a row against a column;
        that shape and 3."""
        cos = np.cos(tilts)
        height = np.sign(cos) * np.abs(cos) ** (2 / self.power)
        around = np.abs(np.sin(tilts)) ** (2 / self.power)
        ways = np.cos(turns)
        deep = np.where(ways < 0, self.front or self.half.y, self.half.y)
        across = self.centre.x + self.half.x * around * np.sin(turns)
        points = np.empty((*across.shape, 3))
        points[..., 0] = across
        points[..., 1] = self.centre.y + deep * around * ways
        points[..., 2] = self.centre.z + self.half.z * height
        return points

    def get_normal(self, point: Vec) -> Vec:
        """The outward unit normal at a point on the surface."""
        deep = self.get_half_depth(point.y)
        x, y = (point.x - self.centre.x) / self.half.x, (point.y - self.centre.y) / deep
        z = (point.z - self.centre.z) / self.half.z
        across = max(math.hypot(x, y), 1e-12)
        flat = across ** (self.power - 1) / across
        steep = math.copysign(abs(z) ** (self.power - 1), z)
        return Vec(flat * x / self.half.x, flat * y / deep, steep / self.half.z).unit

    def get_normals(self, points: Numbers) -> Numbers:
        """Outward unit normals at points on the surface, shape (n, 3)."""
        deep = self._get_half_depths(points[:, 1])
        x, y = (points[:, 0] - self.centre.x) / self.half.x, (points[:, 1] - self.centre.y) / deep
        z = (points[:, 2] - self.centre.z) / self.half.z
        across = np.maximum(np.hypot(x, y), 1e-12)
        flat = across ** (self.power - 1)
        steep = np.sign(z) * np.abs(z) ** (self.power - 1)
        found = np.column_stack([flat * x / across / self.half.x, flat * y / across / deep, steep / self.half.z])
        length = np.sqrt((found**2).sum(axis=1))
        normals: Numbers = found / np.maximum(length, 1e-12)[:, None]
        return normals

    @property
    def lowest_tilt(self) -> float:
        """The tilt from the top at which the lobe is cut off, radians."""
        share = max(-1.0, min(1.0, self.lowest))
        return math.acos(math.copysign(abs(share) ** (self.power / 2), share))


@dataclass(frozen=True, eq=False)
class Lattice:
    """All sites of a form in a frame, and what scoring them needs, worked out once: points of shape (n, 3), height
    shares and how far stems have to reach of shape (n,). A listed one's places are a form's own list."""

    frame: Frame
    area_cm2: float
    sites: tuple[Site, ...]
    points: Numbers
    levels: Numbers
    distances: Numbers
    is_listed: bool

    @cached_property
    def normals(self) -> Numbers:
        """The way out at each site, (n, 3)."""
        return np.array([site.normal for site in self.sites])

    @cached_property
    def are_free(self) -> Mask:
        """Which sites belong to no zone of their own."""
        return np.array([not site.zone for site in self.sites], dtype=bool)


def make_lattice(frame: Frame, area_cm2: float, sites: tuple[Site, ...], *, listed: bool) -> Lattice:
    """The sites with their arrays."""
    points = np.array([site.point for site in sites])
    distances = _get_distances(frame, points, [site.vessel for site in sites])
    return Lattice(frame, area_cm2, sites, points, np.array([site.level for site in sites]), distances, listed)


def _get_distances(frame: Frame, points: Numbers, vessels: list[int]) -> Numbers:
    """How far stems have to reach: from the foam, the nearest middle they radiate from, or their vessel's mouth."""
    if frame.bed and not frame.bed.middles:
        beside: Numbers = np.maximum(0.0, -frame.bed.outline.get_depths(points[:, :2]))
        over: Numbers = np.hypot(beside, points[:, 2] - frame.bed.top_z)
        return over
    if frame.bed:
        starts = [points - np.array([x, y, frame.bed.top_z]) for x, y in frame.bed.middles]
    else:
        starts = [points - np.array([(frame.vessels[vessel], 0.0, 0.0) for vessel in vessels])]
    nearest: Numbers = np.min([np.sqrt((off**2).sum(axis=1)) for off in starts], axis=0)
    return nearest


@dataclass(frozen=True, eq=False)
class Surface:
    """A form at one size: its lobes, the area heads cover, the lattice of a like frame its sites come from,
    where it has no lobes, how far out a point lies, and the parts of it that have a name."""

    frame: Frame
    lobes: tuple[Lobe, ...]
    area_cm2: float
    lattice: Lattice
    stretch: Callable[[Vec], float] | None = None
    parts: Parts = field(default_factory=dict)

    @cached_property
    def outline(self) -> tuple[Numbers, Numbers]:
        """All sites as they lie on this surface: their points and normals, (n, 3) both."""
        frame, model = self.frame, self.lattice.frame
        scale = np.array([frame.half_width_cm / model.half_width_cm, frame.half_depth_cm / model.half_depth_cm, 1.0])
        scales = np.where(self.lattice.are_free[:, None], scale, 1.0)  # what has a zone is in its place already
        normals = self.lattice.normals / scales
        return self.lattice.points * scales, normals / np.sqrt((normals**2).sum(axis=1))[:, None]

    def fit(self, site: Site) -> Site:
        """A site of the lattice as it lies on this surface; what stands in a zone of its own is in place already."""
        if site.zone or self.lattice.frame == self.frame:
            return site
        return fit_site(site, self.lattice.frame, self.frame)

    def get_in_lattice(self, point: Vec) -> Vec:
        """A point of this surface's frame in the lattice's."""
        wide = self.lattice.frame.half_width_cm / self.frame.half_width_cm
        deep = self.lattice.frame.half_depth_cm / self.frame.half_depth_cm
        return Vec(point.x * wide, point.y * deep, point.z)

    def get_stretch(self, point: Vec) -> float:
        """How far out a point lies: 1 on the outline, less inside."""
        if not self.lobes and self.stretch:
            return self.stretch(point)
        return min(lobe.get_stretch(point) for lobe in self.lobes)

    def get_lobe(self, point: Vec) -> Lobe:
        """The lobe a point belongs to."""
        return min(self.lobes, key=lambda lobe: lobe.get_stretch(point))


def keep_all(frame: Frame, points: Numbers) -> Mask:
    """No part of the lobes is left out."""
    return np.ones(len(points), dtype=bool)


@lru_cache(maxsize=512)
def _get_patches(lobe: Lobe) -> tuple[Numbers, Numbers]:
    """Middles (n, 3) and areas (n,) of small patches over a lobe, ring by ring from its top.

    Areas are half the cross product of each patch's diagonals.
    """
    tilts = np.linspace(0, lobe.lowest_tilt, _RINGS + 1)
    turns = np.linspace(0, 2 * math.pi, _SECTORS + 1)
    grid = lobe.get_points(tilts[:, None], turns)
    one, two = grid[1:, 1:] - grid[:-1, :-1], grid[1:, :-1] - grid[:-1, 1:]
    (x, y, z), (right, away, up) = np.moveaxis(one, 2, 0), np.moveaxis(two, 2, 0)
    # by the plain rule, as a library's own is much slower
    areas = np.sqrt((y * up - z * away) ** 2 + (z * right - x * up) ** 2 + (x * away - y * right) ** 2) / 2
    # flat sectors cut the corner of a round ring: a chord polygon's perimeter against its circle's
    areas = areas * (math.pi / _SECTORS) / math.sin(math.pi / _SECTORS)
    middles = lobe.get_points((tilts[1:, None] + tilts[:-1, None]) / 2, (turns[1:] + turns[:-1]) / 2)
    return middles.reshape(-1, 3), areas.ravel()


def _get_kept(lobes: tuple[Lobe, ...], at: int, frame: Frame, keep: Keep, points: Numbers) -> Mask:
    mask = keep(frame, points)
    for number, other in enumerate(lobes):
        if number != at:
            mask = mask & (other.get_stretches(points) > _MEETING)
    return mask


def get_area_cm2(lobes: tuple[Lobe, ...], frame: Frame, keep: Keep) -> float:
    """Area of what is kept of the lobes."""
    total = 0.0
    for at, lobe in enumerate(lobes):
        points, areas = _get_patches(lobe)
        if len(lobes) == 1 and keep is keep_all:
            total += float(areas.sum())
        else:
            total += float(areas[_get_kept(lobes, at, frame, keep, points)].sum())
    return total


def _spread_evenly(lobe: Lobe, count: int) -> Numbers:
    """Points of a golden-angle lattice over a lobe, evenly by area, its top first; shape (count, 3)."""
    _, areas = _get_patches(lobe)
    by_ring = np.concatenate([[0.0], areas.reshape(_RINGS, _SECTORS).sum(axis=1).cumsum()])
    tilts = np.linspace(0, lobe.lowest_tilt, _RINGS + 1)
    numbers = np.arange(count)
    # Near the top area grows with the square of the tilt, so the square is what runs straight between two rings.
    tilt = np.sqrt(np.interp(by_ring[-1] * (numbers + 0.5) / count, by_ring, tilts**2))
    by_sector = np.concatenate([[0.0], areas.reshape(_RINGS, _SECTORS).sum(axis=0).cumsum()])
    share = (numbers * GOLDEN_ANGLE / (2 * math.pi)) % 1.0
    turn = np.interp(share * by_sector[-1], by_sector, np.linspace(0, 2 * math.pi, _SECTORS + 1))
    return lobe.get_points(tilt, turn)


def spread_sites(lobes: tuple[Lobe, ...], frame: Frame, keep: Keep) -> tuple[Site, ...]:
    """About 360 sites over what is kept of the lobes."""
    kept = get_area_cm2(lobes, frame, keep)
    sites: list[Site] = []
    for at, lobe in enumerate(lobes):
        count = max(1, round(SITES * float(_get_patches(lobe)[1].sum()) / max(kept, 1e-9)))
        points = _spread_evenly(lobe, min(count, 6 * SITES))
        normals = lobe.get_normals(points)
        mask = _get_kept(lobes, at, frame, keep, points)
        sites += [
            Site(Vec(*point), Vec(*normal), point[2] / frame.above_rim_cm, lobe.centre)
            for point, normal in zip(points[mask].tolist(), normals[mask].tolist(), strict=True)
        ]
    return tuple(sites)


def fit_site(site: Site, model: Frame, frame: Frame) -> Site:
    """A site of the model's frame as it lies in the real one, which is as high but another width."""
    wide, deep = frame.half_width_cm / model.half_width_cm, frame.half_depth_cm / model.half_depth_cm
    point, centre, normal = site.point, site.centre, site.normal
    return Site(
        Vec(point.x * wide, point.y * deep, point.z),
        Vec(normal.x / wide, normal.y / deep, normal.z).unit,
        site.level,
        Vec(centre.x * wide, centre.y * deep, centre.z),
        site.zone,
        site.vessel,
        site.bow,
    )
