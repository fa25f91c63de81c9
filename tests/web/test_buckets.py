"""Buckets over real HTTP: the ledger and its filters, one good changed in every way, exports, bad input kept."""

import csv
import io
import re
import zipfile
from decimal import Decimal

import httpx
import pytest
from openpyxl import load_workbook

from mirvel.core.goods.catalogue import GoodsKind
from mirvel.store.shop import Shop
from tests.serving import read_when_done

FRAGMENT = {"HX-Request": "true"}
ROSE = "/buckets/materials/rose-standard"


def get_names(page: str) -> list[str]:
    return re.findall(r'<td class="naming"><a href="[^"]+">([^<]+)<', page)


@pytest.mark.parametrize(
    ("asked", "first", "count"),
    [
        ({"q": "matthiola"}, "Stock", 1),
        ({"q": "ranunculus", "colour": "apricot"}, "Ranunculus", 1),
        ({"form": "bird"}, "Bird of paradise", 3),
        ({"q": "lily", "cats": "true"}, "Lily grass", None),
        ({"kind": "containers", "q": "cube"}, "Glass cube, 10 cm", 3),
        ({"kind": "hard_goods", "q": "ribbon satin 16"}, "Ribbon, satin, 16 mm", 1),
        ({"kind": "assemblies", "q": "bow"}, "Bow, five loops", 2),
        ({"kind": "containers", "q": "compote", "role": "line", "no_scent": "true"}, "Compote, footed bowl, 15 cm", 2),
        ({"q": "no such thing at all"}, None, 0),
    ],
)
def test_goods_are_found_by_what_is_typed_and_ticked(
    web: httpx.Client, asked: dict[str, str], first: str | None, count: int | None
) -> None:
    whole, part = web.get("/buckets", params=asked), web.get("/buckets", params=asked, headers=FRAGMENT)
    names = get_names(part.text)
    assert names == get_names(whole.text)
    assert names[:1] == ([first] if first else [])
    assert count is None or len(names) == count
    assert whole.text.startswith("<!doctype html>")
    assert "<html" not in part.text


def test_every_page_of_the_ledger_and_every_good_opens(web: httpx.Client, shop: Shop) -> None:
    seen = []
    for page in range(1, 5):
        seen += get_names(web.get("/buckets", params={"page": page}, headers=FRAGMENT).text)
    goods = shop.goods.load().catalogue
    assert len(seen) == len(goods.materials)
    for kind in GoodsKind:
        for slug in list(getattr(goods, kind))[::9]:
            answer = web.get(f"/buckets/{kind}/{slug}")
            assert answer.status_code == 200, slug
    assert web.get("/buckets/materials/moonflower").status_code == 404
    assert web.get("/buckets", params={"under": "cheap"}).status_code == 422


def test_a_cost_typed_in_the_ledger_answers_with_the_row_and_reaches_recipes(web: httpx.Client, shop: Shop) -> None:
    typed = {"at": "row", "value": "0,80", "change_of": "cost"}
    answer = web.post(f"{ROSE}/cost", data=typed, headers=FRAGMENT)
    assert answer.status_code == 200
    assert answer.text.strip().startswith("<tr")
    assert 'value="0.8000"' in answer.text
    fender = next(saved for saved in shop.load_recipes() if saved.recipe.family == "fender")
    assert "over" in web.get(f"/table/{fender.id}").text
    wrong = web.post(f"{ROSE}/cost", data={**typed, "value": "eighty"}, headers=FRAGMENT)
    assert wrong.status_code == 422
    assert 'value="eighty"' in wrong.text
    assert "Type one such as 0.62." in wrong.text
    assert shop.goods.load().catalogue.materials["rose-standard"].cost == Decimal("0.80")


