"""The whole shop's repairs found in the background: each recipe that went false, one after the other, kept as found, so
that a run goes on where it was after a restart and ends at once when it is cancelled."""

import threading

from mirvel.core.changing.carrying import carry_places
from mirvel.core.fit.repair import Repair, find_repairs
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.house.rules import HouseRules
from mirvel.core.making.build import get_build
from mirvel.core.mending import Mend
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.core.values.problems import MirvelError
from mirvel.core.working import finish, work_out
from mirvel.store.goods import Goods
from mirvel.store.repairs import FalseRecipe, RunState, SavedRepair
from mirvel.store.shop import Shop
from mirvel.web.background import Background
from mirvel.web.drifting import reckon_all
from mirvel.web.workers import Stopped, Worker

LOOK_EVERY_S = 30.0
WHOLE_SHOP = "the shop's repairs"  # what the solver is asked for
_NOTHING_IS_TRUE = "No counts within its limits are true. Let entries go lower, or change the price point."


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
    for each in shop.repairs.load_false(goods.costs):
        if ended.is_set() or shop.repairs.load_state() is not RunState.RUNNING:
            return count
        found = _find(each, shop, goods, solver) if each.repair is None else None
        if found:
            shop.repairs.save(found)
            count += 1
    shop.repairs.set_state(RunState.DONE, only_from=RunState.RUNNING)
    return count


def find_least_harm(recipe: Recipe, catalogue: Catalogue, rules: HouseRules) -> tuple[str, Recipe] | None:
    """What mends a recipe best, in words, and the recipe mended, its pieces where they stood: the fewest changes or,
    where these bring a stop or a warning, those of the others that bring least. Raises BadInput."""
    taken = take(recipe, catalogue)
    before = finish(get_build(taken, rules), taken)

    def make(repair: Repair) -> Mend:
        carried = carry_places(before.build, repair.fitted.recipe)
        return Mend((repair.words,), before, work_out(carried, catalogue, rules))

    mends = [make(each) for each in find_repairs(recipe, catalogue, rules, 1)]
    if mends and max(mends[0].rank) > 0:
        mends += [make(each) for each in find_repairs(recipe, catalogue, rules)[1:]]
    if not mends:
        return None
    best = min(mends, key=lambda mend: mend.rank)
    return best.words[0], best.after.recipe


def _find(wrong: FalseRecipe, shop: Shop, goods: Goods, solver: Worker) -> SavedRepair | None:
    """The repair of one recipe, or why there is none; None where the run was stopped meanwhile."""
    state, words, mended, trouble = wrong.state_id, "", None, _NOTHING_IS_TRUE
    try:
        saved = shop.load_recipe(wrong.recipe_id)
        state = saved.state_id
        found = solver.ask(WHOLE_SHOP, find_least_harm, saved.recipe, goods.catalogue, shop.load_rules())
        if found:
            (words, mended), trouble = found, ""
    except Stopped:
        return None
    except MirvelError as error:
        trouble = str(error)
    return SavedRepair(wrong.recipe_id, state, goods.costs, words, trouble, mended)
