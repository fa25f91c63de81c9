"""Checks, cautions, build steps and heads: what the card and the Table say, and when they keep quiet."""

from operator import attrgetter

import pytest

from mirvel.core.card.cut_list import get_level_cuts
from mirvel.core.card.steps import get_steps
from mirvel.core.changing.changes import add_entry, nudge_pieces, remove_entry, set_entry, set_school
from mirvel.core.changing.samples import find_sample
from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.facts import Mechanics, PieceSize, Role
from mirvel.core.goods.hazards import HAZARDS
from mirvel.core.goods.heads import get_head, get_openness
from mirvel.core.house.design import HeightRule
from mirvel.core.house.rules import HouseRules
from mirvel.core.judging.check import Family, Severity
from mirvel.core.placing.size import SIGHT_LINE_CM
from mirvel.core.recipe.entry import MAX_PIECES
from mirvel.core.recipe.recipe import Brief, Recipe, Size, SizeMode
from mirvel.core.values.problems import BadInput
from mirvel.demo import get_recipes
from tests.builds import some, work_out


def find_checks(recipe: Recipe, catalogue: Catalogue) -> dict[str, Severity]:
    return {check.id: check.severity for check in work_out(recipe, catalogue, HouseRules()).checks}


@pytest.mark.parametrize("recipe", get_recipes(), ids=lambda recipe: recipe.family)
def test_every_demo_standard_is_true_and_without_fault(recipe: Recipe, catalogue: Catalogue) -> None:
    assert find_checks(recipe, catalogue) == {}
    assert work_out(recipe, catalogue, HouseRules()).money.is_true


@pytest.mark.parametrize("recipe", some(get_recipes()), ids=attrgetter("family"))
def test_what_goods_cost_changes_no_finding_but_of_money(recipe: Recipe, catalogue: Catalogue) -> None:
    """The Shelf keeps these with the figure, which nothing that goods cost makes anew."""
    dear = {slug: good.change(cost=3 * good.cost) for slug, good in catalogue.materials.items()}
    begun = recipe.change(accepted=[])
    now, then = (
        {check.id for check in work_out(begun, goods, HouseRules()).checks if check.family is not Family.MONEY}
        for goods in (catalogue, catalogue.change(materials=dear))
    )
    assert now == then


def test_money_checks_speak_in_both_directions(slipway: Recipe, catalogue: Catalogue) -> None:
    assert find_checks(nudge_pieces(slipway, "e5", 2).recipe, catalogue)["overfilled"] is Severity.STOP
    assert find_checks(nudge_pieces(slipway, "e5", -2).recipe, catalogue)["underfilled"] is Severity.WARN
    assert find_checks(slipway.change(price_point="4"), catalogue)["no-flower-money"] is Severity.STOP


def test_what_a_brief_promises_is_held_against_life_and_water(slipway: Recipe, catalogue: Catalogue) -> None:
    promised = {**slipway.brief.model_dump(), "lasts_days": 25}
    assert {"short-lived": Severity.WARN}.items() <= find_checks(slipway.change(brief=promised), catalogue).items()
    assert "dry" not in find_checks(slipway.change(brief=promised), catalogue)
    alone = find_checks(slipway.change(brief={**promised, "refilled": False}), catalogue)
    assert {"short-lived", "dry"} <= set(alone)


def test_in_a_warm_room_flowers_open_sooner_and_are_over_sooner(slipway: Recipe, catalogue: Catalogue) -> None:
    """Ten degrees warmer they age twice as fast (assumption): five days are as ten."""
    brief = {**slipway.brief.model_dump(), "lasts_days": 5, "days_to_viewing": 2}
    asked = slipway.change(brief=brief)
    warm, usual = HouseRules(room_c=30), HouseRules()
    assert "short-lived" not in {check.id for check in work_out(asked, catalogue, usual).checks}
    assert "short-lived" in {check.id for check in work_out(asked, catalogue, warm).checks}
    rose = catalogue.materials["rose-standard"]
    assert not asked.brief.rules_out(rose, usual)
    assert asked.brief.rules_out(rose, warm)
    widths = [
        next(each.head.openness for each in work_out(asked, catalogue, rules).build.places if each.material == rose)
        for rules in (usual, warm)
    ]
    assert widths[0] < widths[1]


