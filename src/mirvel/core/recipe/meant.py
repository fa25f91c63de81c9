"""What a designer means by an entry: where its pieces go, how high, how they stand to one another and to others.

At most one wish of each kind; what is not said follows the entry's role in the form. How each is met is measured in
``placing/meeting.py``; how it is written short and said in full, in ``recipe/meant_words.py``.
"""

from collections.abc import Collection
from enum import StrEnum
from statistics import median

from pydantic import Field, model_validator

from mirvel.core.forms.parts import Part
from mirvel.core.values.fact import Fact

EntryId = Field(default="", max_length=20, pattern=r"^[a-z0-9]*$")
LARGE_SCALE, SMALL_SCALE = 1.15, 0.85  # of a bloom's usual width, as they come in a bunch; assumptions
_FURTHEST_CM = 200.0


class Band(StrEnum):
    """The bands of a form's height."""

    SKIRT = "skirt"
    LOW = "low"
    MIDDLE = "middle"
    HIGH = "high"
    CROWN = "crown"


class HeightKind(StrEnum):
    """What a height is told by."""

    RIM = "above the rim"
    TABLE = "above the table"
    TIMES = "times the container"
    OVER = "over another"
    STAIR = "stair"
    LEVEL = "one level"
    VARIED = "levels vary"


class Among(StrEnum):
    """Which of another entry's pieces a height is told from."""

    TALLEST = "tallest"
    MIDDLE = "middle"
    LOWEST = "lowest"


class Height(Fact):
    """Where tips end: ``by`` is cm (for a stair its step), or how many times the container's height; under another
    entry it is negative, told from its tallest piece or ``among`` them. Where levels vary, each stands at another than
    the one of its kind beside it."""

    kind: HeightKind
    by: float = Field(default=0.0, ge=-_FURTHEST_CM, le=_FURTHEST_CM)
    entry: str = EntryId
    among: Among = Among.TALLEST

    @model_validator(mode="after")
    def _has_what_it_is_told_by(self) -> "Height":
        if (self.kind is HeightKind.OVER) != bool(self.entry):
            raise ValueError("A height over another entry names that entry, and no other height names one.")
        if self.kind in {HeightKind.STAIR, HeightKind.TIMES} and self.by <= 0:
            raise ValueError("A stair's step and a number of times are more than nothing. Type one such as 5.")
        if self.among is not Among.TALLEST and self.kind is not HeightKind.OVER:
            raise ValueError("Only a height over another entry is told from its lowest or middle. Leave that out.")
        return self

    @property
    def is_over_all(self) -> bool:
        """Whether it lies over every piece of another entry."""
        return self.kind is HeightKind.OVER and self.by > 0 and self.among is Among.TALLEST

    def get_over(self, tops: Collection[float]) -> float:
        """The height over another entry, whose pieces' tops are given, at least one: in the same measure, cm."""
        lowest, tallest = min(tops), max(tops)
        return {Among.TALLEST: tallest, Among.LOWEST: lowest, Among.MIDDLE: median(tops)}[self.among] + self.by


class Spot(StrEnum):
    """Parts of a piece as it is looked down on."""

    FRONT = "front"
    BACK = "back"
    LEFT = "left"
    RIGHT = "right"
    CENTRE = "centre"
    EDGE = "edge"
    ROUND = "clear of the middle"


class Where(Fact):
    """Where about the piece: at a side or in the middle, in a part that its form has a name for, or from one hour
    of the clock on to another; on an arm or an outer third also from so far out of the middle to so far."""

    spot: Spot | None = None
    part: Part | None = None
    cm_from: float | None = Field(default=None, ge=0, le=_FURTHEST_CM)
    cm_to: float | None = Field(default=None, ge=0, le=_FURTHEST_CM)
    hour_from: float | None = Field(default=None, ge=0, le=12)
    hour_to: float | None = Field(default=None, ge=0, le=12)

    @model_validator(mode="after")
    def _is_one_of_the_two(self) -> "Where":
        told = (self.spot is not None) + (self.part is not None) + (self.hour_from is not None)
        if (self.hour_from is None) != (self.hour_to is None) or told != 1:
            raise ValueError("Say either a part of the piece or two hours, from and to.")
        if self.cm_from is None and self.cm_to is None:
            return self
        if not (self.part and self.part.goes_out):
            raise ValueError(
                "Only on an arm or an outer third a distance is told. Type such as left arm from 10 to 20."
            )
        if self.cm_from is None or self.cm_to is None or self.cm_to <= self.cm_from:
            raise ValueError("Say from how far out to how far further, such as left arm from 10 to 20.")
        return self

    def is_of_one_side(self, *, sideways: bool) -> bool:
        """Whether what stands there has no partner there, left and right or front and back."""
        if self.part:
            return self.part.is_of_one_side(sideways=sideways)
        both = {Spot.FRONT, Spot.BACK} if sideways else {Spot.LEFT, Spot.RIGHT}
        return self.spot not in {Spot.CENTRE, Spot.EDGE, Spot.ROUND} | both

    @property
    def across(self) -> "Where":
        """The same with left and right exchanged."""
        spot = {Spot.LEFT: Spot.RIGHT, Spot.RIGHT: Spot.LEFT}.get(self.spot, self.spot) if self.spot else None
        if self.part:
            return self.model_copy(update={"part": self.part.across})
        if self.hour_from is None or self.hour_to is None:
            return Where(spot=spot)
        return Where(hour_from=-self.hour_to % 12, hour_to=-self.hour_from % 12)


