"""A file from outside read in a process of its own, with limits of time and memory, so that no file, however it was
made, can stop or fill the app. What the process finds comes back as JSON: cells and notes, or what is wrong.
"""

import json
import resource
import subprocess
import sys
from decimal import Decimal
from pathlib import Path
from threading import BoundedSemaphore
from typing import Any

from mirvel.core.buying.price_list import Cell, Table
from mirvel.core.values.problems import BadInput, Problem

SECONDS, BYTES, AT_ONCE = 15, 1_500_000_000, 2
SOURCES = Path(__file__).resolve().parents[2]
_TURNS = BoundedSemaphore(AT_ONCE)  # so many files are read at a time; others wait their turn
_TOO_MUCH = Problem(
    "the file",
    f"takes more than {SECONDS} seconds or too much memory to read.",
    "Open it, keep only the sheet with the prices, and save that as .csv.",
)


def read_apart(content: bytes, file_name: str) -> Table:
    """The cells of a CSV or XLSX file, as ``tables.read_table`` reads them. Raises BadInput."""
    command = [sys.executable, "-m", "mirvel.exchange.apart", file_name.replace("\0", "")]
    environment = {"PYTHONPATH": str(SOURCES), "PYTHONDONTWRITEBYTECODE": "1"}
    try:
        with _TURNS:
            done = subprocess.run(
                command, input=content, capture_output=True, timeout=SECONDS + 5, check=False, env=environment
            )
        found = json.loads(done.stdout)
    except (subprocess.TimeoutExpired, json.JSONDecodeError):
        raise BadInput(_TOO_MUCH) from None
    if "problems" in found:
        raise BadInput(*(Problem(*problem) for problem in found["problems"]))
    return Table(tuple(tuple(map(_read_cell, row)) for row in found["rows"]), tuple(found["notes"]))


def _write_cell(cell: Cell) -> str | list[str]:
    return [str(cell)] if isinstance(cell, Decimal) else cell


def _read_cell(cell: str | list[str]) -> Cell:
    return Decimal(cell[0]) if isinstance(cell, list) else cell


def _answer(content: bytes, file_name: str) -> dict[str, Any]:
    from mirvel.exchange.tables import read_table  # wanted only in the process that reads

    try:
        table = read_table(content, file_name)
    except BadInput as error:
        return {"problems": [[problem.field, problem.message, problem.mend] for problem in error.problems]}
    return {"rows": [[*map(_write_cell, row)] for row in table.rows], "notes": table.notes}


def main() -> None:
    """Read standard input as the file named, and write what is in it."""
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))
    resource.setrlimit(resource.RLIMIT_AS, (BYTES, BYTES))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    try:
        answer = _answer(sys.stdin.buffer.read(), sys.argv[1])
    except (MemoryError, RecursionError):
        answer = {"problems": [[_TOO_MUCH.field, _TOO_MUCH.message, _TOO_MUCH.mend]]}
    json.dump(answer, sys.stdout)


if __name__ == "__main__":
    main()