@pytest.mark.parametrize("form", some(FORMS))
def test_an_own_width_is_what_it_comes_out_as_or_it_is_told(catalogue: Catalogue, form: str) -> None:
    sample = find_sample(FORMS[form], catalogue)
    assert sample
    sizing = work_out(sample, catalogue, HouseRules()).build.sizing
    for times in (0.5, 1.0, 1.6):
        asked = round(times * sizing.width_cm, 1)
        size = {"mode": "own", "own_height_cm": sizing.overall_height_cm, "own_width_cm": asked}
        worked = work_out(sample.change(size=size), catalogue, HouseRules())
        told = [check for check in worked.checks if check.id == "width-held"]
        is_given = abs(worked.build.sizing.width_cm - asked) < 0.5
        assert bool(told) is not is_given, (asked, worked.build.sizing.width_cm)
        if told and times != 1.0:
            assert ("wider" if times > 1 else "narrower") in told[0].reason


@pytest.mark.parametrize("form", FORMS)
def test_a_recipe_that_tells_no_height_is_as_high_as_its_form_is_usually_made(form: str) -> None:
    told = {"name": "A", "family": "a", "price_point": "28", "container": "x", "form": form}
    assert Recipe.model_validate(told).size.rule == FORMS[form].rule
    airy = Recipe.model_validate({**told, "size": {"density": "airy"}}).size
    assert (airy.rule, airy.density) == (FORMS[form].rule, "airy")
    own = {"factor": 3, "of": "container height", "base": "rim"}
    assert Recipe.model_validate({**told, "size": {"rule": own}}).size.rule == HeightRule.model_validate(own)


@pytest.mark.parametrize("slug", ["birch-twig", "willow-curly", "moss-sheet", "bow-five"])
def test_twigs_moss_and_bows_alone_make_no_full_piece(catalogue: Catalogue, slug: str) -> None:
    ring = next(each for each in get_recipes() if each.form == "foam ring")
    colour = next(iter((catalogue.materials.get(slug) or catalogue.assemblies[slug]).colours))
    entry = {"id": "e1", "material": slug, "colour": colour, "role": "texture", "pieces": 9}
    worked = work_out(ring.change(entries=[entry]), catalogue, HouseRules())
    found = {check.id for check in worked.checks}
    assert worked.build.sizing.fullness == 0
    assert {"thin", *(() if slug in {"moss-sheet", "bow-five"} else ("gaps", "foam-shows"))} <= found


def find_overall_height(slipway: Recipe, catalogue: Catalogue, size: Size, brief: Brief) -> float:
    recipe = slipway.model_copy(update={"size": size, "brief": brief})
    return work_out(recipe, catalogue, HouseRules()).build.overall_height_cm


@pytest.mark.parametrize(
    ("size", "check"),
    [
        (Size(rule=HeightRule(factor=1.4)), None),
        (Size(rule=HeightRule(factor=1.6)), "low-piece"),
        (Size(rule=HeightRule(factor=2.5)), "size-capped"),
        (Size(mode=SizeMode.OWN, own_height_cm=50, own_width_cm=25), "sight-line"),
    ],
    ids=["low", "tall for low", "held to it by rule", "an own size too tall"],
)
def test_a_piece_across_a_table_is_held_to_the_sight_line(
    slipway: Recipe, catalogue: Catalogue, size: Size, check: str | None
) -> None:
    brief = Brief(across_table=True)
    found = find_checks(slipway.model_copy(update={"size": size, "brief": brief}), catalogue)
    assert check in found if check else not {"low-piece", "sight-line", "size-capped"} & set(found)
    assert find_overall_height(slipway, catalogue, size, brief) <= SIGHT_LINE_CM or check == "sight-line"
    alone = find_checks(slipway.model_copy(update={"size": size}), catalogue)
    assert not {"low-piece", "sight-line"} & set(alone)


