"""A supplier's price list: from the cells of a table to priced lines, with what is wrong said row by row.

The file itself is read elsewhere; here a table is rows of cells, each text or a number. A mapping, remembered for
each supplier, says which column holds what. Nothing is guessed silently: a cell that cannot be read is a problem
with its row number.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal, InvalidOperation
from enum import StrEnum
from typing import Annotated

from pydantic import Field

from mirvel.core.values.fact import KEPT, Fact, Short

MOST_ROWS, MOST_COLUMNS, MOST_CELLS = 20_000, 100, 400_000
LONGEST_HEADING = 200
Cell = str | Decimal
Heading = Annotated[str, Field(max_length=LONGEST_HEADING, pattern=KEPT)]
LARGEST_PRICE = Decimal(100_000)
LARGEST_PACK = Decimal(10_000)
_KEPT = _LEAST = Decimal("0.0001")  # what a price is kept to
_CURRENCIES = "£€$¥₹"
_UNITS = {
    "stem": ("stem", "stems", "each", "ea", "piece", "pc", "pce", "st", "single", "metre", "m", "gram", "g"),
    "pack": ("pack", "bunch", "bu", "bunches", "bun", "box", "roll", "case", "pk", "tray", "bag"),
    "100": ("100", "100 stems", "per 100", "/100", "hundred"),
}


class PricePer(StrEnum):
    """What a list's price is for."""

    PACK = "a pack or bunch"
    STEM = "one stem or piece"
    HUNDRED = "100 stems"


class ListMapping(Fact):
    """Which column of a list holds what, by its heading, and how numbers are written."""

    heading_row: int = Field(default=1, ge=0, le=200, description="0 when the list has no headings")
    name: Heading = ""
    code: Heading = ""
    price: Heading = ""
    pack: Heading = ""
    unit: Heading = ""
    price_per: PricePer = PricePer.PACK
    decimal_comma: bool = False
    currency: str = Field(default="£", max_length=4, pattern=KEPT)


@dataclass(frozen=True)
class Table:
    """A file's cells, and what was noticed while reading it."""

    rows: tuple[tuple[Cell, ...], ...]
    notes: tuple[str, ...] = ()

    def get_headings(self, heading_row: int) -> tuple[str, ...]:
        """The headings, unique; columns without one are named by number."""
        width = max((len(row) for row in self.rows), default=0)
        cells = self.rows[heading_row - 1] if 0 < heading_row <= len(self.rows) else ()
        names = [str(cells[n]).strip()[: LONGEST_HEADING - 8] if n < len(cells) else "" for n in range(width)]
        seen: set[str] = set()
        headings = []
        for number, name in enumerate(names, 1):
            headings.append(f"{name} ({number})" if name in seen else name or f"column {number}")
            seen |= {name} - {""}
        return tuple(headings)


@dataclass(frozen=True)
class PricedLine:
    """One article of a list. ``pack_price`` and ``pack_size`` are None where ``why`` says what cannot be read;
    a pack size the list does not give is None without a problem."""

    row: int
    code: str
    name: str
    price_text: str
    pack_text: str
    pack_price: Decimal | None
    pack_size: Decimal | None
    price_per: PricePer
    why: str = ""

    @property
    def article(self) -> str:
        """What the supplier's article is remembered by: its code, or else its name."""
        return (self.code or " ".join(self.name.split())).casefold()

    def find_pack(self, usual_pack: Decimal) -> tuple[Decimal, Decimal] | None:
        """Pack price and pack size, with the good's usual pack where the list gives none."""
        if self.pack_price is None:
            return None
        size = self.pack_size or usual_pack
        per_stem = {PricePer.STEM: Decimal(1), PricePer.HUNDRED: Decimal("0.01")}.get(self.price_per)
        price = self.pack_price if per_stem is None else self.pack_price * size * per_stem
        return price.quantize(_KEPT), size.quantize(_KEPT)


