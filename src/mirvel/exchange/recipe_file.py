"""The open recipe file: a recipe with a dated snapshot of the goods, costs and rules it was worked out with.

It is JSON, described by docs/recipe.schema.json, and complete enough to price, draw and cut without a database.
"""

import json
from datetime import date

from pydantic import Field, ValidationError

from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.house.rules import HouseRules
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.core.values.fact import Fact
from mirvel.core.values.problems import BadInput, Problem, get_problems
from mirvel.core.working import Worked, work_out

SUFFIX = ".recipe.json"


class Snapshot(Fact):
    """What a recipe refers to, as it stood on a day."""

    taken_on: date
    rules: HouseRules
    catalogue: Catalogue


class RecipeFile(Recipe):
    """A recipe that carries what it refers to."""

    snapshot: Snapshot = Field(description="goods, costs and house rules on the day of export")

    @property
    def recipe(self) -> Recipe:
        """The recipe alone, as it is stored."""
        return Recipe.model_validate(self.model_dump(exclude={"snapshot"}))

    def work_out(self) -> Worked:
        """The recipe worked out with its own snapshot. Raises UnknownGoods, BadInput."""
        return work_out(self.recipe, self.snapshot.catalogue, self.snapshot.rules)


def write_recipe_file(recipe: Recipe, catalogue: Catalogue, rules: HouseRules, *, taken_on: date) -> str:
    """The file's text: only the goods the recipe uses go along, and what the shop names as substitutes for them. Raises
    UnknownGoods."""
    used = take(recipe, catalogue).as_catalogue()
    named = {slug for material in used.materials.values() for slug in material.substitutes}
    substitutes = {slug: catalogue.materials[slug] for slug in sorted(named) if slug in catalogue.materials}
    goods = used.model_copy(update={"materials": {**substitutes, **used.materials}})
    snapshot = Snapshot(taken_on=taken_on, rules=rules, catalogue=goods)
    file = RecipeFile(**dict(recipe), snapshot=snapshot)
    return file.model_dump_json(indent=2) + "\n"


def read_recipe_file(text: str) -> RecipeFile:
    """Read a file's text. Raises BadInput with every problem, each naming its field and the mend."""
    try:
        found = json.loads(text)
    except (json.JSONDecodeError, RecursionError) as error:
        raise BadInput(_get_syntax_problem(text, error)) from None
    if not isinstance(found, dict) or found.get("format") != "mirvel recipe":
        problem = Problem("format", "this is not a Mirvel recipe.", "Choose a file that was exported as a recipe.")
        raise BadInput(problem)
    try:
        return RecipeFile.model_validate_json(text)
    except ValidationError as error:
        raise BadInput(*get_problems(error)) from None


def _get_syntax_problem(text: str, error: json.JSONDecodeError | RecursionError) -> Problem:
    if isinstance(error, RecursionError):
        return Problem("the file", "it is nested too deeply to be a recipe.", "Export the recipe again.")
    if error.pos >= len(text.rstrip()) - 1 or "Unterminated" in error.msg:
        mend = "It was probably cut off while being copied: copy or export it again."
        return Problem("the file", f"it ends too early, in line {text.count(chr(10)) + 1}.", mend)
    mend = "Mend that line, or export the recipe again."
    return Problem("the file", f"line {error.lineno}, column {error.colno} is not valid JSON ({error.msg}).", mend)


def get_schema() -> str:
    """The JSON Schema of the file, as published in docs/recipe.schema.json."""
    return json.dumps(RecipeFile.model_json_schema(), indent=2, ensure_ascii=False) + "\n"
