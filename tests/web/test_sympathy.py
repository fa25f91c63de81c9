"""Sets and a family's brief over real HTTP: what is changed once follows in every recipe, all or none."""

import httpx
import pytest

from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.facts import Role
from mirvel.core.house.rules import HouseRules
from mirvel.core.pricing.pricing import get_money
from mirvel.core.recipe.taking import take
from mirvel.demo import RULES
from mirvel.store.shop import SavedRecipe, Shop

SET = "/sets/harbour-light"


def load_set(shop: Shop) -> list[SavedRecipe]:
    members = [saved for saved in shop.load_recipes() if saved.recipe.family == "harbour-light"]
    return sorted(members, key=lambda saved: (-saved.recipe.price_point, saved.recipe.name))


def write_read_at(shop: Shop) -> str:
    return " ".join(str(saved.state_id) for saved in load_set(shop))


def test_a_palette_goes_through_the_whole_set_and_every_recipe_stays_true(
    web: httpx.Client, shop: Shop, catalogue: Catalogue, rules: HouseRules
) -> None:
    page = web.get(SET)
    assert "5 recipes, £850.00 together" in page.text
    assert "All are true." in page.text
    before = {saved.id: saved.recipe for saved in load_set(shop)}
    answer = web.post(f"{SET}/palette", data={"palette": "lantern", "read_at": write_read_at(shop)})
    assert answer.status_code == 303
    colours: dict[str, set[str]] = {}
    for saved in load_set(shop):
        assert saved.recipe.notes.startswith("Palette: lantern.")
        assert get_money(take(saved.recipe, catalogue), rules).is_true
        for old, new in zip(before[saved.id].entries, saved.recipe.entries, strict=True):
            assert (old.material, old.pieces) == (new.material, new.pieces)
            assert old.colour == new.colour or old.role is not Role.GREENERY
            colours.setdefault(new.material, set()).add(new.colour)
    assert all(len(each) == 1 for each in colours.values())  # one flower, one colour through the set
    assert "white" not in colours["rose-long"]


def test_a_dearer_flower_says_by_how_much_each_is_not_true_and_a_fit_mends_all(
    web: httpx.Client, shop: Shop, catalogue: Catalogue, rules: HouseRules
) -> None:
    swap = {"old": "carnation-standard|white", "new": "garden rose", "colour": "white", "read_at": write_read_at(shop)}
    answer = web.post(f"{SET}/swap", data=swap)
    assert answer.status_code == 303
    page = web.get(SET).text
    assert "not true." in page
    assert page.count(" over</b>") == 5
    for saved in load_set(shop):
        assert "carnation-standard" not in {entry.material for entry in saved.recipe.entries}
    stale = web.post(f"{SET}/fit", data={"read_at": "1 2 3"})
    assert stale.status_code == 409
    assert web.post(f"{SET}/fit", data={"read_at": write_read_at(shop)}, timeout=60).status_code == 303
    assert all(get_money(take(saved.recipe, catalogue), rules).is_true for saved in load_set(shop))
    wrong = web.post(f"{SET}/swap", data={**swap, "new": "no such flower", "read_at": write_read_at(shop)})
    assert wrong.status_code == 422
    assert 'value="no such flower"' in wrong.text


@pytest.mark.parametrize("palette", RULES.palettes)
def test_every_palette_of_the_shop_can_be_used(web: httpx.Client, shop: Shop, palette: str) -> None:
    answer = web.post(f"{SET}/palette", data={"palette": palette, "read_at": write_read_at(shop)})
    assert answer.status_code == 303
    assert web.get(SET).status_code == 200


def test_a_familys_brief_is_kept_read_back_and_gives_its_times(web: httpx.Client, shop: Shop) -> None:
    ring = next(saved for saved in shop.load_recipes() if saved.recipe.family == "still-harbour")
    path = f"/service/{ring.id}"
    typed = {
        "faith": "chapel; no lilies", "ribbon": "ribbon-70", "ribbon_length_cm": "90", "line0": "Safe home, Grandad",
        "visitation": "2026-11-25T10:00", "service": "2026-11-27T11:00", "note0": "no glass", "stays_days": "0",
        "travel_minutes": "45",
    }  # fmt: skip
    assert web.post(path, data={**typed, "read_at": str(ring.state_id)}).status_code == 303
    page = web.get(path).text
    for words in (
        "Wed 25 Nov 2026, 09:00</b> loaded",
        "days</b> without refill",
        "read it",
        "Safe home, Grandad",
        "no glass",
    ):
        assert words.lower() in page.lower(), words
    kept = shop.load_recipe(ring.id)
    assert kept.recipe.brief.service
    assert kept.recipe.brief.service.faith == typed["faith"]
    read_back = {**typed, "line0-read": "on", "note0-confirmed": "on", "read_at": str(kept.state_id)}
    assert web.post(path, data=read_back).status_code == 303
    assert "not read back" not in web.get(path).text.lower()
    state = str(shop.load_recipe(ring.id).state_id)
    other = {**read_back, "line0": "Safe home, Grandpa", "read_at": state}  # other letters, so to be read back anew
    assert web.post(path, data=other).status_code == 303
    assert "not read back" in web.get(path).text.lower()
    assert web.post(path, data={**other, "read_at": str(shop.load_recipe(ring.id).state_id)}).status_code == 303
    assert "not read back" not in web.get(path).text.lower()
    state = str(shop.load_recipe(ring.id).state_id)
    wrong = web.post(path, data={**typed, "service": "2026-11-24T11:00", "read_at": state})
    assert wrong.status_code == 422
    assert "before the visitation" in wrong.text
    early = web.post(path, data={**typed, "visitation": "0001-01-01T00:00", "read_at": state})
    assert "is too early (0001-01-01T00:00). Choose 2000-01-01 or later." in early.text
    assert 'value="chapel; no lilies"' in wrong.text  # nothing typed is lost
    assert web.post(path, data={**typed, "read_at": "1"}).status_code == 409


def test_places_and_card_speak_of_arms_hours_and_bricks(web: httpx.Client, shop: Shop) -> None:
    ids = {saved.recipe.family: saved.id for saved in shop.load_recipes()}
    places = web.get(f"/table/{ids['evening-bell']}/places").text
    for words in (
        "eighth of a brick",
        "pieces of foam meet",
        "10 upright",
        "left arm, ",
        "crossing",
        "Tips at",
        "Centre of gravity",
        "kg soaked",
    ):
        assert words in places, words
    basket = ids["quiet-water"]
    assert "hours asked for" in web.get(f"/table/{basket}").text
    assert "kg soaked" in web.get(f"/table/{basket}/places").text
    card = web.get(f"/card/{ids['still-harbour']}/sheet").text
    for words in (
        "outer side",
        "inner side",
        "Every cut and place is on the making pages",
        "Drain upright",
        "Tie it to its stand (Wire easel, 100 cm) at top, left side, right side",
    ):
        assert words in card, words
    assert "o’clock is your side" not in card
    assert 'class="numbers"' not in card  # of 148 flowers and their greens no number would stand free of the others
