"""One line of a recipe, and the pins that hold its pieces."""

from enum import StrEnum

from pydantic import Field, model_validator

from mirvel.core.goods.facts import PieceSize, Role
from mirvel.core.recipe.fit_wishes import Alternative
from mirvel.core.values.fact import ColourName, Fact, Slug

MAX_PIECES = 300
MOST_PINS = 300
_BREAKING = frozenset({Role.GREENERY, Role.TEXTURE, Role.FILLER, Role.TRAILING, Role.TOKEN})


class Pin(Fact):
    """Where one piece of an entry is held: the tip of its head or leaf, cm from the centre of the mouth."""

    number: int = Field(ge=1, le=MAX_PIECES)
    x: float = Field(ge=-200, le=200)
    y: float = Field(ge=-200, le=200)
    z: float = Field(ge=-200, le=300)


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
    least: int | None = Field(default=None, ge=0, le=MAX_PIECES, description="fewest pieces a fit may leave")
    most: int | None = Field(default=None, ge=0, le=MAX_PIECES, description="most pieces a fit may use")
    locked: bool = Field(default=False, description="a fit keeps the pieces as they are")
    alternatives: tuple[Alternative, ...] = Field(default=(), max_length=12, description="what a fit may use instead")

    @model_validator(mode="after")
    def _each_piece_is_pinned_once(self) -> "Entry":
        numbers = [pin.number for pin in self.pins]
        if len(set(numbers)) != len(numbers):
            raise ValueError("One piece is pinned twice. Keep one pin for each piece.")
        if self.least is not None and self.most is not None and self.least > self.most:
            raise ValueError("The fewest pieces are more than the most. Swap the two, or correct one.")
        return self

    @property
    def may_break_outline(self) -> bool:
        return self.outline is Outline.BREAKS or (self.outline is Outline.BY_ROLE and self.role in _BREAKING)

    def find_pin(self, number: int) -> Pin | None:
        return next((pin for pin in self.pins if pin.number == number), None)
