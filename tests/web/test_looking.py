"""The Table's drawing over HTTP: turned, cut open, on another day, with labels; pieces carried; places and gallery."""

import re
import threading
import xml.etree.ElementTree as ET

import httpx
import pytest

from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.recipe.recipe import Recipe
from mirvel.store.shop import Shop
from mirvel.web.figuring import draw_all
from mirvel.web.workers import Worker
from tests.builds import some

FRAGMENT = {"HX-Request": "true"}


@pytest.fixture
def slipway_id(shop: Shop) -> int:
    return next(saved.id for saved in shop.load_recipes() if saved.recipe.family == "slipway")


def change(web: httpx.Client, shop: Shop, recipe_id: int, **typed: str) -> httpx.Response:
    read_at = str(shop.load_recipe(recipe_id).state_id)
    return web.post(f"/table/{recipe_id}/change", data={"read_at": read_at, **typed}, headers=FRAGMENT)


def get_svg(page: str) -> ET.Element:
    found = re.search(r'<svg [^>]*class="drawing".*?</svg>', page, re.S)
    assert found
    return ET.fromstring(found[0])


def test_the_drawing_turns_opens_and_shows_a_day_whole_and_as_a_part(web: httpx.Client, slipway_id: int) -> None:
    plain = web.get(f"/table/{slipway_id}/drawing", headers=FRAGMENT).text
    assert "<html" not in plain
    assert "<html" in web.get(f"/table/{slipway_id}/drawing", params={"hour": "9"}).text
    seen = {}
    for look in (
        {"hour": "9"},
        {"hour": "12"},
        {"view": "section"},
        {"day": "5"},
        {"labels": "numbers"},
        {"labels": "marks"},
    ):
        part = web.get(f"/table/{slipway_id}/drawing", params=look, headers=FRAGMENT).text
        seen[str(look)] = ET.tostring(get_svg(part))
    assert len({*seen.values(), ET.tostring(get_svg(plain))}) == 7
    again = web.get(f"/table/{slipway_id}/drawing", params={"hour": "18"}, headers=FRAGMENT).text
    assert get_svg(again)[0].text == get_svg(plain)[0].text  # once round is the front again


@pytest.mark.parametrize(
    "look", [{"hour": "nan"}, {"hour": "x"}, {"view": "inside"}, {"day": "99999999"}, {"piece": "e1.x"}]
)
def test_a_wrong_way_of_looking_is_looked_at_as_usual(web: httpx.Client, slipway_id: int, look: dict[str, str]) -> None:
    assert web.get(f"/table/{slipway_id}", params=look).status_code == 200


def test_a_piece_is_carried_and_the_answer_is_drawn_the_same_way(
    web: httpx.Client, shop: Shop, slipway_id: int
) -> None:
    page = change(
        web, shop, slipway_id, kind="move", piece="e5.2", on="front", right="2", up="-3", hour="9", view="section"
    )
    assert page.status_code == 200
    pins = shop.load_recipe(slipway_id).recipe.entries[4].pins
    assert [pin.number for pin in pins] == [2]
    assert "section and plan" in (get_svg(page.text)[0].text or "")
    assert 'id="let-go"' in page.text
    assert change(web, shop, slipway_id, kind="undo").status_code == 200
    assert not shop.load_recipe(slipway_id).recipe.entries[4].pins


@pytest.mark.parametrize(
    ("typed", "said"),
    [
        ({"kind": "move", "piece": "e5.2", "right": "far"}, "is not a length"),
        ({"kind": "move", "piece": "e5.2", "right": "1e9"}, "is not a length"),
        ({"kind": "move", "piece": ""}, "none is chosen"),
        ({"kind": "hold", "piece": "e5.99"}, "not in the piece any more"),
        ({"kind": "swap", "piece": "e5.1", "with": ""}, "none is chosen"),
        ({"kind": "form", "value": "cloud"}, "there is no form"),
        ({"kind": "arranging", "field": "mood", "value": "x"}, "the arranging has no"),
        ({"kind": "arranging", "field": "balance", "value": "askew"}, "balance"),
    ],
)
def test_bad_moves_name_the_field_and_change_nothing(
    web: httpx.Client, shop: Shop, slipway_id: int, typed: dict[str, str], said: str
) -> None:
    before = shop.load_recipe(slipway_id)
    answer = change(web, shop, slipway_id, **typed)
    assert answer.status_code == 422
    assert said in answer.text
    assert shop.load_recipe(slipway_id) == before


