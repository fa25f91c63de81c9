"""Several people at once: one list is taken in once, counts add up, and no change of costs is lost."""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from datetime import date
from decimal import Decimal

import pytest

from mirvel.core.buying.price_list import ListMapping, Table, read_lines
from mirvel.core.buying.review import GoodRef
from mirvel.core.buying.supplier import ListChoices
from mirvel.core.goods.catalogue import GoodsKind
from mirvel.core.pricing.drift import Cause
from mirvel.core.values.problems import BadInput
from mirvel.store.drifts import SavedDrift, read_drift
from mirvel.store.price_lists import StaleReview, get_review_digest
from mirvel.store.rows import DriftRow
from mirvel.store.shop import Shop

TODAY = date.today()
ROSE = GoodRef(GoodsKind.MATERIALS, "rose-standard")
HANDS = 6


def all_at_once(work: Callable[[int], object]) -> list[object]:
    """What each hand got, errors too."""

    def attempt(number: int) -> object:
        try:
            return work(number)
        except (BadInput, StaleReview) as error:
            return error

    with ThreadPoolExecutor(HANDS) as hands:
        return list(hands.map(attempt, range(HANDS)))


def test_a_list_taken_in_by_several_hands_counts_once(shop: Shop) -> None:
    mapping = ListMapping(name="Article", price="Price", pack="Stems")
    lines = read_lines(Table((("Article", "Stems", "Price"), ("Rose", "25", "20"), ("Stock", "10", "6"))), mapping)
    list_id = shop.price_lists.add(1, "monday.csv", b"x", TODAY, ListChoices(mapping=mapping))
    digest = get_review_digest(shop.price_lists.review(list_id, lines), shop.price_lists.load(list_id))
    done = all_at_once(lambda _: shop.price_lists.take_in(list_id, lines, digest=digest, today=TODAY))
    assert sum(not isinstance(each, Exception) for each in done) == 1
    assert len(shop.prices.load_history(ROSE)) == 2


def test_stems_counted_in_by_several_hands_add_up(shop: Shop) -> None:
    delivery = shop.deliveries.begin(1, TODAY)
    all_at_once(lambda _: shop.deliveries.add_line(delivery, ROSE.slug, "red", 10))
    assert shop.goods.load_stock(ROSE.slug) == {"red": 10 * HANDS}
    lines = shop.deliveries.load_day(TODAY)[0].lines
    all_at_once(lambda n: shop.deliveries.save_line(lines[n].id, received=10, rejected=n, reason="wilted"))
    assert shop.goods.load_stock(ROSE.slug) == {"red": 10 * HANDS - sum(range(HANDS))}


def test_costs_set_by_several_hands_are_all_seen(shop: Shop) -> None:
    slugs = ("rose-standard", "stock", "tulip", "freesia", "anemone", "peony")
    shop.goods.load()

    def set_cost(number: int) -> None:
        ref = GoodRef(GoodsKind.MATERIALS, slugs[number])
        shop.prices.set_by_hand(ref, Decimal(number + 1), today=TODAY)
        shop.goods.load()

    all_at_once(set_cost)
    materials = shop.goods.load().catalogue.materials
    assert [materials[slug].cost for slug in slugs] == [Decimal(number + 1) for number in range(HANDS)]


def test_facts_changed_by_several_hands_are_all_kept(shop: Shop) -> None:
    fields = {"head_open_cm": 8.5, "bunch_stems": 20, "note": "kept", "scent": 2, "condition_hours": 6, "habit": "many"}
    changes = list(fields.items())
    all_at_once(lambda n: shop.goods.change(ROSE, lambda good: good.model_copy(update={changes[n][0]: changes[n][1]})))
    rose = shop.goods.load().catalogue.materials[ROSE.slug]
    assert {field: getattr(rose, field) for field in fields} == fields


def test_one_delivery_is_begun_for_a_supplier_and_a_day(shop: Shop) -> None:
    assert len(set(all_at_once(lambda _: shop.deliveries.begin(2, TODAY)))) == 1


@pytest.mark.parametrize("fill", [None, Decimal("1.0417")])
def test_a_drift_comes_back_as_it_was_reckoned(shop: Shop, fill: Decimal | None) -> None:
    saved = shop.load_recipes()[0]
    causes = (Cause("Rose", Decimal("0.3333"), Decimal("-1.84")), Cause("Card", None, Decimal("0.01")))
    drift = SavedDrift(
        recipe_id=saved.id,
        state_id=saved.state_id,
        costs=shop.goods.load().costs,
        is_true=False,
        room_left=Decimal("-1.83"),
        fill=fill,
        gross_margin=Decimal("0.71"),
        causes=causes,
        month=11,
        worries=("Peony: out of season",),
    )
    shop.drifts.save([drift])
    with shop.database.transaction() as session:
        assert read_drift(session.get_one(DriftRow, (saved.id, False))) == drift
    waiting = {each.recipe_id for each in shop.drifts.load_undrifted(drift.costs, 11, 99).rows}
    assert waiting == {each.id for each in shop.load_recipes()} - {saved.id}