@pytest.mark.parametrize(
    ("change", "typed", "said"),
    [
        ("fact", {"field": "season", "value": "Brumaire"}, "“Brumaire” is not a month"),
        ("fact", {"field": "slug", "value": "x"}, "has no “slug” to change"),
        ("cost", {"value": "-1"}, "is not an amount"),
        ("cost", {"value": "0.123456"}, "more than 4 decimal places"),
        ("cost", {"value": "1e999999999"}, "is not an amount"),
        ("stock", {"colour": "red", "value": "lots"}, "Type a whole number from 0 to 100,000"),
        ("colour", {"colour": "", "code": "#ffffff"}, "has no name"),
        ("colour", {"colour": "puce", "code": "reddish"}, "holds characters it cannot have"),
        ("drop-colour", {"colour": "coral"}, "coral is used in"),
        ("part", {"part": "tulip", "quantity": "1"}, "cannot be changed so"),
        ("fact", {"field": "note", "value": "a\x00b"}, "holds characters"),
        ("dance", {}, "is not a change Mirvel knows"),
    ],
)
def test_bad_input_names_the_field_and_changes_nothing(
    web: httpx.Client, shop: Shop, change: str, typed: dict[str, str], said: str
) -> None:
    before = shop.goods.load().catalogue.materials["rose-standard"]
    answer = web.post(f"{ROSE}/{change}", data=typed)
    assert answer.status_code == 422
    assert said in answer.text
    assert shop.goods.load().catalogue.materials["rose-standard"] == before


def test_add_copy_recolour_and_retire(web: httpx.Client, shop: Shop) -> None:
    sizes = {
        "head_tight_cm": "3",
        "head_open_cm": "3",
        "head_length_cm": "3",
        "stem_length_cm": "60",
        "stem_diameter_mm": "5",
    }
    sold = {"pieces_per_stem": "4", "bunch_stems": "10", "cost": "0.75", "colour": "steel", "code": "#7f93a8"}
    fresh = {
        "goods": "materials",
        "name": "Sea holly trial",
        "form": "globe",
        "default_role": "texture",
        **sizes,
        **sold,
    }
    made = web.post("/buckets/new", data=fresh)
    assert made.headers["location"] == "/buckets/materials/sea-holly-trial"
    again = web.post("/buckets/new", data=fresh)
    assert again.status_code == 422
    assert "is there already" in again.text
    assert 'value="Sea holly trial"' in again.text
    assert (
        web.post("/buckets/materials/sea-holly-trial/colour", data={"colour": "white", "code": "#f4f1e6"}).status_code
        == 303
    )
    copied = web.post("/buckets/materials/sea-holly-trial/copy").headers["location"]
    assert copied == "/buckets/materials/sea-holly-trial-copy"
    web.post(f"{ROSE}/retire")
    assert "Rose" not in get_names(web.get("/buckets", params={"q": "rosa"}, headers=FRAGMENT).text)
    assert get_names(web.get("/buckets", params={"retired": "true"}, headers=FRAGMENT).text) == ["Rose"]
    slipway = next(saved for saved in shop.load_recipes() if saved.recipe.family == "slipway")
    assert "Rose is retired" in web.get(f"/table/{slipway.id}").text
    materials = shop.goods.load().catalogue.materials
    assert list(materials["sea-holly-trial-copy"].colours) == ["steel", "white"]
    assert materials["sea-holly-trial"].cost == Decimal("0.75")


def test_a_colour_that_a_made_ahead_piece_needs_stays(web: httpx.Client) -> None:
    answer = web.post("/buckets/materials/cymbidium-short/drop-colour", data={"colour": "green"})
    assert answer.status_code == 422
    assert "green is used in Orchid bloom, tubed on a spare stem, Tubed orchid bloom" in answer.text
    answer = web.post("/buckets/assemblies/orchid-tubed/colour", data={"colour": "puce", "code": "#aa5577"})
    assert "does not come in “puce”" in answer.text


