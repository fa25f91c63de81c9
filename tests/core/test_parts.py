"""Parts that a form has a name for: what is meant to stand there does, and the card calls it so."""

import math
from collections import Counter
from itertools import pairwise

import pytest

from mirvel.core.changing.changes import add_entry
from mirvel.core.forms.kinds import FORMS
from mirvel.core.forms.parts import Part
from mirvel.core.house.rules import HouseRules
from mirvel.core.recipe.meant import Meant, Where
from mirvel.core.recipe.meant_words import describe_where, read_meant
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.values.units import LengthUnit
from mirvel.core.working import Worked
from mirvel.demo import get_catalogue, get_recipes
from tests.builds import work_out

CATALOGUE, RULES = get_catalogue(), HouseRules()


def find(family: str) -> Recipe:
    return next(recipe for recipe in get_recipes() if recipe.family == family)


def mean(recipe: Recipe, line: int, words: str) -> Recipe:
    """A recipe with something meant by one of its lines, of eight pieces at most, none placed yet."""
    ids = [entry.id for entry in recipe.entries]
    meant = read_meant(words, ids, LengthUnit.CM)
    entries, old = list(recipe.entries), recipe.entries[line - 1]
    entries[line - 1] = old.model_copy(update={"meant": meant, "kept": (), "pieces": min(old.pieces, 8)})
    return recipe.model_copy(update={"entries": tuple(entries)})


def work(recipe: Recipe) -> Worked:
    return work_out(recipe, CATALOGUE, RULES)


def get_groups(worked: Worked, line: int) -> Counter[str]:
    """How the card groups the pieces of a line: by the form's own way of finding a place."""
    entry = worked.build.recipe.entries[line - 1].id
    places = [place for place in worked.build.places if place.entry.id == entry]
    return Counter(worked.build.locate(place).group for place in places)


@pytest.mark.parametrize(
    ("family", "line"), [("evening-bell", 4), ("long-shore", 4), ("homeward", 4), ("saltpan", 4)], ids=str
)
def test_what_is_meant_to_stand_in_a_part_is_found_there_by_the_card(family: str, line: int) -> None:
    recipe = find(family)
    named = FORMS[recipe.form].get_named_parts(work(recipe).build.frame)
    assert len(named) >= 3
    for part in named:
        if part is Part.CROSSING:  # no room for many
            continue
        few = mean(recipe, line, part.value)
        worked = work(few)
        assert get_groups(worked, line) == {part.value: few.entries[line - 1].placed}
        assert [met.is_met for met in worked.build.met[few.entries[line - 1].id]] == [True]


@pytest.mark.parametrize(
    ("words", "arm", "start", "end"),
    [("left arm from 9 to 19", "left arm", 9.0, 19.0), ("lower arm from 25 to 45 cm", "lower arm", 25.0, 45.0)],
)
def test_what_is_told_of_an_arm_stands_so_far_out_by_the_card(words: str, arm: str, start: float, end: float) -> None:
    cross = mean(find("evening-bell"), 4, words)
    entry = cross.entries[3].id
    worked = work(cross)
    assert [met.is_met for met in worked.build.met[entry]] == [True]
    found = [worked.build.locate(place) for place in worked.build.places if place.entry.id == entry]
    assert {each.where for each in found} == {arm}
    slack = 0.03 * max(worked.build.frame.half_width_cm, worked.build.frame.half_depth_cm)
    assert all(start - slack <= (each.from_middle_cm or 0.0) <= end + slack for each in found)
    beyond = work(mean(find("evening-bell"), 4, f"{arm} from 90 to 99")).build
    (unmet,) = beyond.met[entry]
    tips = [place.tip for place in beyond.places if place.entry.id == entry]
    crossing = beyond.frame.mouth_half_depth_cm - beyond.frame.mouth_half_cm
    ends = [-tip.x if arm == "left arm" else crossing - tip.y for tip in tips]
    assert not unmet.is_met
    short = float(unmet.instead.split(" cm outside")[0].split()[-1])
    assert short >= 90 - min(ends) - 0.1  # the nearest it could come to, in the lower arm’s own measure
    assert short <= 90 - min(ends) + 10
    anywhere = mean(find("evening-bell"), 4, f"{arm} from 0 to 99")
    assert work(anywhere).build.met[entry][0].is_met


