"""The demo's recipes worked out once for all tests of a process: of the same recipe, by the same rules and with the
demo's goods, everything is the same value."""

from collections.abc import Iterator
from contextlib import contextmanager
from functools import lru_cache

import pytest

from mirvel.core import working
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.house.rules import HouseRules
from mirvel.core.making import build as building
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.working import Worked
from mirvel.demo import get_catalogue

_MOST = 300


def work_out(recipe: Recipe, catalogue: Catalogue, rules: HouseRules) -> Worked:
    """A recipe worked out; remembered where the goods are the demo's."""
    if catalogue is not get_catalogue():
        return working.work_out(recipe, catalogue, rules)
    return _work_out(recipe.model_dump_json(), rules.model_dump_json())


@lru_cache(_MOST)
def _work_out(recipe: str, rules: str) -> Worked:
    return working.work_out(Recipe.model_validate_json(recipe), get_catalogue(), HouseRules.model_validate_json(rules))


@contextmanager
def left_open() -> Iterator[None]:
    """Builds in which nothing moves to close the foam."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(building, "find_closing", lambda *_: {})
        yield
