"""Standards are numbered, never change, and go out of force by the next one or by being retired."""

import threading
from dataclasses import replace
from datetime import timedelta
from decimal import Decimal

import pytest

from mirvel.core.buying.review import GoodRef
from mirvel.core.changing.changes import nudge_pieces
from mirvel.core.goods.catalogue import GoodsKind
from mirvel.core.publishing import Frozen, Tolerances
from mirvel.core.recipe.taking import take
from mirvel.demo import RULES, get_catalogue
from mirvel.store.shelving import ShelfSearch, Stood
from mirvel.store.shop import SavedRecipe, Shop, Worth
from mirvel.store.stale import NoSuchRecipe, NoSuchStandard, StaleState
from mirvel.store.standards import Draft
from mirvel.web.drifting import reckon_all
from tests.store.test_shop import raise_first

WITHIN = Tolerances(height_cm=1.5, pieces=1)


def publish(shop: Shop, *saved: SavedRecipe, why: str = "fewer greens") -> None:
    shop.standards.publish([make_draft(each) for each in saved], "Priya", why, WITHIN, shop.get_now())


def make_draft(saved: SavedRecipe) -> Draft:
    goods = take(saved.recipe, get_catalogue()).as_catalogue()
    return Draft(saved.id, saved.state_id, Frozen(goods=goods, rules=RULES))


def find(shop: Shop, family: str) -> SavedRecipe:
    return next(each for each in shop.load_recipes() if each.recipe.family == family)


def stand(shop: Shop, saved: SavedRecipe) -> Stood:
    search = ShelfSearch(text=saved.recipe.name)
    return shop.shelf.load(search, "", {saved.recipe.price_point: 0})[0]


def test_a_standard_stays_what_it_was_published_as(shop: Shop) -> None:
    first = find(shop, "fender")
    (demo,) = shop.standards.load_all(first.id)
    assert (demo.number, demo.state_id, demo.is_in_force) == (1, first.state_id, True)
    second = raise_first(shop, first)
    assert shop.standards.find_in_force(first.id) == demo
    publish(shop, second)
    newest, oldest = shop.standards.load_all(first.id)
    assert (newest.number, newest.by, newest.why, newest.within) == (2, "Priya", "fewer greens", WITHIN)
    assert newest.made_at == shop.get_now()
    assert (oldest.replaced_by, oldest.is_in_force, newest.is_in_force) == (2, False, True)
    publish(shop, second, why="again")  # as it is in force already
    assert len(shop.standards.load_all(first.id)) == 2
    raise_first(shop, second)
    assert shop.standards.load(first.id, 1).recipe == first.recipe
    assert shop.standards.load(first.id, 2).recipe == second.recipe
    assert shop.standards.load(first.id, 2).frozen == make_draft(second).frozen
    with pytest.raises(NoSuchStandard):
        shop.standards.load(first.id, 3)


def test_drafts_are_published_all_or_none(shop: Shop) -> None:
    fender, slipway = (raise_first(shop, find(shop, family)) for family in ("fender", "slipway"))
    raise_first(shop, slipway)
    with pytest.raises(StaleState):
        publish(shop, fender, slipway)
    assert [len(shop.standards.load_all(each.id)) for each in (fender, slipway)] == [1, 1]
    publish(shop, fender, shop.load_recipe(slipway.id))
    assert [len(shop.standards.load_all(each.id)) for each in (fender, slipway)] == [2, 2]
    with pytest.raises(NoSuchRecipe):
        publish(shop, replace(fender, id=10**6))


def test_one_that_is_retired_leaves_none_in_force_and_the_next_is_numbered_on(shop: Shop) -> None:
    saved = find(shop, "fender")
    later = shop.get_now() + timedelta(hours=1)
    shop.standards.retire(saved.id, 1, "Ines", "not made any more", later)
    (gone,) = shop.standards.load_all(saved.id)
    assert (gone.retired_by, gone.retired_why, gone.retired_at) == ("Ines", "not made any more", later)
    assert shop.standards.find_in_force(saved.id) is None
    with pytest.raises(StaleState):
        shop.standards.retire(saved.id, 1, "Ines", "once more", later)
    with pytest.raises(NoSuchStandard):
        shop.standards.retire(saved.id, 7, "Ines", "none", later)
    publish(shop, saved)  # the same state again is a standard of its own
    assert [each.number for each in shop.standards.load_all(saved.id)] == [2, 1]
    assert shop.standards.find_in_force(saved.id)


def test_the_shelf_knows_drafts_and_the_money_of_the_standard_beside_one(shop: Shop) -> None:
    saved = find(shop, "fender")
    assert (stand(shop, saved).standard, stand(shop, saved).is_draft) == (1, False)
    assert not shop.shelf.count(ShelfSearch(only="drafts"), "").total
    shop.prices.set_by_hand(GoodRef(GoodsKind.MATERIALS, "rose-standard"), Decimal("0.80"), today=shop.get_today())
    mended = saved.recipe
    for _ in range(3):
        mended = nudge_pieces(mended, "e3", -1).recipe  # nine roses at 0.60 were true; six at 0.80 are
    worth = Worth(mended, {}, is_true=True)
    shop.save_recipe(saved.id, worth, read_at=saved.state_id, change="three roses fewer")
    reckon_all(shop, threading.Event())
    stood = stand(shop, saved)
    assert shop.shelf.count(ShelfSearch(only="drafts"), "").total == 1
    assert stood.is_draft
    assert stood.drift
    assert stood.standard_drift
    assert stood.drift.room_left - stood.standard_drift.room_left == 3 * Decimal("0.80")
    assert stood.standard_drift.room_left < 0
    publish(shop, shop.load_recipe(saved.id))
    reckon_all(shop, threading.Event())
    assert (stand(shop, saved).standard, stand(shop, saved).standard_drift) == (2, None)
