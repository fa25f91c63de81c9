"""Money: identities and worked cases of the four schools, and the laws that hold for any recipe."""

from dataclasses import replace
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mirvel.core.changing.changes import nudge_pieces, set_school
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.facts import PieceSize
from mirvel.core.house.rules import HouseRules, Slices
from mirvel.core.house.terms import PiecePolicy, PricingSchool, read_terms, write_terms
from mirvel.core.pricing.margins import find_at_margin, read_margin
from mirvel.core.pricing.pricing import (
    AtCost,
    find_built_price,
    get_flower_money,
    get_hard_goods_cost,
    get_margin,
    get_money,
    get_share_of_price,
)
from mirvel.core.pricing.repricing import read_price, reprice
from mirvel.core.pricing.stems import get_assembled, get_demands, get_pulls, get_stems
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.core.values.money import to_cent
from mirvel.core.values.problems import BadInput
from mirvel.demo import get_catalogue
from tests import strategies
from tests.builds import work_out

CATALOGUE, RULES = get_catalogue(), HouseRules()
NOTHING = AtCost(Decimal(0), Decimal(0), Decimal(3), Decimal(0))


@pytest.mark.parametrize(("markup", "margin"), [("3.0", "0.667"), ("3.5", "0.714"), ("2.5", "0.600")])
def test_margin_of_a_markup(markup: str, margin: str) -> None:
    """Identity 1 − 1/markup; common practice states 66.7, 71.4 and 60 %, no published source."""
    assert round(get_margin(Decimal(markup)), 3) == Decimal(margin)


def test_worked_case_of_labour_on_top() -> None:
    """By hand: 85 / 1.2 = 70.8333 goods at retail; less 3.60 × 2.5 = 9.00 leaves 61.8333; / 3.5 = 17.6667."""
    rules = HouseRules(labour_on_top=Decimal("0.20"), hard_goods_markup=Decimal("2.5"))
    goods = replace(NOTHING, hard_goods=Decimal("3.60"), flower_markup=Decimal("3.5"))
    flower_money = get_flower_money(PricingSchool.MARKUP_ON_TOP, Decimal(85), goods, rules)
    assert round(flower_money, 4) == Decimal("17.6667")


@given(price=strategies.money("20", "500"), goods=strategies.goods)
def test_a_fifth_of_the_price_is_a_quarter_on_top(price: Decimal, goods: AtCost) -> None:
    """Identity (common practice, no published source): labour 25 % on top equals 20 % of the price."""
    assert get_share_of_price(Decimal("0.25")) == Decimal("0.20")
    rules = HouseRules(labour_on_top=Decimal("0.25"), labour_share=Decimal("0.20"))
    on_top, share = (
        get_flower_money(school, price, goods, rules)
        for school in (PricingSchool.MARKUP_ON_TOP, PricingSchool.MARKUP_SHARE)
    )
    assert abs(on_top - share) < Decimal("1e-20")


@given(price=strategies.money("20", "500"), goods=strategies.goods, rules=strategies.rules)
def test_goods_at_exactly_the_flower_money_build_the_price(price: Decimal, goods: AtCost, rules: HouseRules) -> None:
    for school in set(PricingSchool) - {PricingSchool.SLICES}:
        exact = replace(goods, flowers=get_flower_money(school, price, goods, rules))
        built = find_built_price(school, exact, rules)
        assert built is not None
        assert abs(built - price) < Decimal("1e-18")


def test_slices_lend_what_hard_goods_leave_and_always_take_an_overdraft() -> None:
    """By hand at 100: 30 for flowers, 8 for hard goods; 5 spent lends 3, 10 spent takes 2."""
    lending = HouseRules()
    keeping = HouseRules(slices=Slices(lend_hard_goods=False))
    for rules, hard_goods, expected in ((lending, 5, 33), (keeping, 5, 30), (lending, 10, 28), (keeping, 10, 28)):
        goods = replace(NOTHING, hard_goods=Decimal(hard_goods))
        assert get_flower_money(PricingSchool.SLICES, Decimal(100), goods, rules) == expected
    assert find_built_price(PricingSchool.SLICES, NOTHING, lending) is None


