"""Reckoning 1,000 recipes after a change of costs, and how pages answer meanwhile.

Run with ./run bench. Baseline: the same pages while nothing is reckoned.
"""

import statistics
import threading
import time

import httpx

from bench.fresh import SETTINGS, describe, fresh_shop, get_server_ms
from mirvel.core.buying.review import GoodRef
from mirvel.core.goods.catalogue import GoodsKind
from mirvel.core.pricing.drift import get_costs
from mirvel.demo import get_catalogue, get_recipes
from mirvel.store.shop import Shop
from mirvel.web.app import create_app
from mirvel.web.drifting import reckon_all
from tests.serving import serve

RECIPES = 1_000
PAGES = 30


def _fill(shop: Shop) -> None:
    catalogue, recipes = get_catalogue(), get_recipes()
    for number in range(RECIPES - len(recipes)):
        recipe = recipes[number % len(recipes)].model_copy(update={"name": f"Trial {number}"})
        shop.add_recipe(recipe, get_costs(recipe, catalogue))


def _make_dearer(shop: Shop, share: str) -> None:
    """Every rose, carnation and chrysanthemum costs otherwise."""
    goods = shop.goods.load()
    for slug in ("rose-standard", "rose-long", "rose-garden", "carnation-standard", "chrys-cremon"):
        good = goods.catalogue.materials[slug]
        cost = (good.cost * type(good.cost)(share)).quantize(good.cost)
        shop.prices.set_by_hand(GoodRef(GoodsKind.MATERIALS, slug), cost, today=goods.on_day)


def _ask(client: httpx.Client, until: threading.Thread | None) -> list[float]:
    times: list[float] = []
    while len(times) < PAGES if until is None else until.is_alive():
        times.append(get_server_ms(client.get("/buckets", params={"q": "rose"}, headers={"HX-Request": "true"})))
    return times


def main() -> None:
    """Fill, measure, print."""
    with fresh_shop() as shop:
        _fill(shop)
        reckon_all(shop, threading.Event())
        alone = []
        for share in ("1.33", "0.9", "1.1"):
            _make_dearer(shop, share)
            begun = time.perf_counter()
            count = reckon_all(shop, threading.Event())
            alone.append(time.perf_counter() - begun)
        print(f"{count} recipes reckoned anew: {', '.join(f'{took:.2f}' for took in alone)} s")
        app = create_app(SETTINGS, shop)
        with serve(app) as address, httpx.Client(base_url=address, timeout=60) as client:
            _ask(client, None)
            quiet = _ask(client, None)
            _make_dearer(shop, "1.05")
            worker = threading.Thread(target=reckon_all, args=(shop, threading.Event()))
            worker.start()
            busy = _ask(client, worker)
        print(f"baseline, a page while nothing is reckoned: {describe(quiet)}")
        ratio = statistics.median(busy) / statistics.median(quiet)
        print(
            f"the same page while 1,000 recipes are reckoned: {describe(busy)}, {ratio:.1f} : 1, {len(busy)} answered"
        )


if __name__ == "__main__":
    main()
