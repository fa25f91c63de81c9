"""``./run mutants ROOM …``: do the tests notice when a rule is wrong?

Plausible mistakes are put one at a time into the modules of a room of the core (a sign turned, a limit one off, a
number halved, a condition dropped), and the tests that belong to the room are run on each. What is printed as survived
is a mistake nobody would have been told of. Places and variants come from cosmic-ray, a mutation-testing package, and
are sampled by a seed, so that a second run tries the same ones.
"""

import argparse
import os
import random
import sys
import time
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from importlib import import_module
from importlib.abc import MetaPathFinder
from importlib.machinery import ModuleSpec, SourceFileLoader
from importlib.util import spec_from_file_location
from multiprocessing import get_context
from multiprocessing.connection import wait as wait_for
from multiprocessing.context import ForkProcess
from pathlib import Path
from types import CodeType

import pytest
from cosmic_ray.ast import ast_nodes, get_ast
from cosmic_ray.mutating import mutate_code
from cosmic_ray.operators.operator import Operator
from cosmic_ray.plugins import get_operator
from parso.tree import NodeOrLeaf

from tests.mutations import ScaleNumber, SwapName

ROOT = Path(__file__).resolve().parents[1]
CORE = ROOT / "src" / "mirvel" / "core"
# The tests that belong to each room, the quickest first: most mistakes are noticed before the last is begun.
_BUILT = ("test_cuts", "test_standing", "test_sights", "test_forms", "test_frames", "test_moving")
_MEANT = ("test_meant_sets", "test_meant_runs", "test_parts")
ROOMS = {
    "pricing": ("test_money", "test_costs", "test_goods", "test_standing"),
    "buying": ("test_costs", "test_receiving", "test_price_list", "test_money"),
    "making": (
        *("test_size", "test_making", "test_shades", "test_glass", "test_goods", "test_pressing"),
        *_BUILT,
        "test_closing",
    ),
    "vessels": ("test_tips", "test_glass", "test_places", "test_meant", *_BUILT),
    "placing": (
        *("test_measures", "test_size", "test_boards", "test_tips", "test_places", *_MEANT, "test_kept", "test_meant"),
        *_BUILT,
    ),
    "fit": ("test_penalty", "test_substitutes", "test_extras", "test_sets", "test_fit"),
    "judging": (
        "test_judgement",
        "test_standing",
        "test_goods",
        "test_sights",
        "test_frames",
        "test_meant",
        "test_composition",
        "test_mending",
    ),
}
_BINARY = (("Add", "Sub"), ("Sub", "Add"), ("Mul", "Div"), ("Div", "Mul"), ("FloorDiv", "Div"), ("Pow", "Mul"))
_COMPARED = (
    *(("Lt", "LtE"), ("LtE", "Lt"), ("Gt", "GtE"), ("GtE", "Gt"), ("Lt", "Gt"), ("Gt", "Lt"), ("LtE", "GtE")),
    *(("GtE", "LtE"), ("Eq", "NotEq"), ("NotEq", "Eq"), ("Is", "IsNot"), ("IsNot", "Is")),
)
_OTHERS = (
    *("AddNot", "ReplaceUnaryOperator_Delete_Not", "ReplaceUnaryOperator_Delete_USub"),
    *("ReplaceTrueWithFalse", "ReplaceFalseWithTrue", "ReplaceAndWithOr", "ReplaceOrWithAnd"),
    *("ReplaceBreakWithContinue", "ReplaceContinueWithBreak", "ZeroIterationForLoop"),
)
# Loaded before the tests are, and so only once for all mutants.
_LOADED_AHEAD = (
    *("fastapi", "hypothesis", "httpx", "numpy", "openpyxl", "ortools.sat.python.cp_model", "pydantic", "sqlalchemy"),
    *("scipy.optimize", "scipy.spatial", "shapely", "structlog", "weasyprint", "xlsxwriter", "rapidfuzz", "coloraide"),
)
_NOTICED, _UNNOTICED = 1, 0  # what pytest says when a test fails, and when none does


@dataclass(frozen=True)
class Mutant:
    """A module with one mistake in it."""

    module: str
    file: Path
    line: int
    source: str

    def __str__(self) -> str:
        old, new = (text.splitlines()[self.line - 1].strip() for text in (self.file.read_text(), self.source))
        return f"{self.file.relative_to(CORE)}:{self.line}\n      {old}\n    → {new}"