class PatternKind(StrEnum):
    """How the pieces of an entry stand to one another, or to another entry."""

    TRIANGLE = "triangle"
    SIDES = "side to side"
    GROUP = "close group"
    RING = "ring round another"
    BESIDE = "beside another"
    ALTERNATING = "alternating with another"
    LINE = "line"
    CURVE = "curve"
    RAYS = "rays"
    FRINGE = "fringe"
    FIVE = "five points"
    SPREAD = "spread singly"
    CARRIED = "carried through"
    LIFTED = "one lifted"
    GATHERED = "gathered about another"
    LINKING = "linking two others"
    SIDEWAYS = "mirrored left and right"
    LENGTHWAYS = "mirrored front and back"
    BOTH_WAYS = "mirrored both ways"


_ABOUT_ANOTHER = frozenset(
    {PatternKind.RING, PatternKind.BESIDE, PatternKind.ALTERNATING, PatternKind.GATHERED, PatternKind.LINKING}
)
_WITH_HOURS = frozenset({PatternKind.LINE, PatternKind.CURVE, PatternKind.RAYS, PatternKind.FRINGE})
_WITH_ENDS = frozenset({PatternKind.LINE, PatternKind.CURVE})


class Pattern(Fact):
    """A pattern, the entry it is about where it is about one (and the other, where it leads on to one), the hours that
    a line, a curve, rays or a fringe go from and to, and how many stand in each close group, 0 for all in one."""

    kind: PatternKind
    entry: str = EntryId
    other: str = EntryId
    hour_from: float | None = Field(default=None, ge=0, le=12)
    hour_to: float | None = Field(default=None, ge=0, le=12)
    count: int = Field(default=0, ge=0, le=99)

    @model_validator(mode="after")
    def _names_what_it_is_about(self) -> "Pattern":
        if (self.kind in _ABOUT_ANOTHER) != bool(self.entry):
            raise ValueError("What is round, beside, about or in turn with another names it; no other pattern does.")
        if (self.kind is PatternKind.LINKING) != bool(self.other) or (self.other and self.other == self.entry):
            raise ValueError("What links two others names them both. Type such as linking 2 and 5.")
        has_hours = self.hour_from is not None
        if has_hours != (self.hour_to is not None):
            raise ValueError("Say from what hour to what other, such as line from 10 to 4.")
        if self.kind in _WITH_ENDS and has_hours and (self.hour_from or 0) % 12 == (self.hour_to or 0) % 12:
            raise ValueError("A line goes from one hour to another. Type two that differ, such as line from 10 to 4.")
        if self.kind is PatternKind.CURVE and not has_hours:
            raise ValueError("Say from what hour to what other it bows, such as curve from 9 to 3.")
        if has_hours and self.kind not in _WITH_HOURS:
            raise ValueError(
                "Only a line, a curve, rays and a fringe go from one hour to another. Leave the hours out."
            )
        if self.count == 1 or (self.count and self.kind is not PatternKind.GROUP):
            raise ValueError("A close group has two or more. Type such as groups of 3.")
        return self

    @property
    def across(self) -> "Pattern":
        """The same with left and right exchanged."""
        if self.hour_from is None or self.hour_to is None:
            return self
        return self.model_copy(update={"hour_from": -self.hour_to % 12, "hour_to": -self.hour_from % 12})


class DepthKind(StrEnum):
    """How far out a piece stands to the outline, or to the greens about it."""

    PROUD = "proud"
    TUCKED = "tucked in"
    CLEAR = "clear of the greens"
    LEVEL = "level with the greens"


