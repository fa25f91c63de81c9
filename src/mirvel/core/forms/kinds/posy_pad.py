"""The posy pad: a round cushion of flowers that lies flat, leaves at its edge first."""

from dataclasses import replace

from mirvel.core.forms.kinds.covered_frame import COVERED_FRAME
from mirvel.core.goods.container import ContainerKind, MouthShape
from mirvel.core.house.design import Arranging, HeightBase, HeightRule, SeenFrom
from mirvel.core.space.vectors import UPRIGHT

FORM = replace(
    COVERED_FRAME,
    name="posy pad",
    about="A round cushion of flowers that lies flat, edged with leaves.",
    usual_kind=ContainerKind.POSY_PAD,
    kinds=frozenset({ContainerKind.POSY_PAD}),
    mouths=frozenset({MouthShape.ROUND}),
    seen_from=SeenFrom.ALL_ROUND,
    rule=HeightRule(factor=1.1, base=HeightBase.RIM),
    arranging=Arranging(),
    pose=UPRIGHT,
    fullness=(0.85, 1.9),
)
