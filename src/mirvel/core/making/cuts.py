"""Cut lengths: how long each stem is made, for a vase, for foam, on pins and tied in the hand.

Raw length is the visible stem (entry point to the base of the head, along the straight line drawn; to the tip
for spikes and leaves) less growth to come, plus the part inside. The cut is the raw length rounded **up** to
the step, because a stem cut long can be cut again. What rounding adds shows above the rim in a vase; in foam
the whole of it has to stay inside the foam.

Inside a vase the stem's ray runs from its entry point to the far wall or the floor. Where that would end
above the water, the stem bends at the rim and stands steeper (at 45°, or what the water asks for): it always
ends 2.5 cm under water or more; in a neck, through the middle of its end and on. A piece too short for the
floor is used at its full length and hangs in the water, as long as it still ends that deep.
Depths into foam are common practice with no published source; a ray stays 0.5 cm clear of its far side.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from mirvel.core.goods.container import Container
from mirvel.core.goods.facts import HeadForm, Mechanics
from mirvel.core.placing.holders import get_holder
from mirvel.core.placing.places import Place
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.space.vectors import Vec
from mirvel.core.values.units import LONGEST_STEP_CM, round_down_to_step, round_up_to_step
from mirvel.core.vessels.beds import Bed
from mirvel.core.vessels.hollows import (
    FOAM_CLEARANCE_CM,
    Hollow,
    get_foam_depth_cm,
    get_inside,
    get_least_drop_cm,
    get_ways_down,
    lean_over,
)

BENT_LEAN_DEG = 45.0
SPIRAL_LEAN_DEG = 32.0  # the steepest a tied bunch's stems splay below the tie (assumption)
_CLEAR_OF_THE_WAIST = 0.97  # a stem goes through a waist a little off its wall
ON_PINS_CM = 1.5  # what stands among the pins of a holder (assumption)


@dataclass(frozen=True)
class Cut:
    """One stem's cut; ``end`` is where the stem ends, visible + inside is the raw length: none of what is laid on."""

    place: Place
    visible_cm: float
    inside_cm: float
    cut_cm: float
    end: Vec

    @property
    def raw_cm(self) -> float:
        return self.visible_cm + self.inside_cm

    @property
    def total_cm(self) -> float:
        """Stem and head together: what the stem as bought must be long enough for."""
        return self.cut_cm + (0.0 if self.place.material.is_axial else self.place.head.length_cm)

    @property
    def above_rim_cm(self) -> float:
        """How high the base of the head (the tip of a leaf or spike) stands above the rim once cut."""
        return self.place.measured_to.z - self.place.growth_cm

    def get_below_edge_cm(self, container: Container) -> float:
        """How far below the table edge to cut, with the vase at the edge and the stem held beside it as high as it
        will stand; negative is above the table."""
        return self.cut_cm - (container.rim_height_cm + self.above_rim_cm)

    def across(self, vessels: int) -> "Cut":
        """The cut of the place with left and right exchanged."""
        return replace(self, place=self.place.across(vessels), end=self.end.across(-1.0))

    @property
    def is_too_long(self) -> bool:
        """Whether the stem as bought is too short for it."""
        return not self.place.material.is_laid and self.total_cm > self.place.head.stem_length_cm + 1e-9


def get_cuts(places: tuple[Place, ...], recipe: Recipe, container: Container, step_cm: float) -> tuple[Cut, ...]:
    """The cut of every place, in order."""
    found = dict[int, Cut]()
    for vessel in range(len(container.vessel_offsets)):
        stems = []
        for number, place in enumerate(places):
            if place.vessel != vessel:
                continue
            if place.material.is_laid:
                found[number] = Cut(place, 0.0, 0.0, 0.0, place.start)
            elif place.is_inside:
                found[number] = get_inside_cut(place, get_inside(container, vessel), step_cm)
            else:
                stems.append(number)
        holder = get_holder(recipe, container, vessel)
        held = [places[number] for number in stems]
        found.update(zip(stems, _get_held_cuts(held, holder, recipe.mechanics, container, step_cm), strict=True))
    return tuple(found[number] for number in range(len(places)))


