"""Making pages: every number stands free, is large enough, and tells a piece that the step takes."""

import math
import re
from itertools import combinations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mirvel.core.card.making import get_makings
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.working import Worked
from mirvel.demo import RULES, get_catalogue, get_recipes
from mirvel.drawing.labels import find_room
from mirvel.web.card.making import get_making_views
from mirvel.web.card.view import DENSITIES, Ink, get_card_view
from tests.builds import some, work_out

SPOT = st.tuples(st.floats(0, 100), st.floats(0, 100))
POINT_MM = 25.4 / 72
_CIRCLE = re.compile(
    r'<circle cx="([-\d.]+)" cy="([-\d.]+)" r="([\d.]+)"[^>]*/><text[^>]*font-size="([\d.]+)"[^>]*>(\d+)<'
)
_MARKED = re.compile(r'<circle cx="([-\d.]+)" cy="([-\d.]+)" r="([\d.]+)"[^>]* stroke-width="0.5"')


def work(recipe: Recipe) -> Worked:
    return work_out(recipe, get_catalogue(), RULES)


@given(spots=st.lists(SPOT, max_size=40), taken=st.lists(SPOT, max_size=6))
def test_no_two_circles_overlap_and_one_alone_stays(
    spots: list[tuple[float, float]], taken: list[tuple[float, float]]
) -> None:
    """Forty circles of 4 across and gaps between take a fourteenth of 100 x 100."""
    found = find_room(spots, 2.0, (100, 100), taken)
    for number, (x, y) in enumerate(found):
        others = [*found[:number], *found[number + 1 :]]
        assert all(math.hypot(x - a, y - b) >= 4.0 - 1e-9 for a, b in others)
        if (x, y) != spots[number]:
            assert all(math.hypot(x - a, y - b) >= 4.0 - 1e-9 for a, b in taken)
            assert 2 <= x <= 98
            assert 2 <= y <= 98
    if len(spots) == 1 and all(math.hypot(spots[0][0] - a, spots[0][1] - b) > 4.2 for a, b in taken):
        assert found == spots


@pytest.mark.parametrize("recipe", get_recipes(), ids=lambda each: each.family)
def test_every_piece_goes_in_once_under_one_number_with_its_own_cut(recipe: Recipe) -> None:
    worked = work(recipe)
    seen: dict[tuple[str, int], float] = {}
    before: set[str] = set()
    for making in get_makings(worked):
        assert making.before == before
        assert [piece.number for piece in making.pieces] == list(range(1, len(making.pieces) + 1))
        for length in making.lengths:
            assert {piece.cut.place.entry.id for piece in length.pieces} == {length.entry.id}
            assert {round(piece.cut.cut_cm, 4) for piece in length.pieces} == {length.cut_cm}
            low, high = length.above_rim_cm
            assert all(low <= piece.cut.above_rim_cm <= high for piece in length.pieces)
        by_entry = [length.entry.id for length in making.lengths]
        assert by_entry == sorted(by_entry, key=by_entry.index)  # an entry is one run
        before |= set(by_entry)
        seen |= {piece.key: piece.cut.cut_cm for piece in making.pieces}
    assert seen == {(cut.place.entry.id, cut.place.number): cut.cut_cm for cut in worked.build.cuts}


@pytest.mark.parametrize("recipe", some(get_recipes()), ids=lambda each: each.family)
def test_numbers_stand_free_at_eight_points_and_no_smaller_than_one_to_eight(recipe: Recipe) -> None:
    worked = work(recipe)
    for view in get_making_views(worked, Ink.COLOUR):
        assert view.scale <= 8
        numbers = {str(piece.number) for piece in view.making.pieces if not piece.cut.place.is_inside}
        shown = set()
        for figure in view.figures:
            assert figure.width_mm <= 186
            found = [tuple(map(float, each[:4])) for each in _CIRCLE.findall(figure.svg)]
            shown |= {each[4] for each in _CIRCLE.findall(figure.svg)}
            assert all(size / view.scale >= 8 * POINT_MM for *_, size in found)
            for at, (x, y, radius, _) in enumerate(found):
                for a, b, other, _ in found[at + 1 :]:
                    assert math.hypot(x - a, y - b) >= radius + other - 0.1
        assert shown == numbers
        wide, high = ([getattr(figure, f"{side}_mm") for figure in view.figures] for side in ("width", "height"))
        assert (sum(wide) <= 186 and max(high) <= 170) or sum(high) <= 195  # beside or over one another, on one page


@pytest.mark.parametrize("ink", Ink)
@pytest.mark.parametrize("recipe", some(get_recipes()), ids=lambda each: each.family)
def test_no_two_numbers_of_a_cards_plan_lie_on_one_another(recipe: Recipe, ink: Ink) -> None:
    """From the roomiest setting of the card down to one half as high; a piece of too many has none at all."""
    worked = work(recipe)
    shown = [place for place in worked.build.places if not place.is_inside]
    for density in (DENSITIES[0], DENSITIES[3]):
        view = get_card_view(worked, density, ink)
        group = str(view.figures["plan"].svg).partition('class="numbers"')[2]
        spots = _CIRCLE if ink is Ink.COLOUR else _MARKED
        found = [tuple(map(float, each[:3])) for each in spots.findall(group)]
        assert view.is_glance is (len(worked.build.places) > 80)
        assert (not group) is view.is_glance
        assert view.is_glance or len(found) >= len(shown)
        for (x, y, one), (a, b, other) in combinations(found[: len(shown)], 2):
            assert math.hypot(x - a, y - b) >= one + other - 0.2
