"""`./run reproduce`: can somebody who has only the paper make the piece again?

Of every demo recipe the making pages are printed, on A4 in centimetres and on Letter in inches (`--every`: either unit
on either paper), read by libraries that did not write them, and the piece is made again from what they say and draw.
Then every page of everything printed of it is measured: no word cut off, no two words or numbers on one another. Not
part of every run of the tests, which try a few of them; prints a line a recipe, and at the end how many fail.
"""

import argparse
import sys
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from itertools import product

import httpx

from bench.fresh import SETTINGS, fresh_shop
from mirvel.core.house.rules import HouseRules
from mirvel.core.values.problems import BadInput
from mirvel.core.values.units import LengthUnit
from mirvel.core.working import Worked, work_out
from mirvel.demo import RULES, get_catalogue
from mirvel.store.shop import SavedRecipe
from mirvel.web.app import create_app
from tests.reading import find_faults, read_pages
from tests.reproducing import find_wrong
from tests.serving import open_client, serve
from tests.told import read_making

PRINTS = ("making", "card", "small", "gauge", "template", "lists", "labels", "counter", "slips")
PAPERS = ("A4", "letter")
_AT_ONCE, _TOLD = 2, 4


@dataclass(frozen=True)
class Asked:
    """One recipe on one paper in one unit."""

    saved: SavedRecipe
    paper: str
    unit: LengthUnit

    @property
    def words(self) -> str:
        return f"{self.saved.recipe.name}, {self.paper}, {self.unit.value}"


def main() -> int:
    """Print, read, make again, and say what is wrong; 1 where anything is."""
    parser = argparse.ArgumentParser(prog="./run reproduce", description="Whether pieces can be made from their pages.")
    parser.add_argument("--only", default="", help="recipes whose names hold this")
    parser.add_argument("--every", action="store_true", help="either unit on either paper")
    asked = parser.parse_args()
    ways = list(zip(PAPERS, LengthUnit, strict=True))
    if asked.every:
        ways = list(product(PAPERS, LengthUnit))
    failed = tried = 0
    with fresh_shop() as shop, serve(create_app(SETTINGS, shop)) as address, ThreadPoolExecutor(_AT_ONCE) as together:
        chosen = [each for each in shop.load_recipes() if asked.only in each.recipe.name]
        every = [Asked(saved, paper, unit) for saved in chosen for paper, unit in ways]
        for each, prints in zip(every, together.map(lambda each: _print(address, each), every), strict=True):
            wrong = list(_find_wrong(each, prints))  # here, since the library that reads drawings knows no threads
            tried, failed = tried + 1, failed + bool(wrong)
            more = f" and {len(wrong) - _TOLD} more" if len(wrong) > _TOLD else ""
            print(f"{each.words}: {'; '.join(wrong[:_TOLD]) or 'as it is'}{more}", flush=True)
    print(f"{tried - failed} of {tried} made again as they are, every page of them free")
    return 1 if failed else 0


def _print(address: str, asked: Asked) -> dict[str, bytes]:
    """Everything that is printed of it: what has neither foam nor tape has no template."""
    found = {}
    with open_client(address, cookies={"unit": asked.unit.value}) as client:
        for what in PRINTS:
            answer = client.get(f"/card/{asked.saved.id}/{what}.pdf", params={"paper": asked.paper})
            if answer.status_code != httpx.codes.UNPROCESSABLE_ENTITY:
                found[what] = answer.raise_for_status().content
    return found


def _find_wrong(asked: Asked, prints: dict[str, bytes]) -> Iterator[str]:
    rules: HouseRules = RULES.model_copy(update={"unit": asked.unit})
    yield from _make(prints["making"], work_out(asked.saved.recipe, get_catalogue(), rules), asked.unit)
    for what, pdf in prints.items():
        for number, page in enumerate(read_pages(pdf), 1):
            yield from (f"{what}, page {number}: {fault}" for fault in find_faults(page))


def _make(pdf: bytes, worked: Worked, unit: LengthUnit) -> list[str]:
    try:
        return find_wrong(read_making(pdf, unit), worked)
    except (ValueError, BadInput) as error:
        return [f"cannot be made: {error}"]


if __name__ == "__main__":
    sys.exit(main())
