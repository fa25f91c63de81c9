"""Where a head ends and where its stem enters, each piece for itself: within the outline, clear of the table, over the
rim or in the foam, with room for its neighbours."""

import math
from dataclasses import replace
from itertools import combinations
from random import Random

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mirvel.core.forms.form import Entering
from mirvel.core.forms.kinds import FORMS
from mirvel.core.forms.surface import Frame, Lobe
from mirvel.core.goods.facts import Mechanics, Role
from mirvel.core.house.rules import HouseRules
from mirvel.core.placing.entry_points import Entrances, Stem, get_start
from mirvel.core.placing.places import Extent, get_blade_share, get_head_extent
from mirvel.core.placing.tips import get_tip
from mirvel.core.recipe.entry import Outline
from mirvel.core.recipe.meant import Facing, Height, HeightKind, Meant
from mirvel.core.space.segments import get_distances
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.hollows import Hollow, get_ways_down
from mirvel.demo import get_catalogue, get_recipes
from tests.builds import work_out
from tests.pieces import make_piece

RIM_CM = 20.0
FRAME = Frame(20.0, 16.0, 14.0, 6.0, 6.0, rim_height_cm=RIM_CM)
FORMS_WITH_LOBES = [form for form in FORMS.values() if form.lobes(FRAME) and not form.only_listed and not form.lies]
GLASS = Hollow(6.0, 4.0, 0.0, -18.0, square=False)
FOAM = Hollow(5.6, 5.6, 3.0, -7.0, square=False)
names = st.sampled_from([form.name for form in FORMS_WITH_LOBES])
shares = st.floats(0, 1)


def end(
    name: str, at: float, shell: float, material: str, role: Role, wide: float, outline: Outline
) -> tuple[Vec, Vec, Vec, Lobe]:
    """A piece on some site of a surface: its tip, the site's point and way out, and the lobe it belongs to."""
    surface = FORMS[name].get_surface(FRAME)
    sites = [site for site in surface.lattice.sites if site.level < 1 and not site.zone]
    site = surface.fit(sites[round(at * (len(sites) - 1))])
    piece = make_piece(material, role, wide, outline=outline)
    return (
        get_tip(piece, site, shell, surface, listed=False, lying=False),
        site.point,
        site.normal,
        surface.get_lobe(site.point),
    )


@given(name=names, at=shares, shell=st.floats(0.8, 1.1), wide=st.floats(1, 9), is_ball=st.booleans())
def test_a_head_is_all_within_its_outline_below_the_top_and_no_lower_than_it_may(
    name: str, at: float, shell: float, wide: float, is_ball: bool
) -> None:
    """No lower than 0.22 of the height under the rim (assumption of ours), and never on the table."""
    material = "craspedia" if is_ball else "carnation-standard"
    tip, point, normal, lobe = end(name, at, shell, material, Role.MASS, wide, Outline.BY_ROLE)
    extent = get_head_extent(make_piece(material).material, normal, wide / 2)
    assert tip.z + extent.top <= 20 + 1e-6
    lowest = max(-0.22 * 20, 1.5 - RIM_CM)
    assert tip.z + extent.bottom >= min(lowest, 20 - extent.top + extent.bottom) - 1e-6
    off = Vec(tip.x - lobe.centre.x, tip.y - lobe.centre.y, 0)
    assert off.reach <= Vec(point.x - lobe.centre.x, point.y - lobe.centre.y, 0).reach * max(1.0, shell) + 1e-6
    side = normal.cross(Vec(0, 0, 1)) if normal.reach > 1e-6 else Vec(1, 0, 0)
    if tip.z + extent.bottom > lowest + 1e-6:  # where nothing lifts it
        for sign in (-1, 1):
            edge = tip.plus(side.unit, sign * wide / 2)
            assert lobe.get_stretch(edge) <= max(1.0, shell) + 0.04


@given(name=names, at=shares, shell=st.floats(0.8, 1.1))
def test_a_spike_ends_on_its_shell_and_never_over_the_top(name: str, at: float, shell: float) -> None:
    tip, point, _, lobe = end(name, at, shell, "snapdragon", Role.LINE, 4.0, Outline.BY_ROLE)
    out = lobe.centre.plus(point.minus(lobe.centre), shell)
    assert tip == pytest.approx(Vec(out.x, out.y, min(20.0, out.z)), abs=1e-9)


