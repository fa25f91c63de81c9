"""What puts a finding right: it does, it says what it brings, and it brings no stop."""

from collections.abc import Callable
from decimal import Decimal

import pytest

from mirvel.core.changing import changes
from mirvel.core.changing.carrying import carry_places
from mirvel.core.house.rules import HouseRules
from mirvel.core.judging.check import Severity
from mirvel.core.judging.checks import DECLARED
from mirvel.core.mending import MAKERS, Mend, find_mend, find_other_size, find_other_vessel, mend_all
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.working import Worked
from mirvel.demo import get_catalogue, get_recipes
from tests.builds import work_out

CATALOGUE, RULES = get_catalogue(), HouseRules()
Spoil = Callable[[Recipe], Recipe]


def work(before: Recipe, after: Recipe) -> Worked:
    return work_out(carry_places(work_out(before, CATALOGUE, RULES).build, after), CATALOGUE, RULES)


def spoilt(family: str, spoil: Spoil) -> Worked:
    return work_out(spoil(next(each for each in get_recipes() if each.family == family)), CATALOGUE, RULES)


def ask(**brief: object) -> Spoil:
    return lambda recipe: recipe.change(brief={**recipe.brief.model_dump(), **brief})


def _in_foam(recipe: Recipe, slug: str) -> Recipe:
    """Made in another foam."""
    uses = [each.model_dump() for each in recipe.hard_goods]
    foam = [{**use, "hard_good": slug} if "foam" in str(use["hard_good"]) else use for use in uses]
    return recipe.change(hard_goods=foam)


def _with_leaves(recipe: Recipe) -> Recipe:
    """Three long leaves more."""
    added = changes.add_entry(recipe, CATALOGUE, "aspidistra").recipe
    return changes.nudge_pieces(added, next(e.id for e in added.entries if e.material == "aspidistra"), 2).recipe


CASES: list[tuple[str, str, Spoil]] = [
    ("overfilled", "slipway", lambda recipe: recipe.change(price_point="38")),
    ("underfilled", "slipway", lambda recipe: changes.nudge_pieces(recipe, "e6", -3).recipe),
    ("foam-charged", "evening-bell", lambda recipe: recipe.change(hard_goods=recipe.hard_goods[1:])),
    ("thin", "slipway", lambda recipe: changes.nudge_height(recipe, 12).recipe),
    ("crowded", "slipway", lambda recipe: changes.nudge_height(recipe, -9).recipe),
    ("foam-grade", "quiet-water", lambda recipe: _in_foam(recipe, "foam-brick-dry")),
    ("seen-from", "breakwater", ask(seen_from="all round")),
    ("minutes", "slipway", lambda recipe: recipe.change(minutes="3")),
    ("held", "slipway", lambda recipe: changes.set_meant(recipe, "e5", "held 5", RULES.unit).recipe),
    ("leaf-in-water", "longline", _with_leaves),
]


@pytest.mark.parametrize(("check_id", "family", "spoil"), CASES, ids=[case[0] for case in CASES])
def test_a_finding_is_put_right_and_nothing_graver_comes(check_id: str, family: str, spoil: Spoil) -> None:
    worked = spoilt(family, spoil)
    check = next(each for each in worked.checks if each.kind == check_id)
    mend = find_mend(worked, check, CATALOGUE, work)
    assert mend is not None
    assert check in mend.gone
    assert check.id not in {each.id for each in mend.after.checks}
    assert not {each.severity for each in mend.come} & {Severity.STOP, Severity.WARN}
    pieces = [sum(entry.pieces for entry in each.recipe.entries) for each in (worked, mend.after)]
    assert pieces[1] - pieces[0] == sum(mend.pieces.values())
    assert mend.spent_by == mend.after.money.spent - worked.money.spent
    assert all(mend.words)


def test_leaves_that_are_told_by_another_stand_higher_and_keep_that() -> None:
    def spoil(recipe: Recipe) -> Recipe:
        leaves = _with_leaves(recipe)
        line = [entry.material for entry in leaves.entries].index("gerbera-bound") + 1
        entry = next(each for each in leaves.entries if each.material == "aspidistra")
        return changes.set_meant(leaves, entry.id, f"beside {line}", RULES.unit).recipe

    worked = spoilt("longline", spoil)
    check = next(each for each in worked.checks if each.kind == "leaf-in-water")
    found = list(MAKERS["leaf-in-water"](worked, check, CATALOGUE))
    assert len(found) == 3
    assert all("eside" in change.words and "erbera" in change.words for change in found)


