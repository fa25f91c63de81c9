"""Money by the four schools: what flowers may cost at a price, what is spent, and the price goods would build.

Formulas (F flowers at cost, H hard goods at cost, T minutes, P price before tax):

=========================  ==========================  =========================================
school                     price built from goods      flower money at a price
=========================  ==========================  =========================================
mark-up, labour λ on top   (F·mf + H·mh)(1+λ)          (P/(1+λ) − H·mh)/mf
mark-up, labour share λ    (F·mf + H·mh)/(1−λ)         (P(1−λ) − H·mh)/mf
slices of the price        not built from goods        f·P, and h·P − H where lent or overdrawn
time and materials         (F+H)(1+μ) + T·w(1+o)       (P − T·w(1+o))/(1+μ) − H
=========================  ==========================  =========================================

Where mark-up differs by material class the budget is kept at retail, ``Σ mf_k·F_k``, and flower money is
reported at the mean mark-up of what is in the recipe. All are common practice with no published source.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from decimal import Decimal

from mirvel.core.house.rules import HouseRules
from mirvel.core.house.terms import PricingSchool
from mirvel.core.pricing.stems import Demand, Pull, get_demands, get_pulls
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import Taken
from mirvel.core.values.money import to_cent


@dataclass(frozen=True)
class AtCost:
    """What one piece takes: flowers and hard goods at cost, the mean flower mark-up, minutes."""

    flowers: Decimal
    hard_goods: Decimal
    flower_markup: Decimal
    minutes: Decimal


@dataclass(frozen=True)
class Money:
    """The money column of one recipe under the school in force; shares are of the price before tax. It is true where
    its flowers cost from ``true_from`` to ``true_to`` of the flower money."""

    school: PricingSchool
    price_point: Decimal
    price: Decimal
    goods: AtCost
    flower_money: Decimal
    fill: Decimal | None
    true_from: Decimal
    true_to: Decimal
    gross_margin: Decimal
    contribution: Decimal
    labour_cost: Decimal
    built: tuple[tuple[PricingSchool, Decimal | None], ...]
    pulls: tuple[Pull, ...]

    entry_costs: Mapping[str, Decimal]

    @property
    def spent(self) -> Decimal:
        return self.goods.flowers

    @property
    def left_over_value(self) -> Decimal:
        return sum((pull.left_over_value for pull in self.pulls), Decimal(0))

    @property
    def room_left(self) -> Decimal:
        """The flower money less what is spent, each as it is told: less than a cent is nobody's to spend or to owe."""
        return to_cent(self.flower_money) - to_cent(self.spent)

    @property
    def over(self) -> Decimal:
        """How much more flowers cost than the shop lets them, as told; below nought what they may cost more."""
        return to_cent(self.spent) - to_cent(self.flower_money * self.true_to)

    @property
    def is_over(self) -> bool:
        return self.flower_money > 0 and self.over > 0

    @property
    def is_under(self) -> bool:
        """Whether flowers cost less than the customer is to have, to the cent."""
        return self.flower_money > 0 and to_cent(self.spent) < to_cent(self.flower_money * self.true_from)

    @property
    def is_true(self) -> bool:
        return self.flower_money > 0 and not self.is_over and not self.is_under


def get_margin(markup: Decimal) -> Decimal:
    """Gross margin of a mark-up on cost: ``1 − 1/markup``."""
    return 1 - 1 / markup


def get_share_of_price(labour_on_top: Decimal) -> Decimal:
    """The share of price that a percentage on top of goods amounts to: 25 % on top is 20 % of price."""
    return labour_on_top / (1 + labour_on_top)


def get_price_before_tax(price_point: Decimal, tax_rate: Decimal) -> Decimal:
    """The part of an inclusive price point that is the shop's."""
    return price_point / (1 + tax_rate)


def get_mean_markup(pulls: Iterable[Pull], rules: HouseRules) -> Decimal:
    """Mark-up of the flowers in a recipe, weighted by what they cost; the shop's where there are none."""
    costs = [(pull.cost, rules.get_flower_markup(pull.material.markup_class)) for pull in pulls]
    total = sum((cost for cost, _ in costs), Decimal(0))
    return sum((cost * markup for cost, markup in costs), Decimal(0)) / total if total else rules.flower_markup


def get_flower_money(school: PricingSchool, price: Decimal, goods: AtCost, rules: HouseRules) -> Decimal:
    """What flowers may cost at a fixed price before tax; negative when hard goods or labour eat it all."""
    hard_retail = goods.hard_goods * rules.hard_goods_markup
    if school is PricingSchool.MARKUP_ON_TOP:
        return (price / (1 + rules.labour_on_top) - hard_retail) / goods.flower_markup
    if school is PricingSchool.MARKUP_SHARE:
        return (price * (1 - rules.labour_share) - hard_retail) / goods.flower_markup
    if school is PricingSchool.SLICES:
        unused = rules.slices.hard_goods * price - goods.hard_goods
        lent = unused if unused < 0 or rules.slices.lend_hard_goods else Decimal(0)
        return rules.slices.flowers * price + lent
    labour = goods.minutes * rules.wage_per_minute * (1 + rules.overhead_on_wage)
    return (price - labour) / (1 + rules.goods_uplift) - goods.hard_goods


