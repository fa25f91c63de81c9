"""What changed between two pieces, when they count as the same, and what keeps a draft from being published."""

from dataclasses import replace
from decimal import Decimal
from typing import Any

import pytest

from mirvel.core.changing.changes import nudge_pieces
from mirvel.core.publishing import (
    Difference,
    Frozen,
    Tolerances,
    find_blocking,
    find_difference,
    find_worries,
    read_tolerances,
)
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.core.values.problems import BadInput
from mirvel.core.values.units import LengthUnit
from mirvel.demo import RULES, get_catalogue
from tests.builds import work_out

CATALOGUE = get_catalogue()


def compare(before: Recipe, after: Recipe) -> Difference:
    return find_difference(*(work_out(each, CATALOGUE, RULES) for each in (before, after)))


def swap(recipe: Recipe, entry: str, material: str) -> Recipe:
    colour = next(iter(CATALOGUE.materials[material].colours))
    entries = [
        {**each.model_dump(), "material": material, "colour": colour} if each.id == entry else each.model_dump()
        for each in recipe.entries
    ]
    return recipe.change(entries=entries)


def test_what_changed_is_what_was_changed(slipway: Recipe) -> None:
    """Two carnations fewer at 0.27 a stem; one of two kinds for another kind."""
    fewer = compare(slipway, nudge_pieces(slipway, "e6", -2).recipe)
    counts = {each.name: each.pieces for each in fewer.entries if each.pieces[0] != each.pieces[1]}
    assert counts == {"Carnation": (7, 5)}
    assert fewer.spent_by == -2 * CATALOGUE.materials["carnation-standard"].cost
    assert not compare(slipway, slipway).is_any
    again = slipway.change(arranging={**slipway.arranging.model_dump(), "attempt": 3})
    assert 10 < compare(slipway, again).moved <= 56  # of 56 pieces, placed another way
    other = {each.name: each.pieces for each in compare(slipway, swap(slipway, "e6", "lisianthus")).entries}
    assert (other["Carnation"], other["Lisianthus"]) == ((7, 0), (0, 7))
    taller = compare(slipway, slipway.change(size={**slipway.size.model_dump(), "rule": {"factor": 2.0}}))
    assert taller.taller_by_cm == pytest.approx(5.0, abs=0.5)  # twice a vase of 20 cm, which was 1.75 times
    assert all(len(each.before) == len(each.after) for each in taller.entries)
    assert {each.name for each in taller.entries} >= {"Rose", "Carnation", "Snapdragon"}


def test_two_pieces_count_as_the_same_up_to_each_tolerance_and_not_beyond(slipway: Recipe) -> None:
    taller = slipway.change(size={**slipway.size.model_dump(), "rule": {"factor": 1.9}})
    found = compare(slipway, nudge_pieces(taller, "e6", -3).recipe)
    gaps: dict[str, tuple[str, Any, Any]] = {
        "height": ("height_cm", abs(found.taller_by_cm), 0.2),
        "width": ("width_cm", abs(found.wider_by_cm), 0.2),
        "counts": ("pieces", 3, 1),
        "cover": ("cover", Decimal(str(abs(found.fuller_by))), Decimal("0.005")),
        "cost": ("cost", abs(found.spent_by) / found.before.money.spent, Decimal("0.002")),
    }
    widest = {field: gap + less for field, gap, less in gaps.values()}
    assert all(gap > less for _, gap, less in gaps.values())
    assert found.find_beyond(Tolerances.model_construct(**widest)) == ()
    for name, (field, gap, less) in gaps.items():
        assert found.find_beyond(Tolerances.model_construct(**widest | {field: gap})) == ()
        assert found.find_beyond(Tolerances.model_construct(**widest | {field: gap - less})) == (name,)
    back = Difference(found.after, found.before, found.entries, found.moved)
    assert back.find_beyond(Tolerances()) == found.find_beyond(Tolerances())


