"""Price lists: cells read or refused with their reason, rows judged, and nothing taken in unseen."""

from datetime import date
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mirvel.core.buying.costs import PurchasePrice, Terms, get_landed_cost
from mirvel.core.buying.price_list import (
    Correction,
    ListMapping,
    PricedLine,
    PricePer,
    Table,
    guess_mapping,
    parse_amount,
    read_lines,
)
from mirvel.core.buying.review import GoodRef, KnownGood, Matches, Review, RowState, review
from mirvel.core.goods.catalogue import GoodsKind
from tests import strategies

ROSE, STOCK = (GoodRef(GoodsKind.MATERIALS, slug) for slug in ("rose", "stock"))
TERMS = Terms(freight=Decimal("0.10"), dump=Decimal("0.05"))
MAPPING = ListMapping(name="Article", code="Code", price="Price", pack="Pack")
HEADINGS = ("Code", "Article", "Pack", "Price")


@pytest.mark.parametrize(
    ("text", "comma", "amount"),
    [
        ("12.50", False, "12.50"),
        ("£12.50", False, "12.50"),
        (" 12,50 ", True, "12.50"),
        ("1,234.50", False, "1234.50"),
        ("1.234,50 £", True, "1234.50"),
        ("1 234,50", True, "1234.50"),
        ("1'234.50", False, "1234.50"),
        (".5", False, "0.5"),
        ("-3", False, "-3"),
        ("\u00a07.20", False, "7.20"),
    ],
)
def test_amounts_as_they_are_written(text: str, comma: bool, amount: str) -> None:
    assert parse_amount(text, decimal_comma=comma, currency="£") == Decimal(amount)


@pytest.mark.parametrize(
    ("text", "comma", "said"),
    [
        ("", False, "is empty"),
        ("=A1*2", False, "is a formula"),
        ("€ 9.00", False, "is in €"),
        ("12,50", False, "written with a decimal comma"),
        ("12.50", True, "written with a decimal point"),
        ("12..5", False, "is not a number"),
        ("twelve", False, "type a number"),
        ("1e9", False, "is not a number"),
        ("٣", False, "is not a number"),
    ],
)
def test_what_cannot_be_read_says_why_and_how_to_mend_it(text: str, comma: bool, said: str) -> None:
    with pytest.raises(ValueError, match=said):
        parse_amount(text, decimal_comma=comma, currency="£")


@given(amount=st.decimals(Decimal(0), Decimal(99_999), places=2), comma=st.booleans())
def test_any_amount_written_with_separators_reads_the_same(amount: Decimal, comma: bool) -> None:
    written = f"{amount:,.2f}"
    if comma:
        written = written.translate(str.maketrans(",.", ".,"))
    assert parse_amount(f"£ {written}", decimal_comma=comma, currency="£") == amount


def read(
    *rows: tuple[str | Decimal, ...], mapping: ListMapping = MAPPING, mended: dict[int, Correction] | None = None
) -> tuple[PricedLine, ...]:
    return read_lines(Table((HEADINGS, *rows)), mapping, mended)


def test_packs_and_units_come_to_one_pack_price() -> None:
    lines = read(
        ("R", "Rose", "x 25", "20.00"), ("S", "Stock", "", "5.00"), ("T", "Tulip", "bunch of 10", Decimal("3"))
    )
    assert [line.find_pack(Decimal(10)) for line in lines] == [
        (Decimal("20.0000"), Decimal(25)),
        (Decimal("5.0000"), Decimal(10)),
        (Decimal("3.0000"), Decimal(10)),
    ]
    by_stem = read(("R", "Rose", "25", "0.80"), mapping=MAPPING.model_copy(update={"price_per": PricePer.STEM}))
    assert by_stem[0].find_pack(Decimal(10)) == (Decimal("20.0000"), Decimal(25))
    hundred = read(("R", "Rose", "25", "80"), mapping=MAPPING.model_copy(update={"price_per": PricePer.HUNDRED}))
    assert hundred[0].find_pack(Decimal(10)) == (Decimal("20.0000"), Decimal(25))


