"""Every row of what can hurt somebody: from what in a recipe its caution arises, and that it arises from nothing else.

Which goods hurt whom: common practice, no published source.
"""

from collections.abc import Mapping
from typing import Any

import pytest

from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.material import Toxicity
from mirvel.core.house.rules import HouseRules
from mirvel.core.judging.cautions import Caution
from mirvel.core.recipe.recipe import Recipe
from mirvel.demo import get_recipes
from tests.builds import work_out

PLAIN = "carnation-standard"  # neither thorns nor scent, nor harmful to anybody but as an upset
ROWS: tuple[tuple[str, str, dict[str, Any], str], ...] = (
    ("a knife", "slipway", {}, "cut away from the hand"),
    ("glass", "slipway", {}, "check the rim for chips"),
    ("thorns", "slipway", {"with": "rose-standard"}, "thorns"),
    ("wire", "slipway", {"good": "wire-080"}, "wire ends: tape or turn in"),
    ("netting", "slipway", {"good": "netting-wire-30"}, "cut wire ends"),
    ("foam", "fender", {}, "cut it damp, do not breathe the dust"),
    ("foam that is cut dry", "slipway", {"good": "foam-brick-dry"}, "dust mask"),
    ("tint", "slipway", {"good": "tint-spray"}, "ventilate, no flame"),
    ("hot glue", "slipway", {"good": "glue-hot-stick"}, "low-temperature gun"),
    ("flower food", "slipway", {"good": "food-sachet"}, "do not swallow"),
    ("sap", "slipway", {"with": "alstroemeria"}, "sap may irritate"),
    ("milky sap", "slipway", {"with": "euphorbia"}, "burns eyes and skin"),
    ("poison", "slipway", {"with": "larkspur"}, "poison centre or a vet"),
    ("lilies and cats", "slipway", {"with": "lily-oriental"}, "deadly to cats"),
    ("scent", "slipway", {"with": "stock"}, "before sending to a ward"),
    ("pollen", "slipway", {"with": "lily-oriental"}, "take stamens out"),
    ("fruit", "slipway", {"with": "fruit-stick"}, "do not eat"),
    ("ripening fruit beside what it ages", "slipway", {"with": "fruit-stick"}, "ripening fruit ages carnation"),
    ("food", "slipway", {"brief": {"across_table": True}}, "before anybody eats"),
    ("a candle", "mooring", {}, "never unwatched"),
    ("dry moss", "slipway", {"with": "moss-sheet"}, "burns easily"),
    ("a stand", "long-shore", {}, "tie the frame in at least three places"),
    ("what tips", "lamp-room", {}, "tips over easily"),
    ("a headstone", "saltpan", {}, "cemetery’s own rules"),
    ("a lid", "homeward", {}, "funeral director says"),
    ("dry foam", "saltpan", {}, "!dry the floor"),
    ("a vase", "slipway", {}, "!walkway"),
    ("drips", "long-shore", {}, "dry the floor"),
    ("lifting", "homeward", {"rules": {"lift_limit_kg": 5}}, "3 people, or a trolley"),
    ("lifting by two", "homeward", {"rules": {"lift_limit_kg": 8}}, "2 people, or a trolley"),
    ("lifting by one", "homeward", {"rules": {"lift_limit_kg": 15}}, "!or a trolley"),
    ("a brick, of which as much is said as of all foam", "fender", {}, "!soak before cutting"),
    ("a brick in a vase", "slipway", {"good": "foam-brick-standard"}, "soak before cutting"),
    ("small parts", "slipway", {"with": "butterfly-pick"}, "small children"),
    ("twigs", "slipway", {"with": "birch-twig"}, "eye height"),
    ("grief", "homeward", {"brief": {"service": {"service": "2026-12-10T11:00:00"}}}, "the family decides"),
)


def find(family: str, asked: Mapping[str, Any], catalogue: Catalogue, rules: HouseRules) -> tuple[Caution, ...]:
    """The cautions of a demo standard made of carnations alone, with what is asked for."""
    recipe = next(each for each in get_recipes() if each.family == family)
    entries = [entry.model_dump() for entry in recipe.entries]
    if family == "slipway":
        slugs = [PLAIN, *([asked["with"]] if "with" in asked else [])]
        goods = [catalogue.materials.get(slug) or catalogue.assemblies[slug] for slug in slugs]
        entries = [
            {"id": f"e{n}", "material": good.slug, "colour": next(iter(good.colours)), "role": "mass", "pieces": 3}
            for n, good in enumerate(goods, 1)
        ]
    uses = [use.model_dump() for use in recipe.hard_goods] if family != "slipway" else []
    uses += [{"hard_good": asked["good"]}] if "good" in asked else []
    brief = {**recipe.brief.model_dump(), **asked.get("brief", {})}
    made: Recipe = recipe.change(entries=entries, hard_goods=uses, brief=brief, accepted=[])
    return work_out(made, catalogue, rules.model_copy(update=asked.get("rules", {}))).cautions


@pytest.mark.parametrize(("row", "family", "asked", "words"), ROWS, ids=[row[0] for row in ROWS])
def test_every_risk_is_told_where_it_arises_and_nowhere_else(
    row: str, family: str, asked: dict[str, Any], words: str, catalogue: Catalogue, rules: HouseRules
) -> None:
    wanted = 0 if words.startswith("!") else 1
    words = words.lstrip("!")
    assert sum(words in caution.text.lower() for caution in find(family, asked, catalogue, rules)) == wanted
    if asked:
        without = find(family, {}, catalogue, rules)
        assert not any(words in caution.text.lower() for caution in without)


def test_the_most_serious_stands_first_and_each_once(catalogue: Catalogue, rules: HouseRules) -> None:
    told = find("slipway", {"with": "lily-oriental", "good": "tint-spray"}, catalogue, rules)
    where = {word: next(n for n, each in enumerate(told) if word in each.text.lower()) for word in
             ("deadly to cats", "no flame", "upset people", "stamens", "cut away from the hand")}  # fmt: skip
    assert [*where] == sorted(where, key=lambda word: where[word])
    assert len({(each.source, each.text) for each in told}) == len(told)


def test_facts_tell_where_nobody_wrote_a_caution(catalogue: Catalogue, rules: HouseRules) -> None:
    """A flower entered with its facts alone: scent, pollen and harm are told from these."""
    plain = catalogue.materials["stock"].change(hazards=(), scent=3, pollen=True, toxicity=Toxicity.CATS)
    made = catalogue.change(materials={**catalogue.materials, plain.slug: plain})
    told = " ".join(each.text for each in find("slipway", {"with": "stock"}, made, rules))
    assert all(words in told for words in ("Strong scent", "Pollen stains", "Deadly to cats"))
