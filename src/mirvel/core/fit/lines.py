"""A recipe in whole numbers for fitting: lines to count, pools of stems they are cut from, money, and wishes.

Money is in ten-thousandths, costs rounded up and flower money down, so that nothing is overspent by rounding. Where
mark-up differs by material class it is kept at retail, as the price is reckoned. Shares of footprint and visual mass
are in ten-thousandths of what the piece is meant to have.
"""

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from decimal import ROUND_CEILING, ROUND_FLOOR, Decimal

from mirvel.core.fit.mass import get_mass_cm2
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.container import Container
from mirvel.core.goods.facts import Mechanics, PieceSize, Role
from mirvel.core.goods.heads import get_head
from mirvel.core.goods.material import Material
from mirvel.core.house.rules import HouseRules
from mirvel.core.house.terms import PiecePolicy, PricingSchool
from mirvel.core.making.bases import SOAKED_G_PER_ML, count_passing, get_base_plan
from mirvel.core.making.water import get_foam_held_ml, get_uptake_of
from mirvel.core.placing.size import get_footprint_range_cm2, get_sizing
from mirvel.core.pricing.pricing import (
    AtCost,
    get_flower_money,
    get_hard_goods_cost,
    get_price_before_tax,
    get_pricing_rules,
)
from mirvel.core.pricing.stems import get_demands
from mirvel.core.recipe.entry import MAX_PIECES, Entry
from mirvel.core.recipe.fit_wishes import Aim, FitWishes
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.core.values.problems import BadInput, Problem

TEN_THOUSAND, CENT = 10_000, 100
MOST_MORE, MOST_TIMES = 4, 2.5  # a fit may go to 2.5 times an entry's pieces at the new money, and four more
MINUTES_A_PIECE = Decimal("0.3")  # to place one piece (assumption of ours, until the log tells)
_USUAL_LIFE_DAYS = 7
SHARE_DEAD = 40  # thousandths about a role's share that count as kept
_NO_LIMIT = 10**9


@dataclass(frozen=True)
class Need:
    """What one piece of a line takes of a pool: stem units, and stems it needs for itself."""

    pool: int
    units: int
    own_stems: int


@dataclass(frozen=True)
class Line:
    """One thing a fit may count: an entry, or an alternative to it. ``direct`` is money beside stems."""

    entry: Entry
    slot: str
    needs: tuple[Need, ...]
    direct: int
    least: int
    most: int
    parent: int
    footprint: int
    mass: int
    section: int
    life_days: int
    minutes: int
    uptake: int = 0  # hundredths of ml a day

    @property
    def id(self) -> str:
        return self.entry.id

    @property
    def role(self) -> Role:
        return self.entry.role


@dataclass(frozen=True)
class Pool:
    """Stems of one material and colour: what a stem costs, and what one of its pieces does where pieces are charged."""

    material: str
    colour: str
    per_stem: int
    stem_cost: int
    unit_cost: int


@dataclass(frozen=True)
class FitProblem:
    """Everything a fit decides by. ``least_cover`` and ``most_cover`` are in the lines' footprint units, ``shares`` by
    role in thousandths of visual mass, ``money_shares`` least and most thousandths of the money by role,
    ``slots`` least and most pieces; ``held_cover`` is the footprint of what is held back, which counts pieces that are
    paid for and covers nothing; ``most_uptake`` what the lines may drink a day in foam that nobody waters."""

    lines: tuple[Line, ...]
    pools: tuple[Pool, ...]
    whole_stems: bool
    money: int
    band: int
    aim: Aim
    odd_focal: bool
    shares: Mapping[Role, int]
    money_shares: Mapping[Role, tuple[int, int]]
    least_cover: int
    most_cover: int
    slots: Mapping[str, tuple[int, int]]
    most_section: int
    most_pieces: int
    held_cover: int = 0
    most_uptake: int = _NO_LIMIT


