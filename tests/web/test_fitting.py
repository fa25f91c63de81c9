"""Fit, what still fits, repairs, ladders and substitutes over real HTTP: what is shown is what is then saved."""

import operator
import re
import signal
import subprocess
import sys
import threading
import time
from concurrent.futures import ThreadPoolExecutor, wait
from decimal import Decimal
from html import unescape
from pathlib import Path

import httpx
import pytest

from mirvel.core import working
from mirvel.core.buying.review import GoodRef
from mirvel.core.changing.carrying import carry_places
from mirvel.core.fit.repair import find_repairs
from mirvel.core.goods.catalogue import Catalogue, GoodsKind
from mirvel.core.goods.facts import Role
from mirvel.core.house.rules import HouseRules
from mirvel.core.judging.check import Severity
from mirvel.core.pricing.pricing import get_money
from mirvel.core.recipe.fit_wishes import Aim
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.core.values.problems import UnknownGoods
from mirvel.demo import RULES, get_catalogue, get_recipes
from mirvel.store.repairs import RunState
from mirvel.store.shop import SavedRecipe, Shop
from mirvel.web.drifting import reckon_all
from mirvel.web.repairing import find_least_harm, repair_all
from mirvel.web.workers import Busy, Stopped, Worker
from tests.builds import work_out
from tests.serving import read_when_done

ROSE = GoodRef(GoodsKind.MATERIALS, "rose-standard")


@pytest.fixture
def slip(shop: Shop) -> SavedRecipe:
    return next(saved for saved in shop.load_recipes() if saved.recipe.family == "slipway")


def send(web: httpx.Client, shop: Shop, recipe_id: int, **fields: str) -> httpx.Response:
    read_at = str(shop.load_recipe(recipe_id).state_id)
    data = {**fields, "read_at": read_at}
    return web.post(f"/table/{recipe_id}/change", data=data, headers={"HX-Request": "true"})


def test_the_fit_that_is_shown_is_the_one_that_is_saved(
    web: httpx.Client, shop: Shop, catalogue: Catalogue, rules: HouseRules, slip: SavedRecipe
) -> None:
    page = web.get(f"/table/{slip.id}/fit", params={"price": "58", "aim": "money first"})
    assert page.status_code == 200
    assert "Proven best" in page.text
    assert page.text.count("→") >= 3
    assert send(web, shop, slip.id, kind="fit", price="58", aim="money first").status_code == 200
    after = shop.load_recipe(slip.id).recipe
    money = get_money(take(after, catalogue), rules)
    assert after.price_point == Decimal(58)
    assert money.is_true
    assert f"£{money.spent:.2f} of £{money.flower_money:.2f}" in page.text
    aims = web.get(f"/table/{slip.id}/fit/aims", params={"price": "58", "aim": "money first"}).text
    assert len(re.findall(r"<tr class=", aims)) == len(Aim)
    assert re.search(rf'in-force"><td>money first</td><td class="right">{money.spent:.2f}<', aims)
    assert "Nothing fits" in web.get(f"/table/{slip.id}/fit/aims", params={"price": "12"}).text
    assert "use the whole price" in web.get(f"/table/{slip.id}/fit", params={"price": "2"}).text
    wrong = web.get(f"/table/{slip.id}/fit", params={"price": "cheap"})
    assert wrong.status_code == 422
    assert "price" in wrong.text
    assert 'value="cheap"' in wrong.text


def test_a_fit_that_crowds_a_piece_says_so_and_offers_it_larger(
    web: httpx.Client, shop: Shop, catalogue: Catalogue, rules: HouseRules, slip: SavedRecipe
) -> None:
    """Twice the money in the same vase at the same height is more than it holds well."""
    page = unescape(web.get(f"/table/{slip.id}/fit", params={"price": "84"}).text)
    sizes = page.split('class="fit-size"')[1:]
    assert ["crowded" in each.split("</p>")[0].partition("brings <b")[2] for each in sizes] == [
        True,
        *[False] * (len(sizes) - 1),
    ]
    assert len(sizes) > 1
    said = re.search(r"([\d.]+) × ([\d.]+) cm, (\d+) % covered", sizes[1])
    assert said
    assert 'name="answer" value="1"' in sizes[1]
    assert send(web, shop, slip.id, kind="fit", price="84", answer="9").status_code == 422
    assert send(web, shop, slip.id, kind="fit", price="84", answer="1").status_code == 200
    worked = work_out(shop.load_recipe(slip.id).recipe, catalogue, rules)
    assert "crowded" not in {check.kind for check in worked.checks}
    assert worked.build.overall_height_cm == pytest.approx(float(said[1]), abs=0.05)
    assert round(worked.build.sizing.fullness * 100) == int(said[3])


