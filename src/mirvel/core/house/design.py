"""What a design chooses besides its flowers: what holds the stems, the rule for its height, the side it is seen
from, and how its flowers are arranged. Forms give defaults, recipes may differ, house rules settle the schools."""

from enum import StrEnum

from pydantic import Field

from mirvel.core.values.fact import Fact


class HeightOf(StrEnum):
    """What a height rule multiplies."""

    CONTAINER_HEIGHT = "container height"
    LARGER_DIMENSION = "larger dimension"


class HeightBase(StrEnum):
    """Where a ruled height is measured from."""

    TABLE = "table"
    RIM = "rim"


class HeightRule(Fact):
    """Height as a factor of the container, from the table or from the rim."""

    factor: float = Field(default=2.0, ge=0.2, le=6)
    of: HeightOf = HeightOf.CONTAINER_HEIGHT
    base: HeightBase = HeightBase.TABLE


class SeenFrom(StrEnum):
    """The side a piece is looked at from."""

    ALL_ROUND = "all round"
    FRONT = "front"


class Grouping(StrEnum):
    """Each flower spread evenly, or like with like."""

    SPREAD = "spread"
    GROUPED = "grouped"


class Balance(StrEnum):
    """Left and right alike in matched pairs, or free."""

    FREE = "free"
    SYMMETRIC = "symmetric"


class FocalPlace(StrEnum):
    """Where the show goes; off-centre is by thirds."""

    CENTRED = "centred"
    OFF_CENTRE = "off-centre"


class Levels(StrEnum):
    """Highs and lows, or one level on purpose."""

    VARIED = "varied"
    ONE_LEVEL = "one level"


class Grading(StrEnum):
    """Where the largest heads go."""

    LARGE_LOW = "largest low"
    LARGE_TOP = "largest at the top centre"
    NONE = "not by size"


class FoamPart(StrEnum):
    """How much of a brick of foam a block is."""

    WHOLE = "whole"
    HALF = "half"
    THIRD = "third"
    QUARTER = "quarter"
    SIXTH = "sixth"
    EIGHTH = "eighth"

    @property
    def parts(self) -> int:
        """How many such make a brick."""
        return {"whole": 1, "half": 2, "third": 3, "quarter": 4, "sixth": 6, "eighth": 8}[self.value]


class FoamLie(StrEnum):
    """How a block of foam is set in."""

    FLAT = "flat"
    SIDE = "on its side"
    UPRIGHT = "upright"


class FoamBlock(Fact):
    """One block cut from a brick instead of foam that fills the container, and how it is set in."""

    part: FoamPart
    lie: FoamLie = FoamLie.FLAT


class BuildOrder(StrEnum):
    """In what order entries go in: as the form and the house have it, or just as the recipe lists them."""

    USUAL = "delicate blooms last"
    AS_LISTED = "as listed"


class Arranging(Fact):
    """How a recipe's flowers are arranged; what is None follows the form, and then the house.

    ``attempt`` places everything that is not pinned once more, another way.
    """

    grouping: Grouping | None = None
    balance: Balance | None = None
    focal: FocalPlace | None = None
    levels: Levels | None = None
    grading: Grading | None = None
    mirrored: bool = Field(default=False, description="left and right exchanged")
    attempt: int = Field(default=0, ge=0, le=999)