@pytest.mark.parametrize(
    ("family", "words", "said", "way"),
    [
        ("homeward", "left third from 25 to 40", "left third, from 25 cm to 40 cm out of the middle", (-1, 0)),
        ("homeward", "right third from 30 to 45", "right third, from 30 cm to 45 cm out of the middle", (1, 0)),
        ("long-shore", "lower third from 25 to 45", "lower third, from 25 cm to 45 cm out of the focal point", (0, -1)),
        ("long-shore", "upper third from 5 to 20", "upper third, from 5 cm to 20 cm out of the focal point", (0, 1)),
    ],
)
def test_what_is_told_of_an_outer_third_stands_so_far_out(
    family: str, words: str, said: str, way: tuple[int, int]
) -> None:
    recipe = mean(find(family), 4, words)
    entry = recipe.entries[3]
    worked = work(recipe)
    start, end = (float(part) for part in words.split(" from ")[1].split(" to "))
    slack = 0.03 * max(worked.build.frame.half_width_cm, worked.build.frame.half_depth_cm)
    tips = [place.tip for place in worked.build.places if place.entry.id == entry.id]
    assert len(tips) == entry.placed
    assert all(start - slack <= tip.x * way[0] + tip.y * way[1] <= end + slack for tip in tips)
    assert [met.is_met for met in worked.build.met[entry.id]] == [True]
    assert said in describe_where(entry.meant.where, LengthUnit.CM)


@pytest.mark.parametrize(("words", "first", "step"), [("rays", 0.0, 72.0), ("rays from 6 to 12", 180.0, 45.0)])
def test_rays_on_an_arm_go_out_from_the_middle_of_it(words: str, first: float, step: float) -> None:
    """ "Rays from a cross's side arms": evenly turned, free ends outward; common practice, no published source."""
    cross = mean(find("evening-bell"), 4, f"{words} · left arm")
    five = cross.entries[3].model_copy(update={"pieces": 5})
    build = work(cross.model_copy(update={"entries": (*cross.entries[:3], five, *cross.entries[4:])})).build
    assert [met.is_met for met in build.met[five.id]] == [True, True]
    crossing = build.frame.mouth_half_depth_cm - build.frame.mouth_half_cm
    middle = -(build.frame.half_width_cm + (build.container.bar_cm or 9.0) / 2) / 2  # half way out along the arm
    tips = [place.tip for place in build.places if place.entry.id == five.id]
    turns = sorted((math.degrees(math.atan2(tip.x - middle, tip.y - crossing)) - first) % 360 for tip in tips)
    turns = sorted((turn + step / 2) % 360 - step / 2 for turn in turns)
    assert turns == pytest.approx([step * number for number in range(5)], abs=step / 2)


def test_what_is_meant_of_one_arm_stands_on_the_other_of_a_mirrored_piece() -> None:
    cross = mean(find("evening-bell"), 4, "left arm")
    turned = cross.change(arranging={**cross.arranging.model_dump(), "mirrored": True})
    count = cross.entries[3].placed
    assert get_groups(work(turned), 4) == {"left arm": count}
    assert Part.LEFT_ARM.across is Part.RIGHT_ARM
    assert all(part.across.across is part for part in Part)
    assert Meant(where=Where(part=Part.FRONT_LEFT)).across == Meant(where=Where(part=Part.FRONT_RIGHT))


def test_a_line_told_no_hours_runs_along_the_part_it_is_in() -> None:
    cross = find("evening-bell").change(
        entries=[
            {"id": "e1", "material": "rose-standard", "colour": "white", "role": "focal", "pieces": 4},
            {"id": "e2", "material": "carnation-standard", "colour": "white", "role": "mass", "pieces": 4},
        ]
    )
    worked = work(mean(mean(cross, 1, "line · left arm"), 2, "line · lower arm"))
    assert all(met.is_met for found in worked.build.met.values() for met in found)
    left, lower = ([place.tip for place in worked.build.places if place.entry.id == entry] for entry in ("e1", "e2"))
    assert max(tip.y for tip in left) - min(tip.y for tip in left) < 6
    assert max(tip.x for tip in left) - min(tip.x for tip in left) > 8
    assert max(tip.x for tip in lower) - min(tip.x for tip in lower) < 6
    assert max(tip.y for tip in lower) - min(tip.y for tip in lower) > 20


def test_a_part_that_a_form_has_not_is_told_and_leaves_its_pieces_where_they_are() -> None:
    plain, meant = find("slipway"), mean(find("slipway"), 5, "left arm")
    worked = work(meant)
    reasons = [check.reason for check in worked.checks if check.id == f"meant-{meant.entries[4].id}-where"]
    assert len(reasons) == 1
    assert "this form has no left arm" in reasons[0]
    assert work(plain).build.met.get(plain.entries[4].id) is None


