"""Looking at a piece from any side: full circles, opposite sides, sections, marks; and every head nine ways."""

import re
import xml.etree.ElementTree as ET

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mirvel.core.changing.samples import find_sample
from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.facts import HeadForm
from mirvel.core.goods.material import Material
from mirvel.core.house.rules import HouseRules
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.space.vectors import Vec
from mirvel.demo import get_catalogue
from mirvel.drawing.heads.bud import is_furled
from mirvel.drawing.outline import get_breadth, get_profile
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
