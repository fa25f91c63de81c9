"""House rules as they are typed and kept, what is told of by them, and hues against colours that everybody knows."""

import re
from decimal import Decimal
from html import unescape
from typing import Any

import httpx
import pytest

from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.colours import get_lab
from mirvel.core.goods.hues import get_angle, get_hue, get_scheme
from mirvel.core.house.editing import set_rules, write_rules
from mirvel.core.house.rules import HouseRules
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.values.problems import BadInput
from mirvel.demo import RULES, get_recipes
from mirvel.store.shop import Shop
from mirvel.web.house.fields import NAMES
from tests.builds import work_out


@pytest.mark.parametrize("rules", [RULES, HouseRules(), HouseRules(most_hues=3, transport_cm=60.5, odd_focals=True)])
def test_rules_are_read_as_they_are_written(rules: HouseRules) -> None:
    typed = write_rules(rules)
    assert set(NAMES) == set(typed), "every rule has its field"
    assert set_rules(HouseRules(), typed, NAMES) == rules


@pytest.mark.parametrize(
    ("field", "typed", "rule", "value"),
    [
        ("labour_on_top", "12,5 %", "labour_on_top", Decimal("0.125")),
        ("price_points", "58 42.50; 28, 42.5", "price_points", (Decimal(28), Decimal("42.50"), Decimal(58))),
        ("price_points", "42,50", "price_points", (Decimal("42.50"),)),
        ("flower_markup", "3,25", "flower_markup", Decimal("3.25")),
        ("class_markups", "orchid: 2.5\n\nevent 4", "class_markups", {"orchid": Decimal("2.5"), "event": Decimal(4)}),
        ("palettes", "dusk: #AA3344, #ffffff", "palettes", {"dusk": ("#aa3344", "#ffffff")}),
        ("transport_cm", " ", "transport_cm", None),
    ],
)
def test_what_is_typed_is_understood(field: str, typed: str, rule: str, value: object) -> None:
    assert getattr(set_rules(RULES, {field: typed}, NAMES), rule) == value


WRONG: list[tuple[dict[str, str], str]] = [
    ({"price_points": ""}, "Prices"),
    ({"price_points": "28, x"}, "Prices"),
    ({"price_points": "0, 28"}, "Prices"),
    ({"flower_markup": "0.5"}, "Flowers"),
    ({"flower_markup": "1e9"}, "Flowers"),
    ({"tax_rate": "120"}, "Tax inside them"),
    ({"true_from": "101"}, "A recipe is true from a fill of"),
    ({"thin_below": "90"}, "It reads thin below"),
    ({"crowded_above": "80"}, "A full piece is covered"),
    ({"palettes": "dusk: red"}, "Palettes"),
    ({"class_markups": "orchid"}, "Flowers of a class of their own"),
    ({"class_markups": "orchid: 0.2"}, "Flowers of a class of their own"),
    ({"form_weights": "spoon: 1"}, "Heads that are no discs"),
    ({"currency": "pounds"}, "Currency sign"),
    ({"most_hues": "0"}, "More families of hue than"),
    ({"unit": "ell"}, "Lengths"),
    ({"shop": "\x07"}, "Name"),
]


@pytest.mark.parametrize(("typed", "label"), WRONG, ids=lambda each: str(each))
def test_what_cannot_be_is_told_by_the_name_of_its_field(typed: dict[str, str], label: str) -> None:
    with pytest.raises(BadInput) as told:
        set_rules(HouseRules(), typed, NAMES)
    assert [problem.field for problem in told.value.problems] == [label]
    assert all(problem.message for problem in told.value.problems)


def test_all_that_is_wrong_is_told_at_once_and_slices_are_a_whole() -> None:
    slices = dict.fromkeys(("flowers", "hard_goods", "labour", "overhead", "profit"), "20") | {"lend_hard_goods": "no"}
    assert set_rules(RULES, slices, NAMES).slices.profit == Decimal("0.20")
    with pytest.raises(BadInput) as told:
        set_rules(RULES, {**slices, "profit": "30", "currency": "pounds", "price_points": "x"}, NAMES)
    assert {problem.field for problem in told.value.problems} == {"slices of the price", "Currency sign", "Prices"}


