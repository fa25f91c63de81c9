"""Drift reckoned in the background: whenever costs have changed, every recipe's money is reckoned anew, some at a time,
so that pages stay answered meanwhile."""

import threading

from mirvel.core.house.rules import HouseRules
from mirvel.core.pricing.drift import get_drift
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
    goods, rules = shop.goods.load(), shop.load_rules()
    while not ended.is_set():
        portion = shop.drifts.load_undrifted(goods.costs, AT_A_TIME)
        if not portion:
            break
        shop.drifts.save(_reckon(each, goods, rules) for each in portion)
        count += len(portion)
        ended.wait(_BREATH_S)
    return count


def _reckon(each: Undrifted, goods: Goods, rules: HouseRules) -> SavedDrift:
    zero = rules.true_from * 0
    try:
        drift = get_drift(each.recipe, goods.catalogue, rules, each.true_costs)
    except MirvelError as error:
        return SavedDrift(
            each.recipe_id, each.state_id, goods.costs, is_true=False, room_left=zero, fill=None, gross_margin=zero,
            causes=(), trouble=str(error),
        )  # fmt: skip
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
    )
