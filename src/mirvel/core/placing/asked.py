"""What is asked of the places of one entry: its pieces, where their tops are to end, what is about them, and how far
each free site lies outside of the levels and the part of the piece that are meant."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from mirvel.core.forms.surface import Site, Surface
from mirvel.core.forms.wishes import GOLDEN_SHARE, Spread, Wish
from mirvel.core.placing.boards import Board
from mirvel.core.placing.pieces import Piece
from mirvel.core.placing.runs import FIVE_LEVELS
from mirvel.core.placing.windows import get_band_limits, get_outside
from mirvel.core.recipe.meant import Meant, PatternKind
from mirvel.core.space.vectors import Vec

Numbers = NDArray[np.float64]
STAIR_FROM = 0.95  # the first of a stair, as a share of the height, where no crown is its own
BARELY = 0.05  # of the form, that a site outside its band is off at least
_DRAWN_IN = 0.87  # of the way out, that the tip of a wide head may come to stand
_VARIED_SHARE, _VARIED_CM = 0.2, 1.5
OUTSIDE = 60.0  # what a whole share of the form outside of what is meant costs: more than all else is worth


@dataclass(frozen=True)
class Neighbour:
    """A piece of another entry that is placed: the middle of its head (the tip of a spike), its way out and how wide it
    is."""

    point: Vec
    normal: Vec
    width_cm: float
    is_axial: bool


@dataclass(frozen=True)
class Asked:
    """Pieces of one entry that want places by what is meant: each with the wish of its role, the target its top ends at
    (cm above the rim) where one is told, those of the entry that the pattern is about and of the one it leads on to,
    where pieces of its own stand already, and the crown if another has it."""

    meant: Meant
    waiting: Sequence[tuple[Piece, Wish]]
    tops: Sequence[float | None]
    about: Sequence[Neighbour]
    linked: Sequence[Neighbour]
    own: Sequence[Vec]
    board: Board
    surface: Surface
    find_top: Callable[[Piece, Site], float]
    crown: Vec | None  # where another entry has it

    @property
    def is_of_five(self) -> bool:
        """Whether they make the five points of a piece, of which one may stand already."""
        pattern = self.meant.pattern
        is_five = pattern is not None and pattern.kind is PatternKind.FIVE
        return is_five and len(self.own) + len(self.waiting) == len(FIVE_LEVELS)

    @property
    def width_cm(self) -> float:
        return self.waiting[0][0].head.width_cm


def get_first_top(meant: Meant, above_rim_cm: float) -> float:
    """Where the first and highest of a stair ends: at the top of the levels it may take."""
    highest = max((get_band_limits(band)[1] for band in meant.levels), default=STAIR_FROM)
    return min(STAIR_FROM, highest) * above_rim_cm


def get_varied_cm(width_cm: float) -> float:
    """By how much the heights of neighbouring heads so wide differ where levels are to vary: a fifth of a head, or what
    is plainly seen."""
    return min(_VARIED_SHARE * width_cm, _VARIED_CM)


def order_by_naming(named: Mapping[str, Sequence[str]]) -> list[str]:
    """Entries in build order, but that one which others are told by comes before those."""
    found: list[str] = []

    def add(entry: str) -> None:
        for other in named[entry]:
            if other in named and other not in found:
                add(other)
        if entry not in found:
            found.append(entry)

    for entry in named:
        add(entry)
    return found


def get_stair_tops(count: int, step_cm: float, first_cm: float) -> list[float]:
    """The heights of a stair's tops, the first and highest given."""
    return [first_cm - number * step_cm for number in range(count)]


def get_outside_of_sites(meant: Meant, board: Board, surface: Surface) -> Numbers:
    """How far each site of a board is outside of the levels and the part of the piece that are meant; shares of the
    form, (n,)."""
    frame = surface.frame
    points = surface.outline[0][board.at]
    shares = points / [frame.half_width_cm, frame.half_depth_cm, frame.above_rim_cm]
    levels, places = get_outside(meant, shares, surface)
    # barely outside is outside: a card tells the band, and the part of a form, that a head stands in
    has_name = meant.where is not None and meant.where.part is not None
    if has_name and surface.lobes:  # wide heads are drawn in to stay inside the outline
        places = np.maximum(places, get_outside(meant, _DRAWN_IN * shares, surface)[1])
    return levels + places + BARELY * ((levels > 1e-6) | (has_name & (places > 1e-6)))


def get_meant_wish(meant: Meant, number: int, wish: Wish) -> Wish:
    """The wish of the role, but for what is meant: levels are shared out, and a part is taken anywhere in it."""
    if meant.levels:
        low, high = get_band_limits(meant.levels[number % len(meant.levels)])
        share = (0.5 + number // len(meant.levels) * GOLDEN_SHARE) % 1
        wish = replace(wish, level=Spread(max(low, -0.05), min(high, 1.0)).get_level(share), by_area=False)
    return replace(wish, across=None, away=None) if meant.where else wish
