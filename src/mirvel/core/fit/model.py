"""The exact model of a fit for the solver: the same limits and penalty as ``penalty.py``, as linear constraints.

One worker, a fixed seed and a deterministic limit: the same problem gives the same answer in every process. Where many
answers share the least penalty, a second solve picks the one with the least stable weight of line number times pieces.
Deviations are whole steps bounded below by linear constraints; the solver's own absolute values are far slower.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from mirvel.core.fit import penalty as worth
from mirvel.core.fit.lines import CENT, SHARE_DEAD, TEN_THOUSAND, FitProblem
from mirvel.core.goods.facts import Role
from mirvel.core.recipe.fit_wishes import Aim

DETERMINISTIC_LIMIT = 12.0
SEED = 20
_LARGE = 10**12


@dataclass(frozen=True)
class Solved:
    """Counts by line, the penalty they have, the least that any answer can have, and whether that is proven."""

    counts: Mapping[str, int]
    penalty: int
    bound: int
    optimal: bool


@dataclass
class Block:
    """One problem's variables in a model; ``penalty`` is its objective, ``spent`` its money."""

    problem: FitProblem
    pieces: dict[str, Any]
    penalty: Any = None
    spent: Any = None
    steps: list[Any] = field(default_factory=list)


class Model:
    """A solver's model that fits are added to."""

    def __init__(self) -> None:
        from ortools.sat.python import cp_model  # slow to load, wanted only here

        self.cp, self.model = cp_model, cp_model.CpModel()

    def add(self, problem: FitProblem) -> Block:
        """One problem's limits and penalty."""
        pieces = {
            line.id: self.model.new_int_var(line.least, max(line.least, min(line.most, problem.most_pieces)), line.id)
            for line in problem.lines
        }
        block = Block(problem, pieces)
        for slot, (least, most) in problem.slots.items():
            self.model.add_linear_constraint(
                sum(pieces[line.id] for line in problem.lines if line.slot == slot), least, max(least, most)
            )
        self.model.add(sum(pieces.values()) <= problem.most_pieces)
        self.model.add(sum(line.section * pieces[line.id] for line in problem.lines) <= problem.most_section)
        self.model.add(sum(line.uptake * pieces[line.id] for line in problem.lines) <= problem.most_uptake)
        block.spent = self._add_spent(block)
        self.model.add(block.spent <= problem.money)
        block.penalty = self._add_penalty(block)
        return block

    def _add_spent(self, block: Block) -> Any:
        """Stems of each pool, no more than its pieces need, and what is charged beside stems."""
        problem, pieces = block.problem, block.pieces
        spent: Any = sum(line.direct * pieces[line.id] for line in problem.lines)
        for number, pool in enumerate(problem.pools):
            needs = [(need, pieces[line.id]) for line in problem.lines for need in line.needs if need.pool == number]
            units = sum(need.units * count for need, count in needs)
            if not problem.whole_stems:
                spent += pool.unit_cost * units
                continue
            if pool.per_stem == 1:
                spent += pool.stem_cost * units
                continue
            stems = self.model.new_int_var(0, 10 * problem.most_pieces, f"stems {number}")
            self.model.add(pool.per_stem * stems >= units)
            self.model.add(stems >= sum(need.own_stems * count for need, count in needs))
            self._bind_to_least(stems, pool.per_stem, units, needs)
            spent += pool.stem_cost * stems
        return spent

    def _bind_to_least(self, stems: Any, per_stem: int, units: Any, needs: list[tuple[Any, Any]]) -> None:
        """No empty stems to use up money: as many as the pieces fill, or as need one for themselves."""
        own = sum(need.own_stems * count for need, count in needs)
        if all(not need.own_stems for need, _ in needs):
            self.model.add(per_stem * stems <= units + per_stem - 1)
            return
        if all(need.own_stems * per_stem == need.units for need, _ in needs):
            self.model.add(per_stem * stems == units)
            return
        by_units = self.model.new_bool_var("by units")
        self.model.add(per_stem * stems <= units + per_stem - 1).only_enforce_if(by_units)
        self.model.add(stems <= own).only_enforce_if(by_units.Not())

    def _count_steps(self, block: Block, over: list[Any], step: int, most: int = 5000) -> Any:
        """Whole steps begun by the largest of some amounts beyond nought."""
        steps = self.model.new_int_var(0, most, "steps")
        for amount in over:
            self.model.add(step * steps >= amount)
        block.steps.append(steps)
        return steps

    def _add_penalty(self, block: Block) -> Any:
        problem, pieces, lines = block.problem, block.pieces, block.problem.lines
        money, left = problem.money, problem.money - block.spent
        cover = sum(line.footprint * pieces[line.id] for line in lines)
        total: Any = worth.LEFT_PENALTY * self._count_steps(
            block, [1000 * left - worth.LEFT_STEP * money], worth.LEFT_STEP * money
        )
        total += worth.UNTRUE_PENALTY * self._count_steps(
            block, [1000 * (left - problem.band)], worth.UNTRUE_STEP * money
        )
        total += self._count_steps(block, [problem.least_cover - cover], worth.COVER_STEP)
        total += self._count_steps(block, [cover - problem.most_cover], worth.COVER_STEP)
        total += self._add_even_focal(block) + self._add_shares(block) + self._add_likeness(block)
        return total + self._add_aim(block, cover)

    def _add_even_focal(self, block: Block) -> Any:
        focal = [block.pieces[line.id] for line in block.problem.lines if line.role is Role.FOCAL]
        if not block.problem.odd_focal or not focal:
            return 0
        half = self.model.new_int_var(0, block.problem.most_pieces, "half")
        even, none = self.model.new_bool_var("even"), self.model.new_bool_var("none")
        self.model.add(sum(focal) == 2 * half + 1 - even - none)
        self.model.add(sum(focal) <= 0).only_enforce_if(none)
        return worth.EVEN_PENALTY * even

    def _add_shares(self, block: Block) -> Any:
        problem, pieces, total = block.problem, block.pieces, 0
        mass = sum(line.mass * pieces[line.id] for line in problem.lines)
        for role, share in problem.shares.items():
            off = 1000 * sum(line.mass * pieces[line.id] for line in problem.lines if line.role is role) - share * mass
            dead, step = SHARE_DEAD * TEN_THOUSAND, worth.SHARE_STEP * TEN_THOUSAND
            total += self._count_steps(block, [off - dead, -off - dead], step)
        for role, (low, high) in problem.money_shares.items():
            own = [line for line in problem.lines if line.role is role]
            cost = sum(worth.get_line_cost(problem, line) * pieces[line.id] for line in own)
            over = [1000 * cost - high * problem.money, low * problem.money - 1000 * cost]
            total += self._count_steps(block, over, worth.MONEY_SHARE_STEP * problem.money)
        return total

    def _add_likeness(self, block: Block) -> Any:
        total: Any = 0
        for line in block.problem.lines:
            pieces = block.pieces[line.id]
            off = self._count_steps(block, [pieces - line.parent, line.parent - pieces], 1)
            total += worth.get_likeness_weight(line, block.problem.aim) * off
        return total

    def _add_aim(self, block: Block, cover: Any) -> Any:
        lines, pieces = block.problem.lines, block.pieces
        if block.problem.aim is Aim.FULLEST:
            return self._count_steps(block, [TEN_THOUSAND - cover], worth.FULL_STEP)
        if block.problem.aim is Aim.FOCAL:
            focal = sum(line.mass * pieces[line.id] for line in lines if line.role is Role.FOCAL)
            return self._count_steps(block, [TEN_THOUSAND - focal], worth.FOCAL_MASS_STEP)
        if block.problem.aim is Aim.LASTING:
            longest = max((line.life_days for line in lines), default=0)
            lacking = sum(line.mass * (longest - line.life_days) * pieces[line.id] for line in lines)
            return self._count_steps(block, [lacking], worth.LIFE_STEP, most=10**6)
        if block.problem.aim is Aim.MINUTES:
            minutes = sum(line.minutes * pieces[line.id] for line in lines)
            return self._count_steps(block, [minutes], worth.MINUTES_STEP)
        return 0

    def spend_most(self, block: Block) -> bool:
        """Spend as much as can be, to the cent: nobody minds less, and proofs of less take a hundred times as long.
        Whether no more can be is proven. Raises NoAnswer."""
        cents = self.model.new_int_var(0, block.problem.money // CENT, "cents")
        self.model.add(CENT * cents <= block.spent)
        solver, is_proven = self.solve(-cents)
        self.model.add(cents >= solver.value(cents))
        return is_proven

    def hint(self, block: Block, counts: Mapping[str, int]) -> None:
        """An answer to start from."""
        for line_id, variable in block.pieces.items():
            self.model.add_hint(variable, counts[line_id])

    def solve(self, objective: Any, *, limit: float = DETERMINISTIC_LIMIT) -> tuple[Any, bool]:
        """A solver that has minimised an objective, and whether it proved it. Raises NoAnswer."""
        self.model.minimize(objective)
        solver = self.cp.CpSolver()
        solver.parameters.num_workers = 1
        solver.parameters.random_seed = SEED
        solver.parameters.linearization_level = 2  # these are linear models: proofs come three times as fast
        solver.parameters.max_deterministic_time = limit
        status = solver.solve(self.model)
        if status not in (self.cp.OPTIMAL, self.cp.FEASIBLE):
            raise NoAnswer
        return solver, status == self.cp.OPTIMAL


def load_solver() -> None:
    """Load the solver, which takes a second, ahead of its use."""
    Model()


class NoAnswer(Exception):
    """No counts keep every hard limit."""


def solve(problem: FitProblem) -> Solved:
    """The best answer to one fit. Raises NoAnswer."""
    model = Model()
    block = model.add(problem)
    most_is_proven = True
    if problem.aim is Aim.MONEY:
        most_is_proven = model.spend_most(block)
    solver, optimal = model.solve(block.penalty)
    optimal = optimal and most_is_proven
    best, bound = round(solver.objective_value), round(solver.best_objective_bound) if most_is_proven else 0
    counts = {line_id: solver.value(variable) for line_id, variable in block.pieces.items()}
    if optimal:
        counts = settle_ties(model, [block], best, [counts])[0]
    return Solved(counts, worth.get_penalty(problem, counts).total, bound, optimal)


def settle_ties(model: Model, blocks: list[Block], best: int, found: list[Mapping[str, int]]) -> list[dict[str, int]]:
    """Of all answers as good, the one with the least stable weight, so that no seed or worker decides."""
    model.model.add(sum(block.penalty for block in blocks) <= best)
    for block, counts in zip(blocks, found, strict=True):
        model.hint(block, counts)
    weight = sum(
        (number + 1) ** 2 * variable for block in blocks for number, variable in enumerate(block.pieces.values())
    )
    solver, _ = model.solve(weight)
    return [{line_id: solver.value(variable) for line_id, variable in block.pieces.items()} for block in blocks]
