"""What a form is: the shape a piece is built to. Each form is one module beside this one that makes a ``FORM``.

A form gives its outline and surface (lobes, and what of them is left out) or its own list of sites, what it can
stand in and be held by, where each role's pieces would like to go, how stems enter, the side it is seen from and
the defaults a recipe starts with. Everything after that is the same for all forms.
"""

from collections.abc import Callable
from dataclasses import dataclass, field
from enum import StrEnum
from functools import lru_cache, partial

from mirvel.core.forms.by_role import ByRole
from mirvel.core.forms.covering import cover_bed, get_stretch
from mirvel.core.forms.locating import Located, have_no_parts
from mirvel.core.forms.parts import Part, Parts
from mirvel.core.forms.sample_lists import USUAL_SAMPLE, Wanted
from mirvel.core.forms.surface import (
    Frame,
    Keep,
    Lattice,
    Lobe,
    Site,
    Surface,
    get_area_cm2,
    keep_all,
    make_lattice,
    spread_sites,
)
from mirvel.core.goods.container import Container, ContainerKind, MouthShape
from mirvel.core.goods.facts import Mechanics, Role
from mirvel.core.house.design import Arranging, HeightBase, HeightOf, HeightRule, SeenFrom
from mirvel.core.space.vectors import UPRIGHT, Pose, Vec

VASES = frozenset(
    {
        ContainerKind.CYLINDER,
        ContainerKind.CUBE,
        ContainerKind.TALL_TAPER,
        ContainerKind.FLARE,
        ContainerKind.PITCHER,
    }
)
BOWLS = frozenset(
    {ContainerKind.LOW_BOWL, ContainerKind.COMPOTE, ContainerKind.URN, ContainerKind.FOAM_TRAY, ContainerKind.BOX}
)
COMPACT_MOUTHS = frozenset({MouthShape.ROUND, MouthShape.SQUARE})
ANY_MOUTH = COMPACT_MOUTHS | {MouthShape.OVAL, MouthShape.OBLONG}
GLASS_MECHANICS = (Mechanics.TAPE_GRID, Mechanics.NETTING, Mechanics.NATURAL, Mechanics.FOAM)
FOAM_MECHANICS = (Mechanics.FOAM, Mechanics.NETTING, Mechanics.PIN_HOLDER)
USUAL_RULE = HeightRule(factor=1.75, of=HeightOf.CONTAINER_HEIGHT, base=HeightBase.TABLE)
AS_THE_HOUSE = Arranging()


class Guide(StrEnum):
    """What is drawn round a plan to find places by."""

    CLOCK = "clock"
    ARMS = "arms"
    THIRDS_UP = "thirds up"
    THIRDS_ALONG = "thirds along"


class Nature(StrEnum):
    """What a form is by its nature, whatever flowers it is made of: held against every piece of it."""

    DROP = "a drop, widest in its upper half"
    THIRDS = "two thirds below the focal point, one above"
    OPEN_MIDDLE = "an open middle"


class Entering(StrEnum):
    """How stems go in: crossing inside from their own side of the mouth, gathered to one spot, or upright."""

    CROSSING = "crossing"
    GATHERED = "gathered"
    UPRIGHT = "upright"


@dataclass(frozen=True)
class Proportions:
    """Limits of half width over height above the rim, the shape kept when size follows fullness, half depth over
    half width, and, for forms as wide as their mouth, half width over the mouth's. Assumptions of ours."""

    narrowest: float = 0.55
    widest: float = 0.95
    natural: float = 1 / 1.15
    depth: float = 1.0
    over_mouth: tuple[float, float] | None = None


CROWN_FACING = Vec(0.0, -0.34, 0.94).unit
ACROSS, FRONT_TO_BACK = Vec(-1.0, 1.0, 1.0), Vec(1.0, -1.0, 1.0)
HUNG = Pose(Vec(1.0, 0.0, 0.0), Vec(0.0, 0.0, -1.0), Vec(0.0, 1.0, 0.0))  # its face to the room, what was away is up


def keep_no_crown(frame: Frame) -> None:
    """No one place sets the height."""


def keep_crown_over_the_middle(frame: Frame) -> Site:
    """The highest place: over the middle, a bloom there tipped a little towards the designer's side."""
    return Site(Vec(0.0, 0.0, frame.above_rim_cm), CROWN_FACING, 1.0)


def _limit_nothing(container: Container) -> None:
    """It may stand as high above the rim as it likes."""


def _have_no_lobes(frame: Frame) -> tuple[Lobe, ...]:
    return ()


def _list_nothing(frame: Frame) -> tuple[Site, ...]:
    return ()


