"""A material: a stem as bought, with the facts that judging, conditioning, pricing and drawing need."""

from collections.abc import Mapping
from decimal import Decimal
from enum import StrEnum
from typing import Annotated, Self

from pydantic import Field, model_validator

from mirvel.core.goods.facts import (
    AXIAL_FORMS,
    BALL_FORMS,
    FILLS_NO_FORM,
    LEAF_FORMS,
    PROVENANCE,
    Advice,
    Cost,
    HeadForm,
    Hex,
    Lengthened,
    Role,
)
from mirvel.core.values.fact import KEPT, ColourName, Fact, Name, Note, Short, Slug, Source

Month = Annotated[int, Field(ge=1, le=12)]
Grade = Annotated[int, Field(ge=0, le=3)]
ALL_YEAR = tuple(range(1, 13))
STRONG_SCENT = 2
MOST_LIFE_DAYS = 730


class StemKind(StrEnum):
    """What part of a plant a stem is sold as."""

    FLOWER = "flower"
    FOLIAGE = "foliage"
    BRANCH = "branch"
    GRASS = "grass"
    POD = "pod"
    MOSS = "moss"
    ARTIFICIAL = "artificial"


class StemType(StrEnum):
    """How a stem takes water and a cut; NONE takes no water at all."""

    FIRM = "firm"
    WOODY = "woody"
    SOFT = "soft"
    HOLLOW = "hollow"
    BRITTLE = "brittle"
    WIRY = "wiry"
    NONE = "none"


class Fitness(StrEnum):
    """How well a stem does in floral foam."""

    GOOD = "good"
    FAIR = "fair"
    POOR = "poor"
    NO = "no"


class Toxicity(StrEnum):
    """What eating it does to pets."""

    NONE = "none"
    MILD = "mild"
    SERIOUS = "serious"
    CATS = "serious for cats"