def find(family: str, catalogue: Catalogue, recipe_fields: dict[str, Any], **rules: Any) -> set[str]:
    recipe: Recipe = next(each for each in get_recipes() if each.family == family)
    worked = work_out(recipe.change(**recipe_fields), catalogue, RULES.model_copy(update=rules))
    return {check.kind for check in worked.checks}


def test_what_the_shop_minds_is_told_of_and_nothing_else(catalogue: Catalogue) -> None:
    """Slipway is 35 cm tall, has five roses, and stands in coral, peach, cream, white and lavender."""
    minded = {"even-focals", "hues", "transport"}
    assert not find("slipway", catalogue, {}) & minded
    assert "even-focals" not in find("slipway", catalogue, {}, odd_focals=True)
    slipway = next(each for each in get_recipes() if each.family == "slipway")
    four = [
        {**entry.model_dump(), "pieces": 4} if entry.id == "e5" else entry.model_dump() for entry in slipway.entries
    ]
    assert "even-focals" in find("slipway", catalogue, {"entries": four}, odd_focals=True)
    assert "even-focals" not in find("slipway", catalogue, {"entries": four})
    assert "transport" in find("slipway", catalogue, {}, transport_cm=34)
    assert "transport" not in find("slipway", catalogue, {}, transport_cm=36)
    assert "transport" not in find("evening-bell", catalogue, {}, transport_cm=34), "it is driven lying, off its stand"
    assert "hues" in find("slipway", catalogue, {}, most_hues=1)
    assert "hues" not in find("slipway", catalogue, {}, most_hues=8)


@pytest.mark.parametrize(
    ("colour", "angle", "hue"),
    [("#ff0000", 40.0, "red"), ("#ffff00", 102.9, "yellow"), ("#00ff00", 136.0, "green"), ("#00ffff", 196.4, "blue"),
     ("#0000ff", 306.3, "blue"), ("#ffa500", 73.1, "orange"), ("#ffc0cb", 7.8, "pink"), ("#800080", 328.2, "violet")],
)  # fmt: skip
def test_hues_of_colours_that_have_a_name(colour: str, angle: float, hue: str) -> None:
    """Named colours of CSS, their CIELAB hue angles under D65 as tables of them give; from memory."""
    assert get_angle(get_lab(colour)) == pytest.approx(angle, abs=0.4)
    assert get_hue(colour) == hue


@pytest.mark.parametrize(
    ("colours", "scheme"),
    [(["#ffffff", "#fffff0"], "white and green"), (["#ff0000", "#8b0000", "#ffffff"], "monochromatic"),
     (["#ff0000", "#ffa500", "#ffff00"], "analogous"), (["#ffff00", "#0000ff"], "complementary"),
     (["#ff0000", "#00ff7f", "#0000ff"], "triadic"), (["#ff0000", "#ffff00", "#00ffff", "#800080"], "polychromatic")],
)  # fmt: skip
def test_schemes_of_published_colour_pairs(colours: list[str], scheme: str) -> None:
    """Neighbours, opposites and thirds of the colour circle as every primer of design has them."""
    assert get_scheme(colours) == scheme


def test_house_rules_are_kept_reckoned_by_and_not_lost_to_another(web: httpx.Client, shop: Shop) -> None:
    def read() -> dict[str, str]:
        page = web.get("/house").text
        values = {name: unescape(value) for name, value in re.findall(r'name="(\w+)"[^>]* value="([^"]*)"', page)}
        values |= {name: unescape(text) for name, text in re.findall(r'name="(\w+)"[^>]*>([^<]*)</textarea>', page)}
        for name, options in re.findall(r'<select[^>]* name="(\w+)"[^>]*>(.*?)</select>', page):
            values[name] = unescape(re.findall(r"<option selected>([^<]*)", options)[0])
        return values

    typed, before = read(), shop.load_rules()
    assert web.post("/house", data=typed).status_code == 303
    assert shop.load_rules() == before, "kept as it was read, nothing changes"
    costs = shop.goods.load().costs
    kept = web.post("/house", data={**read(), "price_points": "31, 42, 58", "flower_markup": "3.5"})
    assert kept.status_code == 303
    assert [f"{each}" for each in shop.load_rules().price_points] == ["31", "42", "58"]
    assert shop.goods.load().costs > costs, "so that all money is reckoned anew"
    assert "£31" in web.get("/").text
    said = unescape(web.get("/house?kept=true").text)
    assert "28, 42, 58, 75, 98, 140 → 31, 42, 58" in said
    assert web.post("/house", data=read()).status_code == 303, "kept again, nothing changes"
    assert web.post("/house/back", data={"rules_read": typed["rules_read"]}).status_code == 409
    assert web.post("/house/back", data={"rules_read": read()["rules_read"]}).status_code == 303
    assert shop.load_rules() == before
    assert web.post("/house/back", data={"rules_read": read()["rules_read"]}).status_code == 303
    assert shop.load_rules().price_points[0] == 31
    late = web.post("/house", data={**typed, "currency": "$"})
    assert late.status_code == 409
    assert 'value="$"' in late.text
    assert shop.load_rules().currency == before.currency
    wrong = web.post("/house", data={**read(), "tax_rate": "lots", "shop": "Tern"})
    assert wrong.status_code == 422
    assert "Tax inside them" in wrong.text
    assert 'value="lots"' in wrong.text
    assert 'value="Tern"' in wrong.text


