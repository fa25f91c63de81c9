"""Standards over HTTP: published, compared, printed under their number, brought back and retired."""

import io
import re
from collections import Counter
from decimal import Decimal

import httpx
import pytest
from pypdf import PdfReader

from mirvel.core.buying.review import GoodRef
from mirvel.core.goods.catalogue import GoodsKind
from mirvel.demo import RULES, get_catalogue
from mirvel.store.shop import SavedRecipe, Shop
from tests.builds import work_out

SAID = {"by": "Priya Sandell", "why": "One carnation fewer."}


@pytest.fixture
def slipway_saved(shop: Shop) -> SavedRecipe:
    return next(each for each in shop.load_recipes() if each.recipe.family == "slipway")


def change(web: httpx.Client, shop: Shop, recipe_id: int, **fields: str) -> None:
    read_at = str(shop.load_recipe(recipe_id).state_id)
    answer = web.post(f"/table/{recipe_id}/change", data={**fields, "read_at": read_at})
    assert answer.status_code == 303


def publish(web: httpx.Client, shop: Shop, recipe_id: int, **fields: str) -> httpx.Response:
    read_at = str(shop.load_recipe(recipe_id).state_id)
    return web.post(f"/standards/{recipe_id}", data={**SAID, "read_at": read_at, **fields})


def read(page: str) -> str:
    return re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", page))


def test_a_draft_is_compared_published_and_printed_under_its_number(
    web: httpx.Client, shop: Shop, slipway_saved: SavedRecipe
) -> None:
    number = slipway_saved.id
    assert "is standard 1 , as it was published" in read(web.get(f"/standards/{number}").text)
    assert "is standard 1 already" in read(publish(web, shop, number).text)
    change(web, shop, number, kind="nudge", entry="e6", by="-1")
    page = read(web.get(f"/standards/{number}").text)
    assert "Carnation, cream 7 → 6" in page
    assert "Another piece: counts" in page
    assert "Draft beside standard 1" in read(web.get(f"/table/{number}").text)
    assert "Draft" in read(web.get(f"/card/{number}/sheet").text)
    wrong = publish(web, shop, number, by="Nobody", why="", height="tall", cost="3")
    assert wrong.status_code == 422
    for words in ("“Nobody” is not one of the shop’s people", "why is missing", "“tall” is not a length"):
        assert words in read(wrong.text)
    assert 'name="cost" value="3"' in wrong.text
    assert publish(web, shop, number, read_at="1").status_code == 409
    assert publish(web, shop, number).status_code == 303
    page = read(web.get(f"/standards/{number}").text)
    assert re.search(r"Standard 2 \S+ \d+ \S+ \d+, [\d:]+, Priya Sandell One carnation fewer. in force", page)
    assert "replaced by standard 2" in page
    assert "Carnation, cream 7 → 6" in read(web.get(f"/standards/{number}/2").text)
    assert "Carnation, cream 6 → 7" in read(web.get(f"/standards/{number}/1?beside=2").text)
    assert web.get(f"/standards/{number}/1?beside=9").status_code == 404
    assert "standard 2 of" in read(web.get(f"/card/{number}/sheet").text)
    old = read(web.get(f"/card/{number}/sheet?standard=1").text)
    assert "Standard 1, not in force" in old
    assert "replaced by standard 2" in old
    assert "Carnation , cream mass 7" in old
    assert web.get(f"/card/{number}/card.pdf?standard=1").content[:5] == b"%PDF-"
    assert web.get(f"/card/{number}?standard=9").status_code == 404
    assert web.get(f"/standards/{number}/9").status_code == 404


def test_a_stop_keeps_a_draft_from_being_published_until_it_is_let_stand(
    web: httpx.Client, shop: Shop, slipway_saved: SavedRecipe
) -> None:
    number = slipway_saved.id
    change(web, shop, number, kind="field", field="price_point", value="20")
    assert "over the flower money" in read(web.get(f"/standards/{number}").text)
    kept_back = publish(web, shop, number)
    assert kept_back.status_code == 422
    assert "Slipway 42 cannot be published" in read(kept_back.text)
    change(web, shop, number, kind="accept", finding="overfilled", value="a gift of the house")
    assert publish(web, shop, number).status_code == 303
    assert len(shop.standards.load_all(number)) == 2


def test_one_is_brought_back_as_a_draft_and_one_retired(
    web: httpx.Client, shop: Shop, slipway_saved: SavedRecipe
) -> None:
    number = slipway_saved.id
    change(web, shop, number, kind="nudge", entry="e6", by="-1")
    assert publish(web, shop, number).status_code == 303
    state = str(shop.load_recipe(number).state_id)
    assert web.post(f"/standards/{number}/1/draft", data={"read_at": state}).status_code == 303
    assert shop.load_recipe(number).recipe == slipway_saved.recipe
    assert web.post(f"/standards/{number}/1/draft", data={"read_at": state}).status_code == 409
    assert web.post(f"/standards/{number}/9/draft", data={"read_at": state}).status_code == 404
    change(web, shop, number, kind="undo")
    assert web.post(f"/standards/{number}/2/retire", data={"by": "Ines Harrow"}).status_code == 422
    assert web.post(f"/standards/{number}/1/retire", data=SAID).status_code == 409
    assert web.post(f"/standards/{number}/2/retire", data={**SAID, "why": "Not made now"}).status_code == 303
    page = read(web.get(f"/standards/{number}").text)
    assert re.search(r"retired .*, Priya Sandell: Not made now", page)
    assert "No standard is in force" in page


