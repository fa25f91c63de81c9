"""Places belong to the recipe: a change places what it adds, takes out what it takes away, and moves nothing else."""

import math

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from mirvel.core.changing import changes, moving
from mirvel.core.changing.carrying import carry_places
from mirvel.core.changing.splitting import split_entry
from mirvel.core.forms.form import Form
from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.facts import Role
from mirvel.core.house.rules import HouseRules
from mirvel.core.making.build import Build
from mirvel.core.recipe.entry import KeptPlace, Seat
from mirvel.core.recipe.recipe import Recipe, SizeMode
from mirvel.core.space.vectors import Vec
from mirvel.core.values.problems import BadInput
from mirvel.demo import get_recipes
from tests import strategies
from tests.builds import some, work_out
from tests.core.test_forms import EVERY_FORM, get_sample_of
from tests.strategies import CATALOGUE

RULES = HouseRules()
Key = tuple[str, int]
SOME_DEMOS = pytest.mark.parametrize("recipe", some(get_recipes()), ids=lambda recipe: recipe.name)


def build(recipe: Recipe) -> Build:
    return work_out(recipe, CATALOGUE, RULES).build


def keep(recipe: Recipe) -> Build:
    """A recipe with the places its pieces have, built from them."""
    return build(carry_places(build(recipe), recipe))


def change(before: Build, after: Recipe) -> Build:
    return build(carry_places(before, after))


def get_places(found: Build) -> dict[Key, KeptPlace]:
    return {(place.entry.id, place.number): place.kept for place in found.places if place.kept}


def get_tips(found: Build) -> dict[Key, Vec]:
    return {(place.entry.id, place.number): place.tip for place in found.places}


def get_seat(found: Build, seat: Seat) -> list[Key]:
    return [key for key, place in get_places(found).items() if place.seat is seat]


def find_recipe(name: str) -> Recipe:
    return next(recipe for recipe in get_recipes() if recipe.name == name)


@EVERY_FORM
def test_keeping_the_places_of_any_form_moves_nothing(form: Form) -> None:
    fresh = build(get_sample_of(form))
    kept = change(fresh, fresh.recipe)
    assert [(place.tip, place.start, place.facing) for place in kept.places] == [
        (place.tip, place.start, place.facing) for place in fresh.places
    ]
    assert carry_places(kept, kept.recipe) == kept.recipe


@given(data=st.data())
@settings(max_examples=15)
def test_keeping_the_places_of_any_recipe_moves_nothing_and_one_more_or_less_leaves_the_others(
    data: st.DataObject,
) -> None:
    form = FORMS[data.draw(st.sampled_from(sorted(FORMS)))]
    recipe = data.draw(strategies.get_recipes(form))
    kept = keep(recipe)
    assert get_tips(kept) == get_tips(build(recipe))
    entry = data.draw(st.sampled_from(recipe.entries))
    by = data.draw(st.sampled_from([-1, 1]))
    assume(entry.pieces + by >= 0)
    after = change(kept, changes.nudge_pieces(kept.recipe, entry.id, by).recipe)
    before, there = get_places(kept), get_places(after)
    lost, fresh = before.keys() - there.keys(), there.keys() - before.keys()
    moved = {key for key in before.keys() & there.keys() if before[key] != there[key]}
    assert [entry_id for entry_id, _ in lost | fresh] == [entry.id]
    assert (len(lost), len(fresh)) == ((1, 0) if by < 0 else (0, 1))
    # but the crown goes on to another, where who had it is taken out, or who comes has the better right to it
    crowned = moved - set(get_seat(kept, Seat.CROWN))
    assert crowned <= set(get_seat(after, Seat.CROWN))
    assert len(moved) <= 1


