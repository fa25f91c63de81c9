"""Drift reckoned in the background: whenever costs have changed, every recipe's money is reckoned anew, some at a time,
so that pages stay answered meanwhile."""

import threading

import structlog

from mirvel.core.drift import get_drift
from mirvel.core.house import HouseRules
from mirvel.core.problems import MirvelError
from mirvel.store.drifts import SavedDrift, Undrifted
from mirvel.store.goods import Goods
from mirvel.store.shop import Shop

log = structlog.get_logger()
AT_A_TIME = 10
LOOK_EVERY_S = 20.0  # costs with a day ahead come into force, and other processes change them, without a poke
_BREATH_S = 0.01  # between portions, so that a waiting page gets its turn at the interpreter


class Drifter:
    """Reckons drifts in a thread of its own; ``poke`` it when costs have changed."""

    def __init__(self, shop: Shop) -> None:
        self._shop, self._wake, self._ended = shop, threading.Event(), threading.Event()
        self._thread = threading.Thread(target=self._run, name="drifter", daemon=True)

    def start(self) -> None:
        self._thread.start()

    def stop(self) -> None:
        """End it, after the portion in hand."""
        self._ended.set()
        self._wake.set()
        self._thread.join(timeout=10)

    def poke(self) -> None:
        """Costs may have changed."""
        self._wake.set()

    def _run(self) -> None:
        while not self._ended.is_set():
            try:
                reckon_all(self._shop, self._ended)
            except MirvelError as error:
                log.warning("drift not reckoned", reason=str(error))
            except Exception:
                log.exception("drift not reckoned")
            self._wake.wait(LOOK_EVERY_S)
            self._wake.clear()


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
