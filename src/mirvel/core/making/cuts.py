"""Cut lengths: how long each stem is made, for a vase, for foam, on pins and tied in the hand.

Raw length is the visible stem (entry point to the base of the head, along the straight line drawn; to the tip
for spikes and leaves) less growth to come, plus the part inside. The cut is the raw length rounded **up** to
the step, because a stem cut long can be cut again. What rounding adds shows above the rim in a vase; in foam
the whole of it has to stay inside the foam.

Inside a vase the stem's ray runs from its entry point to the far wall or the floor. Where that would end
above the water, the stem bends at the rim and stands steeper (at 45°, or what the water asks for): it always
ends 2.5 cm under water or more. A piece too short for the floor is used at its full length and hangs in the
water, as long as it still ends that deep.
Depths into foam are common practice with no published source; a ray stays 0.5 cm clear of its far side.
"""

from dataclasses import dataclass, replace

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
    get_way_down,
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
    holders = [get_holder(recipe, container, vessel) for vessel in range(len(container.vessel_offsets))]
    least_drop = get_least_drop_cm(container)
    cuts = []
    for place in places:
        holder = holders[place.vessel]
        if place.material.is_laid:
            cuts.append(Cut(place, 0.0, 0.0, 0.0, place.start))
        elif place.is_inside:
            cuts.append(get_inside_cut(place, get_inside(container, place.vessel), step_cm))
        elif isinstance(holder, Bed) or recipe.mechanics is Mechanics.FOAM:
            cuts.append(get_foam_cut(place, holder, step_cm))
        elif recipe.mechanics is Mechanics.PIN_HOLDER:
            cuts.append(get_pin_cut(place, step_cm))
        elif recipe.mechanics is Mechanics.TIED:
            cuts.append(get_tied_cut(place, holder, step_cm))
        else:
            cuts.append(get_vase_cut(place, holder, least_drop, step_cm))
    return tuple(cuts)


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


def get_pin_cut(place: Place, step_cm: float) -> Cut:
    """The cut of a stem that stands on a pin holder, pressed among its pins."""
    visible = get_visible_cm(place)
    cut = round_up_to_step(visible + ON_PINS_CM, step_cm)
    return Cut(place, visible, ON_PINS_CM, cut, place.start.plus(get_ray(place), ON_PINS_CM))


def get_tied_cut(place: Place, bunch: Hollow, step_cm: float) -> Cut:
    """The cut of a stem in a tied bunch: through the tie, splayed on the other side, cut level to stand."""
    ray = lean_over(get_ray(place), min(place.lean_deg, SPIRAL_LEAN_DEG))
    down = (place.start.z - bunch.bottom_z) / -ray.z
    visible, end = get_visible_cm(place), place.start.plus(ray, down)
    return Cut(place, visible, down, round_up_to_step(visible + down, step_cm), end)


def get_ray(place: Place) -> Vec:
    """The way the stem goes on below its entry point, never flatter than 75° from the vertical."""
    return get_way_down(place.measured_to, place.start)


def get_vase_cut(place: Place, inside: Hollow, least_drop_cm: float, step_cm: float) -> Cut:
    """The cut of a stem in a vase whose stems must end ``least_drop_cm`` below the rim or deeper."""
    ray, start = get_ray(place), place.start
    if start.z > inside.top_z + 1e-9:  # it comes over the rim, and is bent down there
        ray, start = lean_over(ray, BENT_LEAN_DEG), inside.get_rim_point(start)
    end = start.plus(ray, inside.get_exit_distance(start, ray))
    from_middle = start.x - inside.middle_x
    if end.z > inside.bottom_z + 1e-6 and (end.x - inside.middle_x) * from_middle + end.y * start.y > 0:
        end = _get_foot_of_own_wall(start, inside)
    if end.z > -least_drop_cm and place.lean_deg > BENT_LEAN_DEG:
        ray = lean_over(ray, BENT_LEAN_DEG)
        end = start.plus(ray, inside.get_exit_distance(start, ray))
    if end.z > -least_drop_cm:
        far = inside.get_edge_distance(ray, -least_drop_cm)
        level = Vec(ray.x, ray.y, 0.0).unit if ray.reach > 1e-9 else Vec(0.0, 0.0, 0.0)
        end = Vec(level.x * far + inside.middle_x, level.y * far, -least_drop_cm)
    over = place.start.minus(start).length
    visible, within = get_visible_cm(place), over + start.minus(end).length
    cut = Cut(place, visible, within, round_up_to_step(visible + within, step_cm), end)
    return _hang_in_water(cut, start, over, least_drop_cm, step_cm) if cut.is_too_long else cut


def _get_foot_of_own_wall(start: Vec, inside: Hollow) -> Vec:
    """Where a stem ends that leans less than the wall beside it: it stands along that wall to the floor, or is drawn
    in by a waist and runs on past it."""
    outwards = Vec(start.x - inside.middle_x, start.y, 0.0).unit
    if inside.belly_cm < 0:
        half_way = inside.bottom_z / 2
        at = outwards.scaled(inside.get_edge_distance(outwards, half_way) * _CLEAR_OF_THE_WAIST)
        waist = at.plus(Vec(inside.middle_x, 0.0, half_way))
        ray = waist.minus(start).unit
        return waist.plus(ray, inside.get_exit_distance(waist, ray))
    foot = outwards.scaled(inside.get_edge_distance(outwards, inside.bottom_z))
    return foot.plus(Vec(inside.middle_x, 0.0, inside.bottom_z))


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


def get_foam_cut(place: Place, foam: Hollow | Bed, step_cm: float) -> Cut:
    """The cut of a stem in foam: as deep as its class asks, never within 0.5 cm of the far side."""
    ray, visible = get_ray(place), get_visible_cm(place)
    most = max(0.0, foam.get_exit_distance(place.start, ray) - FOAM_CLEARANCE_CM)
    within = min(get_foam_depth_cm(place.material, visible, foam), most)
    cut = round_up_to_step(visible + within, step_cm)
    shorter = round_down_to_step(visible + most, step_cm)
    if cut - visible > most and shorter >= visible:  # else not one step goes in, which a check then stops
        cut, within = shorter, shorter - visible
    return Cut(place, visible, within, cut, place.start.plus(ray, within))