def test_what_another_price_does_is_seen_before_it_is_made_and_changes_nothing(web: httpx.Client, shop: Shop) -> None:
    states = [(each.id, each.state_id) for each in shop.load_recipes()]
    page = web.get("/house/price?price=42&becomes=38").text
    rows = re.findall(r"<tr><td><a href=\"/table/(\d+)\">(.*?)</tr>", page, re.DOTALL)
    at_42 = {str(each.id) for each in shop.load_recipes() if each.recipe.price_point == 42}
    assert {number for number, _ in rows} == at_42
    assert all(" over</span>" in row for _, row in rows)  # what is true at 42 is over at 38
    assert all('<span class="true">' in row for number, row in re.findall(
        r"<tr><td><a href=\"/table/(\d+)\">(.*?)</tr>", web.get("/house/price?price=42&becomes=42").text, re.DOTALL
    ))  # fmt: skip
    assert [(each.id, each.state_id) for each in shop.load_recipes()] == states
    for typed in ("nothing", "0", "9" * 12):
        answer = web.get("/house/price", params={"price": "42", "becomes": typed})
        assert answer.status_code == 422
        assert "<b>new price</b>" in answer.text


def test_another_price_is_made_for_all_at_it_or_for_none(web: httpx.Client, shop: Shop) -> None:
    at_42 = {each.id: each for each in shop.load_recipes() if each.recipe.price_point == 42}
    page = web.get("/house/price?price=42&becomes=45.50").text
    (read,) = re.findall(r'name="read" value="(\w+)"', page)
    asked = {"price": "42", "becomes": "45.50", "read": read, "listed": "1"}
    one = next(iter(at_42.values()))
    change = {"kind": "nudge", "entry": one.recipe.entries[0].id, "by": "1", "read_at": str(one.state_id)}
    web.post(f"/table/{one.id}/change", data=change)
    late = web.post("/house/price", data=asked)
    assert late.status_code == 409
    assert "nothing was changed" in late.text
    assert {each.recipe.price_point for each in shop.load_recipes() if each.id in at_42} == {42}
    (asked["read"],) = re.findall(r'name="read" value="(\w+)"', late.text)
    answer = web.post("/house/price", data=asked)
    assert answer.headers["location"] == "/publish?price=45.50"
    moved = [each for each in shop.load_recipes() if each.id in at_42]
    for each in moved:
        before = at_42[each.id].recipe
        assert each.recipe.price_point == Decimal("45.50")
        assert each.recipe.name == before.name.removesuffix("42") + "45.50"
        assert each.id == one.id or [entry.pieces for entry in each.recipe.entries] == [
            e.pieces for e in before.entries
        ]
    assert [f"{each}" for each in shop.load_rules().price_points][:3] == ["28", "45.50", "58"]
    now = shop.load_recipe(one.id).state_id
    web.post(f"/table/{one.id}/change", data={"kind": "undo", "read_at": str(now)})
    assert shop.load_recipe(one.id).recipe.price_point == 42
    for wrong in ("42", "", "nothing"):
        assert web.post("/house/price", data={**asked, "becomes": wrong}).status_code == 422
