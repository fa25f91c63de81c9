"""The main job in the real interface: shelf, recipe, a count by key, money and drawing, undo, the printed card."""

import io
import re
from urllib.parse import urlencode

import pytest
from pypdf import PdfReader
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.select import Select

from mirvel.demo import get_recipes
from mirvel.store.shop import Shop
from tests.browser.driving import Page
from tests.serving import call


def open_slipway(page: Page) -> None:
    page.open("/table/10")
    page.wait_value("#name", "Slipway 42")


def test_open_change_by_key_undo_print(page: Page, shop: Shop) -> None:
    page.open("/")
    page.wait_count("a.standing img", len(get_recipes()))
    page.click('a.standing[href="/table/10"]')
    page.wait_value("#name", "Slipway 42")
    snapdragons = '.front [data-entry="e4"]'
    assert (page.value("#pieces-e4"), page.read("#spent"), page.count(snapdragons)) == ("3", "£10.11", 3)

    page.press(*[Keys.ARROW_DOWN] * 4, "+", "+")
    page.wait_value("#pieces-e4", "5")
    assert page.read("#spent") == "£11.31"
    assert page.read("#room-left") == "−£1.04"
    assert page.count(snapdragons) == 5
    assert "over" in page.read(".checks .stop")
    assert page.count("tr.entry.chosen[data-entry=e4]") == 1

    page.press("u")
    page.wait(lambda: page.value("#pieces-e4") != "5", "one step back")
    while page.value("#pieces-e4") != "3":
        page.press("u")
        page.wait_value("#pieces-e4", "3")
    assert (page.read("#spent"), page.count(snapdragons)) == ("£10.11", 3)
    page.press("U")
    page.wait(lambda: page.value("#pieces-e4") in {"4", "5"}, "redo")

    count = page.value("#pieces-e4")
    page.press("k")
    page.wait(lambda: page.count("#pdf-a4") == 1, "the card")
    link = page.driver.find_element(By.CSS_SELECTOR, "#pdf-a4").get_attribute("href") or ""
    text = " ".join(PdfReader(io.BytesIO(call("GET", link).content)).pages[0].extract_text().split())
    for entry in shop.load_recipe(10).recipe.entries:
        expected = int(count) if entry.id == "e4" else entry.pieces
        assert re.search(rf", {entry.colour} {entry.role.value}[a-z, ]* {expected} ", text), entry


def test_price_vessel_and_measure_by_keys(page: Page, shop: Shop) -> None:
    open_slipway(page)
    page.press("p")
    page.wait(lambda: page.driver.switch_to.active_element.get_attribute("id") == "price", "the price field")
    page.press("5", "8", Keys.ENTER)
    page.wait(lambda: page.read("#flower-money") == "£14.72", "the money of 58")
    page.press(Keys.ESCAPE, "v")
    page.wait(lambda: page.driver.switch_to.active_element.get_attribute("id") == "vessel", "the vessel field")
    Select(page.driver.find_element(By.ID, "vessel")).select_by_value("cylinder-15x20")
    page.press(Keys.ESCAPE, "m")  # before the answer: the field stays marked when it comes
    page.wait(lambda: page.driver.switch_to.active_element.get_attribute("id") == "factor", "the measure field")
    page.press("2", Keys.ENTER)
    page.wait(lambda: page.read(".front .height text") == "40 cm", "twice the vase")
    page.press(Keys.ESCAPE, "]")
    page.wait(lambda: page.read(".front .height text") == "41 cm", "one step taller")
    assert shop.load_recipe(10).recipe.container == "cylinder-15x20"


_SHOWN = r"""
const shown = document.querySelector(".sheet .drawing").cloneNode(true);
for (const each of shown.querySelectorAll("[class=''], .lit, .picked")) each.removeAttribute("class");
const known = new Set([...document.querySelectorAll("#art [id]")].map((each) => `#${each.id}`));
const missing = [...shown.querySelectorAll("use")].filter((each) => !known.has(each.getAttribute("href")));
const facts = (node) => [...node.attributes].map((each) => `${each.name}=${each.value}`).sort();
const write = (node) =>
  node.nodeName === "#text" ? node.nodeValue : [node.nodeName, ...facts(node), ...each(node)].join(" ");
const each = (node) => [...node.childNodes].map(write);
return [write(shown), document.querySelector(".money").textContent.replace(/\s+/g, " "), missing.length];
"""


@pytest.mark.parametrize("family", ["slipway", "evening-bell"])
def test_what_stands_after_many_changes_is_what_a_new_page_shows(page: Page, shop: Shop, family: str) -> None:
    saved = shop.read_recipes(family).rows[0]
    page.open(f"/table/{saved.id}")
    page.press(*[Keys.ARROW_DOWN] * 3)
    for key in ("+", "+", "]", ".", "-", "u", "o", ",", "U"):
        page.press(key)
        page.settle()
    page.wait(lambda: page.driver.execute_script("return !document.querySelector('#work').ariaBusy"), "all answers")
    laid_over = page.driver.execute_script(_SHOWN)
    looked = {"hour": page.value("#hour"), "piece": page.value("#looking [name=piece]")}
    page.open(f"/table/{saved.id}?{urlencode(looked)}")
    assert page.driver.execute_script(_SHOWN) == laid_over
    assert laid_over[2] == 0


def test_a_page_that_has_lost_what_it_said_it_had_takes_all_of_it_again(page: Page, shop: Shop) -> None:
    open_slipway(page)
    heads = page.count(".front .piece [data-piece]")
    page.driver.execute_script("""
        document.querySelector(".front .piece [data-piece]").remove();
        document.getElementById("out-e1").remove();
    """)
    page.press(*[Keys.ARROW_DOWN] * 5, "+")
    page.wait_value("#pieces-e5", "6")
    page.wait_count(".front .piece [data-piece]", heads + 1)
    assert page.count("#out-e1") == 1


