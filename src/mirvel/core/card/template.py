"""What lies under or over the mechanics at its true size: the foam with a hole for every stem, and the mouth with the
strips of its tape grid."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mirvel.core.making.build import Build
from mirvel.core.making.cuts import Cut
from mirvel.core.placing.holders import get_block
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.grids import get_strips
from mirvel.core.vessels.hollows import Hollow, get_inside

Loop = NDArray[np.float64]
_ROUND = 180  # corners of a round outline: off by a hundredth of a millimetre at 15 cm
_AT_SIDE_CM = 0.05  # under the top of the foam, from where on a stem goes in at its side


@dataclass(frozen=True)
class Hole:
    """Where a stem goes in: its entry's number, across and away from the middle, how thick it is, and how far under the
    top where it goes in at the side; all cm."""

    number: int
    x_cm: float
    y_cm: float
    across_cm: float
    under_cm: float | None


@dataclass(frozen=True)
class Template:
    """Loops seen from above, cm, the front towards negative y; the holes in them, or the strips over them."""

    what: str
    how: str
    loops: tuple[Loop, ...]
    holes: tuple[Hole, ...] = ()
    strips: tuple[tuple[Vec, Vec], ...] = ()


def find_template(build: Build) -> Template | None:
    """The template of a piece in foam or in a tape grid; None where it is held otherwise."""
    if build.base.grid is not None:
        inside, container = get_inside(build.container), build.container
        many = f" One for each of {container.vessels}." if container.vessels > 1 else ""
        how = f"Lay it over the mouth, or stand the vessel on it, and tape along the lines.{many}"
        mouth = _get_outline(inside.top_half_cm, inside.ratio, square=inside.square)
        return Template("Tape grid", how, (mouth,), strips=get_strips(container))
    if build.base.foam is None:
        return None
    numbers = {entry.id: number for number, entry in enumerate(build.recipe.entries, 1)}
    stems = [cut for cut in build.cuts if not (cut.place.material.is_laid or cut.place.is_inside)]
    if build.bed is not None:
        loops, top = build.bed.outline.loops, build.bed.top_z
    else:
        block: Hollow = get_block(build.recipe, build.container)
        loops = (_get_outline(block.top_half_cm, block.ratio, square=block.square, middle=block.middle_x),)
        top = block.top_z
    how = (
        "Lay it on the foam, its front to you, and prick each place through the paper; its number is the line of the "
        f"card. One with a length goes in at the side, so many {build.rules.unit.value} under the top edge. Take the "
        "paper off before the stems."
    )
    return Template("Foam", how, loops, holes=tuple(_get_holes(stems, numbers, top)))


def _get_holes(stems: list[Cut], numbers: dict[str, int], top: float) -> Iterator[Hole]:
    for cut in stems:
        start = cut.place.start
        under = top - start.z
        at_side = under if under > _AT_SIDE_CM else None
        yield Hole(numbers[cut.place.entry.id], start.x, start.y, cut.place.material.stem_diameter_mm / 10, at_side)


def _get_outline(half_cm: float, ratio: float, *, square: bool, middle: float = 0.0) -> Loop:
    """A rectangle or an ellipse so wide, its depth by the ratio."""
    deep = half_cm * ratio
    if square:
        corners = [(-half_cm, -deep), (-half_cm, deep), (half_cm, deep), (half_cm, -deep)]
        moved: Loop = np.array(corners) + np.array([middle, 0.0])
        return moved
    turns = np.linspace(0, 2 * np.pi, _ROUND, endpoint=False)
    return np.stack([middle + half_cm * np.sin(turns), deep * np.cos(turns)], axis=1)
