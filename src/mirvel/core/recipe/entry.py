"""One line of a recipe, the places its pieces keep, and the pins that hold some of them."""

from enum import StrEnum
from typing import Annotated

from pydantic import Field, model_validator

from mirvel.core.goods.facts import PieceSize, Role
from mirvel.core.recipe.fit_wishes import Alternative
from mirvel.core.recipe.meant import NOTHING_MEANT, Meant
from mirvel.core.values.fact import ColourName, Fact, Slug

MAX_PIECES = 300
MOST_PINS = 300
Share = Annotated[float, Field(ge=-1, le=1)]
_BREAKING = frozenset({Role.GREENERY, Role.TEXTURE, Role.FILLER, Role.TRAILING, Role.TOKEN})


class Pin(Fact):
    """Where one piece of an entry is held: the tip of its head or leaf, cm from the centre of the mouth; ``faces`` is
    the way its head looks where it was held as it stood, None where it was moved and looks out of the form there."""

    number: int = Field(ge=1, le=MAX_PIECES)
    x: float = Field(ge=-200, le=200)
    y: float = Field(ge=-200, le=200)
    z: float = Field(ge=-200, le=300)
    faces: tuple[Share, Share, Share] | None = None

    @property
    def across(self) -> "Pin":
        """The same in the piece with left and right exchanged."""
        return self.change(x=-self.x, faces=self.faces and (-self.faces[0], *self.faces[1:]))


class Seat(StrEnum):
    """What gives a kept place its spot: the form's surface, or a place the form has only one of."""

    SURFACE = "surface"
    CROWN = "crown"
    TOKEN = "token"


class KeptPlace(Fact):
    """Where a piece of an entry stands in the form's own coordinates, so that it goes with a change of size: shares
    of half the width (left to right), half the depth (front to back) and the height above the rim, of the form as it is
    built; ``out`` how far out it stands, 1 the outline."""

    number: int = Field(ge=1, le=MAX_PIECES)
    across: float = Field(ge=-9, le=9)
    away: float = Field(ge=-9, le=9)
    up: float = Field(ge=-9, le=9)
    out: float = Field(gt=0, le=3)
    seat: Seat = Seat.SURFACE


class Outline(StrEnum):
    """Whether an entry's pieces keep inside the form's outline or pass it, by a tenth at most, to loosen it."""

    BY_ROLE = "outline by its role"
    BREAKS = "breaks the outline"
    INSIDE = "inside the outline"


class Entry(Fact):
    """One line of the recipe: so many pieces of one material and colour in one role."""

    id: str = Field(min_length=1, max_length=20, pattern=r"^[a-z0-9]+$")
    material: Slug
    colour: ColourName
    role: Role
    pieces: int = Field(ge=0, le=MAX_PIECES)
    piece: PieceSize = PieceSize.STEM
    outline: Outline = Outline.BY_ROLE
    pins: tuple[Pin, ...] = Field(default=(), max_length=MOST_PINS, description="pieces held where they are")
    kept: tuple[KeptPlace, ...] = Field(
        default=(), max_length=MAX_PIECES, description="places its pieces have; without, they are placed from nothing"
    )
    attempt: int = Field(default=0, ge=0, le=999, description="how often it was placed again, another way")
    meant: Meant = Field(default=NOTHING_MEANT, description="what is meant by it, beyond its role")
    least: int | None = Field(default=None, ge=0, le=MAX_PIECES, description="fewest pieces a fit may leave")
    most: int | None = Field(default=None, ge=0, le=MAX_PIECES, description="most pieces a fit may use")
    locked: bool = Field(default=False, description="a fit keeps the pieces as they are")
    alternatives: tuple[Alternative, ...] = Field(default=(), max_length=12, description="what a fit may use instead")

    @model_validator(mode="after")
    def _each_piece_is_pinned_once(self) -> "Entry":
        pins, kept = ([each.number for each in places] for places in (self.pins, self.kept))
        for numbers, how in ((pins, "pin"), (kept, "place")):
            if len(set(numbers)) != len(numbers):
                raise ValueError(f"One piece has two {how}s. Keep one {how} for each piece.")
        if self.least is not None and self.most is not None and self.least > self.most:
            raise ValueError("The fewest pieces are more than the most. Swap the two, or correct one.")
        return self

    @property
    def placed(self) -> int:
        """How many of its pieces go in: all but those held back."""
        return max(0, self.pieces - self.meant.held_back)

    @property
    def may_break_outline(self) -> bool:
        return self.outline is Outline.BREAKS or (self.outline is Outline.BY_ROLE and self.role in _BREAKING)

    def find_pin(self, number: int) -> Pin | None:
        return next((pin for pin in self.pins if pin.number == number), None)

    def find_kept(self, number: int) -> KeptPlace | None:
        return next((kept for kept in self.kept if kept.number == number), None)