@SOME_DEMOS
def test_one_piece_more_or_less_moves_no_other_tip_of_a_piece_as_large(recipe: Recipe) -> None:
    """The piece is told its size, so that it is the places alone that could move a tip."""
    fresh = build(recipe)
    if not fresh.sizing.form.is_as_large_as_its_container:
        own = changes.set_own_size(recipe, round(fresh.sizing.overall_height_cm, 1), fresh.sizing.width_cm).recipe
        fresh = change(fresh, own)
    chosen = (recipe.entries[0], recipe.entries[len(recipe.entries) // 2])
    for entry in (each for each in chosen if not each.meant.is_of_all_together):  # a set is placed anew as one
        for by in (-1, 1):
            after = get_tips(change(fresh, changes.nudge_pieces(fresh.recipe, entry.id, by).recipe))
            shared = [(key, tip) for key, tip in get_tips(fresh).items() if key in after]
            assert len(shared) == len(fresh.places) - (by < 0)
            far = [key for key, tip in shared if after[key].minus(tip).length > 1.0]
            assert far in ([], get_seat(fresh, Seat.CROWN)), (entry.id, by)


def test_a_change_of_size_takes_every_place_with_it() -> None:
    kept = keep(find_recipe("Slipway 42"))
    wider = change(kept, changes.set_own_size(kept.recipe, 40.0, 40.0).recipe)
    assert get_places(wider) == get_places(kept)
    for key, tip in get_tips(kept).items():
        here, there = (math.atan2(each.x, each.y) for each in (tip, get_tips(wider)[key]))
        assert abs((here - there + math.pi) % (2 * math.pi) - math.pi) < 0.2 or math.hypot(tip.x, tip.y) < 1.0


def count_bare(found: Build, gone: Key) -> int:
    """Sites of the surface that lie in no flower's footprint, without one of them."""
    points = found.sizing.surface.lattice.points
    scale = [found.frame.half_width_cm, found.frame.half_depth_cm, found.frame.above_rim_cm]
    model = found.sizing.surface.lattice.frame
    spots = [
        (Vec(kept.across * scale[0], kept.away * scale[1], kept.up * scale[2]), place.head.width_cm / 2)
        for place in found.places
        if (kept := place.kept) and place.entry.role is not Role.GREENERY and (place.entry.id, place.number) != gone
    ]
    sites = [
        Vec(x * scale[0] / model.half_width_cm, y * scale[1] / model.half_depth_cm, z) for x, y, z in points.tolist()
    ]
    return sum(all(site.minus(spot).length > radius for spot, radius in spots) for site in sites)


@pytest.mark.parametrize("name", ["Slipway 42", "Cuttle Cube 42"])
def test_what_is_taken_out_is_what_is_missed_least(name: str) -> None:
    kept = keep(find_recipe(name))
    for entry in (each for each in kept.recipe.entries if each.role is not Role.GREENERY):
        after = change(kept, changes.nudge_pieces(kept.recipe, entry.id, -1).recipe)
        (gone,) = get_places(kept).keys() - get_places(after).keys()
        mine = [key for key in get_places(kept) if key[0] == entry.id and key not in get_seat(kept, Seat.CROWN)]
        least = min(count_bare(kept, key) for key in mine)
        assert count_bare(kept, gone) == least
        back = change(after, changes.nudge_pieces(after.recipe, entry.id, 1).recipe)
        assert get_places(back).keys() == get_places(kept).keys()  # the number that is free is given again


def is_symmetric(found: Build) -> bool:
    """Whether every place has its mirror image."""
    spots = [(kept.across, kept.away, kept.up) for kept in get_places(found).values()]
    return all(any(math.dist((-x, y, z), other) < 0.002 for other in spots) for x, y, z in spots)


@pytest.mark.parametrize("role", [Role.FOCAL, Role.MASS])
def test_in_a_piece_of_pairs_two_come_and_go_together(role: Role) -> None:
    recipe = find_recipe("Slipway 42")
    paired = recipe.change(arranging={"balance": "symmetric"})
    fresh = keep(paired)
    assert is_symmetric(fresh)
    entry = next(entry for entry in paired.entries if entry.role is role)
    for by in (2, -2):
        assert is_symmetric(change(fresh, changes.nudge_pieces(fresh.recipe, entry.id, by).recipe))
    found = fresh
    for number in range(1, 5):  # one at a time: after two there are pairs again, or one is on the middle line
        found = change(found, changes.nudge_pieces(found.recipe, entry.id, 1).recipe)
        assert number % 2 or is_symmetric(found)


def test_the_crown_is_theirs_who_has_it_until_a_better_right_comes_or_it_is_taken_out() -> None:
    kept = keep(find_recipe("Slipway 42"))
    (crown,) = get_seat(kept, Seat.CROWN)
    for entry in kept.recipe.entries:
        more = change(kept, changes.nudge_pieces(kept.recipe, entry.id, 1).recipe)
        less = change(kept, changes.nudge_pieces(kept.recipe, entry.id, -1).recipe)
        assert get_seat(more, Seat.CROWN) == get_seat(less, Seat.CROWN) == [crown]
    without = change(kept, changes.remove_entry(kept.recipe, crown[0]).recipe)
    (heir,) = get_seat(without, Seat.CROWN)
    assert without.extent.top == pytest.approx(kept.extent.top, abs=1.0)
    assert heir in get_places(kept)
    # a green that was there first gives way to the first flower, and that to a line stem
    green = next(entry for entry in kept.recipe.entries if entry.role is Role.GREENERY)
    found = keep(kept.recipe.change(entries=[green.model_copy(update={"kept": ()})]))
    assert [key[0] for key in get_seat(found, Seat.CROWN)] == [green.id]
    line = next(slug for slug, each in CATALOGUE.materials.items() if each.default_role is Role.LINE)
    holders = []
    for material in ("carnation-standard", "rose-standard", line, "rose-spray"):
        found = change(found, changes.add_entry(found.recipe, CATALOGUE, material).recipe)
        ((holder, _),) = get_seat(found, Seat.CROWN)
        holders.append(next(entry.material for entry in found.recipe.entries if entry.id == holder))
    assert holders == ["carnation-standard", "carnation-standard", line, line]


def test_all_stands_about_a_bow_that_is_kept_as_about_one_that_is_placed() -> None:
    recipe = find_recipe("Evening Bell 195")
    fresh = build(recipe)
    carried = carry_places(fresh, recipe)
    only_bow = tuple(
        each if each.role is Role.TOKEN else each.model_copy(update={"kept": ()}) for each in carried.entries
    )
    tips = get_tips(build(carried.model_copy(update={"entries": only_bow})))
    assert max(tips[key].minus(tip).length for key, tip in get_tips(fresh).items()) < 0.01


def test_what_trails_or_is_tied_on_takes_no_crown_from_a_flower() -> None:
    recipe = find_recipe("Slipway 42")
    for role in (Role.TRAILING, Role.TOKEN, Role.GREENERY, Role.FILLER):
        first, *others = (entry for entry in recipe.entries if entry.role in {Role.FOCAL, Role.MASS})
        entries = [first.model_copy(update={"role": role}), *others]
        (crown,) = get_seat(build(recipe.change(entries=entries)), Seat.CROWN)
        assert crown[0] in {entry.id for entry in others}


def test_places_go_where_the_wishes_are_the_same_and_are_sought_anew_where_not() -> None:
    kept = keep(find_recipe("Slipway 42"))
    recipe, entry = kept.recipe, kept.recipe.entries[4]

    def get_moved(after: Recipe) -> set[str]:
        found = carry_places(kept, after)
        places = {(each.id, place.number): place for each in found.entries for place in each.kept}
        return {key[0] for key in get_places(kept) if places.get(key) != get_places(kept)[key]}

    everything = {each.id for each in recipe.entries}
    assert get_moved(changes.set_field(recipe, "name", "Another").recipe) == set()
    assert get_moved(changes.set_entry(recipe, entry.id, "colour", entry.colour).recipe) == set()
    assert get_moved(moving.mirror(recipe).recipe) == set()
    assert get_moved(recipe.change(size={"mode": SizeMode.FROM_FULLNESS})) == set()
    assert get_moved(changes.set_entry(recipe, entry.id, "role", "texture").recipe) == {entry.id}
    assert get_moved(moving.place_again(recipe, entry.id).recipe) == {entry.id}
    assert get_moved(moving.place_again(recipe).recipe) == everything
    assert get_moved(moving.set_arranging(recipe, "grouping", "grouped").recipe) == everything
    assert get_moved(moving.set_form(recipe, CATALOGUE, "compact dome").recipe) == everything
    again = change(kept, moving.place_again(recipe, entry.id).recipe)
    moved = {key[0] for key, tip in get_tips(again).items() if tip != get_tips(kept)[key]}
    assert moved == {entry.id}


def test_a_piece_that_is_held_stays_where_it_is_and_one_let_go_finds_another_place() -> None:
    kept = keep(find_recipe("Slipway 42"))
    moved = change(kept, moving.move_piece(kept, "e5", 1, Vec(4.0, 0.0, -4.0)).recipe)
    others = {key: tip for key, tip in get_tips(kept).items() if key != ("e5", 1)}
    assert {key: get_tips(moved)[key] for key in others} == others
    fewer = change(moved, changes.set_entry(moved.recipe, "e5", "pieces", 1).recipe)
    assert [place.pinned for place in fewer.places if place.entry.id == "e5"] == [True]
    free = change(moved, moving.let_go(moved.recipe, "e5", 1).recipe)
    assert {key: get_tips(free)[key] for key in others} == others


@given(
    share=st.tuples(*[st.sampled_from([-9.0, -1.0, 0.0, 1e-4, 1.0, 9.0])] * 3),
    out=st.floats(0.01, 3),
    pairs=st.booleans(),
)
@settings(max_examples=6)
def test_a_place_from_anywhere_stands_on_the_piece(share: tuple[float, float, float], out: float, pairs: bool) -> None:
    across, away, up = share
    place = {"number": 7, "across": across, "away": away, "up": up, "out": out}
    for name in ("Slipway 42", "Harbour Light, ring 140", "Three Buoys 28"):
        recipe = find_recipe(name)
        first = {**recipe.entries[0].model_dump(), "kept": [place]}
        balance = {"balance": "symmetric" if pairs else "free"}
        found = build(recipe.change(entries=[first, *recipe.entries[1:]], arranging=balance))
        tip = get_tips(found)[(recipe.entries[0].id, 7)]
        assert all(math.isfinite(part) and abs(part) < 200 for part in tip)


def test_a_piece_has_one_place() -> None:
    recipe = find_recipe("Slipway 42")
    place = {"number": 1, "across": 0.0, "away": 0.0, "up": 0.5, "out": 1.0}
    with pytest.raises(BadInput, match="Keep one place for each piece"):
        recipe.change(entries=[{**recipe.entries[0].model_dump(), "kept": [place, place]}])


@given(data=st.data())
@settings(max_examples=10)
def test_splitting_an_entry_moves_nothing_and_each_line_then_goes_its_own_way(data: st.DataObject) -> None:
    recipe = data.draw(st.sampled_from([each for each in get_recipes() if any(e.placed > 1 for e in each.entries)]))
    entry = data.draw(st.sampled_from([each for each in recipe.entries if each.placed > 1]))
    count = data.draw(st.integers(1, min(entry.placed, entry.pieces - 1)))
    before = keep(recipe)
    first = data.draw(st.sampled_from([place.number for place in before.places if place.entry.id == entry.id]))
    after = change(before, split_entry(before, entry.id, str(count), first).recipe)
    lines = [each for each in after.recipe.entries if each.material == entry.material and each.id not in {"", entry.id}]
    (own,) = [each for each in lines if before.recipe.find_entry(each.id) is None]
    assert own.pieces == count
    assert [each.id for each in after.recipe.entries].index(own.id) == recipe.entries.index(entry) + 1
    if not entry.meant.is_of_all_together:
        assert sorted(place.tip for place in after.places) == sorted(place.tip for place in before.places)
        chosen = next(place.tip for place in before.places if (place.entry.id, place.number) == (entry.id, first))
        assert chosen in [place.tip for place in after.places if place.entry.id == own.id]
    more = change(after, changes.nudge_pieces(after.recipe, own.id, 1).recipe)
    kept, now = get_places(after), get_places(more)
    assert all(now[key] == place for key, place in kept.items() if key[0] == entry.id and place.seat is Seat.SURFACE)


@pytest.mark.parametrize("typed", ["0", "-1", "99", "½", "1.5", "²"])
def test_what_cannot_be_split_off_is_told_with_what_can(typed: str) -> None:
    before = keep(find_recipe("Slipway 42"))
    with pytest.raises(BadInput, match="split off"):
        split_entry(before, before.recipe.entries[0].id, typed)
