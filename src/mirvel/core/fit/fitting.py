"""One recipe fitted to its price point: counts, sums, proof, and what keeps it from having more."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from decimal import Decimal

from mirvel.core.fit.beginning import begin
from mirvel.core.fit.clashes import Clash, find_clashes
from mirvel.core.fit.lines import TEN_THOUSAND, FitProblem, Line, get_fit_problem
from mirvel.core.fit.model import NoAnswer, Solved, solve
from mirvel.core.fit.penalty import Penalty, get_penalty, get_spent
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.facts import Role
from mirvel.core.house.rules import HouseRules
from mirvel.core.pricing.pricing import Money, get_money
from mirvel.core.recipe.entry import Entry
from mirvel.core.recipe.fit_wishes import Aim
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.core.values.money import to_cent

_REASONS = 4
_LOOKS = {  # what a part of the penalty is called where it keeps a piece out
    "likeness": "its share in the recipe",
    "shares": "the balance of roles",
    "even focal": "the odd number of focal flowers",
    "aim": "the aim",
}


@dataclass(frozen=True)
class Fitted:
    """A recipe at counts that a fit chose; ``bound`` is the least penalty any answer can have."""

    recipe: Recipe
    money: Money
    penalty: Penalty
    bound: int
    optimal: bool
    cover: float
    reasons: tuple[str, ...]

    @property
    def counts(self) -> dict[str, int]:
        return {entry.id: entry.pieces for entry in self.recipe.entries}

    @property
    def stems(self) -> int:
        """Stems pulled for it."""
        return sum(pull.stems for pull in self.money.pulls)

    def get_stems_for(self, amount: Decimal) -> Decimal:
        """Stems a customer gets for so much of the price."""
        return self.stems * amount / self.recipe.price_point


class CannotFit(Exception):
    """No counts keep every limit; the limits that clash, each with what would mend it."""

    def __init__(self, clashes: tuple[Clash, ...]) -> None:
        super().__init__(clashes)
        self.clashes = clashes


def set_price(recipe: Recipe, price_point: object = None, aim: Aim | None = None) -> Recipe:
    """The recipe at another price point or with another aim; None leaves it. Raises BadInput."""
    fit = recipe.fit if aim is None else recipe.fit.model_copy(update={"aim": aim})
    return recipe.change(price_point=recipe.price_point if price_point is None else price_point, fit=fit)


def fit(recipe: Recipe, catalogue: Catalogue, rules: HouseRules, usual: Mapping[Role, float] | None = None) -> Fitted:
    """The best counts for a recipe at its price point, by its wishes; one just begun starts from what is ``usual`` in
    its form. Raises CannotFit, UnknownGoods, BadInput."""
    recipe = begin(recipe, usual)
    problem = get_fit_problem(recipe, catalogue, rules)
    try:
        solved = solve(problem)
    except NoAnswer:
        raise CannotFit(find_clashes(recipe, problem, catalogue, rules)) from None
    return describe(recipe, problem, solved, catalogue, rules)


def describe(recipe: Recipe, problem: FitProblem, solved: Solved, catalogue: Catalogue, rules: HouseRules) -> Fitted:
    """The solver's answer as a recipe, with its sums reckoned anew by the core."""
    fitted = apply_counts(recipe, problem, solved.counts)
    cover = sum(line.footprint * solved.counts[line.id] for line in problem.lines) - problem.held_cover
    return Fitted(
        recipe=fitted,
        money=get_money(take(fitted, catalogue), rules),
        penalty=get_penalty(problem, solved.counts),
        bound=solved.bound,
        optimal=solved.optimal,
        cover=cover / TEN_THOUSAND,
        reasons=tuple(_find_reasons(problem, solved.counts, catalogue, rules))[:_REASONS],
    )


def apply_counts(recipe: Recipe, problem: FitProblem, counts: Mapping[str, int]) -> Recipe:
    """The recipe with other pieces; an alternative that is used becomes an entry behind the one it stands in for."""
    entries: list[Entry] = []
    numbers = [int(entry.id[1:]) for entry in recipe.entries if entry.id[1:].isdigit()]
    fresh = max(numbers, default=0)
    for entry in recipe.entries:
        entries.append(entry.model_copy(update={"pieces": counts[entry.id]}))
        for line in (each for each in problem.lines if each.slot == entry.id and each.id != entry.id):
            if counts[line.id]:
                fresh += 1
                entries.append(line.entry.model_copy(update={"id": f"e{fresh}", "pieces": counts[line.id]}))
    return recipe.change(entries=entries)


def _find_reasons(
    problem: FitProblem, counts: Mapping[str, int], catalogue: Catalogue, rules: HouseRules
) -> Iterator[str]:
    """Why there is not more of anything: the money, the look, the limits reached, the mouth."""
    full = [slot for slot in problem.slots if _is_full(slot, problem, counts)]
    open_lines = [line for line in problem.lines if line.slot not in full and counts[line.id] < line.most]
    spent = get_spent(problem, counts)
    left = problem.money - spent
    prices = {line.id: get_spent(problem, _add(counts, line)) - spent for line in open_lines}
    dear = [line for line in open_lines if prices[line.id] > left]
    if dear:
        cheapest = min(dear, key=lambda line: prices[line.id])
        room, price = (
            f"{rules.currency}{to_cent(Decimal(each) / TEN_THOUSAND)}" for each in (left, prices[cheapest.id])
        )
        yield f"Money: {room} is left, and one more {_name(cheapest, catalogue)} takes {price}."
    for line in open_lines:
        if prices[line.id] <= left:
            yield f"{_name(line, catalogue)}: one more would pay, {_say_held(line, problem, counts)}."
    for slot in full:
        least, most = problem.slots[slot]
        line = next(each for each in problem.lines if each.id == slot)
        yield f"{_name(line, catalogue)} is {'kept as it is' if least == most else f'at its most, {most}'}."
    section = sum(line.section * counts[line.id] for line in problem.lines)
    if open_lines and section + min(line.section for line in open_lines) > problem.most_section:
        yield "The mouth of the container takes no more stems."
    uptake = sum(line.uptake * counts[line.id] for line in problem.lines)
    if open_lines and uptake + min(line.uptake for line in open_lines) > problem.most_uptake:
        yield "Its foam holds no water for more, as long as nobody refills it."


def _is_full(slot: str, problem: FitProblem, counts: Mapping[str, int]) -> bool:
    """Whether an entry and its alternatives have as many pieces as they may."""
    return sum(counts[line.id] for line in problem.lines if line.slot == slot) >= problem.slots[slot][1]


def _say_held(line: Line, problem: FitProblem, counts: Mapping[str, int]) -> str:
    """What of the look keeps back one more of a line that would pay."""
    now, after = get_penalty(problem, counts), get_penalty(problem, _add(counts, line))
    worse = [name for name in after.parts if after.parts[name] > now.parts[name]]
    words = " and ".join(_LOOKS.get(name, name) for name in worse)
    return f"but is held back by {words}" if words else "and would neither help nor harm"


def _add(counts: Mapping[str, int], line: Line) -> dict[str, int]:
    return {**counts, line.id: counts[line.id] + 1}


def _name(line: Line, catalogue: Catalogue) -> str:
    return f"{catalogue.get_name(line.entry.material)}, {line.entry.colour}"