@given(name=names, at=shares, shell=st.floats(0.9, 1.1), is_loose=st.booleans())
def test_what_trails_hangs_over_the_rim_by_the_outline_and_clear_of_the_table(
    name: str, at: float, shell: float, is_loose: bool
) -> None:
    """A quarter of the height lower, 4 cm at most, a finger (1.5 cm) off the table: assumptions of ours."""
    outline = Outline.BREAKS if is_loose else Outline.INSIDE
    tip, point, _, lobe = end(name, at, shell, "ivy", Role.TRAILING, 5.0, outline)
    out = lobe.centre.plus(point.minus(lobe.centre), shell)
    low = max(out.z - 4.0, 1.5 - RIM_CM, lobe.centre.z - 0.9 * lobe.half.z)
    assert tip.z == pytest.approx(low)
    assert lobe.get_stretch(tip) <= (1.08 if is_loose else 1.0) + 1e-6 or tip == pytest.approx(Vec(out.x, out.y, low))
    assert (
        math.hypot(tip.x - lobe.centre.x, tip.y - lobe.centre.y)
        <= math.hypot(out.x - lobe.centre.x, out.y - lobe.centre.y) + 1e-9
    )


def test_a_head_on_the_middle_line_of_a_heart_stands_on_its_surface_in_the_notch_too() -> None:
    heart = next(each for each in get_recipes() if each.form == "heart")
    surface = work_out(heart, get_catalogue(), HouseRules()).build.sizing.surface
    piece, before = make_piece(wide_cm=2.0), 0
    for site in (site for site in surface.lattice.sites if abs(site.point.x) < 2):
        point, normal = Vec(0.0, site.point.y, site.point.z), Vec(0.0, site.normal.y, site.normal.z).unit
        before += surface.get_stretch(point) > 1.05
        tip = get_tip(piece, replace(site, point=point, normal=normal), 1.0, surface, listed=False, lying=False)
        assert surface.get_stretch(tip) <= 1.02
    assert before, "some lie before the notch as they are moved to the line"


@given(turn=st.floats(0, 2 * math.pi), out=st.floats(0.5, 20), up=st.floats(2, 25), entering=st.sampled_from(Entering))
def test_a_stem_enters_on_its_own_side_nearer_the_axis_than_what_it_carries(
    turn: float, out: float, up: float, entering: Entering
) -> None:
    base = Vec(out * math.sin(turn), out * math.cos(turn), up)
    for holder, mechanics in ((GLASS, Mechanics.NATURAL), (FOAM, Mechanics.FOAM)):
        start = get_start(base, FRAME, holder, entering, mechanics)
        assert start.reach <= holder.get_edge_distance(base, start.z) + 1e-6
        assert start.reach <= out + 1e-9
        assert abs(start.cross(base).z) < 1e-6
        assert start.x * base.x + start.y * base.y >= 0
        assert start.z == holder.top_z or (mechanics is Mechanics.FOAM and 0 < start.z < 3 and up < 0.22 * 20)
        if entering is Entering.UPRIGHT:
            assert start.reach == pytest.approx(min(out, 0.94 * holder.get_edge_distance(base, holder.top_z)))


@pytest.mark.parametrize(
    ("entering", "mechanics", "out", "radius"),
    [
        (Entering.CROSSING, Mechanics.NATURAL, 8.0, 3.75),  # 8 of 0.8 x 16 is 0.625 of the way to the rim, 6 cm
        (Entering.CROSSING, Mechanics.NATURAL, 15.0, 5.64),  # 0.94 of it at most
        (Entering.CROSSING, Mechanics.NATURAL, 1.0, 0.46875),
        (Entering.GATHERED, Mechanics.NATURAL, 8.0, 3.0),  # 0.8 of that
        (Entering.GATHERED, Mechanics.FOAM, 8.0, 1.47),  # 0.42 of 0.625 of 5.6
        (Entering.UPRIGHT, Mechanics.NATURAL, 4.0, 4.0),  # straight below
        (Entering.UPRIGHT, Mechanics.NATURAL, 8.0, 5.64),
    ],
)
def test_how_far_from_the_middle_a_stem_goes_in(
    entering: Entering, mechanics: Mechanics, out: float, radius: float
) -> None:
    """By hand, from a head 15 cm up, in a form 32 cm wide over a mouth of 12."""
    holder = FOAM if mechanics is Mechanics.FOAM else GLASS
    assert get_start(Vec(out, 0.0, 15.0), FRAME, holder, entering, mechanics).reach == pytest.approx(radius)


@pytest.mark.parametrize("lean_deg", [10.0, 45.0, 80.0])
def test_a_branch_shows_all_of_its_blade_from_above_and_the_less_of_it_level_the_more_it_leans(lean_deg: float) -> None:
    """By hand: its blades lie level; reaching sideways it is seen from its edge from the front, 0.45 of its width
    (assumption of ours), and upright in full."""
    lean = math.radians(lean_deg)
    axis, leaf = Vec(math.sin(lean), 0.0, math.cos(lean)), make_piece("salal", Role.GREENERY).material
    assert get_blade_share(leaf, axis, Vec(0.0, 0.0, 1.0)) == pytest.approx(1.0)
    assert get_blade_share(leaf, axis, Vec(0.0, -1.0, 0.0)) == pytest.approx(1 - 0.55 * math.sin(lean) ** 2)
    assert get_blade_share(make_piece().material, axis, Vec(0.0, -1.0, 0.0)) == 1.0


