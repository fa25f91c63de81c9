"""Price lists, suppliers and deliveries as kept: whole or not at all, the same again for nothing, stock follows."""

from datetime import date, timedelta
from decimal import Decimal

import pytest

from mirvel.core.buying.costs import Terms
from mirvel.core.buying.price_list import Correction, ListMapping, PricedLine, Table, read_lines
from mirvel.core.buying.review import GoodRef, RowState
from mirvel.core.buying.supplier import ListChoices, Supplier
from mirvel.core.buying.variance import get_report
from mirvel.core.goods.catalogue import GoodsKind
from mirvel.core.values.problems import BadInput
from mirvel.store.price_lists import StaleReview, get_review_digest
from mirvel.store.shop import Shop

ROSE, STOCK = (GoodRef(GoodsKind.MATERIALS, slug) for slug in ("rose-standard", "stock"))
MAPPING = ListMapping(name="Article", price="Price", pack="Stems")
TODAY = date.today()
CAUSEWAY, FENSIDE = 1, 2


def read(*rows: tuple[str, ...], mended: dict[int, Correction] | None = None) -> tuple[PricedLine, ...]:
    return read_lines(Table((("Article", "Stems", "Price"), *rows)), MAPPING, mended)


def bring_in(
    shop: Shop, lines: tuple[PricedLine, ...], supplier: int = CAUSEWAY, choices: ListChoices | None = None
) -> int:
    chosen = choices or ListChoices(mapping=MAPPING)
    return shop.price_lists.add(supplier, "monday.csv", b"kept as it came", TODAY, chosen)


def take_in(shop: Shop, list_id: int, lines: tuple[PricedLine, ...]) -> int:
    found = shop.price_lists.review(list_id, lines)
    digest = get_review_digest(found, shop.price_lists.load(list_id))
    return len(shop.price_lists.take_in(list_id, lines, digest=digest, today=TODAY).taken_in)


def get_cost(shop: Shop, ref: GoodRef) -> Decimal:
    return shop.goods.load().catalogue.materials[ref.slug].cost


def test_a_list_is_taken_in_once_and_the_same_again_changes_nothing(shop: Shop) -> None:
    lines = read(("Rose", "25", "20"), ("Stock", "10", "5.40"), ("Balloon", "1", "2"))
    assert take_in(shop, bring_in(shop, lines), lines) == 2
    assert get_cost(shop, ROSE) == Decimal("0.9095")  # 20 / 25 × 1.08 / 0.95, by hand
    before = shop.goods.load().costs, shop.prices.load_all()
    again = bring_in(shop, lines)
    assert {row.state for row in shop.price_lists.review(again, lines).rows} == {RowState.UNCHANGED, RowState.UNKNOWN}
    assert take_in(shop, again, lines) == 0
    assert (shop.goods.load().costs, shop.prices.load_all()) == before
    with pytest.raises(BadInput, match="is taken in already"):
        take_in(shop, again, lines)


def test_one_bad_row_and_nothing_is_taken_in(shop: Shop) -> None:
    lines = read(("Stock", "10", "5.40"), ("Rose", "25", "minus"))
    list_id, before = bring_in(shop, lines), shop.prices.load_all()
    with pytest.raises(BadInput, match="row 3"):
        take_in(shop, list_id, lines)
    assert shop.prices.load_all() == before
    assert shop.price_lists.load(list_id).state == "open"
    choices = ListChoices(mapping=MAPPING, corrections={3: Correction(left_out=True)})
    shop.price_lists.save_choices(list_id, choices)
    assert take_in(shop, list_id, lines) == 1
    assert get_cost(shop, ROSE) == Decimal("0.60")


def test_a_preview_that_is_out_of_date_takes_nothing_in(shop: Shop) -> None:
    lines = read(("Rose", "25", "20"))
    list_id = bring_in(shop, lines)
    seen = get_review_digest(shop.price_lists.review(list_id, lines), shop.price_lists.load(list_id))
    shop.suppliers.save(CAUSEWAY, Supplier(name="Causeway Flowers", terms=Terms(freight=Decimal("0.2"))), today=TODAY)
    with pytest.raises(StaleReview, match="look again"):
        shop.price_lists.take_in(list_id, lines, digest=seen, today=TODAY)
    assert get_cost(shop, ROSE) == Decimal("0.60")


def test_columns_and_articles_are_remembered_for_the_supplier(shop: Shop) -> None:
    lines = read(("Rood 50", "25", "20"), ("Ballon", "1", "2"))
    choices = ListChoices(mapping=MAPPING, matches={"rood 50": str(ROSE), "ballon": ""})
    assert take_in(shop, bring_in(shop, lines, choices=choices), lines) == 1
    assert shop.suppliers.load(CAUSEWAY).supplier.mapping == MAPPING
    dearer = read(("ROOD  50", "25", "21"), ("Ballon", "1", "2"))
    found = shop.price_lists.review(bring_in(shop, dearer), dearer)
    assert [row.state for row in found.rows] == [RowState.CHANGED, RowState.NOT_OURS]
    elsewhere = shop.price_lists.review(bring_in(shop, dearer, FENSIDE), dearer)
    assert elsewhere.rows[0].state is RowState.UNKNOWN


