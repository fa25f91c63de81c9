"""Looking at a piece from any side: full circles, opposite sides, sections, marks; and every head nine ways."""

import math
import re
import xml.etree.ElementTree as ET
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mirvel.core.changing.changes import add_entry
from mirvel.core.changing.samples import find_sample
from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.facts import HeadForm
from mirvel.core.goods.material import Material
from mirvel.core.house.rules import HouseRules
from mirvel.core.making.water import get_blade_in_water_cm
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.hollows import get_fill_depth_cm
from mirvel.demo import get_catalogue, get_recipes
from mirvel.drawing.blades import trace_blade
from mirvel.drawing.heads.bud import is_furled
from mirvel.drawing.outline import get_breadth, get_profile
from mirvel.drawing.pieces import Brush, draw_piece
from mirvel.drawing.sheet import Style, draw
from mirvel.drawing.studies import draw_studies, draw_study
from mirvel.drawing.symbols import Symbols, define
from mirvel.drawing.view import View, get_eye
from tests.builds import some, work_out

points = st.builds(Vec, *[st.floats(-50, 50)] * 3)


@given(point=points, hour=st.floats(0.1, 12))
def test_a_full_circle_is_where_it_began_and_opposite_sides_mirror(point: Vec, hour: float) -> None:
    eye = get_eye(View.FRONT, hour)
    assert get_eye(View.FRONT, hour + 12).flatten(point) == pytest.approx(eye.flatten(point), abs=1e-6)
    x, y = eye.flatten(point)
    assert get_eye(View.FRONT, hour + 6).flatten(point) == pytest.approx((-x, y), abs=1e-6)
    shift = eye.get_shift(3.0, 2.0)
    moved = eye.flatten(point.plus(shift))
    assert moved == pytest.approx((x + 30, y - 20), abs=1e-6)


def test_a_clock_hour_is_seen_from_its_own_side() -> None:
    """Seen from 9 o'clock, what stands at 9 is nearest and the designer's side is to the right."""
    eye = get_eye(View.FRONT, 9.0)
    assert eye.get_nearness(Vec(-5.0, 0.0, 0.0)) == pytest.approx(5.0)
    assert eye.flatten(Vec(0.0, -5.0, 0.0))[0] == pytest.approx(50.0)


