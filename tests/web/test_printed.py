"""What is printed beside a card: its code, as a phone reads it, the lists for the bench, and what a customer gets."""

import io
import re
import subprocess
from pathlib import Path
from urllib.parse import urlsplit

import httpx
import pytest
import zxingcpp
from PIL import Image
from pypdf import PdfReader

from mirvel.store.shop import SavedRecipe, Shop
from mirvel.web import card
from mirvel.web.card import sheets
from tests.serving import read_when_done


@pytest.fixture
def saved(shop: Shop) -> SavedRecipe:
    return next(each for each in shop.load_recipes() if each.recipe.family == "three-buoys")


def read_codes(pdf: bytes, folder: Path) -> list[str]:
    """What a reader that the app knows nothing of finds on a print's first page, as sharp as an office scanner."""
    folder.mkdir(exist_ok=True)
    (folder / "page.pdf").write_bytes(pdf)
    command = ["pdftoppm", "-r", "150", "-gray", "-l", "1", "-singlefile", "-png", "page.pdf", "page"]
    subprocess.run(command, cwd=folder, check=True)
    return [code.text for code in zxingcpp.read_barcodes(Image.open(folder / "page.png"))]


def read_pages(answer: httpx.Response) -> list[str]:
    assert answer.status_code == 200, answer.text[:300]
    return [page.extract_text() for page in PdfReader(io.BytesIO(answer.content)).pages]


def test_the_code_on_a_card_leads_to_its_own_standard_and_a_draft_has_none(
    web: httpx.Client, address: str, shop: Shop, saved: SavedRecipe, tmp_path: Path
) -> None:
    for ink in ("colour", "grey"):
        (code,) = read_codes(web.get(f"/card/{saved.id}/card.pdf?ink={ink}").content, tmp_path)
        assert code == f"{address}/card/{saved.id}?standard=1"
    change = {"kind": "nudge", "entry": saved.recipe.entries[0].id, "by": "-1", "read_at": str(saved.state_id)}
    web.post(f"/table/{saved.id}/change", data=change)
    assert read_codes(web.get(f"/card/{saved.id}/card.pdf").content, tmp_path) == []
    parts = urlsplit(code)
    assert "Standard 1" in web.get(f"{parts.path}?{parts.query}").text  # which it still is, beside the draft


def test_lists_for_several_say_what_is_short_today_on_the_screen_and_in_print(
    web: httpx.Client, shop: Shop, saved: SavedRecipe
) -> None:
    entry = saved.recipe.entries[-1]
    page = web.get(f"/card/{saved.id}/lists?quantity=4").text
    assert "Short today" not in page  # nothing is counted in the buckets
    stems = int(re.findall(rf"{entry.colour}</td><td class=\"right count\">(\d+)", page)[-1])
    shop.goods.set_stock(entry.material, entry.colour, stems - 1)
    page = web.get(f"/card/{saved.id}/lists?quantity=4").text
    short = re.sub(r"<[^>]+>", "", page[page.index("Short today") :][:900])
    name = shop.goods.load().catalogue.get_name(entry.material)
    assert f"1 {name}, {entry.colour}" in short
    for paper in ("A4", "letter"):
        text = " ".join(read_pages(web.get(f"/card/{saved.id}/lists.pdf?quantity=4&paper={paper}")))
        assert f"4 × {saved.recipe.name}" in text
        assert all(word in text for word in ("Pull", "Count out", "Set up", "Standard 1", "Short"))
        assert "£" not in text
    for typed in ("0", "-2", "many", "501", "9" * 9):
        for what in ("lists", "labels.pdf"):
            answer = web.get(f"/card/{saved.id}/{what}", params={"quantity": typed})
            assert answer.status_code == 422
            assert "how many" in answer.text


def test_each_of_so_many_has_a_label_and_no_sheet_more_than_they_need(web: httpx.Client, saved: SavedRecipe) -> None:
    pages = read_pages(web.get(f"/card/{saved.id}/labels.pdf?quantity=25"))
    assert [page.count(saved.recipe.name) for page in pages] == [24, 1]
    assert [number for page in pages for number in re.findall(r"(\d+) of 25", page)] == [f"{n}" for n in range(1, 26)]