def _get_held_cuts(
    places: Sequence[Place], holder: Hollow | Bed, mechanics: Mechanics, container: Container, step_cm: float
) -> list[Cut]:
    """The cuts of stems that one vessel, or what stands in it, holds."""
    if isinstance(holder, Bed) or mechanics is Mechanics.FOAM:
        return get_foam_cuts(places, holder, step_cm)
    if mechanics is Mechanics.PIN_HOLDER:
        return get_pin_cuts(places, step_cm)
    if mechanics is Mechanics.TIED:
        return get_tied_cuts(places, holder, step_cm)
    return get_vase_cuts(places, holder, get_least_drop_cm(container), step_cm)


def get_visible_cm(place: Place) -> float:
    """Stem that shows on the day, less what it will have grown by then."""
    return max(0.0, place.visible_cm - place.growth_cm)


def get_inside_cut(place: Place, inside: Hollow, step_cm: float) -> Cut:
    """What lies in the glass: a leaf stands against it, from the floor to just under the rim; a blade is swirled, as
    far as it is long."""
    length = place.tip.z - inside.bottom_z
    if place.material.form is HeadForm.BLADE:
        length = max(place.head.length_cm, -inside.bottom_z)
    length = min(place.head.stem_length_cm, length)
    cut = max(step_cm, round_down_to_step(length, step_cm))
    return Cut(place, 0.0, cut, cut, Vec(place.start.x, place.start.y, inside.bottom_z))


def get_pin_cuts(places: Sequence[Place], step_cm: float) -> list[Cut]:
    """The cuts of stems that stand on a pin holder, pressed among its pins."""
    cuts = []
    for place, ray in zip(places, get_rays(places), strict=True):
        visible = get_visible_cm(place)
        cut = round_up_to_step(visible + ON_PINS_CM, step_cm)
        cuts.append(Cut(place, visible, ON_PINS_CM, cut, place.start.plus(ray, ON_PINS_CM)))
    return cuts


def get_tied_cuts(places: Sequence[Place], bunch: Hollow, step_cm: float) -> list[Cut]:
    """The cuts of stems in a tied bunch: through the tie, splayed on the other side, cut level to stand."""
    cuts = []
    for place, straight in zip(places, get_rays(places), strict=True):
        ray = lean_over(straight, min(place.lean_deg, SPIRAL_LEAN_DEG))
        down = (place.start.z - bunch.bottom_z) / -ray.z
        visible, end = get_visible_cm(place), place.start.plus(ray, down)
        cuts.append(Cut(place, visible, down, round_up_to_step(visible + down, step_cm), end))
    return cuts


def get_rays(places: Sequence[Place]) -> list[Vec]:
    """The ways stems go on below their entry points, never flatter than 75° from the vertical."""
    bases, starts = (
        np.array(points, dtype=np.float64).reshape(-1, 3)
        for points in ([place.measured_to for place in places], [place.start for place in places])
    )
    return [Vec(*way) for way in get_ways_down(bases, starts).tolist()]


def _get_exits(starts: Sequence[Vec], rays: Sequence[Vec], holder: Hollow | Bed) -> list[float]:
    """How far each runs in what holds it, cm: reckoned for all at once, which takes as long as for one."""
    if not starts:
        return []
    exits: list[float] = holder.get_exit_distances(np.array(starts), np.array(rays)).tolist()
    return exits


def get_vase_cuts(places: Sequence[Place], inside: Hollow, least_drop_cm: float, step_cm: float) -> list[Cut]:
    """The cuts of stems in a vase, all of which must end ``least_drop_cm`` below the rim or deeper."""
    starts, rays = [place.start for place in places], get_rays(places)
    for number, start in enumerate(starts):
        if start.z > inside.top_z + 1e-9:  # it comes over the rim, and is bent down there
            rays[number], starts[number] = lean_over(rays[number], BENT_LEAN_DEG), inside.get_rim_point(start)
    ends = [
        start.plus(ray, exit_cm)
        for start, ray, exit_cm in zip(starts, rays, _get_exits(starts, rays, inside), strict=True)
    ]
    return [
        _get_vase_cut(place, inside, start, ray, end, least_drop_cm, step_cm)
        for place, start, ray, end in zip(places, starts, rays, ends, strict=True)
    ]


