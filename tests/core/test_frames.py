"""Frames of sympathy work: outlines, surfaces, foam, bricks, balance and water, against geometry worked out elsewhere
and against what the trade counts and measures."""

import math
from dataclasses import replace
from importlib.resources import files

import numpy as np
import pytest
from fontTools.ttLib import TTFont
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import Point, Polygon

from mirvel.core.card.steps import get_steps
from mirvel.core.changing.samples import find_sample
from mirvel.core.forms.covering import cover_bed
from mirvel.core.forms.form import Form
from mirvel.core.forms.kinds import FORMS
from mirvel.core.forms.surface import Frame
from mirvel.core.goods.container import Container, ContainerKind, MouthShape
from mirvel.core.goods.facts import Role
from mirvel.core.house.rules import HouseRules
from mirvel.core.judging.check import Severity
from mirvel.core.making.cuts import get_foam_cuts
from mirvel.core.making.ribbon import fit_ribbon, get_ribbon_fits, measure_cm
from mirvel.core.making.standing import get_tip_deg
from mirvel.core.making.water import get_uptake_ml
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.service import Service
from mirvel.core.recipe.taking import take
from mirvel.core.space.outlines import Outline, get_circle, get_cross, get_heart, get_oblong
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.beds import LOWER_HOUR, UPPER_HOUR, Bed, get_bed, get_frame_outline
from mirvel.core.vessels.bricks import BRICK_CM, get_brick_cuts, get_joints, get_runs
from mirvel.core.vessels.hollows import get_foam
from mirvel.core.working import Worked
from mirvel.demo import get_recipes
from tests.builds import some, work_out
from tests.strategies import CATALOGUE

RULES = HouseRules()
FACE = str(files("mirvel").joinpath("web/static/fonts/newsreader-latin-400-normal.woff2"))
SYMPATHY = [recipe for recipe in get_recipes() if recipe.brief.occasion == "funeral"]
EVERY = pytest.mark.parametrize("recipe", SYMPATHY, ids=lambda recipe: recipe.name)


def find(name: str) -> Recipe:
    return next(recipe for recipe in SYMPATHY if recipe.name.startswith(name))


def make(recipe: Recipe) -> Worked:
    return work_out(recipe, CATALOGUE, RULES)


@pytest.mark.parametrize(
    "loop",
    [get_cross(76.0, 46.0, 10.0), get_heart(33.0, 30.0), get_circle(12.0, (3.0, -4.0)), get_oblong(23.0, 11.0)],
    ids=["cross", "heart", "disc", "block"],
)
def test_areas_middles_and_depths_as_a_reference_library_finds_them(loop: tuple[tuple[float, float], ...]) -> None:
    """Against shapely."""
    outline, reference = Outline(loop), Polygon(loop)
    assert outline.area_cm2 == pytest.approx(reference.area)
    assert outline.centroid == pytest.approx((reference.centroid.x, reference.centroid.y))
    points = np.random.default_rng(7).uniform(-45, 45, (60, 2))
    for point, depth in zip(points, outline.get_depths(points), strict=True):
        away = reference.exterior.distance(Point(point))
        assert depth == pytest.approx(away if reference.contains(Point(point)) else -away)


def test_a_standing_spray_is_two_thirds_below_its_focal_point_and_one_third_above() -> None:
    """ "Two thirds below, one third above the focal point": common practice, no published source. Its outline against
    two half ellipses of shapely."""
    sizing = make(find("Long Shore")).build.sizing
    (lobe,) = sizing.surface.lobes
    assert lobe.front == pytest.approx(2 * lobe.half.y)
    assert lobe.front + lobe.half.y == pytest.approx(2 * sizing.frame.half_depth_cm)
    turns = np.linspace(0, 2 * math.pi, 721)
    ring = lobe.get_points(np.full(721, math.pi / 2), turns)[:, :2]
    halves = [
        Polygon([(lobe.half.x * math.sin(t), deep * math.cos(t)) for t in np.linspace(a, b, 361)])
        for deep, a, b in ((lobe.half.y, -math.pi / 2, math.pi / 2), (lobe.front, math.pi / 2, 3 * math.pi / 2))
    ]
    assert Polygon(ring).area == pytest.approx(sum(half.area for half in halves), rel=1e-4)
    assert Polygon(ring).centroid.y == pytest.approx(
        sum(half.area * half.centroid.y for half in halves) / sum(half.area for half in halves), rel=1e-3
    )