@pytest.mark.parametrize("paper", ["A4", "letter"])
def test_what_a_customer_gets_is_one_page_without_a_count_or_a_cost(
    web: httpx.Client, shop: Shop, saved: SavedRecipe, paper: str
) -> None:
    (sheet,) = read_pages(web.get(f"/card/{saved.id}/counter.pdf?paper={paper}"))
    assert sheet.count("£") == 1
    assert "£28" in sheet
    names = {shop.goods.load().catalogue.get_name(entry.material) for entry in saved.recipe.entries}
    assert all(name in sheet for name in names)
    listed = sheet[sheet.index("In it") : sheet.index("How it is kept")]
    assert not re.search(r"\d", listed)
    (small,) = read_pages(web.get(f"/card/{saved.id}/small.pdf?paper={paper}"))
    assert small.count(saved.recipe.name) == 2
    (slips,) = read_pages(web.get(f"/card/{saved.id}/slips.pdf?paper={paper}"))
    assert slips.count(saved.recipe.name) == 4
    assert slips.count("ripening fruit") == 4
    assert "£" not in slips


def test_standards_are_bound_into_a_book_whose_contents_and_index_lead_to_their_pages(
    web: httpx.Client, shop: Shop
) -> None:
    chosen = [each for each in shop.load_recipes() if each.recipe.family in {"three-buoys", "eelgrass", "plimsoll"}]
    choice = web.get("/book").text
    assert all(f'name="r{each.id}" value="1"' in choice for each in chosen)
    assert web.post("/book", data={"paper": "A4"}).status_code == 422
    assert web.post("/book", data={f"r{chosen[0].id}": "1", "paper": "A9"}).status_code == 422
    assert web.get("/book/made.pdf").status_code == 303
    data = {f"r{each.id}": "1" for each in chosen}
    assert web.post("/book", data={**data, "paper": "letter"}).headers["location"] == "/book/made"
    assert "3 standards" in read_when_done(web, "/book/made").text
    book = PdfReader(io.BytesIO(web.get("/book/made.pdf").content))
    pages = [page.extract_text() for page in book.pages]
    assert len(pages) == 6
    assert "3 standards" in pages[0]
    by_page = dict(enumerate(pages, 1))
    told = {name: int(page) for name, page in re.findall(r"^(\w[\w ]+? \d+)\D.*?(\d+)$", pages[1], re.MULTILINE)}
    assert told.keys() == {each.recipe.name for each in chosen}
    for name, page in told.items():
        assert name in by_page[page]
        assert re.search(rf"\b{page}\b", by_page[page])
    prices = {each.recipe.name: each.recipe.price_point for each in chosen}
    assert [prices[name] for name in sorted(told, key=told.__getitem__)] == sorted(prices.values())
    for each in chosen:
        for entry in each.recipe.entries:
            name = shop.goods.load().catalogue.get_name(entry.material)
            listed = re.search(rf"^{re.escape(name)}: ([\d, ]+)$", pages[-1], re.MULTILINE)
            assert listed
            assert str(told[each.recipe.name]) in listed[1].split(", ")
    titles = [str(item["/Title"]) for item in book.outline if not isinstance(item, list)]
    assert titles == ["£28", "£42", "£58"]


def test_a_print_asked_for_again_is_the_same_page_and_so_the_one_that_was_made(
    web: httpx.Client, saved: SavedRecipe, monkeypatch: pytest.MonkeyPatch
) -> None:
    """What a browser may style a page by is another each time: in a print it would have that printed anew."""
    pages: list[str] = []

    def take(printed: object, what: str, page: str, pictures: object = None) -> bytes:
        pages.append(page)
        return b"%PDF-"

    for module in (card, sheets):
        monkeypatch.setattr(module, "print_page", take)
    for what in ("card", "making", "gauge"):
        for _ in range(2):
            assert web.get(f"/card/{saved.id}/{what}.pdf").content == b"%PDF-"
        first, second = pages[-2:]
        assert first == second, what