def test_time_and_materials_by_hand() -> None:
    """(10 + 2)·2 + 20·0.22·1.45 = 24 + 6.38 = 30.38."""
    goods = AtCost(Decimal(10), Decimal(2), Decimal(3), Decimal(20))
    assert find_built_price(PricingSchool.TIME_AND_MATERIALS, goods, HouseRules()) == Decimal("30.38")


@given(recipe=strategies.recipes, by=st.integers(1, 5), policy=st.sampled_from(PiecePolicy))
def test_raising_a_count_never_lowers_cost(recipe: Recipe, by: int, policy: PiecePolicy) -> None:
    raised = nudge_pieces(recipe, recipe.entries[0].id, by).recipe
    before, after = (
        sum(pull.cost for pull in get_pulls(get_demands(take(each, strategies.CATALOGUE)), policy))
        for each in (recipe, raised)
    )
    assert after >= before


@given(recipe=strategies.recipes, rules=strategies.rules)
def test_the_columns_of_a_recipe_agree(recipe: Recipe, rules: HouseRules) -> None:
    by_policy, goods = {}, strategies.CATALOGUE
    for policy in PiecePolicy:
        schools = recipe.schools.model_copy(update={"pieces": policy})
        money = get_money(take(recipe.model_copy(update={"schools": schools}), goods), rules)
        by_policy[policy] = money
        assembled = money.goods.hard_goods - get_hard_goods_cost(take(recipe.model_copy(update={"entries": ()}), goods))
        assert abs(sum(money.entry_costs.values()) - money.spent - assembled) < Decimal("1e-18")
        assert money.room_left == to_cent(money.flower_money) - to_cent(money.spent)
    # Whole stems cost what their pieces cost and what is left over is worth.
    whole, pieces = by_policy[PiecePolicy.WHOLE_STEMS], by_policy[PiecePolicy.PIECES]
    assert abs(whole.spent - pieces.spent - whole.left_over_value) < Decimal("1e-18")


@pytest.mark.parametrize(
    ("units", "of_their_own", "per_stem", "stems"),
    [(9, 2, 4, 3), (3, 3, 5, 3), (0, 0, 4, 0), (12, 3, 4, 3), (13, 3, 4, 4)],
)
def test_stems_from_pieces(units: int, of_their_own: int, per_stem: int, stems: int) -> None:
    """By hand: as many stems as the pieces fill, and one for each piece that needs its own."""
    assert get_stems(units, of_their_own, per_stem) == stems


def test_a_class_with_its_own_markup_keeps_the_budget_at_retail(catalogue: Catalogue, slipway: Recipe) -> None:
    fragile = catalogue.materials["rose-standard"].model_copy(update={"markup_class": "fragile"})
    goods = catalogue.model_copy(update={"materials": {**catalogue.materials, fragile.slug: fragile}})
    rules = HouseRules(class_markups={"fragile": Decimal(5)})
    money = get_money(take(slipway, goods), rules)
    retail = sum(pull.cost * rules.get_flower_markup(pull.material.markup_class) for pull in money.pulls)
    budget = Decimal(42) / Decimal("1.2") - money.goods.hard_goods * 2
    assert to_cent(money.flower_money / money.spent * retail) == to_cent(budget)


@pytest.mark.parametrize(("amount", "shown"), [("2.345", "2.34"), ("2.355", "2.36"), ("-0.005", "0.00")])
def test_cents_round_half_to_even(amount: str, shown: str) -> None:
    assert to_cent(Decimal(amount)) == Decimal(shown)


STEM, TOP, SIDE = PieceSize.STEM, PieceSize.TOP, PieceSize.LATERAL


