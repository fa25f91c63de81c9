"""Figures drawn in the background: once for what they come from, and again only where that has changed."""

import gzip
import re
import threading
from decimal import Decimal

import httpx
from sqlalchemy import select

from mirvel.core.buying.review import GoodRef
from mirvel.core.goods.catalogue import GoodsKind
from mirvel.core.goods.material import Material
from mirvel.store.figures import get_address
from mirvel.store.rows import FigureRow, RecipeEntryRow, StandingRow
from mirvel.store.shop import Shop, Worth
from mirvel.web.figuring import draw_all
from mirvel.web.workers import Worker

SNAPDRAGON = GoodRef(GoodsKind.MATERIALS, "snapdragon")


def look(shop: Shop, solver: Worker) -> dict[int, str | None]:
    """The key of every recipe's figure, once all are drawn; an app that draws the same shop may be at it too."""
    while draw_all(shop, solver, threading.Event()):
        pass
    with shop.database.transaction() as session:
        return {row.recipe_id: row.key for row in session.scalars(select(StandingRow))}


def test_only_what_changed_is_drawn_again_and_what_comes_back_is_found(shop: Shop, solver: Worker) -> None:
    first = look(shop, solver)
    assert len(first) == len(shop.load_recipes())
    assert draw_all(shop, solver, threading.Event()) == 0
    shop.prices.set_by_hand(SNAPDRAGON, Decimal("0.91"), today=shop.goods.load().on_day)
    assert look(shop, solver) == first, "what a flower costs is not seen"
    rules = shop.load_rules()
    dearer = rules.change(flower_markup=4, tax_rate="0.2", price_points=[30, 60], palettes={}, true_from="0.9")
    shop.save_rules(dearer, read=rules)
    assert draw_all(shop, solver, threading.Event()) == 0, "nor what is charged for it"

    def open_wider(good: object) -> Material:
        assert isinstance(good, Material)
        return good.change(head_open_cm=good.head_open_cm + 1)

    shop.goods.change(SNAPDRAGON, open_wider)
    wider = look(shop, solver)
    with shop.database.transaction() as session:
        users = set(session.scalars(select(RecipeEntryRow.recipe_id).where(RecipeEntryRow.material == "snapdragon")))
    assert {number for number in first if wider[number] != first[number]} == users

    saved = next(each for each in shop.load_recipes() if each.recipe.family == "slipway")
    changed = saved.recipe.change(entries=saved.recipe.entries[:-1])
    after = shop.save_recipe(saved.id, Worth(changed, {}, is_true=True), read_at=saved.state_id, change="one fewer")
    assert {number for number, key in look(shop, solver).items() if key != wider[number]} == {saved.id}
    shop.undo(saved.id, read_at=after.state_id)
    assert look(shop, solver) == wider


def test_the_shelf_tells_what_is_found_in_a_piece_but_of_its_money(
    web: httpx.Client, shop: Shop, solver: Worker
) -> None:
    """Slipway made taller than people who talk across it look over."""
    saved = next(each for each in shop.load_recipes() if each.recipe.family == "slipway")
    brief = {**saved.recipe.brief.model_dump(), "across_table": True}
    changed = saved.recipe.change(brief=brief, price_point=20)
    size = {**saved.recipe.size.model_dump(), "rule": {**saved.recipe.size.rule.model_dump(), "factor": 2.2}}
    taller = changed.change(size=size)
    shop.save_recipe(saved.id, Worth(taller, {}, is_true=False), read_at=saved.state_id, change="taller")
    look(shop, solver)
    (title,) = re.findall(r'class="faulty(?: stop)?">([^<]+)<', web.get("/?only=found&q=slip").text)
    assert "across a table" in title
    assert "over the flower money" not in title
    assert "Slipway" not in web.get("/?only=found&q=harbour+glass").text
    web.get("/?q=")


def test_a_drawing_is_where_its_content_says_and_is_packed_only_for_who_takes_it_so(
    web: httpx.Client, shop: Shop, solver: Worker
) -> None:
    look(shop, solver)
    with shop.database.transaction() as session:
        figure = session.scalars(select(FigureRow).where(FigureRow.trouble == "").limit(1)).one()
        address, content = figure.address, gzip.decompress(figure.content)
    assert get_address(content) == address
    for takes, packed in (("gzip", "gzip"), ("identity", None)):
        answer = web.get(f"/figures/{address}.svg", headers={"Accept-Encoding": takes})
        assert answer.content == content
        assert answer.headers.get("content-encoding") == packed
        assert "immutable" in answer.headers["cache-control"]
    assert web.get("/figures/none.svg").status_code == 422