def test_a_piece_tells_how_wide_it_is_and_what_it_would_be_with_room(web: httpx.Client, shop: Shop) -> None:
    ids = {saved.recipe.family: saved.id for saved in shop.load_recipes()}

    def read_width(family: str, piece: str) -> str:
        found = re.search(r'id="piece-wide">(.*?)</dd>', web.get(f"/table/{ids[family]}?piece={piece}").text)
        assert found
        return re.sub("<[^>]+>", "", found[1])

    assert re.fullmatch(r"[\d.]+ cm", read_width("slipway", "e5.1"))
    held = re.fullmatch(r"([\d.]+) cm of ([\d.]+) cm: held by those beside it", read_width("plimsoll", "e2.1"))
    assert held
    assert float(held[1]) < 0.9 * float(held[2])


def test_other_forms_are_chosen_on_the_table_and_taken_back(web: httpx.Client, shop: Shop, slipway_id: int) -> None:
    before = shop.load_recipe(slipway_id).recipe
    for name in some(FORMS):
        page = change(web, shop, slipway_id, kind="form", value=name)
        assert page.status_code == 200
        assert shop.load_recipe(slipway_id).recipe.form == name
        assert "cannot be drawn" not in page.text
    change(web, shop, slipway_id, kind="form", value="all-round dome")
    assert shop.load_recipe(slipway_id).recipe.entries == before.entries


def test_places_and_cuts_of_a_recipe(web: httpx.Client, shop: Shop) -> None:
    for saved in some(shop.load_recipes()):
        page = web.get(f"/table/{saved.id}/places")
        assert page.status_code == 200
        table = page.text.split('class="table table-sm pieces-table"')[1]
        assert table.count("<tr>") == 1 + sum(entry.placed for entry in saved.recipe.entries)


def test_the_gallery_shows_every_form_and_every_head(
    web: httpx.Client, shop: Shop, catalogue: Catalogue, solver: Worker
) -> None:
    draw_all(shop, solver, threading.Event())
    page = web.get("/gallery?hour=9").text
    assert "being drawn" not in page
    pictures = re.findall(r'<img src="([^"]+)"', page)
    heads = {(each.form, each.habit) for each in catalogue.materials.values()}
    assert len(pictures) == len(FORMS) + len(heads)
    for picture in pictures:
        answer = web.get(picture.replace("&amp;", "&"))
        assert answer.headers["content-type"] == "image/svg+xml"
        root = ET.fromstring(answer.text)
        assert len(list(root.iter())) > 10
    web.cookies.set("unit", "in")
    (inches, *_) = re.findall(r'<img src="(/figures/[^"]+)"', web.get("/gallery?hour=9").text)
    assert ">in<" in web.get(inches).text
    assert ">in<" not in web.get(pictures[0]).text
    assert web.get("/figures/cloud.svg").status_code == 422


def test_a_new_recipe_begins_in_a_form_by_its_rule(web: httpx.Client, shop: Shop) -> None:
    fields = {"name": "Trial 28", "price_point": "28", "container": "basket-15", "mechanics": "foam", "form": "basket"}
    begun = web.post("/recipes", data=fields)
    assert begun.status_code == 303
    made: Recipe = shop.load_recipe(int(begun.headers["location"].rsplit("/", 1)[1])).recipe
    assert (made.form, made.size.rule) == ("basket", FORMS["basket"].rule)
    wrong = web.post("/recipes", data={**fields, "form": "fan"})
    assert wrong.status_code == 422
    assert "cannot be made in" in wrong.text