@pytest.mark.parametrize(
    ("entries", "stems", "left_over", "whole", "by_piece"),
    [
        (((0, 2, SIDE), (0, 2, SIDE)), [1], [0], "1.00", "1.00"),  # one stem serves both entries
        (((0, 2, SIDE), (1, 2, SIDE)), [1, 1], [2, 2], "2.00", "1.00"),  # never from a stem of another colour
        (((0, 2, SIDE), (0, 3, SIDE)), [2], [3], "2.00", "1.25"),
        (((0, 1, STEM), (0, 3, SIDE)), [2], [1], "2.00", "1.75"),  # an unbroken stem takes all its pieces
        (((0, 2, TOP), (0, 1, SIDE)), [2], [5], "2.00", "0.75"),  # a stem has one top
        (((0, 0, SIDE), (0, 0, STEM)), [0], [0], "0.00", "0.00"),
    ],
)
def test_stems_are_pooled_by_material_and_colour_over_the_whole_recipe(
    catalogue: Catalogue,
    slipway: Recipe,
    entries: tuple[tuple[int, int, PieceSize], ...],
    stems: list[int],
    left_over: list[int],
    whole: str,
    by_piece: str,
) -> None:
    """By hand, a spray of four pieces at 1.00 a stem: ⌈units / 4⌉ stems, no fewer than need one for themselves."""
    spray = catalogue.materials["rose-spray"].model_copy(update={"pieces_per_stem": 4, "cost": Decimal("1.00")})
    goods = catalogue.model_copy(update={"materials": {**catalogue.materials, spray.slug: spray}})
    colours = list(spray.colours)
    lines = [
        {"id": f"e{n}", "material": spray.slug, "colour": colours[c], "role": "mass", "pieces": pieces, "piece": size}
        for n, (c, pieces, size) in enumerate(entries)
    ]
    demands = get_demands(take(slipway.change(entries=lines), goods))
    for policy, cost in ((PiecePolicy.WHOLE_STEMS, whole), (PiecePolicy.PIECES, by_piece)):
        pulls = get_pulls(demands, policy)
        assert [pull.stems for pull in pulls] == stems
        assert [pull.left_over for pull in pulls] == left_over
        assert sum(pull.cost for pull in pulls) == Decimal(cost)
        assert sum(pull.left_over_value for pull in pulls) == Decimal(sum(left_over)) / 4


@pytest.mark.parametrize(
    ("share", "is_true"), [("0.40", False), ("0.94", False), ("0.97", True), ("0.999", True), ("1.02", False)]
)
@pytest.mark.parametrize("tax", ["0", "0.20"])
def test_a_recipe_is_true_where_it_spends_its_flower_money_and_no_more(
    catalogue: Catalogue, slipway: Recipe, share: str, is_true: bool, tax: str
) -> None:
    """At the price that so much of its flower money would build; true is 95 to 100 % of it, as the shop rules."""
    rules = HouseRules(tax_rate=Decimal(tax), true_from=Decimal("0.95"), true_to=Decimal(1))
    goods = get_money(take(slipway, catalogue), rules).goods
    fuller = replace(goods, flowers=goods.flowers / Decimal(share))
    built = find_built_price(rules.pricing, fuller, rules)
    assert built is not None
    priced = slipway.change(price_point=to_cent(built * (1 + rules.tax_rate)))
    money = get_money(take(priced, catalogue), rules)
    assert money.fill is not None
    assert abs(money.fill - Decimal(share)) < Decimal("0.001")
    assert money.is_true is is_true
    assert abs(money.fill * money.flower_money - money.spent) < Decimal("1e-15")


