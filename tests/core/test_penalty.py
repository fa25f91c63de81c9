"""What counts against an answer, in points by hand from the table of docs/fitting.md, and what a fit begins with."""

from dataclasses import replace
from decimal import Decimal
from typing import Any

import pytest

from mirvel.core.changing.changes import set_entry
from mirvel.core.fit.fitting import set_price
from mirvel.core.fit.lines import FitProblem, Line, Need, Pool, get_fit_problem
from mirvel.core.fit.penalty import get_line_cost, get_penalty, get_spent, is_allowed
from mirvel.core.goods.facts import Role
from mirvel.core.house.rules import HouseRules
from mirvel.core.pricing.pricing import get_money
from mirvel.core.recipe.entry import Entry
from mirvel.core.recipe.fit_wishes import Aim
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.demo import RULES, get_catalogue


def make_line(name: str, role: Role, need: Need, parent: int, size: int, life: int, **more: int) -> Line:
    entry = Entry(id=name, material="rose-standard", colour="red", role=role, pieces=0)
    numbers = {"section": 40, "minutes": 10, "footprint": size} | more
    return Line(
        entry, name, (need,), 0, 0, 9, parent, numbers["footprint"], size, numbers["section"], life, numbers["minutes"]
    )


# Four roses at 1.00, each three twentieths of the whole mass, and eight pieces of a spray of four at 0.40 a stem.
ROSE = make_line("rose", Role.FOCAL, Need(0, 1, 1), 3, 1500, 5, footprint=1000)
SPRAY = make_line("spray", Role.MASS, Need(1, 1, 0), 6, 500, 8, section=10, minutes=5, footprint=100)
PROBLEM = FitProblem(
    lines=(ROSE, SPRAY),
    pools=(Pool("rose", "red", 1, 10_000, 10_000), Pool("spray", "red", 4, 4_000, 1_000)),
    whole_stems=True,
    money=50_000,
    band=2_000,
    aim=Aim.MONEY,
    odd_focal=True,
    shares={Role.FOCAL: 400, Role.MASS: 600},
    money_shares={},
    least_cover=0,
    most_cover=10_000,
    slots={"rose": (0, 9), "spray": (0, 9)},
    most_section=240,
    most_pieces=12,
)
COUNTS = {"rose": 4, "spray": 8}


@pytest.mark.parametrize(
    ("part", "points", "changed"),
    [
        ("money left", 14, {}),  # 4 % left: seven half per cents beyond the first, 2 each
        ("money left", 0, {"money": 48_000}),
        ("money left", 0, {"money": 48_240}),  # within the first half per cent
        ("money left", 2, {"money": 48_300}),
        ("not true", 0, {}),
        ("not true", 40, {"band": 1_000}),  # 2 % under the band, 20 each
        ("not true", 20, {"band": 1_900}),
        ("even focal", 4, {}),
        ("even focal", 0, {"odd_focal": False}),
        ("shares", 16, {}),  # each 20 points off, 16 beyond the dead 4, a point for each two
        ("shares", 0, {"shares": {Role.FOCAL: 600, Role.MASS: 400}}),
        ("shares", 0, {"shares": {Role.FOCAL: 640}}),
        ("shares", 1, {"shares": {Role.FOCAL: 660}}),
        ("shares", 31, {"money_shares": {Role.FOCAL: (200, 500)}}),  # 80 % of the money, 30 too much: 15 more
        ("shares", 21, {"money_shares": {Role.FOCAL: (900, 950)}}),  # 10 too little
        ("shares", 16, {"money_shares": {Role.FOCAL: (700, 900)}}),
        ("cover", 0, {}),
        ("cover", 1, {"least_cover": 5_000}),  # 48 % covered: two points short
        ("cover", 2, {"least_cover": 5_001}),
        ("cover", 2, {"most_cover": 4_400}),
        ("likeness", 4, {}),  # one rose more, 2; two pieces of spray, 1 each
        ("likeness", 12, {"aim": Aim.PARENT}),
        ("aim", 0, {}),
        ("aim", 26, {"aim": Aim.FULLEST}),  # 52 points not covered, one for each two
        ("aim", 20, {"aim": Aim.FOCAL}),  # 40 points of the mass are not the focals'
        ("aim", 60, {"aim": Aim.LASTING}),  # 60 % of the mass is over three days sooner: 18,000 in steps of 300
        ("aim", 8, {"aim": Aim.MINUTES}),  # four at 1.0 and eight at 0.5 minutes
    ],
)
def test_points_by_hand(part: str, points: int, changed: dict[str, Any]) -> None:
    found = get_penalty(replace(PROBLEM, **changed), COUNTS)
    assert found.parts[part] == points
    assert found.total == sum(found.parts.values())
    assert found.spent == 48_000