def test_the_surface_of_a_ring_is_half_a_torus() -> None:
    """A torus has 4π²Rr² of surface per r and 2π²Rr² of volume (source: pappus); its upper half, half of that. A ring
    of foam of any section holds 2πR times the section."""
    big, small = 12.5, 2.5
    ring = Container(
        slug="r", name="r", kind=ContainerKind.FOAM_RING, shape=MouthShape.RING, mouth_cm=2 * (big + small),
        mouth_across_cm=2 * (big - small), base_cm=30, depth_cm=4, height_cm=5, water_ml=0, clear=False, cost="1",
    )  # fmt: skip
    bed = get_bed(ring)
    assert bed.volume_ml == pytest.approx(2 * math.pi * big * (2 * small * 4), rel=1e-3)
    above = 4.0  # with 0.75 of it beside the foam and 2.4 cm down the side, the section is half an ellipse
    wide, high = small + 0.75 * above, above + 0.6 * 4
    section = math.pi * (3 * (wide + high) - math.sqrt((3 * wide + high) * (wide + 3 * high))) / 2  # Ramanujan's
    area, sites = cover_bed(Frame(above, 1.0, 1.0, 1.0, 1.0, bed=bed), bed)
    assert area == pytest.approx(2 * math.pi * big * section, rel=0.02)
    hours = np.histogram([math.atan2(site.point.x, site.point.y) for site in sites], bins=6, range=(-math.pi, math.pi))
    assert hours[0].min() > 0.85 * hours[0].max()


def cross_as_counted(share: float) -> Recipe:
    """A 76 cm cross by the trade's count: "about 28 roses, 25 carnations, 30 spider chrysanthemums, six orchid sprays,
    filler and leaves; a bow fills the centre" (common practice, no published source)."""
    counted = [
        ("bow-nine", "white", Role.TOKEN, 1, "whole stem"),
        ("leatherleaf", "green", Role.GREENERY, 24, "side piece"),
        ("salal", "green", Role.GREENERY, 18, "side piece"),
        ("cymbidium-short", "white", Role.FOCAL, 30, "side piece"),
        ("rose-standard", "white", Role.FOCAL, 28, "whole stem"),
        ("chrys-spider", "white", Role.MASS, 30, "whole stem"),
        ("carnation-standard", "white", Role.MASS, 25, "whole stem"),
        ("limonium", "blue", Role.FILLER, 12, "side piece"),
    ]
    entries = [
        {"id": f"e{n}", "material": m, "colour": c, "role": r, "pieces": max(1, round(k * share)), "piece": p}
        for n, (m, c, r, k, p) in enumerate(counted, 1)
    ]
    cross = find("Evening Bell")
    return cross.change(entries=entries, brief={**cross.brief.model_dump(), "days_to_viewing": 0})


def test_the_cross_the_trade_counts_comes_out_covered_and_half_of_it_does_not() -> None:
    full, half = (make(cross_as_counted(share)) for share in (1.0, 0.5))
    whole, thin = (max(sight.foam for sight in worked.build.sights) for worked in (full, half))
    assert whole < 0.1
    assert thin > whole + 0.15
    assert not {"foam-shows", "thin", "crowded"} & {check.id for check in full.checks}


