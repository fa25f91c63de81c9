"""A recipe built: size, places, cuts and mechanics; all that follows from facts and rules, and from no cost."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from mirvel.core.forms.locating import Located
from mirvel.core.forms.surface import Frame
from mirvel.core.goods.container import Container, ContainerKind
from mirvel.core.goods.facts import Mechanics
from mirvel.core.house.design import Balance, Levels
from mirvel.core.house.rules import HouseRules
from mirvel.core.making.bases import SOAKED_G_PER_ML, BasePlan, get_base_plan
from mirvel.core.making.closing import find_closing
from mirvel.core.making.cuts import Cut, get_cuts
from mirvel.core.making.pressing import hold_together, press, press_to_tops
from mirvel.core.making.rim import get_rim_seen
from mirvel.core.making.showing import ROUNDS, Key, bring_out, get_seen, is_free_to_come_out
from mirvel.core.making.sight import Look, Sight, get_looks, get_sides, get_sights
from mirvel.core.making.standing import Stand, Standing, get_hang_cm, get_stand, get_standing
from mirvel.core.making.timeline import Timeline, find_timeline
from mirvel.core.making.water import Water, find_wet_blades, get_foam_water, get_vase_water
from mirvel.core.placing.finding import locate, say, say_at, say_lean
from mirvel.core.placing.holders import get_foam_seen
from mirvel.core.placing.meeting import measure
from mirvel.core.placing.met import Measuring, Met
from mirvel.core.placing.pieces import Piece
from mirvel.core.placing.places import Extent, Place, get_extent
from mirvel.core.placing.placing import get_arranged, get_pieces, get_places
from mirvel.core.placing.settling import Laid
from mirvel.core.placing.size import Sizing, get_sizing
from mirvel.core.recipe.recipe import Density, Recipe
from mirvel.core.recipe.taking import Taken
from mirvel.core.space.vectors import UPRIGHT, Vec
from mirvel.core.values.units import get_step_cm
from mirvel.core.vessels.beds import Bed

_STEM_SHOWS_CM = 0.5  # with less there is nothing that leans
_SEEN = ("seen", "rim_seen")  # kept with a build once they are found
_SAT_ON = {Mechanics.FOAM: "foam", Mechanics.PIN_HOLDER: "pins", Mechanics.TIED: "tie"}


@dataclass(frozen=True)
class Build:
    """A recipe's size, places and cuts: all that follows from facts and rules, and from no cost."""

    recipe: Recipe
    rules: HouseRules
    container: Container
    sizing: Sizing
    places: tuple[Place, ...]
    extent: Extent
    cuts: tuple[Cut, ...]
    base: BasePlan
    stand: Stand
    sights: tuple[Sight, ...]
    met: Mapping[str, tuple[Met, ...]]  # of each entry that says what it means, its wishes measured

    @property
    def stand_cm(self) -> float:
        """How high the stand is that it is hung on; 0 without one."""
        return self.stand.height_cm

    @property
    def table_cm(self) -> float:
        """How far the table (or the ground) lies below the middle of the mouth: the rim's height, half a mouth lying on
        its side, or what a stand lifts it."""
        form = self.sizing.form
        if form.pose == UPRIGHT:
            return self.container.rim_height_cm
        if form.lies:
            return self.container.rim_halves_cm[1]
        return get_hang_cm(self.stand_cm, self.container, self.extent)

    @property
    def overall_height_cm(self) -> float:
        """Table to the highest point: of the flowers, of a handle over them, or of the stand."""
        if self.sizing.form.hangs:
            return max(self.stand_cm, self.table_cm + self.extent.top)
        return self.table_cm + max(self.extent.top, self.container.height_cm - self.container.rim_height_cm)

    def look(self) -> "Build":
        """The same with what is seen of it, which takes long to find, found beforehand."""
        _ = self.seen, self.rim_seen
        return self

    def take_up(self, recipe: Recipe) -> "Build":
        """The same for a recipe that differs in nothing that is built; what is seen of it stays as it was found."""
        again = replace(self, recipe=recipe)
        again.__dict__.update({name: self.__dict__[name] for name in _SEEN if name in self.__dict__})
        return again

    def locate(self, place: Place) -> Located:
        """Where a piece goes, as it is found on the work."""
        return locate(place, self.sizing.form, self.frame)

    def say_place(self, place: Place) -> str:
        """The same in words, with lengths in the shop's unit."""
        return say(self.locate(place), self.rules.unit)

    def say_lean(self, place: Place) -> str:
        """How the stem of a piece leans, or hangs, where there is any between its head and where it goes in."""
        if place.visible_cm < _STEM_SHOWS_CM:
            return f"sits on the {_SAT_ON.get(self.recipe.mechanics, 'rim')}"
        return say_lean(place.lean_deg)

    def say_at(self, point: Vec) -> str:
        """Any point of the piece in the words its places have."""
        return say_at(point, self.sizing.form, self.frame, self.rules.unit)

    @property
    def bed(self) -> Bed | None:
        """A frame's foam as this recipe lies in it."""
        return self.frame.bed

    @property
    def frame(self) -> Frame:
        """The frame as it lies in the finished piece; ``sizing`` has it as the form is built, left and right not
        exchanged."""
        frame = self.sizing.frame
        mirrored = frame.bed.mirrored if frame.bed and self.recipe.arranging.mirrored else frame.bed
        return replace(frame, bed=mirrored)

    @property
    def foam_to_buy_ml(self) -> float:
        """What of its foam has to be bought beside its container."""
        return 0.0 if self.base.foam is None or self.container.foam_included else self.base.foam.volume_ml

    def get_entry_cuts(self, entry_id: str) -> tuple[Cut, ...]:
        """The cuts of one entry's pieces, in order."""
        return tuple(cut for cut in self.cuts if cut.place.entry.id == entry_id)

    @cached_property
    def wet_blades(self) -> Mapping[Key, float]:
        """The single leaves of whose blade more stands in the water than is trimmed off, and how much, cm."""
        found = find_wet_blades(self.cuts, self.recipe.mechanics, self.container)
        return {(cut.place.entry.id, cut.place.number): blade_cm for cut, blade_cm in found}

    @cached_property
    def standing(self) -> Standing:
        """What it weighs soaked, and how firmly it stands."""
        foam_g = self.base.foam.soaked_g if self.base.foam else 0.0
        pose = self.sizing.form.pose
        return get_standing(self.container, self.cuts, foam_g, self.stand_cm, pose, self.table_cm, self.rules)

    @property
    def tips_soon(self) -> bool:
        """Whether it falls sooner than the shop lets a piece fall; what is tied in the hand, lies, or hangs on no stand
        of its own does not stand."""
        form = self.sizing.form
        stands = self.stand_cm > 0 or not (self.container.kind is ContainerKind.TIE or form.lies or form.hangs)
        return stands and self.standing.tip_deg < self.rules.least_tip_deg

    @cached_property
    def seen(self) -> Mapping[Key, float]:
        """The share that is seen of each head the piece is made for."""
        return get_seen(self.places, get_sides(self.sizing.form, self.recipe.brief.seen_from).values())

    @cached_property
    def rim_seen(self) -> Mapping[str, float]:
        """The share that is seen from each side of the tape or wire at its rim; nothing where it is held otherwise."""
        if self.recipe.mechanics not in {Mechanics.TAPE_GRID, Mechanics.NETTING}:
            return {}
        return get_rim_seen(self.places, self.container, get_sides(self.sizing.form, self.recipe.brief.seen_from))

    @cached_property
    def water(self) -> Water:
        """The water it has without refill."""
        if self.base.foam:
            return get_foam_water(self.cuts, self.base.foam.soaked_g / SOAKED_G_PER_ML, self.rules)
        return get_vase_water(self.cuts, self.container, self.rules)

    @cached_property
    def timeline(self) -> Timeline | None:
        """What is done when for its service, if its times are known."""
        service = self.recipe.brief.service
        hours = max((place.material.condition_hours for place in self.places), default=0)
        if service is None:
            return None
        return find_timeline(service, self.recipe.minutes, self.standing.drain_minutes, hours)

    @property
    def bench_extent(self) -> Extent:
        """The box it fills as it lies on the bench while it is made."""
        if not self.sizing.form.hangs:
            return self.extent
        return get_extent(self.places, self.container.halves_cm, UPRIGHT)