def test_a_column_of_units_counts_row_by_row_and_an_unknown_unit_is_refused() -> None:
    table = Table(
        (("Article", "Price", "Per"), ("Rose", "0.80", "stem"), ("Stock", "5", "per bunch"), ("Ivy", "5", "kilo"))
    )
    lines = read_lines(table, ListMapping(name="Article", price="Price", unit="Per"))
    assert [line.price_per for line in lines[:2]] == [PricePer.STEM, PricePer.PACK]
    assert "unit “kilo” is not known" in lines[2].why


def test_columns_are_guessed_from_headings_below_a_title_and_how_numbers_look() -> None:
    table = Table(
        (("Monday's list", "", "", ""), ("Item no", "Description", "Stems", "Price"), ("1", "Rose", "25", "20,00"))
    )
    guessed = guess_mapping(table, "£")
    assert (guessed.heading_row, guessed.code, guessed.name, guessed.pack, guessed.price, guessed.decimal_comma) == (
        2, "Item no", "Description", "Stems", "Price", True,
    )  # fmt: skip
    assert read_lines(table, guessed)[0].pack_price == Decimal("20.00")
    with pytest.raises(ValueError, match="no column “Was”"):
        read_lines(table, guessed.model_copy(update={"price": "Was"}))


@pytest.mark.parametrize(
    ("rows", "heading_row", "headings"),
    [
        ((("Code", " Price "), ("R", "20", "more")), 1, ("Code", "Price", "column 3")),
        ((("Price", "Price", ""), ("1",)), 1, ("Price", "Price (2)", "column 3")),
        ((("R", "20"), ("S", "5")), 0, ("column 1", "column 2")),
        ((("Code", "Price"),), 9, ("column 1", "column 2")),
        ((), 1, ()),
    ],
)
def test_every_column_has_a_heading_of_its_own(
    rows: tuple[tuple[str, ...], ...], heading_row: int, headings: tuple[str, ...]
) -> None:
    assert Table(rows).get_headings(heading_row) == headings


def test_a_list_needs_a_name_or_a_code_and_amounts_are_kept_to_four_places() -> None:
    table = Table((("Code", "Article", "Price"), ("R50", "Rose", "1.23456")))
    by_code, by_name = ListMapping(price="Price", code="Code"), ListMapping(price="Price", name="Article")
    assert [read_lines(table, each)[0].name for each in (by_code, by_name)] == ["R50", "Rose"]
    with pytest.raises(ValueError, match="column"):
        read_lines(table, ListMapping(price="Price"))
    assert read_lines(table, by_name)[0].find_pack(Decimal(1)) == (Decimal("1.2346"), Decimal("1.0000"))


def test_a_title_alone_is_no_row_of_headings() -> None:
    assert guess_mapping(Table((("Price list",), ("Item", "Price"), ("Rose", "2"))), "£").heading_row == 2
    assert guess_mapping(Table((("Our flowers", "of Monday"), ("Item", "Price"), ("Rose", "2"))), "£").heading_row == 2


@pytest.mark.parametrize(
    ("price", "numbers", "per", "comma"),
    [
        ("Price", ("20.00", "1.50"), PricePer.PACK, False),
        ("Price per stem", ("0,80", "1,20"), PricePer.STEM, True),
        ("Rate", ("1,234.50", "12.25"), PricePer.PACK, False),
        ("Cost", ("4", "5"), PricePer.PACK, False),
    ],
)
def test_what_prices_are_for_and_how_they_are_written_is_guessed(
    price: str, numbers: tuple[str, ...], per: PricePer, comma: bool
) -> None:
    guessed = guess_mapping(Table((("Flower", price), *(("Rose", each) for each in numbers))), "£")
    assert (guessed.price, guessed.price_per, guessed.decimal_comma, guessed.currency) == (price, per, comma, "£")