def test_two_bricks_in_eighths_fill_the_cross_without_a_gap() -> None:
    """ "76 cm cross two bricks cut in eighths", "lower cluster on a third of a brick, upper on a sixth", "on a 137 cm
    stand, tied in three places": common practice, no published source."""
    (cut,) = get_brick_cuts(CATALOGUE.containers["cross-frame-76"])
    assert (cut.name, cut.pieces, cut.opened) == ("eighth", 16, 2)
    lower, upper = get_brick_cuts(CATALOGUE.containers["vine-46"])
    assert (lower.name, upper.name) == ("third", "sixth")
    assert math.prod(lower.size_cm) == pytest.approx(math.prod(BRICK_CM) / 3, rel=0.01)
    vine = make(find("Driftline"))
    assert vine.build.stand_cm == 137
    assert len(vine.build.standing.ties) >= 3


@given(height=st.floats(30, 120), span=st.floats(20, 80), bar=st.floats(6, 14), deep=st.floats(2.9, 9))
def test_any_cross_is_filled_to_its_ends_and_as_wide_as_its_bar(
    height: float, span: float, bar: float, deep: float
) -> None:
    frame = CATALOGUE.containers["cross-frame-76"].model_copy(
        update={"mouth_cm": height, "mouth_across_cm": max(span, bar + 1), "bar_cm": bar, "depth_cm": deep}
    )
    (cut,) = get_brick_cuts(frame)
    along, across, thick = cut.size_cm
    assert thick <= deep + 1e-6
    for run, (name, count) in zip(get_runs(frame), cut.runs, strict=True):
        rows = math.ceil(run.width_cm / across - 1e-9)
        assert run.name == name
        assert count % rows == 0
        assert count // rows * along >= run.length_cm - 1e-6
        assert rows * across >= run.width_cm - 1e-6
    assert cut.opened * cut.parts >= cut.pieces
    joints, outline = get_joints(frame), get_frame_outline(frame)
    assert len(joints) == sum(math.ceil(run.length_cm / along - 1e-9) - 1 for run in get_runs(frame))
    middles = np.array([[(x1 + x2) / 2, (y1 + y2) / 2] for (x1, y1), (x2, y2) in joints]).reshape(-1, 2)
    assert (outline.get_depths(middles) > 0).all()
    assert all(math.dist(*joint) == pytest.approx(bar) for joint in joints)


@pytest.mark.parametrize("recipe", some(SYMPATHY), ids=lambda recipe: recipe.name)
def test_the_outline_goes_in_strictly_before_what_fills_it_however_it_is_written_down(recipe: Recipe) -> None:
    worked = make(recipe.change(entries=[entry.model_dump() for entry in reversed(recipe.entries)]))
    order = [place.entry.role for place in worked.build.places]
    outline = (Role.TOKEN, Role.GREENERY, Role.LINE)
    ranks = [outline.index(role) if role in outline else len(outline) for role in order]
    assert ranks == sorted(ranks)
    fill = [entry.id for entry in recipe.entries if entry.role in {Role.MASS, Role.FILLER, Role.TEXTURE}]
    fewer = make(recipe.change(entries=[e for e in recipe.entries if e.id != fill[-1]]))
    steps = [step.entries[0].role for step in get_steps(make(recipe)) if step.entries]
    assert steps[0] in outline
    greens = {(p.entry.id, p.number): p.tip for p in make(recipe).build.places if p.entry.role is Role.GREENERY}
    width_follows_flowers = recipe.form not in {"foam ring", "cross", "heart", "posy pad"}
    without = {(p.entry.id, p.number): p.tip for p in fewer.build.places if p.entry.role is Role.GREENERY}
    assert width_follows_flowers or greens == without


def test_a_basket_has_its_liner_and_water_and_nothing_to_drain() -> None:
    """ "Liner in every basket", "about two bricks": common practice, no published source."""
    basket = make(find("Harbour Light, basket"))
    set_up = get_steps(basket)[0].text
    assert set_up.startswith("Lay the liner in")
    assert ", 2 bricks in all," in set_up
    assert basket.build.standing.drain_minutes == 0
    assert basket.build.timeline
    assert not any("drained" in moment.what for moment in basket.build.timeline.moments)
    assert basket.build.water.days
    assert basket.build.water.days > basket.build.timeline.days


