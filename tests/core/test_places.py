"""Places: the lattice is even, the placement deterministic and steady, and nothing passes the outline."""

import math
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial import SphericalVoronoi

from mirvel.core.changes import nudge_pieces, rebuild
from mirvel.core.forms.dome import CENTRE_SHARE, GOLDEN_ANGLE, LOWEST, SITES, Dome
from mirvel.core.geometry import Vec, get_clock_hour
from mirvel.core.goods import Catalogue, Role
from mirvel.core.house import HouseRules
from mirvel.core.recipe import Recipe
from mirvel.core.working import work_out
from tests import strategies


def test_dome_lattice_is_even_against_a_spherical_voronoi_diagram() -> None:
    """Reference library: scipy.spatial.SphericalVoronoi. A dome whose spheroid is a sphere, closed below with a
    lattice of the same density; cells of all sites but the lowest ring are measured."""
    dome = Dome(10.0, 10.0 * (1 - CENTRE_SHARE))
    upper = [point.minus(dome.centre).scaled(1 / dome.radius_cm) for point in (site.point for site in dome.get_sites())]
    step = (1 - LOWEST) / SITES
    heights = np.arange(LOWEST - step / 2, -1, -step)
    turns = (SITES + np.arange(len(heights))) * GOLDEN_ANGLE
    around = np.sqrt(1 - heights**2)
    lower = np.column_stack([around * np.sin(turns), around * np.cos(turns), heights])
    areas = SphericalVoronoi(np.vstack([np.array(upper), lower])).calculate_areas()[:SITES]
    ideal = 2 * math.pi * (1 - LOWEST) / SITES
    assert abs(areas / ideal - 1).max() < 0.25  # the very first cells at the crown
    assert abs(areas[5:] / ideal - 1).max() < 0.06


@pytest.mark.parametrize(("above", "radius"), [(15.0, 11.0), (12.0, 18.0), (30.0, 12.0)])
def test_dome_area_against_the_spheroid_by_quadrature(above: float, radius: float) -> None:
    """Area of a surface of revolution, 2π ∫ r ds, by a fine polyline of the profile."""
    dome = Dome(above, radius)
    turns = np.linspace(0, math.acos(LOWEST), 20_001)
    out, up = radius * np.sin(turns), dome.upright_cm * np.cos(turns)
    area = (math.pi * (out[1:] + out[:-1]) * np.hypot(np.diff(out), np.diff(up))).sum()
    assert dome.area_cm2 == pytest.approx(area, rel=1e-3)


@given(hour=st.floats(0.01, 12), radius=st.floats(0.1, 50))
def test_clock_against_its_definition(hour: float, radius: float) -> None:
    turn = math.radians(30 * hour)
    assert get_clock_hour(Vec(radius * math.sin(turn), radius * math.cos(turn), 3.0)) == pytest.approx(hour, abs=1e-6)


BREAKING_THE_OUTLINE = {Role.GREENERY, Role.TEXTURE, Role.FILLER, Role.TRAILING, Role.TOKEN}


@settings(max_examples=60)
@given(recipe=strategies.recipes)
def test_any_recipe_is_placed_within_its_outline(recipe: Recipe) -> None:
    worked = work_out(recipe, strategies.CATALOGUE, HouseRules())
    dome = worked.sizing.dome
    assert len(worked.places) == sum(entry.pieces for entry in recipe.entries)
    for place in worked.places:
        limit = 1.10 if place.entry.role in BREAKING_THE_OUTLINE else 1.001
        # A head wider than the dome cannot be inside it; its tip still is.
        assert dome.get_stretch(place.tip) <= max(limit, place.head.width_cm / dome.radius_cm + 0.3)
        assert place.start.reach <= worked.container.mouth_cm / 2 * math.sqrt(2)
    assert worked.extent.top <= dome.above_rim_cm + 1e-6
    if worked.places:
        assert worked.extent.top == pytest.approx(dome.above_rim_cm)


def test_one_flower_more_moves_few_others(catalogue: Catalogue, slipway: Recipe, rules: HouseRules) -> None:
    before = {(p.entry.id, p.number): p.tip for p in work_out(slipway, catalogue, rules).places}
    more = nudge_pieces(slipway, slipway.entries[-1].id, 1).recipe
    after = {(p.entry.id, p.number): p.tip for p in work_out(more, catalogue, rules).places}
    moved = sum(after[key].minus(tip).length > 1.0 for key, tip in before.items())
    assert moved <= len(before) / 4


def test_each_kind_is_spread_round_the_piece(catalogue: Catalogue, slipway: Recipe, rules: HouseRules) -> None:
    """The practitioner's test, turning the piece: no third of the circle without a rose or a carnation."""
    worked = work_out(slipway, catalogue, rules)
    for slug in ("rose-standard", "carnation-standard", "chrys-daisy-spray"):
        hours = sorted(place.clock_hour for place in worked.places if place.material.slug == slug)
        gaps = [later - earlier for earlier, later in pairwise([*hours, hours[0] + 12])]
        assert max(gaps) < 6.0


def test_two_large_heads_never_stand_side_by_side_at_one_level(
    catalogue: Catalogue, slipway: Recipe, rules: HouseRules
) -> None:
    places = [place for place in work_out(slipway, catalogue, rules).places if place.material.slug == "rose-standard"]
    for number, one in enumerate(places):
        for other in places[number + 1 :]:
            touching = (one.head.width_cm + other.head.width_cm) / 2
            level = abs(one.tip.z - other.tip.z) < 0.05 * one.above_rim_cm
            assert not (level and one.tip.minus(other.tip).length < touching)


def test_delicate_blooms_are_placed_last(catalogue: Catalogue, slipway: Recipe, rules: HouseRules) -> None:
    gerbera = {**slipway.entries[4].model_dump(), "material": "gerbera-mini", "colour": "coral"}
    entries = [gerbera if entry.id == "e5" else entry.model_dump() for entry in slipway.entries]
    worked = work_out(rebuild(slipway, entries=entries), catalogue, rules)
    assert [place.material.delicate for place in worked.places] == sorted(p.material.delicate for p in worked.places)
