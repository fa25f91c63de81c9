"""Drawings: dimension lines that tell the truth, the same bytes every time, valid SVG that says what it shows."""

import os
import re
import subprocess
import sys
import xml.etree.ElementTree as ET

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.facts import Lengthened
from mirvel.core.house.rules import HouseRules
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.values.units import LengthUnit, format_length
from mirvel.core.working import Worked
from mirvel.demo import get_catalogue, get_recipes
from mirvel.drawing.heads import get_art
from mirvel.drawing.palette import get_tones
from mirvel.drawing.sheet import Style, draw, draw_both, draw_standing
from mirvel.drawing.tube import draw_tube
from mirvel.drawing.view import View
from tests import strategies
from tests.builds import work_out

SVG = "{http://www.w3.org/2000/svg}"


def find_dimensions(svg: str) -> dict[str, tuple[float, str]]:
    """Name of each dimension line to its drawn length in mm (read off its path) and its label."""
    found = {}
    for group in ET.fromstring(svg).iter(f"{SVG}g"):
        if group.get("class", "").startswith("dimension"):
            line, label = group.find(f"{SVG}path"), group.find(f"{SVG}text")
            assert line is not None
            assert label is not None
            starts = re.findall(r"M(-?[\d.]+)[ ]?(-?[\d.]+)", line.get("d", ""))[:2]
            (x1, y1), (x2, y2) = ((float(x), float(y)) for x, y in starts)
            upright = group.get("class", "").split()[1] != "width"
            found[group.get("class", "").split()[1]] = (abs(y2 - y1) if upright else abs(x2 - x1), label.text or "")
    return found


@settings(max_examples=25)
@given(recipe=strategies.recipes, unit=st.sampled_from(LengthUnit))
def test_dimension_lines_equal_the_computed_size(recipe: Recipe, unit: LengthUnit) -> None:
    worked = work_out(recipe, strategies.CATALOGUE, HouseRules(unit=unit))
    sizes = {
        "height": worked.build.overall_height_cm,
        "above-rim": worked.build.extent.top,
        "width": worked.build.extent.width_cm,
    }
    for view in View:
        for name, (drawn_mm, label) in find_dimensions(draw(worked.build, view).to_svg()).items():
            assert drawn_mm == pytest.approx(sizes[name] * 10, abs=0.11)
            assert label == format_length(sizes[name], unit)


def test_a_stand_broken_off_shows_the_piece_larger_and_says_how_tall_it_is() -> None:
    cross = next(recipe for recipe in get_recipes() if recipe.family == "evening-bell")
    worked = work_out(cross, strategies.CATALOGUE, HouseRules())
    whole, broken = draw(worked.build, View.FRONT), draw(worked.build, View.FRONT, Style(broken=True))
    assert broken.height_mm < 0.8 * whole.height_mm
    of_whole, of_broken = (find_dimensions(each.to_svg()) for each in (whole, broken))
    assert of_broken["above-rim"][0] == pytest.approx(of_whole["above-rim"][0], abs=0.11)
    assert set(of_whole) - set(of_broken) == {"height"}
    assert f"{format_length(worked.build.overall_height_cm, LengthUnit.CM)} over all" in broken.to_svg()
    ruler = [
        float(text.text or 0)
        for text in ET.fromstring(broken.to_svg()).iter(f"{SVG}text")
        if (text.text or "").isdecimal()
    ]
    assert 0 not in ruler
    assert max(ruler) == max(number for number in range(0, 200, 10) if number <= worked.build.overall_height_cm + 1)


@pytest.fixture(scope="module")
def worked(catalogue: Catalogue, slipway: Recipe, rules: HouseRules) -> Worked:
    return work_out(slipway, catalogue, rules)


def test_the_same_recipe_gives_the_same_bytes_in_any_process(worked: Worked) -> None:
    program = (
        "import sys;from mirvel.demo import *;from mirvel.core.working import work_out;"
        "from mirvel.drawing.sheet import draw_both;"
        "recipe=next(r for r in get_recipes() if r.family=='slipway');"
        "sys.stdout.write(draw_both(work_out(recipe,get_catalogue(),RULES).build).to_svg())"
    )
    environment = {**os.environ, "PYTHONHASHSEED": "12345", "PYTHONPATH": os.pathsep.join(sys.path)}
    other = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, check=True, env=environment)
    assert draw_both(worked.build).to_svg() == draw_both(worked.build).to_svg() == other.stdout


