"""How well the checks find what they are to find, as a page."""

from collections.abc import Iterable
from concurrent.futures import ProcessPoolExecutor
from itertools import repeat

from mirvel.core.changing.samples import find_samples
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.judging.check import Family, Judged
from mirvel.core.judging.checks import DECLARED
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.core.spoiling.fault import STRENGTHS
from mirvel.core.spoiling.quality import Quality, sum_up, try_faults
from mirvel.core.working import work_out
from mirvel.demo import RULES, get_catalogue, get_recipes


def tell_quality() -> str:
    """Faults put into the demo's recipes, which the limits were held against, and into samples of every form, which
    they were not: how many are found, and where something is said of pieces held to be good."""
    catalogue = get_catalogue()
    lines = [
        "# Quality of the judges",
        "",
        "Faults are put into pieces that have none (`core/spoiling/`) at three strengths; a weak one may pass.",
        "The limits were held against the demo’s recipes, and not against the samples. These show how a form",
        "stands, and are neither filled nor charged: what is said of their money, size and cover is not counted.",
        "Written by `./run mirvel check-quality -o docs/judges.md`.",
    ]
    lines += _tell("The demo’s recipes", get_recipes(), catalogue, frozenset(Family))
    lines += _tell(
        "A sample of every form", find_samples(catalogue).values(), catalogue, frozenset({Family.COMPOSITION})
    )
    return "\n".join(lines)


def _tell(name: str, recipes: Iterable[Recipe], catalogue: Catalogue, good_in: frozenset[Family]) -> list[str]:
    """The table of some recipes, which are held to be good in some families of checks."""
    with ProcessPoolExecutor() as pool:
        found = sum_up(list(pool.map(_try, recipes, repeat(catalogue))))
    is_good = {declared.id: declared.family in good_in for declared in DECLARED}
    spoilt = sum(each.pieces for each in found)
    hits = [sum(each.found[at] for each in found) / spoilt for at in range(len(STRENGTHS))]
    counted = [each for each in found if is_good[each.check_id]]
    wrong = sum(each.false_alarms for each in counted) / sum(each.good for each in counted)
    return [
        "",
        f"## {name}",
        "",
        f"Of {spoilt} faults {' · '.join(f'{each * 100:.0f} %' for each in hits)} are found, weak · plain · strong; "
        f"false alarms {wrong * 100:.1f} %.",
        "",
        "| check | spoilt | weak | plain | strong | false alarms |",
        "|---|---|---|---|---|---|",
        *(_write(each, is_good=is_good[each.check_id]) for each in found),
    ]


def _try(recipe: Recipe, catalogue: Catalogue) -> dict[str, tuple[bool, ...] | None]:
    return try_faults(judge(recipe, catalogue))


def judge(recipe: Recipe, catalogue: Catalogue) -> Judged:
    """A recipe as it is judged."""
    worked = work_out(recipe, catalogue, RULES)
    return Judged(worked.build, worked.money, take(recipe, catalogue))


def _write(each: Quality, *, is_good: bool) -> str:
    counts = " | ".join(map(str, (each.pieces, *each.found)))
    return f"| `{each.check_id}` | {counts} | {f'{each.false_alarms} of {each.good}' if is_good else '—'} |"