def test_another_suppliers_price_is_an_offer_until_the_shop_buys_there(shop: Shop) -> None:
    first, second = read(("Rose", "25", "20")), read(("Rose", "25", "15"))
    take_in(shop, bring_in(shop, first), first)
    assert take_in(shop, bring_in(shop, second, FENSIDE), second) == 1
    assert get_cost(shop, ROSE) == Decimal("0.9095")
    shop.suppliers.buy_from(ROSE, FENSIDE, today=TODAY)
    assert get_cost(shop, ROSE) == Decimal("0.6710")  # 15 / 25 × 1.04 / 0.93, by hand
    assert shop.suppliers.load_bought_from()[ROSE] == FENSIDE


def test_new_terms_reprice_what_is_bought_there_from_today_and_hard_goods_have_no_dump(shop: Shop) -> None:
    lines = read(("Rose", "25", "20"), ("Card and envelope", "50", "5"))
    take_in(shop, bring_in(shop, lines), lines)
    card = shop.goods.load().catalogue.hard_goods["card-envelope"].cost
    assert card == Decimal("0.1080")  # 5 / 50 × 1.08
    terms = Terms(freight=Decimal("0.08"), dump=Decimal("0.10"))
    assert shop.suppliers.save(CAUSEWAY, Supplier(name="Causeway Flowers", terms=terms), today=TODAY) == 1
    assert get_cost(shop, ROSE) == Decimal("0.9600")  # 0.864 / 0.90
    assert shop.goods.load().catalogue.hard_goods["card-envelope"].cost == card


def test_a_cost_typed_since_outlives_new_terms_and_an_older_list(shop: Shop) -> None:
    lines = read(("Rose", "25", "20"))
    take_in(shop, bring_in(shop, lines), lines)
    shop.prices.set_by_hand(ROSE, Decimal("0.77"), today=TODAY)
    terms = Terms(freight=Decimal("0.5"), dump=Decimal("0.10"))
    assert shop.suppliers.save(CAUSEWAY, Supplier(name="Causeway Flowers", terms=terms), today=TODAY) == 0
    older = read(("Rose", "25", "30"))
    chosen = ListChoices(mapping=MAPPING)
    list_id = shop.price_lists.add(CAUSEWAY, "last-week.csv", b"kept", TODAY - timedelta(days=7), chosen)
    (row,) = shop.price_lists.review(list_id, older).rows
    assert row.why == f"a newer price holds since {TODAY.day} {TODAY:%b %Y}; this one is for the days before"
    take_in(shop, list_id, older)
    assert get_cost(shop, ROSE) == Decimal("0.77")
    assert [point.cost for point in shop.prices.load_history(ROSE)][-1] == Decimal("2.0000")  # 30 / 25 × 1.5 / 0.9


def test_the_feed_is_one_suppliers_at_a_time(shop: Shop) -> None:
    fenside = shop.suppliers.load(FENSIDE).supplier.model_copy(update={"has_feed": True})
    shop.suppliers.save(FENSIDE, fenside, today=TODAY)
    assert [each.id for each in shop.suppliers.load_all() if each.supplier.has_feed] == [FENSIDE]


def test_a_unit_that_would_cost_beyond_reason_is_refused_wherever_it_comes_from(shop: Shop) -> None:
    lines = read(("Rose", "0.01", "90000"))
    assert shop.price_lists.review(bring_in(shop, lines), lines).rows[0].state is RowState.REFUSED
    costly = read(("Rose", "1", "80000"))
    choices = ListChoices(mapping=MAPPING, corrections={2: Correction(checked=True)})
    take_in(shop, bring_in(shop, costly, choices=choices), costly)
    terms = Terms(freight=Decimal(3), dump=Decimal("0.5"))
    with pytest.raises(BadInput, match="beyond 100000"):
        shop.suppliers.save(CAUSEWAY, Supplier(name="Causeway Flowers", terms=terms), today=TODAY)
    assert shop.suppliers.load(CAUSEWAY).supplier.terms.freight == Decimal("0.08")


def test_deliveries_move_the_stock_and_tell_what_buying_cost(shop: Shop) -> None:
    lines = read(("Rose", "25", "20"))
    take_in(shop, bring_in(shop, lines), lines)
    delivery = shop.deliveries.begin(CAUSEWAY, TODAY)
    assert shop.deliveries.begin(CAUSEWAY, TODAY) == delivery
    shop.deliveries.add_line(delivery, ROSE.slug, "red", 100)
    (saved,) = shop.deliveries.load_day(TODAY)
    line = saved.lines[0].id
    shop.deliveries.save_line(line, received=100, rejected=9, reason="broken")
    assert shop.goods.load_stock(ROSE.slug) == {"red": 91}
    with pytest.raises(BadInput, match="101 of 100"):
        shop.deliveries.save_line(line, received=100, rejected=101, reason="")
    assert shop.deliveries.load_rejects(TODAY) == {CAUSEWAY: (100, 9)}
    bought = shop.deliveries.load_bought(ROSE.slug, TODAY - timedelta(days=30))
    # Paid 20 / 25 × 1.08 = 0.864 a stem against a starting cost of 0.60 with nothing on top: 26.40 dearer by price.
    assert (bought[0].paid, get_report(bought).variance.price) == (Decimal("0.8640"), Decimal("26.40"))
    shop.deliveries.remove_line(line)
    assert shop.goods.load_stock(ROSE.slug) == {}
