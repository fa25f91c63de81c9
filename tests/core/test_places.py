"""Places: the lattice is even, the placement deterministic and steady, and nothing passes the outline."""

import math
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial import SphericalVoronoi
from shapely import Point, Polygon, unary_union

from mirvel.core.changing.changes import nudge_pieces
from mirvel.core.forms.form import Form
from mirvel.core.forms.kinds import FORMS
from mirvel.core.forms.kinds.dome import CENTRE_SHARE, get_dome_lobe
from mirvel.core.forms.locating import Located
from mirvel.core.forms.surface import GOLDEN_ANGLE, Frame, Lobe, get_area_cm2, keep_all, spread_sites
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.facts import Role
from mirvel.core.house.rules import HouseRules
from mirvel.core.placing.finding import say_within
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.space.vectors import Vec, get_clock_hour
from mirvel.core.values.units import LengthUnit
from mirvel.demo import get_recipes
from tests.builds import work_out


def get_frame(above: float, half_width: float, half_depth: float = 0.0) -> Frame:
    return Frame(above, half_width, half_depth or half_width, 7.0, 7.0)


def test_dome_lattice_is_even_against_a_spherical_voronoi_diagram() -> None:
    """Reference library (source: spherical-voronoi). A dome whose spheroid is a sphere, closed below with a
    lattice of the same density; cells of all sites but the lowest ring are measured."""
    frame = get_frame(10.0, 10.0 * (1 - CENTRE_SHARE))
    lobe = get_dome_lobe(frame)
    sites = spread_sites((lobe,), frame, keep_all)
    upper = [site.point.minus(lobe.centre).scaled(1 / lobe.half.z) for site in sites]
    step = (1 - lobe.lowest) / len(sites)
    heights = np.arange(lobe.lowest - step / 2, -1, -step)
    turns = (len(sites) + np.arange(len(heights))) * GOLDEN_ANGLE
    around = np.sqrt(1 - heights**2)
    lower = np.column_stack([around * np.sin(turns), around * np.cos(turns), heights])
    areas = SphericalVoronoi(np.vstack([np.array(upper), lower])).calculate_areas()[: len(sites)]
    ideal = 2 * math.pi * (1 - lobe.lowest) / len(sites)
    assert abs(areas / ideal - 1).max() < 0.25  # the very first cells at the crown
    assert abs(areas[5:] / ideal - 1).max() < 0.06


@pytest.mark.parametrize(("above", "radius"), [(15.0, 11.0), (12.0, 18.0), (30.0, 12.0)])
def test_dome_area_against_the_spheroid_by_quadrature(above: float, radius: float) -> None:
    """Area of a surface of revolution, 2π ∫ r ds, by a fine polyline of the profile."""
    frame = get_frame(above, radius)
    lobe = get_dome_lobe(frame)
    turns = np.linspace(0, math.acos(lobe.lowest), 20_001)
    out, up = radius * np.sin(turns), lobe.half.z * np.cos(turns)
    area = (math.pi * (out[1:] + out[:-1]) * np.hypot(np.diff(out), np.diff(up))).sum()
    assert get_area_cm2((lobe,), frame, keep_all) == pytest.approx(area, rel=1e-3)


def test_area_of_an_ellipsoid_against_its_formula() -> None:
    """The approximation of an ellipsoid's area, p = 1.6075, off by 1.061 % at most (source: ellipsoid-area)."""
    half, p = Vec(20.0, 9.0, 6.0), 1.6075
    (a, b, c) = (part**p for part in half)
    thomsen = 4 * math.pi * ((a * b + a * c + b * c) / 3) ** (1 / p)
    whole = get_area_cm2((Lobe(Vec(0, 0, 0), half),), get_frame(6.0, 20.0, 9.0), keep_all)
    assert whole == pytest.approx(thomsen, rel=0.0115)


@pytest.mark.parametrize("form", [form for form in FORMS.values() if form.only_listed is False], ids=lambda f: f.name)
def test_outlines_against_shapely(form: Form) -> None:
    """Reference library: shapely. The outline seen from the front is drawn as a polygon from the surface's own
    points; every site projects inside it, and a single full ellipsoid's outline has the ellipse's area and middle."""
    frame = get_frame(20.0, 16.0, 16.0 * form.proportions.depth)
    lobes = form.lobes(frame)
    turns = np.linspace(0, 2 * math.pi, 721)
    shapes = []
    for lobe in lobes:
        cos, sin, power = np.cos(turns), np.sin(turns), 2 / lobe.power
        x = lobe.centre.x + lobe.half.x * np.sign(sin) * abs(sin) ** power
        z = lobe.centre.z + lobe.half.z * np.sign(cos) * abs(cos) ** power
        shapes.append(Polygon(np.column_stack([x, z])))
        assert shapes[-1].centroid.distance(Point(lobe.centre.x, lobe.centre.z)) < 1e-6
        # An ellipse has the area π a b; what bulges more than one, or less, has more or less.
        over = shapes[-1].area / (math.pi * lobe.half.x * lobe.half.z) - 1
        assert abs(over) < 1e-3 or (over > 0) == (lobe.power > 2.0)
    outline = unary_union(shapes).buffer(1e-3)
    assert all(outline.covers(Point(site.point.x, site.point.z)) for site in spread_sites(lobes, frame, form.keep))


