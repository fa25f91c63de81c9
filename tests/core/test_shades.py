"""What hides what: one head or leaf before points, against lines of sight drawn by hand."""

import math

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from shapely import Point, Polygon
from shapely.geometry.base import BaseGeometry

from mirvel.core.goods.facts import HeadForm
from mirvel.core.house.rules import HouseRules
from mirvel.core.making.foam import spread_foam
from mirvel.core.making.shades import Hits, as_rows, get_shades, hide
from mirvel.core.placing.places import Place
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.beds import get_bed
from mirvel.core.vessels.hollows import get_foam
from mirvel.demo import get_catalogue, get_recipes
from tests.builds import work_out

BUILDS = [work_out(each, get_catalogue(), HouseRules()).build for each in get_recipes()[:12]]
PLACES = [place for build in BUILDS for place in build.places if not place.is_inside]
FLAT = [place for place in PLACES if place.material.form in {HeadForm.DAISY, HeadForm.ROSETTE}]
SPIKES = [place for place in PLACES if place.material.form is HeadForm.SPIKE]


def get_way(turn: float, up: float) -> Vec:
    level = math.sqrt(1 - up * up)
    return Vec(level * math.cos(turn), level * math.sin(turn), up)


ways = st.builds(get_way, st.floats(0, 2 * math.pi), st.floats(-1, 1))


def is_hidden(place: Place, point: Vec, towards: Vec) -> bool:
    return bool(hide(get_shades([place]), as_rows([point]), as_rows([towards])[0])[0])


def get_beside(point: Vec, of: Vec, towards: Vec) -> float:
    """How far the line of sight from a point passes beside another."""
    off = of.minus(point)
    return off.plus(towards, -off.dot(towards)).length


@given(place=st.sampled_from(FLAT), towards=ways, turn=ways, out=st.floats(0, 2), behind=st.floats(0.5, 20))
def test_a_flat_head_hides_what_lies_behind_its_disc_and_nothing_else(
    place: Place, towards: Vec, turn: Vec, out: float, behind: float
) -> None:
    facing, half = place.facing, place.half_width_cm
    assume(abs(facing.dot(towards)) > 0.2)
    in_plane = turn.plus(facing, -turn.dot(facing))
    assume(in_plane.length > 0.1)
    spot = place.tip.plus(in_plane.unit, out * half)
    if out < 0.85:
        assert is_hidden(place, spot.plus(towards, -behind), towards)
    # behind its disc a head hides what its side does, which is a little more than an oval of its length and width
    axis = [place.tip.plus(facing, -step / 20 * 1.2 * place.head.length_cm) for step in range(21)]
    if out > 1.1 and min(get_beside(spot, each, towards) for each in axis) > 1.2 * half:
        assert not is_hidden(place, spot.plus(towards, -behind), towards)
    assert not is_hidden(place, spot.plus(towards, 3 * half + behind), towards)


@given(place=st.sampled_from(SPIKES), towards=ways, share=st.floats(0, 1), behind=st.floats(0.2, 20), away=ways)
def test_a_spike_hides_what_lies_behind_it_from_tip_to_foot(
    place: Place, towards: Vec, share: float, behind: float, away: Vec
) -> None:
    spot = place.tip.plus(place.axis, -share * place.shown_length_cm)
    assert is_hidden(place, spot.plus(towards, -behind), towards)
    aside = away.plus(towards, -away.dot(towards))
    assume(aside.length > 0.1)
    moved = spot.plus(aside.unit, 1.1 * place.half_width_cm)
    along = [place.tip.plus(place.axis, -step / 100 * place.shown_length_cm) for step in range(101)]
    if min(get_beside(moved, each, towards) for each in along) > 1.05 * place.half_width_cm:
        assert not is_hidden(place, moved.plus(towards, -behind), towards)
    assert not is_hidden(place, spot.plus(towards, place.shown_length_cm + behind), towards)