class Material(Fact):
    """A stem as bought: its facts, its colours and what one stem costs landed.

    Diameters and lengths are those of one usual piece as placed (a spray's or branch's lateral counts about
    half the length). ``cost`` is per stem, landed, in force today.
    """

    slug: Slug
    name: Name
    botanical_name: str = Field(default="", max_length=100, pattern=KEPT)
    kind: StemKind = StemKind.FLOWER
    form: HeadForm
    habit: str = Field(default="", max_length=30, pattern=KEPT, description="which drawing of the form, e.g. ruffled")
    default_role: Role
    other_roles: tuple[Role, ...] = ()
    head_tight_cm: float = Field(gt=0, le=60)
    head_open_cm: float = Field(gt=0, le=60)
    head_length_cm: float = Field(
        gt=0, le=120, description="depth of the head along its axis; a leaf's or spike's length"
    )
    heads_min: int | None = Field(default=None, ge=1, le=200, description="heads a stem carries")
    heads_max: int | None = Field(default=None, ge=1, le=200)
    pieces_per_stem: int = Field(ge=1, le=40)
    stem_length_cm: float = Field(gt=0, le=200)
    longest_stem_cm: float | None = Field(default=None, gt=0, le=300, description="what can be had on order")
    stem_diameter_mm: float = Field(gt=0, le=60)
    stem_type: StemType = StemType.FIRM
    lengthened: Lengthened = Field(default=Lengthened.NOT, description="what makes the stem of an assembly longer")
    own_stem_cm: float | None = Field(default=None, gt=0, le=200, description="how long it is without that, to drink")
    growth_cm_per_day: float = Field(default=0, ge=0, le=5)
    opens_in_days: int | None = Field(default=None, ge=0, le=30)
    forced_days: int | None = Field(default=None, ge=0, le=30, description="days it lasts once it is forced open")
    life_min_days: int | None = Field(default=None, ge=0, le=MOST_LIFE_DAYS)
    life_max_days: int | None = Field(default=None, ge=0, le=MOST_LIFE_DAYS)
    condition_hours: int = Field(default=2, ge=0, le=72)
    drinks_ml: float | None = Field(default=None, ge=0, le=1000, description="a day, one piece, as a shop measured it")
    out_of_water_hours: float | None = Field(default=None, ge=0, le=1000)
    in_foam: Fitness = Fitness.GOOD
    delicate: bool = False
    scent: Grade = Field(default=0, description="0 none to 3 strong")
    pollen: bool = False
    ethylene: Grade = Field(default=0, description="how sensitive to ripening gas, 0 not to 3 very")
    toxicity: Toxicity = Toxicity.NONE
    hazards: tuple[Short, ...] = Field(default=(), max_length=20)
    season: tuple[Month, ...] = Field(default=ALL_YEAR, min_length=1, description="months it is to be had")
    bunch_stems: int = Field(default=10, ge=1, le=500)
    markup_class: str = Field(default="standard", max_length=30, pattern=KEPT)
    colours: Mapping[ColourName, Hex] = Field(min_length=1)
    substitutes: tuple[Slug, ...] = Field(default=(), description="by look, not by safety")
    judging: Note = Field(default="", description="how to judge freshness on arrival")
    conditioning: tuple[Advice, ...] = ()
    note: Note = ""
    retired: bool = False
    cost: Cost
    provenance: Source = PROVENANCE

    @model_validator(mode="after")
    def _ranges_are_in_order(self) -> Self:
        if (
            self.life_min_days is not None
            and self.life_max_days is not None
            and self.life_min_days > self.life_max_days
        ):
            raise ValueError("The shortest life is longer than the longest. Swap the two, or correct one.")
        if self.heads_min is not None and self.heads_max is not None and self.heads_min > self.heads_max:
            raise ValueError("The fewest heads are more than the most. Swap the two, or correct one.")
        return self

    @property
    def described(self) -> str:
        """All the words a material is found by, in lower case."""
        words = (self.name, self.botanical_name, self.kind, self.form, self.habit, self.default_role, *self.other_roles)
        return " ".join(words).lower()

    @property
    def roles(self) -> tuple[Role, ...]:
        return (self.default_role, *self.other_roles)

    @property
    def cost_per_piece(self) -> Cost:
        return self.cost / self.pieces_per_stem

    @property
    def safe_with_cats(self) -> bool:
        return self.toxicity is Toxicity.NONE

    @property
    def is_leaf(self) -> bool:
        green = self.kind in {StemKind.FOLIAGE, StemKind.GRASS}
        return self.form in LEAF_FORMS or (green and self.form in {HeadForm.DRAPE, HeadForm.PLUME})

    @property
    def is_bloom(self) -> bool:
        """Whether it fills a form: greens, twigs, moss and bows do not."""
        return not self.is_leaf and self.form not in FILLS_NO_FORM

    @property
    def usual_pack(self) -> Decimal:
        """Stems in a pack as it is usually bought."""
        return Decimal(self.bunch_stems)

    @property
    def is_artificial(self) -> bool:
        return self.kind is StemKind.ARTIFICIAL

    @property
    def drinks(self) -> bool:
        """Whether it takes up water from what holds it; moss, ribbon, fruit, what is artificial and what has a tube of
        its own do not."""
        has_its_own = self.stem_type is StemType.NONE or self.lengthened is Lengthened.TUBE
        return not self.is_artificial and not has_its_own

    def is_over_before(self, days: float) -> bool:
        """Whether its shortest life, where that is known, is less than so many days; what is artificial never is."""
        return not self.is_artificial and self.life_min_days is not None and self.life_min_days < days

    @property
    def is_ball(self) -> bool:
        """Whether the head is alike from every side."""
        return self.form in BALL_FORMS

    @property
    def is_laid(self) -> bool:
        """Whether it is laid on and pinned, as moss is: it has no stem and needs no hole."""
        return self.form is HeadForm.MOSS

    @property
    def stands_whole(self) -> bool:
        """Whether it stands upright in its full length on what holds it, as a candle does in its holder."""
        return self.form is HeadForm.SPIKE and self.habit == "candle"

    @property
    def uncut(self) -> str:
        """What is said instead of a cut where it is not cut to a length."""
        return "laid on" if self.is_laid else "whole" if self.stands_whole else ""

    @property
    def is_axial(self) -> bool:
        """Whether the piece runs along an axis and ends at its place, rather than sitting there as a head."""
        return self.form in AXIAL_FORMS
