"""``./run mirvel price|draw|cuts|checks FILE``: work a recipe file out with the snapshot it carries; ``fit`` and its
kin change its counts to meet a price; ``schema`` writes the file's JSON Schema,
``all-checks`` the page of all checks, ``check-quality`` how well they find what they are to."""

import argparse
import json
import sys
from pathlib import Path

from mirvel.cli.asking import FITTING, add_fitting, answer_fitting, to_json
from mirvel.cli.quality import tell_quality
from mirvel.cli.reports import (
    get_checks_data,
    get_checks_text,
    get_cuts_data,
    get_cuts_text,
    get_price_data,
    get_price_text,
    list_all_checks,
)
from mirvel.core.values.problems import BadInput
from mirvel.core.working import Worked
from mirvel.drawing.sheet import Style, draw
from mirvel.drawing.view import BACK_HOUR, FRONT_HOUR, View
from mirvel.exchange.recipe_file import get_schema, read_recipe_file

_PAGES = {"schema": get_schema, "all-checks": list_all_checks, "check-quality": tell_quality}
_REPORTS = {
    "price": (get_price_data, get_price_text),
    "cuts": (get_cuts_data, get_cuts_text),
    "checks": (get_checks_data, get_checks_text),
}


def main(words: list[str] | None = None) -> int:
    """Run one command; returns the exit status: 0 done, 1 the file cannot be used, 2 wrong words."""
    asked = _get_parser().parse_args(words)
    try:
        if asked.command in _PAGES:
            return _write(asked.output, _PAGES[asked.command]())
        file = read_recipe_file(Path(asked.file).read_text("utf-8"))
        if asked.command in FITTING:
            return answer_fitting(asked, file)
        return _answer(asked, file.work_out())
    except BadInput as error:
        for problem in error.problems:
            print(f"{asked.file}: {problem}", file=sys.stderr)
    except (OSError, UnicodeDecodeError) as error:
        reason = error.strerror if isinstance(error, OSError) else "it is not UTF-8 text"
        print(f"{asked.file}: cannot be read or written: {reason}. Check the path.", file=sys.stderr)
    return 1


def _get_parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="./run mirvel", description="Work out a recipe file.")
    commands = parser.add_subparsers(
        dest="command",
        required=True,
        metavar="price|draw|cuts|checks|fit|ladder|fits|repair|substitute|schema|all-checks|check-quality",
    )
    for name, what in (
        ("price", "the money column: flower money, spent, room left, and what each school would charge"),
        ("draw", "the drawing to scale, as SVG"),
        ("cuts", "stems to pull and the cut of every piece"),
        ("checks", "what is wrong or worth knowing, and what could hurt somebody"),
    ):
        command = commands.add_parser(name, help=what, description=what)
        command.add_argument("file", help="a recipe file (JSON) with its snapshot")
        command.add_argument("--json", action="store_true", help="answer in JSON with stable keys")
        if name == "draw":
            command.add_argument("--view", choices=[view.value for view in View], default="front")
            command.add_argument(
                "--hour", type=float, default=FRONT_HOUR, help="clock hour it is seen from, 6 the front"
            )
            command.add_argument("-o", "--output", help="file to write; standard output if left out")
    add_fitting(commands)
    for name, what in (
        ("schema", "the JSON Schema of recipe files"),
        ("all-checks", "all that is looked for, as a page"),
        ("check-quality", "how well faults that are put in are found, as a page"),
    ):
        written = commands.add_parser(name, help=what)
        written.add_argument("-o", "--output", help="file to write; standard output if left out")
        written.set_defaults(file=name)
    return parser


def _answer(asked: argparse.Namespace, worked: Worked) -> int:
    if asked.command == "draw":
        return _draw(asked, worked)
    data, text = _REPORTS[asked.command]
    print(to_json(data(worked)) if asked.json else text(worked))
    return 0


def _draw(asked: argparse.Namespace, worked: Worked) -> int:
    svg = draw(worked.build, View(asked.view), Style(hour=asked.hour % 12 or BACK_HOUR)).to_svg()
    if asked.output or not asked.json:
        _write(asked.output, svg)
    if asked.json:
        size = {
            "overall_height_cm": round(worked.build.overall_height_cm, 4),
            "width_cm": round(worked.build.extent.width_cm, 4),
        }
        print(json.dumps({"view": asked.view, "output": asked.output, "bytes": len(svg.encode()), **size}, indent=2))
    return 0


def _write(output: str | None, text: str) -> int:
    """Text to a file, or to standard output."""
    if output:
        Path(output).write_text(text, "utf-8")
    else:
        print(text)
    return 0


if __name__ == "__main__":
    sys.exit(main())
