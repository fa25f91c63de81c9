"""Placing and drawing one recipe, and one turn of the drawing, against validating the same recipe's document.

Run with ./run bench placing. In one process, warm: each recipe is one that has not been placed before. What takes the
time of 200 pieces, by profile: scoring the sites, twice for each piece since every entry settles once it is whole (a
third), what hides what while hidden heads are brought out (a quarter), entry points (a fifth), the rest tips, the
width, cuts and money.
"""

import statistics
import time
from collections.abc import Callable

from mirvel.core.changing.changes import nudge_pieces
from mirvel.core.making.build import get_build
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.core.working import work_out
from mirvel.demo import RULES, get_catalogue, get_recipes
from mirvel.drawing.sheet import Style, draw
from mirvel.drawing.view import View

ROUNDS = 24
WARM_UP = 6


def main() -> None:
    """Measure 60 and 200 pieces, print."""
    slipway = next(recipe for recipe in get_recipes() if recipe.family == "slipway")
    for pieces in (60, 200):
        _measure(_fill(slipway, pieces), pieces)


def _fill(recipe: Recipe, pieces: int) -> Recipe:
    """The recipe with every entry grown alike to so many pieces in all."""
    now = sum(entry.pieces for entry in recipe.entries)
    entries = [{**entry.model_dump(), "pieces": entry.pieces * pieces // now} for entry in recipe.entries]
    entries[-1]["pieces"] += pieces - sum(entry["pieces"] for entry in entries)
    return recipe.change(entries=entries)


def _measure(recipe: Recipe, pieces: int) -> None:
    catalogue, document = get_catalogue(), recipe.model_dump_json()
    others = [nudge_pieces(recipe, recipe.entries[n % 9].id, -1 - n // 9).recipe for n in range(WARM_UP + ROUNDS)]
    worked = work_out(others[0], catalogue, RULES)
    base = _time(lambda number: Recipe.model_validate_json(document))
    placing = _time(lambda number: get_build(take(others[number], catalogue), RULES))
    drawing = _time(lambda number: draw(work_out(others[number], catalogue, RULES).build, View.FRONT).to_svg())
    turning = _time(lambda number: draw(worked.build, View.FRONT, Style(hour=0.4 * (number + 1))).to_svg())
    size = len(draw(worked.build, View.FRONT).to_svg().encode()) / 1000
    print(f"baseline, validating the recipe's document: median {base:.2f} ms")
    for what, median in (("placed", placing), ("placed and drawn", drawing), ("one turn", turning)):
        print(f"{pieces} pieces {what}: median {median:.0f} ms, {median / base:.0f} : 1")
    print(f"{pieces} pieces, front: {size:.0f} kB")


def _time(run: Callable[[int], object]) -> float:
    taken = []
    for number in range(WARM_UP + ROUNDS):
        began = time.perf_counter()
        run(number)
        taken.append(1000 * (time.perf_counter() - began))
    return statistics.median(taken[WARM_UP:])


if __name__ == "__main__":
    main()
