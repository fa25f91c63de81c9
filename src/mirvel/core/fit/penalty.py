"""What an answer to a fit is worth: the penalty against it in points, 0 the best there could be.

Points are coarse, with dead zones, so that a penny or a petal never outweighs the look of a piece; the weights are
assumptions of ours. The solver minimises the same sum as a model; this is its plain arithmetic, and has the last word.
"""

from collections.abc import Mapping
from dataclasses import dataclass

from mirvel.core.fit.lines import SHARE_DEAD, TEN_THOUSAND, FitProblem, Line
from mirvel.core.goods.facts import Role
from mirvel.core.recipe.fit_wishes import Aim

LEFT_STEP, LEFT_PENALTY = 5, 2  # thousandths of the money left unspent: each such step beyond the first, points
UNTRUE_STEP, UNTRUE_PENALTY = 10, 20  # the same where the rung is no longer true
EVEN_PENALTY = 4
SHARE_STEP = 20  # thousandths of visual mass beyond the dead zone about a role's share, a point a step
MONEY_SHARE_STEP = 20  # thousandths of the money a role's pieces are off their share, a point a step
COVER_STEP = 200  # ten-thousandths outside the limits of cover, a point a step
FULL_STEP, FOCAL_MASS_STEP, LIFE_STEP, MINUTES_STEP = 200, 200, 300, 10
_CLOSE_ROLES = frozenset({Role.FOCAL, Role.LINE, Role.TOKEN})  # the eye counts these
PARENT_TIMES = 3  # likeness weighs so much more where it is the aim
Counts = Mapping[str, int]


@dataclass(frozen=True)
class Penalty:
    """The penalty on an answer in points, by what it is for, and the money it spends in ten-thousandths."""

    parts: Mapping[str, int]
    spent: int

    @property
    def total(self) -> int:
        return sum(self.parts.values())


def get_likeness_weight(line: Line, aim: Aim) -> int:
    """Points for each piece more or fewer than the recipe's own proportions give."""
    return (2 if line.role in _CLOSE_ROLES else 1) * (PARENT_TIMES if aim is Aim.PARENT else 1)


def get_line_cost(problem: FitProblem, line: Line) -> int:
    """What one piece of a line costs where its stems are used to the last piece."""
    return line.direct + sum(need.units * problem.pools[need.pool].unit_cost for need in line.needs)


def get_spent(problem: FitProblem, counts: Counts) -> int:
    """Money an answer spends: stems pooled over all its lines, and what is charged beside stems."""
    spent, units, own = 0, [0] * len(problem.pools), [0] * len(problem.pools)
    for line in problem.lines:
        count = counts[line.id]
        spent += line.direct * count
        for need in line.needs:
            units[need.pool] += need.units * count
            own[need.pool] += need.own_stems * count
    for pool, used, alone in zip(problem.pools, units, own, strict=True):
        stems = max(-(-used // pool.per_stem), alone)
        spent += pool.stem_cost * stems if problem.whole_stems else pool.unit_cost * used
    return spent


def is_allowed(problem: FitProblem, counts: Counts) -> bool:
    """Whether an answer keeps every hard limit: money, least and most, the mouth, the water, the number of pieces."""
    for slot, (least, most) in problem.slots.items():
        if not least <= sum(counts[line.id] for line in problem.lines if line.slot == slot) <= most:
            return False
    return (
        all(line.least <= counts[line.id] <= line.most for line in problem.lines)
        and sum(counts[line.id] for line in problem.lines) <= problem.most_pieces
        and sum(line.section * counts[line.id] for line in problem.lines) <= problem.most_section
        and sum(line.uptake * counts[line.id] for line in problem.lines) <= problem.most_uptake
        and get_spent(problem, counts) <= problem.money
    )


def get_penalty(problem: FitProblem, counts: Counts) -> Penalty:
    """The penalty on an answer."""
    spent = get_spent(problem, counts)
    left, lines = problem.money - spent, problem.lines
    cover = sum(line.footprint * counts[line.id] for line in lines)
    focal = sum(counts[line.id] for line in lines if line.role is Role.FOCAL)
    parts = {
        "money left": LEFT_PENALTY * _steps(1000 * left - LEFT_STEP * problem.money, LEFT_STEP * problem.money),
        "not true": UNTRUE_PENALTY * _steps(1000 * (left - problem.band), UNTRUE_STEP * problem.money),
        "even focal": EVEN_PENALTY if problem.odd_focal and focal and focal % 2 == 0 else 0,
        "shares": sum(_steps(abs(off) - dead, step) for off, dead, step in _get_share_offs(problem, counts)),
        "cover": _steps(problem.least_cover - cover, COVER_STEP) + _steps(cover - problem.most_cover, COVER_STEP),
        "likeness": sum(get_likeness_weight(line, problem.aim) * abs(counts[line.id] - line.parent) for line in lines),
        "aim": _get_aim_penalty(problem, counts, cover),
    }
    return Penalty(parts, spent)


def _steps(over: int, step: int) -> int:
    """Steps begun beyond a dead zone."""
    return max(0, -(-over // step))


def _get_share_offs(problem: FitProblem, counts: Counts) -> list[tuple[int, int, int]]:
    """(how far off, dead zone, step) of every role's share of mass, and of those that have a share of the money."""
    total = sum(line.mass * counts[line.id] for line in problem.lines)
    found = []
    for role, share in problem.shares.items():
        mass = sum(line.mass * counts[line.id] for line in problem.lines if line.role is role)
        found.append((1000 * mass - share * total, SHARE_DEAD * TEN_THOUSAND, SHARE_STEP * TEN_THOUSAND))
    for role, (low, high) in problem.money_shares.items():
        cost = sum(get_line_cost(problem, line) * counts[line.id] for line in problem.lines if line.role is role)
        off = max(1000 * cost - high * problem.money, low * problem.money - 1000 * cost, 0)
        found.append((off, 0, MONEY_SHARE_STEP * problem.money))
    return found


def _get_aim_penalty(problem: FitProblem, counts: Counts, cover: int) -> int:
    lines = problem.lines
    if problem.aim is Aim.FULLEST:
        return _steps(TEN_THOUSAND - cover, FULL_STEP)
    if problem.aim is Aim.FOCAL:
        focal = sum(line.mass * counts[line.id] for line in lines if line.role is Role.FOCAL)
        return _steps(TEN_THOUSAND - focal, FOCAL_MASS_STEP)
    if problem.aim is Aim.LASTING:
        longest = max((line.life_days for line in lines), default=0)
        return _steps(sum(line.mass * (longest - line.life_days) * counts[line.id] for line in lines), LIFE_STEP)
    if problem.aim is Aim.MINUTES:
        return _steps(sum(line.minutes * counts[line.id] for line in lines), MINUTES_STEP)
    return 0
