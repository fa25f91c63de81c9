"""Tables in and out: CSV (RFC 4180) and XLSX, read to cells and written so that no spreadsheet runs them.

Reading never evaluates: a formula stays the text it is, and the core refuses it with its row. Writing puts an
apostrophe before text that a spreadsheet would take for a formula.
"""

import csv
import io
import re
import zipfile
import zlib
from collections.abc import Callable, Iterable, Sequence
from datetime import date
from decimal import Decimal
from itertools import islice
from typing import Any
from xml.etree.ElementTree import ParseError

import xlsxwriter
from openpyxl import load_workbook
from openpyxl.utils.exceptions import InvalidFileException

from mirvel.core.buying.price_list import MOST_CELLS, MOST_COLUMNS, MOST_ROWS, Cell, Table
from mirvel.core.values.problems import BadInput, Problem

LARGEST_FILE = 10_000_000
_LARGEST_UNPACKED = 150_000_000
_LONGEST_CELL = 2_000
_MOST_DIGITS = 30
_UNKEPT = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ud800-\udfff\ufffe\uffff]")
_STARTS_A_FORMULA = ("=", "+", "-", "@", "\t", "\r")
Value = str | int | Decimal | date | bool | None


def read_table(content: bytes, file_name: str) -> Table:
    """The cells of a CSV or XLSX file. Raises BadInput saying what is wrong with the file and what to do."""
    if len(content) > LARGEST_FILE:
        raise _bad("it is larger than 10 MB.", "Export only the price list, without pictures.")
    if not content.strip():
        raise _bad("it is empty.", "Choose the file again; perhaps its export was cut off.")
    if content.startswith(b"PK"):
        return _check_rows(_read_xlsx(content))
    if content.startswith(b"\xd0\xcf\x11\xe0") or file_name.lower().endswith(".xls"):
        raise _bad("it is an old spreadsheet (.xls).", "Save it as .xlsx or .csv, then bring that in.")
    return _check_rows(_read_csv(content))


def _read_rows(rows: Iterable[Sequence[object]]) -> tuple[tuple[Cell, ...], ...]:
    """Rows as they come, given up at once where they are too many, too wide or too much in all."""
    read, cells = [], 0
    for number, row in enumerate(rows, 1):
        kept = _trim(tuple(_get_cell(value, number) for value in row))
        if len(kept) > MOST_COLUMNS:
            raise _bad(f"row {number} has more than {MOST_COLUMNS} columns.", "Keep only the columns with the prices.")
        cells += len(kept)
        if number > MOST_ROWS or cells > MOST_CELLS:
            many = f"{MOST_ROWS:,} rows" if number > MOST_ROWS else f"{MOST_CELLS:,} cells"
            raise _bad(f"it has more than {many}.", "Split it, or keep only what the shop buys.")
        read.append(kept)
    return tuple(read)


def _bad(message: str, mend: str) -> BadInput:
    return BadInput(Problem("the file", message, mend))


def _check_rows(table: Table) -> Table:
    if not any(any(str(cell).strip() for cell in row) for row in table.rows):
        raise _bad("it has no rows.", "Choose the sheet or file that holds the prices.")
    return table


