"""Cut lengths against plane geometry done here on its own, and the laws every cut obeys."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mirvel.core.changing.samples import find_sample
from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.container import Container
from mirvel.core.goods.facts import Mechanics, PieceSize
from mirvel.core.goods.heads import get_growth_cm, get_head
from mirvel.core.house.rules import HouseRules
from mirvel.core.making.cuts import get_cuts, get_foam_cuts, get_visible_cm
from mirvel.core.placing.places import Place
from mirvel.core.recipe.recipe import Brief, Recipe, Size, SizeMode
from mirvel.core.space.vectors import Vec
from mirvel.core.values.units import get_step_cm
from mirvel.core.vessels.hollows import (
    END_UNDER_WATER_CM,
    FOAM_CLEARANCE_CM,
    LEAST_IN_FOAM_CM,
    Hollow,
    get_fill_depth_cm,
    get_inside,
)
from mirvel.demo import get_recipes
from tests import strategies
from tests.builds import work_out


def make_place(recipe: Recipe, catalogue: Catalogue, start: Vec, lean_deg: float, length: float, hour: float) -> Place:
    """A rose whose stem shows ``length`` cm from ``start``, leaning towards a clock hour."""
    material = catalogue.materials["rose-standard"].model_copy(update={"stem_length_cm": 199.0})
    turn, lean = math.radians(30 * hour), math.radians(lean_deg)
    along = Vec(math.sin(turn) * math.sin(lean), math.cos(turn) * math.sin(lean), math.cos(lean))
    head = get_head(material, PieceSize.STEM, 0, 0.6)
    tip = start.plus(along, length + head.length_cm)
    return Place(recipe.entries[4], material, 1, head, tip, along, start, 0.0, 20.0)


@pytest.mark.parametrize("lean_deg", [0.0, 5.0, 12.0, 25.0, 33.0])
@pytest.mark.parametrize("hour", [3.0, 7.3])
@pytest.mark.parametrize("vase", ["cylinder-10x20", "flare-20", "flare-25"])
def test_a_vase_stem_meets_the_far_wall_or_floor(
    catalogue: Catalogue, slipway: Recipe, vase: str, hour: float, lean_deg: float
) -> None:
    """In the plane of axis and stem: the stem's line from its own rim against the lines of far wall and floor,
    each pair solved as two equations; the nearer crossing below the rim is the end."""
    container = catalogue.containers[vase]
    inside = get_inside(container)
    mouth, foot, depth = inside.top_half_cm, inside.bottom_half_cm, container.depth_cm
    turn, lean = math.radians(30 * hour), math.radians(lean_deg)
    start = Vec(mouth * math.sin(turn), mouth * math.cos(turn), 0.0)
    stem = np.array([-math.sin(lean), -math.cos(lean)])  # towards the axis and down
    runs = []
    for at, along in (((-mouth, 0.0), (mouth - foot, -depth)), ((0.0, -depth), (1.0, 0.0))):
        if abs(stem[0] * along[1] - stem[1] * along[0]) > 1e-12:
            distance, _ = np.linalg.solve(np.column_stack([stem, -np.array(along)]), np.array(at) - [mouth, 0.0])
            runs.append(distance)
    along_its_wall = (
        math.tan(lean) * depth <= mouth - foot
    )  # it leans less than its own wall, along which it then stands
    expected = math.hypot(depth, mouth - foot) if along_its_wall else min(run for run in runs if run > 1e-9)
    recipe = slipway.model_copy(update={"mechanics": Mechanics.NATURAL})
    place = make_place(recipe, catalogue, start, lean_deg, 12.0, hour)
    (cut,) = get_cuts((place,), recipe, container, 0.5)
    assert cut.visible_cm == pytest.approx(12.0)
    assert cut.inside_cm == pytest.approx(expected, abs=1e-6)
    # The closed form of the same: z = min(D, 2Rm/(tan θ + (Rm − Rb)/D)), inside = z / cos θ.
    down = min(depth, 2 * mouth / (math.tan(lean) + (mouth - foot) / depth))
    assert cut.inside_cm == pytest.approx(expected if along_its_wall else down / math.cos(lean), abs=1e-6)


@given(
    half=st.floats(3, 15),
    taper=st.floats(-0.3, 0.3),
    share=st.floats(0, 1),
    turn=st.floats(0, 2 * math.pi),
    lean=st.floats(0, 75),
    square=st.booleans(),
    ratio=st.floats(0.25, 1.0),
    middle=st.floats(-20, 20),
    belly=st.sampled_from([-0.25, 0.0, 0.4]),
    necked=st.booleans(),
)
def test_a_ray_leaves_a_hollow_where_small_steps_find_its_edge(
    half: float,
    taper: float,
    share: float,
    turn: float,
    lean: float,
    square: bool,
    ratio: float,
    middle: float,
    belly: float,
    necked: bool,
) -> None:
    """Round, square, oval and oblong, straight, bellied, waisted and necked, beside others or alone."""
    hollow = Hollow(half, half * (1 - taper), 2.0, -12.0, square, ratio, middle, belly * half, necked=necked)
    start = Vec(middle + half * share * math.cos(turn), ratio * half * share * math.sin(turn), 2.0)
    tilt = math.radians(lean)
    ray = Vec(math.sin(tilt) * math.cos(turn * 3), math.sin(tilt) * math.sin(turn * 3), -math.cos(tilt))

    def is_inside(run: float) -> bool:
        point = start.plus(ray, run)
        width = hollow.get_half_width(point.z)
        x, y = point.x - middle, point.y / ratio
        across = max(abs(x), abs(y)) if square else math.hypot(x, y)
        return point.z >= -12.0 and across <= width

    distance = hollow.get_exit_distance(start, ray)
    assert is_inside(distance * 0.999 - 1e-6) or distance < 1e-3
    assert distance > 1e-3 or not is_inside(0.01)
    assert not is_inside(distance * 1.001 + 1e-6)
    level = Vec(math.cos(turn), ratio * math.sin(turn), 0.0)
    (edge,) = hollow.get_edge_distances(np.array([level[:2]]), -3.0)
    assert edge == pytest.approx(hollow.get_edge_distance(level, -3.0))


@settings(max_examples=60)
@given(recipe=strategies.recipes, rules=strategies.rules)
def test_every_cut_is_its_visible_and_inside_part_rounded_up(recipe: Recipe, rules: HouseRules) -> None:
    worked = work_out(recipe, strategies.CATALOGUE, rules)
    step = get_step_cm(rules.unit)
    for cut in worked.build.cuts:
        assert -1e-6 <= cut.cut_cm - cut.raw_cm < step
        assert cut.cut_cm / step == pytest.approx(round(cut.cut_cm / step), abs=1e-6)
        assert cut.visible_cm == pytest.approx(cut.place.measured_to.minus(cut.place.start).length, abs=1e-6)


@settings(max_examples=25)
@given(recipe=strategies.recipes.filter(lambda each: each.mechanics is not Mechanics.FOAM))
def test_every_stem_that_stands_in_water_ends_well_below_it(recipe: Recipe) -> None:
    build = work_out(recipe, strategies.CATALOGUE, HouseRules()).build
    floor = -build.container.depth_cm
    drinks_to = max(floor + get_fill_depth_cm(build.container) - END_UNDER_WATER_CM, floor)
    assert all(cut.end.z <= drinks_to + 1e-6 for cut in build.cuts if not cut.place.material.is_laid)


@pytest.mark.parametrize("depth", [2.0, 3.0, 4.2, 4.6, 9.0])
def test_foam_cuts_stay_inside_the_foam_rounding_included(catalogue: Catalogue, slipway: Recipe, depth: float) -> None:
    """Straight down into foam ``depth`` deep: 3.8 cm (common practice, no published source) where it has room,
    and never within 0.5 cm of the far side, nor by rounding."""
    foam = Hollow(6.0, 6.0, 0.0, -depth, square=False)
    place = make_place(slipway, catalogue, Vec(0, 0, 0), 0.0, 10.2, 12.0)
    (cut,) = get_foam_cuts([place], foam, 0.5)
    assert cut.cut_cm - cut.visible_cm <= max(0.0, depth - FOAM_CLEARANCE_CM) + 1e-9
    assert 0 <= cut.cut_cm - cut.raw_cm < 0.5
    usual = cut.inside_cm == pytest.approx(3.8) and cut.cut_cm == 14.0
    assert usual is (depth == 9.0)


@given(
    mouth=st.floats(4, 30),
    foot=st.floats(4, 30),
    depth=st.floats(5, 50),
    share=st.floats(0.1, 0.9),
    belly=st.none() | st.floats(10, 50),
)
def test_water_depth_gives_back_its_volume(
    mouth: float, foot: float, depth: float, share: float, belly: float | None
) -> None:
    """The volume of an inside, straight or bellied, by thin slices."""
    shape: dict[str, object] = {"belly_cm": belly}
    shape |= {"shape": "taper", "mouth_cm": mouth, "base_cm": foot, "depth_cm": depth, "height_cm": depth + 0.8}
    probe = Container(slug="v", name="v", water_ml=1.0, cost="1", **shape)
    inside = get_inside(probe)
    levels = np.linspace(-depth, -depth + depth * share, 4001)
    radii = np.array([inside.get_half_width(z) for z in (levels[1:] + levels[:-1]) / 2])
    volume = float((math.pi * radii**2).sum() * (levels[1] - levels[0]))
    filled = probe.model_copy(update={"water_ml": volume})
    assert get_fill_depth_cm(filled) == pytest.approx(depth * share, rel=1e-4)


@pytest.mark.parametrize(("days", "growth_cm"), [(0, 0.0), (2, 5.0), (9, 7.0)])
def test_growth_is_taken_off_and_capped(catalogue: Catalogue, slipway: Recipe, days: int, growth_cm: float) -> None:
    """Tulips grow about 2.5 cm a day (common practice, no published source); the cap of 7 cm is ours."""
    tulip = catalogue.materials["rose-standard"].model_copy(update={"growth_cm_per_day": 2.5, "opens_in_days": None})
    assert get_growth_cm(tulip, days) == growth_cm
    goods = catalogue.model_copy(update={"materials": {**catalogue.materials, "rose-standard": tulip}})
    recipe = slipway.model_copy(update={"brief": Brief(days_to_viewing=days)})
    tulips = [
        place for place in work_out(recipe, goods, HouseRules()).build.places if place.material.slug == tulip.slug
    ]
    for place in tulips:
        shown = place.measured_to.minus(place.start).length
        assert get_visible_cm(place) == pytest.approx(max(0.0, shown - growth_cm))
    assert len(tulips) == 5


@pytest.mark.parametrize(("depth_cm", "holds"), [(6.5, True), (1.6, False)])
def test_foam_too_thin_to_hold_is_stopped_and_no_cut_is_below_what_shows(
    catalogue: Catalogue, slipway: Recipe, rules: HouseRules, depth_cm: float, holds: bool
) -> None:
    saucer = catalogue.containers["bowl-15"].model_copy(update={"depth_cm": depth_cm})
    goods = catalogue.model_copy(update={"containers": {**catalogue.containers, "bowl-15": saucer}})
    foamed = {"mechanics": Mechanics.FOAM, "container": "bowl-15", "foam_above_rim_cm": 0.0}
    size = Size(mode=SizeMode.OWN, own_height_cm=20.5, own_width_cm=23.0)
    worked = work_out(slipway.model_copy(update={**foamed, "size": size}), goods, rules)
    assert all(cut.cut_cm >= cut.visible_cm for cut in worked.build.cuts)
    assert all(cut.inside_cm >= LEAST_IN_FOAM_CM for cut in worked.build.cuts) is holds
    assert ("shallow" in {check.id for check in worked.checks}) is not holds


@pytest.mark.parametrize("family", ["net-loft", "lee-side"])
def test_pins_and_the_tie_by_plane_geometry(catalogue: Catalogue, rules: HouseRules, family: str) -> None:
    """On pins a stem is what shows and 1.5 cm more; through a tie it runs straight on to the level it is cut at, as
    steep as it leans above, but never flatter than 32° (assumptions of ours)."""
    recipe = next(each for each in get_recipes() if each.family == family)
    worked = work_out(recipe, catalogue, rules)
    for cut in worked.build.cuts:
        shows = math.dist(cut.place.start, cut.place.measured_to)
        assert cut.visible_cm == pytest.approx(shows)
        assert -1e-6 <= cut.cut_cm - (cut.visible_cm + cut.inside_cm) < 0.5
        if family == "net-loft":
            assert cut.inside_cm == pytest.approx(1.5)
        else:
            lean = math.radians(min(cut.place.lean_deg, 32.0))
            assert cut.end.z == pytest.approx(-worked.build.container.depth_cm)
            assert cut.inside_cm == pytest.approx(worked.build.container.depth_cm / math.cos(lean))


def test_a_leaf_that_lines_a_vase_is_no_longer_than_the_vase_is_deep(catalogue: Catalogue, rules: HouseRules) -> None:
    """It stands against the glass from its floor to under its rim, so that none is folded over or shows above."""
    sample = find_sample(FORMS["leaf-lined"], catalogue)
    assert sample
    for slug in ("cylinder-10x20", "cylinder-15x20"):
        build = work_out(sample.change(container=slug), catalogue, rules).build
        linings = [cut for cut in build.cuts if cut.place.is_inside]
        deep = catalogue.containers[slug].depth_cm
        assert len(linings) == sample.entries[0].pieces
        assert all(0.75 * deep < cut.cut_cm <= deep < cut.place.head.length_cm for cut in linings)
