"""Finding goods among 5,000: the query in PostgreSQL, and the page, against a bare query and a bare route.

Run with ./run bench. The 5,000 materials are the demo's, copied with other names.
"""

import statistics
import time
from collections.abc import Callable

import httpx

from bench.fresh import SETTINGS, describe, fresh_shop, get_server_ms
from bench.large import fill_goods
from mirvel.store.finding import Search
from mirvel.web.app import create_app
from tests.serving import serve

ROUNDS = 20
SEARCHES = (
    Search(text="rosa"),
    Search(text="copper 3 chrys"),
    Search(text="e"),
    Search(text="greenery", colour="green", month=11, safe_with_cats=True),
    Search(text="lily", no_scent=True),
    Search(text="hydrangae"),
    Search(text="spike line", page=3),
    Search(),
)


def _time(work: Callable[[], object]) -> list[float]:
    times = []
    for _ in range(ROUNDS):
        begun = time.perf_counter()
        work()
        times.append((time.perf_counter() - begun) * 1000)
    return times


def main() -> None:
    """Fill, measure, print."""
    with fresh_shop() as shop:
        fill_goods(shop)
        base = statistics.median(_time(shop.database.check_answers))
        print(f"baseline, SELECT 1 from the app: median {base:.2f} ms")
        for wanted in SEARCHES:
            times = _time(lambda wanted=wanted: shop.goods.find(wanted))  # type: ignore[misc]
            said = ", ".join(
                f"{k}={v}" for k, v in vars(wanted).items() if v and k not in {"kind"} and (k, v) != ("page", 1)
            )
            print(f"find {said or 'everything'}: {describe(times)}, {statistics.median(times) / base:.0f} : 1")
        app = create_app(SETTINGS, shop)
        app.add_api_route("/bare", lambda: {"bare": True})
        with serve(app) as address, httpx.Client(base_url=address, timeout=60) as client:
            client.get("/buckets", headers={"HX-Request": "true"})
            bare = statistics.median(get_server_ms(client.get("/bare")) for _ in range(ROUNDS))
            typed = ["r", "ro", "ros", "rosa", "lily", "spike", "dark 7", "hydr"]
            pages = [
                get_server_ms(client.get("/buckets", params={"q": q}, headers={"HX-Request": "true"}))
                for q in typed * 5
            ]
            ratio = statistics.median(pages) / bare
            print(f"the ledger as one types: {describe(pages)}, {ratio:.0f} : 1 against a bare route")


if __name__ == "__main__":
    main()