def _decode(content: bytes) -> tuple[str, str]:
    """The text and, where it was not UTF-8, a note of what it was taken for."""
    for mark, encoding in ((b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16"), (b"\xef\xbb\xbf", "utf-8-sig")):
        if content.startswith(mark):
            try:
                return content.decode(encoding), ""
            except UnicodeDecodeError:
                raise _bad("its text is damaged.", "Export it again as CSV in UTF-8.") from None
    try:
        return content.decode("utf-8"), ""
    except UnicodeDecodeError:
        text = content.decode("cp1252", errors="replace")
        return text, "It is not written in UTF-8; it was read as Western European. Look at names with accents."


def _read_csv(content: bytes) -> Table:
    text, note = _decode(content)
    if "\x00" in text:
        raise _bad("it is not text.", "Choose a .csv or .xlsx file.")
    delimiter = _get_delimiter(text)
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True)
    try:
        rows = _read_rows(reader)
    except csv.Error as error:
        mend = "Each quote inside a quoted cell is written twice; mend the row, or export again."
        raise _bad(f"the quotes in line {reader.line_num} do not close ({error}).", mend) from None
    return Table(rows, (note,) if note else ())


def _get_delimiter(text: str) -> str:
    """The separator that splits the first lines into most columns, quotes respected."""
    sample = list(islice(io.StringIO(text, newline=""), 30))

    def count(delimiter: str) -> int:
        try:
            widths = [len(row) for row in csv.reader(sample, delimiter=delimiter) if row]
        except csv.Error:
            return 0
        return max(set(widths), key=widths.count) if widths else 0

    return max((",", ";", "\t", "|"), key=count)


_NO_WORKBOOK = (
    *(zipfile.BadZipFile, InvalidFileException, ParseError, zlib.error),
    *(KeyError, ValueError, TypeError, AttributeError, IndexError, OSError, EOFError, NotImplementedError),
)


def _read_xlsx(content: bytes) -> Table:
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as packed:
            if sum(part.file_size for part in packed.infolist()) > _LARGEST_UNPACKED:
                raise _bad("it unpacks to more than 150 MB.", "Export only the price list, without pictures.")
        book = load_workbook(io.BytesIO(content), read_only=True, data_only=False, keep_links=False)
        sheet = book.worksheets[0]
        read = _read_rows(sheet.iter_rows(max_row=MOST_ROWS + 1, max_col=MOST_COLUMNS + 1, values_only=True))
    except _NO_WORKBOOK as error:
        raise _bad("it is not a readable .xlsx file.", "Open it and save it again as .xlsx or .csv.") from error
    note = f"Read from the first sheet, “{sheet.title}”." if len(book.worksheets) > 1 else ""
    return Table(read, (note,) if note else ())


def _trim(row: tuple[Cell, ...]) -> tuple[Cell, ...]:
    """The row without the empty cells at its end."""
    filled = [number for number, cell in enumerate(row, 1) if cell != ""]
    return row[: filled[-1]] if filled else ()


def _get_cell(value: object, row: int) -> Cell:
    """A cell as text or exact number; floats as they are written, not as they are stored. Raises BadInput."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return str(value)
    if isinstance(value, (int, float)):
        number = repr(value)
        return Decimal(number) if len(number) <= _MOST_DIGITS else number[:_MOST_DIGITS]
    text = str(value)
    if len(text) > _LONGEST_CELL:
        raise _bad(f"a cell in row {row} holds more than {_LONGEST_CELL:,} characters.", "Shorten or empty it.")
    return _UNKEPT.sub(" ", text)


def neutralise(text: str) -> str:
    """Text that a spreadsheet shows rather than runs.

    >>> neutralise("=1+1"), neutralise("Rose")
    ("'=1+1", 'Rose')
    """
    return f"'{text}" if text.startswith(_STARTS_A_FORMULA) else text


def write_csv(rows: Iterable[Sequence[Value]]) -> str:
    """CSV as its standard has it (source: rfc-4180): CRLF, quotes where needed."""
    written = io.StringIO(newline="")
    csv.writer(written, lineterminator="\r\n").writerows([_get_text(value) for value in row] for row in rows)
    return written.getvalue()


def _get_text(value: Value) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, Decimal):
        return f"{value:f}"
    return neutralise(value) if isinstance(value, str) else str(value)


def write_xlsx(
    sheets: Iterable[tuple[str, Sequence[Sequence[Value]]]], tell: Callable[[int, int], None] = lambda done, of: None
) -> bytes:
    """A workbook of named sheets, headings in bold; numbers stay numbers, text stays text. Written row by row, so that
    its size in memory does not grow with what is in it; ``tell`` hears how many rows of how many are written."""
    written, sheets, done = io.BytesIO(), list(sheets), 0
    of = sum(len(rows) for _, rows in sheets)
    with xlsxwriter.Workbook(written, {"constant_memory": True, "default_date_format": "yyyy-mm-dd"}) as book:
        bold = book.add_format({"bold": True})
        for title, rows in sheets:
            sheet = book.add_worksheet(title[:31])
            sheet.freeze_panes(1, 0)
            for number, row in enumerate(rows):
                for column, value in enumerate(row):
                    _write_cell(sheet, number, column, value, bold if number == 0 else None)
                done += 1
                tell(done, of)
    return written.getvalue()


def _write_cell(sheet: Any, row: int, column: int, value: Value, look: Any) -> None:
    if isinstance(value, bool):
        value = "yes" if value else "no"
    if isinstance(value, str):
        sheet.write_string(row, column, neutralise(value), look)
    elif isinstance(value, date):
        sheet.write_datetime(row, column, value)
    elif value is not None:
        sheet.write_number(row, column, value, look)
