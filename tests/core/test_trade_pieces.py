"""Pieces the trade makes, as the made-up shop writes them down: that they come out as they are made by hand.

Counts, levels and depths are common practice, no published source.
"""

import math
from itertools import pairwise

import pytest

from mirvel.core.card.steps import get_steps
from mirvel.core.changing.changes import add_entry
from mirvel.core.changing.samples import find_sample
from mirvel.core.forms.kinds import FORMS
from mirvel.core.house.rules import HouseRules
from mirvel.core.placing.holders import get_foam_seen
from mirvel.core.placing.places import Place
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.hollows import Hollow
from mirvel.core.working import Worked
from mirvel.demo import get_recipes
from tests.builds import work_out
from tests.strategies import CATALOGUE

RECIPES = {recipe.family: recipe for recipe in get_recipes()}


def make(family: str) -> Worked:
    return work_out(RECIPES[family], CATALOGUE, HouseRules())


def get_places(worked: Worked, material: str) -> list[Place]:
    found = [place for place in worked.build.places if place.material.slug == material]
    return sorted(found, key=lambda place: (place.entry.id, place.number))


def get_gaps_deg(places: list[Place]) -> list[float]:
    turns = sorted(math.degrees(math.atan2(place.tip.x, place.tip.y)) % 360 for place in places)
    return [(after - before) % 360 for before, after in pairwise([*turns, turns[0]])]


@pytest.mark.parametrize(
    "recipe", [each for each in RECIPES.values() if any(entry.meant.is_said for entry in each.entries)]
)
def test_what_is_meant_in_the_demo_is_met(recipe: Recipe) -> None:
    met = make(recipe.family).build.met
    assert met
    assert all(each.is_met for found in met.values() for each in found)


@pytest.mark.parametrize("name", ["all-round dome", "basket", "one-sided", "cross", "urn piece", "posy pad"])
def test_a_bow_stands_where_the_card_says_and_in_front_of_a_piece_that_has_one(name: str) -> None:
    sample = find_sample(FORMS[name], CATALOGUE)
    assert sample
    worked = work_out(add_entry(sample, CATALOGUE, "bow-five", "white").recipe, CATALOGUE, HouseRules())
    (bow,) = get_places(worked, "bow-five")
    text = " ".join(step.text for step in get_steps(worked))
    assert f"Bow, five loops (white) at {worked.build.say_place(bow)}." in text
    if worked.build.bed is None:
        assert 4 <= bow.clock_hour <= 8
        assert bow.level in {"skirt", "low"}


@pytest.mark.parametrize(("name", "words"), [("plimsoll", "sits on the rim"), ("groyne", "sits on the foam")])
def test_no_lean_is_told_of_a_head_without_a_stem_below_it(name: str, words: str) -> None:
    build = make(name).build
    told = {build.say_lean(place) for place in build.places if place.measured_to.minus(place.start).length < 0.5}
    assert told == {words}
    rest = [place for place in build.places if place.measured_to.minus(place.start).length > 1.0]
    assert len(rest) > 3
    assert all(build.say_lean(place).startswith(("leans", "hangs")) for place in rest)


def test_a_cylinder_of_five_peonies() -> None:
    """Four round the rim, the best one top centre; a 15 × 15 cm vase."""
    worked = make("slack-water")
    container = worked.build.container
    assert (container.height_cm, container.base_cm) == (15.0, 15.0)
    *ring, best = sorted(get_places(worked, "peony"), key=lambda place: place.tip.z)
    assert len(ring) == 4
    assert all(80 <= gap <= 100 for gap in get_gaps_deg(ring))
    assert best.tip.reach < 0.5
    assert all(place.tip.z < 0.6 * best.tip.z for place in ring)


def test_a_round_pitcher() -> None:
    """Five large mums spread by level, a sixth held back for repairs."""
    worked = make("spare-hand")
    heads = get_places(worked, "chrys-disbud")
    (pull,) = [pull for pull in worked.money.pulls if pull.material.slug == "chrys-disbud"]
    assert (len(heads), pull.stems) == (5, 6)
    assert {place.level for place in heads} >= {"low", "middle", "high"}
    apart = [one.tip.minus(other).length for at, one in enumerate(heads) for other in [each.tip for each in heads[:at]]]
    assert min(apart) > heads[0].half_width_cm


def test_a_column() -> None:
    """Twelve roses stair-stepped, space in the middle, three green balls in a triangle."""
    worked = make("tide-ladder")
    roses, balls = get_places(worked, "rose-long"), get_places(worked, "dianthus-green-ball")
    assert (len(roses), len(balls)) == (12, 3)
    down = [place.tip.z for place in roses]
    assert all(high - low == pytest.approx(2.0, abs=0.7) for high, low in pairwise(down))
    assert all(one.tip.x * other.tip.x < 0 for one, other in pairwise(roses[1:]))
    assert min(place.tip.reach - place.half_width_cm for place in roses[1:]) > -0.5, "the middle stays open"
    assert all(place.tip.z < 0.4 * worked.build.frame.above_rim_cm for place in balls)


def test_a_ring_of_small_daisies_about_the_one_gerbera() -> None:
    worked = make("ring-gauge")
    (flower,) = get_places(worked, "gerbera-standard")
    daisies = get_places(worked, "chrys-daisy-spray")
    assert (
        len([place for place in daisies if place.tip.minus(flower.tip).length <= 1.6 * 2 * flower.half_width_cm]) >= 5
    )
    spikes = [place.tip.z for place in get_places(worked, "snapdragon")]
    assert [high - low for high, low in pairwise(spikes)] == pytest.approx([4.0, 4.0], abs=1.3)


def test_a_vase_cut_level() -> None:
    """ "Tips within 1 cm", massed over the whole mouth of a vase 14.2 cm wide: no sixth of it is without a head."""
    tulips = get_places(make("plimsoll"), "tulip-long")
    tops = [place.tip.z for place in tulips]
    assert len(tulips) == 12
    assert max(tops) - min(tops) < 1.0
    assert all(place.facing.z > 0.95 for place in tulips)
    assert {int(place.clock_hour % 12 // 2) for place in tulips if place.tip.reach > 2} == set(range(6))
    apart = [min(one.tip.minus(other.tip).length for other in tulips if other is not one) for one in tulips]
    assert min(apart) > 1.5


def test_three_storeys_from_one_crossing() -> None:
    """Hydrangea at the rim, lilies over them, spikes over all: three runs of levels, none lower than the one below."""
    worked = make("gantry")
    low, middle, high = (
        [place.tip.z for place in get_places(worked, slug)] for slug in ("hydrangea", "lily-la", "delphinium-tall")
    )
    assert max(low) < min(middle)
    assert max(middle) < min(high)


def test_no_head_lies_in_the_block_of_foam_it_stands_in() -> None:
    """Along the middle of each head of the demo's pieces, base to tip."""
    for recipe in RECIPES.values():
        worked = work_out(recipe, CATALOGUE, HouseRules())
        block = get_foam_seen(recipe, worked.build.container)
        if not isinstance(block, Hollow):
            continue
        for place in worked.build.places:
            if place.material.is_axial or place.pinned:
                continue
            for share in (0.0, 0.25, 0.5, 0.75, 1.0):
                at = place.tip.plus(place.facing, -share * place.head.length_cm)
                off = Vec(at.x - block.middle_x, at.y, 0.0)
                beside = off.reach - block.get_edge_distance(off, at.z)
                assert max(at.z - block.top_z, beside) > -0.3, (recipe.name, place.material.slug)
