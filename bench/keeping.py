"""How much of a piece one flower more or less moves, with the places it has kept against placed from nothing.

Run with ./run bench keeping. Over the demo's recipes, one piece more and one fewer of every entry: the share of the
other tips that move by more than 1 cm. Where the piece grows with its flowers all its tips move together; those that
then have another place in the form's own coordinates are told as well.
"""

import statistics
import time
from collections.abc import Callable

from mirvel.core.changing.carrying import carry_places
from mirvel.core.changing.changes import nudge_pieces
from mirvel.core.making.build import Build, get_build
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.demo import RULES, get_catalogue, get_recipes

FAR_CM = 1.0
Shares = tuple[float, float]


def main() -> None:
    """Change every entry of every recipe, print."""
    fresh, fresh_ms = _measure(lambda build, after: after)
    kept, kept_ms = _measure(carry_places)
    for what, shares in (("baseline, placed from nothing", fresh), ("with kept places", kept)):
        tips, places = ([each[number] for each in shares] for number in (0, 1))
        print(f"{what}: tips moved, {_describe(tips)}; places changed, {_describe(places)}; {len(shares)} changes")
    print(f"time of a change: {fresh_ms:.0f} ms from nothing, {kept_ms:.0f} ms kept, {kept_ms / fresh_ms:.2f} : 1")


def _build(recipe: Recipe) -> Build:
    return get_build(take(recipe, get_catalogue()), RULES)


def _measure(carry: Callable[[Build, Recipe], Recipe]) -> tuple[list[Shares], float]:
    shares, taken = [], []
    for recipe in get_recipes():
        first = _build(recipe)
        before = _build(carry(first, recipe))
        for entry in recipe.entries:
            for by in (1, -1):
                after = nudge_pieces(carry(first, recipe), entry.id, by).recipe
                began = time.perf_counter()
                build = _build(after)
                taken.append(1000 * (time.perf_counter() - began))
                shares.append(_compare(before, build))
    return shares, statistics.median(taken)


def _compare(before: Build, after: Build) -> Shares:
    there = {(place.entry.id, place.number): place for place in after.places}
    pairs = [(here, there.get((here.entry.id, here.number))) for here in before.places]
    both = [(here, other) for here, other in pairs if other]
    tips = sum(here.tip.minus(other.tip).length > FAR_CM for here, other in both)
    places = sum(here.kept != other.kept for here, other in both)
    return tips / len(both), places / len(both)


def _describe(shares: list[float]) -> str:
    median, high = statistics.quantiles(shares, n=4)[1:]
    return f"median {median:.0%}, a quarter over {high:.0%}, worst {max(shares):.0%}"


if __name__ == "__main__":
    main()
