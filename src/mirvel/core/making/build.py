"""A recipe built: size, places, cuts and mechanics; all that follows from facts and rules, and from no cost."""

from dataclasses import dataclass

from mirvel.core.forms.locating import Located
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.container import Container
from mirvel.core.house.rules import HouseRules
from mirvel.core.making.bases import SOAKED_G_PER_ML, BasePlan, get_base_plan
from mirvel.core.making.cover import Cover, get_cover
from mirvel.core.making.cuts import Cut, get_cuts
from mirvel.core.making.sight import Sight, get_looks, get_sights
from mirvel.core.making.standing import Standing, get_hang_cm, get_stand_cm, get_standing
from mirvel.core.making.timeline import Timeline, get_timeline
from mirvel.core.making.water import Water, get_water
from mirvel.core.placing.finding import locate, say
from mirvel.core.placing.holders import get_holder
from mirvel.core.placing.places import Extent, Place, get_extent
from mirvel.core.placing.placing import get_pieces, get_places
from mirvel.core.placing.size import Sizing, get_sizing
from mirvel.core.recipe.recipe import Density, Recipe
from mirvel.core.space.vectors import UPRIGHT
from mirvel.core.values.units import get_step_cm
from mirvel.core.vessels.beds import Bed


@dataclass(frozen=True)
class Made:
    """What these checks look at; ``foam_ml`` is what of its foam has to be bought beside its container."""

    recipe: Recipe
    sizing: Sizing
    places: tuple[Place, ...]
    cover: Cover | None
    sights: tuple[Sight, ...]
    foam_ml: float
    standing: Standing
    stand_cm: float
    water: Water
    timeline: Timeline | None


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
    stand_cm: float
    cover: Cover | None
    sights: tuple[Sight, ...]

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

    def locate(self, place: Place) -> Located:
        """Where a piece goes, as it is found on the work."""
        return locate(place, self.sizing, mirrored=self.recipe.arranging.mirrored)

    def say_place(self, place: Place) -> str:
        """The same in words, with lengths in the shop's unit."""
        return say(self.locate(place), self.rules.unit)

    @property
    def bed(self) -> Bed | None:
        """A frame's foam as this recipe lies in it."""
        holder = get_holder(self.recipe, self.container, mirrored=self.recipe.arranging.mirrored)
        return holder if isinstance(holder, Bed) else None

    @property
    def standing(self) -> Standing:
        """What it weighs soaked, and how firmly it stands."""
        foam_g = self.base.foam.soaked_g if self.base.foam else 0.0
        pose = self.sizing.form.pose
        return get_standing(self.container, self.cuts, foam_g, self.stand_cm, pose, self.table_cm)

    @property
    def water(self) -> Water:
        """The water it has without refill."""
        foam = self.base.foam.soaked_g / SOAKED_G_PER_ML if self.base.foam else 0.0
        return get_water(self.cuts, foam, self.container.water_ml)

    @property
    def timeline(self) -> Timeline | None:
        """What is done when for its service, if its times are known."""
        service = self.recipe.brief.service
        hours = max((place.material.condition_hours for place in self.places), default=0)
        if service is None:
            return None
        return get_timeline(service, self.recipe.minutes, self.standing.drain_minutes, hours)

    @property
    def bench_extent(self) -> Extent:
        """The box it fills as it lies on the bench while it is made."""
        if not self.sizing.form.hangs:
            return self.extent
        return get_extent(self.places, self.container.halves_cm, UPRIGHT)


def get_build(recipe: Recipe, catalogue: Catalogue, rules: HouseRules) -> Build:
    """The part of the work that no cost decides. Raises UnknownGoods, BadInput."""
    container = catalogue.get_container(recipe.container)
    pieces = get_pieces(recipe, catalogue, rules)
    footprints = sum(piece.head.footprint_cm2 for piece in pieces if not piece.material.is_leaf and not piece.zone)
    sizing = get_sizing(recipe, container, footprints, rules)
    places = get_places(pieces, recipe, container, sizing, rules)
    cuts = get_cuts(places, recipe, container, get_step_cm(rules.unit))
    return Build(
        recipe=recipe,
        rules=rules,
        container=container,
        sizing=sizing,
        places=places,
        extent=get_extent(places, container.halves_cm, sizing.form.pose),
        cuts=cuts,
        base=get_base_plan(recipe, container, cuts),
        stand_cm=get_stand_cm(recipe, catalogue),
        cover=get_cover(places, sizing.surface) if sizing.form.covers_frame else None,
        sights=_get_sights(recipe, sizing, places),
    )


def _get_sights(recipe: Recipe, sizing: Sizing, places: tuple[Place, ...]) -> tuple[Sight, ...]:
    """What is seen of a piece whose flowers are meant to close it, from where it is looked at."""
    form = sizing.form
    if not form.covers or recipe.size.density is Density.AIRY:
        return ()
    frame = sizing.frame
    bed = frame.bed.mirrored if frame.bed and recipe.arranging.mirrored else frame.bed
    return get_sights(places, sizing.surface, bed, get_looks(hangs=form.hangs, seen_from=recipe.brief.seen_from))


def _get_made(build: Build) -> Made:
    return Made(
        recipe=build.recipe,
        sizing=build.sizing,
        places=build.places,
        cover=build.cover,
        sights=build.sights,
        foam_ml=0.0 if build.base.foam is None or build.container.foam_included else build.base.foam.volume_ml,
        standing=build.standing,
        stand_cm=build.stand_cm,
        water=build.water,
        timeline=build.timeline,
    )
