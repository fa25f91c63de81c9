"""What is said to be seen against the pixels of the drawing: foam painted in a colour that nothing else has, with the
piece before it and without; heads by what the drawing is without them."""

import io
import math
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from numpy.typing import NDArray
from PIL import Image

from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.facts import AXIAL_FORMS, HeadForm, Mechanics, PieceSize
from mirvel.core.house.rules import HouseRules
from mirvel.core.judging.check import CLOUDS
from mirvel.core.making.build import Build
from mirvel.core.making.shades import get_shades, hide
from mirvel.core.making.showing import get_seen
from mirvel.core.making.sight import get_sides
from mirvel.core.placing.places import Place
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.space.vectors import Vec
from mirvel.demo import get_catalogue, get_recipes
from mirvel.drawing.palette import FOAM_IN_SHADE
from mirvel.drawing.sheet import draw
from mirvel.drawing.view import View
from tests.browser.driving import Page
from tests.builds import some, work_out

UP = Vec(0.0, 0.0, 1.0)
FOAM = [each for each in get_recipes() if each.mechanics is Mechanics.FOAM]
SEEN = [
    (each, view)
    for each in FOAM
    for view in ((View.FRONT,) if FORMS[each.form].hangs else (View.PLAN, View.FRONT))
    if not FORMS[each.form].lies
]
TAPED = [each for each in get_recipes() if each.family in {"slipway", "plimsoll", "reed-bed", "tide-ladder", "kelp"}]
# More is said than shows: of a low rim of foam behind moss, behind stems on a ring, and under leaves that are rolled.
MORE_SAID = {("eelgrass", View.FRONT), ("mooring", View.FRONT), ("groyne", View.PLAN)}


Shot = NDArray[np.int_]