class Depth(Fact):
    """So many cm outside the outline or the leaf tips about it, as far out as these, or half a head and more inside the
    outline."""

    kind: DepthKind
    by: float = Field(default=0.0, ge=0, le=12)


class Facing(StrEnum):
    """Which way heads look; by its own curve, up along a stem whose bend has its outside away from the middle."""

    OUT = "out"
    UP = "up"
    VIEWER = "to the viewer"
    CURVE = "by its own curve"


class Grade(StrEnum):
    """Where the larger blooms of an entry go."""

    LOW = "larger low"
    INWARD = "larger inward"
    OUTWARD = "larger outward"


class Sizes(Fact):
    """The blooms of an entry as they come: so many large and so many small among the medium ones, and where the larger
    go."""

    large: int = Field(default=0, ge=0, le=99)
    small: int = Field(default=0, ge=0, le=99)
    grade: Grade | None = None

    @model_validator(mode="after")
    def _has_sizes_to_grade(self) -> "Sizes":
        if not (self.large or self.small):
            raise ValueError("Say how many are large or small, such as 3 large · 2 small · larger low.")
        return self

    def get_scale(self, number: int, count: int) -> float:
        """How large the piece of a number is of so many, as a share of the usual: the large ones come first."""
        if number <= self.large:
            return LARGE_SCALE
        return SMALL_SCALE if number > count - self.small else 1.0


class Meant(Fact):
    """The wishes of an entry; empty, it follows its role."""

    levels: tuple[Band, ...] = Field(default=(), max_length=5)
    height: Height | None = None
    where: Where | None = None
    pattern: Pattern | None = None
    depth: Depth | None = None
    facing: Facing | None = None
    sizes: Sizes | None = None
    must: bool = Field(default=False, description="what is not met stops the piece, and is no mere note")
    held_back: int = Field(default=0, ge=0, le=99, description="pieces paid for, kept in reserve and not placed")

    @property
    def is_said(self) -> bool:
        """Whether anything is wished of its places."""
        return any((self.levels, self.height, self.where, self.pattern, self.depth, self.facing, self.sizes))

    @property
    def named(self) -> tuple[str, ...]:
        """The entries it is told by, each once."""
        told = (
            self.height and self.height.entry,
            self.pattern and self.pattern.entry,
            self.pattern and self.pattern.other,
        )
        return tuple(dict.fromkeys(entry for entry in told if entry))

    @property
    def is_of_all_together(self) -> bool:
        """Whether its pieces are placed as one set, so that one more or fewer places all of them anew."""
        is_run = self.height is not None and self.height.kind in {HeightKind.STAIR, HeightKind.VARIED}
        return self.pattern is not None or is_run or self.sizes is not None

    @property
    def decides_places(self) -> bool:
        """Whether it says where pieces go, and not only how far out and which way they look."""
        return bool(self.levels or self.height or self.where or self.pattern)

    @property
    def is_told_by_greens(self) -> bool:
        """Whether how far out it stands hangs on the greens about it, so that these come first."""
        return self.depth is not None and self.depth.kind in {DepthKind.CLEAR, DepthKind.LEVEL}

    def get_scale(self, number: int, count: int) -> float:
        """How large its piece of a number is of so many, as a share of the usual."""
        return self.sizes.get_scale(number, count) if self.sizes else 1.0

    def may_be_mirrored(self, *, sideways: bool) -> bool:
        """Whether matched pairs, sideways or front to back, can stand as it says: it tells levels, or parts that have
        two sides, and no more."""
        return (
            self.height is None
            and self.pattern is None
            and not (self.where and self.where.is_of_one_side(sideways=sideways))
        )

    @property
    def across(self) -> "Meant":
        """The same with left and right exchanged."""
        return self.model_copy(
            update={"where": self.where and self.where.across, "pattern": self.pattern and self.pattern.across}
        )

    def only(self, part: str) -> "Meant":
        """One of its wishes alone."""
        return NOTHING_MEANT.model_copy(update={part: getattr(self, part)})

    def leave_out(self, parts: Collection[str]) -> "Meant":
        """The same without some of its wishes."""
        return self.model_copy(update={part: getattr(NOTHING_MEANT, part) for part in parts})

    def without(self, entry_id: str) -> "Meant":
        """The same without what names an entry."""
        return self.leave_out([name for name in ("height", "pattern") if entry_id in self.only(name).named])


NOTHING_MEANT = Meant()