def get_fit_problem(recipe: Recipe, catalogue: Catalogue, rules: HouseRules) -> FitProblem:
    """The numbers of a recipe at its price point. Raises UnknownGoods, and BadInput where no money is left."""
    fixed = take(recipe.model_copy(update={"entries": ()}), catalogue)
    container, budget = fixed.container, _Budget(recipe, rules)
    hard = get_hard_goods_cost(fixed)
    whole = budget.get(hard, recipe.minutes) * TEN_THOUSAND
    money = int((whole * min(Decimal(1), rules.true_to)).to_integral_value(ROUND_FLOOR))  # a shop may keep some back
    if money <= 0:
        mend = "Choose a cheaper container or a higher price point."
        raise BadInput(Problem("price point", "container, hard goods and labour use the whole price.", mend))
    pools = _Pools(budget)
    candidates = [line for entry in recipe.entries for line in _get_candidates(entry, recipe, catalogue, rules)]
    drafts = [_draft(entry, slot, recipe, catalogue, rules, budget, pools) for entry, slot in candidates]
    spent = sum(_get_usual_cost(draft, pools.found) * draft.entry.pieces for draft in drafts)
    growth = money / spent if spent else 1.0
    low, high = get_footprint_range_cm2(recipe, container, rules)
    held_cm2 = sum(draft.footprint_cm2 * _get_held_back(draft) for draft in drafts)  # paid, and covering nothing
    now_cm2 = sum(draft.footprint_cm2 * draft.entry.pieces for draft in drafts) - held_cm2
    whole_cm2 = high if math.isfinite(high) and high > 0 else max(1.0, 1.3 * now_cm2 * growth)
    whole_mass = max(1.0, growth * sum(draft.mass_cm2 * draft.entry.pieces for draft in drafts))
    wishes = recipe.fit
    return FitProblem(
        lines=tuple(_make_line(draft, growth, whole_cm2, whole_mass) for draft in drafts),
        pools=tuple(pools.found),
        whole_stems=get_pricing_rules(recipe, rules).pieces is PiecePolicy.WHOLE_STEMS,
        money=money,
        band=max(0, money - int((whole * rules.true_from).to_integral_value(ROUND_CEILING))),
        aim=wishes.aim,
        odd_focal=wishes.odd_focal,
        shares=_get_shares(recipe, drafts),
        money_shares=_get_money_shares(wishes),
        least_cover=_to_share(held_cm2 + low * (wishes.cover_from or rules.thin_below) / rules.thin_below, whole_cm2),
        most_cover=_to_share(
            held_cm2 + whole_cm2 * (wishes.cover_to or rules.crowded_above) / rules.crowded_above, whole_cm2
        ),
        slots={entry.id: _get_limits(entry, growth) for entry in recipe.entries},
        most_section=_get_most_section(recipe, container, drafts),
        most_pieces=_get_most_pieces(recipe, container, rules),
        held_cover=_to_share(held_cm2, whole_cm2),
        most_uptake=_get_most_uptake(recipe, container, drafts, rules),
    )


class _Budget:
    """The money a recipe's school leaves for flowers, and how much of it a cost of each mark-up class uses up."""

    def __init__(self, recipe: Recipe, rules: HouseRules) -> None:
        rules = get_pricing_rules(recipe, rules)
        self.school = rules.pricing
        self.price, self.rules = get_price_before_tax(recipe.price_point, rules.tax_rate), rules

    @property
    def is_retail(self) -> bool:
        return self.school in {PricingSchool.MARKUP_ON_TOP, PricingSchool.MARKUP_SHARE} and bool(
            self.rules.class_markups
        )

    def get_weight(self, material: Material) -> Decimal:
        return self.rules.get_flower_markup(material.markup_class) if self.is_retail else Decimal(1)

    def get(self, hard_goods: Decimal, minutes: Decimal) -> Decimal:
        """Flower money beside so much else; at retail where each class has its own mark-up."""
        markup = Decimal(1) if self.is_retail else self.rules.flower_markup
        return get_flower_money(self.school, self.price, AtCost(Decimal(0), hard_goods, markup, minutes), self.rules)

    def get_direct(self, hard_goods: Decimal, minutes: Decimal) -> Decimal:
        """What hard goods and minutes inside one piece take from the flower money, at most."""
        if self.school is PricingSchool.SLICES:
            return hard_goods
        return self.get(Decimal(0), Decimal(0)) - self.get(hard_goods, minutes)


