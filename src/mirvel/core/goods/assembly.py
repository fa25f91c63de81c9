"""What is made ahead and used as one entry: bows, rolled leaves, wired or tubed blooms, bundles, fruit on sticks."""

from collections.abc import Mapping
from decimal import Decimal
from typing import Self

from pydantic import Field, model_validator

from mirvel.core.goods.facts import PROVENANCE, HeadForm, Hex, Lengthened, PieceSize, Role
from mirvel.core.goods.hard_good import HardGoodUse
from mirvel.core.values.fact import KEPT, ColourName, Fact, Name, Note, Slug, Source


class StemPart(Fact):
    """Pieces of one material in an assembly; without a colour of its own it comes in the assembly's."""

    material: Slug
    colour: ColourName | None = None
    pieces: int = Field(default=1, ge=1, le=200)
    piece: PieceSize = PieceSize.LATERAL


class Assembly(Fact):
    """A sub-assembly: its parts, the minutes it takes, how long it keeps, and its size as a piece."""

    slug: Slug
    name: Name
    stems: tuple[StemPart, ...] = Field(default=(), max_length=12)
    hard_goods: tuple[HardGoodUse, ...] = Field(default=(), max_length=12)
    minutes: Decimal = Field(default=Decimal(2), ge=0, le=120, decimal_places=1)
    shelf_life_hours: int = Field(default=24, ge=0, le=2000)
    form: HeadForm
    habit: str = Field(default="", max_length=30, pattern=KEPT)
    default_role: Role
    width_cm: float = Field(gt=0, le=60)
    length_cm: float = Field(gt=0, le=120, description="depth of a head; length of a leaf or bundle")
    stem_length_cm: float = Field(gt=0, le=200, description="what it may reach, wire or tube included")
    stem_diameter_mm: float = Field(default=4, gt=0, le=60)
    lengthened: Lengthened = Field(default=Lengthened.NOT, description="what makes its stem longer")
    colours: Mapping[ColourName, Hex] = Field(min_length=1)
    note: Note = ""
    retired: bool = False
    provenance: Source = PROVENANCE

    @model_validator(mode="after")
    def _has_parts(self) -> Self:
        if not self.stems and not self.hard_goods:
            raise ValueError("It has no parts. Add a stem or a hard good.")
        return self