@pytest.mark.parametrize("hour", [6.0, 8.0, 3.0])
@pytest.mark.parametrize(("family", "slug"), [("slipway", "aspidistra"), ("harbour-glass", "monstera")])
def test_a_single_leaf_is_drawn_as_deep_in_the_water_as_it_is_said_to_stand_and_within_the_glass(
    family: str, slug: str, hour: float, catalogue: Catalogue, rules: HouseRules
) -> None:
    recipe = next(each for each in get_recipes() if each.family == family)
    worked = work_out(add_entry(recipe, catalogue, slug, pieces=3).recipe, catalogue, rules)
    build = worked.build
    eye, container = get_eye(View.FRONT, hour), build.container
    surface_z, said_cm = get_fill_depth_cm(container) - container.depth_cm, []
    wet = [each for each in build.cuts if get_blade_in_water_cm(each, container) > 5]
    assert {each.place.material.slug for each in wet if trace_blade(each, build, eye)} == {slug}
    for cut in (each for each in wet if each.place.material.slug == slug):
        points = trace_blade(cut, build, eye)
        (_, rim_y), (_, end_y) = eye.flatten(cut.place.start), eye.flatten(cut.end)
        foot_y = sum(y for _, y in points[len(points) // 2 - 1 :][:2]) / 2
        share_down = (foot_y - rim_y) / (end_y - rim_y)
        dry_cm = cut.inside_cm * (surface_z - cut.place.start.z) / (cut.end.z - cut.place.start.z)
        said_cm.append(get_blade_in_water_cm(cut, container))
        assert share_down * cut.inside_cm - dry_cm == pytest.approx(said_cm[-1], abs=0.3)
        assert all(abs(x) <= 10 * container.mouth_cm / 2 for x, y in points if y > 0)
        wide = max(x for x, _ in points) - min(x for x, _ in points)
        assert wide > 2 * cut.place.material.stem_diameter_mm
    assert max(said_cm) > 10
    assert len(re.findall(r"stands? in the water", " ".join(check.title for check in worked.checks))) == 1
    tied = replace(build, recipe=build.recipe.change(mechanics="tied by hand"))
    assert not any(trace_blade(cut, tied, eye) for cut in build.cuts)


@pytest.mark.parametrize("slug", ["aspidistra", "cordyline", "monstera", "leatherleaf", "bear-grass"])
def test_a_leaf_is_drawn_from_its_own_foot_to_its_own_tip(slug: str, catalogue: Catalogue, rules: HouseRules) -> None:
    """However it bows: what is drawn beside its foot would hang in the air; a blade that is trimmed begins narrow."""
    recipe = next(each for each in get_recipes() if each.family == "slipway")
    build = work_out(add_entry(recipe, catalogue, slug, pieces=5).recipe, catalogue, rules).build
    eye = get_eye(View.FRONT, 6.0)
    for place in (each for each in build.places if each.material.slug == slug):
        symbols = Symbols()
        drawn = draw_piece(place, Brush(eye, symbols, 1.0, 0.0))
        a, b, c, d, x, y = map(float, re.findall(r"matrix\((.*?)\)", drawn)[0].split(","))
        right, up, _ = eye.get_direction(place.axis)
        if math.hypot(right, up) > 0.5:  # what grows towards the eye is shown longer than it is
            assert (x, y) == pytest.approx(eye.flatten(place.head_base), abs=0.2)
        assert (x - 100 * c, y - 100 * d) == pytest.approx(eye.flatten(place.tip), abs=0.2)
        outline = re.findall(r'd="M(.*?)Z?"', next(iter(symbols.drawn.values())))[0]
        pairs = re.findall(r"(-?[\d.]+) (-?[\d.]+)", outline.replace("-", " -"))
        low = [float(at) for at, height in pairs if float(height) > -1]
        assert math.hypot(a, b) * max(map(abs, low), default=0.0) < 3.0


@pytest.mark.parametrize("habit", ["twisted", "fine", "broad"])
def test_a_leaf_that_stands_in_the_water_keeps_its_own_shape_above_it(
    habit: str, catalogue: Catalogue, rules: HouseRules
) -> None:
    """Of a broad blade the upper part shows; what winds about itself or is a tuft is drawn as it is drawn anywhere."""
    recipe = next(each for each in get_recipes() if each.family == "slipway")
    build = work_out(add_entry(recipe, catalogue, "aspidistra", pieces=3).recipe, catalogue, rules).build
    place = next(each for each in build.places if (each.entry.id, each.number) in build.wet_blades)
    place = replace(place, material=place.material.model_copy(update={"habit": habit}))
    eye, drawn = get_eye(View.FRONT, 6.0), []
    for passes in ({}, {(place.entry.id, place.number): 1.0}):
        symbols = Symbols()
        draw_piece(place, Brush(eye, symbols, 1.0, 0.0, passes=passes))
        drawn.append(set(symbols.drawn))
    assert (drawn[0] == drawn[1]) is (habit != "broad")


def get_pieces(svg: str) -> list[tuple[str, str]]:
    return re.findall(r'data-entry="(\w+)" data-piece="(\d+)"', svg)


@pytest.mark.parametrize("name", some(FORMS))
def test_every_form_draws_valid_and_small_from_four_sides_above_and_cut_open(
    name: str, catalogue: Catalogue, rules: HouseRules
) -> None:
    sample = find_sample(FORMS[name], catalogue)
    assert sample is not None
    worked = work_out(sample, catalogue, rules)
    for hour in (6.0, 9.0, 12.0, 3.0):
        svg = draw(worked.build, View.FRONT, Style(hour=hour)).to_svg()
        ET.fromstring(svg)
        assert len(svg) < 250_000 * max(1.0, len(worked.build.places) / 60)
        in_sight = [place for place in worked.build.places if not place.is_inside or worked.build.container.clear]
        assert len(get_pieces(svg)) == len(in_sight)
    above = draw(worked.build, View.PLAN).to_svg()
    assert len(get_pieces(above)) == sum(not place.is_inside for place in worked.build.places)
    cut_open = draw(worked.build, View.SECTION).to_svg()
    ET.fromstring(cut_open)
    assert len(get_pieces(cut_open)) <= len(worked.build.places)


def test_labels_stand_for_entries_and_marks_differ(slipway: Recipe, catalogue: Catalogue, rules: HouseRules) -> None:
    worked = work_out(slipway, catalogue, rules)
    numbered = draw(worked.build, View.PLAN, Style(numbered=True)).to_svg()
    numbers = re.search(r'class="numbers".*', numbered, re.S)
    assert numbers
    assert numbers[0].count("<circle") == len(worked.build.places)
    marked = draw(worked.build, View.PLAN, Style(marked=True)).to_svg()
    assert marked != numbered


def get_heads() -> list[Material]:
    """One material of every form and habit."""
    heads: dict[tuple[str, str], Material] = {}
    for material in get_catalogue().materials.values():
        heads.setdefault((material.form, material.habit), material)
    return list(heads.values())


@pytest.mark.parametrize("material", get_heads(), ids=lambda each: f"{each.form}-{each.habit}")
def test_every_head_is_drawn_nine_ways_and_differs_by_side(material: Material) -> None:
    colour = next(iter(material.colours))
    ET.fromstring(draw_studies(material, colour))

    def look(opening: str, facing: str) -> str:
        symbols = Symbols()
        return draw_study(material, colour, opening, facing, symbols) + define(symbols.drawn)

    assert look("open", "front") != look("open", "behind")
    assert look("open", "front") != look("open", "side") or material.is_ball  # a ball is alike all round
    opens = material.head_open_cm > material.head_tight_cm and material.form is not HeadForm.TWIG
    assert not opens or look("tight", "front") != look("open", "front")
    assert '<use href="#h' in look("tight", "front") or not is_furled(material.form, material.habit, 0.0)


def test_outlines_of_containers_keep_their_rim_and_foot(catalogue: Catalogue) -> None:
    for container in catalogue.containers.values():
        profile = get_profile(container)
        assert profile[0][1] == 0.0
        assert profile[-1][1] == pytest.approx(-container.rim_height_cm)
        assert all(half > 0 for half, _ in profile)
    cube = catalogue.containers["cube-10"]
    assert get_breadth(cube, 1.0, 0.0) == pytest.approx(1.0)
    assert get_breadth(cube, 0.5**0.5, 0.5**0.5) == pytest.approx(2**0.5)  # a square from its corner