def test_foam_that_is_not_charged_is_told_and_baskets_take_as_many_bricks_as_usual() -> None:
    """Baskets: half a brick, one, two by their size: common practice, no published source."""
    cross = find("Evening Bell")
    uses = [use.model_dump() for use in cross.hard_goods]
    one = [{**use, "quantity": 1} if use["hard_good"] == "foam-brick-standard" else use for use in uses]
    assert "foam-charged" in {check.id for check in make(cross.change(hard_goods=one)).checks}
    for slug, bricks in (("basket-15", 0.5), ("basket-22", 1.0), ("basket-sympathy-32", 2.0)):
        foam = get_foam(CATALOGUE.containers[slug], 2.5)
        heights = np.linspace(foam.bottom_z, foam.top_z, 400)
        volume = np.trapezoid([math.pi * foam.get_half_width(z) ** 2 for z in heights], heights)
        assert volume / math.prod(BRICK_CM) == pytest.approx(bricks, abs=0.15)


@EVERY
def test_every_stem_goes_in_and_stays_in_the_foam(recipe: Recipe) -> None:
    worked = make(recipe)
    if worked.build.bed is None:
        return
    for cut in worked.build.cuts:
        assert worked.build.bed.contains(cut.place.start, 1e-3)
        assert worked.build.bed.contains(cut.end, 1e-3)
        assert cut.end.z >= worked.build.bed.bottom_z + 0.4  # never through the back
        assert cut.inside_cm >= 1.3 - 1e-9


def test_a_ring_as_it_is_made() -> None:
    """ "Rim greens 1.3 to 2.5 cm in, flower stems 2.5 to 3.8 cm" and "rim greens, then 12 carnations spread round, then
    spray roses and buttons between": common practice, no published source."""
    worked = make(find("Still Harbour"))
    roles = [entry.role for entry in worked.recipe.entries]
    assert roles == sorted(roles, key=[Role.GREENERY, Role.FOCAL, Role.MASS, Role.FILLER].index)
    greens = [cut for cut in worked.build.cuts if cut.place.entry.role is Role.GREENERY]
    assert all(1.3 - 1e-9 <= cut.inside_cm <= 2.5 + 0.5 for cut in greens)  # rounded up to half a centimetre
    flowers = [cut.cut_cm for cut in worked.build.cuts if cut.place.material.slug == "carnation-standard"]
    assert min(flowers) >= 2.5
    assert np.median(flowers) <= 3.8
    carnations = sorted(
        cut.place.clock_hour for cut in worked.build.cuts if cut.place.material.slug == "carnation-standard"
    )
    gaps = np.diff([*carnations, carnations[0] + 12])
    assert max(gaps) < 2.5 * 12 / len(carnations)


@EVERY
def test_matched_pairs_match_and_turning_the_frame_on_the_bench_changes_no_cut(recipe: Recipe) -> None:
    worked, turned = make(recipe), make(recipe.change(arranging={**recipe.arranging.model_dump(), "mirrored": True}))
    assert [cut.cut_cm for cut in turned.build.cuts] == pytest.approx([cut.cut_cm for cut in worked.build.cuts])
    if recipe.form not in {"cross", "heart"}:
        return
    tips = np.array([place.tip for place in worked.build.places])
    across = tips * np.array([-1.0, 1.0, 1.0])
    paired = np.sqrt(((tips[:, None] - across) ** 2).sum(axis=2)).min(axis=1) < 0.2
    assert paired.mean() > 0.95


