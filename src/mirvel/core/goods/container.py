"""A container or frame: what a piece stands in, lies on or hangs from."""

from enum import StrEnum
from typing import Any

from pydantic import Field, model_validator

from mirvel.core.goods.facts import PROVENANCE, Cost, Fact, Name, Note, Slug


class ContainerKind(StrEnum):
    """What a container is called in the trade."""

    CYLINDER = "cylinder vase"
    CUBE = "cube"
    TALL_TAPER = "tall taper"
    FLARE = "flare"
    BUD_VASE = "bud vase"
    LOW_BOWL = "low bowl"
    COMPOTE = "compote"
    URN = "urn"
    BASKET = "basket"
    PITCHER = "pitcher"
    FOAM_TRAY = "foam tray"
    BOX = "box"
    FOAM_RING = "foam ring"
    POSY_PAD = "posy pad"
    CROSS = "cross frame"
    HEART = "heart"
    SPRAY_CAGE = "easel spray cage"
    LID_SADDLE = "lid saddle"
    HEADSTONE_SADDLE = "headstone saddle"
    VINE_WREATH = "vine wreath"
    HORN = "horn"


class MouthShape(StrEnum):
    """The outline of a mouth, or of a frame from above."""

    ROUND = "round"
    SQUARE = "square"
    OVAL = "oval"
    OBLONG = "oblong"
    RING = "ring"
    CROSS = "cross"
    HEART = "heart"


_VESSELS = frozenset(
    {
        ContainerKind.CYLINDER,
        ContainerKind.CUBE,
        ContainerKind.TALL_TAPER,
        ContainerKind.FLARE,
        ContainerKind.BUD_VASE,
        ContainerKind.LOW_BOWL,
        ContainerKind.COMPOTE,
        ContainerKind.URN,
        ContainerKind.PITCHER,
        ContainerKind.FOAM_TRAY,
        ContainerKind.BOX,
    }
)
# What version 1 files of before there were kinds say for shape.
_KINDS_AS_SHAPES = {
    "cylinder": (ContainerKind.CYLINDER, MouthShape.ROUND),
    "taper": (ContainerKind.FLARE, MouthShape.ROUND),
    "cube": (ContainerKind.CUBE, MouthShape.SQUARE),
}


class Container(Fact):
    """A container of straight walls between its mouth and its foot, all inner sizes in cm; or a frame.

    Belly and neck widths are not held; a bellied bowl is taken at its mouth, and the drawing says so.
    """

    slug: Slug
    name: Name
    kind: ContainerKind = ContainerKind.FLARE
    shape: MouthShape = MouthShape.ROUND
    mouth_cm: float = Field(gt=0, le=150, description="inner width of the mouth; a frame's largest size")
    mouth_across_cm: float | None = Field(
        default=None, gt=0, le=150, description="the other inner width; a ring's hole, a cross's span"
    )
    base_cm: float = Field(gt=0, le=150, description="outer width of the foot")
    depth_cm: float = Field(gt=0, le=150, description="inside depth below the rim; a frame's foam thickness")
    height_cm: float = Field(gt=0, le=150, description="outside height, a basket's handle included")
    water_ml: float = Field(ge=0, le=100_000, description="working fill")
    empty_weight_g: float = Field(default=0, ge=0, le=100_000)
    needs_liner: bool = False
    usual_mechanics: tuple[str, ...] = ()
    clear: bool = True
    note: Note = ""
    retired: bool = False
    cost: Cost
    provenance: str = Field(default=PROVENANCE, max_length=200)

    @model_validator(mode="before")
    @classmethod
    def _read_older_shapes(cls, found: Any) -> Any:
        if isinstance(found, dict) and found.get("shape") in _KINDS_AS_SHAPES:
            kind, shape = _KINDS_AS_SHAPES[found["shape"]]
            return {"kind": kind, **found, "shape": shape}
        return found

    @property
    def is_square(self) -> bool:
        return self.shape is MouthShape.SQUARE

    @property
    def takes_dome(self) -> bool:
        """Whether an all-round dome can stand in it: a vessel with a round or square mouth of its own."""
        of_one_mouth = self.base_cm <= 3 * self.mouth_cm
        return self.kind in _VESSELS and self.shape in {MouthShape.ROUND, MouthShape.SQUARE} and of_one_mouth

    @property
    def wall_cm(self) -> float:
        """Thickness of the wall and, as wide as it, of the foot: what height and depth leave over."""
        return max(0.2, self.height_cm - self.depth_cm)

    @property
    def width_cm(self) -> float:
        """Largest outer width."""
        return max(self.mouth_cm + 2 * min(self.wall_cm, 0.5), self.base_cm)
