"""Blooms with less room than they are wide: held less open, never closed further than in bud, nothing else moved."""

import math
from dataclasses import replace
from itertools import combinations

import pytest

from mirvel.core.card.days import get_on_day
from mirvel.core.making.build import Build, get_build
from mirvel.core.making.pressing import hold_together, press
from mirvel.core.placing.places import Place
from mirvel.core.placing.placing import get_pieces
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.core.space.vectors import Vec
from mirvel.demo import RULES, get_catalogue, get_recipes

LARGEST, SMALLEST = 1.151, 0.849  # of a bloom's usual width, as they come in a bunch
CATALOGUE = get_catalogue()
ALL = {recipe.family: recipe for recipe in get_recipes()}


def build(recipe: Recipe) -> Build:
    return get_build(take(recipe, CATALOGUE), RULES)


def open_fully(place: Place) -> Place:
    """The same place with its bloom as wide as its kind ever is."""
    return replace(place, head=replace(place.head, width_cm=place.material.head_open_cm, openness=1.0))


def get_nearness(one: Place, other: Place) -> float:
    """How far apart two heads are, as a share of touching."""
    return math.dist(one.tip, other.tip) / ((one.head.width_cm + other.head.width_cm) / 2)


def opens(place: Place) -> bool:
    return bool(place.material.opens_in_days) and place.material.is_bloom and not place.material.is_axial


@pytest.mark.parametrize("family", ALL)
def test_no_bloom_that_can_yield_stands_half_inside_another(family: str) -> None:
    """Nearer than half of touching, both are as narrow as in bud; and none is wider or narrower than its kind."""
    blooms = [place for place in build(ALL[family]).places if opens(place) and len(place.heads) == 1]
    for one, other in combinations(blooms, 2):
        closed = all(place.head.width_cm <= place.material.head_tight_cm * LARGEST for place in (one, other))
        assert closed or get_nearness(one, other) > 0.48  # a told top raises one by millimetres
    for place in blooms:
        assert SMALLEST * place.material.head_tight_cm < place.head.width_cm < LARGEST * place.material.head_open_cm
        assert 0.0 <= place.head.openness <= 1.0


def test_two_alone_are_held_by_how_near_they_stand() -> None:
    """Two tulips, 10 cm wide when open and 5 in bud: 20 cm apart they stay open, 4 cm apart they are 8 cm wide,
    and 2 cm apart in bud. Neither moves. What one that is in bud cannot give, the other gives."""
    one = open_fully(next(place for place in build(ALL["plimsoll"]).places if opens(place)))
    for apart_cm, width_cm in ((20.0, 10.0), (4.0, 8.0), (2.0, 5.0)):
        beside = replace(one, tip=one.tip.plus(Vec(1.0, 0.0, 0.0), apart_cm))
        held = press([one, beside])
        assert [place.head.width_cm for place in held] == pytest.approx([width_cm] * 2)
        assert [place.tip for place in held] == [one.tip, beside.tip]
        assert [place.head.length_cm for place in held] == [one.head.length_cm] * 2
    in_bud = replace(one, head=replace(one.head, width_cm=5.0, openness=0.0), tip=one.tip.plus(Vec(0.0, 1.0, 0.0), 3.0))
    for pair in ([one, in_bud], [in_bud, one]):
        assert sorted(place.head.width_cm for place in press(pair)) == pytest.approx([5.0, 7.0])


def test_twice_as_full_is_half_the_room_for_each() -> None:
    """Blooms that are not in bud yet cover the same together however full the form; what does not open stays."""
    pieces = get_pieces(take(ALL["still-harbour"], CATALOGUE), RULES)
    covered = {}
    for fullness in (0.5, 1.0, 1.6, 2.0):
        held = hold_together(pieces, fullness)
        kept = [piece for piece, before in zip(held, pieces, strict=True) if not before.material.opens_in_days]
        assert kept == [piece for piece in pieces if not piece.material.opens_in_days]
        open_ones = [
            piece for piece in held if piece.entry.material == "carnation-standard" and piece.head.openness > 0
        ]
        covered[fullness] = sum(piece.head.footprint_cm2 for piece in open_ones)
    assert covered[0.5] == covered[1.0]
    assert 1.6 * covered[1.6] == pytest.approx(2.0 * covered[2.0])
    assert covered[1.6] < covered[1.0]


@pytest.mark.parametrize("family", ["plimsoll", "haven", "evening-bell", "slipway"])
def test_the_day_it_is_cut_for_looks_as_it_is_drawn(family: str) -> None:
    made = build(ALL[family])
    that_day = get_on_day(made, made.recipe.brief.days_to_viewing)
    for place, then in zip(made.places, that_day.places, strict=True):
        if not place.entry.meant.sizes:
            assert then.head.width_cm == pytest.approx(place.head.width_cm, abs=0.05)
            assert math.dist(then.tip, place.tip) < 0.05