def get_last(price: str, pack: str) -> PurchasePrice:
    amounts = (Decimal(price), Decimal(pack))
    return PurchasePrice(1, date(2026, 3, 2), *amounts, TERMS, Decimal("0.9263"), 1, counts=True, source="before")


def look_over(
    *rows: tuple[str | Decimal, ...],
    mended: dict[int, Correction] | None = None,
    known: dict[str, GoodRef | None] | None = None,
) -> Review:
    rose = KnownGood(ROSE, "Rose", Decimal(25), Decimal("0.9263"), 1, get_last("20", "25"))
    stock = KnownGood(STOCK, "Stock", Decimal(10), Decimal("0.60"), 2, None)
    matches = Matches({"zz": None, **(known or {})}, {ROSE: rose, STOCK: stock})
    return review(read(*rows, mended=mended), matches, TERMS, 1, mended)


def get_states(found: Review) -> list[str]:
    return [row.state.value for row in found.rows]


def test_every_row_has_its_fate() -> None:
    found = look_over(
        ("R", "Rose", "25", "22"),
        ("S", "Stock", "10", "6"),
        ("ZZ", "Balloons", "1", "2"),
        ("Q", "Rosse", "25", "20"),
        ("N", "", "", ""),
    )
    assert get_states(found) == ["new cost", "offer kept", "not ours", "unknown", "unknown"]
    rose = found.rows[0]
    assert rose.cost == Decimal("1.0189")  # by hand: 22 / 25 × 1.1 / 0.95 = 1.018947…
    assert [each.name for each in found.rows[3].suggestions] == ["Rose"]
    assert not found.blocking


def test_what_changes_is_told_against_the_cost_in_force() -> None:
    """By hand: 22 / 25 × 1.1 / 0.95 = 1.0189 over 0.9263 is a tenth more."""
    rose, unknown, stock = look_over(("R", "Rose", "25", "22"), ("Q", "?", "1", "1"), ("S", "Stock", "10", "")).rows
    assert rose.before == Decimal("0.9263")
    assert rose.change is not None
    assert abs(rose.change - Decimal("0.1")) < Decimal("0.0001")
    assert (unknown.before, unknown.change) == (None, None)
    assert (stock.before, stock.change) == (Decimal("0.60"), None)  # refused: it brings no cost
    assert get_last("20", "25").paid_each == Decimal("0.88")  # by hand: 0.80 and a tenth of freight


@pytest.mark.parametrize(
    ("price", "state"), [("6.59", "look at this"), ("6.90", "new cost"), ("59", "new cost"), ("61", "look at this")]
)
def test_a_cost_three_times_or_a_third_of_the_one_in_force_waits_for_a_person(price: str, state: str) -> None:
    """By hand, a third and three times 0.9263: 0.3088 and 2.7789; n / 25 × 1.1 / 0.95 of 6.59, 6.90, 59 and 61 come to
    0.3052, 0.3196, 2.7326 and 2.8253."""
    assert get_states(look_over(("R", "Rose", "25", price))) == [state]


def test_goods_are_suggested_for_so_many_unknown_rows_and_no_more() -> None:
    found = look_over(*((f"Q{number}", "Rosse", "25", "20") for number in range(305)))
    assert [bool(row.suggestions) for row in found.rows] == [True] * 300 + [False] * 5


def test_what_stands_in_no_shelf_of_flowers_carries_no_dump() -> None:
    """By hand: 10 / 5 with a tenth of freight is 2.20, whatever is dumped of flowers."""
    foam = GoodRef(GoodsKind.HARD_GOODS, "foam")
    known = KnownGood(foam, "Foam", Decimal(1), Decimal(2), 1, None)
    (row,) = review(read(("F", "Foam", "5", "10")), Matches({}, {foam: known}), TERMS, 1).rows
    assert (row.state, row.cost) == (RowState.CHANGED, Decimal("2.2000"))
    (beyond,) = review(read(("F", "Foam", "1", "99999")), Matches({}, {foam: known}), TERMS, 1).rows
    assert beyond.state is RowState.REFUSED
    assert "is the pack size right?" in beyond.why


