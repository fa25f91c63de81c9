"""Server time of one Table change against a bare route of the same app in the same run.

Run with ./run bench. Over real HTTP on loopback against the private PostgreSQL, on a recipe of about 60 pieces:
each change is one that has not been made before, so that nothing is answered from what is kept. Asked as a page asks,
which says what symbols and parts it has already.
"""

import re
import statistics
from dataclasses import dataclass, field

import httpx

from bench.fresh import SETTINGS, describe, fresh_shop, get_server_ms, wait_until_drawn
from mirvel.core.goods.facts import PieceSize, Role
from mirvel.core.recipe.entry import Entry
from mirvel.core.recipe.recipe import Recipe
from mirvel.demo import get_recipes
from mirvel.store.shop import Shop
from mirvel.web.app import create_app
from tests.serving import serve

ROUNDS = 60
WARM_UP = 6


@dataclass
class _Shown:
    """What a page has of the answers so far, as its own script says it (``static/laying.js``)."""

    symbols: set[str] = field(default_factory=set)
    marks: dict[str, str] = field(default_factory=dict)

    def take(self, answer: str) -> None:
        self.symbols.update(re.findall(r'<g id="(h[0-9a-f]{12})"', answer))
        self.marks.update(re.findall(r'<\w+ id="([^"]+)"[^>]*? data-mark="([^"]+)"', answer))

    @property
    def said(self) -> dict[str, str]:
        return {"has": ",".join(self.symbols), "marks": ",".join(f"{name}={mark}" for name, mark in self.marks.items())}


def main() -> None:
    """Serve, measure, print."""
    with fresh_shop() as shop:
        _measure(shop)


def _get_recipe() -> Recipe:
    """Slipway with four roses more: 60 pieces."""
    slipway = next(recipe for recipe in get_recipes() if recipe.family == "slipway")
    more = Entry(id="e99", material="rose-spray", colour="peach", role=Role.MASS, pieces=4, piece=PieceSize.LATERAL)
    return slipway.model_copy(update={"entries": (*slipway.entries, more)})


def _measure(shop: Shop) -> None:
    saved = shop.add_recipe(_get_recipe(), {})
    app = create_app(SETTINGS, shop)
    app.add_api_route("/bare", lambda: {"bare": True})
    with serve(app) as address, httpx.Client(base_url=address) as client:
        wait_until_drawn(shop)
        bare, heights, prices, sizes = list[float](), list[float](), list[float](), list[int]()
        shown = _Shown()
        shown.take(client.get(f"/table/{saved.id}").text)
        for number in range(WARM_UP + ROUNDS):
            bare.append(get_server_ms(client.get("/bare")))
            price = f"{40 + number}.{number:02d}"
            fields = {"kind": "height", "factor": f"{1.6 + number / 200:.3f}"}
            if number % 2:
                fields = {"kind": "field", "field": "price_point", "value": price}
            read_at = str(shop.load_recipe(saved.id).state_id)
            answer = client.post(
                f"/table/{saved.id}/change",
                data={"read_at": read_at, **fields, **shown.said},
                headers={"HX-Request": "true"},
            )
            answer.raise_for_status()
            shown.take(answer.text)
            sizes.append(len(answer.content))
            (prices if number % 2 else heights).append(get_server_ms(answer))
    base = statistics.median(bare[WARM_UP:])
    print(f"baseline, a bare route of the same app: median {base:.1f} ms")
    pieces = sum(entry.pieces for entry in saved.recipe.entries)
    for what, taken in (("height", heights[WARM_UP:]), ("price", prices[WARM_UP:])):
        ratio = statistics.median(taken) / base
        print(f"one change of {what}, {pieces} pieces: {describe(taken)}, {ratio:.0f} : 1 over {len(taken)} changes")
    print(f"largest answer: {max(sizes[WARM_UP:]) / 1000:.0f} kB")


if __name__ == "__main__":
    main()