def test_drafts_of_a_price_are_published_together_or_not_at_all(web: httpx.Client, shop: Shop) -> None:
    drafts = [each for each in shop.load_recipes() if each.recipe.price_point == 42][:3]
    for saved in drafts:
        change(web, shop, saved.id, kind="field", field="minutes", value="13")
    change(web, shop, drafts[2].id, kind="field", field="price_point", value="20")
    change(web, shop, drafts[2].id, kind="field", field="notes", value="dear")
    page = web.get("/publish?price=42").text
    ticks = dict(re.findall(r'type="checkbox" name="(r\d+)" value="(\d+)"', page))
    assert set(ticks) == {f"r{saved.id}" for saved in drafts[:2]}
    dear = {f"r{drafts[2].id}": str(shop.load_recipe(drafts[2].id).state_id)}
    refused = web.post("/publish?price=42", data={**SAID, **ticks, **dear})
    assert refused.status_code == 422
    assert f"{drafts[2].recipe.name} cannot be published" in read(refused.text)
    assert web.post("/publish?price=42", data={**SAID, **ticks, f"r{drafts[0].id}": "1"}).status_code == 409
    assert web.post("/publish?price=42", data=SAID).status_code == 422
    assert [len(shop.standards.load_all(saved.id)) for saved in drafts] == [1, 1, 1]
    assert web.post("/publish?price=42", data={**SAID, **ticks}).status_code == 303
    assert [len(shop.standards.load_all(saved.id)) for saved in drafts] == [2, 2, 1]
    assert "Everything here is published as it is" in read(web.get("/publish?price=42").text)
    assert drafts[2].recipe.name in read(web.get(f"/publish?family={drafts[2].recipe.family}").text)


def test_a_standard_that_went_false_says_so_and_is_repaired_as_a_draft(
    web: httpx.Client, shop: Shop, slipway_saved: SavedRecipe
) -> None:
    number, rose = slipway_saved.id, GoodRef(GoodsKind.MATERIALS, "rose-standard")
    room = re.search(r'id="room-left"[^>]*>£([\d.]+)', web.get(f"/table/{number}").text)
    assert room
    over = f"Standard 1 is £{5 * Decimal('0.20') - Decimal(room[1])} over at today’s costs"  # five roses
    shop.prices.set_by_hand(rose, Decimal("0.80"), today=shop.get_today())
    page = web.get(f"/standards/{number}").text
    assert over in page
    assert f'href="/repairs/{number}"' in page
    change(web, shop, number, kind="nudge", entry="e5", by="-2")
    assert f"{over}. The draft is" in read(web.get(f"/standards/{number}").text)


def test_a_table_says_that_its_standard_would_come_out_otherwise_by_what_is_known_now(
    web: httpx.Client, shop: Shop, slipway_saved: SavedRecipe
) -> None:
    """A cost that changed is told beside its money, and moves no cut; a rose that opens wider is another piece."""
    number, rose = slipway_saved.id, GoodRef(GoodsKind.MATERIALS, "rose-standard")
    shop.prices.set_by_hand(rose, Decimal("0.61"), today=shop.get_today())
    assert "Standard 1 , as published" in read(web.get(f"/table/{number}").text)
    shop.goods.change(rose, lambda good: good.change(head_open_cm=9.5))
    assert "known of its goods has changed since" in read(web.get(f"/table/{number}").text)
    change(web, shop, number, kind="nudge", entry="e6", by="-1")
    assert "Draft beside standard 1" in read(web.get(f"/table/{number}").text)


def test_where_the_rules_name_nobody_a_name_is_typed(web: httpx.Client, shop: Shop, slipway_saved: SavedRecipe) -> None:
    rules = shop.load_rules()
    shop.save_rules(rules.change(people=()), read=rules)
    change(web, shop, slipway_saved.id, kind="field", field="minutes", value="13")
    assert publish(web, shop, slipway_saved.id, by="").status_code == 422
    assert publish(web, shop, slipway_saved.id, by="<b>Anybody</b>").status_code == 303
    assert "<b>Anybody" not in web.get(f"/standards/{slipway_saved.id}").text


def test_the_making_pages_tell_every_count_and_cut_and_name_the_standard_on_each(web: httpx.Client, shop: Shop) -> None:
    saved = next(each for each in shop.load_recipes() if each.recipe.family == "plimsoll")
    number, title = saved.id, saved.recipe.name
    cuts = work_out(saved.recipe, get_catalogue(), RULES).build.cuts
    change(web, shop, number, kind="nudge", entry=saved.recipe.entries[0].id, by="-1")
    for paper in ("A4", "letter"):
        printed = web.get(f"/card/{number}/making.pdf?standard=1&paper={paper}")
        pages = [page.extract_text() for page in PdfReader(io.BytesIO(printed.content)).pages]
        assert all(re.search(rf"{title} · Standard 1 · {at} of {len(pages)}", page) for at, page in enumerate(pages, 1))
        told = Counter[tuple[str, float]]()
        for length, count, name in re.findall(r"^([\d.]+) (\d+) ([A-Z][^,]+),", "\n".join(pages), re.MULTILINE):
            told[name, float(length)] += int(count)
        assert told == Counter((cut.place.material.name.split(",")[0], cut.cut_cm) for cut in cuts)
        assert "£" not in "".join(pages)
    assert "Draft, beside standard 1" in read(web.get(f"/card/{number}/making").text)
