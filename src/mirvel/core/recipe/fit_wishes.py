"""What a person may ask of a fit: its aim, and limits on entries and on the whole, kept with the recipe."""

from collections.abc import Mapping
from decimal import Decimal
from enum import StrEnum
from typing import Annotated

from pydantic import Field, model_validator

from mirvel.core.goods.facts import Role
from mirvel.core.goods.material import STRONG_SCENT, Material, Toxicity
from mirvel.core.values.fact import ColourName, Fact, Slug

Share = Annotated[Decimal, Field(ge=0, le=1, decimal_places=3)]
Fullness = Annotated[float, Field(gt=0, le=3)]


class Aim(StrEnum):
    """What a fit goes for once all its limits hold."""

    FULLEST = "fullest"
    MONEY = "money first"
    FOCAL = "showiest focal"
    LASTING = "longest-lasting"
    MINUTES = "fewest minutes"
    PARENT = "nearest to the recipe"


class Exclusion(StrEnum):
    """What a brief rules out."""

    SCENT = "strong scent"
    POLLEN = "pollen"
    PETS = "harmful to pets"
    CHILDREN = "harmful to small children"
    ALLERGENS = "latex or nuts"

    def is_true_of(self, material: Material) -> bool:
        """Whether a material is what is ruled out; of latex and nuts, which no stem has, only the hard goods' own
        words tell."""
        return {
            Exclusion.SCENT: material.scent >= STRONG_SCENT,
            Exclusion.POLLEN: material.pollen,
            Exclusion.PETS: material.toxicity is not Toxicity.NONE,
            Exclusion.CHILDREN: material.toxicity in {Toxicity.MILD, Toxicity.SERIOUS},
            Exclusion.ALLERGENS: False,
        }[self]


class Alternative(Fact):
    """Another material and colour that may stand in for an entry, in part or whole."""

    material: Slug
    colour: ColourName


class FitWishes(Fact):
    """How a recipe wants to be fitted; what is left out follows the recipe and the house.

    ``shares`` are shares of visual mass by role, ``money_shares`` of the flower money; the focals' share of the money
    has limits of its own, ``focal_from`` and ``focal_to``.
    """

    aim: Aim = Aim.FULLEST
    odd_focal: bool = True
    shares: Mapping[Role, Share] = Field(default_factory=dict)
    money_shares: Mapping[Role, Share] = Field(default_factory=dict)
    focal_from: Share | None = None
    focal_to: Share | None = None
    cover_from: Fullness | None = None
    cover_to: Fullness | None = None

    @model_validator(mode="after")
    def _limits_are_in_order(self) -> "FitWishes":
        if Role.FOCAL in self.money_shares:
            raise ValueError("The focals' share of the money has a start and an end. Fill those in instead.")
        if self.focal_from is not None and self.focal_to is not None and self.focal_from > self.focal_to:
            raise ValueError("The focal share starts above where it ends. Swap the two.")
        if self.cover_from is not None and self.cover_to is not None and self.cover_from > self.cover_to:
            raise ValueError("Cover starts above where it ends. Swap the two.")
        return self