def test_a_made_ahead_piece_is_put_together_and_used_on_the_table(web: httpx.Client, shop: Shop) -> None:
    sizes = {"width_cm": "5", "length_cm": "5", "stem_length_cm": "20", "stem_diameter_mm": "3"}
    parts = {
        "minutes": "1.5",
        "shelf_life_hours": "48",
        "colour": "red",
        "code": "#b3272f",
        "part": "hypericum",
        "pieces": "1",
    }
    made = {"goods": "assemblies", "name": "Berry pick", "form": "cluster", "default_role": "texture", **sizes, **parts}
    page = web.post("/buckets/new", data=made).headers["location"]
    assert web.post(f"{page}/part", data={"part": "wire-080", "quantity": "1/3"}).status_code == 303
    wrong = web.post(f"{page}/part", data={"part": "unobtainium", "quantity": "1"})
    assert "is not in the catalogue" in wrong.text
    assert web.post(f"{page}/drop-part", data={"part": "hypericum"}).status_code == 303
    assert web.post(f"{page}/drop-part", data={"part": "wire-080"}).status_code == 422
    web.post(f"{page}/part", data={"part": "hypericum", "quantity": "2"})
    slipway = next(saved for saved in shop.load_recipes() if saved.recipe.family == "slipway")
    typed = {"kind": "add", "material": "berry-pick", "read_at": str(slipway.state_id)}
    table = web.post(f"/table/{slipway.id}/change", data=typed, headers=FRAGMENT)
    assert "Berry pick" in table.text
    saved = shop.load_recipe(slipway.id)
    typed = {"kind": "hard-good", "hard_good": "foam-brick-standard", "value": "1/3", "read_at": str(saved.state_id)}
    assert 'value="1/3"' in web.post(f"/table/{slipway.id}/change", data=typed, headers=FRAGMENT).text
    assert shop.load_recipe(slipway.id).recipe.hard_goods[-1].divided_by == 3


def test_the_cost_of_a_day_and_its_plot(web: httpx.Client) -> None:
    web.post(f"{ROSE}/cost", data={"value": "0.80"})
    page = web.get(ROSE, params={"on_day": "2024-05-01"}).text
    assert "£0.6000 on 1 May 2024, by starting value." in page
    assert '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 460 150" class="history"' in page
    assert "Type it as 2026-03-02." in web.get(ROSE, params={"on_day": "May"}).text


def test_everything_goes_out_as_a_workbook_and_as_csv(
    web: httpx.Client, shop: Shop, monkeypatch: pytest.MonkeyPatch
) -> None:
    web.post("/receiving", data={"supplier": "2"})
    web.post("/receiving/1/add", data={"material": "Rose", "colour": "red", "stems": "30"})
    web.post("/receiving/1/count", data={"received": "30", "rejected": "2", "reason": "=SUM(A1)"})
    monkeypatch.setattr("mirvel.web.tasks._SHORT_S", 60.0)
    at_once = web.get("/buckets/export.xlsx").content
    monkeypatch.setattr("mirvel.web.tasks._SHORT_S", 0.0)  # as where it takes longer than anybody waits
    assert web.get("/buckets/export.xlsx").headers["location"] == "/buckets/export"
    assert 'href="/buckets/export/made.xlsx"' in read_when_done(web, "/buckets/export").text
    book = load_workbook(io.BytesIO(web.get("/buckets/export/made.xlsx").content))
    assert book.sheetnames == load_workbook(io.BytesIO(at_once)).sheetnames
    with monkeypatch.context() as broken:
        broken.setattr("mirvel.web.buckets.export.write_xlsx", lambda *_: 1 / 0)
        web.get("/buckets/export.xlsx")
        assert "could not be written. Something went wrong in it." in read_when_done(web, "/buckets/export").text
    with zipfile.ZipFile(io.BytesIO(web.get("/buckets/export.zip").content)) as packed:
        tables = {name: list(csv.reader(io.StringIO(packed.read(name).decode()))) for name in packed.namelist()}
    assert {f"{name}.csv" for name in book.sheetnames} == set(tables)
    assert tables["stock.csv"][1:] == [["rose-standard", "red", "28"]]
    (line,) = tables["deliveries.csv"][1:]
    assert line[1:7] == ["Fenside Growers", "rose-standard", "red", "30", "2", "'=SUM(A1)"]
    assert len(tables["prices.csv"]) - 1 == len(shop.prices.load_all())
    assert web.get("/buckets/export/colours.csv").text.startswith("material,colour,srgb,L,a,b\r\n")
    assert web.get("/buckets/export/secrets.csv").status_code == 422