def test_fullness_and_short_stems_are_told(slipway: Recipe, catalogue: Catalogue) -> None:
    tall = slipway.model_copy(update={"size": Size(rule=HeightRule(factor=4.0))})
    found = find_checks(tall, catalogue)
    assert found["thin"] is Severity.WARN
    assert any(check.startswith("short-") for check in found)
    packed = slipway.model_copy(update={"size": Size(mode=SizeMode.OWN, own_height_cm=27, own_width_cm=14)})
    assert find_checks(packed, catalogue)["crowded"] is Severity.WARN
    follows = slipway.model_copy(update={"size": Size(mode=SizeMode.FROM_FULLNESS, rule=HeightRule(factor=3.0))})
    assert find_checks(follows, catalogue)["size-follows-flowers"] is Severity.NOTE


def test_what_is_seen_is_told_as_it_is_measured_and_where(catalogue: Catalogue) -> None:
    """Half of its flowers taken out, a piece shows its foam and is looked through."""
    bare = next(each for each in get_recipes() if each.family == "quiet-water")
    thin = bare.change(entries=[{**entry.model_dump(), "pieces": entry.pieces // 3} for entry in bare.entries])
    worked = work_out(thin, catalogue, HouseRules())
    found = {check.id: check.reason for check in worked.checks}
    for name, share, most, at in (("foam-shows", "foam", "patch_cm2", "foam_at"), ("gaps", "gaps", "gaps", "gaps_at")):
        worst = max(worked.build.sights, key=attrgetter(most))
        assert f"about {100 * getattr(worst, share):.0f} %" in found[name]
        assert worst.side in found[name]
        assert f"at {worked.build.say_at(getattr(worst, at))}." in found[name]


def test_a_size_that_follows_its_flowers_says_so_but_where_something_else_holds_it(
    slipway: Recipe, catalogue: Catalogue
) -> None:
    few = [{**entry.model_dump(), "pieces": (entry.pieces + 1) // 2} for entry in slipway.entries]
    size = {**slipway.size.model_dump(), "mode": "from fullness"}
    free = slipway.change(entries=few, size=size)
    assert "size-follows-flowers" in {check.id for check in work_out(free, catalogue, HouseRules()).checks}
    low = free.change(container="bowl-15", brief={**free.brief.model_dump(), "across_table": True})
    tall = low.change(size={**size, "rule": {"factor": 6.0, "of": "container height", "base": "table"}})
    found = work_out(tall, catalogue, HouseRules())
    assert found.build.sizing.capped_by
    assert "size-follows-flowers" not in {check.id for check in found.checks}


def test_only_a_form_of_listed_places_can_have_more_pieces_than_places(catalogue: Catalogue) -> None:
    for recipe in get_recipes():
        worked = work_out(recipe, catalogue, HouseRules())
        assert "places" not in {check.id for check in worked.checks}
    buds = next(each for each in get_recipes() if each.family == "three-buoys")
    more = set_entry(buds, buds.entries[-1].id, "pieces", 200).recipe
    assert "places" in {check.id for check in work_out(more, catalogue, HouseRules()).checks}


def test_cautions_come_with_what_causes_them_and_go_with_it(slipway: Recipe, catalogue: Catalogue) -> None:
    def find(recipe: Recipe) -> dict[str, str]:
        return {caution.text: caution.source for caution in work_out(recipe, catalogue, HouseRules()).cautions}

    assert find(slipway)[HAZARDS["thorns"]] == "Rose"
    assert HAZARDS["thorns"] not in find(remove_entry(slipway, "e5").recipe)
    assert HAZARDS["poison"] in find(add_entry(slipway, catalogue, "delphinium-branching").recipe)
    foam = find(slipway.model_copy(update={"mechanics": Mechanics.FOAM}))
    assert any("never in food" in text and "local rule" in text for text in foam)
    assert {hazard for each in catalogue.materials.values() for hazard in each.hazards} <= set(HAZARDS)


def test_steps_follow_the_build_order_with_delicate_blooms_last(slipway: Recipe, catalogue: Catalogue) -> None:
    with_gerbera = add_entry(slipway, catalogue, "gerbera-mini", pieces=3).recipe
    titles = [step.title for step in get_steps(work_out(with_gerbera, catalogue, HouseRules()))]
    assert titles == [
        "Set up", "Break down", "Greenery", "Line", "Focal", "Mass", "Filler", "Texture", "Mass, delicate", "Check",
    ]  # fmt: skip


def test_the_cut_list_holds_every_cut_once_from_the_crown_down(slipway: Recipe, catalogue: Catalogue) -> None:
    worked = work_out(slipway, catalogue, HouseRules())
    for entry in slipway.entries:
        cuts = worked.build.get_entry_cuts(entry.id)
        groups = get_level_cuts(cuts, worked.build)
        listed = [length for group in groups for length, count in group.lengths for _ in range(count)]
        assert sorted(listed) == pytest.approx(sorted(cut.cut_cm for cut in cuts))
        order = ["crown", "high", "middle", "low", "skirt"]
        assert [group.level for group in groups] == sorted((group.level for group in groups), key=order.index)


def test_heads_open_by_the_day_and_sprays_break_down(catalogue: Catalogue) -> None:
    rose = catalogue.materials["rose-standard"]
    assert [get_openness(rose, day, 0.5) for day in (0, 2, 4, 9)] == [0.5, 0.75, 1.0, 1.0]
    assert get_head(rose, PieceSize.STEM, 4, 0.5).width_cm == rose.head_open_cm
    salal = catalogue.materials["salal"]
    whole, side = (get_head(salal, piece, 0, 1.0) for piece in (PieceSize.TOP, PieceSize.LATERAL))
    assert (side.length_cm, side.stem_length_cm) == (whole.length_cm / 2, whole.stem_length_cm / 2)
    spray = catalogue.materials["chrys-button-spray"]
    assert get_head(spray, PieceSize.STEM, 0, 1.0).width_cm > get_head(spray, PieceSize.LATERAL, 0, 1.0).width_cm


def test_changes_refuse_what_a_recipe_cannot_hold(slipway: Recipe, catalogue: Catalogue) -> None:
    assert nudge_pieces(slipway, "e1", -99).recipe.entries[0].pieces == 0
    full = nudge_pieces(slipway, "e1", 9999).recipe
    assert sum(entry.pieces for entry in full.entries) == MAX_PIECES
    with pytest.raises(BadInput, match=r"The recipe has 301 pieces; a piece holds 300 at most\. Take some out\."):
        set_entry(full, "e2", "pieces", full.entries[1].pieces + 1)
    with pytest.raises(BadInput, match=r"there is no entry “e77” any more"):
        nudge_pieces(slipway, "e77", 1)
    with pytest.raises(BadInput, match=r"Two entries have the same id"):
        slipway.change(entries=[slipway.entries[0].model_dump()] * 2)
    with pytest.raises(BadInput, match=r"Own size needs both a height and a width"):
        slipway.change(size={"mode": "own"})
    with pytest.raises(BadInput, match=r"schools, pricing: is “barter”"):
        set_school(slipway, "pricing", "barter")


def test_a_new_entry_joins_those_of_its_role(slipway: Recipe, catalogue: Catalogue) -> None:
    grown = add_entry(slipway, catalogue, "veronica").recipe
    assert [entry.role for entry in grown.entries].count(Role.LINE) == 2
    assert grown.entries[4].material == "veronica"
    assert len({entry.id for entry in grown.entries}) == len(grown.entries)


def test_entries_come_into_the_build_order_whatever_they_are_added_in(slipway: Recipe, catalogue: Catalogue) -> None:
    recipe = slipway.change(entries=[])
    for slug in ("limonium", "carnation-standard", "salal", "rose-standard", "stock", "myrtle"):
        recipe = add_entry(recipe, catalogue, slug).recipe
    roles = [entry.role for entry in recipe.entries]
    assert roles == sorted(roles, key=list(Role).index)
    assert [entry.material for entry in recipe.entries][:2] == ["salal", "myrtle"]
