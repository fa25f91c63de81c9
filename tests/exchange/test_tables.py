"""Tables in and out: CSV as RFC 4180 has it, spreadsheets written by another library, bad files refused whole."""

import csv
import io
import zipfile
from decimal import Decimal

import pytest
import xlsxwriter
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import load_workbook

from mirvel.core.buying.price_list import MOST_ROWS, ListMapping, parse_amount, read_lines
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.values.problems import BadInput
from mirvel.demo import SUPPLIERS
from mirvel.exchange.price_feed import FEED_MAPPING, parse_feed, read_feed
from mirvel.exchange.shop_export import get_tables
from mirvel.exchange.tables import neutralise, read_table, write_csv, write_xlsx


@pytest.mark.parametrize(
    ("text", "rows"),
    [
        ("aaa,bbb,ccc\r\nzzz,yyy,xxx\r\n", [["aaa", "bbb", "ccc"], ["zzz", "yyy", "xxx"]]),
        ("aaa,bbb,ccc\r\nzzz,yyy,xxx", [["aaa", "bbb", "ccc"], ["zzz", "yyy", "xxx"]]),
        ('"aaa","bbb","ccc"\r\nzzz,yyy,xxx', [["aaa", "bbb", "ccc"], ["zzz", "yyy", "xxx"]]),
        ('"aaa","b\r\nbb","ccc"\r\nzzz,yyy,xxx', [["aaa", "b\r\nbb", "ccc"], ["zzz", "yyy", "xxx"]]),
        ('"aaa","b""bb","ccc"', [["aaa", 'b"bb', "ccc"]]),
        ("field_name,field_name\r\n a , b \r\n", [["field_name", "field_name"], [" a ", " b "]]),
    ],
)
def test_csv_reads_as_the_standard_says(text: str, rows: list[list[str]]) -> None:
    """Section 2, rules 1 to 7 with their own examples; spaces are part of a field, rule 4 (source: rfc-4180)."""
    assert [list(row) for row in read_table(text.encode(), "list.csv").rows] == rows


cells = st.text(st.characters(exclude_characters="\x00", exclude_categories=["Cs"]), max_size=12)


@given(rows=st.lists(st.lists(cells, min_size=2, max_size=4), min_size=1, max_size=5))
def test_what_is_written_reads_back_but_for_the_mark_before_formulas(rows: list[list[str]]) -> None:
    read = list(csv.reader(io.StringIO(write_csv(rows), newline=""), strict=True))
    assert read == [[neutralise(cell) for cell in row] for row in rows]
    assert not any(cell.startswith(("=", "+", "-", "@", "\t", "\r")) for row in read for cell in row)


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
@pytest.mark.parametrize("delimiter", [",", ";", "\t", "|"])
def test_encodings_and_delimiters_are_found_out(encoding: str, delimiter: str) -> None:
    text = "\r\n".join(delimiter.join(row) for row in (("Article", "Price"), ("Pivoine à cœur", '"1"'), ("Rosé", "2")))
    table = read_table(text.encode(encoding), "list.csv")
    assert table.rows == (("Article", "Price"), ("Pivoine à cœur", "1"), ("Rosé", "2"))
    assert bool(table.notes) == (encoding == "cp1252")


def make_workbook(rows: list[list[object]], *, sheets: int = 1) -> bytes:
    """A spreadsheet written by a library that the app does not use."""
    written = io.BytesIO()
    book = xlsxwriter.Workbook(written, {"in_memory": True})
    for number in range(sheets):
        sheet = book.add_worksheet(f"Prices {number}")
        for at, row in enumerate(rows):
            sheet.write_row(at, 0, row)
    book.close()
    return written.getvalue()


def test_a_spreadsheet_written_by_another_library_reads_the_same_as_its_csv() -> None:
    rows: list[list[object]] = [["Article", "Stems", "Price"], ["Rose", 25, 19.99], ["Stock", 10, 0.1], ["Öl", 5, 7]]
    from_sheet = read_table(make_workbook(rows), "list.xlsx")
    text = "\r\n".join(",".join(str(cell) for cell in row) for row in rows)
    mapping = ListMapping(name="Article", price="Price", pack="Stems")
    lines = [read_lines(table, mapping) for table in (from_sheet, read_table(text.encode(), "list.csv"))]
    assert [(line.name, line.pack_price, line.pack_size) for line in lines[0]] == [
        (line.name, line.pack_price, line.pack_size) for line in lines[1]
    ]
    assert lines[0][0].pack_price == Decimal("19.99")
    assert "first sheet" in read_table(make_workbook(rows, sheets=2), "two.xlsx").notes[0]