def test_bad_counts_are_told_beside_the_entry_and_kept(page: Page, shop: Shop) -> None:
    open_slipway(page)
    before = shop.load_recipe(10).state_id
    for typed in ("-1", "10000", "abc"):
        page.type("#pieces-e5", typed + Keys.ENTER)
        page.wait_text(".problems", f"({typed})")
        assert page.value("#pieces-e5") == typed
        assert page.read(".problems").startswith("entry 5, pieces")
    page.click("#entry-by-entry summary")
    page.type("#least-e4", "many" + Keys.ENTER)
    page.wait_text(".problems", "entry 4, least")
    page.settle()
    assert page.value("#least-e4") == "many"
    assert shop.load_recipe(10).state_id == before


def test_quick_presses_are_all_counted(page: Page, shop: Shop) -> None:
    open_slipway(page)
    page.press(Keys.ARROW_DOWN, *"++++++++--+")
    page.wait_value("#pieces-e1", "16")
    page.wait(lambda: shop.load_recipe(10).recipe.entries[0].pieces == 16, "all of them saved")


def test_what_is_typed_while_an_answer_comes_in_stays(page: Page, shop: Shop) -> None:
    open_slipway(page)
    page.driver.execute_script(
        """document.querySelector('#more-e5').click();
           const price = document.querySelector('#price'); price.focus(); price.value = '5';"""
    )
    page.wait_value("#pieces-e5", "6")
    assert page.value("#price") == "5"
    page.press(Keys.END, "8", Keys.ENTER)
    page.wait(lambda: page.read("#flower-money") == "£14.72", "the money of 58")
    assert shop.load_recipe(10).recipe.price_point == 58


def test_the_school_is_changed_in_its_pane_which_stays_open(page: Page) -> None:
    open_slipway(page)
    page.click("#schools summary")
    Select(page.driver.find_element(By.ID, "school")).select_by_value("slices of the price")
    page.wait(lambda: page.read("#flower-money") == "£13.87", "the money of slices")
    assert page.driver.find_element(By.ID, "minutes").is_displayed()


def test_a_change_that_cannot_be_saved_is_told_and_work_goes_on(page: Page, shop: Shop) -> None:
    open_slipway(page)
    page.press(*[Keys.ARROW_DOWN] * 5)
    page.driver.set_network_conditions(offline=True, latency=0, throughput=-1)
    page.press("+")
    page.wait_text(".problems", "your last change was not saved")
    assert page.value("#pieces-e5") == "5"
    page.driver.set_network_conditions(offline=False, latency=0, throughput=-1)
    page.press("+")
    page.wait_value("#pieces-e5", "6")
    assert page.count(".problems") == 0


def test_a_new_recipe_from_scratch(page: Page) -> None:
    page.open("/")
    page.click('[href="/recipes/new"]')
    page.type("#new-name", "Pilot 28")
    page.type('[name="price_point"]', "28")
    page.click('[name="form"][value="compact dome"]')
    page.wait_text("#vessels legend", "compact dome")
    page.click('[name="container"][value="cube-10"]')
    page.click(".begin .btn-primary")
    page.wait_value("#name", "Pilot 28")
    for number, word in enumerate(("salal", "rose", "carnation"), 1):
        page.press("/")
        page.wait(lambda: page.driver.switch_to.active_element.get_attribute("id") == "add", "the add field")
        page.press(*word)
        page.wait_text("#found .choice", word)
        page.press(Keys.ENTER)
        page.wait_count("tr.entry", number)
        page.press("+", "+")
        page.wait_value(f"#pieces-e{number}", "3")
    assert page.count(".front [data-entry]") == 9


def test_single_keys_can_be_switched_off_and_never_act_inside_fields(page: Page, shop: Shop) -> None:
    open_slipway(page)
    before = shop.load_recipe(10).state_id
    page.press("?")
    page.wait(lambda: page.driver.find_element(By.ID, "single-keys").is_displayed(), "the keys")
    page.click("#single-keys")
    page.press(Keys.ESCAPE)
    page.wait(lambda: not page.driver.find_element(By.ID, "single-keys").is_displayed(), "the keys closed")
    page.press("]", "u", "k")
    assert page.value("#name") == "Slipway 42"
    page.driver.execute_script("localStorage.clear()")
    page.click("#name")
    page.press(Keys.END, "u", "]")
    assert page.value("#name") == "Slipway 42u]"
    assert shop.load_recipe(10).state_id == before


@pytest.mark.parametrize(
    ("path", "size"), [("/table/10", (1280, 800)), ("/table/10", (1024, 768)), ("/table/12", (1280, 800))]
)
def test_money_and_drawing_are_seen_together_without_scrolling(page: Page, path: str, size: tuple[int, int]) -> None:
    page.set_viewport(*size)
    page.open(path)
    script = "const b = document.querySelector(arguments[0]).getBoundingClientRect(); "
    script += "return [b.left, b.top, b.right, b.bottom]"
    for css in (".drawing", ".tube", "#fill", ".recipe-name", "#add"):
        left, top, right, bottom = page.driver.execute_script(script, css)
        assert left >= 0
        assert top >= 0
        assert right <= size[0]
        assert bottom <= size[1], css
    width, height = page.driver.execute_script(
        "const r = document.documentElement; return [r.scrollWidth, r.scrollHeight]"
    )
    assert width <= size[0]
    assert height <= size[1]
    page.set_viewport(1280, 800)
