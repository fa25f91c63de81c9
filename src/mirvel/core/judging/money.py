"""Checks of money: what the price leaves for flowers, what is spent, and what goods are charged."""

from collections.abc import Iterator
from decimal import Decimal

from mirvel.core.goods.hard_good import HardGood
from mirvel.core.house.terms import PricingSchool
from mirvel.core.judging.check import Checks, Family, Found, Judged, Severity, Source
from mirvel.core.pricing.pricing import get_pricing_rules, get_share_of_price
from mirvel.core.values.money import to_cent
from mirvel.core.vessels.bricks import BRICK_ML, get_bricks

CHECKS = Checks(Family.MONEY)
_NEARLY_ALL = 0.9  # of the foam: it is cut by eye
MOST_PACE = 2.0
MOST_OF_BUNCHES = Decimal("0.5")  # of the flower money; assumption
MOST_WASTED = Decimal("0.15")  # of the flower money


@CHECKS.add("no-flower-money", Severity.STOP, measures="flower money", limit="more than 0", source=Source.HOUSE)
def find_no_flower_money(judged: Judged) -> Iterator[Found]:
    """Container, hard goods and labour that leave nothing for flowers."""
    if judged.money.flower_money <= 0:
        reason = (
            "Container, hard goods and labour use the whole price. Choose a cheaper container or a higher price point."
        )
        yield Found("No money for flowers at this price", reason)


@CHECKS.add(
    "overfilled",
    Severity.STOP,
    measures="flowers at cost, less the flower money",
    limit="the highest fill at which a recipe is true",
    source=Source.HOUSE,
)
def find_overfilled(judged: Judged) -> Iterator[Found]:
    """Flowers that cost more than their price allows."""
    if judged.money.is_over:
        room = f"{judged.rules.currency}{judged.money.over}"
        builds = _say_built(judged)
        reason = f"They cost {room} more than this price allows.{builds} Take pieces out or go up a price point."
        yield Found(f"{room} over the flower money", reason)


def _say_built(judged: Judged) -> str:
    """The price, as customers read it, that what is in the piece builds by the school in force, where it builds one."""
    before_tax = next(price for school, price in judged.money.built if school is judged.money.school)
    if before_tax is None:
        return ""
    return f" What is in it builds {judged.rules.currency}{to_cent(before_tax * (1 + judged.rules.tax_rate))}."


@CHECKS.add(
    "underfilled",
    Severity.WARN,
    measures="flowers at cost as a share of the flower money",
    limit="the lowest fill at which a recipe is true",
    source=Source.HOUSE,
)
def find_underfilled(judged: Judged) -> Iterator[Found]:
    """Flower money that the customer pays and does not get."""
    money = judged.money
    if money.is_under:
        short = to_cent(money.flower_money * money.true_from) - to_cent(money.spent)  # of a fill over 100 % too
        room = f"{judged.rules.currency}{max(money.room_left, short)}"
        reason = f"The customer is {room} short of flowers; the shop's lowest fill is {money.true_from * 100:.0f} %."
        yield Found(f"{room} of flower money unspent", reason)


@CHECKS.add(
    "wasted",
    Severity.NOTE,
    measures="what is left of broken-down stems, as a share of the flower money",
    limit="15 %",
    source=Source.ASSUMPTION,
)
def find_wasted(judged: Judged) -> Iterator[Found]:
    """Stems that are paid for whole and mostly left over."""
    money = judged.money
    if money.flower_money > 0 and money.left_over_value > MOST_WASTED * money.flower_money:
        worst = max(money.pulls, key=lambda pull: pull.left_over_value)
        value = f"{judged.rules.currency}{to_cent(money.left_over_value)}"
        reason = (
            f"Most of it is {worst.material.name}: {worst.left_over} pieces over of {worst.stems} "
            f"{'stem' if worst.stems == 1 else 'stems'}. Use what is over too, or take whole stems of something else."
        )
        yield Found(f"{value} of pieces left over", reason)


