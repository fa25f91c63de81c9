"""What a fit begins with where a recipe has no proportions yet: one of each, or none."""

from collections.abc import Mapping

from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.facts import Role
from mirvel.core.recipe.entry import MAX_PIECES
from mirvel.core.recipe.recipe import Recipe

_LEAST_KINDS = 2  # of one kind alone there are no proportions to be had


def is_just_begun(recipe: Recipe) -> bool:
    """Whether it has no more than one of anything, and several kinds that may be more."""
    free = [entry for entry in recipe.entries if not entry.locked]
    return len(free) >= _LEAST_KINDS and all(entry.pieces <= 1 for entry in free)


def begin(recipe: Recipe, usual: Mapping[Role, float] | None = None) -> Recipe:
    """A recipe just begun with as many pieces of each entry as pieces of its form usually have in its role, those of
    one role shared out evenly; any other as it is. What the shop's own pieces have comes before what a sample of the
    form has."""
    if not is_just_begun(recipe):
        return recipe
    wanted = {**_get_sampled(recipe.form), **(usual or {})}
    kinds: dict[Role, int] = {}
    for entry in recipe.entries:
        kinds[entry.role] = kinds.get(entry.role, 0) + 1
    entries = []
    for entry in recipe.entries:
        pieces = round(wanted.get(entry.role, 1.0) / kinds[entry.role])
        pieces = min(max(1, entry.least or 1, pieces), MAX_PIECES if entry.most is None else max(1, entry.most))
        entries.append(entry if entry.locked else entry.model_copy(update={"pieces": pieces}))
    return recipe.model_copy(update={"entries": tuple(entries)})


def _get_sampled(form: str) -> dict[Role, float]:
    """How many pieces of each role the sample of a form has."""
    found: dict[Role, float] = {}
    for wanted in FORMS[form].sample:
        found[wanted.role] = found.get(wanted.role, 0.0) + wanted.pieces
    return found