def test_tolerances_are_typed_in_the_shops_unit_and_all_that_is_wrong_is_told() -> None:
    read = read_tolerances({"height": "1", "cover": "7.5", "pieces": "2"}, LengthUnit.INCH)
    assert (read.height_cm, read.width_cm, read.pieces) == (2.54, 2.0, 2)
    assert (read.cover, read.cost) == (Decimal("0.075"), Decimal("0.02"))
    for unit in LengthUnit:
        assert read_tolerances(Tolerances().write(unit), unit).height_cm == pytest.approx(2.0, abs=0.1)
    with pytest.raises(BadInput) as wrong:
        read_tolerances({"height": "tall", "pieces": "-1", "cost": "200", "width": "900"}, LengthUnit.CM)
    assert {problem.field for problem in wrong.value.problems} == {"height within", "pieces within", "cost within"}
    with pytest.raises(BadInput, match="width"):
        read_tolerances({"width": "900"}, LengthUnit.CM)


def test_a_stop_keeps_a_draft_back_until_it_is_let_stand(slipway: Recipe) -> None:
    dear = slipway.change(price_point=20)
    (stop,) = find_blocking(work_out(dear, CATALOGUE, RULES))
    assert stop.id == "overfilled"
    assert not find_blocking(work_out(slipway, CATALOGUE, RULES))
    finding = {"finding": stop.id, "reason": "a gift of the house"}
    assert not find_blocking(work_out(dear.change(accepted=[finding]), CATALOGUE, RULES))


def test_what_is_retired_or_out_of_season_is_told_of_what_is_in_the_piece(slipway: Recipe) -> None:
    """Peonies: April to June; from memory."""
    peony = swap(slipway, "e5", "peony")
    assert find_worries(take(peony, CATALOGUE), 5) == ()
    assert find_worries(take(peony, CATALOGUE), 11) == ("Peony, double: out of season",)
    without = peony.change(
        entries=[{**each.model_dump(), "pieces": 0 if each.id == "e5" else each.pieces} for each in peony.entries]
    )
    assert find_worries(take(without, CATALOGUE), 11) == ()
    taken = take(slipway, CATALOGUE)
    gone = taken.container.model_copy(update={"retired": True})
    assert find_worries(replace(taken, container=gone), 5) == (f"{gone.name}: retired",)


def test_a_standard_keeps_its_facts_and_takes_todays_costs(slipway: Recipe) -> None:
    """Later the vase is taller, roses cost more and are no longer sold, and carnations are gone from the catalogue."""
    frozen = Frozen(goods=take(slipway, CATALOGUE).as_catalogue(), rules=RULES)
    rose, vase = CATALOGUE.materials["rose-standard"], CATALOGUE.containers[slipway.container]
    materials = {slug: good for slug, good in CATALOGUE.materials.items() if slug != "carnation-standard"}
    materials[rose.slug] = rose.change(cost=Decimal("0.80"), retired=True, head_open_cm=12.0)
    taller = vase.change(height_cm=vase.height_cm + 8, depth_cm=vase.depth_cm + 8)
    today = CATALOGUE.model_copy(
        update={"materials": materials, "containers": {**CATALOGUE.containers, vase.slug: taller}}
    )
    later = RULES.change(flower_markup=Decimal("3.3"), target_fullness=1.0, people=())
    goods, rules = frozen.bring_up(today, later)
    assert goods.materials[rose.slug] == rose.change(cost=Decimal("0.80"), retired=True)
    assert goods.containers[vase.slug] == vase
    assert goods.materials["carnation-standard"] == CATALOGUE.materials["carnation-standard"]
    assert (rules.flower_markup, rules.people, rules.target_fullness) == (Decimal("3.3"), (), RULES.target_fullness)
    before, after = work_out(slipway, CATALOGUE, RULES), work_out(slipway, goods, rules)
    assert [cut.cut_cm for cut in after.build.cuts] == [cut.cut_cm for cut in before.build.cuts]
    assert after.money.spent - before.money.spent == 5 * Decimal("0.20")