def test_a_formula_in_a_sheet_is_refused_with_its_text_rather_than_run() -> None:
    (_, row) = read_table(make_workbook([["Article", "Price"], ["Rose", "=1+2"]]), "list.xlsx").rows
    with pytest.raises(ValueError, match=r"is a formula \(=1\+2\)"):
        parse_amount(row[1], decimal_comma=False, currency="£")


def make_bomb() -> bytes:
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as files:
        files.writestr("xl/worksheets/sheet1.xml", b" " * 160_000_000)
    return packed.getvalue()


@pytest.mark.parametrize(
    ("content", "name", "said"),
    [
        (b"", "a.csv", "it is empty"),
        (b" \r\n \r\n", "a.csv", "it is empty"),
        (b",,\r\n,,\r\n", "a.csv", "has no rows"),
        (b'"Rose,1\r\n', "a.csv", r"quotes in line \d+ do not close"),
        (b"PK\x03\x04not a sheet", "a.xlsx", "not a readable .xlsx"),
        (b"\xd0\xcf\x11\xe0rest", "a.xls", "old spreadsheet"),
        (b"Rose\x00,1", "a.csv", "is not text"),
        (b"\xff\xfeR", "a.csv", "text is damaged"),
        (b"Rose,1\n" * 100_000, "a.csv", f"more than {MOST_ROWS:,} rows"),
        (b"x" * 10_000_001, "a.csv", "larger than 10 MB"),
    ],
)
def test_bad_files_are_refused_whole_with_what_to_do(content: bytes, name: str, said: str) -> None:
    with pytest.raises(BadInput, match=said):
        read_table(content, name)


def test_a_file_that_unpacks_to_far_more_is_refused_unread() -> None:
    with pytest.raises(BadInput, match="unpacks to more than 150 MB"):
        read_table(make_bomb(), "bomb.xlsx")


def test_everything_goes_out_and_no_cell_can_run(catalogue: Catalogue) -> None:
    rose = catalogue.materials["rose-standard"].model_copy(
        update={"name": "=HYPERLINK(1)", "note": "@sum", "judging": "-1"}
    )
    goods = catalogue.model_copy(update={"materials": {**catalogue.materials, rose.slug: rose}})
    tables = get_tables(goods, dict(enumerate(SUPPLIERS, 1)), [])
    assert {len(tables[kind]) - 1 for kind in ("materials",)} == {len(catalogue.materials)}
    colours = sum(len(each.colours) for each in catalogue.materials.values())
    assert len(tables["colours"]) == colours + 1
    book = load_workbook(io.BytesIO(write_xlsx(tables.items())))
    assert book.sheetnames == list(tables)
    for sheet in book.worksheets:
        for row in sheet.iter_rows():
            assert all(cell.data_type != "f" for cell in row)
    (line,) = [row for row in csv.reader(io.StringIO(write_csv(tables["materials"]))) if row[0] == rose.slug]
    assert line[1] == "'=HYPERLINK(1)"
    costs = {row[0]: row[-2] for row in csv.reader(io.StringIO(write_csv(tables["hard_goods"])))}
    assert Decimal(costs["ribbon-16"]) == catalogue.hard_goods["ribbon-16"].cost


FEED = (
    '{"format": "daily prices", "version": 1, "day": "2026-03-02", "currency": "£", "later": [],'
    ' "articles": [{"code": "CF-1", "description": "Rose", "pack": "25", "price": "17.60", "colour": "any"}]}'
)


def test_a_feed_reads_as_a_list_and_whatever_else_it_says_is_left() -> None:
    (line,) = read_lines(read_feed(FEED.encode()), FEED_MAPPING)
    assert (line.code, line.name, line.pack_price, line.pack_size) == ("CF-1", "Rose", Decimal("17.60"), Decimal(25))


@pytest.mark.parametrize(
    "wrong",
    [
        "<html>down</html>",
        "[]",
        FEED.replace('"version": 1', '"version": 2'),
        FEED.replace("17.60", "-1"),
        FEED.replace("17.60", "NaN"),
        FEED.replace("2026-03-02", "Monday"),
        FEED.replace('"code": "CF-1", ', ""),
        FEED[: len(FEED) // 2],
    ],
)
def test_rubbish_in_a_feed_is_refused_whole(wrong: str) -> None:
    with pytest.raises(BadInput, match="Nothing of it was used"):
        parse_feed(wrong.encode())
