"""An independent model of a fit for HiGHS, as rows of a matrix: written from the rules of the points, sharing no code
with the product's model, to hold its answers against."""

from dataclasses import dataclass, field

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp

from mirvel.core.fit.lines import FitProblem
from mirvel.core.goods.facts import Role
from mirvel.core.recipe.fit_wishes import Aim

_MANY = 1e7
Row = dict[int, float]


@dataclass
class _Rows:
    """Columns with bounds and a cost each, and rows with bounds."""

    costs: list[float] = field(default_factory=list)
    most: list[float] = field(default_factory=list)
    rows: list[tuple[Row, float, float]] = field(default_factory=list)

    def column(self, most: float, cost: float = 0.0) -> int:
        self.costs.append(cost)
        self.most.append(most)
        return len(self.costs) - 1

    def row(self, row: Row, low: float = -np.inf, high: float = np.inf) -> None:
        self.rows.append((row, low, high))

    def penalise(self, row: Row, constant: float, step: float, points: float) -> None:
        """A cost of ``points`` for each whole ``step`` begun by row + constant above nought."""
        steps = self.column(_MANY, points)
        self.row({**{at: -weight for at, weight in row.items()}, steps: step}, low=constant)


def solve_with_highs(problem: FitProblem) -> int:
    """The least points of a fit; raises ValueError where HiGHS does not prove it. Not for the money-first aim."""
    rows, lines = _Rows(), problem.lines
    pieces = {line.id: rows.column(min(line.most, problem.most_pieces)) for line in lines}
    for line in lines:
        rows.row({pieces[line.id]: 1.0}, low=line.least)
    for slot, (low, high) in problem.slots.items():
        rows.row({pieces[line.id]: 1.0 for line in lines if line.slot == slot}, low, max(low, high))
    rows.row(dict.fromkeys(pieces.values(), 1.0), high=problem.most_pieces)
    rows.row({pieces[line.id]: line.section for line in lines}, high=problem.most_section)
    rows.row({pieces[line.id]: line.uptake for line in lines}, high=problem.most_uptake)
    spent = _add_spent(rows, problem, pieces)
    money = problem.money
    rows.row(spent, high=money)
    minus = {at: -1000.0 * weight for at, weight in spent.items()}
    rows.penalise(minus, 1000 * money - 5 * money, 5 * money, 2)
    rows.penalise(minus, 1000 * (money - problem.band), 10 * money, 20)
    cover = {pieces[line.id]: float(line.footprint) for line in lines}
    rows.penalise({at: -weight for at, weight in cover.items()}, problem.least_cover, 200, 1)
    rows.penalise(cover, -problem.most_cover, 200, 1)
    _add_looks(rows, problem, pieces)
    _add_aim(rows, problem, pieces)
    matrix = np.zeros((len(rows.rows), len(rows.costs)))
    for number, (row, _, _) in enumerate(rows.rows):
        for at, weight in row.items():
            matrix[number, at] = weight
    limits = LinearConstraint(matrix, [low for _, low, _ in rows.rows], [high for _, _, high in rows.rows])
    found = milp(
        rows.costs,
        integrality=np.ones(len(rows.costs), dtype=np.int64),
        bounds=Bounds(0, rows.most),
        constraints=limits,
        options={"mip_rel_gap": 0.0},
    )
    if found.status != 0:
        raise ValueError(found.message)
    return round(found.fun)


def _add_spent(rows: _Rows, problem: FitProblem, pieces: dict[str, int]) -> Row:
    spent: Row = {pieces[line.id]: float(line.direct) for line in problem.lines}
    for number, pool in enumerate(problem.pools):
        units: Row = {}
        own: Row = {}
        for line in problem.lines:
            for need in line.needs:
                if need.pool == number:
                    units[pieces[line.id]] = units.get(pieces[line.id], 0.0) + need.units
                    own[pieces[line.id]] = own.get(pieces[line.id], 0.0) + need.own_stems
        if not problem.whole_stems:
            for at, weight in units.items():
                spent[at] += weight * pool.unit_cost
            continue
        stems, by_units = rows.column(3000), rows.column(1)
        spent[stems] = float(pool.stem_cost)
        rows.row({**{at: -weight for at, weight in units.items()}, stems: pool.per_stem}, low=0)
        rows.row({**{at: -weight for at, weight in own.items()}, stems: 1}, low=0)
        above = {**{at: -weight for at, weight in units.items()}, stems: float(pool.per_stem)}
        rows.row({**above, by_units: 1e5}, high=1e5 + pool.per_stem - 1)
        rows.row({**{at: -weight for at, weight in own.items()}, stems: 1, by_units: -1e5}, high=0)
    return spent


def _add_looks(rows: _Rows, problem: FitProblem, pieces: dict[str, int]) -> None:
    lines = problem.lines
    focal = {pieces[line.id]: 1.0 for line in lines if line.role is Role.FOCAL}
    if problem.odd_focal and focal:
        half, even, none = rows.column(400), rows.column(1, 4), rows.column(1)
        rows.row({**focal, half: -2, even: 1, none: 1}, 1, 1)
        rows.row({**focal, none: 1000}, high=1000)
    for role, share in problem.shares.items():
        off = {pieces[line.id]: line.mass * (1000.0 * (line.role is role) - share) for line in lines}
        over = rows.column(_MANY, 1)
        for sign in (1, -1):
            rows.row({**{at: -sign * weight for at, weight in off.items()}, over: 20 * 1e4}, low=-40 * 1e4)
    for line in lines:
        weight = (2 if line.role in {Role.FOCAL, Role.LINE, Role.TOKEN} else 1) * (
            3 if problem.aim is Aim.PARENT else 1
        )
        off_by = rows.column(1000, weight)
        rows.row({pieces[line.id]: -1, off_by: 1}, low=-line.parent)
        rows.row({pieces[line.id]: 1, off_by: 1}, low=line.parent)
    for role, (low, high) in problem.money_shares.items():
        cost: Row = {
            pieces[line.id]: line.direct + sum(need.units * problem.pools[need.pool].unit_cost for need in line.needs)
            for line in lines
            if line.role is role
        }
        over = rows.column(_MANY, 1)
        step = 20.0 * problem.money
        rows.row({**{at: -1000 * weight for at, weight in cost.items()}, over: step}, low=-high * problem.money)
        rows.row({**{at: 1000 * weight for at, weight in cost.items()}, over: step}, low=low * problem.money)


def _add_aim(rows: _Rows, problem: FitProblem, pieces: dict[str, int]) -> None:
    lines = problem.lines
    if problem.aim is Aim.FULLEST:
        rows.penalise({pieces[line.id]: -float(line.footprint) for line in lines}, 10_000, 200, 1)
    if problem.aim is Aim.FOCAL:
        focal = {pieces[line.id]: -float(line.mass) for line in lines if line.role is Role.FOCAL}
        rows.penalise(focal, 10_000, 200, 1)
    if problem.aim is Aim.LASTING:
        longest = max(line.life_days for line in lines)
        lacking = {pieces[line.id]: float(line.mass * (longest - line.life_days)) for line in lines}
        rows.penalise(lacking, 0, 300, 1)
    if problem.aim is Aim.MINUTES:
        rows.penalise({pieces[line.id]: float(line.minutes) for line in lines}, 0, 10, 1)
