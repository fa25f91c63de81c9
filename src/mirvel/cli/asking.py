"""The commands that ask the solver: ``fit``, ``ladder``, ``fits``, ``repair``, ``substitute``."""

import argparse
import json
from decimal import Decimal, InvalidOperation
from pathlib import Path
from typing import Any

from mirvel.cli import fitting
from mirvel.core.fit.extras import find_extras
from mirvel.core.fit.fitting import CannotFit, fit, set_price
from mirvel.core.fit.ladder import climb
from mirvel.core.fit.repair import find_repairs
from mirvel.core.fit.substitutes import find_substitutes
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.recipe.fit_wishes import Aim
from mirvel.core.values.problems import BadInput, Problem
from mirvel.exchange.recipe_file import RecipeFile

FITTING = frozenset({"fit", "ladder", "fits", "repair", "substitute"})


def add_fitting(commands: Any) -> None:
    """The commands with their words."""

    def add(name: str, what: str) -> argparse.ArgumentParser:
        command: argparse.ArgumentParser = commands.add_parser(name, help=what, description=what)
        command.add_argument("file", help="a recipe file (JSON) with its snapshot")
        command.add_argument("--json", action="store_true", help="answer in JSON with stable keys")
        return command

    asked = add("fit", "the fullest true counts for a price, proven, with the reasons")
    asked.add_argument("--price", help="price point; the recipe's own if left out")
    asked.add_argument("--aim", choices=[aim.value for aim in Aim], help="what to go for; the recipe's own if left out")
    add("ladder", "counts for several prices, solved together").add_argument(
        "--prices", required=True, help="price points with commas between"
    )
    add("fits", "what the room left still pays")
    add("repair", "back to true at other costs, fewest changes first").add_argument(
        "--costs", required=True, help='a JSON file of unit costs by slug: {"rose-standard": "0.80"}'
    )
    add("substitute", "what could stand in for an entry").add_argument("--entry", required=True, help="an entry's id")


def answer_fitting(asked: argparse.Namespace, file: RecipeFile) -> int:
    """Answer one of the commands; 1 where nothing fits. Raises BadInput, OSError."""
    try:
        data, text = _ask(asked, file)
    except CannotFit as error:
        data, text = fitting.get_clash_data(error), fitting.get_clash_text(error)
    print(to_json(data) if asked.json else text)
    return 1 if data.get("fits") is False else 0


def _ask(asked: argparse.Namespace, file: RecipeFile) -> tuple[dict[str, Any], str]:
    recipe, catalogue, rules = file.recipe, file.snapshot.catalogue, file.snapshot.rules
    sign = rules.currency
    if asked.command == "fit":
        fitted = fit(set_price(recipe, asked.price, Aim(asked.aim) if asked.aim else None), catalogue, rules)
        return fitting.get_fit_data(fitted), fitting.get_fit_text(fitted, sign)
    if asked.command == "ladder":
        rungs = sorted(
            (set_price(recipe, price) for price in asked.prices.split(",")), key=lambda rung: rung.price_point
        )
        ladder = climb(rungs, catalogue, rules)
        return fitting.get_ladder_data(ladder), fitting.get_ladder_text(ladder, sign)
    if asked.command == "fits":
        extras = find_extras(recipe, catalogue, rules)
        return fitting.get_extras_data(extras), fitting.get_extras_text(extras, sign)
    if asked.command == "repair":
        repairs = find_repairs(recipe, _set_costs(catalogue, Path(asked.costs)), rules)
        return fitting.get_repairs_data(repairs), fitting.get_repairs_text(repairs, sign)
    found = find_substitutes(recipe, asked.entry, catalogue, rules)
    return fitting.get_substitutes_data(found), fitting.get_substitutes_text(found, sign)


def _set_costs(catalogue: Catalogue, path: Path) -> Catalogue:
    """The catalogue at the unit costs of a file. Raises BadInput, OSError."""
    mend = 'Give unit costs by slug, such as {"rose-standard": "0.80"}.'
    try:
        costs = {slug: Decimal(str(cost)) for slug, cost in json.loads(path.read_text("utf-8")).items()}
    except (json.JSONDecodeError, AttributeError, InvalidOperation):
        raise BadInput(Problem("costs", f"{path.name} is not a file of costs.", mend)) from None
    changed = {}
    for slug, cost in costs.items():
        if slug not in catalogue.materials or not cost.is_finite() or cost < 0:
            raise BadInput(Problem("costs", f"“{slug}” at {cost} is not a cost of a material of the recipe.", mend))
        changed[slug] = catalogue.materials[slug].model_copy(update={"cost": cost})
    return catalogue.model_copy(update={"materials": {**catalogue.materials, **changed}})


def to_json(data: object) -> str:
    return json.dumps(data, indent=2, ensure_ascii=False)
