"""Suppliers, price lists, the feed and receiving over real HTTP, from the file to the changed Shelf."""

import io
import re
from datetime import date
from decimal import Decimal

import httpx
import pytest
from pypdf import PdfReader

from mirvel.store.shop import Shop

LIST = (
    "Code,Article,Stems,Price\r\nR50,Rose,25,20.00\r\nSTK,Stock,10,£5.40\r\nQ,Rosse lang,25,10\r\nT,Anemone,10,=1+2\r\n"
)


def bring_in(web: httpx.Client, text: str | bytes, name: str = "monday.csv", supplier: int = 1) -> httpx.Response:
    files = {"file": (name, text if isinstance(text, bytes) else text.encode())}
    return web.post(f"/suppliers/{supplier}/lists", files=files, data={"since": date.today().isoformat()})


def get_group(page: str, state: str) -> list[str]:
    """Names of the rows of one fate."""
    found = re.search(rf'<details class="fate {state}".*?</details>', page, re.DOTALL)
    return re.findall(r"<td><b>([^<]+)</b>", found[0]) if found else []


def get_digest(page: str) -> str:
    found = re.search(r'name="digest" value="(\w+)"', page)
    assert found
    return found[1]


def test_a_list_is_looked_over_mended_matched_and_taken_in(web: httpx.Client, shop: Shop) -> None:
    at = bring_in(web, LIST).headers["location"]
    page = web.get(at).text
    assert get_group(page, "new-cost") == ["Rose", "Stock"]
    assert get_group(page, "refused") == ["Anemone"]
    assert "is a formula (=1+2); type its value" in page
    assert get_group(page, "unknown") == ["Rosse lang"]
    blocked = web.post(f"{at}/take-in", data={"digest": get_digest(page)})
    assert blocked.status_code == 422
    assert shop.goods.load().catalogue.materials["rose-standard"].cost == Decimal("0.60")
    assert web.post(f"{at}/mend", data={"row": "5", "price": "x", "pack": "10"}).status_code == 303
    assert 'value="x"' in web.get(at).text
    web.post(f"{at}/mend", data={"row": "5", "price": "4.00", "pack": "10"})
    web.post(f"{at}/match", data={"article": "q", "good": "materials/rose-long"})
    wrong = web.post(f"{at}/match", data={"article": "q", "good": "roses"})
    assert wrong.status_code == 422
    assert "none of the shop’s goods" in wrong.text
    page = web.get(at).text
    assert len(get_group(page, "new-cost")) == 4
    assert web.post(f"{at}/take-in", data={"digest": get_digest(page)}).status_code == 303
    assert shop.goods.load().catalogue.materials["anemone"].cost == Decimal("0.4547")  # 0.40 × 1.08 / 0.95
    again = web.get(bring_in(web, LIST.replace("=1+2", "4.00")).headers["location"]).text
    assert get_group(again, "unchanged") == ["Rose", "Stock", "Rosse lang", "Anemone"]
    assert web.post(f"{at}/set-aside").status_code == 422


def test_columns_are_chosen_and_remembered(web: httpx.Client) -> None:
    text = "Sorte;Inhalt;Euro\r\nRose;25;20,00\r\n"
    at = bring_in(web, text, supplier=2).headers["location"]
    assert "Choose the column" in web.get(at).text
    fields = {"heading_row": "1", "name": "Sorte", "code": "", "price": "Euro", "pack": "Inhalt", "unit": "",
              "price_per": "a pack or bunch", "decimal": "comma", "currency": "£", "since": ""}  # fmt: skip
    assert web.post(f"{at}/columns", data={**fields, "heading_row": "many"}).status_code == 422
    assert web.post(f"{at}/columns", data=fields).status_code == 303
    page = web.get(at).text
    assert get_group(page, "new-cost") == ["Rose"]
    web.post(f"{at}/take-in", data={"digest": get_digest(page)})
    remembered = web.get(bring_in(web, text.replace("20,00", "21,00"), supplier=2).headers["location"]).text
    assert get_group(remembered, "new-cost") == ["Rose"]


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (b"", "it is empty"),
        (b"PK\x03\x04nothing", "not a readable .xlsx"),
        (b"a,b\n" * 100_000, "more than 20,000 rows"),
    ],
)
def test_a_file_that_cannot_be_read_is_told_where_it_was_brought_in(
    web: httpx.Client, content: bytes, said: str
) -> None:
    answer = bring_in(web, content)
    assert answer.status_code == 422
    assert said in answer.text


