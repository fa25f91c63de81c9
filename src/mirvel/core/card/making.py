"""The making of a piece step by step: of each step what goes in, numbered through, with its cuts put together so that a
person cuts all of one length at once."""

from collections.abc import Iterable
from dataclasses import dataclass

from mirvel.core.card.steps import Step, get_steps
from mirvel.core.goods.facts import PieceSize
from mirvel.core.making.build import Build
from mirvel.core.making.cuts import Cut
from mirvel.core.recipe.entry import Entry
from mirvel.core.values.units import format_length
from mirvel.core.working import Worked

Key = tuple[str, int]
_ONE_HEIGHT_CM = 0.5
_ROUGHLY_CM = 1.39  # a head whose front could be further off by the words alone has told how high that stands
# How a head faces, by how far its front looks up, 1 straight up: each from and to; and where it is taken to face up, or
# out, unless something else is said; elsewhere it slants.
_WAYS = (
    (-1.0, -0.4, "facing down"),
    (-0.4, -0.05, "nodding"),
    (-0.05, 0.3, "facing out"),
    (0.3, 0.8, "slanting up"),
    (0.8, 1.0, "facing up"),
)
_ON_TOP, _LOW = ("crown", "top", "ridge"), ("skirt", "low", "side", "front", "back")


@dataclass(frozen=True)
class Numbered:
    """One piece of a step under its number there, with its cut and where it goes."""

    number: int
    cut: Cut
    where: str

    @property
    def height_cm(self) -> float:
        """How high the base of its head (the tip of a leaf or spike) stands above the rim or the foam."""
        return self.cut.above_rim_cm

    @property
    def key(self) -> Key:
        return self.cut.place.entry.id, self.cut.place.number


@dataclass(frozen=True)
class OneLength:
    """Pieces of one entry that are cut to one length, cm, or not cut at all, ``uncut`` saying what is done instead; how
    high the base of each then stands above the rim or the foam, and how far below the table's edge it is cut beside its
    vase: from the least to the most, cm."""

    entry: Entry
    name: str
    cut_cm: float
    uncut: str
    pieces: tuple[Numbered, ...]
    above_rim_cm: tuple[float, float]
    below_edge_cm: tuple[float, float]

    @property
    def part(self) -> str:
        """What of a stem each of them is, where they are cut from stems that give several; a whole one goes unsaid."""
        is_whole = self.entry.piece is PieceSize.STEM or self.pieces[0].cut.place.material.pieces_per_stem == 1
        return "" if is_whole else self.entry.piece.value

    @property
    def stands_at_one(self) -> bool:
        """Whether all of them stand as high as a hand can tell apart, so that none needs its own height said."""
        return self.above_rim_cm[1] - self.above_rim_cm[0] < _ONE_HEIGHT_CM


@dataclass(frozen=True)
class Making:
    """One step of making: its words, what is in place before it, and what goes in, by length."""

    step: Step
    before: frozenset[str]
    lengths: tuple[OneLength, ...]

    @property
    def pieces(self) -> tuple[Numbered, ...]:
        return tuple(piece for length in self.lengths for piece in length.pieces)


def get_makings(worked: Worked) -> tuple[Making, ...]:
    """Every step in which something goes in, in the order of building."""
    found: list[Making] = []
    before: frozenset[str] = frozenset()
    for step in get_steps(worked):
        if step.entries:
            found.append(Making(step, before, tuple(_get_lengths(step.entries, worked.build))))
            before |= {entry.id for entry in step.entries}
    return tuple(found)


def _get_lengths(entries: Iterable[Entry], build: Build) -> Iterable[OneLength]:
    """Entry by entry, the longest first; of one length in the order of the clock."""
    number = 0
    for entry in entries:
        cuts = sorted(build.get_entry_cuts(entry.id), key=lambda cut: (-cut.cut_cm, cut.place.clock_hour % 12))
        for length in dict.fromkeys(round(cut.cut_cm, 4) for cut in cuts):
            own = [cut for cut in cuts if round(cut.cut_cm, 4) == length]
            pieces = tuple(Numbered(number + at, cut, _say_where(cut, build)) for at, cut in enumerate(own, 1))
            number += len(own)
            above = [cut.above_rim_cm for cut in own]
            below = [cut.get_below_edge_cm(build.container) for cut in own]
            material = own[0].place.material
            heights = (min(above), max(above)), (min(below), max(below))
            yield OneLength(entry, material.name, length, material.uncut, pieces, *heights)


def _say_where(cut: Cut, build: Build) -> str:
    """Where a piece goes; whether it is a large or a small one of its entry; and, where its head does not face as those
    about it mostly do, which way: on top they face up, low and at the side out, and slant up between. Of one so long
    that this leaves its front in doubt, how high that stands above the rim or the foam."""
    place, where = cut.place, build.say_place(cut.place)
    scale = place.entry.meant.get_scale(place.number, place.entry.placed)
    size = ", large" if scale > 1 else ", small" if scale < 1 else ""
    if place.material.is_axial or place.material.is_laid or place.is_inside:
        return where + size
    low, high, way = next(each for each in _WAYS if place.facing.z < each[1] or each is _WAYS[-1])
    usual = "facing up" if where.endswith(_ON_TOP) else "facing out" if where.endswith(_LOW) else "slanting up"
    told = where + size if way == usual else f"{where}{size}, {way}"
    if place.head.length_cm * (high - low) / 2 < _ROUGHLY_CM:
        return told
    return f"{told}, its front at {format_length(place.tip.z, build.rules.unit, with_unit=False)}"