def test_the_same_again_changes_nothing_and_a_repeated_row_counts_once() -> None:
    found = look_over(("R", "Rose", "25", "20"), ("R", "Rose", "25", "20.00"))
    assert get_states(found) == ["unchanged", "repeated"]
    assert not found.taken_in


def test_rows_that_disagree_jump_or_cannot_be_read_stand_in_the_way_until_mended() -> None:
    rows = (("R", "Rose", "25", "21"), ("R", "Rose", "25", "23"), ("S", "Stock", "10", "-6"))
    found = look_over(*rows)
    assert get_states(found) == ["new cost", "refused", "refused"]
    assert "Row 2 prices the same good" in found.rows[1].why
    assert "has to be more than nothing" in found.rows[2].why
    mended = {3: Correction(left_out=True), 4: Correction(price="6")}
    assert get_states(look_over(*rows, mended=mended)) == ["new cost", "left out", "offer kept"]
    absurd = look_over(("R", "Rose", "1", "20"))
    assert get_states(absurd) == ["look at this"]
    assert get_states(look_over(("R", "Rose", "1", "20"), mended={2: Correction(checked=True)})) == ["new cost"]


def test_a_code_that_now_stands_for_another_flower_is_not_believed() -> None:
    found = look_over(("R50", "Stock", "25", "25"), known={"r50": ROSE})
    assert get_states(found) == ["look at this"]
    assert "remembered as Rose, but the list calls it Stock" in found.rows[0].why
    assert [each.name for each in found.rows[0].suggestions] == ["Stock"]


def test_a_remembered_article_is_known_by_its_code_whatever_it_is_called() -> None:
    found = look_over(("R50", "Rood 50 cm", "25", "25"), known={"r50": ROSE})
    assert (found.rows[0].state, found.rows[0].good and found.rows[0].good.ref) == (RowState.CHANGED, ROSE)


cells = st.one_of(
    st.text(max_size=8), st.decimals(Decimal(-100), Decimal(1000), places=2), st.sampled_from(["R", "Rose", "25"])
)


@given(rows=st.lists(st.tuples(cells, cells, cells, cells), max_size=12))
def test_any_table_is_read_or_refused_row_by_row_and_never_taken_in_with_a_fault(
    rows: list[tuple[str | Decimal, ...]],
) -> None:
    found = look_over(*rows, known={"r": ROSE})
    named = [row for row in rows if str(row[0]).strip() or str(row[1]).strip()]
    assert len(found.rows) == len(named)
    assert [row.line.row for row in found.rows] == sorted(row.line.row for row in found.rows)
    for row in found.taken_in:
        assert row.good
        assert row.cost is not None
        assert 0 < row.cost <= 3 * row.good.cost
    goods = [row.good.ref for row in found.taken_in if row.good]
    assert len(goods) == len(set(goods))
    assert all(row.why for row in found.blocking)


@given(price=strategies.money("0.01", "90"), pack=st.integers(1, 50))
def test_a_list_taken_in_reads_as_unchanged(price: Decimal, pack: int) -> None:
    (line,) = read(("R", "Rose", str(pack), str(price)))
    cost = get_landed_cost(price, Decimal(pack), TERMS)
    kept = PurchasePrice(7, date(2026, 3, 2), price, Decimal(pack), TERMS, cost, 1, counts=True, source="taken in")
    rose = KnownGood(ROSE, "Rose", Decimal(25), cost, 1, kept)
    found = review([line], Matches({}, {ROSE: rose}), TERMS, 1)
    assert get_states(found) == ["unchanged"]
