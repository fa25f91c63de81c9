"""A row that cannot be read any more is told beside the others, takes no page down, and can be mended or let go."""

import httpx
import pytest
from sqlalchemy import text

from mirvel.store.shop import Shop
from tests.serving import read_shelf

SPOILT = {
    "recipes": "UPDATE recipe_states SET document = jsonb_set(document, '{price_point}', '\"-5\"') WHERE id = 2",
    "goods": "UPDATE goods SET document = '{\"name\": \"Spoilt\"}' WHERE slug = 'aspidistra'",
    "containers": "UPDATE goods SET document = '[]' WHERE kind = 'containers' AND slug = "
    "(SELECT min(slug) FROM goods WHERE kind = 'containers')",
    "suppliers": "UPDATE suppliers SET document = '{\"name\": 7}' WHERE id = 1",
    "price lists": "UPDATE price_lists SET document = jsonb_set(document, '{corrections}', '{\"0\": {}}')",
    "house rules": "UPDATE house_rules SET document = jsonb_set(document, '{unit}', '\"ell\"')",
}
PAGES = (
    "/", "/buckets", "/buckets?kind=assemblies", "/buckets?kind=containers", "/buckets/new", "/suppliers", "/receiving",
    "/gallery", "/repairs", "/table/1", "/table/3", "/ladder/1", "/sets/harbour-light", "/card/1",
    "/buckets/export.zip", "/buckets/export.xlsx", "/table/1/materials?q=a", "/table/1/extras?all=true",
)  # fmt: skip
LIST = ("list.csv", b"description,price,pack\nStandard rose,12.00,20\n")


def spoil(shop: Shop, statement: str) -> None:
    """As another release may find it: what was drawn and read by the one before is looked at anew."""
    with shop.database.engine.begin() as connection:
        assert connection.execute(text(statement)).rowcount
        connection.execute(text("DELETE FROM standings"))
    shop.goods.forget()


@pytest.mark.parametrize("what", list(SPOILT))
def test_no_spoilt_row_takes_a_page_down(web: httpx.Client, shop: Shop, what: str) -> None:
    web.post("/suppliers/1/lists", files={"file": LIST})
    spoil(shop, SPOILT[what])
    read_shelf(web)
    answers = {page: web.get(page) for page in PAGES}
    assert {page: answer.status_code for page, answer in answers.items() if answer.status_code >= 500} == {}
    told = answers["/suppliers" if what in {"suppliers", "price lists"} else "/"].text
    assert "cannot be read any more" in told
    assert web.get("/table/2").status_code in {200, 409}
    assert len(shop.load_recipes()) >= 24


def test_a_spoilt_recipe_goes_back_and_a_spoilt_list_is_read_anew(web: httpx.Client, shop: Shop) -> None:
    web.post("/table/2/change", data={"kind": "height-nudge", "by": "1", "read_at": shop.load_recipe(2).state_id})
    state = shop.load_recipe(2).state_id
    spoil(shop, f"UPDATE recipe_states SET document = '{{}}' WHERE id = {state}")
    assert web.get("/table/2").status_code == 409
    assert web.post("/table/2/change", data={"kind": "undo", "read_at": state}).status_code == 303
    assert web.get("/table/2").status_code == 200
    web.post("/suppliers/1/lists", files={"file": LIST})
    spoil(shop, SPOILT["price lists"])
    assert web.get("/suppliers/lists/1").status_code == 409
    assert web.post("/suppliers/lists/1/begin-again").status_code == 303
    assert "Standard rose" in web.get("/suppliers/lists/1").text
    spoil(shop, SPOILT["suppliers"])
    web.post("/suppliers/1", data={"name": "Causeway Flowers", "freight": "8", "dump": "5"})
    assert shop.suppliers.load(1).supplier.name == "Causeway Flowers"


@pytest.mark.parametrize("row", ["0", "-1", "9" * 5000, "½"])
def test_a_posted_row_that_is_none_is_refused_and_the_page_stays(web: httpx.Client, row: str) -> None:
    web.post("/suppliers/1/lists", files={"file": LIST})
    answer = web.post("/suppliers/lists/1/mend", data={"row": row, "price": "3"})
    assert answer.status_code == 422
    assert "whole number" in answer.text
    assert web.get("/suppliers").status_code == 200


def test_an_undo_to_a_colour_that_was_dropped_says_so_and_can_be_redone(web: httpx.Client, shop: Shop) -> None:
    saved = next(saved for saved in shop.load_recipes() if saved.recipe.family == "slipway")
    entry = next(each for each in saved.recipe.entries if each.material == "rose-standard")
    table, typed = f"/table/{saved.id}/change", {"kind": "entry", "entry": entry.id, "field": "colour"}
    web.post("/buckets/materials/rose-standard/colour", data={"colour": "puce", "code": "#cc8899"})
    for colour in ("puce", "white"):
        read_at = shop.load_recipe(saved.id).state_id
        web.post(table, data={**typed, "value": colour, "read_at": read_at})
    dropped = web.post("/buckets/materials/rose-standard/drop-colour", data={"colour": "puce"})
    assert dropped.status_code in {200, 303}
    now = shop.load_recipe(saved.id).state_id
    answer = web.post(table, data={"kind": "undo", "read_at": now}, follow_redirects=True)
    assert answer.status_code == 200, answer.text[-3000:]
    assert "does not come in “puce”" in answer.text
    assert web.get("/").status_code == web.get(f"/table/{saved.id}?piece=e1.1").status_code == 200
    for page in (f"/card/{saved.id}", f"/ladder/{saved.id}?prices=42,58", f"/table/{saved.id}/places"):
        assert web.get(page).status_code < 500
    now = shop.load_recipe(saved.id).state_id
    assert web.post(table, data={"kind": "redo", "read_at": now}).status_code == 303
    assert "does not come in" not in web.get(f"/table/{saved.id}").text