@pytest.mark.parametrize(
    ("flower_money", "spent", "limits", "room", "over", "is_true"),
    [
        ("17.6640", "17.66401", ("0.96", "1"), "0.00", "0.00", True),  # a thousandth of a cent is nobody's
        ("17.664", "17.666", ("0.96", "1"), "-0.01", "0.01", False),  # told as 17.66 and 17.67
        ("20", "19.195", ("0.96", "1"), "0.80", "-0.80", True),  # 96 % are 19.20, and 19.195 is told as that
        ("20", "19.19", ("0.96", "1"), "0.81", "-0.81", False),
        ("20", "20.90", ("0.96", "1.05"), "-0.90", "-0.10", True),  # up to 21.00
        ("20", "19.70", ("0.90", "0.98"), "0.30", "0.10", False),  # up to 19.60
    ],
)
def test_what_is_left_over_and_true_is_told_to_the_cent(
    catalogue: Catalogue,
    slipway: Recipe,
    flower_money: str,
    spent: str,
    limits: tuple[str, str],
    room: str,
    over: str,
    is_true: bool,
) -> None:
    low, high = map(Decimal, limits)
    money = get_money(take(slipway, catalogue), HouseRules(true_from=low, true_to=high))
    told = replace(money, flower_money=Decimal(flower_money), goods=replace(money.goods, flowers=Decimal(spent)))
    assert (told.room_left, told.over, told.is_true) == (Decimal(room), Decimal(over), is_true)
    assert told.is_over is (told.over > 0)
    assert told.is_over + told.is_under + told.is_true == 1


def test_where_hard_goods_leave_a_little_there_is_a_fill_and_where_nothing_none(
    catalogue: Catalogue, slipway: Recipe
) -> None:
    """By hand, no labour on top: hard goods H at 2 leave (P − 2H)/3 for flowers; 0.60 above 2H leaves 0.20."""
    rules = HouseRules(
        labour_on_top=Decimal(0), hard_goods_markup=Decimal(2), flower_markup=Decimal(3), tax_rate=Decimal(0)
    )
    hard = get_hard_goods_cost(take(slipway, catalogue)) * 2
    little = get_money(take(slipway.model_copy(update={"price_point": hard + Decimal("0.60")}), catalogue), rules)
    assert little.flower_money == Decimal("0.20")
    assert little.fill == little.spent / Decimal("0.20")
    nothing = get_money(take(slipway.model_copy(update={"price_point": hard}), catalogue), rules)
    assert nothing.flower_money == 0
    assert nothing.fill is None
    assert not nothing.is_true


@given(recipe=strategies.recipes)
def test_stems_charged_are_those_pulled_or_the_pieces_used(recipe: Recipe) -> None:
    demands = get_demands(take(recipe, strategies.CATALOGUE))
    for pull in get_pulls(demands, PiecePolicy.WHOLE_STEMS):
        assert round(pull.charged_stems, 9) == pull.stems
    for pull in get_pulls(demands, PiecePolicy.PIECES):
        used = Decimal(pull.stems) - Decimal(pull.left_over) / pull.material.pieces_per_stem
        assert round(pull.charged_stems, 9) == round(used, 9)


def test_what_is_made_ahead_is_told_in_order_wherever_it_stands(catalogue: Catalogue, slipway: Recipe) -> None:
    made = catalogue.assemblies["bow-five"]
    bow = {"id": "x1", "material": made.slug, "colour": next(iter(made.colours)), "role": "token", "pieces": 2}
    own = [entry.model_dump() for entry in slipway.entries]
    for entries in ([bow, *own], [*own, bow], [own[0], bow, *own[1:]]):
        (told,) = get_assembled(take(slipway.change(entries=entries), catalogue))
        assert (told.name, told.pieces) == (made.name, 2)


def test_tax_comes_out_of_the_price_and_labour_out_of_the_contribution(catalogue: Catalogue, slipway: Recipe) -> None:
    """By hand: 60 with 20 % inside is 50 before tax; 20 minutes at 0.30 are 6.00, which is 12 % of it."""
    rules = HouseRules(tax_rate=Decimal("0.20"), wage_per_minute=Decimal("0.30"))
    plain = slipway.change(price_point=60, minutes=20)
    money = get_money(take(plain, catalogue), rules)
    assert (money.price, money.labour_cost) == (Decimal(50), Decimal(6))
    at_cost = money.goods.flowers + money.goods.hard_goods
    assert money.gross_margin == 1 - at_cost / 50
    assert money.gross_margin - money.contribution == Decimal("0.12")
    untaxed = get_money(take(plain.change(price_point=50), catalogue), rules.change(tax_rate=0))
    assert untaxed.flower_money == money.flower_money
    longer = get_money(take(plain.change(minutes=40), catalogue), rules)
    assert (longer.gross_margin, longer.contribution) == (money.gross_margin, money.contribution - Decimal("0.12"))


