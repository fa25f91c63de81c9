"""Repair: back to true after costs, stock or season have changed, by the fewest entries, then the least change to look.

Several answers are given, each touching another set of entries, so that a person can choose.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from mirvel.core.fit.fitting import Fitted, describe
from mirvel.core.fit.lines import FitProblem, get_fit_problem
from mirvel.core.fit.model import Model, NoAnswer, Solved, settle_ties
from mirvel.core.fit.penalty import get_penalty
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.house.rules import HouseRules
from mirvel.core.recipe.entry import MAX_PIECES
from mirvel.core.recipe.fit_wishes import Aim
from mirvel.core.recipe.recipe import Recipe

ANSWERS = 3
_EDIT_PENALTY = 100_000  # one entry fewer to change outweighs any look


@dataclass(frozen=True)
class Edit:
    """One entry's pieces before and after."""

    entry: str
    name: str
    before: int
    after: int

    @property
    def words(self) -> str:
        return f"{self.name} {self.before} → {self.after}"


@dataclass(frozen=True)
class Repair:
    """One way back to true, the recipe so repaired and its sums."""

    fitted: Fitted
    edits: tuple[Edit, ...]

    @property
    def words(self) -> str:
        return "; ".join(edit.words for edit in self.edits) or "nothing to change"


def find_repairs(
    recipe: Recipe,
    catalogue: Catalogue,
    rules: HouseRules,
    answers: int = ANSWERS,
    without: frozenset[str] = frozenset(),
) -> tuple[Repair, ...]:
    """Up to three ways back inside the band, fewest changes first; none where no counts are. ``without`` are materials
    not to be had, out of stock or season. Raises UnknownGoods, BadInput."""
    nearest = recipe.model_copy(update={"fit": recipe.fit.model_copy(update={"aim": Aim.PARENT})})
    problem = get_fit_problem(nearest, catalogue, rules)
    problem = replace(problem, lines=tuple(replace(line, parent=line.entry.pieces) for line in problem.lines))
    problem = _leave_out(problem, without)
    found: list[Repair] = []
    touched: list[frozenset[str]] = []
    while len(found) < answers:
        try:
            solved = _solve(problem, touched)
        except NoAnswer:
            break
        fitted = describe(recipe, problem, solved, catalogue, rules)
        touched.append(frozenset(line.id for line in problem.lines if solved.counts[line.id] != line.entry.pieces))
        found.append(Repair(fitted, _get_edits(problem, solved.counts, catalogue)))
        if not touched[-1]:
            break
    return tuple(found)


def _leave_out(problem: FitProblem, without: frozenset[str]) -> FitProblem:
    """The problem with nothing of some materials; what they were, others make up for."""
    gone = {line.slot for line in problem.lines if line.entry.material in without}
    return replace(
        problem,
        lines=tuple(
            replace(line, least=0, most=0) if line.entry.material in without else line for line in problem.lines
        ),
        slots={slot: (0 if slot in gone else least, most) for slot, (least, most) in problem.slots.items()},
    )


def _solve(problem: FitProblem, touched: list[frozenset[str]]) -> Solved:
    """The best answer in the band that changes another set of entries than those before. Raises NoAnswer."""
    model = Model()
    rung = model.add(problem)
    model.model.add(rung.spent >= problem.money - problem.band)
    changed = {}
    for line in problem.lines:
        changed[line.id] = model.model.new_bool_var(f"changed {line.id}")
        off = MAX_PIECES * changed[line.id]
        model.model.add(rung.pieces[line.id] - line.entry.pieces <= off)
        model.model.add(line.entry.pieces - rung.pieces[line.id] <= off)
        model.model.add(rung.pieces[line.id] != line.entry.pieces).only_enforce_if(changed[line.id])
    for before in touched:
        same = [changed[each] if each in before else 1 - changed[each] for each in changed]
        model.model.add(sum(same) <= len(same) - 1)
    rung.penalty = rung.penalty + _EDIT_PENALTY * sum(changed.values())
    solver, optimal = model.solve(rung.penalty)
    best, bound = round(solver.objective_value), round(solver.best_objective_bound)
    counts: Mapping[str, int] = {each: solver.value(variable) for each, variable in rung.pieces.items()}
    if optimal:
        counts = settle_ties(model, [rung], best, [counts])[0]
    edits = _EDIT_PENALTY * sum(counts[line.id] != line.entry.pieces for line in problem.lines)
    return Solved(counts, get_penalty(problem, counts).total, max(0, bound - edits), optimal)


def _get_edits(problem: FitProblem, counts: Mapping[str, int], catalogue: Catalogue) -> tuple[Edit, ...]:
    edits = []
    for line in problem.lines:
        if counts[line.id] != line.entry.pieces:
            name = f"{catalogue.get_name(line.entry.material)}, {line.entry.colour}"
            edits.append(Edit(line.id, name, line.entry.pieces, counts[line.id]))
    return tuple(edits)
