"""What holds the stems, as it is prepared: how much foam and how it is cut, its holes; the tape grid; how many stems
a mouth passes.
"""

import math
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from mirvel.core.goods.container import Container
from mirvel.core.goods.facts import Mechanics
from mirvel.core.making.cuts import Cut
from mirvel.core.placing.entry_points import HOLE_WALL_CM
from mirvel.core.placing.holders import get_block, get_wanted_block
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.space.packing import get_capacity
from mirvel.core.space.segments import get_distances
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.beds import Bed, get_bed, has_bed
from mirvel.core.vessels.bricks import BrickCut, get_brick_cuts, get_bricks
from mirvel.core.vessels.grids import TapeGrid, get_tape_grid
from mirvel.core.vessels.hollows import Hollow, get_inside

SOAKED_G_PER_ML = 1.0
_CENTRE = 0.45  # within this share of the half width, holes are in the centre


@dataclass(frozen=True)
class FoamPlan:
    """One block: how much of a brick it is, its size, its holes by zone, how near the nearest two are, how
    many are too close, how many stems run through another, its soaked weight and, for a frame, how bricks are cut to
    fill it."""

    bricks: Fraction
    top_cm: tuple[float, float]
    foot_cm: tuple[float, float]
    height_cm: float
    holes: tuple[tuple[str, int], ...]
    nearest_cm: float
    too_close: int
    through: int
    volume_ml: float
    soaked_g: float
    cuts: tuple[BrickCut, ...] = ()


@dataclass(frozen=True)
class BasePlan:
    """How a piece's mechanics are prepared; what does not apply is None."""

    foam: FoamPlan | None
    grid: TapeGrid | None
    stems: int
    mouth_passes: int | None


def get_base_plan(recipe: Recipe, container: Container, cuts: tuple[Cut, ...]) -> BasePlan:
    """How the mechanics of a recipe with these cuts are prepared."""
    cuts = tuple(cut for cut in cuts if not cut.place.material.is_laid)
    if has_bed(container):
        stems = cuts
        return BasePlan(_get_bed_plan(container, stems), None, len(stems), None)
    mechanics, stems = recipe.mechanics, tuple(cut for cut in cuts if not cut.place.is_inside)
    if mechanics is Mechanics.FOAM:
        return BasePlan(_get_foam_plan(recipe, container, stems), None, len(stems), None)
    if mechanics in {Mechanics.PIN_HOLDER, Mechanics.TIED}:
        return BasePlan(None, None, len(stems), None)
    grid = get_tape_grid(container) if mechanics is Mechanics.TAPE_GRID else None
    return BasePlan(None, grid, len(stems), find_mouth_capacity(container, stems))


def find_mouth_capacity(container: Container, stems: tuple[Cut, ...]) -> int | None:
    """How many stems as thick as these the mouth (all mouths together) passes; None without stems.

    The mean of the stems' sections gives the thickness; a square or oval mouth counts as the circle of its area.
    """
    widths = [cut.place.material.stem_diameter_mm / 10 for cut in stems]
    if not widths:
        return None
    return count_passing(container, math.sqrt(sum(width * width for width in widths) / len(widths)))


def count_passing(container: Container, stem_cm: float) -> int:
    """How many stems of a thickness the mouth (all mouths together) passes."""
    inside = get_inside(container)
    section = (4.0 if inside.square else math.pi) * inside.ratio * inside.top_half_cm**2
    return get_capacity(2 * math.sqrt(section / math.pi) / stem_cm) * container.vessels


def _get_foam_plan(recipe: Recipe, container: Container, stems: tuple[Cut, ...]) -> FoamPlan:
    foam, block = get_block(recipe, container), get_wanted_block(recipe, container)
    volume = _get_volume_ml(foam)
    top, foot = 2 * foam.top_half_cm, 2 * foam.bottom_half_cm
    nearest, too_close, through = _get_gaps(stems)
    return FoamPlan(
        bricks=Fraction(1, block.part.parts) if block else get_bricks(volume),
        top_cm=(top, top * foam.ratio),
        foot_cm=(foot, foot * foam.ratio),
        height_cm=foam.top_z - foam.bottom_z,
        holes=_count_holes(stems, foam),
        nearest_cm=nearest,
        too_close=too_close,
        through=through,
        volume_ml=volume,
        soaked_g=volume * SOAKED_G_PER_ML,
    )