class Correction(Fact):
    """What a person mended in a row: other text for its price or pack, left out, or looked at and found right."""

    price: Short | None = None
    pack: Short | None = None
    left_out: bool = False
    checked: bool = False


def parse_amount(cell: Cell, *, decimal_comma: bool, currency: str) -> Decimal:
    """A price or pack size as written. Raises ValueError whose text says what is wrong and how to mend it."""
    if isinstance(cell, Decimal):
        return cell
    text = cell.strip().replace("\u00a0", " ")
    if not text:
        raise ValueError("is empty; type a price")
    if text.startswith("="):
        raise ValueError(f"is a formula ({text[:20]}); type its value")
    for sign in _CURRENCIES:
        if sign in text and sign != currency:
            raise ValueError(f"is in {sign}, and the list is read in {currency}; convert it or choose {sign}")
    bare = text.replace(currency, "").replace("'", "").replace(" ", "") if currency else text.replace(" ", "")
    thousands, point = (".", ",") if decimal_comma else (",", ".")
    groups = rf"-?\d{{1,3}}(\{thousands}\d{{3}})+(\{point}\d+)?|-?\d+(\{point}\d+)?|-?\{point}\d+"
    if not re.fullmatch(groups, bare, re.ASCII):
        other = "a decimal point" if decimal_comma else "a decimal comma"
        hint = f"; is it written with {other}?" if re.fullmatch(r"\d+[.,]\d{1,4}", bare) else "; type a number"
        raise ValueError(f"“{text[:30]}” is not a number{hint}")
    try:
        return Decimal(bare.replace(thousands, "").replace(point, "."))
    except InvalidOperation:  # more digits than a decimal holds
        raise ValueError(f"“{text[:30]}” is not a number; type a number") from None


def _read_limited(cell: Cell, what: str, most: Decimal, mapping: ListMapping) -> Decimal:
    try:
        amount = parse_amount(cell, decimal_comma=mapping.decimal_comma, currency=mapping.currency)
    except ValueError as error:
        raise ValueError(f"The {what} {error}.") from None
    if amount <= 0:
        raise ValueError(f"The {what} is {amount.normalize():f}; it has to be more than nothing.")
    if amount < _LEAST:
        raise ValueError(f"The {what} is too small to reckon with; check the row.")
    if amount > most:
        raise ValueError(f"The {what} {amount.normalize():f} is beyond {most}; check the row.")
    return amount


def read_lines(
    table: Table, mapping: ListMapping, corrections: Mapping[int, Correction] | None = None
) -> tuple[PricedLine, ...]:
    """Every article line below the headings; rows without name and price are skipped.

    Raises ValueError when the mapping names a column the table has not.
    """
    headings = table.get_headings(mapping.heading_row)
    columns = {
        field: _find_column(headings, getattr(mapping, field)) for field in ("name", "code", "price", "pack", "unit")
    }
    if columns["name"] is None and columns["code"] is None:
        raise ValueError("Choose the column that names the article.")
    if columns["price"] is None:
        raise ValueError("Choose the column with the price.")
    mended = corrections or {}
    lines = []
    for number, row in enumerate(table.rows[mapping.heading_row :], mapping.heading_row + 1):
        cells = {field: row[at] if at is not None and at < len(row) else "" for field, at in columns.items()}
        if str(cells["name"]).strip() or str(cells["code"]).strip():
            lines.append(_read_line(number, cells, mapping, mended.get(number, Correction())))
    return tuple(lines)


def _find_column(headings: Sequence[str], wanted: str) -> int | None:
    if not wanted:
        return None
    if wanted not in headings:
        raise ValueError(f"The list has no column “{wanted}”. Choose the columns again.")
    return headings.index(wanted)