def test_what_is_made_ahead_is_charged_with_its_stems_hard_goods_and_minutes(
    catalogue: Catalogue, slipway: Recipe, rules: HouseRules
) -> None:
    """By hand: two more of a thing made ahead cost twice its parts, and take twice its minutes."""
    made = catalogue.assemblies["bow-five"]
    colour = next(iter(made.colours))
    money = [
        get_money(take(slipway.change(entries=[
            {"id": "e1", "material": made.slug, "colour": colour, "role": "token", "pieces": count}
        ]), catalogue), rules)
        for count in (0, 1, 3)
    ]  # fmt: skip
    parts = sum(
        catalogue.hard_goods[use.hard_good].cost / catalogue.hard_goods[use.hard_good].pack_size * use.quantity
        for use in made.hard_goods
        if use.divided_by == 1
    )
    hard = [each.goods.hard_goods for each in money]
    assert hard[2] - hard[1] == 2 * (hard[1] - hard[0])
    assert hard[1] > hard[0] or not parts
    assert [each.goods.minutes - money[0].goods.minutes for each in money] == [0, made.minutes, 3 * made.minutes]


@given(recipe=strategies.recipes, rules=strategies.rules)
def test_at_its_own_margin_a_recipe_builds_its_own_price(recipe: Recipe, rules: HouseRules) -> None:
    taken = take(recipe, strategies.CATALOGUE)
    money = get_money(taken, rules)
    found = find_at_margin(taken, rules, money.gross_margin)
    assert found.flower_money == pytest.approx(money.spent, abs=Decimal("1e-12"))
    if money.spent + money.goods.hard_goods:
        assert found.built == pytest.approx(recipe.price_point, rel=Decimal("1e-12"))


def test_a_wanted_margin_and_the_price_that_goods_belong_to_by_hand(catalogue: Catalogue, slipway: Recipe) -> None:
    """At 42 a margin of three quarters leaves 10.50 for all goods, and these build four times what they cost. Over at
    28, they are not at 42; nor is a piece of nothing at the lowest."""
    taken, rules = take(slipway, catalogue), HouseRules()
    goods = get_money(taken, rules).goods
    found = find_at_margin(taken, rules, Decimal("0.75"))
    assert found.flower_money == Decimal("10.50") - goods.hard_goods
    assert found.room_left == to_cent(found.flower_money) - to_cent(goods.flowers) < 0
    assert found.built == 4 * (goods.flowers + goods.hard_goods)
    assert (found.belongs_to, found.fill) == (Decimal(42), get_money(taken, rules).fill)
    empty = slipway.change(entries=[])
    assert find_at_margin(take(empty, catalogue), rules, Decimal("0.5")).belongs_to == Decimal(28)
    taxed = rules.change(tax_rate=Decimal("0.2"), price_points=(Decimal(28), Decimal(42), Decimal("50.40")))
    with_tax = find_at_margin(taken, taxed, Decimal("0.75"))
    assert with_tax.built == found.built * Decimal("1.2")
    assert with_tax.belongs_to == Decimal("50.40")
    assert find_at_margin(taken, rules.change(price_points=(Decimal(28),)), Decimal("0.75")).belongs_to is None
    for typed in ("", "100", "99.5", "-3", "half"):
        with pytest.raises(BadInput, match="margin"):
            read_margin(typed)
    assert read_margin("62,5 %") == Decimal("0.625")


