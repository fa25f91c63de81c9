"""Every form, found by walking the folder: what it stands in, its sites, its sample, its outline, its mirror image."""

import math
from itertools import pairwise
from statistics import median

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mirvel.core import working
from mirvel.core.card.steps import get_steps
from mirvel.core.changing.changes import nudge_pieces
from mirvel.core.changing.samples import find_sample
from mirvel.core.forms.form import FRONT_TO_BACK, Form
from mirvel.core.forms.kinds import FORMS
from mirvel.core.forms.kinds.stair_step import STEP_CM
from mirvel.core.goods.facts import Mechanics, Role
from mirvel.core.house.design import Balance, Levels
from mirvel.core.house.rules import HouseRules
from mirvel.core.judging.check import Severity
from mirvel.core.placing.holders import get_foam_seen
from mirvel.core.placing.places import Place, get_head_extent
from mirvel.core.placing.placing import get_arranged
from mirvel.core.recipe.entry import Outline, Pin
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.beds import CLEAR_CM, Bed
from mirvel.core.vessels.hollows import Hollow
from mirvel.core.working import Worked
from mirvel.demo import get_recipes
from tests import strategies
from tests.builds import left_open, some, work_out
from tests.strategies import CATALOGUE

SOME_FORMS = pytest.mark.parametrize("form", some(FORMS.values()), ids=lambda form: form.name)
EVERY_FORM = pytest.mark.parametrize("form", FORMS.values(), ids=lambda form: form.name)
RULES = HouseRules()
CLOSING = {Role.GREENERY, Role.FILLER, Role.TEXTURE}  # the roles whose pieces go where foam would be seen


def get_sample_of(form: Form) -> Recipe:
    sample = find_sample(form, CATALOGUE)
    assert sample is not None
    return sample


def make(
    form: str, container: str, mechanics: Mechanics, entries: list[tuple[str, str, Role, int]], **size: object
) -> Recipe:
    """A recipe of whole stems, by the form's own rule."""
    return Recipe.model_validate(
        {
            "name": "Trial",
            "family": "trial",
            "price_point": "80",
            "form": form,
            "container": container,
            "mechanics": mechanics,
            "size": {"rule": FORMS[form].rule.model_dump(), **size},
            "entries": [
                {"id": f"e{n}", "material": material, "colour": colour, "role": role, "pieces": pieces}
                for n, (material, colour, role, pieces) in enumerate(entries, 1)
            ],
        }
    )


@EVERY_FORM
def test_every_form_has_a_sample_that_works_out_without_a_stop_of_its_own(form: Form) -> None:
    worked = work_out(get_sample_of(form), CATALOGUE, RULES)
    assert len(worked.build.places) == sum(wanted.pieces for wanted in form.sample)
    stops = {check.id for check in worked.checks if check.severity is Severity.STOP}
    assert stops <= {"overfilled", "no-flower-money"}


@EVERY_FORM
def test_sites_of_every_form_face_outwards_and_lie_on_its_outline(form: Form) -> None:
    surface = work_out(get_sample_of(form), CATALOGUE, RULES).build.sizing.surface
    for site in map(surface.fit, surface.lattice.sites):
        assert site.normal.length == pytest.approx(1.0)
        if site.zone:
            continue
        assert surface.get_stretch(site.point) <= 1.0 + (0.03 if form.covers_frame else 1e-6)
        assert site.point.z <= surface.frame.above_rim_cm + 1e-6
        inmost = 0.0 if form.only_listed else 0.999999 if len(surface.lobes) == 1 else 0.95  # seams
        assert surface.get_stretch(site.point) >= inmost


@pytest.mark.parametrize("name", ["one-sided", "fan", "urn piece"])
def test_sites_of_a_faced_form_stand_before_its_wall(name: str) -> None:
    surface = work_out(get_sample_of(FORMS[name]), CATALOGUE, RULES).build.sizing.surface
    assert all(site.point.y <= 0.46 * surface.frame.half_depth_cm for site in surface.lattice.sites)


def key(place: Place) -> tuple[str, int]:
    return place.entry.id, place.number


@EVERY_FORM
def test_every_form_mirrored_is_its_mirror_image(form: Form) -> None:
    sample = get_sample_of(form)
    plain = work_out(sample, CATALOGUE, RULES).build
    turned = work_out(sample.change(arranging={"mirrored": True}), CATALOGUE, RULES).build
    for one, other in zip(plain.places, turned.places, strict=True):
        assert other.tip == pytest.approx((-one.tip.x, one.tip.y, one.tip.z))
    assert [cut.cut_cm for cut in turned.cuts] == pytest.approx([cut.cut_cm for cut in plain.cuts])


