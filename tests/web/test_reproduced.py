"""Three very different pieces made again by somebody who has only their printed making pages; `./run reproduce` tries
all of the demo's."""

from collections.abc import Callable
from dataclasses import replace

import httpx
import pytest

from mirvel.core.goods.facts import PieceSize
from mirvel.core.values.units import LengthUnit
from mirvel.demo import RULES, get_catalogue
from mirvel.store.shop import Shop
from tests.builds import work_out
from tests.reading import find_faults, read_pages
from tests.reproducing import find_wrong
from tests.told import Piece, read_making


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
            assert find_wrong(read_making(answer.content, unit), worked) == []
        assert [fault for page in read_pages(answer.content) for fault in find_faults(page)] == []


MISTAKES: dict[str, Callable[[Piece], Piece]] = {
    "another flower": lambda piece: replace(piece, material="Rose, red"),
    "a whole stem": lambda piece: replace(piece, part=PieceSize.STEM),
    "a longer cut": lambda piece: replace(piece, cut_cm=(piece.cut_cm or 0.0) + 1.0),
    "higher up": lambda piece: replace(piece, height_cm=piece.height_cm + 3, drawn_cm=(piece.drawn_cm or 9.0) + 3),
    "on the other side": lambda piece: replace(piece, spot=piece.spot and (-piece.spot[0], -piece.spot[1])),
}


def test_a_page_that_told_one_piece_otherwise_would_be_noticed(web: httpx.Client, shop: Shop) -> None:
    """Each mistake of a page in one piece alone is a fault of what is made from it, as is a piece that is not told."""
    saved = next(each for each in shop.load_recipes() if each.recipe.family == "three-buoys")
    worked = work_out(saved.recipe, get_catalogue(), RULES)
    told = read_making(web.get(f"/card/{saved.id}/making.pdf").content, LengthUnit.CM)
    assert find_wrong(told, worked) == []
    step = next(
        at for at, pieces in enumerate(told.steps) if any(each.part is PieceSize.LATERAL for each in pieces.values())
    )
    number, piece = next((at, each) for at, each in told.steps[step].items() if each.part is PieceSize.LATERAL)
    for name, mistake in MISTAKES.items():
        wrong = [{**pieces, number: mistake(piece)} if at == step else pieces for at, pieces in enumerate(told.steps)]
        assert find_wrong(replace(told, steps=tuple(wrong)), worked), name
    short = [{at: each for at, each in pieces.items() if each is not piece} for pieces in told.steps]
    assert find_wrong(replace(told, steps=tuple(short)), worked)
