"""What a shop buys: stems, containers, hard goods, and the catalogue that holds them.

Facts are frozen values checked when made. A catalogue is what a recipe's names are looked up in, whether it
comes from the shop's database or from the dated snapshot inside an exported recipe.
"""

from collections.abc import Mapping
from decimal import Decimal
from enum import StrEnum
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from mirvel.core.problems import Problem, UnknownGoods

Cost = Annotated[Decimal, Field(ge=0, le=100_000, max_digits=10, decimal_places=4)]
Slug = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[a-z0-9][a-z0-9-]*$")]
Hex = Annotated[str, Field(pattern=r"^#[0-9a-f]{6}$")]


class Fact(BaseModel):
    """A frozen value that refuses what it does not know."""

    model_config = ConfigDict(frozen=True, extra="forbid")


class HeadForm(StrEnum):
    """The shape of a head or leaf, which decides how it fills space and how it is drawn."""

    ROSETTE = "rosette"
    DAISY = "daisy"
    GLOBE = "globe"
    SPIKE = "spike"
    CLUSTER = "cluster"
    FROND = "frond"
    BROAD_LEAF = "broadleaf"
    SMALL_LEAF = "smallleaf"
    STRAP = "strap"


class Role(StrEnum):
    """The part an entry plays in a piece."""

    GREENERY = "greenery"
    LINE = "line"
    FOCAL = "focal"
    MASS = "mass"
    FILLER = "filler"
    TEXTURE = "texture"


AXIAL_FORMS = frozenset({HeadForm.SPIKE, HeadForm.FROND, HeadForm.BROAD_LEAF, HeadForm.SMALL_LEAF, HeadForm.STRAP})
BALL_FORMS = frozenset({HeadForm.GLOBE, HeadForm.CLUSTER})
LEAF_FORMS = AXIAL_FORMS - {HeadForm.SPIKE}


class Material(Fact):
    """A stem as bought: its facts, its colours and what one stem costs landed.

    Diameters and lengths are those of one usual piece as placed (a spray's or branch's lateral counts about
    half the length). ``cost`` is per stem.
    """

    slug: Slug
    name: str = Field(min_length=1, max_length=80)
    botanical_name: str = ""
    form: HeadForm
    habit: str = Field(default="", max_length=30, description="which drawing of the form, e.g. ruffled")
    default_role: Role
    head_tight_cm: float = Field(gt=0, le=60)
    head_open_cm: float = Field(gt=0, le=60)
    head_length_cm: float = Field(
        gt=0, le=120, description="depth of the head along its axis; a leaf's or spike's length"
    )
    pieces_per_stem: int = Field(ge=1, le=40)
    stem_length_cm: float = Field(gt=0, le=200)
    stem_diameter_mm: float = Field(gt=0, le=60)
    growth_cm_per_day: float = Field(default=0, ge=0, le=5)
    opens_in_days: int | None = Field(default=None, ge=0, le=30)
    delicate: bool = False
    markup_class: str = Field(default="standard", max_length=30)
    hazards: tuple[str, ...] = ()
    colours: Mapping[str, Hex] = Field(min_length=1)
    cost: Cost
    provenance: str = Field(default="from memory and common practice; a default", max_length=200)

    @property
    def described(self) -> str:
        """All the words a material is found by, in lower case."""
        return f"{self.name} {self.botanical_name} {self.form} {self.default_role}".lower()

    @property
    def is_leaf(self) -> bool:
        return self.form in LEAF_FORMS

    @property
    def is_ball(self) -> bool:
        """Whether the head is alike from every side."""
        return self.form in BALL_FORMS

    @property
    def is_axial(self) -> bool:
        """Whether the piece runs along an axis and ends at its place, rather than sitting there as a head."""
        return self.form in AXIAL_FORMS


class Container(Fact):
    """A vase or bowl of straight walls between its mouth and its foot, all inner sizes in cm.

    Belly and neck widths are not held; a bellied bowl is taken at its mouth, and the drawing says so.
    """

    slug: Slug
    name: str = Field(min_length=1, max_length=80)
    shape: Literal["round", "cylinder", "cube", "taper"]
    mouth_cm: float = Field(gt=0, le=100, description="inner width of the mouth")
    base_cm: float = Field(gt=0, le=100, description="outer width of the foot")
    depth_cm: float = Field(gt=0, le=150, description="inside depth below the rim")
    height_cm: float = Field(gt=0, le=150, description="outside height")
    water_ml: float = Field(gt=0, le=100_000, description="working fill")
    clear: bool = True
    cost: Cost
    provenance: str = Field(default="from memory and common practice; a default", max_length=200)

    @property
    def is_square(self) -> bool:
        return self.shape == "cube"

    @property
    def wall_cm(self) -> float:
        """Thickness of the wall and, as wide as it, of the foot: what height and depth leave over."""
        return max(0.2, self.height_cm - self.depth_cm)

    @property
    def width_cm(self) -> float:
        """Largest outer width."""
        return max(self.mouth_cm + 2 * min(self.wall_cm, 0.5), self.base_cm)


class HardGood(Fact):
    """Foam, tape, food and the like, charged by the unit named."""

    slug: Slug
    name: str = Field(min_length=1, max_length=80)
    unit: str = Field(default="each", max_length=20)
    caution: str = Field(default="", max_length=300)
    cost: Cost
    provenance: str = Field(default="from memory and common practice; a default", max_length=200)


class Catalogue(Fact):
    """Everything a recipe may name, by slug."""

    materials: Mapping[str, Material] = Field(default_factory=dict)
    containers: Mapping[str, Container] = Field(default_factory=dict)
    hard_goods: Mapping[str, HardGood] = Field(default_factory=dict)

    def get_material(self, slug: str, colour: str, *, field: str) -> Material:
        """The material of a slug that comes in a colour; raises UnknownGoods naming the field."""
        material = self.materials.get(slug)
        if material is None:
            raise UnknownGoods(_unknown(field, "material", slug, self.materials))
        if colour not in material.colours:
            message = f"{material.name} does not come in “{colour}”."
            raise UnknownGoods(Problem(f"{field}, colour", message, f"Choose {', '.join(material.colours)}."))
        return material

    def find_materials(self, typed: str) -> tuple[Material, ...]:
        """Materials whose common or botanical name, form or role holds every word typed; names that begin so first."""
        words, beginning = typed.lower().split(), typed.lower().strip()
        found = [each for each in self.materials.values() if all(word in each.described for word in words)]
        return tuple(sorted(found, key=lambda each: (not each.name.lower().startswith(beginning), each.name)))

    def get_container(self, slug: str) -> Container:
        """The container of a slug; raises UnknownGoods."""
        if slug not in self.containers:
            raise UnknownGoods(_unknown("container", "container", slug, self.containers))
        return self.containers[slug]

    def get_hard_good(self, slug: str, *, field: str) -> HardGood:
        """The hard good of a slug; raises UnknownGoods naming the field."""
        if slug not in self.hard_goods:
            raise UnknownGoods(_unknown(field, "hard good", slug, self.hard_goods))
        return self.hard_goods[slug]


def _unknown(field: str, kind: str, slug: str, known: Mapping[str, object]) -> Problem:
    some = ", ".join(sorted(known)[:4]) or "none at all"
    mend = f"Use one the catalogue has ({some} …), or add “{slug}” to it first."
    return Problem(field, f"the {kind} “{slug}” is not in the catalogue.", mend)