@given(hour=st.floats(0.01, 12), radius=st.floats(0.1, 50))
def test_clock_against_its_definition(hour: float, radius: float) -> None:
    turn = math.radians(30 * hour)
    assert get_clock_hour(Vec(radius * math.sin(turn), radius * math.cos(turn), 3.0)) == pytest.approx(hour, abs=1e-6)


def test_one_flower_more_moves_few_others(catalogue: Catalogue, slipway: Recipe, rules: HouseRules) -> None:
    before = {(p.entry.id, p.number): p.tip for p in work_out(slipway, catalogue, rules).build.places}
    more = nudge_pieces(slipway, slipway.entries[-1].id, 1).recipe
    after = {(p.entry.id, p.number): p.tip for p in work_out(more, catalogue, rules).build.places}
    moved = sum(after[key].minus(tip).length > 1.0 for key, tip in before.items())
    assert moved <= len(before) / 4


def test_each_kind_is_spread_round_the_piece(catalogue: Catalogue, slipway: Recipe, rules: HouseRules) -> None:
    """The practitioner's test, turning the piece: no third of the circle without a rose or a carnation."""
    worked = work_out(slipway, catalogue, rules)
    for slug in ("rose-standard", "carnation-standard", "chrys-daisy-spray"):
        hours = sorted(place.clock_hour for place in worked.build.places if place.material.slug == slug)
        gaps = [later - earlier for earlier, later in pairwise([*hours, hours[0] + 12])]
        assert max(gaps) < 6.0


def test_two_large_heads_never_stand_side_by_side_at_one_level(
    catalogue: Catalogue, slipway: Recipe, rules: HouseRules
) -> None:
    places = [
        place for place in work_out(slipway, catalogue, rules).build.places if place.material.slug == "rose-standard"
    ]
    for number, one in enumerate(places):
        for other in places[number + 1 :]:
            touching = (one.head.width_cm + other.head.width_cm) / 2
            level = abs(one.tip.z - other.tip.z) < 0.05 * one.above_rim_cm
            assert not (level and one.tip.minus(other.tip).length < touching)


@pytest.mark.parametrize("family", ["slipway", "fender", "cuttle-cube", "low-tide"])
def test_the_highest_flower_ends_at_the_height_that_is_told(
    family: str, catalogue: Catalogue, rules: HouseRules
) -> None:
    """Also where a wide head sets it, whose edge would pass the outline: without the line stems of a piece."""
    recipe = next(each for each in get_recipes() if each.family == family)
    axial = {slug for slug, material in catalogue.materials.items() if material.is_axial}
    kept = [each for each in recipe.entries if each.role is Role.GREENERY or each.material not in axial]
    worked = work_out(recipe.change(entries=[each.model_dump() for each in kept]), catalogue, rules)
    assert worked.build.extent.top == pytest.approx(worked.build.frame.above_rim_cm, abs=0.01)


def test_delicate_blooms_are_placed_last(catalogue: Catalogue, slipway: Recipe, rules: HouseRules) -> None:
    gerbera = {**slipway.entries[4].model_dump(), "material": "gerbera-mini", "colour": "coral"}
    entries = [gerbera if entry.id == "e5" else entry.model_dump() for entry in slipway.entries]
    worked = work_out(slipway.change(entries=entries), catalogue, rules)
    assert [place.material.delicate for place in worked.build.places] == sorted(
        p.material.delicate for p in worked.build.places
    )


@pytest.mark.parametrize(
    ("located", "told"),
    [(Located("left arm", 18.0, "top", "left arm"), "18 cm"), (Located("4:30 o’clock", None, "top", "top"), "4:30"),
     (Located("crossing", None, "top", "crossing"), "")],
)  # fmt: skip
def test_within_its_part_a_place_is_said_as_short_as_it_can_be(located: Located, told: str) -> None:
    assert say_within(located, LengthUnit.CM) == told
