"""A shop of 1,000 recipes and 5,000 materials: server time and size of its pages, against a bare route of the same
app.

Run with ./run bench shop. Cold is the first time a page is asked for; the figures are drawn by then, as they are made
in the background, and how long that takes for all of them is told too.
"""

import statistics
import threading
import time
from concurrent.futures import ThreadPoolExecutor

import httpx

from bench.fresh import SETTINGS, describe, fresh_shop, get_server_ms
from bench.large import MATERIALS, RECIPES, fill_goods, fill_recipes
from mirvel.store.shop import Shop
from mirvel.web.app import create_app
from mirvel.web.drifting import reckon_all
from mirvel.web.figuring import draw_all
from mirvel.web.workers import Worker
from tests.serving import serve

ROUNDS, PEOPLE, CHANGES = 9, 20, 6
PAGES = (
    "/", "/?q=carnation", "/?q=&only=false", "/?q=", "/shelves/42.00?start=24", "/recipes/new", "/gallery",
    "/buckets/materials/rose-standard", "/table/10/extras?all=true", "/sets/slipway",
)  # fmt: skip
PART = {"HX-Request": "true"}


def main() -> None:
    """Seed, draw, measure, print."""
    with fresh_shop() as shop:
        fill_goods(shop)
        fill_recipes(shop)
        draw_shop(shop)
        app = create_app(SETTINGS, shop)
        app.add_api_route("/bare", lambda: {"bare": True})
        with serve(app) as address, httpx.Client(base_url=address, timeout=120) as client:
            base = statistics.median(get_server_ms(client.get("/bare")) for _ in range(ROUNDS))
            print(f"baseline, a bare route of the same app: median {base:.2f} ms")
            for page in PAGES:
                _time(client, page, base)
            _time_workbook(client)
            _change_together(shop, address)


def draw_shop(shop: Shop) -> None:
    """Reckon and draw all of a shop, and print how long that takes."""
    begun, worker, never = time.perf_counter(), Worker(), threading.Event()
    try:
        reckon_all(shop, never)
        print(f"{RECIPES} recipes, {MATERIALS} materials: reckoned in {time.perf_counter() - begun:.1f} s", flush=True)
        begun = time.perf_counter()
        count = draw_all(shop, worker, never)
        print(f"{count} recipes and every form drawn in {time.perf_counter() - begun:.0f} s by one process", flush=True)
    finally:
        worker.stop()


def _time(client: httpx.Client, page: str, base: float) -> None:
    answers = [client.get(page, headers=PART if "start=" in page else {}) for _ in range(ROUNDS)]
    cold, *warm = (get_server_ms(answer) for answer in answers)
    ratio = statistics.median(warm) / base
    size = len(answers[-1].content) / 1000
    print(f"{page}: cold {cold:.0f} ms, {describe(warm)}, {ratio:.0f} : 1, {size:.0f} kB", flush=True)


def _time_workbook(client: httpx.Client) -> None:
    """The workbook of everything: until it is begun, and until it is there to fetch."""
    begun, waiting = time.perf_counter(), threading.Event()
    asked = client.get("/buckets/export.xlsx")
    while "made.xlsx" not in client.get("/buckets/export").text:
        waiting.wait(0.05)
    made = time.perf_counter() - begun
    size = len(client.get("/buckets/export/made.xlsx").content) / 1e6
    print(
        f"/buckets/export.xlsx: begun in {get_server_ms(asked):.0f} ms, made in {made:.1f} s, {size:.1f} MB", flush=True
    )


def _change_together(shop: Shop, address: str) -> None:
    """Changes of twenty recipes by one person, one after the other, and of twenty others by twenty people at once."""
    alone = [each for number in range(PEOPLE) for each in _change(shop, address, 30 + number, 0)]
    with ThreadPoolExecutor(PEOPLE) as people:
        runs = list(people.map(lambda number: _change(shop, address, 55 + number, 1), range(PEOPLE)))
    together = [each for run in runs for each in run]
    print(f"one person alone: {describe(alone)}")
    ratio = _get_late(together) / _get_late(alone)
    print(f"{PEOPLE} people at once: {describe(together)}; where one in twenty waits longer, {ratio:.1f} : 1 of alone")


def _get_late(times: list[float]) -> float:
    """What one in twenty exceeds."""
    return sorted(times)[int(len(times) * 0.95)]


def _change(shop: Shop, address: str, recipe_id: int, run: int) -> list[float]:
    """Times from asking to the whole answer, ms."""
    times = []
    with httpx.Client(base_url=address, timeout=120, headers=PART) as client:
        for number in range(CHANGES):
            read_at = str(shop.load_recipe(recipe_id).state_id)
            fields = {"kind": "field", "field": "minutes", "value": f"{11 + number}.{run}", "read_at": read_at}
            begun = time.perf_counter()
            client.post(f"/table/{recipe_id}/change", data=fields).raise_for_status()
            times.append((time.perf_counter() - begun) * 1000)
    return times
