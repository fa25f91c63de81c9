"""A ladder: one design at several price points, solved together, so that a dearer rung never has less of anything.

Rungs are solved one by one from below and from above, each holding to the last; the better run is the start of a joint
solve over all rungs. What single rungs at best need, added up, is a proven bound for the whole; the better of that
and the joint solve's own says how far the ladder can be from the best.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from mirvel.core.fit.beginning import begin
from mirvel.core.fit.clashes import find_clashes
from mirvel.core.fit.fitting import CannotFit, Fitted, describe
from mirvel.core.fit.lines import FitProblem, get_fit_problem
from mirvel.core.fit.model import Model, NoAnswer, Solved, solve
from mirvel.core.fit.penalty import get_penalty
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.house.rules import HouseRules
from mirvel.core.recipe.recipe import Recipe

JOINT_LIMIT = 0.42  # deterministic time, two to three seconds on the machines meant
Steps = list[Mapping[str, int]]


@dataclass(frozen=True)
class Ladder:
    """Fitted rungs, cheapest first; ``penalty`` of all together against the least there can be."""

    rungs: tuple[Fitted, ...]
    penalty: int
    bound: int

    @property
    def optimal(self) -> bool:
        return self.penalty == self.bound

    @property
    def gap(self) -> float:
        """How far from the best it can be at most, as a share of its penalty."""
        return (self.penalty - self.bound) / self.penalty if self.penalty else 0.0


def climb(rungs: Sequence[Recipe], catalogue: Catalogue, rules: HouseRules) -> Ladder:
    """The best counts for all rungs, which are one recipe at rising prices, its container or height stepping up where
    wanted; one just begun from what its form usually has. Raises CannotFit, UnknownGoods, BadInput."""
    rungs = [begin(rung) for rung in rungs]
    problems = [get_fit_problem(rung, catalogue, rules) for rung in rungs]
    bounds = []
    for rung, problem in zip(rungs, problems, strict=True):
        try:
            bounds.append(solve(problem).bound)
        except NoAnswer:
            raise CannotFit(find_clashes(rung, problem, catalogue, rules)) from None
    starts = [start for start in (_climb_up(problems), _climb_down(problems)) if start]
    best = min(starts, key=lambda steps: _sum_penalties(problems, steps), default=None)
    steps, joint_bound = _solve_together(problems, best, _sum_penalties(problems, best) > sum(bounds) if best else True)
    penalty = _sum_penalties(problems, steps)
    solved = [
        Solved(counts, _sum_penalties([problem], [counts]), bound, optimal=False)
        for problem, counts, bound in zip(problems, steps, bounds, strict=True)
    ]
    fitted = [
        describe(rung, problem, each, catalogue, rules)
        for rung, problem, each in zip(rungs, problems, solved, strict=True)
    ]
    return Ladder(tuple(fitted), penalty, min(penalty, max(sum(bounds), joint_bound)))


def _sum_penalties(problems: Sequence[FitProblem], steps: Steps) -> int:
    return sum(get_penalty(problem, counts).total for problem, counts in zip(problems, steps, strict=True))


def _climb_up(problems: Sequence[FitProblem]) -> Steps | None:
    """Each rung at its best with no less of anything than the one below."""
    steps: Steps = []
    for problem in problems:
        below = steps[-1] if steps else {}
        held = replace(
            problem,
            lines=tuple(replace(line, least=max(line.least, below.get(line.id, 0))) for line in problem.lines),
        )
        try:
            steps.append(solve(held).counts)
        except NoAnswer:
            return None
    return steps


def _climb_down(problems: Sequence[FitProblem]) -> Steps | None:
    """Each rung at its best with no more of anything than the one above."""
    steps: Steps = []
    for problem in reversed(problems):
        above = steps[0] if steps else {}
        held = replace(
            problem,
            lines=tuple(replace(line, most=min(line.most, above.get(line.id, line.most))) for line in problem.lines),
        )
        try:
            steps.insert(0, solve(held).counts)
        except NoAnswer:
            return None
    return steps


def _solve_together(problems: Sequence[FitProblem], start: Steps | None, needed: bool) -> tuple[Steps, int]:
    """All rungs in one model, from a start; the start itself where it is proven best. Raises CannotFit."""
    if start and not needed:
        return start, 0
    model = Model()
    rungs = [model.add(problem) for problem in problems]
    for low, high in pairwise(rungs):
        for line in low.problem.lines:
            model.model.add(low.pieces[line.id] <= high.pieces[line.id])
    for rung, counts in zip(rungs, start or [], strict=False):
        model.hint(rung, counts)
    try:
        solver, _ = model.solve(sum(rung.penalty for rung in rungs), limit=JOINT_LIMIT)
    except NoAnswer:
        if start:
            return start, 0
        raise CannotFit(()) from None
    steps: Steps = [{each: solver.value(variable) for each, variable in rung.pieces.items()} for rung in rungs]
    if start and _sum_penalties(problems, start) <= _sum_penalties(problems, steps):
        steps = start
    return steps, round(solver.best_objective_bound)
