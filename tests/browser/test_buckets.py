"""Buckets, a price list and drift in the real interface."""

from pathlib import Path

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from mirvel.core.buying.review import GoodRef
from mirvel.core.goods.catalogue import GoodsKind
from mirvel.demo import get_catalogue
from mirvel.store.shop import Shop
from tests.browser.driving import Page

LIST = "Code,Article,Stems,Price\r\nR50,Rose,25,18.60\r\nSTK,Stock,10,-5.40\r\nL50,Premium rose,25,26\r\n"


def type_into(page: Page, css: str, text: str) -> None:
    """Replace what a field holds, as a person does, and leave it."""
    field = page.driver.find_element(By.CSS_SELECTOR, css)
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys(text, Keys.TAB)


def test_search_as_one_types_and_tick(page: Page) -> None:
    page.open("/buckets")
    assert page.read(".tally").startswith(f"{len(get_catalogue().materials)} materials")
    page.driver.find_element(By.CSS_SELECTOR, "#q").send_keys("rosa")
    page.wait(lambda: page.count("tr.good") == 4, "the four roses")
    assert page.count("tr.good td:first-child svg") == 4
    page.driver.find_element(By.CSS_SELECTOR, "input[name=no_scent]").click()
    page.wait(lambda: page.read(".tally").startswith("0 "), "no rose without scent")
    page.driver.find_element(By.CSS_SELECTOR, "input[name=no_scent]").click()
    page.wait(lambda: page.count("tr.good") == 4, "the roses again")
    assert "q=rosa" in page.driver.current_url
    page.driver.find_element(By.CSS_SELECTOR, ".kinds label:nth-child(2)").click()
    page.wait(lambda: page.read(".tally").startswith("0 containers"), "no container is called so")


def test_a_cost_is_edited_in_place_and_bad_input_is_kept(page: Page, shop: Shop) -> None:
    page.open("/buckets?q=rosa")
    type_into(page, "#cost-rose-standard", "cheap")
    page.wait(lambda: page.count("#row-rose-standard .cell-problem") == 1, "what is wrong")
    page.settle()
    assert page.value("#cost-rose-standard") == "cheap"
    assert "Type one such as 0.62" in page.read("#row-rose-standard .cell-problem")
    type_into(page, "#cost-rose-standard", "0.71")
    page.wait_value("#cost-rose-standard", "0.7100")
    assert page.count(".cell-problem") == 0
    cost = shop.goods.load().catalogue.materials["rose-standard"].cost
    assert f"{cost:.2f}" == "0.71"


def test_a_list_with_errors_is_mended_in_the_preview_and_the_shelf_shows_the_drift(
    page: Page, shop: Shop, tmp_path: Path
) -> None:
    file = tmp_path / "monday.csv"
    file.write_text(LIST, "utf-8", newline="")
    page.open("/suppliers")
    page.driver.find_element(By.CSS_SELECTOR, "#supplier-1 input[type=file]").send_keys(str(file))
    page.click("#supplier-1 .bring-in button")
    page.wait(lambda: page.count("#preview") == 1, "the preview")
    assert "1 row stands in the way" in page.read(".standing-in-the-way")
    assert page.driver.find_element(By.CSS_SELECTOR, "#take-in").get_attribute("disabled")
    type_into(page, "#price-3", "5.40")
    page.click("#line-3 .mend-form button")
    page.wait(lambda: page.count(".standing-in-the-way") == 0, "nothing in the way")
    page.settle()
    page.click("#line-4 .suggest button")
    page.wait(lambda: page.count(".unknown") == 0, "the article matched")
    page.settle()
    page.click("#take-in")
    page.wait(lambda: page.count(".stamp") == 1, "the stamp")
    assert "Taken in: 3 prices" in page.read(".said")
    assert len(shop.prices.load_history(GoodRef(GoodsKind.MATERIALS, "rose-standard"))) == 2

    page.open("/")
    page.wait(lambda: page.count(".standing.false .cause") > 0, "the drift with its causes")
    slipway = '.standing.false[href="/table/10"]'
    assert "over" in page.read(f"{slipway} .over")
    # 18.60 / 25 × 1.08 / 0.95 is 0.8458, 41 % over 0.60; five roses are 1.23 dearer (by hand, counts from its file).
    assert page.read(f"{slipway} .cause") == "Rose +41 %: −£1.23 a piece"
    assert "false at today’s costs" in page.read(".false-count")


def test_stems_are_counted_in_at_the_door(page: Page, shop: Shop) -> None:
    page.open("/receiving")
    page.click("#begin-delivery")
    page.wait(lambda: page.count("#material-1") == 1, "the delivery")
    for css, text in (("#material-1", "Rose"), ("#colour-1", "red"), ("#stems-1", "2 b")):
        type_into(page, css, text)
    page.click(".delivery .terms button")
    page.wait_value("#received-1", "50")
    page.settle()
    type_into(page, "#rejected-1", "4")
    page.wait(lambda: shop.goods.load_stock("rose-standard") == {"red": 46}, "the stock to follow")
    page.settle()
    assert "Firm when squeezed" in page.read("#line-1 .judge")


def test_a_made_ahead_bow_and_a_third_of_a_brick_are_put_on_the_table_by_hand(page: Page, shop: Shop) -> None:
    page.open("/table/10")
    before = page.read("#room-left")
    page.press("/")
    page.driver.find_element(By.CSS_SELECTOR, "#add").send_keys("bow, five", Keys.ENTER)  # before it can be found
    page.wait(lambda: page.count("tr.entry.chosen") == 1, "the new entry, chosen")
    bow = next(entry.id for entry in shop.load_recipe(10).recipe.entries if entry.material == "bow-five")
    assert page.count(f'.front [data-entry="{bow}"]') == 1
    assert page.read("#room-left") != before
    page.click("#hard-goods summary")
    page.wait(lambda: page.count("#hard-goods[open]") == 1, "the hard goods")
    type_into(page, "#use-tape-clear-6", "1/3")
    page.wait(lambda: shop.load_recipe(10).recipe.hard_goods[0].divided_by == 3, "the fraction to be kept")
    page.settle()
    assert page.value("#use-tape-clear-6") == "1/3"
    assert page.count("#hard-goods[open]") == 1
    type_into(page, "#use-tape-clear-6", "a bit")
    page.wait(lambda: page.count(".problems") == 1, "what is wrong")
    page.settle()
    assert page.value("#use-tape-clear-6") == "a bit"


def test_a_materials_own_page_changes_in_place_and_says_what_it_cannot_take(page: Page, shop: Shop) -> None:
    page.open("/buckets/materials/tulip")
    type_into(page, "#f-season", "Dec-May")
    page.wait(lambda: shop.goods.load().catalogue.materials["tulip"].season == (1, 2, 3, 4, 5, 12), "the season")
    page.settle()
    type_into(page, "#f-head_open_cm", "wide")
    page.wait(lambda: page.count(".problems") == 1, "what is wrong")
    page.settle()
    assert "Type a number such as 12.5." in page.read(".problems")
    assert page.value("#f-head_open_cm") == "wide"
    type_into(page, "#cost", "0.55")
    page.click(".cost-form button")
    page.wait(lambda: "0.5500" in page.read(".prices tbody tr:first-child"), "the new price in the history")
    assert page.count("svg.history circle") == 2
    page.click("#retire")
    page.wait(lambda: page.read("#retire") == "Take up again", "it retired")
    page.open("/buckets?q=tulip")
    assert page.read(".tally").startswith("2 materials")