def main() -> int:
    """Put mistakes into the rooms asked for, and say which were noticed; 1 where one of the tests fails without any."""
    parser = argparse.ArgumentParser(prog="./run mutants", description=(__doc__ or "").split("\n")[0])
    parser.add_argument("rooms", nargs="*", default=list(ROOMS), help=f"some of {', '.join(ROOMS)}; all without")
    parser.add_argument("--sample", type=int, default=60, help="how many mistakes a room (60)")
    parser.add_argument("--seed", type=int, default=1, help="which ones (1)")
    asked = parser.parse_args()
    for name in _LOADED_AHEAD:
        import_module(name)
    rows = []
    for room in asked.rooms:
        if room not in ROOMS:
            parser.error(f"there is no room “{room}”; choose from {', '.join(ROOMS)}")
        row = _try_room(room, asked.sample, asked.seed)
        if row is None:
            return 1
        rows.append(row)
    print("\n| room | places | tried | noticed | unnoticed | noticed of those tried |\n|---|---|---|---|---|---|")
    print("\n".join(rows))
    return 0


def _try_room(room: str, sample: int, seed: int) -> str | None:
    """A line of the table for a room; None where its tests fail as they are."""
    tests = [f"tests/core/{name}.py" for name in ROOMS[room]]
    begun = time.monotonic()
    plain = _Run(None, tests)
    plain.process.join()
    plain.end()
    if plain.process.exitcode != _UNNOTICED:
        print(f"{room}: its tests fail with no mistake in it:\n{plain.said}", file=sys.stderr)
        return None
    alone_s = time.monotonic() - begun
    places = _find_places(CORE / room)
    random.Random(seed).shuffle(places)
    print(f"== {room}: {len(places)} places; its tests take {alone_s:.0f} s", flush=True)
    found: Counter[str] = Counter()
    for mutant, noticed in _try_all(_make(places, seed), tests, sample, 3 * alone_s + 20):
        found["noticed" if noticed else "unnoticed"] += 1
        if not noticed:
            print(f"  {found.total()}, not noticed: {mutant}", flush=True)
    tried = found.total()
    print(f"  {found['noticed']} of {tried} noticed, {time.monotonic() - begun:.0f} s", flush=True)
    share = found["noticed"] / max(1, tried)
    return f"| {room} | {len(places)} | {tried} | {found['noticed']} | {found['unnoticed']} | {share:.0%} |"


@dataclass(frozen=True)
class _Place:
    """Where mistakes can be made, and which: operators, each with its count in the module."""

    file: Path
    line: int
    ways: tuple[tuple[Operator, int], ...]


def _get_operators() -> list[Operator]:
    names = [
        *(f"ReplaceBinaryOperator_{old}_{new}" for old, new in _BINARY),
        *(f"ReplaceComparisonOperator_{old}_{new}" for old, new in _COMPARED),
        *_OTHERS,
    ]
    return [*(get_operator(f"core/{name}")() for name in names), ScaleNumber(), SwapName()]


def _find_places(room: Path) -> list[_Place]:
    """Every place of a room's modules where a mistake can be made."""
    places = []
    for file in sorted(room.rglob("*.py")):
        ways: dict[tuple[int, int], list[tuple[Operator, int]]] = {}
        tree = get_ast(file.read_text())
        for operator in _get_operators():
            nodes = (node for node in ast_nodes(tree) for _ in operator.mutation_positions(node))
            for count, node in enumerate(nodes):
                if not _is_no_rule(node):
                    ways.setdefault(node.start_pos, []).append((operator, count))
        places += [_Place(file, start[0], tuple(each)) for start, each in sorted(ways.items())]
    return places


def _is_no_rule(node: NodeOrLeaf) -> bool:
    """Whether it is no rule of the job: told to Python, words of an error, how long a text may be, or that two lists
    have to be as long as one another."""
    if node.type == "operator" and node.parent.type in {"parameters", "param"}:
        return True
    while node.parent:
        if node.type in {"decorator", "raise_stmt"} or (node.type == "argument" and _is_told(node)):
            return True
        node = node.parent
    return False