def stands_on_block(place: Place, block: Hollow | Bed | None) -> bool:
    """Whether the middle of a head touches the top of a block of foam, or its side."""
    if not isinstance(block, Hollow):
        return False
    along = [place.tip.plus(place.facing, -share * place.head.length_cm) for share in (0.0, 0.25, 0.5, 0.75, 1.0)]
    on_top = min(abs(at.z - block.top_z) for at in along)
    offs = [Vec(at.x - block.middle_x, at.y, 0.0) for at in along]
    beside = min(off.reach - block.get_edge_distance(off, at.z) for off, at in zip(offs, along, strict=True))
    return on_top <= 1e-6 or abs(beside) <= 0.5


def stands_on_foot(place: Place, bed: Bed | None, block: Hollow | Bed | None) -> bool:
    """Whether a head, too long for the form, is as near the foam of its frame, or the rim of its vessel, as can be."""
    base = place.tip.plus(place.facing, -place.head.length_cm)
    if bed is None:
        return abs(base.z) <= 1e-6 or stands_on_block(place, block)
    away = -float(bed.outline.get_depths(np.array([[base.x, base.y]]))[0])
    if base.z < bed.bottom_z:  # longer than the foam is thick: what lies beside the foam does so by a hand's breadth
        head = [place.tip.plus(place.facing, -share * place.head.length_cm) for share in (0.4, 0.6, 0.8, 1.0)]
        away = min(-float(bed.outline.get_depths(np.array([[each.x, each.y]]))[0]) for each in head)
    return away <= CLEAR_CM + 1e-6 and base.z <= bed.top_z + CLEAR_CM + 1e-6


@EVERY_FORM
@given(data=st.data())
@settings(max_examples=4)
def test_any_recipe_of_any_form_is_placed_within_its_outline(form: Form, data: st.DataObject) -> None:
    """Nothing outside but what is marked as breaking the outline or has to come out to be seen, as any flower has that
    is not marked to stay inside, and that by 10 % at most."""
    recipe = data.draw(strategies.get_recipes(form))
    build = work_out(recipe, CATALOGUE, RULES).build
    surface, block = build.sizing.surface, get_foam_seen(recipe, build.container)
    assert len(build.places) == sum(entry.pieces for entry in recipe.entries)
    for place in build.places:
        assert all(map(math.isfinite, (*place.tip, *place.start, *place.facing)))
        if place.zone:
            continue
        hangs = place.tip.z < 0 and build.bed is None  # outside the vessel, however narrow the form is
        is_paid_for = place.material.is_bloom or place.entry.role in {Role.FOCAL, Role.TOKEN}
        is_to_be_seen = is_paid_for and place.entry.outline is not Outline.INSIDE
        limit = 1.10 if place.entry.may_break_outline or hangs or is_to_be_seen else 1.001
        if hangs:  # beside the wall, by half its width
            limit = max(
                limit, 1 + place.head.width_cm / 2 / min(surface.frame.half_width_cm, surface.frame.half_depth_cm)
            )
        if form.covers_frame and place.material.is_leaf:
            limit = 1.75  # its collar of leaves shows past the flowers
        if place.tip.z > 0.9 * surface.frame.above_rim_cm:  # a crown beside the middle stands where the top curves down
            limit = max(limit, 1.07)
        # A head wider than the form cannot be inside it; its tip still is.
        frame = surface.frame
        room = place.head.width_cm / min(frame.half_width_cm, frame.half_depth_cm, frame.above_rim_cm) + 0.3
        tip = place.tip.across(-1.0 if recipe.arranging.mirrored else 1.0)
        if build.bed and surface.lobes and tip.z < build.bed.bottom_z:
            # it hangs straight down before its foam, within the outline as it is looked down on
            limit, tip = 1.10, tip._replace(z=surface.get_lobe(tip).centre.z)
        assert surface.get_stretch(tip) <= max(limit, room) or stands_on_foot(place, build.bed, block)
        # a head longer than the piece is high stands clear of its foam, or on its rim, all the same
        on_foot = place.head.length_cm + (build.bed.top_z + CLEAR_CM if build.bed else block.top_z if block else 0.0)
        # and one that is wider than the piece is high rises over it rather than reach into the table
        off_table = place.head.width_cm + 1.5 - frame.rim_height_cm
        most = max(surface.frame.above_rim_cm, on_foot, off_table)
        assert place.tip.z <= most + 1e-6
    # in the glass, and in forms of listed places, there are so many and no more
    free = [place.tip for place in build.places if not place.zone]
    assert len(set(free)) == len(free) or form.only_listed