def get_build(taken: Taken, rules: HouseRules) -> Build:
    """The part of the work that no cost decides. Raises BadInput when the size cannot be."""
    recipe, container = taken.recipe, taken.container
    pieces = get_pieces(taken, rules)
    footprints = sum(piece.head.footprint_cm2 for piece in pieces if piece.material.is_bloom and not piece.zone)
    sizing = get_sizing(recipe, container, footprints, rules)
    pieces = hold_together(pieces, sizing.fullness)
    looks = _get_looks(recipe, container, sizing)
    laid = get_places(pieces, recipe, container, sizing, rules)
    if not sizing.form.only_listed:
        is_paired = get_arranged(recipe, sizing.form, rules).balance is Balance.SYMMETRIC
        mirror = sizing.form.mirror if is_paired else None
        laid = _close(laid, pieces, looks, mirror)
        laid = _show(laid, list(get_sides(sizing.form, recipe.brief.seen_from).values()), mirror)
    places = press_to_tops(laid.places)
    cuts = get_cuts(places, recipe, container, get_step_cm(rules.unit))
    build = Build(
        recipe=recipe,
        rules=rules,
        container=container,
        sizing=sizing,
        places=places,
        extent=get_extent(places, container.halves_cm, sizing.form.pose),
        cuts=cuts,
        base=get_base_plan(recipe, container, cuts),
        stand=get_stand(taken),
        sights=get_sights(places, looks),
        met=_measure(recipe, container, sizing, laid.places, rules),
    )
    return _mirror(build) if recipe.arranging.mirrored else build