@given(towards=ways, first=st.integers(0, len(PLACES) - 30), behind=st.floats(0.1, 15))
@settings(max_examples=20)
def test_many_pieces_hide_of_many_points_what_each_hides_of_each_alone(towards: Vec, first: int, behind: float) -> None:
    places = PLACES[first : first + 30]
    points = [place.tip.plus(place.axis, -2.0).plus(towards, -behind) for place in places]
    together = Hits(places).find(as_rows(points), np.array(towards))
    alone = [[is_hidden(place, point, towards) for place in places] for point in points[::7]]
    assert together[::7].tolist() == alone
    assert hide(get_shades(places), as_rows(points), np.array(towards)).tolist() == together.any(axis=1).tolist()


@pytest.mark.parametrize("above_cm", [2.5, 0.4])
@pytest.mark.parametrize("slug", ["bowl-22", "cube-10", "basket-oval-30"])
def test_points_of_foam_stand_on_its_top_or_its_sides_and_look_out_of_it(slug: str, above_cm: float) -> None:
    foam = get_foam(get_catalogue().containers[slug], above_cm)
    points, ways, each_cm2 = spread_foam(foam)
    for point, way in zip(points.tolist(), ways.tolist(), strict=True):
        at = Vec(*point)
        edge = foam.get_edge_distance(Vec(at.x, at.y, 0.0).unit, at.z) if at.reach > 1e-6 else math.inf
        if way[2] == 1.0:
            assert at.z == pytest.approx(above_cm)
            assert at.reach <= edge + 1e-6
        else:
            assert at.reach == pytest.approx(edge)
            assert 0 < at.z < above_cm
            assert (at.x * way[0] + at.y * way[1]) > 0
    ring = [Vec(math.sin(turn / 99), math.cos(turn / 99), 0.0) for turn in range(622)]
    top, middle = (
        Polygon([way.scaled(foam.get_edge_distance(way, z))[:2] for way in ring]) for z in (above_cm, above_cm / 2)
    )
    over = ways[:, 2] == 1.0
    assert each_cm2[over].sum() == pytest.approx(top.area, rel=0.01)
    assert each_cm2[~over].sum() == pytest.approx(middle.length * above_cm, rel=0.07)
    eighths = {math.atan2(x, y) // (math.pi / 4) % 8 for (x, y, _), way in zip(points, ways, strict=True) if not way[2]}
    assert len(eighths) == 8 or above_cm < 1


@pytest.mark.parametrize("slug", ["ring-foam-30", "cross-foam-60", "heart-foam-33", "saddle-lid-60", "vine-35"])
def test_points_of_a_frames_foam_stand_for_all_of_its_top_and_its_sides(slug: str) -> None:
    """Against shapely: the area and the whole edge, holes and several blocks too."""
    bed = get_bed(get_catalogue().containers[slug])
    reference: BaseGeometry = Polygon()
    for loop in bed.outline.loops:
        reference = reference.symmetric_difference(Polygon(loop))
    points, ways, each_cm2 = spread_foam(bed)
    over = ways[:, 2] == 1.0
    assert each_cm2[over].sum() == pytest.approx(reference.area, rel=0.01)
    assert each_cm2[~over].sum() == pytest.approx(reference.length * bed.thickness_cm, rel=0.02)
    assert set(points[over][:, 2]) == {bed.top_z}
    assert all(reference.buffer(1e-6).contains(Point(point[:2])) for point in points[over])
    sides = points[~over]
    assert ((sides[:, 2] < bed.top_z) & (sides[:, 2] > bed.bottom_z)).all()
    assert all(reference.boundary.distance(Point(point[:2])) < 0.1 for point in sides)
    assert 0 < np.ptp(sides[:, 2]) <= bed.thickness_cm
    out = points[~over] + 0.2 * ways[~over]
    assert sum(reference.contains(Point(point[:2])) for point in out) < len(out) / 20, "but in the notch of a heart"
    assert 150 < len(points) < 400