@EVERY_FORM
def test_no_stem_ends_in_air_out_of_water_or_through_foam_unless_a_check_stops_it(form: Form) -> None:
    recipe = get_sample_of(form)
    worked = work_out(recipe, CATALOGUE, RULES)
    container, floor = worked.build.container, -worked.build.container.depth_cm
    stopped = {check.id for check in worked.checks}
    for cut in worked.build.cuts:
        assert cut.end.z >= floor - 1e-6
        stands_in_water = recipe.mechanics not in {Mechanics.FOAM, Mechanics.TIED} and container.water_ml
        assert cut.end.z <= 0.0 or not stands_in_water
        assert cut.inside_cm >= 1.3 - 1e-9 or "shallow" in stopped or recipe.mechanics is not Mechanics.FOAM


@SOME_FORMS
def test_a_pinned_piece_never_moves(form: Form) -> None:
    sample = get_sample_of(form)
    place = next(place for place in work_out(sample, CATALOGUE, RULES).build.places if not place.zone)
    held = Vec(round(place.tip.x + 1.5, 2), round(place.tip.y - 0.5, 2), round(place.tip.z - 1.0, 2))
    entries = [
        entry.model_copy(update={"pins": (Pin(number=place.number, x=held.x, y=held.y, z=held.z),)})
        if entry.id == place.entry.id
        else entry
        for entry in sample.entries
    ]
    pinned = sample.model_copy(update={"entries": tuple(entries)})
    more = nudge_pieces(pinned, sample.entries[-1].id, 2).recipe
    found = {key(each): each for each in work_out(more, CATALOGUE, RULES).build.places}[key(place)]
    assert found.tip == held
    assert found.pinned


OWN = {"mode": "own", "own_height_cm": 52.0, "own_width_cm": 30.0}


@pytest.mark.parametrize("name", ["all-round dome", "one-sided", "asymmetric", "hand-tied"])
def test_what_goes_in_earlier_keeps_clock_and_level_when_a_later_entry_grows(name: str) -> None:
    sample = get_sample_of(FORMS[name]).change(size=OWN)
    before = {key(place): place for place in work_out(sample, CATALOGUE, RULES).build.places}
    order = list(dict.fromkeys(entry for entry, _ in before))  # build order, delicate blooms last
    grown = nudge_pieces(sample, order[-2], 6).recipe
    # what closes the foam goes where that would be seen at last, so it hangs on all that stands before it
    closing = CLOSING if sample.mechanics is Mechanics.FOAM else set()
    earlier = {entry.id for entry in sample.entries if entry.id in order[:-2] and entry.role not in closing}
    kept = [place for place in work_out(grown, CATALOGUE, RULES).build.places if place.entry.id in earlier]
    assert len(kept) == sum(entry in earlier for entry, _ in before) > 0
    assert all(place.tip == before[key(place)].tip for place in kept)


@given(form=st.sampled_from(sorted(FORMS)))
@settings(max_examples=20)
def test_symmetric_pieces_stand_in_mirrored_pairs(form: str) -> None:
    sample = get_sample_of(FORMS[form])
    if FORMS[form].only_listed or FORMS[form].zones or form in {"asymmetric", "vine wreath"}:
        return
    build = work_out(sample.change(arranging={"balance": Balance.SYMMETRIC}), CATALOGUE, RULES).build
    frame = build.sizing.frame
    for entry in sample.entries:
        tips = [place.tip for place in build.places if place.entry.id == entry.id]
        mirror = FORMS[form].mirror
        alone = [
            tip
            for tip in tips
            if not any(other.times(mirror).minus(tip).length < 1e-6 for other in tips if other != tip)
        ]
        middle = [tip for tip in alone if tip.times(mirror).minus(tip).length < 1e-6]
        any_number = FORMS[form].covers_frame or mirror == FRONT_TO_BACK  # stands on the middle line
        assert any_number or len(middle) <= 2 + len(tips) / 3  # the crown, one over, and what the form wishes there
        alone = [tip for tip in alone if tip not in middle]
        assert len(alone) <= 2
        assert all(abs(tip.x) <= 0.32 * frame.half_width_cm for tip in alone)