def find_built_price(school: PricingSchool, goods: AtCost, rules: HouseRules) -> Decimal | None:
    """The price before tax that goods build under a school; None for slices, which start from the price."""
    retail = goods.flowers * goods.flower_markup + goods.hard_goods * rules.hard_goods_markup
    if school is PricingSchool.MARKUP_ON_TOP:
        return retail * (1 + rules.labour_on_top)
    if school is PricingSchool.MARKUP_SHARE:
        return retail / (1 - rules.labour_share)
    if school is PricingSchool.SLICES:
        return None
    labour = goods.minutes * rules.wage_per_minute * (1 + rules.overhead_on_wage)
    return (goods.flowers + goods.hard_goods) * (1 + rules.goods_uplift) + labour


def get_hard_goods_cost(taken: Taken) -> Decimal:
    """Container, hard goods and those inside assemblies, at cost."""
    used = sum((use.get_cost(good) for use, good in taken.uses), taken.container.cost)
    return used + sum(_get_assembled_costs(taken).values(), Decimal(0))


def _get_assembled_costs(taken: Taken) -> dict[str, Decimal]:
    """What the hard goods inside each entry's assemblies cost, by entry."""
    return {
        entry.id: entry.pieces * sum((use.get_cost(good) for use, good in taken.assembled_uses[entry.id]), Decimal(0))
        for entry in taken.recipe.entries
        if entry.id in taken.assembled_uses
    }


def get_made_ahead_minutes(taken: Taken) -> Decimal:
    """Minutes for the assemblies of a recipe, beside its own at the bench."""
    minutes = (
        entry.pieces * taken.assemblies[entry.id].minutes
        for entry in taken.recipe.entries
        if entry.id in taken.assemblies
    )
    return sum(minutes, Decimal(0))


def get_pricing_rules(recipe: Recipe, rules: HouseRules) -> HouseRules:
    """The rules a recipe is priced by: its own terms before those of its occasion, and these before the house's."""
    _, terms = rules.find_terms(recipe.brief.occasion)
    return rules.on_terms(terms, recipe.schools)


def get_money(taken: Taken, rules: HouseRules) -> Money:
    """The whole money column of a recipe, exact but for what is left, which is the difference of what is shown."""
    recipe, demands = taken.recipe, get_demands(taken)
    rules = get_pricing_rules(recipe, rules)
    pulls = get_pulls(demands, rules.pieces)
    goods = AtCost(
        flowers=sum((pull.cost for pull in pulls), Decimal(0)),
        hard_goods=get_hard_goods_cost(taken),
        flower_markup=get_mean_markup(pulls, rules),
        minutes=recipe.minutes + get_made_ahead_minutes(taken),
    )
    school = rules.pricing
    price = get_price_before_tax(recipe.price_point, rules.tax_rate)
    flower_money = get_flower_money(school, price, goods, rules)
    labour_cost = goods.minutes * rules.wage_per_minute
    left = price - goods.flowers - goods.hard_goods
    return Money(
        school=school,
        price_point=recipe.price_point,
        price=price,
        goods=goods,
        flower_money=flower_money,
        fill=goods.flowers / flower_money if flower_money > 0 else None,
        true_from=rules.true_from,
        true_to=rules.true_to,
        gross_margin=left / price,
        contribution=(left - labour_cost) / price,
        labour_cost=labour_cost,
        built=tuple((each, find_built_price(each, goods, rules)) for each in PricingSchool),
        pulls=pulls,
        entry_costs=_get_entry_costs(taken, demands, pulls),
    )


def get_money_at(taken: Taken, rules: HouseRules, price_point: Decimal) -> Money:
    """The money of a recipe as it is, at another price."""
    return get_money(replace(taken, recipe=taken.recipe.model_copy(update={"price_point": price_point})), rules)


def _get_entry_costs(taken: Taken, demands: tuple[Demand, ...], pulls: tuple[Pull, ...]) -> dict[str, Decimal]:
    """What each entry costs: its share, by piece units, of the stems its material and colour are pulled in, and the
    hard goods inside its assemblies."""
    pooled = {(pull.material.slug, pull.colour): pull for pull in pulls}
    assembled = _get_assembled_costs(taken)
    costs = {entry.id: assembled.get(entry.id, Decimal(0)) for entry in taken.recipe.entries}
    for demand in demands:
        pull = pooled[demand.material.slug, demand.colour]
        units = pull.stems * pull.material.pieces_per_stem - pull.left_over
        costs[demand.entry_id] += pull.cost * demand.units / units if units else Decimal(0)
    return costs
