"""The share of foam that is said to be seen against the pixels of the drawing: foam painted in a colour that nothing
else has, with the piece before it and without."""

import io
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from mirvel.core.house.rules import HouseRules
from mirvel.core.making.build import Build
from mirvel.core.recipe.recipe import Recipe
from mirvel.demo import get_catalogue, get_recipes
from mirvel.drawing.palette import FOAM_IN_SHADE
from mirvel.drawing.sheet import draw
from mirvel.drawing.view import View
from tests.browser.driving import Page
from tests.builds import work_out

NAMES = (
    *("Fender 58", "Low Tide 58", "Breakwater 98", "Harbour Light, basket 95", "Quiet Water 95", "Haven 65"),
    *("Harbour Light, ring 140", "Harbour Light, heart 140", "Driftline 140"),
)


def count_cm2(build: Build, view: View, page: Page, folder: Path) -> float:
    """How much of the foam's colour shows, by the drawing's own scale."""
    drawing = draw(build, view)
    scale = min(1000 / drawing.width_mm, 1000 / drawing.height_mm)
    svg = str(drawing.to_svg(width=drawing.width_mm * scale, height=drawing.height_mm * scale))
    file = folder / "foam.html"
    file.write_text(f"<body style='margin:0'>{svg.replace(FOAM_IN_SHADE, '#ff00ff')}", "utf-8")
    page.driver.get(file.as_uri())
    shot = np.array(Image.open(io.BytesIO(page.driver.get_screenshot_as_png())).convert("RGB")).astype(int)
    red, green, blue = shot[..., 0], shot[..., 1], shot[..., 2]
    return int(((red > 200) & (green < 90) & (blue > 200)).sum()) / scale**2 / 100


@pytest.mark.parametrize("name", NAMES)
def test_foam_said_to_be_seen_is_what_shows_on_the_drawing_within_nine_points(
    page: Page, name: str, tmp_path: Path
) -> None:
    recipe = next(each for each in get_recipes() if each.name == name)
    said, shows = compare(recipe, page, tmp_path)
    assert said == pytest.approx(shows, abs=0.09)


@pytest.mark.parametrize("name", ["Fender 58", "Harbour Light, ring 140"])
@pytest.mark.parametrize("twig", ["birch-twig", "willow-curly", "dogwood-red"])
def test_twigs_alone_hide_next_to_nothing(page: Page, name: str, twig: str, tmp_path: Path) -> None:
    recipe = next(each for each in get_recipes() if each.name == name)
    colour = next(iter(get_catalogue().materials[twig].colours))
    twigs = {"id": "e1", "material": twig, "colour": colour, "role": "line", "pieces": 9}
    said, shows = compare(recipe.change(entries=[twigs]), page, tmp_path)
    assert said == pytest.approx(shows, abs=0.09)
    assert shows > 0.9


def compare(recipe: Recipe, page: Page, tmp_path: Path) -> tuple[float, float]:
    """The share of a recipe's foam that is said to be seen, and that shows."""
    build = work_out(recipe, get_catalogue(), HouseRules()).build
    hangs = build.sizing.form.hangs
    view, side = (View.FRONT, "front") if hangs else (View.PLAN, "above")
    page.set_viewport(1000, 1000)
    bare = count_cm2(replace(build, places=(), cuts=()), view, page, tmp_path)
    shows = count_cm2(build, view, page, tmp_path) / bare
    return next(sight.foam for sight in build.sights if sight.side == side), shows