def test_suppliers_are_added_and_their_terms_change(web: httpx.Client, shop: Shop) -> None:
    assert web.post("/suppliers", data={"name": "Breakwater Bulbs", "freight": "7,5", "dump": "4"}).status_code == 303
    assert shop.suppliers.load_all()[0].supplier.terms.freight == Decimal("0.075")
    for fields, said in (
        ({"name": "Breakwater Bulbs", "freight": "1", "dump": "1"}, "already"),
        ({"name": "Other", "freight": "lots", "dump": "1"}, "Type one such as 8 or 8.5"),
        ({"name": "Other", "freight": "1", "dump": "100"}, "dump"),
        ({"name": "", "freight": "1", "dump": "1"}, "name"),
    ):
        answer = web.post("/suppliers", data=fields)
        assert answer.status_code == 422
        assert said in answer.text
    assert web.post("/suppliers/999", data={"name": "x", "freight": "1", "dump": "1"}).status_code == 404
    assert web.get("/suppliers/lists/999").status_code == 404


def test_a_delivery_is_counted_in_labelled_and_told_on_the_suppliers_page(web: httpx.Client, shop: Shop) -> None:
    web.post("/receiving", data={"supplier": "1"})
    assert web.post("/receiving/1/add", data={"material": "Rose", "colour": "red", "stems": "4 b"}).status_code == 303
    assert web.post("/receiving/1/add", data={"material": "oriental lily", "stems": "20"}).status_code == 303
    for fields, said in (
        ({"material": "spike", "stems": "5"}, "Choose one"),
        ({"material": "moonflower", "stems": "5"}, "none of the shop’s"),
        ({"material": "Rose", "colour": "plaid", "stems": "5"}, "does not come in “plaid”"),
        ({"material": "Rose", "colour": "red", "stems": "some"}, "is not a count"),
    ):
        answer = web.post("/receiving/1/add", data=fields)
        assert answer.status_code == 422
        assert said in answer.text
        assert f'value="{fields["stems"]}"' in answer.text
    page = web.get("/receiving").text
    assert 0 < page.split('id="material-names"')[1].count("<option value=") < 40  # the rest as they are typed for
    assert '<option value="Freesia">' in web.get("/receiving/names", params={"material": "frees"}).text
    for words in ("Firm when squeezed gently", "Take out stamens", "Deadly to cats, the water too", "split or crush"):
        assert words in page
    web.post("/receiving/1/count", data={"received": "100", "rejected": "9", "reason": "broken"})
    assert shop.goods.load_stock("rose-standard") == {"red": 91}
    assert "9 of 120 stems rejected" in web.get("/suppliers").text
    variance = web.get("/buckets/materials/rose-standard").text
    assert "Usage variance" in variance
    pdf = PdfReader(io.BytesIO(web.get("/receiving/labels.pdf").content))
    assert len(pdf.pages) == 2
    assert float(pdf.pages[0].mediabox.width) == pytest.approx(100 / 25.4 * 72, abs=0.2)
    text = re.sub(r"\s+", " ", pdf.pages[0].extract_text())
    for words in ("Rose", "91 stems", "ready after 4 h", "wear gloves"):
        assert words in text
    answer = web.post("/receiving/print", data={})
    assert answer.status_code == 422
    assert "no label printer is set up" in answer.text
    assert web.post("/receiving/999/count", data={}).status_code == 404