@CHECKS.add(
    "bunches",
    Severity.NOTE,
    measures="what is left of the bunches that are opened for it, at cost, as a share of the flower money",
    limit=f"{MOST_OF_BUNCHES * 100:.0f} %, where the shop minds",
    source=Source.ASSUMPTION,
)
def find_bunches_left(judged: Judged) -> Iterator[Found]:
    """Stems bought by the bunch and mostly left in it."""
    money = judged.money
    left = [(pull, -pull.stems % pull.material.bunch_stems) for pull in money.pulls]  # each colour has its own bunch
    value = sum((pull.material.cost * over for pull, over in left), Decimal(0))
    if judged.rules.minds_bunches and money.flower_money > 0 and value > MOST_OF_BUNCHES * money.flower_money:
        pull, over = max(left, key=lambda each: each[0].material.cost * each[1])
        told = f"{judged.rules.currency}{to_cent(value)}"
        reason = (
            f"Most of it is {pull.material.name} ({pull.colour}): {over} stems of a bunch of "
            f"{pull.material.bunch_stems}. Use the rest in "
        )
        yield Found(f"{told} left in bunches", f"{reason}other pieces, or take what is opened already.")


@CHECKS.add(
    "foam-charged",
    Severity.NOTE,
    measures="foam among the hard goods, as a share of what it is made with",
    limit="90 %",
    source=Source.ASSUMPTION,
)
def find_foam_uncharged(judged: Judged) -> Iterator[Found]:
    """Less foam charged than the piece is made with."""
    build = judged.build
    charged_ml = sum(float(use.quantity) / use.divided_by * (good.foam_ml or 0.0) for use, good in judged.taken.uses)
    if charged_ml < build.foam_to_buy_ml * _NEARLY_ALL:
        takes, charged = get_bricks(build.foam_to_buy_ml), charged_ml / BRICK_ML
        reason = f"It takes {takes} of a brick, and {charged:.2f} is among its hard goods. Charge the rest."
        yield Found("More foam than is charged", reason)


@CHECKS.add("retired", Severity.NOTE, measures="goods the shop no longer uses", limit="none", source=Source.HOUSE)
def find_retired(judged: Judged) -> Iterator[Found]:
    """Goods that are retired and still in the recipe."""
    for good in (good for good in judged.taken.all_goods if good.retired):
        reason = "The shop no longer uses it; what it cost last is reckoned. Swap it when you next touch this recipe."
        yield Found(f"{good.name} is retired", reason, good.slug)


@CHECKS.add(
    "twice", Severity.WARN, measures="hard goods that are the container itself", limit="none", source=Source.HOUSE
)
def find_charged_twice(judged: Judged) -> Iterator[Found]:
    """A container that is charged among the hard goods once more."""
    for good in judged.taken.all_goods:
        if isinstance(good, HardGood) and good.same_as and good.same_as == judged.recipe.container:
            reason = "It is the container itself, which is charged already. Take it out of the hard goods."
            yield Found(f"{good.name} is charged twice", reason, good.slug)


@CHECKS.add(
    "minutes",
    Severity.NOTE,
    measures="minutes against the shop's own pace, by the pieces that are placed",
    limit=f"half, or {MOST_PACE:g} times as many",
    source=Source.ASSUMPTION,
)
def find_strange_minutes(judged: Judged) -> Iterator[Found]:
    """Minutes far from what a piece of so many takes at the shop's pace: its labour is charged by them."""
    rules, placed = judged.rules, len(judged.build.places)
    minutes, usual = float(judged.recipe.minutes), rules.get_usual_minutes(placed)
    if placed and usual is not None and not usual / MOST_PACE <= minutes <= usual * MOST_PACE:
        pace = f"At the shop’s pace, {rules.set_up_minutes:g} minutes and {rules.minutes_a_piece:g} a piece,"
        reason = f"{pace} it takes about {usual:.0f}. Time one, and put that right: labour is charged by it."
        yield Found(f"{minutes:g} minutes for {placed} {'piece' if placed == 1 else 'pieces'}", reason)


@CHECKS.add(
    "labour",
    Severity.NOTE,
    measures="labour as a share of the price before tax",
    limit="the share the school in force has for it",
    source=Source.HOUSE,
)
def find_costly_labour(judged: Judged) -> Iterator[Found]:
    """More minutes than the price has room for."""
    money, rules = judged.money, get_pricing_rules(judged.recipe, judged.rules)
    share = money.labour_cost / money.price
    most = {
        PricingSchool.SLICES: rules.slices.labour,
        PricingSchool.MARKUP_ON_TOP: get_share_of_price(rules.labour_on_top),
    }.get(money.school, rules.labour_share)
    if share > most:
        minutes = f"{money.goods.minutes:g} minutes"
        reason = f"{minutes} are {share * 100:.0f} % of the price, {most * 100:.0f} % is what the school has for it. "
        yield Found("Labour past its share", f"{reason}Make it quicker, or go up a price point.")
