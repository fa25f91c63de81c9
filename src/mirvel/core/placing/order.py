"""The order pieces go in: as the recipe has its entries, delicate blooms last; in forms whose outline comes strictly
before what fills it, bow, greens and line stems first of all. A designer's own order is kept as it is listed."""

from collections.abc import Collection

from mirvel.core.forms.form import Form
from mirvel.core.goods.facts import Role
from mirvel.core.recipe.entry import Entry
from mirvel.core.recipe.recipe import Recipe

_OUTLINE = (Role.TOKEN, Role.GREENERY, Role.LINE)


def get_build_order(recipe: Recipe, delicate: Collection[str], form: Form) -> tuple[Entry, ...]:
    """Entries as they go in; ``delicate`` are the ids of those that can bear no knocking."""
    if recipe.is_built_as_listed:
        return recipe.entries

    def rank(entry: Entry) -> tuple[int, bool]:
        outline = _OUTLINE.index(entry.role) if form.outline_first and entry.role in _OUTLINE else len(_OUTLINE)
        return outline, entry.id in delicate

    return tuple(sorted(recipe.entries, key=rank))
