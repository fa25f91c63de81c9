"""What a fit begins with, and what bounds it: places and water, beside its money."""

import pytest

from mirvel.core.fit.beginning import begin
from mirvel.core.fit.fitting import fit, set_price
from mirvel.core.fit.ladder import climb
from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.facts import Role
from mirvel.core.recipe.recipe import Recipe
from mirvel.demo import RULES, get_recipes
from tests.builds import work_out


def begin_with(family: str, *entry_ids: str) -> Recipe:
    """A demo standard with one of each of some entries."""
    recipe = next(each for each in get_recipes() if each.family == family)
    kept = [each for each in recipe.entries if each.id in entry_ids or not entry_ids]
    entries = [{**each.model_dump(), "pieces": 1, "kept": ()} for each in kept]
    return recipe.change(entries=entries, accepted=[])


@pytest.mark.parametrize("family", ["slipway", "fender", "low-tide", "breakwater", "still-harbour"])
def test_a_recipe_just_begun_is_fitted_in_the_proportions_of_its_form(family: str, catalogue: Catalogue) -> None:
    """No role runs away: each has at most three times its share of the pieces in the form's own sample, and there are
    more small flowers than focal ones."""
    begun = begin_with(family)
    fitted = fit(begun, catalogue, RULES).recipe
    sample = FORMS[begun.form].sample
    total, sampled = sum(each.pieces for each in fitted.entries), sum(each.pieces for each in sample)
    for role in {each.role for each in fitted.entries}:
        share = sum(each.pieces for each in fitted.entries if each.role is role) / total
        usual = sum(each.pieces for each in sample if each.role is role) / sampled
        assert share <= 3 * usual + 0.05, role
    focal, small = (sum(each.pieces for each in fitted.entries if each.role in roles) for roles in
                    ({Role.FOCAL}, {Role.MASS, Role.FILLER, Role.TEXTURE}))  # fmt: skip
    assert small > focal


def test_what_the_shop_usually_has_comes_first_and_limits_hold(slipway: Recipe) -> None:
    begun = begin_with("slipway")
    own = begin(begun, {Role.GREENERY: 30.0, Role.FOCAL: 3.0})
    for role, pieces in ((Role.GREENERY, 30), (Role.FOCAL, 3)):
        assert sum(each.pieces for each in own.entries if each.role is role) == pieces
    held = begun.change(entries=[{**each.model_dump(), "most": 2, "least": 0} for each in begun.entries])
    assert all(1 <= each.pieces <= 2 for each in begin(held).entries)
    locked = begun.change(entries=[{**each.model_dump(), "locked": each.id == "e5"} for each in begun.entries])
    assert next(each.pieces for each in begin(locked).entries if each.id == "e5") == 1
    assert begin(slipway) is slipway
    assert begin(begin_with("slipway", "e5")).entries[0].pieces == 1, "of one kind alone nothing is known"


@pytest.mark.parametrize("price", [42, 56, 90])
def test_a_fit_asks_for_no_more_pieces_than_the_form_has_places(price: int, catalogue: Catalogue) -> None:
    buds = next(each for each in get_recipes() if each.family == "three-buoys")
    fitted = fit(set_price(buds, price), catalogue, RULES).recipe
    assert "places" not in {check.kind for check in work_out(fitted, catalogue, RULES).checks}


@pytest.mark.parametrize("days", [3, 6])
def test_a_fit_drinks_no_more_than_its_foam_holds_for_the_days_promised(days: int, catalogue: Catalogue) -> None:
    """Nobody waters a wreath; with twice the money there is more in it, as far as its foam lasts."""
    ring = next(each for each in get_recipes() if each.name == "Harbour Light, ring 140")
    asked = ring.change(brief={**ring.brief.model_dump(), "service": None, "lasts_days": days, "refilled": False})
    before = work_out(asked, catalogue, RULES).build.water.days or 0
    fitted = work_out(fit(set_price(asked, 280), catalogue, RULES).recipe, catalogue, RULES).build.water.days or 0
    assert fitted >= min(days, before) - 0.01
    free = asked.change(brief={**asked.brief.model_dump(), "refilled": True})
    assert (
        work_out(fit(set_price(free, 280), catalogue, RULES).recipe, catalogue, RULES).build.water.days or 0
    ) <= fitted


def test_a_ladder_just_begun_rises_from_the_same_proportions(catalogue: Catalogue) -> None:
    begun = begin_with("slipway")
    rungs = climb([set_price(begun, price) for price in (42, 75)], catalogue, RULES).rungs
    for rung in rungs:
        assert sum(entry.pieces for entry in rung.recipe.entries if entry.role is Role.GREENERY) >= 5
        assert rung.money.room_left >= 0