def test_a_recipe_just_begun_is_fitted_from_what_the_shops_pieces_have(
    web: httpx.Client, shop: Shop, slip: SavedRecipe
) -> None:
    """One of each: what is offered has the greens of an all-round dome, and says where that is from."""
    entries = [{**entry.model_dump(), "pieces": 1, "kept": ()} for entry in slip.recipe.entries]
    begun = shop.add_recipe(slip.recipe.change(name="Begun", entries=entries, accepted=[]), {}).id
    page = unescape(web.get(f"/table/{begun}/fit").text)
    assert "One of each has no proportions yet" in page
    greens = re.findall(r"<td>(?:Salal|Leatherleaf fern), green</td>.*?<b>(\d+)</b>", page)
    assert [int(pieces) >= 4 for pieces in greens] == [True, True]
    assert "One of each" not in web.get(f"/table/{slip.id}/fit").text


def test_what_cannot_fit_says_what_clashes_and_a_mend_lets_it_fit(
    web: httpx.Client, shop: Shop, slip: SavedRecipe
) -> None:
    page = web.get(f"/table/{slip.id}/fit", params={"price": "12"}).text
    assert "Nothing fits" in page
    assert "Raise the price point to" in page
    assert send(web, shop, slip.id, kind="mend", price="12", answer="0").status_code == 200
    raised = shop.load_recipe(slip.id).recipe.price_point
    assert Decimal(12) < raised < Decimal(42)
    assert "Proven best" in web.get(f"/table/{slip.id}/fit").text


def test_what_still_fits_is_paid_by_the_room_left(
    web: httpx.Client, shop: Shop, catalogue: Catalogue, rules: HouseRules, slip: SavedRecipe
) -> None:
    for query in ({}, {"all": "true"}):
        page = web.get(f"/table/{slip.id}/extras", params=query).text
        offers = [unescape(each) for each in re.findall(r'name="extra" value="([^"]+)"', page)]
        assert offers
        assert send(web, shop, slip.id, kind="extra", extra=offers[0]).status_code == 200
        assert get_money(take(shop.load_recipe(slip.id).recipe, catalogue), rules).room_left >= 0
        assert send(web, shop, slip.id, kind="undo").status_code == 200
    assert send(web, shop, slip.id, kind="extra", extra="nonsense").status_code == 422


def test_the_whole_shop_is_repaired_stopped_and_taken_up_again(web: httpx.Client, shop: Shop, solver: Worker) -> None:
    shop.prices.set_by_hand(ROSE, Decimal("0.80"), today=shop.goods.load().on_day)
    reckon_all(shop, threading.Event())
    costs = shop.goods.load().costs
    wrong = shop.repairs.load_false(costs)
    assert len(wrong) >= 3
    assert [shop.repairs.load_false(costs, start=at, count=1) for at in range(len(wrong))] == [
        (each,) for each in wrong
    ]
    before = shop.load_recipe(wrong[0].recipe_id)
    shop.repairs.set_state(RunState.RUNNING)
    ended = threading.Event()
    ended.set()
    assert repair_all(shop, solver, ended) == 0  # ended at once: the run is still on, and goes on
    assert shop.repairs.load_state() is RunState.RUNNING
    web.post("/repairs/cancel")
    assert repair_all(shop, solver, threading.Event()) == 0
    assert "was stopped at" in web.get("/repairs").text
    shop.repairs.set_state(RunState.RUNNING)
    while any(each.repair is None for each in shop.repairs.load_false(costs)):
        repair_all(shop, solver, threading.Event())
    assert shop.repairs.load_state() is RunState.DONE
    page = web.get("/repairs?page=9").text  # there is one
    assert f"Use all {len(wrong)} repairs" in page
    one = web.get(f"/repairs/{wrong[0].recipe_id}").text
    assert one.count('class="rung"') == 4
    web.post("/repairs/apply")
    reckon_all(shop, threading.Event())
    assert shop.repairs.load_false(costs) == ()
    assert "Every recipe is true" in web.get("/repairs").text
    assert send(web, shop, wrong[0].recipe_id, kind="undo").status_code == 200  # each is a change like any other
    assert shop.load_recipe(wrong[0].recipe_id).recipe == before.recipe


