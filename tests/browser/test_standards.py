"""A standard's life in the real interface: changed, compared, published, printed, retired."""

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.select import Select

from mirvel.store.shop import Shop
from tests.browser.driving import Page


def say(page: Page, form: str, who: str, why: str) -> None:
    page.driver.execute_script("document.querySelectorAll('details').forEach((pane) => (pane.open = true))")
    names = page.driver.find_element(By.CSS_SELECTOR, f"form[aria-label='{form}'] select[name=by]")
    Select(names).select_by_visible_text(who)
    page.type(f"form[aria-label='{form}'] input[name=why]", why)


def test_a_draft_is_published_printed_and_the_standard_retired(page: Page, shop: Shop) -> None:
    page.open("/table/10")
    page.wait_text("#standing", "standard 1, as published")
    page.click("#less-e6")
    page.wait_text("#standing", "draft beside standard 1")
    page.click("#standing a")
    page.wait_text(".what-changed", "7 → 6")
    say(page, "Publish", "Priya Sandell", "One carnation fewer.")
    page.click("#publish")
    page.wait_text("#standing-now", "is standard 2, as it was published")
    assert "in force" in page.read("#standard-2")
    assert "replaced by standard 2" in page.read("#standard-1")
    page.click("#standard-1 a.btn")
    page.wait_text("#standards-link", "standard 1")
    page.driver.switch_to.frame(page.driver.find_element(By.CSS_SELECTOR, "iframe"))
    page.wait_text("header .standing", "standard 1, not in force")
    page.driver.switch_to.default_content()
    page.click("#in-force-link")
    page.wait_text("#standards-link", "standard 2")
    page.click("#standards-link")
    say(page, "Retire", "Ines Harrow", "Not made any more.")
    page.click("#retire")
    page.wait_text("#standing-now", "no standard is in force")
    assert [each.number for each in shop.standards.load_all(10)] == [2, 1]
    assert shop.standards.find_in_force(10) is None


def test_lists_are_asked_for_several_and_a_standard_is_bound_into_a_book_by_hand(page: Page, shop: Shop) -> None:
    saved = next(each for each in shop.load_recipes() if each.recipe.family == "three-buoys")
    page.open(f"/card/{saved.id}")
    page.click("#lists-link")
    page.wait(lambda: page.count("#pull-list") == 1, "the lists")
    one = page.read("#pull-list tbody tr .count")
    page.type("#quantity", "6")
    page.press(Keys.ENTER)
    page.wait_text("#set-up-list", "each one takes")
    assert int(one) < int(page.read("#pull-list tbody tr .count")) <= 6 * int(one)
    page.open("/book?q=three+buoys")
    assert page.count(".book-price input:checked") == 1
    page.click("#bind")
    page.wait(lambda: page.count("#fetch-book") == 1, "the book", 90)
    assert "1 standard," in page.read("#the-book")
