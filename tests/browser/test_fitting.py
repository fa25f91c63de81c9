"""Fitting in the real interface: a price by key, a ladder, and a shop mended after a dear morning."""

from selenium.webdriver.common.by import By
from selenium.webdriver.support.select import Select

from mirvel.demo import get_recipes
from mirvel.devices.price_feed import PATH
from mirvel.devices.stand_in import StandIn
from mirvel.settings import Settings
from mirvel.store.shop import Shop
from mirvel.web.drifting import Drifter
from mirvel.web.feeding import Feeder
from tests.browser.driving import Page
from tests.serving import call


def test_a_recipe_is_fitted_by_key_and_what_still_fits_is_put_in(page: Page, shop: Shop) -> None:
    page.open("/table/10")
    page.press("f")
    page.wait(lambda: page.count("#apply-fit") == 1, "the fit")
    assert "Proven best" in page.read(".fit-words")
    left = page.read(".fit-words b")
    page.click("#apply-fit")
    page.wait(lambda: page.read("#spent") in left, "the sums to follow")
    page.settle()
    page.press("u")
    page.wait(lambda: page.read("#spent") not in left, "undo")
    page.settle()
    page.press("w")
    page.wait(lambda: page.count(".extra") > 0, "what fits")
    before = sum(entry.pieces for entry in shop.load_recipe(10).recipe.entries)
    page.settle()
    page.click(".extras li:last-child .extra")
    page.wait(lambda: sum(entry.pieces for entry in shop.load_recipe(10).recipe.entries) != before, "the extra")
    page.settle()
    assert page.count("#fill") == 1
    assert "true" in page.read("#fill")


def test_a_ladder_is_climbed_and_published(page: Page, shop: Shop) -> None:
    page.open("/table/10")
    page.click("#ladder-link")
    page.wait(lambda: page.count("#prices") == 1, "the ladder")
    page.type("#prices", "42, 58, 75")
    page.click("#climb")
    page.wait(lambda: page.count(".rung svg") == 3, "three rungs")
    page.settle()
    assert page.count(".ladder-counts .more") > 3
    page.click("#publish")
    page.wait(lambda: page.count(".drafts li") == 3, "the rungs as drafts")
    slipways = [saved for saved in shop.load_recipes() if saved.recipe.family == "slipway"]
    assert [saved.recipe.name for saved in slipways] == ["Slipway 42", "Slipway 58", "Slipway 75"]
    Select(page.driver.find_element(By.CSS_SELECTOR, "select[name=by]")).select_by_visible_text("Priya Sandell")
    page.type("input[name=why]", "A ladder of three.")
    page.click("#publish")
    page.wait(lambda: page.count(".shelves") == 1, "the Shelf")
    assert [len(shop.standards.load_all(saved.id)) for saved in slipways] == [2, 1, 1]


def test_after_a_dear_morning_the_shop_is_repaired_and_the_shelf_is_true_again(
    page: Page, shop: Shop, feed: StandIn
) -> None:
    call("POST", feed.url + "/mode", content="mode=dear")  # roses 33 % dearer
    settings = Settings(feed_url=feed.url + PATH, feed_patience_s=20)  # the shop of the test before is still drawn
    assert Feeder(settings, shop, Drifter(shop)).pull().went_well
    page.open("/")
    page.wait(lambda: page.count(".standing.false .cause") > 0, "the drift with its causes")
    page.settle()
    page.open("/repairs")
    page.wait(lambda: page.count("#begin-repairs") == 1, "the list")
    page.click("#begin-repairs")
    page.wait(lambda: page.count("#apply-repairs") == 1, "the repairs", 90)
    page.settle()
    page.click("#apply-repairs")
    page.wait(lambda: "every recipe is true" in page.read("#repair-state").lower(), "all mended")
    page.open("/")
    page.wait(lambda: page.count(".standing .true") == len(get_recipes()), "the Shelf true again")
    assert page.count(".standing.false") == 0
