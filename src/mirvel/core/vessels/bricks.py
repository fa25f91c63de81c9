"""How bricks of foam are cut to fill a frame without a gap: slices laid end to end along the centre-line of each arm.

A brick is 23 × 11 × 8 cm, about 2 litres and about 2 kg soaked: common practice, no published source. It is cut in
halves, thirds, quarters, sixths or eighths; of the ways that fill every arm, the one that takes the fewest bricks is
chosen, then the thickest slices, then the fewest.
"""

import math
from dataclasses import dataclass
from fractions import Fraction
from itertools import permutations, product

from mirvel.core.goods.container import Container, ContainerKind, MouthShape

Point = tuple[float, float]
BRICK_CM = (23.0, 11.0, 8.0)
BRICK_ML = BRICK_CM[0] * BRICK_CM[1] * BRICK_CM[2]
USUAL_BAR_CM = 9.0
# A vine wreath's blocks, laid flat: a third of a brick below, a sixth above (common practice, no published source).
LOWER_BLOCK_CM, UPPER_BLOCK_CM = (11.0, 7.67), (7.67, 5.5)
PARTS = (1, 2, 3, 4, 6, 8)
LEAST_THICK_CM = 2.8  # a slice thinner than an eighth of a brick crosswise holds no stem (assumption)
_SHARES = tuple(sorted({Fraction(a, b) for b in PARTS for a in range(1, b + 1)}))
_NAMES = {1: "whole", 2: "half", 3: "third", 4: "quarter", 6: "sixth", 8: "eighth"}


@dataclass(frozen=True)
class Run:
    """One stretch of a frame that is filled: its name, how long and how wide, where its middle line starts and the way
    it goes, as seen from above."""

    name: str
    length_cm: float
    width_cm: float
    start: Point
    way: Point


@dataclass(frozen=True)
class BrickCut:
    """Pieces of one size: so many to a brick, laid so long, wide and thick, how many in each run, and how many bricks
    that takes."""

    parts: int
    size_cm: tuple[float, float, float]
    runs: tuple[tuple[str, int], ...]

    @property
    def name(self) -> str:
        """What one piece is of a brick: "eighth"."""
        return _NAMES[self.parts]

    @property
    def pieces(self) -> int:
        return sum(count for _, count in self.runs)

    @property
    def bricks(self) -> Fraction:
        """How much of a brick, or of several, is cut for it."""
        return Fraction(self.pieces, self.parts)

    @property
    def opened(self) -> int:
        """Whole bricks opened for it."""
        return math.ceil(self.bricks)


def get_block_cm(parts: int, height_of: int) -> tuple[float, float, float]:
    """A block of a brick cut into so many, set in: how wide, how deep and how high it stands. ``height_of`` is which of
    its sides stands up: 0 the longest, 1 the middle one, 2 the shortest of the brick.

    >>> get_block_cm(2, 2), get_block_cm(3, 1)
    ((11.5, 11.0, 8.0), (7.6667, 8.0, 11.0))
    """
    long, across, high = BRICK_CM
    split = {4: (2, 2), 6: (3, 2), 8: (4, 2)}.get(parts, (parts, 1))
    size = (round(long / split[0], 4), across / split[1], high)
    wide, deep = (each for at, each in enumerate(size) if at != height_of)
    return wide, deep, size[height_of]


def get_bricks(volume_ml: float) -> Fraction:
    """The fewest bricks a volume takes, the last one in halves, thirds, quarters, sixths or eighths.

    >>> get_bricks(500.0), get_bricks(2500.0)
    (Fraction(1, 4), Fraction(5, 4))
    """
    whole = int(volume_ml // BRICK_ML)
    rest = volume_ml / BRICK_ML - whole
    return whole + next((share for share in _SHARES if float(share) >= rest - 1e-9), Fraction(1)) * (rest > 1e-9)


def get_runs(container: Container) -> tuple[Run, ...]:
    """The stretches of a frame along its centre-lines; none where it has none or its foam is moulded with it."""
    if container.foam_included:
        return ()
    if container.shape is MouthShape.CROSS:
        bar, span = container.bar_cm or USUAL_BAR_CM, container.mouth_across_cm or container.mouth_cm
        side, top = (span - bar) / 2, container.mouth_cm / 2
        crossing = top - span / 2  # its upper arm is as long as its side arms
        return (
            Run("upright", container.mouth_cm, bar, (0.0, top), (0.0, -1.0)),
            Run("left arm", side, bar, (-bar / 2, crossing), (-1.0, 0.0)),
            Run("right arm", side, bar, (bar / 2, crossing), (1.0, 0.0)),
        )
    if container.kind in {ContainerKind.SPRAY_CAGE, ContainerKind.LID_SADDLE, ContainerKind.HEADSTONE_SADDLE}:
        deep = container.mouth_cm * container.mouth_ratio
        return (Run("block", container.mouth_cm, deep, (-container.mouth_cm / 2, 0.0), (1.0, 0.0)),)
    return ()


def get_brick_cuts(container: Container) -> tuple[BrickCut, ...]:
    """How the bricks for a frame are cut; a vine wreath's two clusters have a third and a sixth."""
    if container.kind is ContainerKind.VINE_WREATH:
        lower = BrickCut(3, (*LOWER_BLOCK_CM, BRICK_CM[2]), (("lower cluster", 1),))
        return lower, BrickCut(6, (*UPPER_BLOCK_CM, BRICK_CM[2]), (("upper cluster", 1),))
    runs = get_runs(container)
    if not runs:
        return ()
    found = [_lay(parts, size, runs) for parts, size in _get_sizes(container.depth_cm)]
    best = min(found, key=lambda cut: (cut.opened, -cut.size_cm[2], cut.pieces, cut.size_cm), default=None)
    return (best,) if best else ()


def get_joints(container: Container) -> tuple[tuple[Point, Point], ...]:
    """Where the pieces of brick in a frame's runs meet, as lines across each run from above."""
    cuts = get_brick_cuts(container)
    found = []
    for run in get_runs(container) if cuts else ():
        along, half = cuts[0].size_cm[0], run.width_cm / 2
        for number in range(1, math.ceil(run.length_cm / along - 1e-9)):
            x, y = (at + number * along * way for at, way in zip(run.start, run.way, strict=True))
            off_x, off_y = -half * run.way[1], half * run.way[0]
            found.append(((x - off_x, y - off_y), (x + off_x, y + off_y)))
    return tuple(found)


def _get_sizes(depth_cm: float) -> list[tuple[int, tuple[float, float, float]]]:
    """Every way to cut a brick and to lay its pieces in a frame so deep: (parts, (along, across, thick))."""
    found = set()
    for cuts in product(PARTS, repeat=3):
        parts = math.prod(cuts)
        if parts not in PARTS:
            continue
        piece = tuple(round(side / cut, 4) for side, cut in zip(BRICK_CM, cuts, strict=True))
        for along, across, thick in permutations(piece):
            if LEAST_THICK_CM <= thick <= depth_cm + 1e-9:
                found.add((parts, (along, across, thick)))
    return sorted(found)


def _lay(parts: int, size: tuple[float, float, float], runs: tuple[Run, ...]) -> BrickCut:
    """Pieces of a size laid in every run, side by side until the run is as wide, end to end until it is as long."""
    along, across, _ = size
    counts = [
        (run.name, math.ceil(run.length_cm / along - 1e-9) * math.ceil(run.width_cm / across - 1e-9)) for run in runs
    ]
    return BrickCut(parts, size, tuple(counts))