def test_a_head_takes_up_a_disc_across_its_facing_or_a_ball_behind_its_front() -> None:
    """By hand, 6 cm wide."""
    disc, ball = make_piece().material, make_piece("craspedia").material
    up, side = Vec(0.0, 0.0, 1.0), Vec(1.0, 0.0, 0.0)
    assert get_head_extent(disc, up, 3.0) == Extent(-3, 3, -3, 3, 0, 0)
    assert get_head_extent(disc, side, 3.0) == Extent(0, 0, -3, 3, 3, -3)
    assert get_head_extent(ball, up, 3.0) == Extent(-3, 3, -3, 3, 0, -6)
    assert get_head_extent(ball, side, 3.0) == Extent(-6, 0, -3, 3, 3, -3)
    assert get_head_extent(make_piece("snapdragon").material, up, 3.0) == Extent(0, 0, 0, 0, 0, 0)


def test_low_heads_go_into_the_side_of_foam_unless_they_stand_over_it() -> None:
    """By hand: foam 3 cm over the rim, half 5.6 wide; 10 cm out and 2 up, it leans more than 45° and goes in at 1.35;
    6 cm out and 4 up it does not lean so far, and 8 up it is not low."""
    for base, z in ((Vec(0, 10, 2), 1.35), (Vec(0, 6, 4.2), 3.0), (Vec(0, 10, 8), 3.0)):
        assert get_start(base, FRAME, FOAM, Entering.CROSSING, Mechanics.FOAM).z == pytest.approx(z)


@pytest.mark.parametrize(
    ("holder", "mechanics", "wall"), [(GLASS, Mechanics.NATURAL, 0.0), (FOAM, Mechanics.FOAM, 0.2)]
)
def test_forty_stems_wished_for_one_spot_stand_beside_one_another_as_near_as_they_can(
    holder: Hollow, mechanics: Mechanics, wall: float
) -> None:
    """Stems 6 mm thick, 2 mm of foam between holes (common practice, no published source); none runs through another
    in foam; by area, 40 lie within a circle not twice as wide as they fill."""
    entrances, piece = Entrances(holder, mechanics), make_piece("rose-standard")
    wished, thick = Vec(0.5, 0.5, holder.top_z), 0.1 * piece.material.stem_diameter_mm
    bases = [Vec(12 * math.sin(n), 12 * math.cos(n), 14.0) for n in range(40)]
    starts = entrances.settle([Stem(wished, base, piece.material) for base in bases])
    assert starts[0] == wished
    gaps = [one.minus(other).length for one, other in combinations(starts, 2)]
    assert min(gaps) >= thick + wall - 1e-6
    assert all(start.z == holder.top_z and start.reach <= holder.get_half_width(holder.top_z) for start in starts)
    furthest = max(start.minus(wished).length for start in starts)
    assert furthest <= 2.2 * (thick + wall) / 2 * math.sqrt(40) + 1
    if mechanics is not Mechanics.FOAM:
        return
    ends = np.array(starts) + 3.8 * get_ways_down(np.array(bases), np.array(starts))
    for (one, its), (other, others) in combinations(zip(starts, ends, strict=True), 2):
        rows = (np.array([each]) for each in (one, its, other, others))
        assert get_distances(*rows)[0, 0] >= thick - 1e-6


@pytest.mark.parametrize("off", [(1.0, 0.0, 0.0), (0.0, -1.0, 0.0), (0.6, 0.0, -0.8), (0.0, 0.0, 1.0)])
def test_a_stem_whose_head_sits_on_its_hole_goes_straight_down(off: tuple[float, float, float]) -> None:
    """However the two are rounded apart."""
    hole = Vec(-6.975, -3.25, 2.5)
    (way,) = get_ways_down(np.array([hole.plus(Vec(*off), 1e-15)]), np.array([hole]))
    assert tuple(way) == (0.0, 0.0, -1.0)


