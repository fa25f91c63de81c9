"""The drawing in the real interface: turned, a head dragged and taken back, another day, the gallery."""

from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.select import Select

from mirvel.core.forms.kinds import FORMS
from mirvel.store.shop import Shop
from tests.browser.driving import Page

SLIPWAY = "/table/10"
# The first head in front that the pointer would really meet at its middle.
FIND_OPEN_HEAD = """
for (const piece of [...document.querySelectorAll(".front .piece [data-piece]")].reverse()) {
  const box = piece.getBoundingClientRect();
  const met = document.elementFromPoint(box.x + box.width / 2, box.y + box.height / 2);
  const id = piece.dataset.entry;
  if (["e5", "e6"].includes(id) && met && met.closest("[data-piece]") === piece) return piece;
}
"""


def read_title(page: Page) -> str:
    return page.driver.find_element(By.CSS_SELECTOR, "svg.drawing > title").get_attribute("textContent") or ""


def test_the_piece_turns_by_key_by_button_and_freely_and_comes_round_again(page: Page) -> None:
    page.open(SLIPWAY)
    front = page.driver.find_element(By.CSS_SELECTOR, "svg.drawing").get_attribute("outerHTML")
    page.press(".")
    page.wait(lambda: "from 7.5 o’clock" in read_title(page), "an eighth of a turn")
    page.click("#turn-right")
    page.wait(lambda: "from 9 o’clock" in read_title(page), "a quarter of a turn")
    page.driver.execute_script(
        "const turn = document.getElementById('hour'); turn.value = 10.4;"
        "turn.dispatchEvent(new Event('change', { bubbles: true }));"
    )
    page.wait(lambda: "from 10.4 o’clock" in read_title(page), "a free turn")
    for _ in range(7):
        said = read_title(page)
        page.press(",")
        page.wait(lambda said=said: read_title(page) != said, "the next turn")  # type: ignore[misc]
        page.settle()
    page.driver.execute_script(
        "const turn = document.getElementById('hour'); turn.value = 6;"
        "turn.dispatchEvent(new Event('change', { bubbles: true }));"
    )
    page.wait(lambda: "front and plan" in read_title(page), "the front again")
    page.settle()
    assert page.driver.find_element(By.CSS_SELECTOR, "svg.drawing").get_attribute("outerHTML") == front


def test_a_head_is_dragged_its_cut_changes_and_undo_brings_it_back(page: Page, shop: Shop) -> None:
    page.open(SLIPWAY)
    before = shop.load_recipe(10).recipe
    head = page.driver.execute_script(FIND_OPEN_HEAD)
    name = (head.get_attribute("data-entry"), head.get_attribute("data-piece"))
    webdriver.ActionChains(page.driver).move_to_element(head).click().perform()
    page.wait(lambda: page.count("#piece-strip") == 1, "the piece's own line")
    page.settle()
    cut = page.read("#piece-cut")
    page.wait(lambda: page.count(f".picked[data-entry={name[0]}][data-piece='{name[1]}']") > 0, "it to be marked")

    head = page.driver.execute_script(FIND_OPEN_HEAD)
    webdriver.ActionChains(page.driver).click_and_hold(head).move_by_offset(0, 30).move_by_offset(
        4, 40
    ).release().perform()
    page.wait(lambda: page.count("#let-go") == 1, "it to be held where it was left")
    page.settle()
    assert page.read("#piece-cut") != cut
    entry = shop.load_recipe(10).recipe.find_entry(name[0])
    assert entry is not None
    assert [pin.number for pin in entry.pins] == [int(name[1])]

    lowered = page.read("#piece-cut")
    for _ in range(4):
        keys = webdriver.ActionChains(page.driver)
        keys.key_down(Keys.SHIFT).send_keys(Keys.ARROW_UP).key_up(Keys.SHIFT).perform()
    page.wait(lambda: page.read("#piece-cut") != lowered, "it to be nudged up")
    page.settle()
    while shop.load_recipe(10).recipe != before:
        page.press("u")
        page.settle()
    page.wait(lambda: page.read("#piece-cut") == cut, "the cut it had")
    assert page.count("#hold") == 1


def test_another_day_and_the_piece_cut_open(page: Page) -> None:
    page.open(SLIPWAY)
    assert "good until day 8" in page.read(".day-words")
    page.click(".life .day:nth-of-type(11)")
    page.wait_text(".day-words", "day 9 after making: 17 open, 17 fading")
    page.settle()
    page.press(Keys.ARROW_RIGHT)
    page.wait_text(".day-words", "day 10")
    page.settle()
    page.press(Keys.ARROW_LEFT)
    page.wait_text(".day-words", "day 9")
    page.settle()
    Select(page.driver.find_element(By.ID, "view")).select_by_value("section")
    page.wait(lambda: "section and plan" in read_title(page), "the section")
    assert "Day 9" in page.read(".day-words")
    page.settle()
    page.click("#more-e6")  # a change is answered in the same way of looking
    page.wait_value("#pieces-e6", "8")
    assert "section and plan" in read_title(page)


def test_another_form_is_chosen_mirrored_and_placed_again(page: Page, shop: Shop) -> None:
    page.open(SLIPWAY)
    Select(page.driver.find_element(By.ID, "form")).select_by_value("one-sided")
    page.wait(lambda: shop.load_recipe(10).recipe.form == "one-sided", "the form to be kept")
    page.settle()
    page.click("#arranged summary")
    page.click("#mirror")
    page.wait(lambda: shop.load_recipe(10).recipe.arranging.mirrored, "it to be mirrored")
    page.settle()
    page.click("#again")
    page.wait(lambda: page.count(".rung") > 2, "others beside the piece as it is")
    before = shop.load_recipe(10).recipe
    assert before.arranging.attempt == 0
    page.click(".rung button")
    page.wait(lambda: shop.load_recipe(10).recipe.arranging.attempt > 0, "the rest to be placed again")
    page.wait_value("#name", "Slipway 42")
    assert page.count(".front .piece [data-piece]") > 50


def test_the_gallery_shows_every_form_and_head(page: Page) -> None:
    page.open("/gallery")
    assert page.count(".forms li") == len(FORMS)
    loaded = """
    const pictures = [...document.querySelectorAll(".gallery img")];
    pictures.forEach((picture) => { picture.loading = "eager"; });
    return pictures.length > 60 && pictures.every((picture) => picture.complete && picture.naturalWidth > 0);
    """
    page.wait(lambda: page.driver.execute_script(loaded), "every picture to be drawn")