def _read_line(number: int, cells: Mapping[str, Cell], mapping: ListMapping, mended: Correction) -> PricedLine:
    price = cells["price"] if mended.price is None else mended.price
    pack = cells["pack"] if mended.pack is None else mended.pack
    why, pack_price, pack_size, per = "", None, None, mapping.price_per
    try:
        per = _read_unit(cells["unit"], mapping.price_per)
        pack_price = _read_limited(price, "price", LARGEST_PRICE, mapping)
        if str(pack).strip():
            pack_size = _read_limited(_get_leading_number(pack), "pack size", LARGEST_PACK, mapping)
    except ValueError as error:
        why, pack_price, pack_size = str(error), None, None
    return PricedLine(
        row=number,
        code=str(cells["code"]).strip()[:80],
        name=(str(cells["name"]).strip() or str(cells["code"]).strip())[:200],
        price_text=str(price).strip()[:40],
        pack_text=str(pack).strip()[:40],
        pack_price=pack_price,
        pack_size=pack_size,
        price_per=per,
        why=why,
    )


def _get_leading_number(cell: Cell) -> Cell:
    """The number in a pack such as "x 25", "25 stems" or "bunch of 10"."""
    if isinstance(cell, Decimal) or cell.strip().startswith(("=", "-")):
        return cell
    found = re.search(r"\d[\d.,]*", cell)
    return found.group().rstrip(".,") if found else cell


def _read_unit(cell: Cell, usual: PricePer) -> PricePer:
    text = f"{cell}".strip().casefold().removeprefix("per ").removeprefix("/").strip()
    if not text:
        return usual
    for words, per in (
        (_UNITS["stem"], PricePer.STEM),
        (_UNITS["pack"], PricePer.PACK),
        (_UNITS["100"], PricePer.HUNDRED),
    ):
        if text in words:
            return per
    raise ValueError(f"The unit “{text[:20]}” is not known; use stem, bunch or 100.")


_HEADING_WORDS = {
    "code": ("code", "article", "item no", "item", "sku", "ref", "number"),
    "name": ("description", "product", "name", "variety", "flower", "article", "item"),
    "price": ("price", "cost", "rate", "amount"),
    "pack": ("pack", "bunch size", "stems", "per bunch", "qty", "quantity", "size"),
    "unit": ("unit", "uom", "price per", "per"),
}


def guess_mapping(table: Table, currency: str) -> ListMapping:
    """A first mapping from the headings and how the numbers look, for a person to check."""
    heading_row = next((n for n, row in enumerate(table.rows[:30], 1) if _looks_like_headings(row)), 1)
    headings = table.get_headings(heading_row)
    chosen: dict[str, str] = {}
    for field in ("price", "unit", "pack", "name", "code"):
        free = [heading for heading in headings if heading not in chosen.values()]
        chosen[field] = _find_heading(_HEADING_WORDS[field], free)
    at = headings.index(chosen["price"]) if chosen["price"] else 0
    prices = [str(row[at]) for row in table.rows[heading_row:] if at < len(row) and isinstance(row[at], str)]
    commas = sum(bool(re.search(r"\d,\d{1,2}\D*$", text)) for text in prices)
    points = sum(bool(re.search(r"\d\.\d{1,4}\D*$", text)) for text in prices)
    per = PricePer.STEM if "stem" in chosen["price"].casefold() else PricePer.PACK
    return ListMapping(
        heading_row=heading_row, decimal_comma=commas > points, currency=currency, price_per=per, **chosen
    )


def _find_heading(words: Sequence[str], headings: Sequence[str]) -> str:
    """The heading that holds the most telling word; an empty text where none does."""
    return next((heading for word in words for heading in headings if word in heading.casefold()), "")


def _looks_like_headings(row: tuple[Cell, ...]) -> bool:
    texts = [str(cell).casefold() for cell in row if isinstance(cell, str) and cell.strip()]
    hits = {field for field, words in _HEADING_WORDS.items() if any(word in text for text in texts for word in words)}
    return len(texts) >= 2 and "price" in hits