def _get_bed_plan(container: Container, stems: tuple[Cut, ...]) -> FoamPlan:
    """A frame's foam; one whose stems do not drink stays dry."""
    bed, cuts = get_bed(container), get_brick_cuts(container)
    left, right, front, back = bed.outline.box
    nearest, too_close, through = _get_gaps(stems)
    on_top = sum(cut.place.start.z > bed.top_z - 1e-6 for cut in stems)
    is_dry = bool(stems) and not any(cut.place.material.drinks for cut in stems)
    used, volume = sum((cut.bricks for cut in cuts), Fraction(0)), _get_bed_ml(container, bed, cuts)
    return FoamPlan(
        bricks=used if cuts or container.foam_included else get_bricks(bed.volume_ml),
        top_cm=(right - left, back - front),
        foot_cm=(right - left, back - front),
        height_cm=bed.thickness_cm,
        holes=(("top", on_top), ("sides", len(stems) - on_top)),
        nearest_cm=nearest,
        too_close=too_close,
        through=through,
        volume_ml=volume,
        soaked_g=0.0 if is_dry else volume * SOAKED_G_PER_ML,
        cuts=cuts,
    )


def _get_bed_ml(container: Container, bed: Bed, cuts: tuple[BrickCut, ...]) -> float:
    """What a frame's foam holds: as its maker says, or as much as is laid in it, or its whole bed."""
    if container.foam_included:
        return container.water_ml
    return sum(cut.pieces * math.prod(cut.size_cm) for cut in cuts) or bed.volume_ml


def _get_volume_ml(block: Hollow) -> float:
    """Volume of a frustum, round or cornered."""
    a, b = block.top_half_cm, block.bottom_half_cm
    section = (4.0 if block.square else math.pi) * block.ratio
    return section * (block.top_z - block.bottom_z) / 3 * (a * a + a * b + b * b)


def _count_holes(stems: tuple[Cut, ...], foam: Hollow) -> tuple[tuple[str, int], ...]:
    counts = {"centre": 0, "edge": 0, "sides": 0}
    for place in (cut.place for cut in stems):
        if place.start.z < foam.top_z - 1e-6:
            counts["sides"] += 1
        else:
            share = place.start.reach / foam.get_edge_distance(place.start, foam.top_z)
            counts["centre" if share < _CENTRE else "edge"] += 1
    return tuple(counts.items())


def _get_gaps(stems: tuple[Cut, ...]) -> tuple[float, int, int]:
    """The distance of the nearest two holes, how many holes have less wall beside them than 2 mm, and how many stems
    run through another below theirs."""
    if len(stems) < 2:
        return 0.0, 0, 0
    starts = np.array([cut.place.start for cut in stems])
    # A stem of which nothing goes in still has an end for the reckoning, a hair below its hole.
    ends = np.array([cut.end.plus(Vec(0.0, 0.0, -1e-6)) for cut in stems])
    radii = np.array([cut.place.material.stem_diameter_mm / 20 for cut in stems])
    touching = radii[:, None] + radii[None, :]
    earlier = np.tril(np.ones(touching.shape, dtype=bool), -1)
    apart = np.sqrt(((starts[:, None, :] - starts[None, :, :]) ** 2).sum(axis=2))
    close = earlier & (apart < touching + HOLE_WALL_CM - 1e-6)
    through = earlier & (get_distances(starts, ends, starts, ends) < touching - 1e-5)
    return float(apart[earlier].min()), int(close.any(axis=1).sum()), int(through.any(axis=1).sum())
