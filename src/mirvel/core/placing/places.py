"""A place: where one piece sits, which way it faces, where its stem enters. What is stored is the tip of the
head and the entry point; clock, level, lean and length derive from them."""

import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from mirvel.core.forms.parts import Part
from mirvel.core.goods.facts import LEAF_FORMS, HeadForm, PieceSize
from mirvel.core.goods.heads import UNBROKEN_SPREAD, Head
from mirvel.core.goods.material import Material
from mirvel.core.recipe.entry import Entry, KeptPlace
from mirvel.core.recipe.meant import Facing
from mirvel.core.space.vectors import ORIGIN, Pose, Vec, get_clock_hour, get_lean_deg, get_level

Numbers = NDArray[np.float64]
EDGE_OF_BLADE = 0.45  # of its width a leaf shows from its edge
STRIPPED_CM = 1.0  # less of a spike than this is lost without a word
_TURN_DEG = 137.508  # from head to head of a spray, as seeds in a sunflower
_NARROWING, _NARROWING_FROND = 0.5, 0.7  # with what power of its length leaves cut short narrow (assumptions)
_SAGS = 0.2  # how much of the way out a bend goes down
LEAST_SEEN = 0.5  # a leafy branch spreads: even towards the eye half of its length is seen


@dataclass(frozen=True)
class Place:
    """One placed piece; ``tip`` is the front of its head, or the end of its leaf or spike.

    ``vessel`` is which of the container's it stands in; ``bow`` how far its stem bows out of the straight, as a
    share of it, to the left where it is more than 0 or, by its own curve, away from the middle; ``zone`` the part of
    the form it belongs to; ``kept`` its place in the form's own coordinates, None where a person pinned it.
    """

    entry: Entry
    material: Material
    number: int
    head: Head
    tip: Vec
    facing: Vec
    start: Vec
    growth_cm: float
    above_rim_cm: float
    vessel: int = 0
    bow: float = 0.0
    zone: Part | None = None
    kept: KeptPlace | None = None

    @property
    def pinned(self) -> bool:
        """Whether a person holds it where it is."""
        return self.kept is None

    @property
    def is_inside(self) -> bool:
        """Whether the piece lies within the glass, against its wall."""
        return self.zone == Part.INSIDE

    @property
    def axis(self) -> Vec:
        """From the entry point to the tip."""
        return self.tip.minus(self.start).unit

    @property
    def shown_length_cm(self) -> float:
        """Length of the head or leaf that shows; what would start below its entry point or the rim is stripped."""
        if not self.material.is_axial:
            return self.head.length_cm
        below_rim = max(0.0, -self.start.z)
        return min(self.head.length_cm, max(1.0, self.tip.minus(self.start).length - 0.5 - below_rim))

    @property
    def shown_width_cm(self) -> float:
        """Width of it there. Of a branch cut short only its end shows, whose leaves are as large as ever."""
        if self.material.form not in LEAF_FORMS:
            return self.head.width_cm
        short = self.shown_length_cm / self.head.length_cm
        power = _NARROWING_FROND if self.material.form is HeadForm.FROND else _NARROWING
        return min(self.head.width_cm * math.pow(short, power), max(self.shown_length_cm, self.head.width_cm * short))

    @property
    def is_stripped(self) -> bool:
        """Whether the lower flowers of a spike or spray are taken off, since it stands too low to show them all."""
        flowers = self.material.is_axial and self.material.is_bloom and self.material.drinks
        return flowers and self.shown_length_cm < self.head.length_cm - STRIPPED_CM

    @property
    def head_base(self) -> Vec:
        """Where the head begins on its stem."""
        along = self.axis if self.material.is_axial else self.facing
        return self.tip.plus(along, -self.shown_length_cm)

    @property
    def heads(self) -> tuple[tuple[Vec, float], ...]:
        """The front of each of its heads and its width, cm: one, or an unbroken spray's grouped in the width of all."""
        count = self.material.pieces_per_stem if self.entry.piece is PieceSize.STEM else 1
        if count == 1 or self.material.is_axial:
            return ((self.tip, self.head.width_cm),)
        single = self.head.width_cm / (UNBROKEN_SPREAD * math.sqrt(count))
        reach = (self.head.width_cm - single) / 2
        level = Vec(-self.facing.y, self.facing.x, 0.0).unit if self.facing.reach > 1e-6 else Vec(1.0, 0.0, 0.0)
        found = []
        for number in range(count):
            out, turn = reach * math.sqrt((number + 0.3) / count), math.radians(number * _TURN_DEG)
            beside = self.tip.plus(level, out * math.sin(turn))
            found.append((beside.plus(self.facing.cross(level), out * math.cos(turn)), single))
        return tuple(found)

    @property
    def measured_to(self) -> Vec:
        """Where a cut is measured to: the base of a head, but the tip of a spike or leaf, which is flower or
        foliage along its stem, so that its base cannot be felt on the ruler."""
        return self.tip if self.material.is_axial else self.head_base

    @property
    def visible_cm(self) -> float:
        """Stem from the entry point to where it is measured, along the drawn line or arc."""
        chord = self.measured_to.minus(self.start).length
        return chord * get_arc_over_chord(self.bow)

    def get_bend(self, chord: Vec) -> Vec:
        """How far the middle of its stem, or of a part of it, stands out of the straight, and which way."""
        if self.entry.meant.facing is not Facing.CURVE:
            return Vec(chord.z, 0.0, -chord.x).scaled(-self.bow)
        along = chord.unit
        # one that comes out level bends downwards, its head turning up
        outward = Vec(self.tip.x, self.tip.y, -_SAGS * self.tip.reach)
        off = outward.plus(along, -outward.dot(along))
        return off.unit.scaled(self.bow * chord.length) if off.length > 1e-6 else Vec(0.0, 0.0, 0.0)

    @property
    def clock_hour(self) -> float:
        return get_clock_hour(self.tip)

    @property
    def level(self) -> str:
        return get_level(self.tip.z, self.above_rim_cm)

    @property
    def lean_deg(self) -> float:
        return get_lean_deg(self.measured_to.minus(self.start))

    @property
    def half_width_cm(self) -> float:
        return self.head.width_cm / 2

    def across(self, vessels: int) -> "Place":
        """The place with left and right exchanged, in the vessel on the other side of so many."""
        tip, facing, start = (each.across(-1.0) for each in (self.tip, self.facing, self.start))
        bow = self.bow if self.entry.meant.facing is Facing.CURVE else -self.bow
        return replace(self, tip=tip, facing=facing, start=start, bow=bow, vessel=vessels - 1 - self.vessel)