def test_a_ladder_is_climbed_held_and_published(
    web: httpx.Client, shop: Shop, catalogue: Catalogue, rules: HouseRules, slip: SavedRecipe
) -> None:
    rose = next(entry.id for entry in slip.recipe.entries if entry.role is Role.FOCAL)
    asked = {"prices": "42, 58", f"held1-{rose}": "7", "vessel1": "flare-25"}
    page = read_when_done(web, f"/ladder/{slip.id}", asked)
    assert page.text.count('class="rung"') == 2
    assert "Proven best" in page.text or "from the best there can be" in page.text
    web.post(f"/ladder/{slip.id}/publish", data=asked)
    rungs = [saved.recipe for saved in shop.load_recipes() if saved.recipe.family == "slipway"]
    assert [rung.name for rung in rungs] == ["Slipway 42", "Slipway 58"]
    low, high = rungs
    assert all(high.find_entry(entry.id).pieces >= entry.pieces for entry in low.entries)  # type: ignore[union-attr]
    assert high.find_entry(rose).pieces == 7  # type: ignore[union-attr]
    assert high.container == "flare-25"
    assert all(get_money(take(rung, catalogue), rules).is_true for rung in rungs)
    assert not any(entry.locked for rung in rungs for entry in rung.entries)
    web.post(f"/ladder/{slip.id}/publish", data=asked)  # again: the family has one recipe at each price
    assert len([saved for saved in shop.load_recipes() if saved.recipe.family == "slipway"]) == 2
    assert web.post(f"/ladder/{slip.id}/publish", data={"prices": "dear"}).status_code == 422
    wrong = web.get(f"/ladder/{slip.id}", params={"prices": "dear"})
    assert wrong.status_code == 422
    assert 'value="dear"' in wrong.text


def test_a_substitute_is_shown_beside_the_piece_and_takes_its_place(
    web: httpx.Client, shop: Shop, slip: SavedRecipe
) -> None:
    rose = next(entry for entry in slip.recipe.entries if entry.role is Role.FOCAL)
    page = web.get(f"/table/{slip.id}/substitutes", params={"entry": rose.id}).text
    assert page.count('class="rung"') >= 4
    material, colour = re.findall(
        r'name="material" value="([^"]+)"><input type="hidden" name="colour" value="([^"]+)"', page
    )[0]
    assert (
        send(web, shop, slip.id, kind="substitute", entry=rose.id, material=material, colour=colour).status_code == 200
    )
    after = shop.load_recipe(slip.id).recipe.find_entry(rose.id)
    assert after is not None
    assert (after.material, after.colour, after.role) == (material, colour, rose.role)
    assert web.get(f"/table/{slip.id}/substitutes", params={"entry": "nothing"}).status_code == 422


def test_what_a_fit_keeps_to_is_typed_on_the_table(web: httpx.Client, shop: Shop, slip: SavedRecipe) -> None:
    rose = next(entry for entry in slip.recipe.entries if entry.role is Role.FOCAL)
    for fields in (
        {"kind": "entry", "entry": rose.id, "field": "least", "value": "6"},
        {"kind": "entry", "entry": rose.id, "field": "most", "value": "6"},
        {"kind": "wish", "field": "odd_focal", "value": "false"},
        {"kind": "wish", "field": "focal_to", "value": "45"},
        {"kind": "wish", "field": "cover_to", "value": "95"},
        {"kind": "wish", "field": "share mass", "value": "30 %"},
        {"kind": "wish", "field": "money share greenery", "value": "12"},
        {"kind": "exclude", "field": "pollen", "value": "on"},
        {"kind": "brief", "field": "lasts_days", "value": "5"},
        {"kind": "brief", "field": "refilled", "value": "false"},
        {"kind": "alternative", "entry": rose.id, "material": "lisianthus", "colour": "peach", "value": "on"},
    ):
        assert send(web, shop, slip.id, **fields).status_code == 200, fields
    recipe = shop.load_recipe(slip.id).recipe
    assert recipe.fit.shares == {Role.MASS: Decimal("0.300")}
    assert recipe.fit.money_shares == {Role.GREENERY: Decimal("0.120")}
    assert (recipe.fit.focal_to, recipe.fit.cover_to, recipe.fit.odd_focal) == (Decimal("0.450"), 0.95, False)
    assert [each.value for each in recipe.brief.exclude] == ["pollen"]
    assert (recipe.brief.lasts_days, recipe.brief.refilled) == (5, False)
    assert send(web, shop, slip.id, kind="fit").status_code == 200
    entries = [entry for entry in shop.load_recipe(slip.id).recipe.entries if entry.role is Role.FOCAL]
    assert sum(entry.pieces for entry in entries) == 6  # the rose and what may stand in for it
    wrong = send(web, shop, slip.id, kind="wish", field="focal_to", value="most")
    assert wrong.status_code == 422
    assert 'value="most"' in wrong.text
    for fields in ({"kind": "wish", "field": "share mass"}, {"kind": "exclude", "field": "pollen", "value": "off"}):
        assert send(web, shop, slip.id, **fields).status_code == 200
    assert shop.load_recipe(slip.id).recipe.fit.shares == {}


