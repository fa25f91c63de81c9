"""A container or frame: what a piece stands in, lies on or hangs from."""

from decimal import Decimal
from enum import StrEnum
from typing import Any

from pydantic import Field, model_validator

from mirvel.core.goods.facts import PROVENANCE, Cost, Mechanics
from mirvel.core.values.fact import Fact, Name, Note, Slug, Source


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
    TIE = "tie"


class MouthShape(StrEnum):
    """The outline of a mouth, or of a frame from above."""

    ROUND = "round"
    SQUARE = "square"
    OVAL = "oval"
    OBLONG = "oblong"
    RING = "ring"
    CROSS = "cross"
    HEART = "heart"


BELLY_POWER = 0.75  # how full a belly is between rim and foot: sin(pi t) to this power (a judgement of ours)
NECK_ENDS, NECK_HAS_WIDENED = 0.35, 0.75  # down a bud vase, of its height (a judgement of ours)
BASKET_FLOOR_CM = 1.0  # woven floor under the liner (assumption)
# What version 1 files of before there were kinds say for shape.
_KINDS_AS_SHAPES = {
    "cylinder": (ContainerKind.CYLINDER, MouthShape.ROUND),
    "taper": (ContainerKind.FLARE, MouthShape.ROUND),
    "cube": (ContainerKind.CUBE, MouthShape.SQUARE),
}
_MECHANICS_AS_WORDS = {"netting": Mechanics.NETTING}  # and a frame was said to be its own mechanics


def get_widening(down: float) -> float:
    """How much of the way from its mouth's width to its foot's a necked wall has widened, so far down of its height."""
    share = max(0.0, min(1.0, (down - NECK_ENDS) / (NECK_HAS_WIDENED - NECK_ENDS)))
    return share * share * (3 - 2 * share)


class Container(Fact):
    """A container between its mouth and its foot, straight or with a belly (or waist), or a frame; cm, each field says
    whether inside or outside."""

    slug: Slug
    name: Name
    kind: ContainerKind = ContainerKind.FLARE
    shape: MouthShape = MouthShape.ROUND
    mouth_cm: float = Field(gt=0, le=150, description="inner width of the mouth; a frame's largest size")
    mouth_across_cm: float | None = Field(
        default=None, gt=0, le=150, description="the other inner width; a ring's hole, a cross's span"
    )
    bar_cm: float | None = Field(
        default=None, gt=0, le=60, description="width of a cross's bar, or of an open heart's band"
    )
    base_cm: float = Field(gt=0, le=150, description="outer width of the foot")
    depth_cm: float = Field(gt=0, le=150, description="inside depth below the rim; a frame's foam thickness")
    height_cm: float = Field(gt=0, le=150, description="outside height, a basket's handle included")
    belly_cm: float | None = Field(
        default=None, gt=0, le=150, description="outer width half way down, where it bulges or draws in"
    )
    vessels: int = Field(default=1, ge=1, le=9, description="how many stand side by side on one foot or in a set")
    water_ml: float = Field(ge=0, le=100_000, description="working fill")
    empty_weight_g: float = Field(default=0, ge=0, le=100_000)
    needs_liner: bool = False
    usual_mechanics: tuple[Mechanics, ...] = ()
    foam_included: bool = Field(default=False, description="a frame that is bought with its foam in it")
    clear: bool = True
    note: Note = ""
    retired: bool = False
    cost: Cost
    provenance: Source = PROVENANCE

    @property
    def usual_pack(self) -> Decimal:
        """Containers are bought by the piece."""
        return Decimal(1)

    @model_validator(mode="before")
    @classmethod
    def _read_older_shapes(cls, found: Any) -> Any:
        if isinstance(found, dict) and found.get("shape") in _KINDS_AS_SHAPES:
            kind, shape = _KINDS_AS_SHAPES[found["shape"]]
            found = {"kind": kind, **found, "shape": shape}
        if isinstance(found, dict) and isinstance(found.get("usual_mechanics"), list | tuple):
            words = (_MECHANICS_AS_WORDS.get(each, each) for each in found["usual_mechanics"] if each != "frame")
            found = {**found, "usual_mechanics": tuple(words)}
        return found

    @property
    def mouth_ratio(self) -> float:
        """The mouth's depth, front to back, over its width: 1 where it is round or square."""
        if self.shape in {MouthShape.OVAL, MouthShape.OBLONG} and self.mouth_across_cm:
            return self.mouth_across_cm / self.mouth_cm
        return 1.0

    @property
    def is_necked(self) -> bool:
        """Whether it is as narrow as its mouth some way down, and then widens."""
        return self.kind is ContainerKind.BUD_VASE and self.belly_cm is None

    @property
    def is_cornered(self) -> bool:
        """Whether the mouth has corners."""
        return self.shape in {MouthShape.SQUARE, MouthShape.OBLONG}

    @property
    def vessel_offsets(self) -> tuple[float, ...]:
        """Where its vessels stand, left to right, cm from the middle; 0 alone for a single one."""
        if self.vessels == 1:
            return (0.0,)
        step = self.base_cm / self.vessels
        return tuple((number - (self.vessels - 1) / 2) * step for number in range(self.vessels))

    @property
    def vessel_base_cm(self) -> float:
        """Outer width of the foot of one vessel."""
        return self.base_cm if self.vessels == 1 else 0.8 * self.base_cm / self.vessels

    @property
    def rim_height_cm(self) -> float:
        """From the table to the rim: the height, but a basket's handle stands above its rim."""
        return self.depth_cm + BASKET_FLOOR_CM if self.kind is ContainerKind.BASKET else self.height_cm

    @property
    def wall_cm(self) -> float:
        """Thickness of the wall and, as wide as it, of the foot: what height and depth leave over."""
        return max(0.2, self.rim_height_cm - self.depth_cm)

    @property
    def side_cm(self) -> float:
        """Thickness of the wall at the mouth."""
        return min(self.wall_cm, 0.5)

    @property
    def rim_half_cm(self) -> float:
        """Half the outer width of one vessel at its mouth."""
        return self.mouth_cm / 2 + self.side_cm

    @property
    def rim_halves_cm(self) -> tuple[float, float]:
        """Half the outer width and half the outer depth at the rim; of a set, of all its vessels together."""
        if self.shape is MouthShape.CROSS:
            return (self.mouth_across_cm or self.mouth_cm) / 2, self.mouth_cm / 2
        half = self.rim_half_cm
        return half + max(self.vessel_offsets), half * self.mouth_ratio

    @property
    def halves_cm(self) -> tuple[float, float]:
        """Half the outer width and depth, rim or foot, whichever stands further out; a horn's, of its mouth alone."""
        wide, deep = self.rim_halves_cm
        if self.kind is ContainerKind.HORN or self.shape is MouthShape.CROSS:
            return wide, deep
        foot = self.base_cm / 2
        return max(wide, foot), max(deep, foot * self.mouth_ratio if self.vessels == 1 else 0.0)

    @property
    def width_cm(self) -> float:
        """Largest outer width."""
        return max(self.mouth_cm + 2 * self.side_cm, self.base_cm)