def get_side_by_side(worked: Worked) -> list[tuple[Place, Place]]:
    """Pairs of large heads (1.3 times the median or more) with room for nothing between, at one level."""
    heads = [place for place in worked.build.places if not (place.material.is_axial or place.material.is_leaf)]
    heads = [place for place in heads if not place.material.is_laid]
    large = [place for place in heads if place.head.width_cm >= 1.3 * median(each.head.width_cm for each in heads)]
    return [
        (one, other)
        for number, one in enumerate(large)
        for other in large[number + 1 :]
        if abs(one.tip.z - other.tip.z) < 0.05 * one.above_rim_cm
        and one.tip.minus(other.tip).length < 0.5 * (one.head.width_cm + other.head.width_cm)
    ]


def test_two_large_heads_never_stand_side_by_side_at_one_level() -> None:
    for recipe in get_recipes():
        if get_arranged(recipe, FORMS[recipe.form], RULES).levels is Levels.ONE_LEVEL:
            continue  # covered frames are level on purpose
        assert not get_side_by_side(work_out(recipe, CATALOGUE, RULES)), recipe.name


def get_levels(build: Worked, slug: str) -> list[float]:
    return sorted((place.tip.z for place in build.build.places if place.material.slug == slug), reverse=True)


def test_grass_collar_stands_5_cm_above_the_vase() -> None:
    """ "Grass collar: 5 cm above the vase", made with 10 roses, 5 celosia, 6 orchid blooms and 3 dahlias: common
    practice, no published source."""
    entries = [
        ("bear-grass", "green", Role.GREENERY, 60),
        ("rose-standard", "orange", Role.FOCAL, 10),
        ("celosia-crested", "red", Role.MASS, 5),
        ("orchid-tubed", "green", Role.TOKEN, 6),
        ("dahlia-ball", "orange", Role.MASS, 3),
    ]
    worked = work_out(make("grass collar", "cylinder-15x20", Mechanics.TAPE_GRID, entries), CATALOGUE, RULES)
    blades = [place for place in worked.build.places if place.material.slug == "bear-grass"]
    assert {round(place.tip.z, 6) for place in blades} == {5.0}
    assert all(place.start.reach < 7.1 < place.tip.reach < 9 for place in blades)  # it fans out of a mouth of 14.2 cm
    hours = sorted(place.clock_hour for place in blades)
    assert max(b - a for a, b in pairwise(hours)) < 1.0  # all round, no gap


def test_stair_step_spikes_fall_by_5_cm() -> None:
    """ "Second spike 5 cm taller or shorter than the first; stair-step in threes": common practice, no published
    source."""
    entries = [("snapdragon", "white", Role.LINE, 3), ("rose-standard", "white", Role.FOCAL, 3)]
    recipe = make("stair-step", "bowl-22", Mechanics.PIN_HOLDER, entries)
    spikes = get_levels(work_out(recipe, CATALOGUE, RULES), "snapdragon")
    assert [a - b for a, b in pairwise(spikes)] == pytest.approx([5.0, 5.0])
    assert STEP_CM == 5.0


def test_upright_tray_steps_its_spikes_by_5_cm_and_sets_one_spider_bloom_half_way_up() -> None:
    """Two spikes, the second 5 cm from the first; two spider blooms, one halfway up the spike, one far lower; three
    carnations: common practice, no published source."""
    entries = [
        ("larkspur", "blue", Role.LINE, 2),
        ("chrys-spider", "white", Role.FOCAL, 2),
        ("carnation-standard", "white", Role.MASS, 3),
    ]
    recipe = make("parallel tray", "tray-one-brick", Mechanics.FOAM, entries)
    worked = work_out(recipe, CATALOGUE, RULES)
    spikes, blooms = get_levels(worked, "larkspur"), get_levels(worked, "chrys-spider")
    # the sites of a tray stand a fourteenth of its height apart
    assert spikes[0] - spikes[1] == pytest.approx(5.0, abs=spikes[0] / 14)
    assert blooms[0] == pytest.approx(spikes[0] / 2, rel=0.25)
    assert blooms[1] < blooms[0] - 2.0


def test_cylinder_of_five_stands_four_round_the_rim_and_the_best_on_top() -> None:
    """ "Cylinder of five peonies: four round the rim, the best one top centre; 15 × 15 cm vase": common practice, no
    published source."""
    entries = [("peony", "pink", Role.FOCAL, 5)]
    recipe = make("compact dome", "cylinder-15x20", Mechanics.TAPE_GRID, entries)
    recipe = recipe.change(arranging={"grading": "largest at the top centre"})
    places = work_out(recipe, CATALOGUE, RULES).build.places
    top, rim = places[0], places[1:]
    assert top.tip.reach == pytest.approx(0.0, abs=1e-9)
    assert all(place.tip.z < top.tip.z for place in rim)
    hours = sorted(place.clock_hour for place in rim)
    gaps = [b - a for a, b in zip(hours, [*hours[1:], hours[0] + 12], strict=True)]
    assert max(gaps) < 4.6  # four round the clock stand 3 hours apart