class _Pools:
    """The pools found so far, by material and colour."""

    def __init__(self, budget: _Budget) -> None:
        self.budget, self.found, self.numbers = budget, list[Pool](), dict[tuple[str, str], int]()

    def get_number(self, material: Material, colour: str) -> int:
        key = (material.slug, colour)
        if key not in self.numbers:
            self.numbers[key] = len(self.found)
            cost = material.cost * self.budget.get_weight(material)
            per_stem = material.pieces_per_stem
            self.found.append(Pool(*key, per_stem, _up(cost), _up(cost / per_stem)))
        return self.numbers[key]


def _up(amount: Decimal) -> int:
    return int((amount * TEN_THOUSAND).to_integral_value(ROUND_CEILING))


@dataclass(frozen=True)
class _Draft:
    """A line before its sizes are put in proportion to the whole."""

    entry: Entry
    slot: str
    needs: tuple[Need, ...]
    direct: int
    footprint_cm2: float
    mass_cm2: float
    section_cm2: float
    life_days: int
    minutes: Decimal
    uptake: int


def _get_candidates(
    entry: Entry, recipe: Recipe, catalogue: Catalogue, rules: HouseRules
) -> Iterator[tuple[Entry, str]]:
    yield entry, entry.id
    if entry.locked or not entry.alternatives:
        return
    taken = {(each.material, each.colour) for each in recipe.entries if each.role is entry.role}
    for number, other in enumerate(entry.alternatives, 1):
        known = catalogue.materials.get(other.material)
        if known is None or known.retired or other.colour not in known.colours:
            continue
        if recipe.brief.rules_out(known, rules):
            continue
        if (other.material, other.colour) not in taken:
            update = {
                "id": f"{entry.id}a{number}",
                "material": other.material,
                "colour": other.colour,
                "pieces": 0,
                "least": None,
                "most": None,
                "alternatives": (),
                "pins": (),
                "kept": (),
            }
            yield entry.model_copy(update=update), entry.id


def _draft(
    entry: Entry,
    slot: str,
    recipe: Recipe,
    catalogue: Catalogue,
    rules: HouseRules,
    budget: _Budget,
    pools: _Pools,
) -> _Draft:
    one = take(recipe.model_copy(update={"entries": (entry.model_copy(update={"pieces": 1}),)}), catalogue)
    needs = tuple(
        Need(
            pools.get_number(demand.material, demand.colour),
            demand.units,
            0 if demand.piece is PieceSize.LATERAL else demand.pieces,
        )
        for demand in get_demands(one)
    )
    assembly, material = one.assemblies.get(entry.id), one.placed[entry.id]
    minutes = assembly.minutes if assembly else Decimal(0)
    hard = sum((use.get_cost(good) for use, good in one.assembled_uses.get(entry.id, ())), Decimal(0))
    head = get_head(material, entry.piece, rules.get_age(recipe.brief.days_to_viewing), rules.opening_at_delivery)
    return _Draft(
        entry=entry,
        slot=slot,
        needs=needs,
        direct=_up(budget.get_direct(hard, minutes)) if assembly else 0,
        footprint_cm2=head.footprint_cm2 if material.is_bloom else 0.0,
        mass_cm2=get_mass_cm2(material, head, rules),
        section_cm2=(material.stem_diameter_mm / 10) ** 2,
        life_days=_get_life_days(material),
        minutes=minutes + MINUTES_A_PIECE,
        uptake=round(100 * get_uptake_of(material, head, rules)),
    )


def _get_held_back(draft: _Draft) -> int:
    """Pieces of an entry that are paid for and not placed; what stands in for it holds none back."""
    return draft.entry.pieces - draft.entry.placed if draft.entry.id == draft.slot else 0


def _get_life_days(material: Material) -> int:
    known = (days for days in (material.life_min_days, material.life_max_days) if days is not None)
    return next(known, _USUAL_LIFE_DAYS)


def _get_usual_cost(draft: _Draft, pools: list[Pool]) -> int:
    return draft.direct + sum(need.units * pools[need.pool].unit_cost for need in draft.needs)


