"""Hard goods: foam, tape, wire, ribbon and the like, charged by the unit named or by a part of it."""

from decimal import Decimal
from enum import StrEnum
from typing import Self

from pydantic import Field, model_validator

from mirvel.core.goods.facts import PROVENANCE, Cost
from mirvel.core.values.fact import KEPT, Fact, Name, Slug, Source


class FoamGrade(StrEnum):
    """What stems a foam is made for; DRY takes no water."""

    STANDARD = "standard"
    SOFT = "soft"
    DENSE = "dense"
    DRY = "dry"


class HardGood(Fact):
    """A consumable; ``cost`` is for one ``unit`` of it."""

    slug: Slug
    name: Name
    unit: str = Field(default="each", max_length=20, pattern=KEPT, description="each, metre or gram")
    pack_size: Decimal = Field(default=Decimal(1), gt=0, le=100_000, description="units in a bought pack")
    loop_m: Decimal | None = Field(default=None, gt=0, le=5, description="metres a bow loop takes, tails shared out")
    ribbon_cm: float | None = Field(default=None, gt=0, le=40, description="width of a ribbon")
    foam_ml: float | None = Field(default=None, gt=0, le=20_000, description="foam in a unit of it")
    foam_grade: FoamGrade = Field(default=FoamGrade.STANDARD, description="of foam, what stems it is made for")
    is_tie: bool = Field(default=False, description="ties a frame to its stand")
    stand_cm: float | None = Field(default=None, gt=0, le=300, description="height of a stand or easel")
    same_as: Slug | None = Field(default=None, description="the container this also is, so that it is charged once")
    caution: str = Field(default="", max_length=300, pattern=KEPT)
    note: str = Field(default="", max_length=300, pattern=KEPT)
    retired: bool = False
    cost: Cost
    provenance: Source = PROVENANCE

    @property
    def usual_pack(self) -> Decimal:
        """Units in a pack as it is usually bought."""
        return self.pack_size


class HardGoodUse(Fact):
    """So much of one hard good: a quantity in its unit, a fraction of a unit, or a ribbon's bow loops.

    A third of a brick is quantity 1 divided by 3, exactly; half a long wire is 1 divided by 2.
    """

    hard_good: Slug
    quantity: Decimal = Field(default=Decimal(1), gt=0, le=10_000, max_digits=9, decimal_places=4)
    divided_by: int = Field(default=1, ge=1, le=48)
    loops: int | None = Field(default=None, ge=1, le=60, description="bow loops, instead of a quantity")

    @model_validator(mode="after")
    def _is_said_one_way(self) -> Self:
        if self.loops is not None and (self.quantity != 1 or self.divided_by != 1):
            raise ValueError("Loops and a quantity are both given. Keep the one that counts.")
        return self

    def get_cost(self, good: HardGood) -> Decimal:
        """What this use costs, exact. Loops of a good that has none are charged as so many units."""
        if self.loops is not None:
            return self.loops * (good.loop_m or Decimal(1)) * good.cost
        return self.quantity * good.cost / self.divided_by

    @property
    def typed(self) -> str:
        """The use as it is typed: "0.9", "1/3" or "5 loops"."""
        if self.loops is not None:
            return f"{self.loops} loops"
        return format_amount(self.quantity) + (f"/{self.divided_by}" if self.divided_by > 1 else "")

    def describe(self, good: HardGood) -> str:
        """The use in words: "1/3 each", "0.9 metre", "5 loops (1.2 metre)"."""
        if self.loops is not None:
            return f"{self.loops} loops ({format_amount(self.loops * (good.loop_m or Decimal(1)))} {good.unit})"
        return f"{self.typed} {good.unit}"


def format_amount(amount: Decimal) -> str:
    """A quantity without trailing zeros.

    >>> format_amount(Decimal("0.9000")), format_amount(Decimal(120))
    ('0.9', '120')
    """
    return f"{amount:f}".rstrip("0").rstrip(".") if "." in f"{amount:f}" else f"{amount:f}"


def read_quantity(text: str) -> dict[str, str]:
    """The fields of a use as typed: a quantity, a fraction of a unit, or a ribbon's loops.

    >>> read_quantity("1/3"), read_quantity("5 loops"), read_quantity("0,9")
    ({'quantity': '1', 'divided_by': '3'}, {'loops': '5'}, {'quantity': '0.9', 'divided_by': '1'})
    """
    text = text.strip().lower().replace(",", ".")
    if text.endswith(("loop", "loops")):
        return {"loops": text.removesuffix("loops").removesuffix("loop").strip()}
    for sign, fraction in (("⅓", "1/3"), ("½", "1/2"), ("¼", "1/4"), ("⅛", "1/8"), ("⅙", "1/6")):
        text = text.replace(sign, fraction)
    quantity, _, divided_by = text.partition("/")
    return {"quantity": quantity.strip(), "divided_by": divided_by.strip() or "1"}