def test_a_repair_does_without_what_is_not_to_be_had(
    web: httpx.Client, shop: Shop, catalogue: Catalogue, rules: HouseRules, slip: SavedRecipe
) -> None:
    page = web.get(f"/repairs/{slip.id}", params={"without": "carnation-standard"}).text
    assert "Carnation, cream 7 → 0" in page
    fields = {"kind": "repair", "answer": "0", "without": "carnation-standard"}
    assert send(web, shop, slip.id, **fields).status_code == 200
    after = shop.load_recipe(slip.id).recipe
    assert all(entry.pieces == 0 for entry in after.entries if entry.material == "carnation-standard")
    assert get_money(take(after, catalogue), rules).is_true


def test_what_is_stopped_is_told_so_and_what_waited_beside_it_is_answered(solver: Worker) -> None:
    with ThreadPoolExecutor(2) as beside:
        long = beside.submit(solver.ask, "one", time.sleep, 600)
        other = beside.submit(solver.ask, "two", operator.add, 20, 22)
        while not long.done():
            solver.cancel("one")
            wait([long], timeout=0.1)
        assert other.result(60) == 42
        with pytest.raises(Stopped):
            long.result()


def test_what_is_wrong_is_told_whole_though_another_process_found_it(solver: Worker) -> None:
    with pytest.raises(UnknownGoods) as caught:
        solver.ask("one", Catalogue().get_container, "hat")
    assert [(each.field, bool(each.mend)) for each in caught.value.problems] == [("container", True)]


def test_a_solvers_process_ends_with_an_app_that_was_killed() -> None:
    app = "import os; from mirvel.web.workers import Worker; print(Worker().ask('x', os.getpid), flush=True);"
    killed = subprocess.run(
        [sys.executable, "-c", app + "os.kill(os.getpid(), 9)"], capture_output=True, text=True, timeout=60
    )
    assert killed.returncode == -signal.SIGKILL
    status = Path(f"/proc/{int(killed.stdout)}/status")
    ended = threading.Event()
    for _ in range(400):  # until it is gone, or only waits to be taken off the list
        if not status.exists() or "zombie" in status.read_text():
            ended.set()
            break
        ended.wait(0.05)
    assert ended.is_set()


def test_a_climb_goes_on_without_anybody_is_found_again_and_can_be_stopped(
    web: httpx.Client, slip: SavedRecipe, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("mirvel.web.tasks._SHORT_S", 0.0)
    ladder, asked = f"/ladder/{slip.id}", {"prices": "42, 51, 63, 77, 91, 119"}
    assert "going-on" in web.get(ladder, params=asked).text
    again = web.get(ladder).text  # left, and come back to
    assert "A climb goes on here" in again
    assert f'href="{ladder}?prices=42%2C+51%2C+63%2C+77%2C+91%2C+119"' in again
    while "going-on" in (page := web.get(ladder, params=asked)).text:
        web.post(f"/table/{slip.id}/stop")
    assert page.status_code == 422
    assert "it was stopped" in page.text
    assert web.get(f"/table/{slip.id}/fit").status_code == 200
    few = {"prices": "42, 58"}
    assert read_when_done(web, ladder, few).text.count('class="rung"') == 2
    assert "The last climb asked for here" in web.get(ladder).text


def test_who_would_wait_too_long_is_told_so_and_nobody_else_is_kept() -> None:
    workers, full = Worker(patience_s=0.3), Worker(most=0)
    with pytest.raises(Busy):
        full.ask("one", operator.add, 20, 22)
    try:
        with ThreadPoolExecutor(6) as beside:
            asked = [beside.submit(workers.ask, str(number), time.sleep, 0.6) for number in range(6)]
        told = [type(each.exception()) for each in asked]
        assert set(told) == {type(None), Busy}
        assert workers.ask("after", operator.add, 20, 22) == 42
    finally:
        workers.stop()


@pytest.mark.parametrize("family", ["breakwater", "lamp-room"])
def test_a_repair_that_would_bring_a_warning_gives_way_to_one_that_brings_none(family: str) -> None:
    """Roses a third dearer, as on a dear morning."""
    goods, recipe = get_catalogue(), next(each for each in get_recipes() if each.family == family)
    costs = {
        slug: each.change(cost=each.cost * Decimal("1.33")) if "rose" in slug else each
        for slug, each in goods.materials.items()
    }
    dear = goods.model_copy(update={"materials": costs})

    def find_warnings(mended: Recipe) -> set[str]:
        return {each.id for each in working.work_out(mended, dear, RULES).checks if each.severity is Severity.WARN}

    build, first = working.work_out(recipe, dear, RULES).build, find_repairs(recipe, dear, RULES, 1)[0]
    assert find_warnings(carry_places(build, first.fitted.recipe)) - find_warnings(recipe)
    found = find_least_harm(recipe, dear, RULES)
    assert found
    assert not find_warnings(found[1]) - find_warnings(recipe)
    assert working.work_out(found[1], dear, RULES).money.is_true
