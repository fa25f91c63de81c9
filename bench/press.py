"""From press to picture: a + on the Table in Chromium, from the key to the new picture standing, beside the time the
app itself takes for the same change.

Run with ./run bench press. Presses of + and − in turn, so that every state but the first two has been worked out.
"""

import statistics

from selenium.webdriver.common.keys import Keys

from bench.fresh import SETTINGS, describe, fresh_shop, wait_until_drawn
from mirvel.store.shop import Shop
from mirvel.web.app import create_app
from tests.browser.driving import Page, drive
from tests.serving import serve

PRESSES, WARM_UP = 32, 4
FAMILIES = ("slipway", "evening-bell")
# From a key to two frames after the answer stands on the page: the picture has been painted then.
_PRESS = """
const [key, done] = arguments, work = () => document.getElementById("work");
const before = work().dataset.readAt, begun = performance.now();
const look = () => requestAnimationFrame(() => {
  if (work().dataset.readAt === before || work().getAttribute("aria-busy") === "true") return look();
  requestAnimationFrame(() => requestAnimationFrame(() => {
    const asked = performance.getEntriesByType("resource").filter((each) => each.name.endsWith("/change")).at(-1);
    done([performance.now() - begun, asked.serverTiming[0].duration, asked.encodedBodySize]);
  }));
});
document.body.dispatchEvent(new KeyboardEvent("keydown", {key, bubbles: true}));
look();
"""


def main() -> None:
    """Serve, press, print."""
    with fresh_shop() as shop, serve(create_app(SETTINGS, shop)) as address, drive(address) as page:
        wait_until_drawn(shop)
        for family in FAMILIES:
            _measure(shop, page, family)


def _measure(shop: Shop, page: Page, family: str) -> None:
    saved = shop.read_recipes(family).rows[0]
    page.open(f"/table/{saved.id}")
    page.wait(lambda: page.count("tr.entry") > 0, "the Table")
    page.press(*[Keys.ARROW_DOWN] * 3)
    for number in range(WARM_UP):
        _press(page, "+-"[number % 2])
    page.wait(lambda: page.count("html[data-heads=painted]") > 0, "the heads to be painted")
    pressed = [_press(page, "+-"[number % 2]) for number in range(PRESSES)]
    whole, server, sizes = zip(*pressed, strict=True)
    print(f"{saved.recipe.name}: {describe(whole)} from press to picture, {max(sizes) / 1000:.0f} kB sent")
    print(f"baseline, the app's own time for it: median {statistics.median(server):.1f} ms")
    print(f"ratio {statistics.median(whole) / statistics.median(server):.1f} : 1 over {len(pressed)} presses")


def _press(page: Page, key: str) -> tuple[float, float, float]:
    found: list[float] = page.driver.execute_async_script(_PRESS, key)
    return found[0], found[1], found[2]
