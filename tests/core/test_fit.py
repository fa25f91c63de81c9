"""Fitting to a price against brute force, an independent solver and a textbook knapsack; and what always holds."""

import itertools
import json
import subprocess
import sys
from decimal import Decimal
from itertools import cycle, filterfalse, pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bench.highs import solve_with_highs
from mirvel.core.changing.changes import add_entry, nudge_pieces
from mirvel.core.fit.extras import find_extras
from mirvel.core.fit.fitting import CannotFit, fit, set_price
from mirvel.core.fit.ladder import climb
from mirvel.core.fit.lines import FitProblem, Line, Need, Pool, get_fit_problem
from mirvel.core.fit.mass import get_mass_cm2
from mirvel.core.fit.model import NoAnswer, solve
from mirvel.core.fit.penalty import get_penalty, get_spent, is_allowed
from mirvel.core.fit.repair import find_repairs
from mirvel.core.fit.substitutes import find_substitutes
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.colours import Lab, get_lab_difference
from mirvel.core.goods.facts import Role
from mirvel.core.goods.heads import get_head
from mirvel.core.goods.material import StemKind
from mirvel.core.house.terms import PiecePolicy, PricingSchool
from mirvel.core.pricing.pricing import get_money
from mirvel.core.recipe.entry import Entry
from mirvel.core.recipe.fit_wishes import Aim, Alternative, Exclusion
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.demo import RULES, get_catalogue, get_recipes
from mirvel.settings import PROJECT_ROOT

CATALOGUE, RECIPES = get_catalogue(), get_recipes()
SLIPWAY = next(recipe for recipe in RECIPES if recipe.family == "slipway")


@st.composite
def small_problems(draw: st.DrawFn) -> FitProblem:
    """Up to four lines of up to three pieces, some from shared stems, some with stems of their own."""
    pools = tuple(
        Pool(f"m{n}", "white", per_stem, per_stem * unit, unit)
        for n in range(draw(st.integers(1, 3)))
        for per_stem, unit in [(draw(st.integers(1, 4)), draw(st.integers(500, 9000)))]
    )
    lines = []
    for number in range(draw(st.integers(1, 4))):
        pool = draw(st.integers(0, len(pools) - 1))
        per_stem = pools[pool].per_stem
        whole, top = draw(st.booleans()), draw(st.booleans())
        need = Need(pool, per_stem if whole else 1, int(whole or top))
        role = draw(st.sampled_from([Role.FOCAL, Role.MASS, Role.FILLER]))
        entry = Entry(id=f"e{number}", material="rose-standard", colour="red", role=role, pieces=0)
        mass = draw(st.integers(100, 4000))
        life = draw(st.integers(3, 14))
        most, parent = draw(st.integers(0, 3)), draw(st.integers(0, 3))
        direct = draw(st.sampled_from([0, 700]))
        lines.append(Line(entry, entry.id, (need,), direct, 0, most, parent, mass, mass, 40, life, 4))
    slots = {line.id: (draw(st.integers(0, 1)) if line.most else 0, line.most) for line in lines}
    money = draw(st.integers(5_000, 60_000))
    return FitProblem(
        lines=tuple(lines),
        pools=pools,
        whole_stems=draw(st.booleans()),
        money=money,
        band=money // 25,
        aim=draw(st.sampled_from(Aim)),
        odd_focal=draw(st.booleans()),
        shares={Role.FOCAL: 400, Role.MASS: 600},
        money_shares=draw(st.sampled_from([{}, {Role.FOCAL: (200, 500)}, {Role.FILLER: (60, 140)}])),
        least_cover=4_000,
        most_cover=9_000,
        slots=slots,
        most_section=draw(st.sampled_from([10**9, 200])),
        most_pieces=8,
    )


def enumerate_answers(problem: FitProblem) -> list[dict[str, int]]:
    ranges = [range(line.least, line.most + 1) for line in problem.lines]
    answers = (
        dict(zip([line.id for line in problem.lines], counts, strict=True)) for counts in itertools.product(*ranges)
    )
    return [counts for counts in answers if is_allowed(problem, counts)]