def test_a_recipes_own_terms_come_before_its_occasions_and_these_before_the_houses(slipway: Recipe) -> None:
    """42 at labour 25 % on top and flowers at 3.5: (42 / 1.25 − 2 H) / 3.5, by the formula at the head of pricing."""
    hard = get_money(take(slipway, CATALOGUE), RULES).goods.hard_goods

    def spend(recipe: Recipe, rules: HouseRules) -> Decimal:
        return round(get_money(take(recipe, CATALOGUE), rules).flower_money, 6)

    usual = spend(slipway, RULES)
    gift = read_terms("flowers × 3.5; labour on top 25 %", "occasions")
    rules = RULES.model_copy(update={"occasions": {"Gift": gift}})
    given = slipway.change(brief={**slipway.brief.model_dump(), "occasion": "a birthday gift"})
    assert spend(slipway, rules) == usual
    assert spend(given, rules) == round((42 / Decimal("1.25") - 2 * hard) / Decimal("3.5"), 6)
    own = set_school(given, "labour_on_top", "20").recipe
    assert spend(own, rules) == round((42 / Decimal("1.2") - 2 * hard) / Decimal("3.5"), 6)
    own = set_school(own, "flower_markup", "×3").recipe
    assert spend(own, rules) == usual
    bare = set_school(set_school(own, "labour_on_top", "").recipe, "flower_markup", "").recipe
    assert spend(bare, rules) == spend(given, rules)
    slices = set_school(given, "pricing", PricingSchool.SLICES.value).recipe
    assert get_money(take(slices, CATALOGUE), rules).school is PricingSchool.SLICES


def test_a_markup_of_ones_own_holds_for_every_class_of_flower(slipway: Recipe) -> None:
    dear = RULES.model_copy(update={"class_markups": {"standard": Decimal(5)}})
    own = set_school(slipway, "flower_markup", "3").recipe
    by_class, by_own = (get_money(take(recipe, CATALOGUE), dear).goods.flower_markup for recipe in (slipway, own))
    assert (by_class, by_own) == (Decimal(5), Decimal(3))


def test_labour_is_held_against_the_share_of_the_terms_in_force(slipway: Recipe) -> None:
    """25 % on top of goods is 20 % of the price (identity); 42 × 0.2 / 0.22 = 38.2 minutes."""
    for minutes, typed, found in ((38, "25", False), (39, "25", True), (38, "20", True)):
        recipe = set_school(slipway.change(minutes=minutes), "labour_on_top", typed).recipe
        checks = {check.id for check in work_out(recipe, get_catalogue(), RULES).checks}
        assert ("labour" in checks) is found


@pytest.mark.parametrize(
    ("typed", "said"),
    [
        ("flowers three", "is not an amount"),
        ("flowers × 30", "is too large"),
        ("flowers × 3; flowers × 4", "said twice"),
        ("petals × 3", "is not understood"),
        ("", "says nothing"),
    ],
)
def test_terms_that_cannot_be_read_are_told_with_their_mend(typed: str, said: str) -> None:
    with pytest.raises(BadInput, match=said):
        read_terms(typed, "occasions")


@pytest.mark.parametrize(
    "text", ["flowers × 3.5; labour on top 25 %", "slices of the price; pieces used; hard goods × 2.2"]
)
def test_terms_are_written_as_they_are_read(text: str) -> None:
    terms = read_terms(text, "occasions")
    assert len(terms.said) == text.count(";") + 1
    assert read_terms(write_terms(terms), "occasions") == terms


def test_another_price_changes_what_flowers_may_cost_by_its_share_alone(slipway: Recipe) -> None:
    """At 20 % labour on top and flowers at 3 a pound more is 1 / 1.2 / 3 of one for flowers; at the same, none."""
    taken = take(slipway, CATALOGUE)
    for price in (Decimal(42), Decimal(45), Decimal("38.50")):
        repriced = reprice(taken, RULES, price)
        assert round(repriced.more_to_spend, 9) == round((price - 42) / Decimal("3.6"), 9)
        assert repriced.then.spent == repriced.now.spent
        assert (repriced.then.gross_margin > repriced.now.gross_margin) is (price > 42)


@pytest.mark.parametrize("text", ["0", "-3", "dear", "100001", "4.999"])
def test_a_price_that_none_can_be_is_refused(text: str) -> None:
    with pytest.raises(BadInput, match="new price"):
        read_price(text, "new price")
