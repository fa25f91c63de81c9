"""What a shop buys: stems, containers, hard goods, what it makes ahead, and the catalogue that holds them.

Facts are frozen values checked when made. A catalogue is what a recipe's names are looked up in, whether it
comes from the shop's database or from the dated snapshot inside an exported recipe.
"""

from mirvel.core.goods.assembly import Assembly, StemPart
from mirvel.core.goods.catalogue import Catalogue, Good, GoodsKind
from mirvel.core.goods.container import Container, ContainerKind, MouthShape
from mirvel.core.goods.facts import (
    AXIAL_FORMS,
    BALL_FORMS,
    LEAF_FORMS,
    Advice,
    Cost,
    Fact,
    HeadForm,
    Hex,
    PieceSize,
    Role,
    Slug,
)
from mirvel.core.goods.hard_good import HardGood, HardGoodUse
from mirvel.core.goods.material import Fitness, Material, StemKind, StemType, Toxicity

__all__ = [
    "AXIAL_FORMS",
    "BALL_FORMS",
    "LEAF_FORMS",
    "Advice",
    "Assembly",
    "Catalogue",
    "Container",
    "ContainerKind",
    "Cost",
    "Fact",
    "Fitness",
    "Good",
    "GoodsKind",
    "HardGood",
    "HardGoodUse",
    "HeadForm",
    "Hex",
    "Material",
    "MouthShape",
    "PieceSize",
    "Role",
    "Slug",
    "StemKind",
    "StemPart",
    "StemType",
    "Toxicity",
]
