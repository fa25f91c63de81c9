"""Takes the pictures of docs/screenshots from the running demo: ./run demo in one window, this in another. With the
word large, those of a shop of a thousand recipes instead, which is made, drawn (some minutes) and thrown away."""

import base64
import subprocess
import sys
import tempfile
from pathlib import Path

import httpx
from selenium.webdriver.common.keys import Keys

from bench.fresh import SETTINGS, fresh_shop
from bench.large import fill_goods, fill_recipes
from bench.shop import draw_shop
from mirvel.settings import PROJECT_ROOT, Settings
from mirvel.web.app import create_app
from tests.browser.driving import Page, drive
from tests.serving import serve

SHOTS = PROJECT_ROOT / "docs/screenshots"
_PATIENCE_S = 180  # what a slow machine takes for the whole shop’s repairs


def shoot(
    page: Page,
    name: str,
    path: str,
    size: tuple[int, int],
    *,
    opening: str = "",
    then: str = "body",
    waiting_for: str = "body",
    drawn: str = "",
) -> None:
    """One picture of a page, once it shows what is waited for and the pictures on it are drawn."""
    page.set_viewport(*size)
    page.open(path)
    page.wait(lambda: page.count(waiting_for) > 0, waiting_for, _PATIENCE_S)
    if opening:
        page.click(opening)
        page.wait(lambda: page.count(then) > 0, then)
    if drawn:
        ask = f"const all = [...document.querySelectorAll('{drawn}')];"
        ask += "const seen = all.filter(each => each.getBoundingClientRect().top < innerHeight);"
        ask += "return seen.length && seen.every(each => each.complete && each.naturalWidth)"
        page.wait(lambda: page.driver.execute_script(ask), "the pictures")
    page.wait(lambda: page.driver.execute_script("return document.fonts.status === 'loaded'"), "the fonts")
    picture = page.driver.execute_cdp_cmd("Page.captureScreenshot", {"format": "png"})["data"]
    (SHOTS / name).write_bytes(base64.b64decode(picture))


def bring_in_monday(client: httpx.Client) -> str:
    """Bring in the example list; returns its page."""
    file = PROJECT_ROOT / "docs/examples/monday-list.csv"
    return client.post("/suppliers/1/lists", files={"file": (file.name, file.read_bytes())}).headers["location"]


def take_in(client: httpx.Client, at: str) -> None:
    """Mend what stands in the way, and take the list in."""
    for row, price, pack in (("7", "1.30", "1"), ("8", "4.75", "10")):
        client.post(f"{at}/mend", data={"row": row, "price": price, "pack": pack})
    digest = client.get(at).text.split('name="digest" value="')[1].split('"')[0]
    client.post(f"{at}/take-in", data={"digest": digest})


def receive(client: httpx.Client) -> None:
    """A delivery with a few stems rejected."""
    client.post("/receiving", data={"supplier": "1"})
    for material, colour, stems in (
        ("Rose", "coral", "4 b"),
        ("Lily, oriental", "white", "20"),
        ("Hydrangea", "blue", "12"),
    ):
        client.post("/receiving/1/add", data={"material": material, "colour": colour, "stems": stems})
    client.post("/receiving/1/count", data={"received": "100", "rejected": "6", "reason": "broken"})


def shoot_meant(page: Page, client: httpx.Client) -> None:
    """The Table with the pane about what is meant by an entry, of a recipe that says some things."""
    for entry, words in (("e4", "stair 4 · side to side"), ("e8", "ring round 5")):
        work = client.get("/table/10").text
        read_at = work.partition('data-read-at="')[2].partition('"')[0]
        client.post("/table/10/change", data={"kind": "meant", "entry": entry, "value": words, "read_at": read_at})
    page.set_viewport(1280, 800)
    page.open("/table/10")
    page.press(*[Keys.ARROW_DOWN] * 4, "i")
    page.wait(lambda: page.count("#meant-text") > 0, "the pane")
    page.wait(lambda: page.count("html[data-heads=painted]") > 0, "the heads")
    page.settle()
    (SHOTS / "table-meant.png").write_bytes(page.driver.get_screenshot_as_png())