def _get_vase_cut(
    place: Place, inside: Hollow, start: Vec, ray: Vec, end: Vec, least_drop_cm: float, step_cm: float
) -> Cut:
    """The cut of a stem that would run from ``start`` along ``ray`` to ``end``, were it deep enough there."""
    from_middle = start.x - inside.middle_x
    if end.z > inside.bottom_z + 1e-6 and (end.x - inside.middle_x) * from_middle + end.y * start.y > 0:
        end = _get_foot_of_own_wall(start, inside)
    if end.z > -least_drop_cm and place.lean_deg > BENT_LEAN_DEG:
        ray = lean_over(ray, BENT_LEAN_DEG)
        end = start.plus(ray, inside.get_exit_distance(start, ray))
    if inside.necked and end.z > min(-least_drop_cm, inside.narrow_z):  # little water stands in a neck
        end = _run_on(start, Vec(inside.middle_x, 0.0, inside.narrow_z), inside)
    if end.z > -least_drop_cm:
        far = inside.get_edge_distance(ray, max(-least_drop_cm, inside.narrow_z))
        level = Vec(ray.x, ray.y, 0.0).unit if ray.reach > 1e-9 else Vec(0.0, 0.0, 0.0)
        end = Vec(level.x * far + inside.middle_x, level.y * far, -least_drop_cm)
    over = place.start.minus(start).length
    visible, within = get_visible_cm(place), over + start.minus(end).length
    cut = Cut(place, visible, within, round_up_to_step(visible + within, step_cm), end)
    return _hang_in_water(cut, start, over, least_drop_cm, step_cm) if cut.is_too_long else cut


def _get_foot_of_own_wall(start: Vec, inside: Hollow) -> Vec:
    """Where a stem ends that leans less than the wall beside it: it stands along that wall to the floor, or is drawn
    in by a waist or a neck and runs on past it."""
    outwards = Vec(start.x - inside.middle_x, start.y, 0.0).unit
    if inside.narrow_z > inside.bottom_z:
        at = outwards.scaled(inside.get_edge_distance(outwards, inside.narrow_z) * _CLEAR_OF_THE_WAIST)
        return _run_on(start, at.plus(Vec(inside.middle_x, 0.0, inside.narrow_z)), inside)
    foot = outwards.scaled(inside.get_edge_distance(outwards, inside.bottom_z))
    return foot.plus(Vec(inside.middle_x, 0.0, inside.bottom_z))


def _run_on(start: Vec, past: Vec, inside: Hollow) -> Vec:
    """Where a stem ends that passes a waist, or the end of a neck, at a point and runs straight on."""
    ray = past.minus(start).unit
    return past.plus(ray, inside.get_exit_distance(past, ray))


def _hang_in_water(cut: Cut, start: Vec, over_cm: float, least_drop_cm: float, step_cm: float) -> Cut:
    """The same stem at the longest the piece gives, if its end still drinks, whatever unit its length is rounded in;
    else the cut as it was. It passes the rim at ``start``, with so much of it over the rim."""
    most = cut.cut_cm - (cut.total_cm - cut.place.head.stem_length_cm)

    def get_end(length_cm: float) -> Vec:
        return start.plus(cut.end.minus(start), (length_cm - cut.visible_cm - over_cm) / (cut.inside_cm - over_cm))

    if get_end(most - LONGEST_STEP_CM).z > -least_drop_cm:
        return cut
    longest = round_down_to_step(most, step_cm)
    return Cut(cut.place, cut.visible_cm, longest - cut.visible_cm, longest, get_end(longest))


def get_foam_cuts(places: Sequence[Place], foam: Hollow | Bed, step_cm: float) -> list[Cut]:
    """The cuts of stems in foam."""
    rays = get_rays(places)
    exits = _get_exits([place.start for place in places], rays, foam)
    return [
        _get_foam_cut(place, foam, ray, exit_cm, step_cm)
        for place, ray, exit_cm in zip(places, rays, exits, strict=True)
    ]


def _get_foam_cut(place: Place, foam: Hollow | Bed, ray: Vec, exit_cm: float, step_cm: float) -> Cut:
    """The cut of a stem whose ray leaves the foam after ``exit_cm``: as deep as its class asks, never within 0.5 cm of
    the far side."""
    visible = get_visible_cm(place)
    most = max(0.0, exit_cm - FOAM_CLEARANCE_CM)
    within = min(get_foam_depth_cm(place.material, visible, foam), most)
    cut = round_up_to_step(visible + within, step_cm)
    shorter = round_down_to_step(visible + most, step_cm)
    if cut - visible > most and shorter >= visible:  # else not one step goes in, which a check then stops
        cut, within = shorter, shorter - visible
    return Cut(place, visible, within, cut, place.start.plus(ray, within))