def test_a_saddles_back_is_the_mirror_of_its_front() -> None:
    worked = make(find("Saltpan"))
    tips = np.array([place.tip for place in worked.build.places])
    across = tips * np.array([1.0, -1.0, 1.0])
    assert (np.sqrt(((tips[:, None] - across) ** 2).sum(axis=2)).min(axis=1) < 0.2).mean() > 0.93
    assert worked.build.standing.foam_g == 0  # artificial stems, dry foam
    assert worked.build.water.days is None


def test_the_bow_is_worked_round_and_the_vine_stays_bare_between_its_clusters() -> None:
    cross = make(find("Evening Bell"))
    bow = next(place for place in cross.build.places if place.entry.role is Role.TOKEN)
    assert cross.build.say_place(bow).startswith("crossing")
    others = [place for place in cross.build.places if place.entry.role is not Role.TOKEN]
    assert min(place.tip.minus(bow.tip).length for place in others) > 0.4 * bow.half_width_cm
    hours = [place.clock_hour for place in make(find("Driftline")).build.places]
    near = [
        min(abs(h - c) % 12, 12 - abs(h - c) % 12) for h in hours for c in [LOWER_HOUR if 4 < h < 10 else UPPER_HOUR]
    ]
    assert max(near) < 2.2
    assert 0.6 < sum(4 < hour < 10 for hour in hours) / len(hours) < 0.9


def test_tip_angle_and_water_by_hand() -> None:
    """atan(half base / height of the centre of gravity): statics. Water: what is held over what is taken up a day."""
    assert get_tip_deg(20.0, 20.0) == pytest.approx(45.0)
    assert get_tip_deg(10.0, 56.71) == pytest.approx(10.0, abs=0.01)
    assert get_tip_deg(10.0, 0.0) == get_tip_deg(10.0, -1.0) == 90.0
    worked = make(find("Still Harbour"))
    day = sum(get_uptake_ml(place, RULES) for place in worked.build.places)
    assert worked.build.water.days == pytest.approx(0.95 * 0.8 * worked.build.container.water_ml / day)
    assert worked.build.standing.weight_g > worked.build.container.water_ml


def test_a_service_gives_its_times_days_and_warnings() -> None:
    times = {"visitation": "2026-11-25T10:00", "service": "2026-11-27T11:00", "committal": "2026-11-27T13:00"}
    service = {
        **times,
        "stays_days": 9,
        "ribbon": "ribbon-70",
        "ribbon_lines": [{"text": "W" * 40}],
        "travel_minutes": 45,
    }
    ring = find("Still Harbour")
    worked = make(ring.change(brief={**ring.brief.model_dump(), "service": service}))
    assert worked.build.timeline
    at = {moment.what.split(",")[0]: moment.at for moment in worked.build.timeline.moments}
    assert (at["visitation"] - at["loaded"]).total_seconds() == 60 * 60
    assert at["drained upright"] < at["loaded"]
    assert at["flowers in water by then"] < at["made"] < at["drained upright"]
    assert worked.build.timeline.days == pytest.approx(11.18, abs=0.02)
    found = {check.id: check.severity for check in worked.checks}
    assert found["ribbon"] is Severity.STOP
    assert {"dry", "short-lived", "read-back"} <= set(found)
    with pytest.raises(ValueError, match="before the visitation"):
        Service.model_validate({**times, "service": "2026-11-24T11:00"})


WORDS = st.text(st.characters(min_codepoint=32, max_codepoint=0x17E, exclude_categories=["Cc", "Cf"]), max_size=60)


@given(text=WORDS, capital=st.floats(0.5, 6))
def test_ribbon_text_is_as_long_as_the_face_itself_says(text: str, capital: float) -> None:
    """Against the advance widths in the font file the app ships, read by fontTools."""
    font = TTFont(FACE)
    widths, letters = font["hmtx"], font.getBestCmap()
    text = "".join(letter for letter in text if ord(letter) in letters)
    size = capital / (font["OS/2"].sCapHeight / font["head"].unitsPerEm)
    true = sum(widths[letters[ord(letter)]][0] for letter in text) / font["head"].unitsPerEm * size
    assert measure_cm(text, capital) == pytest.approx(true, rel=0.004, abs=0.02)