def test_leaves_of_all_entries_that_stand_in_the_water_stand_higher_at_once() -> None:
    worked = spoilt("longline", lambda recipe: changes.add_entry(_with_leaves(recipe), CATALOGUE, "cordyline").recipe)
    check = next(each for each in worked.checks if each.kind == "leaf-in-water")
    assert len({piece.partition(".")[0] for piece in check.pieces}) == 2
    mend = find_mend(worked, check, CATALOGUE, work)
    assert mend is not None
    assert "leaf-in-water" not in {each.kind for each in mend.after.checks}
    assert all(name in mend.words[0] for name in ("Aspidistra", "Cordyline"))


def test_what_is_taken_out_is_no_more_than_it_takes() -> None:
    """Of the entry that goes fewer, one piece more would be over the money again."""
    worked = spoilt("slipway", lambda recipe: recipe.change(price_point="40"))
    mend = find_mend(worked, worked.checks[0], CATALOGUE, work)
    assert mend is not None
    assert mend.after.money.room_left >= 0
    ((entry, by),) = mend.pieces.items()
    each = worked.money.entry_costs[entry] / next(one.pieces for one in worked.recipe.entries if one.id == entry)
    assert by < 0
    assert mend.after.money.room_left < each + Decimal("0.05")


def test_what_comes_with_it_is_told_beforehand() -> None:
    """A full vase that is to stand clearly below 30 cm is crowded then."""
    worked = spoilt("slipway", ask(across_table=True))
    check = next(each for each in worked.checks if each.kind == "low-piece")
    mend = find_mend(worked, check, CATALOGUE, work)
    assert mend is not None
    assert mend.after.build.overall_height_cm < 30
    assert mend.taller_by_cm < -5
    assert "crowded" in {each.kind for each in mend.come}
    assert mend_all(worked, CATALOGUE, work) is None  # that is for a person to weigh


def test_all_that_can_be_is_put_right_one_after_the_other() -> None:
    def spoil(recipe: Recipe) -> Recipe:
        lower = changes.nudge_height(recipe, -9).recipe
        return lower.change(price_point="46")

    worked = spoilt("slipway", spoil)
    assert {"crowded", "underfilled"} <= {check.kind for check in worked.checks}
    mend = mend_all(worked, CATALOGUE, work)
    assert mend is not None
    assert not {"crowded", "underfilled"} & {check.kind for check in mend.after.checks}
    assert len(mend.words) >= 2
    assert mend_all(mend.after, CATALOGUE, work) is None or mend.after.checks


def test_an_answer_that_crowds_a_piece_is_offered_larger_or_in_a_larger_vessel_and_one_that_does_not_is_left() -> None:
    recipe = next(each for each in get_recipes() if each.family == "slipway")
    before = work_out(recipe, CATALOGUE, RULES)
    more = recipe
    for entry in ("e5", "e6", "e7"):
        more = changes.nudge_pieces(more, entry, 12).recipe
    crowded = Mend(("more",), before, work(recipe, more))
    assert "crowded" in {check.kind for check in crowded.come}
    other = find_other_size(crowded, CATALOGUE, work)
    assert other is not None
    assert "crowded" not in {check.kind for check in other.come}
    assert other.taller_by_cm > crowded.taller_by_cm
    assert other.rank < crowded.rank
    assert other.pieces == crowded.pieces
    assert find_other_size(other, CATALOGUE, work) is None
    vessel = find_other_vessel(crowded, CATALOGUE, work)
    assert vessel is not None
    assert "crowded" not in {check.kind for check in vessel.come}
    held, was = (mend.after.build.container for mend in (vessel, crowded))
    assert held.mouth_cm > was.mouth_cm
    assert (held.kind, held.clear, held.shape) == (was.kind, was.clear, was.shape)
    assert vessel.pieces == crowded.pieces
    assert find_other_vessel(vessel, CATALOGUE, work) is None


def test_every_kind_that_is_put_right_is_a_check() -> None:
    assert set(MAKERS) <= {declared.id for declared in DECLARED}