def test_three_focals_are_odd_and_none_is_not_even() -> None:
    assert get_penalty(PROBLEM, {**COUNTS, "rose": 3}).parts["even focal"] == 0
    assert get_penalty(PROBLEM, {**COUNTS, "rose": 0}).parts["even focal"] == 0


def test_stems_are_paid_whole_or_by_the_piece() -> None:
    """By hand: seven pieces of a spray of four are two stems, or seven quarters; a rose has a stem of its own."""
    seven = {**COUNTS, "spray": 7}
    assert get_spent(PROBLEM, seven) == 48_000
    assert get_spent(replace(PROBLEM, whole_stems=False), seven) == 47_000
    assert [get_line_cost(PROBLEM, line) for line in PROBLEM.lines] == [10_000, 1_000]
    tops = replace(PROBLEM, lines=(ROSE, replace(SPRAY, needs=(Need(1, 1, 1),))))
    assert get_spent(tops, {"rose": 0, "spray": 3}) == 12_000  # a stem has one top
    wired = replace(PROBLEM, lines=(replace(ROSE, direct=700), SPRAY))
    assert get_spent(wired, COUNTS) == 48_000 + 4 * 700
    assert get_line_cost(wired, wired.lines[0]) == 10_700


@pytest.mark.parametrize(
    ("changed", "allowed"),
    [
        ({}, True),
        ({"money": 48_000}, True),
        ({"money": 47_999}, False),
        ({"most_pieces": 11}, False),
        ({"most_section": 239}, False),
        ({"slots": {"rose": (0, 3), "spray": (0, 9)}}, False),
        ({"slots": {"rose": (5, 9), "spray": (0, 9)}}, False),
        ({"slots": {"rose": (4, 4), "spray": (8, 8)}}, True),
        ({"lines": (replace(ROSE, most=3), SPRAY)}, False),
        ({"lines": (replace(ROSE, least=5), SPRAY)}, False),
        ({"lines": (replace(ROSE, least=4, most=4), SPRAY)}, True),
    ],
)
def test_what_an_answer_may_not_pass(changed: dict[str, Any], allowed: bool) -> None:
    assert is_allowed(replace(PROBLEM, **changed), COUNTS) is allowed


def test_a_fit_begins_with_the_money_and_the_proportions_of_the_recipe(slipway: Recipe) -> None:
    """Money in ten-thousandths, the band 4 % of it, as the shop rules; at another price all entries at their shares."""
    catalogue, rules = get_catalogue(), RULES.change(true_from=Decimal("0.96"), true_to=Decimal(1))
    problem = get_fit_problem(slipway, catalogue, rules)
    money = get_money(take(slipway, catalogue), rules)
    assert problem.money == int(money.flower_money * 10_000)
    assert problem.band == pytest.approx(problem.money * 0.04, abs=2)
    half = get_fit_problem(slipway, catalogue, rules.change(true_from=Decimal("0.5"), true_to=Decimal("0.75")))
    assert half.money == int(money.flower_money * 7_500)
    assert half.band == pytest.approx(int(money.flower_money * 2_500), abs=2)
    own = {entry.id: entry.pieces for entry in slipway.entries}
    usual = sum(get_line_cost(problem, line) * own[line.id] for line in problem.lines)
    dear = get_fit_problem(set_price(slipway, slipway.price_point * 2), catalogue, rules)
    for line in dear.lines:
        assert line.parent == pytest.approx(own[line.id] * dear.money / usual, abs=0.51)
        assert dear.slots[line.id][0] == 1
        assert dear.slots[line.id][1] >= 2.5 * own[line.id] * dear.money / usual
    assert sum(line.mass * own[line.id] for line in problem.lines) == pytest.approx(
        10_000 * usual / problem.money, rel=0.02
    )
    assert sum(problem.shares.values()) == pytest.approx(1000, abs=3)


def test_limits_and_locks_of_an_entry_are_kept(slipway: Recipe) -> None:
    catalogue, first = get_catalogue(), slipway.entries[0]
    entries = [
        {**entry.model_dump(), **({"least": 2, "most": 5} if entry.id == first.id else {"locked": True})}
        for entry in slipway.entries
    ]
    problem = get_fit_problem(slipway.change(entries=entries), catalogue, HouseRules())
    for entry, line in zip(slipway.entries, problem.lines, strict=True):
        expected = (2, 5) if entry.id == first.id else (entry.pieces, entry.pieces)
        assert problem.slots[entry.id] == (line.least, line.most) == expected
    none = set_entry(slipway, first.id, "pieces", 0).recipe
    assert get_fit_problem(none, catalogue, HouseRules()).slots[first.id][0] == 0
