"""What every good is made of: frozen facts, slugs, costs, and the words for forms and roles."""

from decimal import Decimal
from enum import StrEnum
from typing import Annotated

from pydantic import Field

from mirvel.core.values.fact import KEPT, Fact


class Mechanics(StrEnum):
    """What holds the stems."""

    NATURAL = "natural"
    TAPE_GRID = "tape grid"
    NETTING = "wire netting"
    FOAM = "foam"
    PIN_HOLDER = "pin holder"
    TIED = "tied by hand"


PROVENANCE = "from memory and common practice; a default"
LARGEST_COST = Decimal(100_000)
Cost = Annotated[Decimal, Field(ge=0, le=LARGEST_COST, max_digits=10, decimal_places=4)]
Hex = Annotated[str, Field(pattern=r"^#[0-9a-f]{6}$")]


class HeadForm(StrEnum):
    """The shape of a head, leaf or made thing, which decides how it fills space and how it is drawn."""

    ROSETTE = "rosette"
    CUP = "cup"
    DAISY = "daisy"
    DISC = "disc"
    TRUMPET = "trumpet"
    ORCHID = "orchid"
    BIRD = "bird"
    GLOBE = "globe"
    POMPON = "pompon"
    UMBEL = "umbel"
    CLUSTER = "cluster"
    SPRAY = "spray"
    SPIKE = "spike"
    PLUME = "plume"
    DRAPE = "drape"
    BERRY = "berry"
    POD = "pod"
    FROND = "frond"
    BROAD_LEAF = "broadleaf"
    SMALL_LEAF = "smallleaf"
    STRAP = "strap"
    BLADE = "blade"
    TWIG = "twig"
    MOSS = "moss"
    BOW = "bow"
    FRUIT = "fruit"


LEAF_FORMS = frozenset({HeadForm.FROND, HeadForm.BROAD_LEAF, HeadForm.SMALL_LEAF, HeadForm.STRAP, HeadForm.BLADE})
# What no bloom is, and fills no form however large it is: lines with air between, what lies low, what is tied on.
FILLS_NO_FORM = frozenset({HeadForm.TWIG, HeadForm.MOSS, HeadForm.BOW})
AXIAL_FORMS = LEAF_FORMS | {
    HeadForm.SPIKE,
    HeadForm.PLUME,
    HeadForm.DRAPE,
    HeadForm.BERRY,
    HeadForm.TWIG,
    HeadForm.BIRD,
}
BALL_FORMS = frozenset(
    {HeadForm.GLOBE, HeadForm.POMPON, HeadForm.CLUSTER, HeadForm.SPRAY, HeadForm.UMBEL}
    | {HeadForm.POD, HeadForm.MOSS, HeadForm.FRUIT}
)


class Role(StrEnum):
    """The part an entry plays in a piece, in the usual build order."""

    GREENERY = "greenery"
    LINE = "line"
    FOCAL = "focal"
    MASS = "mass"
    FILLER = "filler"
    TEXTURE = "texture"
    TRAILING = "trailing"
    TOKEN = "token"


class Lengthened(StrEnum):
    """What an assembly made of a stem that is too short: the leaf or the tube reaches where the stem does not."""

    NOT = "as it grew"
    LEAF = "bound to a leaf"
    TUBE = "in a water tube"


class PieceSize(StrEnum):
    """What of a stem one piece is."""

    STEM = "whole stem"
    TOP = "top piece"
    LATERAL = "side piece"


class Advice(Fact):
    """How to do something, and the school that does it so; an empty school is everybody's."""

    text: str = Field(min_length=1, max_length=400, pattern=KEPT)
    school: str = Field(default="", max_length=60, pattern=KEPT)
