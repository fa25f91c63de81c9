"""Blooms with less room than they are wide: held less open, never closed further than in bud, nothing else moved."""

import math
from dataclasses import replace

import pytest

from mirvel.core.card.days import get_on_day
from mirvel.core.changing.changes import set_meant
from mirvel.core.making.build import Build, get_build
from mirvel.core.making.pressing import hold_together, press
from mirvel.core.placing.places import Place
from mirvel.core.placing.placing import get_pieces
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.core.space.vectors import Vec
from mirvel.core.values.units import LengthUnit
from mirvel.demo import RULES, get_catalogue, get_recipes

CATALOGUE = get_catalogue()
ALL = {recipe.family: recipe for recipe in get_recipes()}


def build(recipe: Recipe) -> Build:
    return get_build(take(recipe, CATALOGUE), RULES)


def open_fully(place: Place) -> Place:
    """The same place with its bloom as wide as its kind ever is."""
    head = replace(place.head, width_cm=place.material.head_open_cm, openness=1.0, held=1.0)
    return replace(place, head=head)


def get_nearness(one: Place, other: Place) -> float:
    """How far apart two heads are, as a share of touching."""
    return math.dist(one.tip, other.tip) / ((one.head.width_cm + other.head.width_cm) / 2)


def opens(place: Place) -> bool:
    return bool(place.material.opens_in_days) and place.material.is_bloom and not place.material.is_axial


@pytest.mark.parametrize("family", ALL)
def test_a_bloom_gives_way_to_those_half_inside_it_by_a_quarter_at_most(family: str) -> None:
    """As wide as it was, or narrower because another stands near; and where the two are still nearer than half of
    touching, both have given all they have. The order they are told in is nothing, and no head moves."""
    wide = [open_fully(place) if opens(place) else place for place in build(ALL[family]).places]
    held = press(wide)
    assert press(wide[::-1]) == held[::-1]
    assert [(place.tip, place.head.length_cm) for place in held] == [
        (place.tip, place.head.length_cm) for place in wide
    ]
    blooms = [
        (place, before) for place, before in zip(held, wide, strict=True) if opens(place) and len(place.heads) == 1
    ]
    for place, before in blooms:
        least = max(0.75 * before.head.width_cm, place.material.head_tight_cm)
        assert least - 1e-6 <= place.head.width_cm <= before.head.width_cm
        assert 0.0 <= place.head.openness <= 1.0
        others = [(other, then) for other, then in blooms if other is not place]
        if any(get_nearness(place, other) < 0.5 - 1e-6 for other, _ in others):
            assert place.head.width_cm == pytest.approx(least)
        if place.head.width_cm < before.head.width_cm:
            assert min(get_nearness(before, then) for _, then in others) < 0.5
    assert [place for place in held if not opens(place)] == [place for place in wide if not opens(place)]


def test_two_alone_are_held_by_how_near_they_stand() -> None:
    """Two tulips, 10 cm wide when open and 5 in bud: 20 cm apart they stay open, 4 cm apart they are 8 cm wide, and
    nearer than that a quarter narrower; one that is in bud gives nothing more."""
    one = open_fully(next(place for place in build(ALL["plimsoll"]).places if opens(place)))
    for apart_cm, width_cm in ((20.0, 10.0), (4.0, 8.0), (2.0, 7.5)):
        beside = replace(one, tip=one.tip.plus(Vec(1.0, 0.0, 0.0), apart_cm))
        held = press([one, beside])
        assert [place.head.width_cm for place in held] == pytest.approx([width_cm] * 2)
        assert [place.head.held for place in held] == pytest.approx([width_cm / 10.0] * 2)
    in_bud = replace(one, head=replace(one.head, width_cm=5.0, openness=0.0), tip=one.tip.plus(Vec(0.0, 1.0, 0.0), 3.0))
    assert [place.head.width_cm for place in press([one, in_bud])] == pytest.approx([8.0, 5.0])


@pytest.mark.parametrize("family", ["homeward", "evening-bell"])
def test_matched_pairs_are_held_alike(family: str) -> None:
    places = build(ALL[family]).places
    pairs = [
        (one, other)
        for one in places
        for other in places
        if one.material is other.material and math.dist(other.tip, one.tip.across(-1.0)) < 0.05
    ]
    assert len(pairs) > 50
    paired = {id(one) for one, _ in pairs}
    over = [place for place in places if id(place) not in paired]  # one over of a kind presses what is beside it
    for one, other in pairs:
        if all(math.dist(each.tip, place.tip) > each.head.width_cm for each in over for place in (one, other)):
            assert one.head.width_cm == pytest.approx(other.head.width_cm)


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
    """Also where some of the blooms are picked out large and some small."""
    recipe = ALL[family]
    bloom = next(place.entry.id for place in build(recipe).places if opens(place))
    made = build(set_meant(recipe, bloom, "1 large · 2 small", LengthUnit.CM).recipe)
    that_day = get_on_day(made, made.recipe.brief.days_to_viewing)
    assert len({round(place.head.width_cm, 3) for place in made.places if place.entry.id == bloom}) > 2
    for place, then in zip(made.places, that_day.places, strict=True):
        assert then.head.width_cm == pytest.approx(place.head.width_cm)
        assert math.dist(then.tip, place.tip) < 0.001


def test_a_tulip_grows_up_where_its_head_looks_up() -> None:
    """2.5 cm a day (common practice, no published source), out of the vase and not over its side."""
    made = build(ALL["plimsoll"])
    grown = get_on_day(made, made.recipe.brief.days_to_viewing + 1)
    for place, then in zip(made.places, grown.places, strict=True):
        if opens(place):
            assert then.tip.z - place.tip.z == pytest.approx(2.5, abs=0.1)
            assert math.dist(then.tip[:2], place.tip[:2]) < 0.7