def get_blade_share(material: Material, axis: Vec, towards: Vec) -> float:
    """How much of its width a leaf shows to an eye in a direction; all of it where it is none."""
    if material.form not in LEAF_FORMS:
        return 1.0
    return float(get_blade_shares(np.array([axis]), np.array(towards))[0])


def get_blade_shares(axes: Numbers, towards: Numbers) -> Numbers:
    """How much of its width each leaf shows that grows along unit ``axes`` (n, 3): its blades lie level, so a branch
    that reaches sideways is seen from its edge, while an upright one shows all of itself from anywhere."""
    (x, y, z), (right, away, up) = axes.T, towards.tolist()
    lying = np.hypot(x, y)
    # square to the leaf and to the way it is looked at, by the plain rule: a library's own is much slower for one
    across, deep, high = away * z - up * y, up * x - right * z, right * y - away * x
    shown = np.sqrt(across**2 + deep**2 + high**2)
    # one that points at the eye shows its blades from their ends
    level_on = np.where(shown < 1e-9, 1.0, np.abs(y * across - x * deep) / np.maximum(lying * shown, 1e-12))
    shares: Numbers = 1 - np.minimum(1.0, lying) ** 2 * (1 - np.maximum(EDGE_OF_BLADE, level_on))
    return shares


def get_arc_over_chord(bow: float) -> float:
    """Length of a circular arc over its chord, when its middle stands ``bow`` chords out of the straight.

    A half circle (bow 0.5) is π/2 times its chord.
    """
    if abs(bow) < 1e-6:
        return 1.0
    quarter = math.atan(2 * abs(bow))
    return 2 * quarter / math.sin(2 * quarter)


@dataclass(frozen=True)
class Extent:
    """The box a piece fills, cm from the origin."""

    left: float
    right: float
    front: float
    back: float
    top: float
    bottom: float

    @property
    def width_cm(self) -> float:
        return self.right - self.left


def get_head_extent(material: Material, facing: Vec, radius: float) -> Extent:
    """The box of a head about its tip: a disc across its facing, or a ball whose front is the tip; what is laid on lies
    flat."""
    if material.is_axial:
        return Extent(0.0, 0.0, 0.0, 0.0, 0.0, 0.0)
    if material.is_ball and not material.is_laid:
        low, high = ([part * -radius + sign * radius for part in facing] for sign in (-1, 1))
    else:
        high = [radius * math.sqrt(max(0.0, 1 - part * part)) for part in facing]
        low = [-part for part in high]
    return Extent(low[0], high[0], low[1], high[1], high[2], low[2])


def get_extent(places: tuple[Place, ...], rim: tuple[float, float], pose: Pose) -> Extent:
    """The box, as the piece stands, around all heads, the tips of leaves and spikes, and the container's rim of so
    much half width and half depth."""
    corners = [pose.turn(Vec(x * rim[0], y * rim[1], 0.0)) for x in (-1, 1) for y in (-1, 1)]
    boxes = [Extent(at.x, at.x, at.y, at.y, at.z, at.z) for at in corners]
    for place in places:
        tip = pose.turn(place.tip)
        head = get_head_extent(place.material, pose.turn(place.facing), place.half_width_cm)
        boxes.append(
            Extent(
                tip.x + head.left,
                tip.x + head.right,
                tip.y + head.front,
                tip.y + head.back,
                tip.z + head.top,
                tip.z + head.bottom,
            )
        )
    return Extent(
        min(box.left for box in boxes),
        max(box.right for box in boxes),
        min(box.front for box in boxes),
        max(box.back for box in boxes),
        max(ORIGIN.z, *(box.top for box in boxes)),
        min(box.bottom for box in boxes),
    )
