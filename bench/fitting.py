"""Fits, ladders, what still fits and repairs on seeded instances, against HiGHS on the same problems and against the
calculator way of spending a price flower by flower.

Run with ./run bench fitting. In one process, warm; the same answers the Table gives.
"""

import random
import statistics
import time
from collections.abc import Callable
from decimal import Decimal
from functools import partial
from typing import TypeVar

from bench.highs import solve_with_highs
from mirvel.core.fit.extras import find_extras
from mirvel.core.fit.fitting import CannotFit, set_price
from mirvel.core.fit.ladder import climb
from mirvel.core.fit.lines import FitProblem, get_fit_problem
from mirvel.core.fit.model import solve
from mirvel.core.fit.penalty import get_penalty, get_spent, is_allowed
from mirvel.core.fit.repair import find_repairs
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.facts import Role
from mirvel.core.pricing.pricing import get_money
from mirvel.core.recipe.fit_wishes import Aim
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.demo import RULES, get_catalogue, get_recipes

Found = TypeVar("Found")
INSTANCES, LADDERS, REPAIRS = 120, 100, 1000
MORNINGS = 60  # different lists of costs
RUNGS = ("1", "1.2", "1.45", "1.7", "2", "2.4")
_AIMS = (Aim.FULLEST, Aim.FOCAL, Aim.LASTING, Aim.MINUTES, Aim.PARENT)
_BY_ROLE = (Role.FOCAL, Role.LINE, Role.MASS, Role.TOKEN, Role.TEXTURE, Role.TRAILING, Role.FILLER, Role.GREENERY)


def main() -> None:
    """Measure and print."""
    instances = [_make_instance(seed) for seed in range(INSTANCES)]
    solve(instances[0])  # loads the solver
    _measure_fits(instances)
    _measure_ladders()
    _measure_extras()
    _measure_repairs()


def _vary_costs(seed: int) -> Catalogue:
    """The demo's goods with every cost moved by up to a third, by a seed."""
    moved, catalogue = random.Random(seed), get_catalogue()
    materials = {
        slug: good.model_copy(
            update={"cost": (good.cost * Decimal(moved.randint(75, 133)) / 100).quantize(Decimal("0.0001"))}
        )
        for slug, good in catalogue.materials.items()
    }
    return catalogue.model_copy(update={"materials": materials})


def _make_instance(seed: int) -> FitProblem:
    recipes, chosen = get_recipes(), random.Random(1000 + seed)
    recipe = recipes[seed % len(recipes)]
    price = (recipe.price_point * chosen.randint(80, 180) / 100).quantize(Decimal("0.01"))
    return get_fit_problem(set_price(recipe, price, _AIMS[seed % len(_AIMS)]), _vary_costs(seed), RULES)


def _time(run: Callable[[], Found]) -> tuple[float, Found]:
    began = time.perf_counter()
    found = run()
    return time.perf_counter() - began, found


def _p95(times: list[float]) -> float:
    return sorted(times)[int(0.95 * (len(times) - 1))]


def _measure_fits(instances: list[FitProblem]) -> None:
    ours, theirs, agreed, left, worse, broken = [], [], 0, [], [], 0
    for problem in instances:
        took, solved = _time(partial(solve, problem))
        ours.append(took)
        took, points = _time(partial(solve_with_highs, problem))
        theirs.append(took)
        agreed += solved.optimal and solved.penalty == points
        counts = _spend_by_calculator(problem)
        if not is_allowed(problem, counts):
            broken += 1
        left.append((problem.money - get_spent(problem, counts)) / problem.money)
        worse.append(get_penalty(problem, counts).total - points)
    print(f"baseline, HiGHS, {len(instances)} fits: median {statistics.median(theirs):.3f} s, p95 {_p95(theirs):.3f} s")
    print(
        f"fits: median {statistics.median(ours):.3f} s, p95 {_p95(ours):.3f} s, "
        f"{statistics.median(ours) / statistics.median(theirs):.2f} : 1; proven and agreed {agreed} of {len(instances)}"
    )
    print(
        f"by calculator: leaves a median {100 * statistics.median(left):.1f} % (p95 {100 * _p95(left):.1f} %), breaks "
        f"a limit in {broken}, a median {statistics.median(worse):.0f} points worse"
    )


