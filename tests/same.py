"""``./run same COMMIT``: does this tree say and draw the same of every demo recipe as another commit did?

Each tree works out the same recipe files with its own command line, in a process of its own; money, cuts, checks, fits
and drawings are then compared byte for byte. For a change of the structure that should change nothing anybody sees.
"""

import argparse
import contextlib
import difflib
import io
import os
import subprocess
import sys
import tempfile
from datetime import date
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
ASKED = (
    *(("price", "--json"), ("price",), ("cuts", "--json"), ("checks", "--json"), ("fit", "--json")),
    *(("draw", "--view", view, "--hour", hour) for view in ("front", "section") for hour in ("6", "12", "3")),
    ("draw", "--view", "plan"),
)


def main() -> int:
    """Compare, and say what differs; 0 where nothing does."""
    parser = argparse.ArgumentParser(prog="./run same", description=(__doc__ or "").split("\n")[0])
    parser.add_argument("commit", help="what to compare this tree with, such as HEAD~1")
    commit = parser.parse_args().commit
    with tempfile.TemporaryDirectory() as folder:
        files, before, now = (Path(folder) / name for name in ("files", "before", "now"))
        old = Path(folder) / "tree"
        subprocess.run(["git", "-C", ROOT, "worktree", "add", "--detach", old, commit], check=True, capture_output=True)
        try:
            _run_in(old, "write", files).wait()
            asked = _run_in(old, "answer", files, before), _run_in(ROOT, "answer", files, now)
            statuses = [each.wait() for each in asked]
            if any(statuses):
                print("One of the two could not be asked.")
                return 2
        finally:
            subprocess.run(["git", "-C", ROOT, "worktree", "remove", "--force", old], check=True, capture_output=True)
        return _compare(before, now)


def _run_in(tree: Path, *words: str | Path) -> subprocess.Popen[bytes]:
    """This file run again with a tree's own package."""
    environment = {**os.environ, "PYTHONPATH": str(tree / "src")}
    return subprocess.Popen([sys.executable, __file__, *map(str, words)], env=environment, cwd=tree)


def _compare(before: Path, now: Path) -> int:
    names = sorted({file.name for folder in (before, now) for file in folder.iterdir()})
    texts = [{name: _read(folder / name) for name in names} for folder in (before, now)]
    differing = [name for name in names if texts[0][name] != texts[1][name]]
    for name in differing:
        print(f"{name} differs")
        before_lines, now_lines = (text[name].splitlines() for text in texts)
        for line in list(difflib.unified_diff(before_lines, now_lines, "before", "now", lineterm="", n=1))[:12]:
            print(f"    {line[:160]}")
    size = sum(len(text.encode()) for text in texts[0].values())
    print(f"{len(names) - len(differing)} of {len(names)} answers are the same, byte for byte ({size:,} bytes).")
    return 1 if differing else 0


def _read(file: Path) -> str:
    return file.read_text("utf-8") if file.exists() else ""


def _write_files(folder: Path) -> None:
    from mirvel.demo import RULES, get_catalogue, get_recipes
    from mirvel.exchange.recipe_file import write_recipe_file

    folder.mkdir()
    for number, recipe in enumerate(get_recipes()):
        text = write_recipe_file(recipe, get_catalogue(), RULES, taken_on=date(2026, 11, 2))
        (folder / f"{number:02} {recipe.name}.json").write_text(text, "utf-8")


def _answer_files(files: Path, folder: Path) -> None:
    from mirvel.cli.__main__ import main as ask

    folder.mkdir()
    for file in sorted(files.iterdir()):
        for command, *words in ASKED:
            said = io.StringIO()
            with contextlib.redirect_stdout(said), contextlib.redirect_stderr(said):
                status = ask([command, str(file), *words])
            name = " ".join((file.stem, command, *words))
            (folder / name).write_text(f"{said.getvalue()}exit {status}\n", "utf-8")


if __name__ == "__main__":
    if sys.argv[1:2] == ["write"]:
        _write_files(Path(sys.argv[2]))
    elif sys.argv[1:2] == ["answer"]:
        _answer_files(Path(sys.argv[2]), Path(sys.argv[3]))
    else:
        sys.exit(main())