def _make_line(draft: _Draft, growth: float, whole_cm2: float, whole_mass: float) -> Line:
    entry = draft.entry
    is_own = entry.id == draft.slot
    least, most = _get_limits(entry, growth) if is_own else (0, MAX_PIECES)
    return Line(
        entry=entry,
        slot=draft.slot,
        needs=draft.needs,
        direct=draft.direct,
        least=least if is_own and not entry.alternatives else 0,
        most=most,
        parent=min(most, round(entry.pieces * growth)) if is_own and not entry.locked else entry.pieces,
        footprint=_to_share(draft.footprint_cm2, whole_cm2),
        mass=max(1, _to_share(draft.mass_cm2, whole_mass)),
        section=round(draft.section_cm2 * 1000),
        life_days=draft.life_days,
        minutes=round(draft.minutes * 10),
        uptake=draft.uptake,
    )


def _get_limits(entry: Entry, growth: float) -> tuple[int, int]:
    """Least and most pieces of an entry with its alternatives: as given, or in keeping with the recipe."""
    if entry.locked:
        return entry.pieces, entry.pieces
    most = entry.most
    if most is None:
        most = math.ceil(MOST_TIMES * entry.pieces * max(1.0, growth)) + MOST_MORE
    least = entry.least if entry.least is not None else min(1 + entry.meant.held_back, entry.pieces)
    return min(least, MAX_PIECES), max(min(most, MAX_PIECES), 0)


def _get_shares(recipe: Recipe, drafts: list[_Draft]) -> dict[Role, int]:
    """The share of visual mass each role is to have, in thousandths: as asked, else as the recipe has it."""
    masses: dict[Role, float] = {}
    for draft in drafts:
        masses[draft.entry.role] = masses.get(draft.entry.role, 0.0) + draft.mass_cm2 * draft.entry.pieces
    total = sum(masses.values())
    own = {role: round(1000 * mass / total) for role, mass in masses.items()} if total else {}
    return {**own, **{role: int(share * 1000) for role, share in recipe.fit.shares.items()}}


def _get_money_shares(wishes: FitWishes) -> dict[Role, tuple[int, int]]:
    """The least and most thousandths of the money by role, where anything is asked."""
    asked = {role: int(share * 1000) for role, share in wishes.money_shares.items()}
    found = {role: (share - SHARE_DEAD, share + SHARE_DEAD) for role, share in asked.items()}
    if wishes.focal_from is not None or wishes.focal_to is not None:
        most = wishes.focal_to if wishes.focal_to is not None else Decimal(1)
        found[Role.FOCAL] = (int((wishes.focal_from or Decimal(0)) * 1000), int(most * 1000))
    return found


def _get_most_pieces(recipe: Recipe, container: Container, rules: HouseRules) -> int:
    """As many pieces as a form of listed places has, or as there are now; without such a list, as a recipe may have."""
    sizing = get_sizing(recipe, container, 0.0, rules)
    if not sizing.form.only_listed:
        return MAX_PIECES
    now = sum(entry.pieces for entry in recipe.entries)
    return min(MAX_PIECES, max(now, len(sizing.surface.lattice.sites)))


def _get_most_uptake(recipe: Recipe, container: Container, drafts: list[_Draft], rules: HouseRules) -> int:
    """What may be drunk a day, hundredths of ml, so that foam which nobody waters lasts the days promised; never less
    than is now."""
    brief = recipe.brief
    foam = get_base_plan(recipe, container, ()).foam
    if brief.refilled or not brief.promised_days or foam is None:
        return _NO_LIMIT
    held_ml = get_foam_held_ml(foam.soaked_g / SOAKED_G_PER_ML, rules)
    now = sum(draft.uptake * draft.entry.pieces for draft in drafts)
    return max(now, int(100 * held_ml / brief.promised_days))


def _get_most_section(recipe: Recipe, container: Container, drafts: list[_Draft]) -> int:
    """Stem sections (thickness squared, thousandths of cm²) the mouth passes, reckoned at the mean of the recipe's."""
    pieces = sum(draft.entry.pieces for draft in drafts)
    if recipe.mechanics in {Mechanics.FOAM, Mechanics.PIN_HOLDER, Mechanics.TIED} or not pieces:
        return _NO_LIMIT
    mean = sum(draft.section_cm2 * draft.entry.pieces for draft in drafts) / pieces
    return int(1000 * mean * count_passing(container, math.sqrt(mean)))


def _to_share(part: float, whole: float) -> int:
    return round(TEN_THOUSAND * part / whole)
