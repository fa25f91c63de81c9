"""The whole shop's repairs found in the background: each recipe that went false, one after the other, kept as found, so
that a run goes on where it was after a restart and ends at once when it is cancelled."""

import threading
from dataclasses import dataclass

from mirvel.core.changing.carrying import carry_places
from mirvel.core.fit.repair import find_repairs
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.house.rules import HouseRules
from mirvel.core.making.build import get_build
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.core.values.problems import MirvelError
from mirvel.store.drifts import SavedDrift
from mirvel.store.goods import Goods
from mirvel.store.repairs import RunState, SavedRepair
from mirvel.store.shop import SavedRecipe, Shop
from mirvel.web.background import Background
from mirvel.web.drifting import reckon_all
from mirvel.web.workers import Stopped, Worker

LOOK_EVERY_S = 30.0
WHOLE_SHOP = "the shop's repairs"  # what the solver is asked for
_NOTHING_IS_TRUE = "No counts within its limits are true. Let entries go lower, or change the price point."


@dataclass(frozen=True)
class FalseRecipe:
    """A recipe that is false at today's costs, and the repair found for it as it stands, if one was."""

    saved: SavedRecipe
    drift: SavedDrift
    repair: SavedRepair | None


def find_false(shop: Shop, costs: int) -> tuple[FalseRecipe, ...]:
    """Every recipe with flowers that is false at the costs of a version, as far as drifts are reckoned."""
    drifts, repairs = shop.drifts.load_all(), shop.repairs.load_all()
    found = []
    for saved in shop.load_recipes():
        drift, repair = drifts.get(saved.id), repairs.get(saved.id)
        if drift and (drift.state_id, drift.costs) == (saved.state_id, costs) and not drift.is_true and drift.fill:
            holds = repair and (repair.state_id, repair.costs) == (saved.state_id, costs)
            found.append(FalseRecipe(saved, drift, repair if holds else None))
    return tuple(found)


class Repairer(Background):
    """Finds repairs while a run is on; ``poke`` it when one was begun."""

    def __init__(self, shop: Shop, solver: Worker) -> None:
        super().__init__("repairs", lambda ended: repair_all(shop, solver, ended), LOOK_EVERY_S)


def repair_all(shop: Shop, solver: Worker, ended: threading.Event) -> int:
    """Find what is missing of a run that is on; returns how many were found."""
    if shop.repairs.load_state() is not RunState.RUNNING:
        return 0
    reckon_all(shop, ended)
    goods, count = shop.goods.load(), 0
    for each in find_false(shop, goods.costs):
        if ended.is_set() or shop.repairs.load_state() is not RunState.RUNNING:
            return count
        found = _find(each.saved, shop, goods, solver) if each.repair is None else None
        if found:
            shop.repairs.save(found)
            count += 1
    shop.repairs.set_state(RunState.DONE, only_from=RunState.RUNNING)
    return count


def _repair(recipe: Recipe, catalogue: Catalogue, rules: HouseRules) -> tuple[str, Recipe] | None:
    """What mends a recipe best, in words, and the recipe mended, its pieces where they stood. Raises BadInput."""
    repairs = find_repairs(recipe, catalogue, rules, 1)
    if not repairs:
        return None
    return repairs[0].words, carry_places(get_build(take(recipe, catalogue), rules), repairs[0].fitted.recipe)


def _find(saved: SavedRecipe, shop: Shop, goods: Goods, solver: Worker) -> SavedRepair | None:
    """The repair of one recipe, or why there is none; None where the run was stopped meanwhile."""
    words, mended, trouble = "", None, _NOTHING_IS_TRUE
    try:
        found = solver.ask(WHOLE_SHOP, _repair, saved.recipe, goods.catalogue, shop.load_rules())
        if found:
            (words, mended), trouble = found, ""
    except Stopped:
        return None
    except MirvelError as error:
        trouble = str(error)
    return SavedRepair(saved.id, saved.state_id, goods.costs, words, trouble, mended)
