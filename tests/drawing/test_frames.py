"""Frames as they are drawn: on their stand, lying, cut through, and the plan of their holes and bricks."""

import math
import re
import xml.etree.ElementTree as ET

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.facts import HeadForm, Role
from mirvel.core.house.rules import HouseRules
from mirvel.core.placing.places import EDGE_OF_BLADE, get_blade_share
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.space.vectors import Vec
from mirvel.core.values.units import LengthUnit
from mirvel.core.vessels.bricks import get_joints
from mirvel.core.working import Worked
from mirvel.demo import get_recipes
from mirvel.drawing.frames import get_intervals, get_stand
from mirvel.drawing.holes import draw_holes
from mirvel.drawing.palette import FOAM
from mirvel.drawing.sheet import Style, draw
from mirvel.drawing.view import View
from tests.builds import work_out
from tests.strategies import CATALOGUE

SVG = "{http://www.w3.org/2000/svg}"
SYMPATHY = {recipe.name: recipe for recipe in get_recipes() if recipe.brief.occasion == "funeral"}


def make(name: str, unit: LengthUnit = LengthUnit.CM) -> Worked:
    return work_out(SYMPATHY[name], CATALOGUE, HouseRules(unit=unit))


def find_group(svg: str, title: str) -> ET.Element:
    return next(
        group for group in ET.fromstring(svg).iter(f"{SVG}g") if (group.findtext(f"{SVG}title") or "").startswith(title)
    )


def read_points(data: str) -> list[tuple[float, float]]:
    numbers = [float(number) for number in re.findall(r"-?\d*\.?\d+", data)]
    return list(zip(numbers[::2], numbers[1::2], strict=True))


def test_only_what_hangs_has_a_stand() -> None:
    for recipe in SYMPATHY.values():
        build = make(recipe.name).build
        assert bool(get_stand(build)) is bool(build.stand_cm) is build.sizing.form.hangs


HANGING = [recipe for recipe in SYMPATHY.values() if FORMS[recipe.form].hangs]


@pytest.mark.parametrize("recipe", HANGING, ids=lambda recipe: recipe.name)
def test_a_stand_reaches_from_the_ground_to_its_own_height(recipe: Recipe) -> None:
    worked = make(recipe.name)
    top, *feet, behind = get_stand(worked.build)
    assert {round(foot.y, 6) for foot in (*feet, behind)} == {round(-worked.build.table_cm, 6)}
    assert top.y + worked.build.table_cm == pytest.approx(worked.build.stand_cm)
    legs = find_group(draw(worked.build, View.FRONT).to_svg(), "stand")
    heights = [y for _, y in read_points(legs.find(f"{SVG}path").get("d", ""))]  # type: ignore[union-attr]
    assert max(heights) - min(heights) == pytest.approx(10 * worked.build.stand_cm, abs=0.2)
    broken = find_group(draw(worked.build, View.FRONT, Style(broken=True)).to_svg(), "stand")
    assert len(broken.findall(f"{SVG}path")) > len(legs.findall(f"{SVG}path"))  # with the marks of what goes on


@pytest.mark.parametrize(
    ("name", "blocks"), [("Evening Bell 195", 1), ("Harbour Light, ring 140", 2), ("Long Shore 195", 1)]
)
def test_a_section_shows_foam_where_the_cut_meets_it(name: str, blocks: int) -> None:
    worked = make(name)
    assert worked.build.bed
    assert len(get_intervals(worked.build.bed, 1)) == blocks
    drawn = find_group(draw(worked.build, View.SECTION).to_svg(), worked.build.container.name)
    assert "cut through" in (drawn.findtext(f"{SVG}title") or "")
    closed = [each.get("d", "") for each in drawn.findall(f"{SVG}path") if each.get("d", "").endswith("Z")]
    assert len(closed) == 2 * blocks  # foam, and the board or cage behind it
    stems = [each for each in drawn.findall(f"{SVG}path") if each.get("fill") == "none"]
    assert len(stems) >= 8


