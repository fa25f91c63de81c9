"""Two presses, two people, one thing: what is made is made once, and who types over a newer value is told."""

import re
from concurrent.futures import ThreadPoolExecutor
from decimal import Decimal

import httpx
import pytest

from mirvel.store.shop import Shop
from tests.serving import open_client

ROSE = "/buckets/materials/rose-standard"
NEW = {"name": "Slipway 58", "price_point": "58", "form": "all-round dome", "mechanics": "tape grid"}


def press(web: httpx.Client, times: int, path: str, **sent: object) -> list[httpx.Response]:
    """The same form sent so many times at once."""

    def send(_: int) -> httpx.Response:
        with open_client(str(web.base_url)) as client:
            return client.post(path, **sent)  # type: ignore[arg-type]

    with ThreadPoolExecutor(times) as pool:
        return list(pool.map(send, range(times)))


def find_key(page: str, action: str) -> str:
    found = re.search(rf'<form[^>]*action="{action}".*?name="once" value="([^"]+)"', page, re.DOTALL)
    assert found, action
    return found[1]


def test_a_recipe_a_list_and_a_line_are_made_once_however_often_they_are_sent(web: httpx.Client, shop: Shop) -> None:
    shelf, before = web.get("/recipes/new").text, len(shop.load_recipes())
    vessel = re.search(r'name="container" value="([^"]+)" checked', shelf)
    assert vessel
    made = press(web, 4, "/recipes", data={**NEW, "container": vessel[1], "once": find_key(shelf, "/recipes")})
    assert {answer.status_code for answer in made} == {303}
    assert len({answer.headers["location"] for answer in made}) == 1
    assert len(shop.load_recipes()) == before + 1
    key = find_key(web.get("/suppliers").text, "/suppliers/1/lists")
    press(
        web,
        2,
        "/recipes",
        data={**NEW, "name": "Typed after Back", "container": vessel[1], "once": find_key(shelf, "/recipes")},
    )
    assert len(shop.load_recipes()) == before + 2, "a form filled in anew makes another"
    lists = press(
        web, 4, "/suppliers/1/lists", data={"once": key}, files={"file": ("a.csv", b"description,price\nRose,1\n")}
    )
    assert len({answer.headers["location"] for answer in lists}) == 1
    web.post("/receiving", data={"supplier": "1"})
    key = find_key(web.get("/receiving").text, "/receiving/1/add")
    press(web, 4, "/receiving/1/add", data={"material": "rose-standard", "stems": "40", "colour": "red", "once": key})
    assert shop.goods.load_stock("rose-standard") == {"red": 40}
    web.post("/receiving/1/add", data={"material": "rose-standard", "stems": "40", "colour": "red"})
    assert shop.goods.load_stock("rose-standard") == {"red": 80}


def test_six_copies_at_once_are_six_goods(web: httpx.Client, shop: Shop) -> None:
    answers = press(web, 6, f"{ROSE}/copy")
    assert {answer.status_code for answer in answers} == {303}
    assert len({answer.headers["location"] for answer in answers}) == 6


@pytest.mark.parametrize(
    ("path", "typed", "other"),
    [
        (f"{ROSE}/cost", {"was": "0.6000", "value": "0.70"}, {"was": "0.6000", "value": "0.80"}),
        (f"{ROSE}/fact", {"field": "note", "was": "", "value": "one"}, {"field": "note", "was": "", "value": "other"}),
        (f"{ROSE}/stock", {"colour": "red", "was": "0", "value": "5"}, {"colour": "red", "was": "0", "value": "9"}),
        ("/receiving/1/count", {"was": "40 0", "rejected": "2"}, {"was": "40 0", "rejected": "7"}),
    ],
)
def test_who_types_over_a_newer_value_is_told_and_keeps_what_was_typed(
    web: httpx.Client, shop: Shop, path: str, typed: dict[str, str], other: dict[str, str]
) -> None:
    note = shop.goods.load().catalogue.materials["rose-standard"].note
    typed, other = ({**each, "was": note} if "field" in each else each for each in (typed, other))
    web.post("/receiving", data={"supplier": "1"})
    if "receiving" in path:
        web.post("/receiving/1/add", data={"material": "rose-standard", "stems": "40", "colour": "red"})
    assert web.post(path, data=typed).status_code in {200, 303}
    answer = web.post(path, data=other)
    assert answer.status_code == 422
    assert "was changed elsewhere" in answer.text
    kept = shop.goods.load().catalogue.materials["rose-standard"]
    stock = shop.goods.load_stock("rose-standard").get("red", 0)
    assert (kept.cost, kept.note, stock) in {
        (Decimal("0.7000"), note, 0),
        (Decimal("0.6000"), "one", 0),
        (Decimal("0.6000"), note, 5),
        (Decimal("0.6000"), note, 38),
    }
