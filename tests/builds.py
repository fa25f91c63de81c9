"""The demo's recipes worked out once for all tests of a process: of the same recipe, by the same rules and with the
demo's goods, everything is the same value."""

import os
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from functools import lru_cache
from typing import TypeVar

import pytest

from mirvel.core import working
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.house.rules import HouseRules
from mirvel.core.making import build as building
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.working import Worked
from mirvel.demo import RULES, get_catalogue

Thing = TypeVar("Thing")
_MOST = 300
_SHARE = 3
_opened = False


def some(found: Iterable[Thing]) -> list[Thing]:
    """A third of what a law that takes long is tried on: the first and every third after it or, where other examples
    are asked for, those after another."""
    seed = os.environ.get("MIRVEL_TEST_SEED", "")
    return [*found][int(seed) % _SHARE if seed.isdecimal() else 0 :: _SHARE]


def work_out(recipe: Recipe, catalogue: Catalogue, rules: HouseRules) -> Worked:
    """A recipe worked out; remembered where the goods are the demo's."""
    if catalogue is not get_catalogue():
        return working.work_out(recipe, catalogue, rules)
    if rules.model_copy(update={"shop": RULES.shop, "palettes": RULES.palettes}) == RULES:
        rules = RULES  # neither the shop's name nor its palettes decide anything
    return _work_out(recipe.model_dump_json(), rules.model_dump_json(), _opened)


@lru_cache(_MOST)
def _work_out(recipe: str, rules: str, opened: bool) -> Worked:
    assert opened == _opened
    return working.work_out(Recipe.model_validate_json(recipe), get_catalogue(), HouseRules.model_validate_json(rules))


@contextmanager
def left_open() -> Iterator[None]:
    """Builds in which nothing moves to close the foam."""
    global _opened
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(building, "find_closing", lambda *_: {})
        _opened = True
        try:
            yield
        finally:
            _opened = False