def _spend_by_calculator(problem: FitProblem) -> dict[str, int]:
    """The recipe's own proportions role by role while the money lasts, then the cheapest pieces until it is gone."""
    counts = {line.id: 0 for line in problem.lines}

    def pays(line_id: str) -> bool:
        return get_spent(problem, {**counts, line_id: counts[line_id] + 1}) <= problem.money

    for line in sorted(problem.lines, key=lambda line: _BY_ROLE.index(line.role)):
        while counts[line.id] < line.parent and pays(line.id):
            counts[line.id] += 1
    while True:
        more = [line for line in problem.lines if pays(line.id) and counts[line.id] < problem.slots[line.slot][1]]
        if not more:
            return counts
        base = get_spent(problem, counts)
        cheapest = min(more, key=lambda line: get_spent(problem, {**counts, line.id: counts[line.id] + 1}) - base)
        counts[cheapest.id] += 1


def _measure_ladders() -> None:
    times, gaps, recipes = [], [], get_recipes()
    for seed in range(LADDERS):
        recipe, catalogue = recipes[seed % len(recipes)], _vary_costs(500 + seed)
        rungs = [
            set_price(recipe, (recipe.price_point * Decimal(times_)).quantize(Decimal("0.01"))) for times_ in RUNGS
        ]
        try:
            took, ladder = _time(partial(climb, rungs, catalogue, RULES))
        except CannotFit:
            continue
        times.append(took)
        gaps.append(ladder.gap)
    proven = sum(not gap for gap in gaps)
    print(
        f"ladders of {len(RUNGS)}: median {statistics.median(times):.1f} s, p95 {_p95(times):.1f} s; proven "
        f"{proven} of {len(gaps)}, gap median {100 * statistics.median(gaps):.1f} %, p95 {100 * _p95(gaps):.1f} %"
    )


def _measure_extras() -> None:
    catalogue = get_catalogue()
    # 400 materials: the demo's own three times over, as other articles
    wide = {f"{slug}{number}": good.model_copy(update={"slug": f"{slug}{number}"})
            for slug, good in catalogue.materials.items() for number in ("", "-b", "-c", "-d")}  # fmt: skip
    wider = catalogue.model_copy(update={"materials": dict(list(wide.items())[:400]) | dict(catalogue.materials)})
    for words, goods, whole in (("a recipe", catalogue, False), (f"{len(wider.materials)} materials", wider, True)):
        times = []
        for recipe in get_recipes() * 2:
            took, _ = _time(partial(find_extras, recipe, goods, RULES, whole_catalogue=whole))
            times.append(1000 * took)
        print(f"what still fits, {words}: median {statistics.median(times):.0f} ms, p95 {_p95(times):.0f} ms")


def _measure_repairs() -> None:
    recipes: list[Recipe] = [get_recipes()[number % len(get_recipes())] for number in range(REPAIRS)]
    mornings = [_vary_costs(9000 + number) for number in range(MORNINGS)]
    catalogues = [mornings[number % MORNINGS] for number in range(REPAIRS)]
    pairs = list(zip(recipes, catalogues, strict=True))
    took, _ = _time(lambda: [get_money(take(recipe, catalogue), RULES) for recipe, catalogue in pairs])
    print(f"repriced: {took:.2f} s for {REPAIRS:,} rungs")
    took, found = _time(lambda: [find_repairs(recipe, catalogue, RULES, 1) for recipe, catalogue in pairs])
    print(f"repaired: {took:.0f} s for {REPAIRS:,} rungs, {sum(map(bool, found))} of them true again")


if __name__ == "__main__":
    main()