def _measure(
    recipe: Recipe, container: Container, sizing: Sizing, places: tuple[Place, ...], rules: HouseRules
) -> Mapping[str, tuple[Met, ...]]:
    """What is meant by entries against the places of the form as it is built, left and right not exchanged yet."""
    among = Measuring(places, sizing.surface, container.height_cm, rules.unit)
    mirrored = recipe.arranging.mirrored
    return {
        entry.id: measure(entry.id, entry.meant.across if mirrored else entry.meant, among)
        for entry in recipe.entries
        if entry.meant.is_said
    }


def _get_looks(recipe: Recipe, container: Container, sizing: Sizing) -> tuple[Look, ...]:
    """What is looked at of a piece: its foam and, where its flowers are meant to close it, the form."""
    form = sizing.form
    sides = get_sides(form, recipe.brief.seen_from)
    through = set(sides)
    if form.lies or not form.covers or recipe.size.density is Density.AIRY:
        through = set()  # its flowers are not meant to close it, or it lies, and nothing stands behind it
    elif form.arranging.levels is Levels.ONE_LEVEL and not form.covers_frame:
        through &= {"above"}  # between heads cut to one level there is air
    return get_looks(sizing.surface, get_foam_seen(recipe, container), sides, through)


def _close(laid: Laid, pieces: tuple[Piece, ...], looks: Sequence[Look], mirror: Vec | None) -> Laid:
    """A recipe laid with what closes it where its foam would be seen: all the others keep their places."""
    moved = find_closing(pieces, press(laid.places), laid.settling, looks, mirror)
    return laid.move(moved) if moved else laid


def _show(laid: Laid, sides: Sequence[Vec], mirror: Vec | None) -> Laid:
    """The same with what the piece is made for brought out, a little at a time, where it stands behind others."""
    for _ in range(ROUNDS if any(map(is_free_to_come_out, laid.places)) else 0):
        moved = bring_out(laid.places, get_seen(press(laid.places), sides), mirror)
        if not moved:
            break
        laid = laid.move(moved)
    return laid


def _mirror(build: Build) -> Build:
    """The finished piece with left and right exchanged: its places, cuts and foam, and where on it things were found.
    Done last, so that everything before is measured on the form as it is."""
    cuts = tuple(cut.across(build.container.vessels) for cut in build.cuts)
    places = tuple(cut.place for cut in cuts)
    return replace(
        build,
        places=places,
        extent=get_extent(places, build.container.halves_cm, build.sizing.form.pose),
        cuts=cuts,
        sights=tuple(sight.across() for sight in build.sights),
    )
