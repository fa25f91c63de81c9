"""From a kept file to its lines: the table read once for each file, since a preview asks for it again and again."""

from dataclasses import dataclass
from functools import lru_cache

from mirvel.core.buying.price_list import ListMapping, PricedLine, Table, guess_mapping, read_lines
from mirvel.core.values.problems import BadInput, Problem
from mirvel.exchange.apart import read_apart
from mirvel.exchange.price_feed import FEED_MAPPING, SUFFIX, read_feed
from mirvel.store.price_lists import SavedList


@dataclass(frozen=True)
class ReadList:
    """A list's table and lines; ``trouble`` says what has to be chosen before there are any."""

    table: Table
    lines: tuple[PricedLine, ...]
    trouble: str = ""


@lru_cache(maxsize=8)
def get_table(content: bytes, file_name: str) -> Table:
    """The cells of a file. Raises BadInput."""
    return read_feed(content) if file_name.endswith(SUFFIX) else read_apart(content, file_name)


def get_first_mapping(table: Table, file_name: str, remembered: ListMapping | None, currency: str) -> ListMapping:
    """How to read a new file: as its supplier's last one where the columns are there, else as it looks."""
    if file_name.endswith(SUFFIX):
        return FEED_MAPPING
    if remembered is not None:
        headings = table.get_headings(remembered.heading_row)
        chosen = (remembered.name, remembered.code, remembered.price, remembered.pack, remembered.unit)
        if all(not column or column in headings for column in chosen):
            return remembered
    return guess_mapping(table, currency)


def read_list(saved: SavedList) -> ReadList:
    """The lines of a kept list as it is to be read now. Raises BadInput where the file itself cannot be read."""
    table = get_table(saved.content, saved.file_name)
    try:
        return ReadList(table, read_lines(table, saved.choices.mapping, saved.choices.corrections))
    except ValueError as error:
        return ReadList(table, (), str(error))


def get_lines(saved: SavedList) -> tuple[PricedLine, ...]:
    """The lines. Raises BadInput where columns have to be chosen first."""
    found = read_list(saved)
    if found.trouble:
        raise BadInput(Problem("columns", found.trouble, ""))
    return found.lines
