"""The tape grid across a mouth: how many strips each way, how large its cells, how much tape.

"Three strips each way and one round the rim on a wide mouth; one or two each way on a 15 cm cylinder": common
practice, no published source.
"""

import math
from dataclasses import dataclass

from mirvel.core.goods.container import Container
from mirvel.core.space.vectors import Vec

WIDE_MOUTH_CM = 16.0
NARROW_MOUTH_CM = 9.0
OVERLAP_CM = 1.5  # a strip holds on by so much at each end (assumption)


@dataclass(frozen=True)
class TapeGrid:
    """A grid of so many strips each way, its cells and the tape it takes, rim strip included."""

    strips_each_way: int
    cell_cm: float
    cells: int
    tape_cm: float


def get_strip_count(container: Container) -> int:
    """Strips each way: three on a wide mouth, two on a usual one, one on a narrow one."""
    if container.mouth_cm >= WIDE_MOUTH_CM:
        return 3
    return 2 if container.mouth_cm > NARROW_MOUTH_CM else 1


def get_strips(container: Container) -> tuple[tuple[Vec, Vec], ...]:
    """The ends of every strip in the rim plane, evenly across the mouth both ways."""
    half, deep, count = (
        container.mouth_cm / 2,
        container.mouth_cm / 2 * container.mouth_ratio,
        get_strip_count(container),
    )
    strips = []
    for number in range(count):
        share = 2 * (number + 1) / (count + 1) - 1
        reach = 1.0 if container.is_cornered else math.sqrt(1 - share * share)
        strips.append((Vec(share * half, -reach * deep, 0.0), Vec(share * half, reach * deep, 0.0)))
        strips.append((Vec(-reach * half, share * deep, 0.0), Vec(reach * half, share * deep, 0.0)))
    return tuple(strips)


def get_tape_grid(container: Container) -> TapeGrid:
    """The grid of a mouth. Cells at the rim are cut by it; all that hold a stem are counted."""
    strips, count = get_strips(container), get_strip_count(container)
    half, deep = container.mouth_cm / 2, container.mouth_cm / 2 * container.mouth_ratio
    around = 4 * (half + deep)
    if not container.is_cornered:  # Ramanujan (1914), the first of his two formulas for an ellipse's perimeter
        around = math.pi * (3 * (half + deep) - math.sqrt((3 * half + deep) * (half + 3 * deep)))
    across = sum(end.minus(start).length + 2 * OVERLAP_CM for start, end in strips)
    return TapeGrid(count, container.mouth_cm / (count + 1), (count + 1) ** 2, across + around)
