"""What still fits against every single piece and pair that could be bought, and what a fit says of what holds it."""

import re
from decimal import Decimal
from itertools import combinations_with_replacement

import pytest
from coloraide import Color

from mirvel.core.changing.changes import nudge_pieces
from mirvel.core.fit.extras import Extra, find_extras
from mirvel.core.fit.fitting import apply_counts, fit
from mirvel.core.fit.lines import get_fit_problem
from mirvel.core.fit.repair import find_repairs
from mirvel.core.fit.substitutes import find_substitutes
from mirvel.core.goods.facts import Role
from mirvel.core.pricing.pricing import Money, get_money
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.demo import RULES, get_catalogue, get_recipes

CATALOGUE = get_catalogue()
SLIPWAY = next(each for each in get_recipes() if each.family == "slipway")
KEPT = ("rose-standard", "carnation-standard", "limonium")


def make(price: str, roses: int = 3) -> Recipe:
    """A rose, a carnation and a spray alone, at a price."""
    entries = [
        {**entry.model_dump(), "pieces": roses if entry.material == KEPT[0] else entry.pieces}
        for entry in SLIPWAY.entries
        if entry.material in KEPT
    ]
    return SLIPWAY.change(entries=entries, price_point=price)


def reckon(recipe: Recipe) -> Money:
    return get_money(take(recipe, CATALOGUE), RULES)


def apply(recipe: Recipe, changes: dict[str, int]) -> Recipe:
    for entry, by in changes.items():
        recipe = nudge_pieces(recipe, entry, by).recipe
    return recipe


def get_changes(extra: Extra) -> dict[str, int]:
    return {change.entry: change.by for change in extra.changes}


@pytest.mark.parametrize("price", ["24", "25", "26", "27", "28"])
def test_what_still_fits_is_every_piece_and_pair_that_the_room_pays(price: str) -> None:
    recipe = make(price)
    before, names = reckon(recipe), [entry.id for entry in recipe.entries]
    wanted = [{name: 1} for name in names]
    for one, other in combinations_with_replacement(names, 2):
        wanted.append({one: 2} if one == other else {one: 1, other: 1})
    paid = [each for each in wanted if reckon(apply(recipe, each)).spent - before.spent <= before.room_left]
    found = find_extras(recipe, CATALOGUE, RULES)
    added = [get_changes(each) for each in found if all(change.by > 0 for change in each.changes)]
    assert len(found) < 12, "all are shown"
    assert sorted(map(str, added)) == sorted(map(str, paid))


@pytest.mark.parametrize(("price", "roses"), [("26", 3), ("27", 4), ("30", 4), ("40", 3)])
def test_what_is_said_of_what_still_fits_is_so(price: str, roses: int) -> None:
    recipe = make(price, roses)
    before, role = reckon(recipe), {entry.id: entry.role for entry in recipe.entries}
    found = find_extras(recipe, CATALOGUE, RULES)
    assert found
    for extra in found:
        changes = get_changes(extra)
        after = reckon(apply(recipe, changes))
        assert abs(after.flower_money - after.spent - extra.left) < Decimal("0.001")
        focals = roses + sum(by for entry, by in changes.items() if role[entry] is Role.FOCAL)
        assert ("makes the focals odd" in extra.why) is (roses % 2 == 0 and focals % 2 == 1)
        assert ("from a stem already bought" in extra.why) is (
            after.spent <= before.spent and min(changes.values()) > 0
        )
        assert "closes bare surface" in extra.why


def test_a_piece_too_dear_is_offered_for_what_gives_way_to_it_and_never_for_itself() -> None:
    recipe = SLIPWAY.change(price_point="42")
    exchanges = [each for each in find_extras(recipe, CATALOGUE, RULES) if min(get_changes(each).values()) < 0]
    before = reckon(recipe)
    for each in exchanges:
        changes = get_changes(each)
        gained = [entry for entry, by in changes.items() if by > 0]
        given = [entry for entry, by in changes.items() if by < 0]
        assert len(gained) == len(given) == 1
        assert gained != given
        assert reckon(apply(recipe, {gained[0]: 1})).spent - before.spent > before.room_left
        assert reckon(apply(recipe, changes)).room_left >= 0
    assert exchanges


def get_single_entries(recipe: Recipe) -> list[str]:
    """The entries of which one more still fits, in the order offered."""
    changes = [get_changes(each) for each in find_extras(recipe, CATALOGUE, RULES)]
    return [next(iter(each)) for each in changes if list(each.values()) == [1]]


def test_what_its_role_lacks_comes_first_and_else_what_closes_most() -> None:
    recipe = make("90", roses=4)
    names = {entry.role: entry.id for entry in recipe.entries}
    for role, name in names.items():
        wished = {"shares": {each: int(each is role) for each in names}, "odd_focal": False}
        assert get_single_entries(recipe.change(fit=wished))[0] == name
        wished = {"shares": {each: (1 - int(each is role)) / 2 for each in names}, "odd_focal": False}
        assert get_single_entries(recipe.change(fit=wished))[-1] == name
    closes = {line.id: line.footprint for line in get_fit_problem(recipe, CATALOGUE, RULES).lines}
    alike = get_single_entries(recipe.change(fit={"odd_focal": False}))
    assert sorted(alike, key=lambda name: -closes[name]) == alike


