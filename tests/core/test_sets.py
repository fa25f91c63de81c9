"""Sets: what is changed once follows in every recipe, and can be taken back."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mirvel.core.changing.sets import get_palette_colours, get_shared, set_palette, swap_flower
from mirvel.core.goods.colours import get_difference
from mirvel.core.goods.facts import Role
from mirvel.core.values.problems import BadInput, UnknownGoods
from mirvel.demo import RULES, get_recipes
from tests.strategies import CATALOGUE

SET = tuple(recipe for recipe in get_recipes() if recipe.family == "harbour-light")
FLOWERS = sorted({(entry.material, entry.colour) for recipe in SET for entry in recipe.entries})
OTHERS = sorted(
    (slug, colour) for slug, good in CATALOGUE.materials.items() for colour in good.colours if not good.retired
)


@given(old=st.sampled_from(FLOWERS), new=st.sampled_from(OTHERS))
def test_a_flower_exchanged_in_a_set_is_gone_from_all_and_as_many_of_the_other_stand_there(
    old: tuple[str, str], new: tuple[str, str]
) -> None:
    if new in FLOWERS:
        return
    after = tuple(swap_flower(recipe, old, new, CATALOGUE) for recipe in SET)
    before = {each.flower: each.pieces for each in get_shared(SET, CATALOGUE)}
    found = {each.flower: each.pieces for each in get_shared(after, CATALOGUE)}
    assert old not in found
    assert found[new] == before[old]
    assert {flower: n for flower, n in found.items() if flower != new} == {f: n for f, n in before.items() if f != old}
    back = tuple(swap_flower(recipe, new, old, CATALOGUE) for recipe in after)
    assert {each.flower: each.pieces for each in get_shared(back, CATALOGUE)} == before


@given(palette=st.sampled_from(sorted(RULES.palettes)))
def test_a_palette_gives_each_flower_one_colour_it_is_to_be_had_in_and_greens_none(palette: str) -> None:
    wanted = RULES.palettes[palette]
    colours = get_palette_colours(SET, wanted, CATALOGUE)
    after = [set_palette(recipe, colours, palette) for recipe in SET]
    for old, new in ((o, n) for o, n in zip(SET, after, strict=True)):
        assert new.notes.startswith(f"Palette: {palette}.")
        assert set_palette(new, {}, palette).notes == new.notes  # said once
        for was, now in zip(old.entries, new.entries, strict=True):
            assert (was.material, was.pieces) == (now.material, now.pieces)
            has = CATALOGUE.materials[now.material].colours
            if was.role is Role.GREENERY:
                assert now.colour == was.colour
            else:  # of what it is to be had in, one of the palette's colours is nearest to it
                nearest = {min(has, key=lambda name: (get_difference(has[name], each), name)) for each in wanted}
                assert now.colour in nearest


def test_a_bow_follows_the_palette_and_what_a_shop_lacks_is_refused() -> None:
    bow = {"id": "e99", "material": "bow-nine", "colour": "white", "role": "token", "pieces": 1}
    bowed = SET[0].change(entries=[*SET[0].entries, bow])
    colours = get_palette_colours((bowed,), ("#a85c39",), CATALOGUE)
    assert colours["bow-nine", "white"] == "rust"
    with pytest.raises(UnknownGoods):
        swap_flower(SET[0], FLOWERS[0], ("no-such", "white"), CATALOGUE)
    retired = CATALOGUE.model_copy(
        update={
            "materials": {slug: good.model_copy(update={"retired": True}) for slug, good in CATALOGUE.materials.items()}
        }
    )
    with pytest.raises(BadInput, match="retired"):
        swap_flower(SET[0], FLOWERS[0], OTHERS[0], retired)