def test_column_climbs_in_even_steps_and_keeps_its_middle_open() -> None:
    """ "Column: 12 roses stair-stepped, space in the middle, 3 green balls in a triangle": common practice, no
    published source."""
    entries = [("rose-standard", "coral", Role.FOCAL, 12), ("dianthus-green-ball", "green", Role.TEXTURE, 3)]
    worked = work_out(make("column", "taper-40", Mechanics.TAPE_GRID, entries), CATALOGUE, RULES)
    roses = [place for place in worked.build.places if place.material.slug == "rose-standard"]
    steps = get_levels(worked, "rose-standard")
    falls = [a - b for a, b in pairwise(steps)]
    assert max(falls) < 3 * sum(falls) / len(falls)
    assert all(place.tip.reach > 0.45 * worked.build.sizing.frame.half_width_cm for place in roses[1:])
    balls = [place for place in worked.build.places if place.material.slug == "dianthus-green-ball"]
    turns = sorted(place.clock_hour for place in balls)
    gaps = [b - a for a, b in zip(turns, [*turns[1:], turns[0] + 12], strict=True)]
    assert min(gaps) > 1.5  # a triangle: no two balls share a side


def test_a_horn_keeps_above_the_table_and_a_faced_piece_in_front_of_its_wall() -> None:
    horn = work_out(get_sample_of(FORMS["horn"]), CATALOGUE, RULES)
    lowest = [
        place.tip.y + get_head_extent(place.material, place.facing, place.half_width_cm).front
        for place in horn.build.places
        if not place.material.is_axial
    ]
    assert min(lowest) >= -horn.build.sizing.frame.mouth_half_depth_cm - 1e-6
    faced = work_out(get_sample_of(FORMS["one-sided"]), CATALOGUE, RULES)
    assert all(place.tip.y <= faced.build.container.halves_cm[1] for place in faced.build.places)


def test_a_basket_is_kept_clear_for_the_hand() -> None:
    """No head under the handle's crown or over it: 6 cm for the hand, 2.5 cm to either side (assumptions of ours)."""
    worked = work_out(get_sample_of(FORMS["basket"]), CATALOGUE, RULES)
    handle = worked.build.container.height_cm - worked.build.container.rim_height_cm
    assert worked.build.extent.top <= handle - 6.0 + 1e-6
    high = [place for place in worked.build.places if place.tip.z > 0.5 * worked.build.sizing.above_rim_cm]
    assert all(abs(place.tip.y) > 1.5 for place in high)


@pytest.mark.parametrize(
    ("family", "says"),
    [
        ("net-loft", "pin holder"),
        ("lee-side", "spiral"),
        ("breakwater", "Cut the foam"),
        ("slipway", "strips each way"),
    ],
)
def test_the_first_step_prepares_what_holds_the_stems(family: str, says: str) -> None:
    recipe = next(each for each in get_recipes() if each.family == family)
    assert says in get_steps(work_out(recipe, CATALOGUE, RULES))[0].text


def get_outermost(worked: Worked, place: Place) -> Vec:
    """A head's tip drawn straight out to the surface: those that hold back cover what is over them."""
    lobe = worked.build.sizing.surface.get_lobe(place.tip)
    return lobe.centre.plus(place.tip.minus(lobe.centre), 1 / lobe.get_stretch(place.tip))


@pytest.mark.parametrize("name", ["all-round dome", "compact dome", "low oval", "hand-tied"])
def test_flowers_cover_more_than_chance_would(name: str) -> None:
    """Discs thrown at random cover 1 − e^(−φ) of a surface, φ their summed footprints over its area (source:
    boolean-model, from memory)."""
    with left_open():  # what is tucked in over the foam closes that instead
        worked = working.work_out(get_sample_of(FORMS[name]), CATALOGUE, RULES)
    surface = worked.build.sizing.surface
    heads = [
        place for place in worked.build.places if not place.material.is_axial and place.entry.role is not Role.GREENERY
    ]
    discs = [(get_outermost(worked, head), head.half_width_cm) for head in heads]
    spots = [surface.fit(site).point for site in surface.lattice.sites]
    covered = sum(any(math.dist(spot, middle) <= radius for middle, radius in discs) for spot in spots)
    footprints = sum(math.pi * radius**2 for _, radius in discs)
    assert covered / len(spots) > 1.15 * (1 - math.exp(-footprints / surface.area_cm2))
