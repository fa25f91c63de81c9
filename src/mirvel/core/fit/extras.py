"""What still fits: pieces, pairs of pieces and exchanges that the room left pays, best first by what the design lacks.

Pieces of stems already bought cost nothing and come first. All amounts are reckoned as tables at once, since a whole
catalogue has tens of thousands of pairs.
"""

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from mirvel.core.fit.lines import TEN_THOUSAND, FitProblem, Line, get_fit_problem
from mirvel.core.fit.penalty import get_spent
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.colours import get_lab
from mirvel.core.goods.facts import PieceSize, Role
from mirvel.core.goods.material import StemKind
from mirvel.core.house.rules import HouseRules
from mirvel.core.recipe.entry import Entry
from mirvel.core.recipe.recipe import Recipe

Numbers = NDArray[np.float64]
MOST_SHOWN = 12
_GIVES_WAY = frozenset({Role.FILLER, Role.GREENERY, Role.TEXTURE, Role.MASS})
_ANYWHERE = frozenset({StemKind.FLOWER, StemKind.FOLIAGE})
_ODD_BONUS = 0.3  # for a piece that makes an even number of focals odd
_UNWORTHY = 0.02  # an exchange has to gain as much


@dataclass(frozen=True)
class PieceChange:
    """So many pieces more (or fewer) of a material; ``entry`` is "" where the recipe has none of it yet."""

    entry: str
    material: str
    name: str
    colour: str
    role: Role
    by: int


@dataclass(frozen=True)
class Extra:
    """One thing that still fits: what changes, what it costs and leaves, and what it does for the design."""

    changes: tuple[PieceChange, ...]
    cost: Decimal
    left: Decimal
    why: str

    @property
    def is_spare(self) -> bool:
        return self.cost <= 0 and all(change.by > 0 for change in self.changes)


def find_extras(
    recipe: Recipe, catalogue: Catalogue, rules: HouseRules, *, whole_catalogue: bool = False
) -> tuple[Extra, ...]:
    """What the room left still pays. Raises UnknownGoods, BadInput."""
    wider = _widen(recipe, catalogue, rules) if whole_catalogue else recipe
    problem = get_fit_problem(wider, catalogue, rules)
    counts = {line.id: line.entry.pieces for line in problem.lines}
    lines = [line for line in problem.lines if line.entry.pieces == 0 or not line.entry.locked]
    tables = _Tables(problem, lines, counts)
    if not tables.lines:
        return ()
    names = {line.id: catalogue.get_name(line.entry.material) for line in problem.lines}
    known = {entry.id for entry in recipe.entries}
    found = sorted([*tables.find_additions(), *tables.find_exchanges()], key=lambda each: each.rank)
    return tuple(_describe(each, tables, names, known) for each in found[:MOST_SHOWN])


@dataclass(frozen=True)
class _Found:
    """Lines gained, a line that gives way and how many of it, the cost, and its rank (lower is better)."""

    gained: tuple[Line, ...]
    given: Line | None
    by: int
    cost: int
    rank: tuple[float, ...]


