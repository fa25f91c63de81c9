"""Greens and fillers go where foam would be seen: never for the worse, and nothing moves that anybody has placed."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from mirvel.core.changing.carrying import carry_places
from mirvel.core.changing.changes import nudge_pieces
from mirvel.core.changing.moving import place_again
from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.facts import Role
from mirvel.core.house.rules import HouseRules
from mirvel.core.making.build import Build
from mirvel.core.making.closing import Seen
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.trying import try_again
from mirvel.core.working import Worked
from mirvel.demo import get_recipes
from tests.builds import left_open, some, work_out
from tests.strategies import CATALOGUE

ROLES = {Role.GREENERY, Role.FILLER, Role.TEXTURE}
WITH_FOAM = [each for each in get_recipes() if each.mechanics.value == "foam" and FORMS[each.form].covers]


def make(recipe: Recipe) -> Build:
    return work_out(recipe, CATALOGUE, HouseRules()).build


def get_shown(build: Build) -> float:
    """The foam that is seen and the holes, a side that shows twice as much counting four times."""
    return sum(sight.foam**2 + 2 * sight.gaps**2 for sight in build.sights)


@pytest.mark.parametrize("recipe", some(WITH_FOAM), ids=lambda recipe: recipe.name)
def test_no_piece_shows_more_for_it_and_flowers_stay(recipe: Recipe) -> None:
    with left_open():
        before = make(recipe)
    after = make(recipe)
    assert get_shown(after) <= get_shown(before) + 1e-9
    moved = [(was, now) for was, now in zip(before.places, after.places, strict=True) if was.tip != now.tip]
    # what the piece is made for comes out to be seen, with and without: it stays where it is otherwise
    made_for = {Role.FOCAL, Role.TOKEN}
    for was, now in moved:
        if was.entry.role in made_for and was.kept and now.kept:
            assert was.kept.model_copy(update={"out": now.kept.out}) == now.kept
    moved = [(was, now) for was, now in moved if was.entry.role not in made_for]
    assert bool(moved) == (get_shown(after) < get_shown(before))
    for was, now in moved:
        assert now.entry == was.entry
        assert was.entry.role in ROLES
        assert not was.entry.meant.is_said
        assert not was.pinned
    if FORMS[recipe.form].covers_frame:
        assert all(was.entry.role is not Role.GREENERY for was, _ in moved)
    again = make(carry_places(after, recipe))  # what has a place to keep stays there
    assert [place.tip for place in again.places] == [place.tip for place in after.places]


def test_the_demos_worst_are_closed_by_what_they_have() -> None:
    """They showed as much when nothing was moved: a fifth, in a patch as large as a matchbox."""

    def show(recipe: Recipe) -> float:
        return max((sight.foam for sight in make(recipe).sights if sight.patch_cm2 > 15), default=0.0)

    found = {}
    for recipe in WITH_FOAM:
        with left_open():
            before = show(recipe)
        found[recipe.name] = before, show(recipe)
    bare = {name: after for name, (before, after) in found.items() if before > 0.2}
    assert len(bare) >= 3
    assert max(bare.values()) < 0.2


def test_a_green_more_goes_where_foam_shows() -> None:
    fender = next(each for each in get_recipes() if each.family == "fender")
    greens = [entry.id for entry in fender.entries if entry.role is Role.GREENERY]
    few = fender
    for entry in greens:
        few = nudge_pieces(few, entry, -99).recipe
    bare = make(few)
    more = carry_places(bare, nudge_pieces(few, greens[-1], 4).recipe)
    with left_open():
        spread = make(more)
    assert max(sight.foam for sight in bare.sights) > 0.1
    assert get_shown(make(more)) < get_shown(spread) < get_shown(bare)


def test_pairs_move_as_pairs() -> None:
    spray = next(each for each in get_recipes() if each.name == "Harbour Light, lid spray 280")
    with left_open():
        before = {(each.entry.id, each.number): each.tip for each in make(spray).places}
    build = make(spray)
    mirror = build.sizing.form.mirror
    for place in build.places:
        if place.tip != before[place.entry.id, place.number]:
            others = [each.tip for each in build.places if each.entry.id == place.entry.id]
            assert min(other.times(mirror).minus(place.tip).length for other in others) < 0.05


@given(data=st.data(), pairs=st.booleans())
@settings(max_examples=30)
def test_the_worth_of_a_move_is_what_is_seen_after_it(data: st.DataObject, pairs: bool) -> None:
    """Against moving each in turn and counting point by point."""
    sides = data.draw(st.lists(st.integers(1, 150), min_size=1, max_size=3))
    many, laid, together = 6, 4, 2 if pairs else 1
    masks = [data.draw(arrays(bool, (points, many))) for points in sides]
    would = [data.draw(arrays(bool, (points, laid, together))) for points in sides]
    weights = [1.0, 2.0, 1.0][: len(sides)]
    movers = np.array([[0, 3], [1, 2]] if pairs else [[0], [4], [5]])
    worths = Seen(weights, masks, would).get_worths(movers)
    for at, mover in enumerate(movers.tolist()):
        for to in range(laid):
            total = 0.0
            for weight, mask, lay in zip(weights, masks, would, strict=True):
                bare = 0
                for point in range(len(mask)):
                    still = any(mask[point, piece] for piece in range(many) if piece not in mover)
                    bare += not (still or lay[point, to].any())
                total += weight * (bare / len(mask)) ** 2
            assert worths[at, to] == pytest.approx(total)


def test_other_placings_come_best_first_each_as_it_will_be_and_none_is_saved() -> None:
    basket = next(each for each in get_recipes() if each.form == "sympathy basket")
    worked = work_out(basket, CATALOGUE, HouseRules())

    def place(recipe: Recipe) -> Worked:
        return work_out(carry_places(worked.build, recipe), CATALOGUE, HouseRules())

    trials = try_again(worked, place)
    assert {trial.attempts for trial in trials} == {1, 2, 3, 4}
    order = [(len(trial.faults), round(trial.foam.foam + trial.gaps.gaps, 3)) for trial in trials]
    assert order == sorted(order)
    for trial in trials:
        taken = place(place_again(basket, attempts=trial.attempts).recipe)
        assert [each.tip for each in taken.build.places] == [each.tip for each in trial.worked.build.places]
        tips = {(each.entry.id, each.number): each.tip for each in worked.build.places}
        away = [tips[each.entry.id, each.number].minus(each.tip).length for each in taken.build.places]
        assert trial.moved == sum(each > 1 for each in away)
    greens = next(entry for entry in basket.entries if entry.role is Role.GREENERY)
    for trial in try_again(worked, place, greens.id):
        others = [each for each in trial.worked.build.places if each.entry.role in {Role.FOCAL, Role.LINE}]
        assert all(tips[each.entry.id, each.number] == each.tip for each in others)
