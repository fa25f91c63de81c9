"""Three very different pieces made again by somebody who has only their printed making pages; `./run reproduce` tries
all of the demo's."""

import httpx
import pytest

from mirvel.core.values.units import LengthUnit
from mirvel.demo import RULES, get_catalogue
from mirvel.store.shop import Shop
from tests.builds import work_out
from tests.reading import find_faults, read_pages
from tests.reproducing import find_wrong


@pytest.mark.parametrize(
    ("family", "paper", "unit"),
    [("winkle", "A4", LengthUnit.CM), ("three-buoys", "letter", LengthUnit.INCH), ("saltpan", "A4", LengthUnit.INCH)],
)
def test_a_piece_can_be_made_again_from_its_making_pages_alone(
    web: httpx.Client, shop: Shop, family: str, paper: str, unit: LengthUnit
) -> None:
    """No count wrong, every cut within a step, every piece within 2 cm of its place, height and width within 1 cm."""
    saved = next(each for each in shop.load_recipes() if each.recipe.family == family)
    worked = work_out(saved.recipe, get_catalogue(), RULES.model_copy(update={"unit": unit}))
    for what in ("making", "card", "labels"):
        answer = web.get(f"/card/{saved.id}/{what}.pdf?paper={paper}", headers={"cookie": f"unit={unit.value}"})
        assert answer.status_code == 200, answer.text[:300]
        if what == "making":
            assert find_wrong(answer.content, worked, unit) == []
        assert [fault for page in read_pages(answer.content) for fault in find_faults(page)] == []