class _Tables:
    """Costs and merits of one piece more of every line, and what comes back for one or two pieces fewer."""

    def __init__(self, problem: FitProblem, lines: list[Line], counts: Mapping[str, int]) -> None:
        self.problem, self.counts = problem, counts
        self.room = problem.money - get_spent(problem, counts)
        self.units, self.own = [0] * len(problem.pools), [0] * len(problem.pools)
        self.masses: dict[Role, int] = {}
        self.held = dict.fromkeys(problem.slots, 0)  # pieces of each slot
        for line in problem.lines:
            self.held[line.slot] += counts[line.id]
            self.masses[line.role] = self.masses.get(line.role, 0) + line.mass * counts[line.id]
            for need in line.needs:
                self.units[need.pool] += need.units * counts[line.id]
                self.own[need.pool] += need.own_stems * counts[line.id]
        self.bare = max(0, problem.most_cover - sum(line.footprint * counts[line.id] for line in problem.lines))
        self.mouth = problem.most_section - sum(line.section * counts[line.id] for line in problem.lines)
        self.water = problem.most_uptake - sum(line.uptake * counts[line.id] for line in problem.lines)
        self.focal = sum(counts[line.id] for line in problem.lines if line.role is Role.FOCAL)
        self.lines = [
            line
            for line in lines
            if line.section <= self.mouth and line.uptake <= self.water and self._get_slack(line) >= 1
        ]
        self.costs = np.array([self._get_cost((line, 1)) for line in self.lines])
        self.merits = np.array([self._get_merit(line) for line in self.lines])

    def _get_cost(self, *changes: tuple[Line, int]) -> int:
        """What pieces more (or fewer) of some lines add together, the stems already open used first."""
        cost = sum(by * line.direct for line, by in changes)
        added: dict[int, tuple[int, int]] = {}
        for line, by in changes:
            for need in line.needs:
                units, own = added.get(need.pool, (0, 0))
                added[need.pool] = (units + by * need.units, own + by * need.own_stems)
        for number, (units, own) in added.items():
            pool = self.problem.pools[number]
            if not self.problem.whole_stems:
                cost += pool.unit_cost * units
                continue
            before = max(-(-self.units[number] // pool.per_stem), self.own[number])
            after = max(-(-(self.units[number] + units) // pool.per_stem), self.own[number] + own)
            cost += pool.stem_cost * (after - before)
        return cost

    def _takes(self, pair: Sequence[Line]) -> bool:
        """Whether the mouth passes and the water suffices for one more of several lines."""
        within = sum(line.section for line in pair) <= self.mouth
        return within and sum(line.uptake for line in pair) <= self.water

    def _get_merit(self, line: Line) -> float:
        """How much one piece does for what the design lacks: bare surface, roles short of their share, odd focals."""
        problem = self.problem
        has = 1000 * self.masses[line.role] / max(1, sum(self.masses.values()))
        short = max(-0.5, (problem.shares.get(line.role, 0) - has) / 1000)
        looks = line.footprint / TEN_THOUSAND * (0.5 + self.bare / TEN_THOUSAND) + 20 * short * line.mass / TEN_THOUSAND
        return looks + self._get_odd_bonus(line)

    def _get_odd_bonus(self, line: Line) -> float:
        return _ODD_BONUS if line.role is Role.FOCAL and self.focal % 2 == 0 and self.problem.odd_focal else 0.0

    def find_additions(self) -> Iterator[_Found]:
        """Singles and pairs that the room pays."""
        affordable = np.flatnonzero(self.costs <= self.room)
        for at in affordable.tolist():
            yield self._make((self.lines[at],), None, 0, int(self.costs[at]), float(self.merits[at]))
        lines = [self.lines[at] for at in affordable.tolist()]
        costs = self.costs[affordable][:, None] + self.costs[affordable][None, :]
        np.fill_diagonal(costs, [self._get_cost((line, 2)) for line in lines])
        merits = self.merits[affordable][:, None] + self.merits[affordable][None, :]
        odd = np.array([self._get_odd_bonus(line) for line in lines])
        merits -= odd[:, None] + odd[None, :] - np.abs(odd[:, None] - odd[None, :])  # two more leave them even
        pays = np.triu(costs <= self.room)
        rows, columns = np.nonzero(pays)
        best = np.argsort(-merits[rows, columns], kind="stable")[: 4 * MOST_SHOWN]
        for row, column in zip(rows[best].tolist(), columns[best].tolist(), strict=True):
            pair = (lines[row], lines[column])
            cost = self._get_cost(*((line, 1) for line in pair))  # two from one stem are not the sum of their costs
            fits = pair[0].slot != pair[1].slot or self._get_slack(pair[0]) >= 2
            if fits and cost <= self.room and self._takes(pair):
                yield self._make(pair, None, 0, cost, float(merits[row, column]))

    def _get_slack(self, line: Line) -> int:
        """Pieces more that the limits of a line and of its slot allow."""
        return min(line.most - self.counts[line.id], self.problem.slots[line.slot][1] - self.held[line.slot])

    def find_exchanges(self) -> Iterator[_Found]:
        """One piece that the room alone does not pay, for one or two that give way."""
        dear = [at for at in range(len(self.lines)) if self.costs[at] > self.room]
        for line in self.problem.lines:
            least = max(line.least, self.problem.slots[line.slot][0])
            for by in (1, 2):
                if line.role not in _GIVES_WAY or line.entry.locked or self.counts[line.id] - by < least:
                    continue
                back = self._get_cost((line, -by))
                lost = by * self._get_merit(line)
                for at in dear:
                    cost, merit = int(self.costs[at]) + back, float(self.merits[at]) - lost
                    if self.lines[at].slot != line.slot and cost <= self.room and merit > _UNWORTHY:
                        yield self._make((self.lines[at],), line, by, cost, merit)

    def _make(self, gained: tuple[Line, ...], given: Line | None, by: int, cost: int, merit: float) -> _Found:
        spare = cost <= 0 and given is None
        return _Found(gained, given, by, cost, (0.0 if spare else 1.0, -round(merit, 9), -float(cost)))


def _describe(found: _Found, tables: _Tables, names: Mapping[str, str], known: set[str]) -> Extra:
    def name(line: Line, by: int) -> PieceChange:
        entry = line.entry
        own = entry.id if entry.id in known else ""
        return PieceChange(own, entry.material, names[line.id], entry.colour, entry.role, by)

    ids = [line.id for line in found.gained]
    changes = [name(line, ids.count(line.id)) for line in {line.id: line for line in found.gained}.values()]
    if found.given:
        changes.append(name(found.given, -found.by))
    cost = Decimal(found.cost) / TEN_THOUSAND
    reasons = [
        "from a stem already bought" if found.cost <= 0 and not found.given else "",
        "makes the focals odd" if _makes_odd(found, tables) else "",
        "closes bare surface" if any(line.footprint > 0 for line in found.gained) else "greens between",
    ]
    left = Decimal(tables.room - found.cost) / TEN_THOUSAND
    return Extra(tuple(changes), cost, left, ", ".join(reason for reason in reasons if reason))


def _makes_odd(found: _Found, tables: _Tables) -> bool:
    return tables.focal % 2 == 0 and sum(line.role is Role.FOCAL for line in found.gained) % 2 == 1


def _widen(recipe: Recipe, catalogue: Catalogue, rules: HouseRules) -> Recipe:
    """The recipe with an empty entry for every other material of its kinds and roles the brief allows, in the colour
    nearest to its own."""
    palette = tuple(
        catalogue.materials[entry.material].colours[entry.colour]
        for entry in recipe.entries
        if entry.material in catalogue.materials and entry.pieces
    )
    used = {entry.material for entry in recipe.entries}
    kinds = _ANYWHERE | {catalogue.materials[slug].kind for slug in used if slug in catalogue.materials}
    roles = {entry.role for entry in recipe.entries}
    others = [
        Entry(
            id=f"x{number}",
            material=material.slug,
            colour=_get_nearest_colour(tuple(material.colours.items()), palette),
            role=material.default_role,
            pieces=0,
            piece=PieceSize.LATERAL if material.pieces_per_stem > 1 else PieceSize.STEM,
        )
        for number, material in enumerate(catalogue.materials.values())
        if material.slug not in used
        and not material.retired
        and material.kind in kinds
        and material.default_role in roles
        and not recipe.brief.rules_out(material, rules)
    ]
    return recipe.model_copy(update={"entries": (*recipe.entries, *others)})


@lru_cache(maxsize=16_384)
def _get_nearest_colour(colours: tuple[tuple[str, str], ...], palette: tuple[str, ...]) -> str:
    """The name of the colour that is nearest to any of a palette."""
    labs = [get_lab(other) for other in palette]

    def get_distance(colour: str) -> float:
        own = get_lab(colour)
        return min((math.dist(own, lab) for lab in labs), default=0.0)

    return min(colours, key=lambda named: get_distance(named[1]))[0]