def shoot_findings(page: Page) -> None:
    """The Table with what is wrong at a lower price and height, and what puts the gravest right."""
    page.set_viewport(1280, 800)
    page.open("/table/10")
    page.type("#price", "38")
    page.press(Keys.ENTER)
    page.settle()
    page.press(Keys.ESCAPE, *["["] * 8)
    page.settle()
    page.press("r")
    page.wait(lambda: page.count("#put-right") > 0, "what puts it right")
    page.wait(lambda: page.count("html[data-heads=painted]") > 0, "the heads")
    (SHOTS / "table-findings.png").write_bytes(page.driver.get_screenshot_as_png())
    page.press("u", "u")


def shoot_printed(client: httpx.Client, name: str, path: str, sheet: int = 1) -> None:
    """A printed page, before anything of its recipe is changed."""
    with tempfile.TemporaryDirectory() as folder:
        pdf = Path(folder) / "printed.pdf"
        pdf.write_bytes(client.get(path).content)
        one = ["-f", str(sheet), "-l", str(sheet), "-singlefile"]
        subprocess.run(["pdftoppm", "-r", "96", "-png", *one, str(pdf), str(SHOTS / name)], check=True)


def shoot_standards(page: Page, client: httpx.Client) -> None:
    """A draft beside its standard; the change is taken back."""
    for kind, more in (("nudge", {"entry": "e6", "by": "-1"}), ("undo", {})):
        read_at = client.get("/table/10").text.partition('data-read-at="')[2].partition('"')[0]
        client.post("/table/10/change", data={"kind": kind, "read_at": read_at, **more})
        if kind == "nudge":
            shoot(page, "standards.png", "/standards/10", (1280, 800))


def shoot_large() -> int:
    """The Shelf of the shop that ./run bench shop measures."""
    with fresh_shop() as shop:
        fill_goods(shop)
        fill_recipes(shop)
        draw_shop(shop)
        with serve(create_app(SETTINGS, shop)) as address, drive(address) as page:
            shoot(
                page, "shelf-large.png", "/", (1280, 800), waiting_for="#shelves:not([hx-trigger])", drawn=".figure img"
            )
    return 0


def main() -> int:
    settings = Settings()
    address = f"http://{settings.host}:{settings.port}"
    httpx.get(address + "/healthz").raise_for_status()
    SHOTS.mkdir(parents=True, exist_ok=True)
    wide, done = (1280, 800), "#shelves:not([hx-trigger])"
    with drive(address) as page, httpx.Client(base_url=address, timeout=60) as client:
        shoot(page, "shelf.png", "/", wide, waiting_for=done, drawn=".figure img")
        shoot(
            page, "new-recipe.png", "/recipes/new", wide, waiting_for="#form-picks:not([hx-trigger])", drawn=".pick img"
        )
        shoot(page, "table.png", "/table/10", wide)
        shoot(page, "set.png", "/sets/harbour-light", (1280, 900), waiting_for=".set-members svg")
        shoot(page, "house.png", "/house", wide)
        shoot_printed(client, "card", "/card/10/card.pdf")
        shoot_printed(client, "making", "/card/14/making.pdf", 3)
        shoot_standards(page, client)
        shoot(page, "lists.png", "/card/14/lists?quantity=6", wide)
        shoot(page, "gallery.png", "/gallery", (1280, 1500), waiting_for="#forms:not([hx-trigger])", drawn=".forms img")
        shoot(page, "buckets.png", "/buckets?q=flower&in_season=true&no_scent=true", wide)
        at = bring_in_monday(client)
        shoot(page, "price-list.png", at, wide)
        take_in(client, at)
        receive(client)
        shoot(page, "table-fit.png", "/table/10", wide, opening="#ask-fit", then="#apply-fit")
        shoot(page, "ladder.png", "/ladder/10?prices=42,58,75,98", (1280, 900), waiting_for=".ladder-counts")
        client.post("/repairs/begin")
        shoot(page, "repairs.png", "/repairs", wide, waiting_for="#apply-repairs")
        shoot(page, "receiving.png", "/receiving", wide)
        shoot_meant(page, client)
        shoot_findings(page)
    return 0


if __name__ == "__main__":
    sys.exit(shoot_large() if sys.argv[1:] == ["large"] else main())