@dataclass(frozen=True)
class Form:
    """One form; the callables get the frame the piece is built in.

    ``covers_frame`` says that the surface follows a frame's foam, and no lobes; ``covers`` whether its heads are meant
    to close its surface, so that fullness can be judged and can size it; ``only_listed`` that its sites are its own
    list, and no lattice; ``wishes`` what pieces wish for by their role where that
    is not as usual, ``zones`` where roles keep to themselves.
    ``pose`` is how it stands or hangs when it is looked at, ``lies`` that it is made as it lies, ``outline_first``
    that what draws its outline goes in strictly before what fills it; ``least_facing`` the
    least its blooms face up (hung: to the room), 1 straight up. ``laid_from`` is the way from the tip of a spike to its
    stem where spikes and sprays are laid along the frame. ``fullness`` is below
    what it reads thin and above what crowded, where that is other than the house's. ``token`` is the place of the bow
    or other token, worked round; ``mirror`` which way matched pairs are mirrored; ``locate`` how a place is found on
    it, where that is not by the clock, ``parts`` what of it has a name of its own, and ``guide`` what is drawn
    round its plan for that; ``natures`` what every piece of it has to be.
    """

    name: str
    about: str
    usual_kind: ContainerKind
    lobes: Callable[[Frame], tuple[Lobe, ...]] = _have_no_lobes
    covers_frame: bool = False
    kinds: frozenset[ContainerKind] = VASES | BOWLS
    mouths: frozenset[MouthShape] = COMPACT_MOUTHS
    mechanics: tuple[Mechanics, ...] = GLASS_MECHANICS
    seen_from: SeenFrom = SeenFrom.ALL_ROUND
    rule: HeightRule = USUAL_RULE
    proportions: Proportions = Proportions()
    arranging: Arranging = AS_THE_HOUSE
    covers: bool = True
    entering: Entering = Entering.CROSSING
    keep: Keep = keep_all
    crown: Callable[[Frame], Site | None] = keep_crown_over_the_middle
    listed: Callable[[Frame], tuple[Site, ...]] = _list_nothing
    only_listed: bool = False
    wishes: ByRole = field(default_factory=dict, hash=False)
    zones: dict[Role, Part] = field(default_factory=dict, hash=False)
    most_above: Callable[[Container], float | None] = _limit_nothing
    pose: Pose = UPRIGHT
    lies: bool = False
    outline_first: bool = False
    least_facing: float = -1.0
    laid_from: Callable[[Frame, Vec], Vec] | None = None
    fullness: tuple[float, float] | None = None
    token: Callable[[Frame], Site] | None = None
    mirror: Vec = ACROSS
    locate: Callable[[Frame, Vec], Located] | None = None
    parts: Callable[[Frame], Parts] = have_no_parts
    guide: Guide = Guide.CLOCK
    natures: frozenset[Nature] = frozenset()
    vessels: int = 1
    sample: tuple[Wanted, ...] = USUAL_SAMPLE

    def takes(self, container: Container) -> bool:
        """Whether a piece of this form can be made in a container."""
        return (
            container.kind in self.kinds
            and container.shape in self.mouths
            and len(container.vessel_offsets) == self.vessels
        )

    @property
    def has_hours(self) -> bool:
        """Whether its hours are those of a clock about it on the bench; one that lies has them about its mouth."""
        return self.guide is Guide.CLOCK and not self.lies

    @property
    def hangs(self) -> bool:
        """Whether it is made lying on the bench and shown upright, on a stand."""
        return self.pose == HUNG

    @property
    def is_as_large_as_its_container(self) -> bool:
        """Whether its width follows what it is made in, whatever its flowers."""
        return self.covers_frame or self.proportions.over_mouth is not None

    def get_named_parts(self, frame: Frame) -> tuple[Part, ...]:
        """The parts an entry may be meant to stand in, besides those that every form has."""
        return (*self.parts(frame), *dict.fromkeys(self.zones.values()))

    def get_surface(self, frame: Frame) -> Surface:
        """The form's surface and sites in a frame; remembered."""
        return _get_surface(self, frame)

    def get_area_cm2(self, frame: Frame) -> float:
        """The area heads have to cover."""
        if self.covers_frame:
            return self.get_surface(frame).area_cm2
        return get_area_cm2(self.lobes(frame), frame, self.keep)


@lru_cache(maxsize=512)
def _get_surface(form: Form, frame: Frame) -> Surface:
    if form.covers_frame and frame.bed:
        area, sites = cover_bed(frame, frame.bed)
        stretch = partial(get_stretch, frame, frame.bed)
        return Surface(frame, (), area, make_lattice(frame, area, sites, listed=False), stretch, form.parts(frame))
    steady = form.only_listed or form.is_as_large_as_its_container
    lobes = form.lobes(frame)
    lattice = _get_lattice(form, frame if steady else frame.model)
    return Surface(frame, lobes, get_area_cm2(lobes, frame, form.keep), lattice, parts=form.parts(frame))


@lru_cache(maxsize=256)
def _get_lattice(form: Form, frame: Frame) -> Lattice:
    lobes = form.lobes(frame)
    spread = () if form.only_listed else spread_sites(lobes, frame, form.keep)
    return make_lattice(
        frame, get_area_cm2(lobes, frame, form.keep), (*spread, *form.listed(frame)), listed=form.only_listed
    )