@pytest.mark.parametrize("unit", list(LengthUnit))
def test_the_plan_of_holes_is_found_by_arms_on_a_cross_and_by_the_clock_on_a_ring(unit: LengthUnit) -> None:
    cross, ring = (draw_holes(make(name, unit).build).to_svg() for name in ("Evening Bell 195", "Still Harbour 95"))
    assert 'class="clock"' in ring
    assert 'class="clock"' not in cross
    guide = next(group for group in ET.fromstring(cross).iter(f"{SVG}g") if group.get("class") == "guide")
    told = [float(text.text or 0) for text in guide.iter(f"{SVG}text")]
    assert told.count(20.0 if unit is LengthUnit.CM else 8.0) == 4  # on every arm
    dashed = [each for each in ET.fromstring(cross).iter(f"{SVG}path") if each.get("stroke-dasharray") == "4 3"]
    assert len(dashed) == len(get_joints(CATALOGUE.containers["cross-frame-76"]))


@pytest.mark.parametrize(("name", "wide_mm", "high_mm"), [("Evening Bell 195", 460, 760), ("Driftline 140", 460, 460),
                         ("Harbour Light, ring 140", 400, 400), ("Homeward 280", 600, 200)])  # fmt: skip
def test_the_plan_measures_the_bare_frame_beside_the_finished_piece(name: str, wide_mm: float, high_mm: float) -> None:
    worked = make(name)
    told = {
        (group.get("class") or "").removeprefix("dimension "): float(group.get("data-mm") or 0)
        for group in ET.fromstring(draw(worked.build, View.PLAN).to_svg()).iter(f"{SVG}g")
        if (group.get("class") or "").startswith("dimension")
    }
    assert told == {
        "width": pytest.approx(10 * worked.build.bench_extent.width_cm, abs=0.06),
        "frame-width": pytest.approx(wide_mm, abs=0.5),
        "frame-height": pytest.approx(high_mm, abs=0.5),
    }


def test_a_bows_tails_hang_down_from_wherever_it_is_seen() -> None:
    worked = make("Evening Bell 195")
    for view in (View.FRONT, View.PLAN):
        svg = draw(worked.build, view).to_svg()
        bow = next(group for group in ET.fromstring(svg).iter(f"{SVG}g") if group.get("data-entry") == "e1")
        face = list(bow.iter(f"{SVG}use"))[-1].get("transform", "")
        a, b, c, d, _, _ = (float(part) for part in re.findall(r"-?\d*\.?\d+(?:e-?\d+)?", face))
        assert d > 0  # what points down in the bow points down in the picture
        assert abs(b) + abs(c) == pytest.approx(0, abs=0.02 * abs(a))
    assert sum(place.entry.role is Role.TOKEN for place in worked.build.places) == 1


directions = st.tuples(*[st.floats(-1, 1)] * 3).map(lambda parts: Vec(*parts)).filter(lambda way: way.length > 0.1)


@given(axis=directions, towards=directions)
def test_a_leaf_shows_between_its_edge_and_all_of_its_width(axis: Vec, towards: Vec) -> None:
    fern = next(good for good in CATALOGUE.materials.values() if good.form is HeadForm.FROND)
    share = get_blade_share(fern, axis.unit, towards.unit)
    assert EDGE_OF_BLADE - 1e-9 <= share <= 1 + 1e-9
    assert get_blade_share(fern, Vec(0.0, 0.0, 1.0), towards.unit) == 1.0


@given(turn=st.floats(0, 2 * math.pi))
def test_a_level_branch_is_seen_in_full_from_above_and_from_its_edge_level_with_it(turn: float) -> None:
    fern = next(good for good in CATALOGUE.materials.values() if good.form is HeadForm.FROND)
    level = Vec(math.cos(turn), math.sin(turn), 0.0)
    assert get_blade_share(fern, level, Vec(0.0, 0.0, 1.0)) == pytest.approx(1.0)
    assert get_blade_share(fern, level, Vec(-level.y, level.x, 0.0)) == pytest.approx(EDGE_OF_BLADE)


def test_a_horn_is_cut_along_its_middle_whichever_side_was_looked_at() -> None:
    winkle = next(each for each in get_recipes() if each.family == "winkle")
    build = work_out(winkle, CATALOGUE, HouseRules()).build
    cuts = {str(draw(build, View.SECTION, Style(hour=hour)).body) for hour in (3.0, 6.0, 9.0, 12.0)}
    assert len(cuts) == 1
    assert "in section" in (cut := cuts.pop())
    assert cut.count(FOAM) == 1
