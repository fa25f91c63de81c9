"""Drift reckoned in the background: whenever costs have changed, every recipe's money is reckoned anew, some at a time,
so that pages stay answered meanwhile."""

import threading
from dataclasses import replace
from decimal import Decimal

from mirvel.core.house.rules import HouseRules
from mirvel.core.pricing.drift import get_drift
from mirvel.core.publishing import find_worries
from mirvel.core.recipe.taking import take
from mirvel.core.values.problems import MirvelError
from mirvel.store.drifts import SavedDrift, Undrifted
from mirvel.store.goods import Goods
from mirvel.store.shop import Shop
from mirvel.web.background import Background

AT_A_TIME = 10
LOOK_EVERY_S = 20.0  # costs with a day ahead come into force, and other processes change them, without a poke
_BREATH_S = 0.01  # between portions, so that a waiting page gets its turn at the interpreter


class Drifter(Background):
    """Reckons drifts; ``poke`` it when costs have changed."""

    def __init__(self, shop: Shop) -> None:
        super().__init__("drifts", lambda ended: reckon_all(shop, ended), LOOK_EVERY_S)


def reckon_all(shop: Shop, ended: threading.Event) -> int:
    """Reckon every drift that is not of today's costs; returns how many were."""
    count = 0
    goods, rules, month = shop.goods.load(), shop.load_rules(), shop.get_today().month
    while not ended.is_set():
        portion = shop.drifts.load_undrifted(goods.costs, month, AT_A_TIME)
        found = [replace(_reckon(each, goods, rules, month), month=month) for each in portion.rows]
        found += [
            replace(_get_trouble(int(each.key), each.state, goods, each), month=month) for each in portion.unreadable
        ]
        if not found:
            break
        shop.drifts.save(found)
        count += len(found)
        ended.wait(_BREATH_S)
    return count


def _reckon(each: Undrifted, goods: Goods, rules: HouseRules, month: int) -> SavedDrift:
    try:
        drift = get_drift(each.recipe, goods.catalogue, rules, each.true_costs)
        worries = find_worries(take(each.recipe, goods.catalogue), month)
    except MirvelError as error:
        return replace(_get_trouble(each.recipe_id, each.state_id, goods, error), of_standard=each.of_standard)
    money = drift.money
    return SavedDrift(
        recipe_id=each.recipe_id,
        state_id=each.state_id,
        costs=goods.costs,
        is_true=money.is_true,
        room_left=money.room_left,
        fill=money.fill,
        gross_margin=money.gross_margin,
        causes=drift.causes,
        spent=money.spent,
        of_standard=each.of_standard,
        worries=worries,
    )


def _get_trouble(recipe_id: int, state_id: int, goods: Goods, error: MirvelError) -> SavedDrift:
    """What is kept of a recipe that cannot be reckoned, so that it is not tried again until costs change."""
    zero = Decimal(0)
    return SavedDrift(
        recipe_id, state_id, goods.costs, is_true=False, room_left=zero, fill=None, gross_margin=zero, causes=(),
        trouble=str(error),
    )  # fmt: skip