@pytest.mark.parametrize("recipe", get_recipes(), ids=lambda recipe: recipe.family)
def test_every_demo_drawing_is_valid_small_and_says_what_it_shows(
    recipe: Recipe, catalogue: Catalogue, rules: HouseRules
) -> None:
    worked = work_out(recipe, catalogue, rules)
    for svg in (
        draw(worked.build, View.FRONT).to_svg(),
        draw(worked.build, View.PLAN).to_svg(),
        draw_standing(worked.build).to_svg(),
    ):
        root = ET.fromstring(svg)
        assert len(svg.encode()) < 250_000 * max(1.0, len(worked.build.places) / 60)
        assert recipe.name in (root.findtext(f"{SVG}title") or "")
        ids = {element.get("id") for element in root.iter() if element.get("id")}
        uses = {element.get("href", "")[1:] for element in root.iter(f"{SVG}use")}
        assert uses <= ids
    titles = [
        group.findtext(f"{SVG}title") or "" for group in ET.fromstring(draw(worked.build, View.FRONT).to_svg()).iter()
    ]
    said = (
        {f": {worked.build.say_place(place)}" for place in worked.build.places}
        if worked.build.sizing.form.locate
        else {"o’clock"}
    )
    assert sum(any(words in title for words in said) for title in titles) == len(worked.build.places)


def test_what_hangs_behind_the_rim_is_drawn_before_the_vase_and_what_hangs_in_front_after(worked: Worked) -> None:
    svg = draw(worked.build, View.FRONT).to_svg()
    vase = svg.index("in section</title>")
    titles = {
        f"{place.material.name}, {place.entry.colour}: {round(place.clock_hour) or 12} o’clock, {place.level}<": place
        for place in worked.build.places
        if abs(place.tip.y) > 2
    }
    told_apart = {title: place for title, place in titles.items() if svg.count(title) == 1}
    assert len(told_apart) > 10
    assert all((svg.index(title) < vase) == (place.tip.y > 0) for title, place in told_apart.items())


@pytest.mark.parametrize(("slug", "shapes"), [("gerbera-bound", 10), ("orchid-on-stem", 2)])
def test_what_makes_a_stem_longer_is_drawn_along_it(
    catalogue: Catalogue, rules: HouseRules, slug: str, shapes: int
) -> None:
    """A leaf goes ten times and more round each of five stems of half a metre; a tube and its cap stand under heads."""
    recipe = next(each for each in get_recipes() if each.family == "longline")
    bare = catalogue.assemblies[slug].change(lengthened=Lengthened.NOT)
    plain = catalogue.change(assemblies={**catalogue.assemblies, slug: bare})
    drawn, without = (
        len(re.findall(r"<path[^>]*Z", draw(work_out(recipe, goods, rules).build, View.FRONT).body))
        for goods in (catalogue, plain)
    )
    assert drawn - without >= shapes * next(each.pieces for each in recipe.entries if each.material == slug)


def test_every_material_has_a_drawing_of_its_kind_in_its_own_colours() -> None:
    drawn: dict[str, set[str]] = {}
    for material in get_catalogue().materials.values():
        art, grey = get_art(material.form), get_tones("#999999", 0)
        for colour in material.colours.values():
            tones = get_tones(colour, 0)
            if art.face:
                drawing, plain = (art.face(each, material.habit, 0.6) for each in (tones, grey))
            else:
                assert art.axis
                drawing, plain = (art.axis(each, material.habit, 0.3, 1.0, 0.5) for each in (tones, grey))
            assert any(tone in drawing for tone in (tones.base, tones.deep, tones.light))
        drawn.setdefault(plain, set()).add(material.habit)
    assert all(len(habits) == 1 for habits in drawn.values())


def test_the_tube_shows_room_left_and_overflow(
    worked: Worked, slipway: Recipe, catalogue: Catalogue, rules: HouseRules
) -> None:
    assert "£0.16 left" in draw_tube(worked)
    dear = slipway.change(price_point=28)
    assert re.search(r"£3\.\d\d over", draw_tube(work_out(dear, catalogue, rules)))
