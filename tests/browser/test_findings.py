"""What is wrong, in the real interface: it lights up where it is, is put right by keys, or let stand with a reason."""

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from mirvel.store.shop import Shop
from tests.browser.driving import Page


def test_a_finding_lights_up_is_put_right_by_keys_and_another_is_let_stand(page: Page, shop: Shop) -> None:
    page.open("/table/10")
    page.wait_value("#name", "Slipway 42")
    assert "checks are silent" in page.read(".checks .well")
    page.type("#price", "38")
    page.press(Keys.ENTER)
    page.wait_text(".checks .stop", "over the flower money")
    page.press(Keys.ESCAPE, *["["] * 9)
    page.wait_text(".checks .note", "less than a third of the flower")
    stop, note = (page.driver.find_element(By.CSS_SELECTOR, f".checks .{grade}") for grade in ("stop", "note"))
    assert note.rect["y"] > stop.rect["y"]
    assert stop.rect["y"] + stop.rect["height"] < 800  # in sight beside drawing and money

    page.settle()
    page.driver.execute_script("document.querySelector('.checks .note').focus()")
    page.wait(lambda: page.count(".lighting .drawing g.there") > 0, "what it is seen at to light up")
    lit = page.driver.find_elements(By.CSS_SELECTOR, ".drawing .piece.there, .drawing g.there")
    assert {each.get_attribute("data-entry") for each in lit} == {"e4"}

    page.press("r")
    page.wait(lambda: page.driver.switch_to.active_element.get_attribute("id") == "put-right", "what puts it right")
    assert "fewer" in page.read(".mend")
    page.press(Keys.ENTER)
    page.wait(lambda: page.count(".checks .stop") == 0, "the stop to be gone")
    assert shop.load_recipe(10).recipe.price_point == 38

    page.click(".checks .note summary")
    page.type(".checks .note input[name=value]", "asked for low")
    page.press(Keys.ENTER)
    page.wait(lambda: page.count("#accepted") == 1, "it to be let stand")
    page.click("#accepted summary")
    page.wait_text("#accepted", "asked for low")
    page.press("u")
    page.wait(lambda: page.count("#accepted") == 0, "it to be told again")
