"""What holds the stems, drawn bare: its measures are those of the container and of what the recipe asks for."""

import math
import re
from xml.etree import ElementTree

import pytest

from mirvel.core.goods.container import MouthShape
from mirvel.core.goods.facts import Mechanics
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.vessels.beds import has_bed
from mirvel.demo import RULES, get_catalogue, get_recipes
from mirvel.drawing.mechanics import draw_mechanics, get_views
from mirvel.drawing.outline import get_half_at, get_profile
from tests.builds import work_out


def read_measures(family: str) -> list[dict[str, float]]:
    """Of each drawing of a recipe's mechanics what it measures, mm, by the length its line is drawn."""
    recipe = next(each for each in get_recipes() if each.family == family)
    build = work_out(recipe, get_catalogue(), RULES).build
    found = []
    for view in get_views(build):
        svg = ElementTree.fromstring(draw_mechanics(build, view, 12.0).to_svg())
        lines: dict[str, float] = {}
        for group in svg.iter("{http://www.w3.org/2000/svg}g"):
            name = (group.get("class") or "").partition("dimension ")[2]
            if name:
                data = next(each.get("d") or "" for each in group.iter("{http://www.w3.org/2000/svg}path"))
                points = [float(part) for part in re.findall(r"-?\d+(?:\.\d+)?", data)]
                lines[name] = max(abs(points[4] - points[0]), abs(points[5] - points[1]))
                assert lines[name] == pytest.approx(float(group.get("data-mm") or 0), abs=0.2)
        found.append(lines)
    return found


def is_round_glass(recipe: Recipe) -> bool:
    container = get_catalogue().get_container(recipe.container)
    held_by_glass = recipe.mechanics in {Mechanics.NATURAL, Mechanics.TAPE_GRID, Mechanics.NETTING}
    return held_by_glass and container.shape is MouthShape.ROUND and not has_bed(container)


@pytest.mark.parametrize(
    "recipe", [each for each in get_recipes() if is_round_glass(each)], ids=lambda recipe: recipe.name
)
def test_stems_in_a_round_vessel_stay_within_its_outline_as_it_is_drawn(recipe: Recipe) -> None:
    """Necks, bellies and waists too, from where they pass the rim down to their ends."""
    build = work_out(recipe, get_catalogue(), RULES).build
    profile, offsets = get_profile(build.container), build.container.vessel_offsets
    for cut in (cut for cut in build.cuts if not (cut.place.is_inside or cut.place.start.z > 0)):
        way = cut.end.minus(cut.place.start)
        for at in (cut.place.start.plus(way, share / 50) for share in range(51)):
            out = math.hypot(at.x - offsets[cut.place.vessel], at.y)
            assert out <= get_half_at(profile, at.z), cut.place.entry.material


def test_a_vase_is_measured_with_its_water_and_the_cells_of_its_tape() -> None:
    """Two strips each way part a mouth of a usual width into three."""
    section, plan = read_measures("slipway")
    recipe = next(each for each in get_recipes() if each.family == "slipway")
    vase = get_catalogue().get_container(recipe.container)
    assert section["height"] == pytest.approx(10 * vase.rim_height_cm, abs=0.1)
    assert 0.6 * 10 * vase.depth_cm < section["water"] < 10 * vase.depth_cm
    assert plan["cell"] == pytest.approx(10 * vase.mouth_cm / 3, abs=0.2)


def test_foam_is_measured_over_its_rim_and_a_frame_once() -> None:
    section, _ = read_measures("fender")
    fender = next(each for each in get_recipes() if each.family == "fender")
    assert section["above-rim"] == pytest.approx(10 * fender.foam_above_rim_cm, abs=0.1)
    (plan,) = read_measures("evening-bell")
    assert set(plan) == {"frame-width", "frame-height"}
    assert len(read_measures("winkle")) == 1
