"""Drift as a shop sees it: what moved a recipe stays known until it is true again; pictures outlive prices."""

import re
import threading
from decimal import Decimal

import httpx
import pytest

from mirvel.core.buying.review import GoodRef
from mirvel.core.goods.catalogue import GoodsKind
from mirvel.core.recipe.recipe import Recipe
from mirvel.store.shop import SavedRecipe, Shop
from mirvel.web.drifting import reckon_all
from mirvel.web.workers import Workers
from tests.serving import read_shelf

ROSE = GoodRef(GoodsKind.MATERIALS, "rose-standard")


@pytest.fixture
def fender(shop: Shop) -> SavedRecipe:
    return next(saved for saved in shop.load_recipes() if saved.recipe.family == "fender")


def make_dearer(shop: Shop, cost: str = "0.80") -> None:
    shop.prices.set_by_hand(ROSE, Decimal(cost), today=shop.goods.load().on_day)
    reckon_all(shop, threading.Event())


def read_label(web: httpx.Client, recipe_id: int) -> str:
    found = re.search(rf'<a class="standing[^"]*" href="/table/{recipe_id}">.*?</a>', read_shelf(web), re.DOTALL)
    assert found
    label = found[0].split('class="label"')[1]
    return re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", label))


def change(web: httpx.Client, shop: Shop, recipe_id: int, **fields: str) -> None:
    read_at = str(shop.load_recipe(recipe_id).state_id)
    answer = web.post(f"/table/{recipe_id}/change", data={**fields, "read_at": read_at}, headers={"HX-Request": "true"})
    assert answer.status_code == 200


def test_a_false_recipe_says_by_how_much_and_why_until_it_is_mended(
    web: httpx.Client, shop: Shop, fender: SavedRecipe
) -> None:
    assert "true," in read_label(web, fender.id)
    make_dearer(shop)
    # Nine roses (from its file) at 0.20 more each.
    assert "Rose +33 %: −£1.80 a piece" in read_label(web, fender.id)
    # A change that leaves it false keeps what moved it; the count is of what it takes now.
    change(web, shop, fender.id, kind="field", field="minutes", value="16")
    reckon_all(shop, threading.Event())
    assert "Rose +33 %: −£1.80 a piece" in read_label(web, fender.id)
    # Two roses fewer and it is true at today's costs, which are what the next drift is told from.
    roses = next(entry.id for entry in fender.recipe.entries if entry.material == ROSE.slug)
    for _ in range(2):
        change(web, shop, fender.id, kind="nudge", entry=roses, by="-1")
    reckon_all(shop, threading.Event())
    label = read_label(web, fender.id)
    assert "Rose +33" not in label
    make_dearer(shop, "1.00")
    label = read_label(web, fender.id)
    assert "Rose +25 %" in label or "true," in label


def test_cheaper_goods_leave_a_recipe_short_and_that_is_told_too(
    web: httpx.Client, shop: Shop, fender: SavedRecipe
) -> None:
    make_dearer(shop, "0.40")
    label = read_label(web, fender.id)
    assert "unspent" in label
    assert "Rose −33 %: +£1.80 a piece" in label


def test_a_change_of_prices_draws_nothing_anew(web: httpx.Client, shop: Shop, monkeypatch: pytest.MonkeyPatch) -> None:
    web.get("/")
    built: list[Recipe] = []

    monkeypatch.setattr(Workers, "build", lambda workers, taken, rules: built.append(taken.recipe))
    make_dearer(shop)
    assert "false at today’s costs" in web.get("/").text
    assert built == []


def test_an_empty_recipe_is_not_called_false(web: httpx.Client, shop: Shop) -> None:
    fields = {"name": "Trial 28", "price_point": "28", "container": "cube-10", "mechanics": "foam"}
    web.post("/recipes", data=fields)
    assert "false at today’s costs" not in web.get("/").text


def test_the_shelf_says_that_it_is_still_reckoning(web: httpx.Client, shop: Shop) -> None:
    read_shelf(web)
    shop.prices.set_by_hand(ROSE, Decimal("0.80"), today=shop.goods.load().on_day)
    page = web.get("/").text
    waits = "hx-trigger" in page.split('id="shelves"')[1].split(">")[0]
    assert waits == ("being reckoned" in page or "reckoning why" in page)
    assert "being reckoned" not in read_shelf(web)
