"""The recipe: one document that is priced, drawn, checked, stored and exported.

One document is one rung: the design at one price point. Rungs of a ladder share ``family``. It refers to
materials by slug; what those are and cost comes from a catalogue beside it (the shop's, or a snapshot).
"""

from decimal import Decimal
from enum import StrEnum
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field, model_validator

from mirvel.core.design import Arranging, HeightRule, Mechanics, SeenFrom
from mirvel.core.fit_wishes import Alternative, Exclusion, FitWishes
from mirvel.core.forms import FORMS
from mirvel.core.goods import Fact, HardGoodUse, Material, PieceSize, Role, Slug
from mirvel.core.goods.facts import KEPT
from mirvel.core.goods.material import STRONG_SCENT, Toxicity
from mirvel.core.house import PiecePolicy, PricingSchool
from mirvel.core.service import Service

MAX_PIECES = 300
MOST_PINS = 300
_COMPACT = {"form": "compact dome", "density": "full"}  # what version 1 files called a compact stand of the dome


def _is_known_form(name: str) -> str:
    if name not in FORMS:
        raise ValueError(f"There is no form “{name}”. Choose one of: {', '.join(FORMS)}.")
    return name


FormName = Annotated[str, AfterValidator(_is_known_form), Field(json_schema_extra={"enum": sorted(FORMS)})]
Price = Annotated[Decimal, Field(gt=0, le=100_000, max_digits=8, decimal_places=2)]


class SizeMode(StrEnum):
    """Where the size of a piece comes from."""

    BY_RULE = "by rule"
    OWN = "own"
    FROM_FULLNESS = "from fullness"


class Density(StrEnum):
    """How close the flowers stand: full, or a few stems with air between."""

    FULL = "full"
    AIRY = "airy"


class Size(Fact):
    """How large the piece is meant to be; own sizes are cm, overall height from the table."""

    mode: SizeMode = SizeMode.BY_RULE
    rule: HeightRule = HeightRule()
    own_height_cm: float | None = Field(default=None, gt=0, le=300)
    own_width_cm: float | None = Field(default=None, gt=0, le=300)
    density: Density = Density.FULL

    @model_validator(mode="after")
    def _own_size_is_given(self) -> "Size":
        if self.mode is SizeMode.OWN and (self.own_height_cm is None or self.own_width_cm is None):
            raise ValueError("Own size needs both a height and a width. Type both in cm.")
        return self


class Brief(Fact):
    """What the piece is for, as far as it changes the making."""

    occasion: str = Field(default="", max_length=120, pattern=KEPT)
    place: str = Field(default="", max_length=120, pattern=KEPT)
    seen_from: SeenFrom = SeenFrom.ALL_ROUND
    across_table: bool = Field(default=False, description="people talk across it, so the sight-line counts")
    days_to_viewing: int = Field(default=0, ge=0, le=14, description="days from making to being looked at")
    lasts_days: int = Field(default=0, ge=0, le=60, description="days it is to look good; 0 where nobody asked")
    refilled: bool = Field(default=True, description="somebody tops up its water")
    exclude: tuple[Exclusion, ...] = Field(default=(), max_length=3, description="what a fit may not bring in")
    service: Service | None = Field(default=None, description="what a family was asked, and the times")

    @property
    def promised_days(self) -> float:
        """How many days its flowers are to last: as asked, and as its service takes."""
        return max(float(self.lasts_days), self.service.lasting_days if self.service else 0.0)

    def rules_out(self, material: Material) -> bool:
        """Whether a material may not be brought in: for its scent, pollen or poison, or because it is over too soon."""
        return (
            (Exclusion.SCENT in self.exclude and material.scent >= STRONG_SCENT)
            or (Exclusion.POLLEN in self.exclude and material.pollen)
            or (Exclusion.PETS in self.exclude and material.toxicity is not Toxicity.NONE)
            or material.is_over_before(self.promised_days)
        )


class Schools(Fact):
    """Where this recipe departs from the house rules; None follows the house."""

    pricing: PricingSchool | None = None
    pieces: PiecePolicy | None = None


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


_BREAKING = frozenset({Role.GREENERY, Role.TEXTURE, Role.FILLER, Role.TRAILING, Role.TOKEN})


class Entry(Fact):
    """One line of the recipe: so many pieces of one material and colour in one role."""

    id: str = Field(min_length=1, max_length=20, pattern=r"^[a-z0-9]+$")
    material: Slug
    colour: str = Field(min_length=1, max_length=40)
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

    def get_pin(self, number: int) -> Pin | None:
        return next((pin for pin in self.pins if pin.number == number), None)


class Recipe(Fact):
    """A recipe at one price point, whole."""

    format: Literal["mirvel recipe"] = "mirvel recipe"
    version: Literal[1] = 1
    name: str = Field(min_length=1, max_length=80, pattern=KEPT)
    family: Slug
    price_point: Price
    form: FormName = "all-round dome"
    arranging: Arranging = Arranging()
    brief: Brief = Brief()
    size: Size = Size()
    container: Slug
    mechanics: Mechanics = Mechanics.TAPE_GRID
    foam_above_rim_cm: float = Field(default=2.5, ge=0, le=15)
    hard_goods: tuple[HardGoodUse, ...] = Field(default=(), max_length=60)
    entries: tuple[Entry, ...] = Field(default=(), max_length=60, description="in build order")
    minutes: Decimal = Field(default=Decimal(15), ge=0, le=600, decimal_places=1)
    schools: Schools = Schools()
    fit: FitWishes = FitWishes()
    notes: str = Field(default="", max_length=2000, pattern=KEPT)

    @model_validator(mode="before")
    @classmethod
    def _read_older_stand(cls, found: Any) -> Any:
        size = found.get("size") if isinstance(found, dict) else None
        if isinstance(size, dict) and size.get("density") == "compact":
            return {**found, "form": _COMPACT["form"], "size": {**size, "density": _COMPACT["density"]}}
        return found

    @model_validator(mode="after")
    def _entries_have_their_own_ids(self) -> "Recipe":
        ids = [entry.id for entry in self.entries]
        if len(set(ids)) != len(ids):
            raise ValueError("Two entries have the same id. Give each entry an id of its own.")
        total = sum(entry.pieces for entry in self.entries)
        if total > MAX_PIECES:
            raise ValueError(f"The recipe has {total} pieces; a piece holds {MAX_PIECES} at most. Take some out.")
        return self

    def name_entry(self, entry_id: str) -> str:
        """An entry as problems name it, by its line: "entry 3"."""
        return f"entry {[entry.id for entry in self.entries].index(entry_id) + 1}"

    def get_entry(self, entry_id: str) -> Entry | None:
        return next((entry for entry in self.entries if entry.id == entry_id), None)