def test_greens_of_a_lined_vase_stand_above_it_where_that_is_meant_and_any_entry_may_line_it() -> None:
    kelp = find("kelp")
    worked = work(kelp)
    lining, greens = ([place for place in worked.build.places if place.entry.id == entry] for entry in ("e1", "e2"))
    assert all(place.is_inside and place.tip.z < 0 for place in lining)
    assert all(not place.is_inside and place.tip.reach > 5 for place in greens)
    inside = work(mean(kelp, 2, "in the glass"))
    assert all(place.is_inside for place in inside.build.places if place.entry.id == "e2")
    assert all(met.is_met for met in inside.build.met["e2"])


@pytest.mark.parametrize(("leaves", "more"), [(4, 0), (3, 2), (2, 3)])
def test_leaves_that_do_not_reach_round_the_glass_are_told(leaves: int, more: int) -> None:
    """By hand: a glass 14.2 cm wide inside is 44.6 cm round, a leaf of aspidistra 11 cm wide."""
    kelp = find("kelp")
    entries = [entry.model_copy(update={"pieces": leaves}) if entry.id == "e1" else entry for entry in kelp.entries]
    found = [check for check in work(kelp.change(entries=entries)).checks if check.id == "lining"]
    assert [f"Add {more}." in check.reason for check in found] == [True] * bool(more)
    assert all(f"{1100 * leaves / 44.6:.0f} %" in check.reason for check in found)


def test_a_tray_keeps_a_block_in_its_corner_and_its_spikes_side_by_side() -> None:
    """ "The second spike 5 cm taller or shorter than the first; three carnations in a triangle; spray roses in colour
    blocks": common practice, no published source."""
    worked = work(find("groyne"))
    tips = {
        entry.id: [p.tip for p in worked.build.places if p.entry.id == entry.id]
        for entry in worked.build.recipe.entries
    }
    frame = worked.build.frame
    assert all(tip.x < 0 and tip.y > 0 for tip in tips["e1"])
    assert all(tip.x > 0 and tip.y < 0 for tip in tips["e6"])
    assert all(tip.x > 0 and tip.y > 0 for tip in tips["e7"])
    assert all(tip.x < 0 and tip.y < 0 for tip in tips["e8"])
    (one,), (other,) = tips["e2"], tips["e3"]
    assert one.z - other.z == pytest.approx(5, abs=0.1)
    assert 1.5 < abs(one.x - other.x) < 5
    assert abs(one.y - other.y) < 3
    steps = sorted((tip.z for tip in tips["e1"]), reverse=True)
    assert [high - low for high, low in pairwise(steps)] == pytest.approx([4] * 4, abs=0.1)
    assert frame.mouth_half_cm > max(abs(tip.x) for tip in tips["e1"])


def test_candles_stand_upright_and_whole_on_the_foam_of_a_ring_and_stop_a_piece_that_hangs() -> None:
    """Its flame stays clear of the flowers only in its whole length: 22 cm over the foam, 5.5 cm over the table."""
    worked = work(find("mooring"))
    candles = [place for place in worked.build.places if place.material.stands_whole]
    assert len(candles) == 4
    bed = worked.build.bed
    assert bed is not None
    for place in candles:
        assert (place.start.x, place.start.y) == pytest.approx((place.tip.x, place.tip.y))
        assert place.tip.z - place.start.z == pytest.approx(22.0)
        assert bed.contains(place.start.plus(place.axis, -0.1))
    assert worked.build.overall_height_cm == pytest.approx(27.5)
    turns = sorted(place.clock_hour for place in candles)
    assert [b - a for a, b in pairwise(turns)] == pytest.approx([3, 3, 3], abs=0.5)
    hung = work(find("mooring").change(form="foam ring"))
    assert "upright" in {check.id for check in hung.checks}
    dry = add_entry(find("slipway"), CATALOGUE, "candle-set", "red").recipe
    assert "upright" in {check.id for check in work(dry).checks}
    assert "upright" not in {check.id for check in worked.checks}


def test_moss_is_laid_on_with_no_stem_and_no_hole() -> None:
    worked = work(find("eelgrass"))
    moss = [cut for cut in worked.build.cuts if cut.place.material.is_laid]
    assert len(moss) == 4
    assert {(cut.visible_cm, cut.inside_cm, cut.cut_cm, cut.is_too_long) for cut in moss} == {(0.0, 0.0, 0.0, False)}
    assert all(cut.place.start.z == 1.0 and cut.place.tip.z > 1.0 for cut in moss)  # on foam 1 cm over the rim
    assert worked.build.base.stems == len(worked.build.cuts) - 4
    assert all(place.tip.reach > 5.0 for place in (cut.place for cut in moss))  # of a bowl 14 cm wide at its mouth
