"""A stem in a vessel does what a hand can do: it comes in over the rim, never through the wall, and is cut the same in
any unit."""

import math
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mirvel.core.forms.form import Entering, Form
from mirvel.core.forms.kinds import FORMS
from mirvel.core.forms.surface import Frame
from mirvel.core.goods.facts import Mechanics
from mirvel.core.house.rules import HouseRules
from mirvel.core.making.build import Build
from mirvel.core.making.cuts import Cut, get_vase_cuts
from mirvel.core.placing.entry_points import Entrances, Stem, get_start
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.space.vectors import Vec
from mirvel.core.values.units import LengthUnit
from mirvel.core.vessels.beds import has_bed
from mirvel.core.vessels.hollows import Hollow, get_inside
from mirvel.demo import get_recipes
from tests import strategies
from tests.builds import work_out
from tests.core.test_forms import EVERY_FORM, get_sample_of
from tests.pieces import make_piece
from tests.strategies import CATALOGUE

RULES = HouseRules()
VESSEL = Hollow(6.0, 4.0, 0.0, -18.0, square=False, wall_cm=0.4)


def find_through_wall(build: Build) -> list[Cut]:
    """Stems that show and pass, below the rim, within the glass or what it encloses: every 2 % of the way looked at."""
    recipe, container = build.recipe, build.container
    if has_bed(container) or recipe.mechanics not in {Mechanics.NATURAL, Mechanics.TAPE_GRID, Mechanics.NETTING}:
        return []
    found = []
    for cut in (cut for cut in build.cuts if not cut.place.is_inside and not cut.place.pinned):
        vessel, start, end = get_inside(container, cut.place.vessel), cut.place.start, cut.place.measured_to
        for share in range(1, 51):
            at = start.plus(end.minus(start), share / 50)
            off = Vec(at.x - vessel.middle_x, at.y, 0.0)
            wall = vessel.get_edge_distance(off, at.z) + container.side_cm
            if vessel.bottom_z < at.z < -0.05 and off.reach < wall - 0.02:
                found.append(cut)
                break
    return found


@EVERY_FORM
def test_no_stem_of_any_form_runs_through_the_glass(form: Form) -> None:
    assert find_through_wall(work_out(get_sample_of(form), CATALOGUE, RULES).build) == []


@pytest.mark.parametrize("recipe", get_recipes(), ids=lambda recipe: recipe.name)
def test_no_stem_of_the_demo_runs_through_the_glass_and_no_unit_moves_a_cut(recipe: Recipe) -> None:
    """Cuts in inches are those in centimetres but for the rounding up, a step of either at most."""
    metric, inches = (work_out(recipe, CATALOGUE, RULES.change(unit=unit)).build for unit in LengthUnit)
    assert find_through_wall(metric) == []
    for one, other in zip(metric.cuts, inches.cuts, strict=True):
        assert abs(one.cut_cm - other.cut_cm) <= 0.64


@given(data=st.data())
@settings(max_examples=25)
def test_no_stem_of_any_recipe_runs_through_the_glass_and_no_unit_moves_a_cut(data: st.DataObject) -> None:
    form = FORMS[data.draw(st.sampled_from(sorted(FORMS)))]
    recipe = data.draw(strategies.get_recipes(form))
    metric, inches = (work_out(recipe, CATALOGUE, RULES.change(unit=unit)).build for unit in LengthUnit)
    assert find_through_wall(metric) == []
    for one, other in zip(metric.cuts, inches.cuts, strict=True):
        assert abs(one.cut_cm - other.cut_cm) <= 0.64


@given(turn=st.floats(0, 2 * math.pi), out=st.floats(7, 20), down=st.floats(0.01, 10))
def test_what_hangs_comes_in_over_the_rim_on_its_own_side(turn: float, out: float, down: float) -> None:
    """By hand: over a wall 0.4 cm thick, 6.4 out and 0.4 up."""
    base, frame = Vec(out * math.sin(turn), out * math.cos(turn), -down), Frame(20.0, 16.0, 16.0, 6.0, 6.0)
    start = get_start(base, frame, VESSEL, Entering.CROSSING, Mechanics.NATURAL)
    assert start == pytest.approx((6.4 * math.sin(turn), 6.4 * math.cos(turn), 0.4), abs=1e-9)


@pytest.mark.parametrize("middle", [0.0, 15.0])
def test_stems_over_one_spot_of_the_rim_lie_side_by_side_along_it(middle: float) -> None:
    """Twenty of 6 mm take 12 cm of a rim of 40: to 9 cm or so to either side, no two nearer than they are thick."""
    entrances = Entrances(replace(VESSEL, middle_x=middle), Mechanics.NATURAL)
    piece, wished, base = make_piece("rose-standard"), Vec(middle, 6.4, 0.4), Vec(middle, 12.0, -4.0)
    settled = entrances.settle([Stem(wished, base, piece.material)] * 20)
    starts = [start.plus(Vec(-middle, 0.0, 0.0)) for start in settled]
    assert [start.reach for start in starts] == pytest.approx([6.4] * 20)
    assert {start.z for start in starts} == {0.4}
    gaps = [one.minus(other).length for number, one in enumerate(starts) for other in starts[:number]]
    assert min(gaps) >= 0.6 - 1e-6
    assert max(abs(math.atan2(start.x, start.y)) * 6.4 for start in starts) < 9


@pytest.mark.parametrize("middle", [0.0, 15.0])
def test_stems_over_a_crowded_rim_go_no_further_round_than_runs_beside_the_vessel(middle: float) -> None:
    """A straight line from a point 9 cm out touches a circle of 6.4 at 44.7° from it: beyond, it would run through."""
    entrances = Entrances(replace(VESSEL, middle_x=middle), Mechanics.NATURAL)
    piece, wished, base = make_piece("rose-standard"), Vec(middle, 6.4, 0.4), Vec(middle, 9.0, -4.0)
    settled = entrances.settle([Stem(wished, base, piece.material)] * 60)
    turns = [math.degrees(math.atan2(start.x - middle, start.y)) for start in settled]
    assert max(map(abs, turns)) <= 44.7
    assert min(turns) < -40  # as far as it may, to either side
    assert max(turns) > 40


def test_what_hangs_is_cut_for_its_way_over_the_rim_and_down_to_the_water() -> None:
    """By hand: 0.57 cm over a corner 0.4 wide and 0.4 high, then at 45° as deep as it goes, 10 cm to the far wall of a
    tube 10 cm wide: 14.14."""
    tube = Hollow(5.0, 5.0, 0.0, -20.0, square=False, wall_cm=0.4)
    place = work_out(get_recipes()[0], CATALOGUE, RULES).build.places[0]
    place = replace(place, tip=Vec(5.9, 0.0, -6.0), start=Vec(5.4, 0.0, 0.4), facing=Vec(0.0, 0.0, -1.0), bow=0.0)
    (cut,) = get_vase_cuts([place], tube, 8.0, 0.5)
    assert cut.end == pytest.approx((-5.0, 0.0, -10.0))
    assert cut.inside_cm == pytest.approx(math.hypot(0.4, 0.4) + math.hypot(10, 10))
