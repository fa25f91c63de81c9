"""The rooms against WCAG 2.2 A and AA rules, checked by a vendored open checker in the real browser."""

from pathlib import Path

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.driving import Page
from tests.serving import call

CHECKER = Path(__file__).with_name("vendor") / "axe.min.js"
WORK = [
    "/sets/two-bells",
    "/service/20",
    "/suppliers/lists/1",
    "/table/3?piece=e1.1",
    "/table/39",
]
BUYING = [
    "/checks",
    "/house",
    "/buckets?q=rose",
    "/buckets/materials/rose-standard",
    "/buckets/assemblies/bow-five",
    "/buckets/new",
    "/recipes/new",
    "/suppliers",
    "/receiving",
    "/repairs",
    "/repairs/11",
    "/ladder/11?prices=28,42",
    "/table/11/substitutes?entry=e1",
    "/table/11/again",
    "/standards/10",
    "/card/10/lists?quantity=3",
    "/house/price?price=42&becomes=45",
    "/book",
    "/standards/10/1",
    "/publish?price=42",
]
RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]


ALSO = {rule: {"enabled": True} for rule in ("landmark-one-main", "page-has-heading-one", "target-size")}
DRAWN = ("/table/10", "/table/10/places", "/gallery", "/card/11", "/card/11/sheet")


@pytest.mark.parametrize("path", ["/", *DRAWN, "/nowhere", *BUYING, *WORK])
def test_rooms_keep_to_wcag(page: Page, path: str) -> None:
    """Every page, panes open, with what a page has to have: one main landmark, a heading, targets large enough."""
    if path == "/suppliers/lists/1":
        call("POST", page.address + "/suppliers/1/lists", files={"file": ("a.csv", b"description,price\nRose,x\n")})
    if path == "/table/39":
        vessel = {"container": "flare-20", "mechanics": "tape grid"}
        call("POST", page.address + "/recipes", data={"name": "Empty 42", "price_point": "42", **vessel})
    page.set_viewport(1024, 768)
    page.open(path)
    page.wait(lambda: page.count(".going-on") == 0, "what takes seconds")
    if path == "/table/10":  # the pane about what is meant by an entry
        page.press(Keys.ARROW_DOWN, "i")
        page.wait_count("#meant-text", 1)
        page.settle()
    if path.startswith("/table/3?"):  # with what is wrong, and what puts it right
        page.type("#price", "20")
        page.press(Keys.ENTER)
        page.wait_text(".checks .stop", "over the flower money")
        page.press(Keys.ESCAPE, "r")
        page.wait_count(".mend", 1)
        page.settle()
    opening = "document.querySelectorAll('details:not(#arranged)').forEach((pane) => (pane.open = true))"
    page.driver.execute_script(opening)  # one pane lies over the others, and is not opened with them
    page.driver.execute_script(CHECKER.read_text("utf-8"))
    is_whole = page.count("body > main") == 1  # a part of a page, opened alone, has neither landmark nor heading
    script = (
        "axe.run({include: [['html']], exclude: [['svg > *']]},"  # hundreds of heads, all under one named picture
        "{runOnly: arguments[0], iframes: false, rules: arguments[1], resultTypes: ['violations'], selectors: false})"
        ".then(r => arguments[2]"
        "(r.violations.map(v => v.id + ': ' + v.nodes.slice(0, 3).map(n => n.html.slice(0, 160)).join(' | '))))"
    )
    assert page.driver.execute_async_script(script, RULES, ALSO if is_whole else {}) == []


def test_pieces_are_chosen_and_panes_and_typing_stay_by_keys_alone(page: Page) -> None:
    page.open("/table/10")
    page.press(Keys.ARROW_DOWN)
    page.press("o")
    page.wait(lambda: page.count("#piece-strip") == 1, "the piece chosen by key")
    first = page.driver.find_element(By.CSS_SELECTOR, "#piece-strip").get_attribute("data-piece")
    page.press("o")
    page.wait(lambda: page.count(f'#piece-strip:not([data-piece="{first}"])') == 1, "the next piece")
    page.settle()
    unnamed = "#work input:not([id]):not([type=hidden])"
    page.driver.execute_script("document.querySelectorAll('#work details').forEach((pane) => (pane.open = true))")
    page.driver.execute_script(f"const f = document.querySelector('{unnamed}'); f.focus(); f.value = '17'")
    page.driver.execute_script("""
        const { change, readAt } = document.getElementById("work").dataset;
        const values = { kind: "height-nudge", by: "1", read_at: readAt };
        htmx.ajax("POST", change, { target: "#work", swap: "keep settle:0ms", values });
    """)
    page.wait(lambda: page.value("#factor") != "1.75", "the answer to come in")
    page.settle()
    assert page.value(unnamed) == "17"
    assert page.count("#schools[open]") == 1


def test_everything_on_the_table_is_reached_and_named_without_a_mouse(page: Page) -> None:
    page.open("/table/10")
    script = """
        return [...document.querySelectorAll('button, input:not([type=hidden]), select, a, summary')]
          .filter(e => !e.closest('dialog') && !e.disabled)
          .filter(e => e.tabIndex < 0 || !(e.ariaLabel || e.textContent.trim() || e.labels?.length))
          .map(e => e.outerHTML)
    """
    assert page.driver.execute_script(script) == []