def count_each(
    builds: list[Build], view: View, page: Page, folder: Path, cell: int, paint: str = FOAM_IN_SHADE
) -> list[float]:
    """How much of what is painted so shows of each, cm², by the drawings' own scale: drawn so many pixels wide and
    high, in rows of ten."""
    drawings = [draw(build, view) for build in builds]
    scales = [min(cell / each.width_mm, cell / each.height_mm) for each in drawings]
    cells = [
        f"<div style='position:absolute;left:{at % 10 * cell}px;top:{at // 10 * cell}px'>"
        f"{each.to_svg(width=each.width_mm * scale, height=each.height_mm * scale)}</div>"
        for at, (each, scale) in enumerate(zip(drawings, scales, strict=True))
    ]
    file = folder / "foam.html"
    file.write_text(f"<body style='margin:0'>{''.join(cells).replace(paint, '#ff00ff')}", "utf-8")
    page.set_viewport(cell * min(10, len(cells)), cell * math.ceil(len(cells) / 10))
    page.driver.get(file.as_uri())
    shot = np.array(Image.open(io.BytesIO(page.driver.get_screenshot_as_png())).convert("RGB")).astype(int)
    red, green, blue = shot[..., 0], shot[..., 1], shot[..., 2]
    foam = (red > 200) & (green < 90) & (blue > 200)
    return [
        int(foam[at // 10 * cell : (at // 10 + 1) * cell, at % 10 * cell : (at % 10 + 1) * cell].sum()) / scale**2 / 100
        for at, scale in enumerate(scales)
    ]


@pytest.mark.parametrize(("recipe", "view"), some(SEEN), ids=lambda each: getattr(each, "name", each))
def test_foam_said_to_be_seen_is_what_shows_on_the_drawing_within_nine_points(
    page: Page, recipe: Recipe, view: View, tmp_path: Path
) -> None:
    """Nearly all of them within seven."""
    said, shows = compare(recipe, page, tmp_path, view)
    assert said > shows - 0.09
    assert said < shows + 0.09 or (recipe.family, view) in MORE_SAID


@pytest.mark.parametrize("name", ["Homeward 280", "Harbour Light, lid spray 280", "Saltpan 95"])
def test_no_less_is_said_than_shows_of_half_the_flowers_of_what_lies(page: Page, name: str, tmp_path: Path) -> None:
    """The stems between them hide some of it."""
    recipe = next(each for each in get_recipes() if each.name == name)
    said, shows = compare(recipe.change(entries=recipe.entries[1::2]), page, tmp_path, View.FRONT)
    assert said > shows - 0.05


@pytest.mark.parametrize("name", ["Fender 58", "Harbour Light, ring 140"])
@pytest.mark.parametrize("twig", ["birch-twig", "willow-curly", "dogwood-red"])
def test_twigs_alone_hide_next_to_nothing(page: Page, name: str, twig: str, tmp_path: Path) -> None:
    recipe = next(each for each in get_recipes() if each.name == name)
    colour = next(iter(get_catalogue().materials[twig].colours))
    twigs = {"id": "e1", "material": twig, "colour": colour, "role": "line", "pieces": 9}
    said, shows = compare(recipe.change(entries=[twigs]), page, tmp_path)
    assert said == pytest.approx(shows, abs=0.07)
    assert shows > 0.9


def test_flowers_said_to_be_seen_show_as_much_on_the_drawing(page: Page, tmp_path: Path) -> None:
    """A third of the heads of a cross, clouds left out, each with the others before it and alone: within half of its
    own area, and on the whole within a sixth; a head is looked at in seven points, or sixteen."""
    recipe = next(each for each in get_recipes() if each.family == "evening-bell")
    build = work_out(recipe, get_catalogue(), HouseRules()).build
    front = get_sides(build.sizing.form, recipe.brief.seen_from)["front"]
    said = get_seen(build.places, [front])
    file = tmp_path / "piece.html"
    drawn = draw(build, View.FRONT).to_svg(width=600, height=800)
    file.write_text(f"<body style='margin:0'><style id=hiding></style>{drawn}", "utf-8")
    page.driver.get(file.as_uri())

    def shoot(hidden: str) -> Shot:
        page.driver.execute_script(
            "document.getElementById('hiding').textContent = arguments[0]", f"{hidden} {{ visibility: hidden }}"
        )
        picture = Image.open(io.BytesIO(page.driver.get_screenshot_as_png()))
        return np.array(picture.convert("RGB")).astype(int)

    whole, bare = shoot("none"), shoot("[data-piece]")
    heads = [each for each in build.places if (each.entry.id, each.number) in said and each.facing.dot(front) > 0.5]
    off = []
    for head in [each for each in heads if each.material.form not in CLOUDS][::3]:
        key = f'[data-entry="{head.entry.id}"][data-piece="{head.number}"]'
        without, alone = shoot(key), shoot(f"[data-piece]:not({key})")
        shown, most = ((abs(one - other).sum(axis=2) > 30).sum() for one, other in ((whole, without), (alone, bare)))
        off.append(abs(said[head.entry.id, head.number] - shown / most))
    assert len(off) > 9
    assert max(off) < 1 / 2
    assert sum(off) / len(off) < 1 / 6


@pytest.mark.parametrize("recipe", TAPED, ids=lambda each: each.family)
def test_tape_said_to_be_seen_is_what_shows_on_the_drawing(page: Page, recipe: Recipe, tmp_path: Path) -> None:
    """Within a fifth: a strip half a centimetre wide, between the lobes of leaves."""
    build = work_out(recipe, get_catalogue(), HouseRules()).build
    bare, shows = count_each(
        [replace(build, places=(), cuts=()), build], View.FRONT, page, tmp_path, 800, '#ffffff" opacity="0.45'
    )
    assert bare > 1
    assert build.rim_seen["front"] == pytest.approx(shows / bare, abs=0.2)


LEAVES_AND_SPIKES = {form for form in AXIAL_FORMS if form is not HeadForm.TWIG}  # twigs: above
ONE_OF_EACH = {
    (material.form, material.habit, material.is_axial): material.slug
    for material in reversed(list(get_catalogue().materials.values()))
    if material.form in LEAVES_AND_SPIKES or not material.is_axial
}


def test_each_kind_alone_hides_as_much_as_is_painted_of_it(page: Page, tmp_path: Path) -> None:
    """A leaf or spike lying over a large frame's foam; a head facing up over it, and on its side. Within a third, but
    for what is so thin that its outline is most of it."""
    recipe = next(each for each in get_recipes() if each.name == "Homeward 280")
    build = work_out(recipe, get_catalogue(), HouseRules()).build
    places = [place for slug in ONE_OF_EACH.values() for place in lay_alone(recipe, slug)]
    builds = [replace(build, places=found, cuts=()) for found in ((), *((place,) for place in places))]
    bare, *shown = count_each(builds, View.PLAN, page, tmp_path, 300)
    line = np.linspace(-30, 30, 241)
    points = np.array([(x, y, 4.0) for x in line for y in line])
    for place, foam in zip(places, shown, strict=True):
        said = hide(get_shades([place]), points, np.array(UP)).sum() / 16
        assert said == pytest.approx(bare - foam, rel=0.35, abs=5), place.material.slug


def lay_alone(recipe: Recipe, slug: str) -> list[Place]:
    """A piece as it lies over the foam of a frame or, if it has a face, as it faces up and to one side."""
    material = get_catalogue().materials[slug]
    entry = {"id": "e1", "material": slug, "colour": next(iter(material.colours)), "role": "filler", "pieces": 1}
    alone = recipe.change(entries=[{**entry, "piece": PieceSize.LATERAL}])
    (place,) = work_out(alone, get_catalogue(), HouseRules()).build.places
    long, wide = place.head.length_cm, place.head.width_cm
    if material.is_axial:
        return [replace(place, start=Vec(-long / 2 - 1, 0.0, 6.0), tip=Vec(long / 2, 0.0, 6.01), facing=UP)]
    facing = [(UP, 0.0)] if material.is_laid else [(UP, 0.0), (Vec(1.0, 0.0, 0.0), long / 2)]
    return [replace(place, start=Vec(0, 0, 4), tip=Vec(x, 0.0, wide + 5), facing=way) for way, x in facing]


def compare(recipe: Recipe, page: Page, tmp_path: Path, view: View = View.PLAN) -> tuple[float, float]:
    """The share of a recipe's foam that is said to be seen, and that shows."""
    build = work_out(recipe, get_catalogue(), HouseRules()).build
    view = View.FRONT if build.sizing.form.hangs else view
    side = "front" if view is View.FRONT else "above"
    bare, shows = count_each([replace(build, places=(), cuts=()), build], view, page, tmp_path, 800)
    return next(sight.foam for sight in build.sights if sight.side == side), shows / bare