def test_a_material_the_recipe_has_not_is_offered_in_the_colour_nearest_to_its_own() -> None:
    """Against coloraide; an entry without pieces has no colour to match."""
    recipe = make("60")
    entries = [{**entry.model_dump(), "pieces": entry.pieces * (at < 2)} for at, entry in enumerate(recipe.entries)]
    recipe = recipe.change(entries=entries)
    own = [CATALOGUE.materials[each.material].colours[each.colour] for each in recipe.entries if each.pieces]
    offered = [
        change
        for extra in find_extras(recipe, CATALOGUE, RULES, whole_catalogue=True)
        for change in extra.changes
        if not change.entry
    ]

    def get_distance(colour: str) -> float:
        return min(Color(colour).delta_e(other, method="76") for other in own)

    for change in offered:
        colours = CATALOGUE.materials[change.material].colours
        assert get_distance(colours[change.colour]) == pytest.approx(min(map(get_distance, colours.values())))
    assert len(offered) > 3


def test_alternatives_that_are_used_stand_behind_their_entry_under_names_of_their_own() -> None:
    recipe = make("60")
    first, *rest = recipe.entries
    others = [
        {"material": slug, "colour": min(CATALOGUE.materials[slug].colours)} for slug in ("gerbera-mini", "lily-la")
    ]
    wider = recipe.change(entries=[{**first.model_dump(), "alternatives": others}, *rest])
    problem = get_fit_problem(wider, CATALOGUE, RULES)
    counts = {line.id: 2 if line.id == first.id or line.slot != line.id else 1 for line in problem.lines}
    found = apply_counts(wider, problem, counts).entries
    assert [each.material for each in found[:3]] == [first.material, *(each["material"] for each in others)]
    assert [each.id for each in found if each.id in {entry.id for entry in recipe.entries}] == [
        entry.id for entry in recipe.entries
    ]
    assert len({each.id for each in found}) == len(found) == len(recipe.entries) + 2
    assert [each.pieces for each in found] == [2, 2, 2, *(1 for _ in rest)]


def test_a_fit_names_what_is_kept_and_what_is_at_its_most() -> None:
    recipe = make("60")
    limits: tuple[dict[str, int], ...] = ({"locked": 1}, {"most": 9}, {"most": 6})
    entries = [{**entry.model_dump(), **limit} for entry, limit in zip(recipe.entries, limits, strict=True)]
    said = " ".join(fit(recipe.change(entries=entries), CATALOGUE, RULES).reasons)
    kept, first, second = (f"{CATALOGUE.get_name(each.material)}, {each.colour}" for each in recipe.entries)
    assert f"{kept} is kept as it is." in said
    assert f"{first} is at its most, 9." in said
    assert f"{second} is at its most, 6." in said


def test_a_difference_of_colour_is_told_where_it_can_be_seen(slipway: Recipe) -> None:
    """Two is about the least difference an eye sees side by side: common practice, no published source."""
    rose = next(entry for entry in slipway.entries if entry.role is Role.FOCAL)
    found = find_substitutes(slipway, rose.id, CATALOGUE, RULES, most=1000)
    for each in found:
        said = " ".join(each.reasons)
        assert ("no difference to see" in said) is (each.colour_difference < 2)
        assert (f"colour {each.colour_difference:.0f} off" in said) is (each.colour_difference >= 2)
    assert found


def test_what_still_fits_goes_through_the_mouth() -> None:
    """A stem more is offered only as long as the container's mouth has room for it."""
    buds = next(each for each in get_recipes() if each.family == "three-buoys").change(price_point="500")
    entry = buds.entries[-1]
    offered, room = [], []
    for more in range(0, 200, 10):
        full = nudge_pieces(buds, entry.id, more).recipe
        problem = get_fit_problem(full, CATALOGUE, RULES)
        sections = {line.id: line.section for line in problem.lines}
        left = problem.most_section - sum(line.section * line.entry.pieces for line in problem.lines)
        added = [get_changes(extra) for extra in find_extras(full, CATALOGUE, RULES)]
        added = [changes for changes in added if min(changes.values()) > 0]
        assert all(sum(sections[name] * by for name, by in changes.items()) <= left for changes in added)
        offered.append(any(entry.id in changes for changes in added))
        room.append(sections[entry.id] <= left)
    assert offered == room
    assert True in room
    assert False in room


def test_the_money_left_and_the_next_price_are_told_as_they_are() -> None:
    recipe = make("27", roses=3)
    fitted = fit(recipe, CATALOGUE, RULES)
    said = next(reason for reason in fitted.reasons if reason.startswith("Money: "))
    left, price = (Decimal(amount) for amount in re.findall(r"\d+\.\d\d", said))
    assert left == pytest.approx(fitted.money.room_left, abs=Decimal("0.01"))
    dearer = [reckon(apply(fitted.recipe, {entry.id: 1})).spent - fitted.money.spent for entry in fitted.recipe.entries]
    assert any(abs(price - each) <= Decimal("0.01") for each in dearer)
    assert left < price


def test_no_limit_of_the_focals_is_a_limit_of_all() -> None:
    recipe = make("60")
    focal = next(entry for entry in recipe.entries if entry.role is Role.FOCAL)
    alone = recipe.change(entries=[focal])
    free, whole = (fit(alone.change(fit={"focal_to": share}), CATALOGUE, RULES) for share in (None, "1"))
    assert free.counts == whole.counts
    assert free.counts[focal.id] > 1


def test_the_best_repair_is_proven_to_be_the_best() -> None:
    """Where nothing better can be, the bound is what it comes to; it is never over that."""
    for price in ("30", "34", "48"):
        repairs = find_repairs(SLIPWAY.change(price_point=price), CATALOGUE, RULES)
        for repair in repairs:
            assert 0 <= repair.fitted.bound <= repair.fitted.penalty.total
        if repairs and repairs[0].fitted.optimal:
            assert repairs[0].fitted.bound == repairs[0].fitted.penalty.total