@pytest.mark.parametrize(("seed", "many"), [(42, 30), (54, 40), (27, 30)])
def test_a_stem_left_no_hole_near_where_it_goes_in_is_given_its_own_before_the_others(seed: int, many: int) -> None:
    """Stems that cross every way in one block: nobody looks for a hole more than 5 cm off (assumption), and each still
    has a wall of 2 mm about it; put in strictly one after the other, one of these would be sent further."""
    random, entrances, piece = Random(seed), Entrances(FOAM, Mechanics.FOAM), make_piece("rose-standard")
    stems = []
    for _ in range(many):
        way, leans, off = random.uniform(0, math.tau), random.uniform(0, math.tau), random.uniform(0, 3)
        out = random.uniform(2, 14)
        base = Vec(out * math.cos(leans), out * math.sin(leans), FOAM.top_z + random.uniform(1, 12))
        stems.append(Stem(Vec(off * math.cos(way), off * math.sin(way), FOAM.top_z), base, piece.material))
    starts = entrances.settle(stems)
    assert max(start.minus(stem.wished).length for start, stem in zip(starts, stems, strict=True)) <= 5
    gaps = [one.minus(other).length for one, other in combinations(starts, 2)]
    assert min(gaps) >= 0.1 * piece.material.stem_diameter_mm + 0.2 - 1e-6


def test_where_nothing_is_free_the_least_crowded_spot_is_taken() -> None:
    tiny = Hollow(1.0, 1.0, 0.0, -8.0, square=False)
    entrances, piece = Entrances(tiny, Mechanics.NATURAL), make_piece("rose-standard")
    starts = entrances.settle([Stem(Vec(0, 0, 0), Vec(0, 5, 9), piece.material)] * 30)
    assert max(start.reach for start in starts) <= 1.0
    nearest = [min(one.minus(other).length for other in starts if other is not one) for one in starts]
    assert sum(nearest) / 30 > 0.15


@given(
    base=st.tuples(st.floats(-20, 20), st.floats(-12, 12), st.floats(-6, 25)),
    off=st.floats(-30, 30).filter(lambda off: abs(off) > 1),
    entering=st.sampled_from(Entering),
    mechanics=st.sampled_from([Mechanics.FOAM, Mechanics.TAPE_GRID, Mechanics.PIN_HOLDER]),
    foam_top_cm=st.sampled_from([0.0, 2.5]),
)
def test_a_stem_goes_in_alike_wherever_its_vessel_stands(
    base: tuple[float, float, float], off: float, entering: Entering, mechanics: Mechanics, foam_top_cm: float
) -> None:
    """A vessel moved aside, with the head over it, moves where the stem goes in by as much."""
    wall = 0.0 if foam_top_cm else 0.5
    vessel = Hollow(5.0, 4.0, foam_top_cm, -12.0, square=False, wall_cm=wall)
    here = get_start(Vec(*base), FRAME, vessel, entering, mechanics)
    moved = get_start(Vec(base[0] + off, *base[1:]), FRAME, replace(vessel, middle_x=off), entering, mechanics)
    assert moved.minus(here) == pytest.approx((off, 0.0, 0.0), abs=1e-6)


@pytest.mark.parametrize("family", ["kelp", "gantry"])
def test_the_heads_of_an_unbroken_spray_stand_beside_one_another_in_one_plane_and_in_its_width(family: str) -> None:
    recipe = next(each for each in get_recipes() if each.family == family)
    sprays = [place for place in work_out(recipe, get_catalogue(), HouseRules()).build.places if len(place.heads) > 1]
    assert len(sprays) > 6
    for place in sprays:
        for front, wide in place.heads:
            off = front.minus(place.tip)
            assert off.dot(place.facing) == pytest.approx(0, abs=1e-9)
            assert off.length + wide / 2 <= place.half_width_cm + 1e-9
        for (one, wide), (other, _) in combinations(place.heads, 2):
            assert one.minus(other).length > wide / 8
        assert max(front.minus(place.tip).length for front, _ in place.heads) > place.half_width_cm / 5


@pytest.mark.parametrize(
    "meant", [Meant(facing=Facing.UP), Meant(height=Height(kind=HeightKind.RIM, by=9.0))], ids=["looks up", "ends at"]
)
def test_a_wide_head_that_looks_up_or_ends_at_a_height_is_drawn_in_level(meant: Meant) -> None:
    """Any other is drawn in towards the middle, and so comes lower, too."""
    surface = FORMS["all-round dome"].get_surface(FRAME)
    site = next(each for each in map(surface.fit, surface.lattice.sites) if 7 < each.point.z < 11)
    usual = make_piece("carnation-standard", Role.MASS, 14.0)
    own = replace(usual, meant=meant)
    upright = replace(site, normal=Vec(0.0, 0.0, 1.0))
    tips = [get_tip(piece, upright, 1.0, surface, listed=False, lying=False) for piece in (usual, own)]
    assert tips[0].z < tips[1].z - 0.05
    assert tips[1].z == pytest.approx(site.point.z)
    assert all(Vec(tip.x, tip.y, 0.0).length < Vec(site.point.x, site.point.y, 0.0).length - 0.1 for tip in tips)