def _is_told(argument: NodeOrLeaf) -> bool:
    return any(argument.get_code().strip().startswith(f"{name}=") for name in ("max_length", "strict"))


def _make(places: Sequence[_Place], seed: int) -> Iterator[Mutant]:
    """A mutant of each place, one of those it can have."""
    chance = random.Random(seed)
    for place in places:
        operator, count = chance.choice(place.ways)
        mistaken = mutate_code(place.file.read_text(), operator, count)
        module = ".".join(place.file.relative_to(CORE.parents[1]).with_suffix("").parts)
        if mistaken:
            yield Mutant(module.removesuffix(".__init__"), place.file, place.line, mistaken)


def _try_all(
    mutants: Iterator[Mutant], tests: list[str], sample: int, patience_s: float
) -> Iterator[tuple[Mutant, bool]]:
    """So many mutants, one a core at a time, each with whether its tests noticed. One that cannot even be loaded is
    passed over: nobody could work on with it."""
    running: list[tuple[Mutant, _Run]] = []
    told = 0
    while told < sample:
        while len(running) < (os.cpu_count() or 1) and (mutant := next(mutants, None)):
            running.append((mutant, _Run(mutant, tests)))
        if not running:
            return
        wait_for([run.process.sentinel for _, run in running], timeout=1.0)
        for mutant, run in [each for each in running if each[1].is_over(patience_s)]:
            running.remove((mutant, run))
            run.end()
            if told < sample and (run.late or run.process.exitcode in {_NOTICED, _UNNOTICED}):
                told += 1
                yield mutant, run.late or run.process.exitcode == _NOTICED
    for _, run in running:
        run.end()


class _Run:
    """Tests run in a process forked from this one, which has loaded nothing of Mirvel, with a mistake or none."""

    def __init__(self, mutant: Mutant | None, tests: list[str]) -> None:
        self._log = ROOT / ".data" / "tests" / f"mutant-{os.getpid()}-{id(self)}.log"
        self._log.parent.mkdir(parents=True, exist_ok=True)
        self.late, self.said = False, ""
        self._begun = time.monotonic()
        self.process: ForkProcess = get_context("fork").Process(target=_run_tests, args=(mutant, tests, self._log))
        self.process.start()

    def is_over(self, patience_s: float) -> bool:
        """Whether it has ended, or has had its time: then it hangs, which is noticed too."""
        self.late = self.process.is_alive() and time.monotonic() > self._begun + patience_s
        return self.late or not self.process.is_alive()

    def end(self) -> None:
        """End it, whatever it is at."""
        self.process.kill()
        self.process.join()
        self.said = self._log.read_text() if self._log.exists() else ""
        self._log.unlink(missing_ok=True)


def _run_tests(mutant: Mutant | None, tests: list[str], log: Path) -> None:
    with log.open("w") as file:
        os.dup2(file.fileno(), 1)
        os.dup2(file.fileno(), 2)
    sys.stdout = sys.stderr = open(1, "w", closefd=False)  # noqa: SIM115
    if mutant:
        sys.meta_path.insert(0, _Finder(mutant))
    # What was loaded ahead cannot have its asserts rewritten, and need not.
    words = ["-x", "-q", "-p", "no:xdist", "-W", "ignore::pytest.PytestAssertRewriteWarning"]
    status = pytest.main([*words, *tests])
    sys.stdout.flush()
    os._exit(int(status))


class _Finder(MetaPathFinder):
    """Loads one module with its mistake instead of what is on the disk."""

    def __init__(self, mutant: Mutant) -> None:
        self._mutant = mutant

    def find_spec(self, fullname: str, path: object, target: object = None) -> ModuleSpec | None:
        if fullname != self._mutant.module:
            return None
        file = str(self._mutant.file)
        return spec_from_file_location(fullname, file, loader=_Loader(fullname, file, self._mutant.source))


class _Loader(SourceFileLoader):
    def __init__(self, name: str, file: str, source: str) -> None:
        super().__init__(name, file)
        self._source = source

    def get_code(self, fullname: str) -> CodeType:
        return compile(self._source, self.path, "exec", dont_inherit=True)


if __name__ == "__main__":
    sys.exit(main())
