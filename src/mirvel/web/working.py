"""Recipes of the shop worked out for a page; what has been worked out and drawn is kept for a while, since a
saved state never changes."""

from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass
from hashlib import sha256
from threading import Lock
from typing import Annotated, TypeVar

from fastapi import Depends, Request

from mirvel.core.goods import Catalogue
from mirvel.core.house import HouseRules
from mirvel.core.recipe import Recipe
from mirvel.core.units import LengthUnit
from mirvel.core.working import Worked, work_out
from mirvel.web.requests import ShopHere

Made = TypeVar("Made")
UNIT_COOKIE = "unit"
_KEPT = 400
_kept: OrderedDict[tuple[str, ...], object] = OrderedDict()
_lock = Lock()


@dataclass(frozen=True)
class Desk:
    """What recipes are worked out with: the shop's goods and rules as they stand now."""

    catalogue: Catalogue
    rules: HouseRules
    digest: str

    def work_out(self, recipe: Recipe) -> Worked:
        """Raises UnknownGoods, BadInput."""
        return self.keep("worked", recipe, lambda: work_out(recipe, self.catalogue, self.rules))

    def keep(self, what: str, recipe: Recipe, make: Callable[[], Made]) -> Made:
        """What ``make`` makes of a recipe, made once while goods and rules stay as they are."""
        key = (what, self.digest, recipe.model_dump_json())
        with _lock:
            if key in _kept:
                _kept.move_to_end(key)
                return _kept[key]  # type: ignore[return-value]
        made = make()
        with _lock:
            _kept[key] = made
            while len(_kept) > _KEPT:
                _kept.popitem(last=False)
        return made


def load_desk(request: Request, shop: ShopHere) -> Desk:
    """The desk as the shop stands now, in the units this person reads."""
    catalogue, rules = shop.load_catalogue(), shop.load_rules()
    unit = request.cookies.get(UNIT_COOKIE)
    if unit in set(LengthUnit):
        rules = rules.model_copy(update={"unit": LengthUnit(unit)})
    text = catalogue.model_dump_json() + rules.model_dump_json()
    return Desk(catalogue, rules, sha256(text.encode()).hexdigest())


DeskHere = Annotated[Desk, Depends(load_desk)]