@given(problem=small_problems())
@settings(max_examples=60)
def test_the_solver_finds_what_trying_everything_finds(problem: FitProblem) -> None:
    answers = enumerate_answers(problem)
    if not answers:
        with pytest.raises(NoAnswer):
            solve(problem)
        return
    if problem.aim is Aim.MONEY:
        most = max(get_spent(problem, counts) // 100 for counts in answers)  # whole cents, of ten-thousandths
        answers = [counts for counts in answers if get_spent(problem, counts) // 100 == most]
    solved = solve(problem)
    assert is_allowed(problem, solved.counts)
    assert solved.optimal
    best = min(get_penalty(problem, counts).total for counts in answers)
    assert solved.penalty == get_penalty(problem, solved.counts).total == best == solved.bound


@pytest.mark.parametrize(("recipe", "aim"), list(zip(RECIPES, cycle([Aim.FULLEST, Aim.LASTING]), strict=False)))
def test_an_independent_solver_agrees(recipe: Recipe, aim: Aim) -> None:
    problem = get_fit_problem(set_price(recipe, recipe.price_point * Decimal("1.25"), aim), CATALOGUE, RULES)
    assert solve(problem).penalty == solve_with_highs(problem)


def test_the_textbook_knapsack() -> None:
    """Capacity 165, ten items, optimum 309: source: kreher-stinson, from memory. An item is a
    stem of one piece: its weight what it takes of the mouth, its value what it costs, where money goes first."""
    weights, values = (23, 31, 29, 44, 53, 38, 63, 85, 89, 82), (92, 57, 49, 68, 60, 43, 67, 84, 87, 72)
    lines = []
    for number, weight in enumerate(weights):
        entry = Entry(id=f"e{number}", material="rose-standard", colour="red", role=Role.MASS, pieces=0)
        lines.append(Line(entry, entry.id, (Need(number, 1, 1),), 0, 0, 1, 0, 100, 100, weight, 7, 3))
    problem = FitProblem(
        lines=tuple(lines),
        pools=tuple(Pool(f"m{number}", "red", 1, value, value) for number, value in enumerate(values)),
        whole_stems=True,
        money=1000,
        band=40,
        aim=Aim.MONEY,
        odd_focal=False,
        shares={},
        money_shares={},
        least_cover=0,
        most_cover=10_000,
        slots={line.id: (0, 1) for line in lines},
        most_section=165,
        most_pieces=10,
    )
    assert get_spent(problem, solve(problem).counts) == 309


@given(recipe=st.sampled_from(RECIPES), percent=st.integers(70, 160), aim=st.sampled_from(Aim))
@settings(max_examples=12)
def test_a_fit_never_spends_more_than_the_flower_money(recipe: Recipe, percent: int, aim: Aim) -> None:
    try:
        fitted = fit(set_price(recipe, recipe.price_point * percent / 100, aim), CATALOGUE, RULES)
    except CannotFit:
        return
    assert fitted.money == get_money(take(fitted.recipe, CATALOGUE), RULES)
    assert fitted.money.room_left >= 0
    assert fitted.optimal
    assert fitted.penalty.total == fitted.bound


@given(recipe=st.sampled_from(RECIPES), steps=st.lists(st.integers(100, 170), min_size=2, max_size=3, unique=True))
@settings(max_examples=6)
def test_money_first_never_spends_less_at_a_higher_price(recipe: Recipe, steps: list[int]) -> None:
    spent = []
    for percent in sorted(steps):
        fitted = fit(set_price(recipe, recipe.price_point * percent / 100, Aim.MONEY), CATALOGUE, RULES)
        spent.append(fitted.money.spent * 100 // 1)
    assert spent == sorted(spent)


@pytest.mark.parametrize("aim", list(Aim))
def test_an_alternative_never_makes_the_best_worse_and_one_shut_out_changes_nothing(aim: Aim) -> None:
    plain = set_price(SLIPWAY, None, aim)
    lily = next(each for _, each in sorted(CATALOGUE.materials.items()) if each.pollen and not each.is_leaf)
    other = Alternative(material=lily.slug, colour=next(iter(lily.colours)))
    entries = [
        {**entry.model_dump(), "alternatives": [other], "least": 0 if entry.pieces else None}
        if entry.role is Role.FOCAL
        else entry
        for entry in plain.entries
    ]
    alone = plain.change(
        entries=[{**entry, "alternatives": []} if isinstance(entry, dict) else entry for entry in entries]
    )
    wider = plain.change(entries=entries)
    before, after = (solve(get_fit_problem(each, CATALOGUE, RULES)) for each in (alone, wider))
    if aim is Aim.MONEY:
        spent = [fit(each, CATALOGUE, RULES).money.spent * 100 // 1 for each in (alone, wider)]
        assert spent[1] >= spent[0]
    else:
        assert after.penalty <= before.penalty
    shut = wider.change(brief={**wider.brief.model_dump(), "exclude": [each.value for each in Exclusion]})
    assert {line.id for line in get_fit_problem(shut, CATALOGUE, RULES).lines} == {entry.id for entry in wider.entries}


def test_nothing_comes_in_that_is_over_before_the_brief_allows() -> None:
    asked = SLIPWAY.change(brief={**SLIPWAY.brief.model_dump(), "lasts_days": 9})
    rose = next(entry for entry in asked.entries if entry.role is Role.FOCAL)
    short, long = (
        next(
            each
            for _, each in sorted(CATALOGUE.materials.items())
            if each.kind is StemKind.FLOWER and each.life_min_days and (each.life_min_days < 9) is is_short
        )
        for is_short in (True, False)
    )
    others = [Alternative(material=each.slug, colour=min(each.colours)) for each in (short, long)]
    entries = [{**entry.model_dump(), "alternatives": others} if entry is rose else entry for entry in asked.entries]
    wider = get_fit_problem(asked.change(entries=entries), CATALOGUE, RULES)
    assert {line.entry.material for line in wider.lines} - {entry.material for entry in asked.entries} == {long.slug}
    offered = {change.material for extra in find_extras(asked, CATALOGUE, RULES, whole_catalogue=True)
               for change in extra.changes if not change.entry}  # fmt: skip
    offered |= {each.material.slug for each in find_substitutes(asked, rose.id, CATALOGUE, RULES)}
    assert offered
    assert all((CATALOGUE.materials[slug].life_min_days or 99) >= 9 for slug in offered)


def test_locks_and_limits_hold_and_a_clash_says_how_to_mend_it() -> None:
    rose = next(entry for entry in SLIPWAY.entries if entry.role is Role.FOCAL)
    locked = SLIPWAY.change(
        price_point="36",
        entries=[{**entry.model_dump(), "locked": entry.id == rose.id} for entry in SLIPWAY.entries],
    )
    assert fit(locked, CATALOGUE, RULES).counts[rose.id] == rose.pieces
    greedy = locked.change(entries=[{**entry.model_dump(), "least": entry.pieces} for entry in SLIPWAY.entries])
    with pytest.raises(CannotFit) as caught:
        fit(greedy, CATALOGUE, RULES)
    clashes = caught.value.clashes
    assert any("price point" in clash.mend for clash in clashes)
    assert any("Rose" in clash.why for clash in clashes)
    for clash in clashes:
        assert fit(clash.recipe, CATALOGUE, RULES).money.room_left >= 0  # each mend would do, alone
    dearer = next(clash.recipe for clash in clashes if "price point" in clash.mend)
    with pytest.raises(CannotFit):  # and a penny less would not
        fit(set_price(dearer, dearer.price_point - Decimal("0.02")), CATALOGUE, RULES)


def test_the_same_answer_twice_and_in_another_process() -> None:
    script = (
        "from mirvel.core.fit.fitting import fit; from mirvel.demo import *; import json; r = get_recipes();"
        "print(json.dumps([fit(each, get_catalogue(), RULES).counts for each in r[:4]]))"
    )
    environment = {"PYTHONHASHSEED": "77", "PYTHONPATH": str(PROJECT_ROOT / "src")}
    done = subprocess.run([sys.executable, "-c", script], env=environment, capture_output=True, text=True, check=True)
    here = [fit(each, CATALOGUE, RULES).counts for each in RECIPES[:4]]
    assert json.loads(done.stdout) == here
    assert [fit(each, CATALOGUE, RULES).counts for each in RECIPES[:4]] == here


@given(recipe=st.sampled_from(RECIPES), whole=st.booleans())
@settings(max_examples=12)
def test_what_still_fits_is_paid_and_costs_what_it_says(recipe: Recipe, whole: bool) -> None:
    before = get_money(take(recipe, CATALOGUE), RULES)
    for extra in find_extras(recipe, CATALOGUE, RULES, whole_catalogue=whole):
        after = recipe
        for change in extra.changes:
            if change.entry:
                after = nudge_pieces(after, change.entry, change.by).recipe
            else:
                after = add_entry(after, CATALOGUE, change.material, change.colour, change.by).recipe
        money = get_money(take(after, CATALOGUE), RULES)
        assert money.room_left >= 0
        assert abs(money.spent - before.spent - extra.cost) < Decimal("0.001")
        assert extra.is_spare == (money.spent == before.spent and all(change.by > 0 for change in extra.changes))


def test_two_more_of_one_entry_are_offered_where_its_most_allows_them() -> None:
    room = SLIPWAY.change(price_point="49")
    twice = {
        change.entry for extra in find_extras(room, CATALOGUE, RULES) for change in extra.changes if change.by == 2
    }
    assert twice
    held = [{**each.model_dump(), "most": each.pieces + 1} for each in room.entries]
    for extra in find_extras(room.change(entries=held), CATALOGUE, RULES):
        assert all(change.by <= 1 for change in extra.changes)


def make_roses_dearer(percent: int) -> Catalogue:
    dearer = {
        slug: good.model_copy(update={"cost": good.cost * (100 + percent) / 100}) if "rose" in slug else good
        for slug, good in CATALOGUE.materials.items()
    }
    return CATALOGUE.model_copy(update={"materials": dearer})


def is_true_still(recipe: Recipe) -> bool:
    return get_money(take(recipe, make_roses_dearer(33)), RULES).is_true


def test_what_is_true_still_needs_no_repair() -> None:
    (only,) = find_repairs(next(filter(is_true_still, RECIPES)), make_roses_dearer(33), RULES)
    assert only.edits == ()


@pytest.mark.parametrize("recipe", list(filterfalse(is_true_still, RECIPES))[::2], ids=lambda each: each.family)
def test_repairs_are_true_different_and_change_as_little_as_can_be(recipe: Recipe) -> None:
    catalogue = make_roses_dearer(33)
    repairs = find_repairs(recipe, catalogue, RULES)
    assert len({frozenset(edit.entry for edit in repair.edits) for repair in repairs}) == len(repairs) == 3
    assert all(get_money(take(repair.fitted.recipe, catalogue), RULES).is_true for repair in repairs)
    edits = [len(repair.edits) for repair in repairs]
    assert edits == sorted(edits)
    alone = (
        nudge_pieces(recipe, entry.id, pieces - entry.pieces).recipe
        for entry in recipe.entries
        for pieces in range(1, 3 * entry.pieces)
    )
    # Where more than one entry is changed, none alone, at any count, makes it true.
    assert edits[0] == 1 or not any(get_money(take(one, catalogue), RULES).is_true for one in alone)


@pytest.mark.parametrize("family", ["slipway", "three-buoys"])
def test_a_ladder_never_gives_less_for_more(family: str) -> None:
    recipe = next(each for each in RECIPES if each.family == family)
    rungs = [set_price(recipe, recipe.price_point * Decimal(times)) for times in ("1", "1.2", "1.5")]
    ladder = climb(rungs, CATALOGUE, RULES)
    for low, high in pairwise(ladder.rungs):
        assert all(high.counts[entry] >= pieces for entry, pieces in low.counts.items())
    assert all(rung.money.is_true for rung in ladder.rungs)
    alone = [solve(get_fit_problem(rung, CATALOGUE, RULES)).penalty for rung in rungs]
    assert sum(alone) <= ladder.bound <= ladder.penalty
    assert climb(rungs, CATALOGUE, RULES) == ladder


@pytest.mark.parametrize(
    ("one", "other", "difference"),
    [
        (Lab(50, 2.6772, -79.7751), Lab(50, 0, -82.7485), 2.0425),
        (Lab(50, 0, 0), Lab(50, -1, 2), 2.3669),
    ],
)
def test_colour_differences_as_published(one: Lab, other: Lab, difference: float) -> None:
    """The published test data (source: ciede2000, from memory)."""
    assert get_lab_difference(one, other) == pytest.approx(difference, abs=1e-4)


def weigh(entry: Entry, recipe: Recipe) -> float:
    """How much one piece of an entry weighs in the eye."""
    material = CATALOGUE.get_material(entry.material, entry.colour, field="entry")
    head = get_head(material, entry.piece, recipe.brief.days_to_viewing, RULES.opening_at_delivery)
    return get_mass_cm2(material, head, RULES)


@given(recipe=st.sampled_from(RECIPES), at=st.integers(0, 5))
@settings(max_examples=12)
def test_substitutes_keep_the_brief_the_role_and_the_money(recipe: Recipe, at: int) -> None:
    shut = recipe.change(brief={**recipe.brief.model_dump(), "exclude": [Exclusion.PETS, Exclusion.SCENT]})
    entry = shut.entries[at % len(shut.entries)]
    for each in find_substitutes(shut, entry.id, CATALOGUE, RULES):
        assert each.material.safe_with_cats
        assert each.material.scent < 2
        assert entry.role in each.material.roles
        assert each.money == get_money(take(each.recipe, CATALOGUE), RULES)
        assert each.money.room_left >= 0 or each.pieces == 1
        swapped = each.recipe.find_entry(entry.id)
        assert swapped is not None
        assert (swapped.material, swapped.pieces) == (each.material.slug, each.pieces)
        before, after = weigh(entry, shut), weigh(swapped, shut)
        off = abs(each.pieces * after - entry.pieces * before)
        is_full = sum(one.pieces for one in each.recipe.entries) == 300
        assert off <= after / 2 + 1e-9 or is_full or each.pieces == 1 or each.money.room_left < each.material.cost


def test_materials_of_every_kind_can_be_asked_for_a_substitute_of_their_own_kind() -> None:
    asked = {
        (CATALOGUE.materials[entry.material].kind, entry.role): (recipe, entry)
        for recipe in RECIPES
        for entry in recipe.entries
        if entry.material in CATALOGUE.materials
    }
    assert StemKind.ARTIFICIAL in {kind for kind, _ in asked}
    for recipe, entry in asked.values():
        own = CATALOGUE.get_material(entry.material, entry.colour, field="entry")
        for each in find_substitutes(recipe, entry.id, CATALOGUE, RULES, most=1000):
            is_artificial = {material.kind is StemKind.ARTIFICIAL for material in (own, each.material)}
            assert len(is_artificial) == 1, (recipe.name, entry.material, each.material.slug)


def test_sturdier_flowers_come_first_where_nobody_tops_up_the_water() -> None:
    """ "No refill for several days: sturdy flowers preferred": common practice, no published source."""

    def get_mean_life(*, refilled: bool) -> float:
        """Days, those that come first weighing most."""
        asked = SLIPWAY.change(brief={**SLIPWAY.brief.model_dump(), "refilled": refilled})
        rose = next(entry for entry in asked.entries if entry.role is Role.FOCAL)
        found = find_substitutes(asked, rose.id, CATALOGUE, RULES, most=1000)
        return sum((each.material.life_min_days or 0) / place for place, each in enumerate(found, 1))

    assert get_mean_life(refilled=False) > get_mean_life(refilled=True)


@pytest.mark.parametrize("school", list(PricingSchool))
@pytest.mark.parametrize("policy", list(PiecePolicy))
def test_every_school_is_filled_and_never_passed(school: PricingSchool, policy: PiecePolicy) -> None:
    """Mark-ups that differ by class and what is made ahead included."""
    rules = RULES.model_copy(update={"class_markups": {"fragile": Decimal("4.2"), "standard": Decimal("2.9")}})
    with_bow = add_entry(SLIPWAY, CATALOGUE, "bow-five").recipe
    recipe = with_bow.change(price_point="64", schools={"pricing": school, "pieces": policy})
    money = fit(recipe, CATALOGUE, rules).money
    assert Decimal(0) <= money.room_left < Decimal("0.02") * money.flower_money


def test_a_shop_that_keeps_some_back_is_fitted_inside_its_own_band() -> None:
    rules = RULES.model_copy(update={"true_from": Decimal("0.90"), "true_to": Decimal("0.94")})
    for recipe in RECIPES[::3]:
        money = fit(recipe, CATALOGUE, rules).money
        assert money.is_true
        assert money.spent <= Decimal("0.94") * money.flower_money


def test_where_no_limit_alone_would_do_several_are_let_down_together() -> None:
    """Three entries of thick stems, any two of which ask more than the mouth passes."""
    thick = sorted(CATALOGUE.materials.values(), key=lambda each: (-each.stem_diameter_mm, each.slug))[:3]
    entries = [
        Entry(id=f"e{n}", material=each.slug, colour=min(each.colours), role=each.default_role, pieces=90, least=90)
        for n, each in enumerate(thick, 1)
    ]
    asked = SLIPWAY.change(price_point="9000", container="cylinder-10x20", entries=entries)
    with pytest.raises(CannotFit) as caught:
        fit(asked, CATALOGUE, RULES)
    (clash,) = caught.value.clashes
    assert "mouth" in clash.why
    assert fit(clash.recipe, CATALOGUE, RULES).money.room_left >= 0
