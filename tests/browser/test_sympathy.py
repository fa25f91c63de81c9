"""Sympathy work in the real interface: a set's palette, a cross changed by keys, a ring's card with its positions."""

import io

from pypdf import PdfReader
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.select import Select

from mirvel.store.shop import Shop
from tests.browser.driving import Page
from tests.serving import call


def get_id(shop: Shop, name: str) -> int:
    return next(saved.id for saved in shop.load_recipes() if saved.recipe.name.startswith(name))


def test_a_set_changes_its_palette_once_for_all(page: Page, shop: Shop) -> None:
    page.open(f"/table/{get_id(shop, 'Harbour Light, ring')}")
    page.click("#set-link")
    page.wait_text("#set-state", "all are true")
    assert page.count(".set-members svg") == 5
    before = page.read(".set-flowers")
    Select(page.driver.find_element(By.ID, "palette")).select_by_visible_text("rust and rope")
    page.click("#use-palette")
    page.wait(lambda: page.read(".set-flowers") != before, "the set in other colours")
    assert "rose, premium, white" not in page.read(".set-flowers").lower()
    assert "all are true" in page.read("#set-state").lower()


def test_a_cross_is_changed_by_keys(page: Page, shop: Shop) -> None:
    page.open(f"/table/{get_id(shop, 'Evening Bell')}")
    page.wait_value("#name", "Evening Bell 195")
    roses = int(page.value("#pieces-e5"))
    page.press(*[Keys.ARROW_DOWN] * 5, "-", "-")
    page.wait_value("#pieces-e5", str(roses - 2))
    page.wait_count('.front [data-entry="e5"]', roses - 2)
    titles = [
        title.get_attribute("textContent") or ""
        for title in page.driver.find_elements(By.CSS_SELECTOR, '.front [data-entry="e5"] title')
    ]
    assert all("arm" in title or "crossing" in title for title in titles)
    page.press("u")
    page.wait_value("#pieces-e5", str(roses - 1))
    page.press("u")
    page.wait_value("#pieces-e5", str(roses))


def test_the_card_of_a_ring_tells_its_positions(page: Page, shop: Shop) -> None:
    ring = get_id(shop, "Harbour Light, ring")
    page.open(f"/table/{ring}")
    page.press("k")
    page.wait(lambda: page.driver.title.endswith("Card"), "the card")
    answer = call("GET", f"{page.address}/card/{ring}/card.pdf")
    pdf = PdfReader(io.BytesIO(answer.content))
    words = " ".join((pdf.pages[0].extract_text() or "").split())
    assert len(pdf.pages) == 1
    assert "Drain upright" in words
    assert "outer side" in words
    assert "Every cut and place is on the making pages" in words
    making = call("GET", f"{page.address}/card/{ring}/making").text
    assert "12 o’clock" in making
    assert "outer side" in making