def test_every_letter_of_the_face_is_as_wide_as_it_says() -> None:
    """Against the advance widths in the font file the app ships: of Latin letters, digits and signs, each alone."""
    font = TTFont(FACE)
    widths, letters, units = font["hmtx"], font.getBestCmap(), font["head"].unitsPerEm
    capital = font["OS/2"].sCapHeight / units
    for code in letters:
        if code < 0x100:
            true = widths[letters[code]][0] / units
            assert measure_cm(chr(code), capital) == pytest.approx(true, rel=0.004, abs=0.001), chr(code)


def test_lines_without_a_ribbon_and_a_ribbon_without_lines_are_measured_by_nothing() -> None:
    recipe = next(each for each in get_recipes() if each.family == "long-shore")
    for service in ({"ribbon_lines": [{"text": "Safe home"}]}, {"ribbon": "ribbon-70"}):
        brief = {**recipe.brief.model_dump(), "service": service}
        assert get_ribbon_fits(take(recipe.change(brief=brief), CATALOGUE)) == ()
    taken = take(recipe.change(brief={**recipe.brief.model_dump(), "service": {"ribbon": "ribbon-70"}}), CATALOGUE)
    without = recipe.change(brief={**recipe.brief.model_dump(), "service": None})
    assert get_ribbon_fits(replace(taken, recipe=without)) == ()


@given(text=WORDS.filter(lambda text: text.strip() == text != ""), long=st.floats(20, 120))
@settings(max_examples=10)
def test_ribbon_text_fits_its_ribbon_or_a_stop_says_so(text: str, long: float) -> None:
    pad = find("Haven")
    service = {"ribbon": "ribbon-38", "ribbon_length_cm": long, "ribbon_lines": [{"text": text, "read_back": True}]}
    worked = make(pad.change(brief={**pad.brief.model_dump(), "service": service}))
    stops = {check.id for check in worked.checks if check.severity is Severity.STOP}
    assert ("ribbon" in stops) == (fit_ribbon(text, long, 3.8).length_cm > long - 8 + 1e-9)


@given(turn=st.floats(0, 360))
@settings(max_examples=8)
def test_turning_a_frame_on_the_bench_changes_no_cut(turn: float) -> None:
    """The foam, the heads and the holes of a cross all turned by one angle."""
    worked = make(find("Evening Bell"))
    assert worked.build.bed
    cos, sin = math.cos(math.radians(turn)), math.sin(math.radians(turn))

    def turned(point: Vec) -> Vec:
        return Vec(point.x * cos - point.y * sin, point.x * sin + point.y * cos, point.z)

    loops = [[turned(Vec(x, y, 0.0)) for x, y in loop] for loop in worked.build.bed.outline.loops]
    bed = Bed(
        Outline(*(tuple((at.x, at.y) for at in loop) for loop in loops)),
        worked.build.bed.top_z,
        worked.build.bed.bottom_z,
    )
    for cut in worked.build.cuts[::4]:
        place = replace(
            cut.place, tip=turned(cut.place.tip), facing=turned(cut.place.facing), start=turned(cut.place.start)
        )
        assert get_foam_cuts([place], bed, 0.5)[0].inside_cm == pytest.approx(cut.inside_cm, abs=1e-4)


@pytest.mark.parametrize("form", [form for form in FORMS.values() if form.covers_frame], ids=lambda form: form.name)
def test_a_thin_sample_is_told_that_its_foam_shows(form: Form) -> None:
    sample = find_sample(form, CATALOGUE)
    assert sample
    few = sample.change(entries=[entry.model_copy(update={"pieces": 2}) for entry in sample.entries])
    worked = make(few)
    assert "foam-shows" in {check.id for check in worked.checks}
    assert max(sight.foam for sight in worked.build.sights) > 0.3
