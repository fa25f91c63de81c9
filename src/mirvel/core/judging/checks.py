"""Checks: what is wrong or worth knowing about a worked recipe, worst first, each with its measure and reason."""

import math
from collections.abc import Iterator

from mirvel.core.forms.form import Form
from mirvel.core.goods.facts import HeadForm, Mechanics
from mirvel.core.goods.hard_good import HardGood
from mirvel.core.house.design import SeenFrom
from mirvel.core.house.rules import HouseRules
from mirvel.core.judging.check import Check, Severity
from mirvel.core.judging.service_checks import get_service_checks
from mirvel.core.making.bases import BasePlan
from mirvel.core.making.build import Build
from mirvel.core.making.cuts import Cut
from mirvel.core.placing.holders import get_foam_seen
from mirvel.core.placing.places import Place
from mirvel.core.placing.size import SIGHT_LINE_CM, Sizing
from mirvel.core.pricing.pricing import Money
from mirvel.core.recipe.meant_words import write_meant
from mirvel.core.recipe.recipe import Recipe, SizeMode
from mirvel.core.recipe.taking import Taken
from mirvel.core.values.money import to_cent
from mirvel.core.values.units import format_length
from mirvel.core.vessels.hollows import LEAST_IN_FOAM_CM, get_inside

_WIDTH_TOLD_CM = 0.5  # widths go by steps of 1 cm
LINING_FORMS, LEAST_LINED = frozenset({HeadForm.STRAP, HeadForm.BROAD_LEAF}), 0.9  # of the way round; assumption
LEAST_SHOWN = 1 / 3  # of a spike’s flower; assumption
LOW_PIECE_CM = 30.0  # "clearly below 30 cm": common practice, no published source


def get_checks(build: Build, money: Money, taken: Taken) -> tuple[Check, ...]:
    """All findings: stops first, then warnings, then notes. ``taken`` is the recipe's goods as they are now, ``build``
    what was made of their facts."""
    recipe, sizing, cuts, rules = build.recipe, build.sizing, build.cuts, build.rules
    found = [
        *_check_money(money, rules),
        *_check_size(recipe, sizing, rules),
        *_check_own_width(recipe, sizing, rules),
        *_check_fullness(sizing),
        *_check_stems(cuts, rules),
        *_check_shown(build),
        *_check_foam(recipe, cuts, rules),
        *_check_goods(taken),
        *_check_mouth(build.base),
        *_check_lining(build),
        *_check_form(recipe, sizing, cuts),
        *_check_upright(build),
        *_check_meant(build, taken),
        *get_service_checks(build, taken),
    ]
    return tuple(sorted(found, key=lambda check: list(Severity).index(check.severity)))


def _check_meant(build: Build, taken: Taken) -> Iterator[Check]:
    """What a designer means by an entry and its places do not meet."""
    ids = [entry.id for entry in build.recipe.entries]
    for number, entry in enumerate(build.recipe.entries, 1):
        if entry.pieces and not entry.placed:
            reason = f"{entry.meant.held_back} held back of {entry.pieces}: hold fewer back, or add pieces."
            name = taken.placed[entry.id].name
            yield Check(f"held-{entry.id}", Severity.WARN, f"{number} {name}: none is placed", reason)
        for met in build.met.get(entry.id, ()):
            if met.is_met:
                continue
            name = taken.placed[entry.id].name
            said = write_meant(entry.meant, ids, build.rules.unit)
            reason = f"Meant is “{said}”: {met.instead}. Place it again, make room for it, or mean it otherwise."
            severity = Severity.STOP if entry.meant.must else Severity.NOTE
            yield Check(f"meant-{entry.id}-{met.part}", severity, f"{number} {name}: not {met.wish}", reason)


def _check_money(money: Money, rules: HouseRules) -> Iterator[Check]:
    room = f"{rules.currency}{to_cent(abs(money.room_left))}"
    if money.flower_money <= 0:
        reason = (
            "Container, hard goods and labour use the whole price. Choose a cheaper container or a higher price point."
        )
        yield Check("no-flower-money", Severity.STOP, "No money for flowers at this price", reason)
    elif money.room_left < 0:
        reason = f"The flowers cost {room} more than this price allows. Take pieces out or go up a price point."
        yield Check("overfilled", Severity.STOP, f"{room} over the flower money", reason)
    elif money.fill is not None and money.fill < rules.true_from:
        reason = f"The customer is {room} short of flowers; the shop's lowest fill is {rules.true_from * 100:.0f} %."
        yield Check("underfilled", Severity.WARN, f"{room} of flower money unspent", reason)


def _check_size(recipe: Recipe, sizing: Sizing, rules: HouseRules) -> Iterator[Check]:
    if recipe.brief.across_table:
        height = format_length(sizing.overall_height_cm, rules.unit)
        if sizing.overall_height_cm > SIGHT_LINE_CM:
            limit = format_length(SIGHT_LINE_CM, rules.unit)
            yield Check(
                "sight-line",
                Severity.STOP,
                f"{height} tall, across a table",
                f"People seated cannot see each other over {limit}. Lower the height rule.",
            )
        elif sizing.overall_height_cm >= LOW_PIECE_CM:
            yield Check(
                "low-piece",
                Severity.WARN,
                f"{height} tall, across a table",
                f"A low table piece stays clearly below {format_length(LOW_PIECE_CM, rules.unit)}.",
            )
    if sizing.capped_by:
        ruled, held = (format_length(h, rules.unit) for h in (sizing.ruled_height_cm, sizing.overall_height_cm))
        yield Check(
            "size-capped",
            Severity.NOTE,
            f"{held} tall, kept under {sizing.capped_by}",
            f"The height rule gives {ruled}. Give the piece an own size if it may stand higher.",
        )
    if (
        recipe.size.mode is SizeMode.FROM_FULLNESS
        and not sizing.capped_by
        and sizing.overall_height_cm < sizing.ruled_height_cm - 0.5
    ):
        ruled, full = (format_length(h, rules.unit) for h in (sizing.ruled_height_cm, sizing.overall_height_cm))
        yield Check(
            "size-follows-flowers",
            Severity.NOTE,
            f"Full at {full}, not at the ruled {ruled}",
            "The flowers this price buys fill a smaller piece than the height rule gives.",
        )


def _check_own_width(recipe: Recipe, sizing: Sizing, rules: HouseRules) -> Iterator[Check]:
    """An own width that the form, or what it stands in, does not give."""
    asked = recipe.size.own_width_cm
    if recipe.size.mode is not SizeMode.OWN or asked is None or abs(asked - sizing.width_cm) < _WIDTH_TOLD_CM:
        return
    form, wider = sizing.form, asked > sizing.width_cm
    wanted = format_length(asked, rules.unit)
    reason = "Vessels side by side are that wide whatever is in them. Take fewer, or narrower ones."
    if form.covers_frame:
        reason = f"The form {form.name} covers its frame and is as wide as that. Take a {_say_wider(wider)} frame."
    elif form.proportions.over_mouth:
        least, most = form.proportions.over_mouth
        reason = (
            f"The form {form.name} is {least:g} to {most:g} times as wide as the mouth it stands in. Take a container "
            f"with a {_say_wider(wider)} mouth, or another form."
        )
    yield Check("width-held", Severity.NOTE, f"Not {wanted} wide, as asked", reason)


def _say_wider(wider: bool) -> str:
    return "wider" if wider else "narrower"


def _check_fullness(sizing: Sizing) -> Iterator[Check]:
    share = f"Heads fill {sizing.fullness * 100:.0f} % of the surface that its form has at this size"
    if sizing.fullness < sizing.thin_below:
        yield Check(
            "thin",
            Severity.WARN,
            "Reads thin",
            f"{share}, under {sizing.thin_below * 100:.0f} %. "
            "Add pieces, or lower the height so that the piece draws together.",
        )
    elif sizing.fullness > sizing.crowded_above:
        yield Check(
            "crowded",
            Severity.WARN,
            "Reads crowded",
            f"{share}, over {sizing.crowded_above * 100:.0f} %. {_get_room_made(sizing.form)}",
        )


def _get_room_made(form: Form) -> str:
    """What makes room in a form that is crowded: one that is as wide as what it stands in is made larger by that."""
    is_held = form.covers_frame or form.proportions.over_mouth
    return f"Take pieces out, or {'take a larger container' if is_held else 'make it larger'}."


def _check_stems(cuts: tuple[Cut, ...], rules: HouseRules) -> Iterator[Check]:
    short: dict[str, list[Cut]] = {}
    for cut in cuts:
        if cut.is_too_long:
            short.setdefault(cut.place.material.name, []).append(cut)
    for name, found in short.items():
        longest = format_length(max(cut.total_cm for cut in found), rules.unit)
        has = format_length(min(cut.place.head.stem_length_cm for cut in found), rules.unit)
        yield Check(
            f"short-{found[0].place.entry.id}",
            Severity.WARN,
            f"{name}: {len(found)} too short",
            f"A place needs {longest} with its head; the piece has {has}. Lower the height, or use whole stems.",
        )


def _check_shown(build: Build) -> Iterator[Check]:
    """Spikes and sprays of which less than a third stands clear to be seen: they are paid for whole."""
    shown: dict[str, list[Place]] = {}
    for place in build.places:
        if place.is_stripped and place.shown_length_cm < LEAST_SHOWN * place.head.length_cm:
            shown.setdefault(place.entry.id, []).append(place)
    for entry_id, places in shown.items():
        unit, name = build.rules.unit, places[0].material.name
        least = format_length(min(place.shown_length_cm for place in places), unit)
        whole = format_length(places[0].head.length_cm, unit)
        reason = (
            f"{least} of {whole} shows at the least, the rest is stripped. Take fewer or shorter ones, side pieces, or "
            "make the piece larger."
        )
        title = f"{len(places)} {name} {'shows' if len(places) == 1 else 'show'} less than a third of the flower"
        yield Check(f"stripped-{entry_id}", Severity.NOTE, title, reason)


def _check_foam(recipe: Recipe, cuts: tuple[Cut, ...], rules: HouseRules) -> Iterator[Check]:
    shallow = [cut for cut in cuts if cut.inside_cm < LEAST_IN_FOAM_CM and not cut.place.material.is_laid]
    if recipe.mechanics is Mechanics.FOAM and shallow:
        names = ", ".join(dict.fromkeys(cut.place.material.name for cut in shallow))
        least = format_length(LEAST_IN_FOAM_CM, rules.unit)
        yield Check(
            "shallow",
            Severity.STOP,
            f"{len(shallow)} pieces barely in the foam",
            f"{names}: less than {least} goes in, so they neither hold nor drink. Let the foam stand higher above "
            "the rim, or make the piece wider or taller.",
        )


def _check_mouth(base: BasePlan) -> Iterator[Check]:
    """More stems than the mouth passes; holes in foam with no wall between, stems through one another in it."""
    if base.mouth_passes is not None and base.stems > base.mouth_passes:
        reason = f"About {base.mouth_passes} stems as thick as these go through. Use a wider one or fewer stems."
        yield Check("mouth", Severity.STOP, f"{base.stems} stems in the mouth", reason)
    if base.foam and base.foam.through:
        reason = "In the foam a stem pushed through another loosens both. Drag one aside, or use fewer stems."
        yield Check("through", Severity.WARN, f"{base.foam.through} stems run through others", reason)
    if base.foam and base.foam.too_close:
        reason = "Foam tears where holes stand closer than 2 mm. Use a larger piece of foam, or fewer stems."
        yield Check("holes", Severity.WARN, f"{base.foam.too_close} holes too close", reason)


def _check_upright(build: Build) -> Iterator[Check]:
    """What has to stand upright, as a candle does, in a piece that hangs or lies on its side, or without foam."""
    form = build.sizing.form
    names = {place.material.name for place in build.places if place.material.stands_whole}
    has_foam = get_foam_seen(build.recipe, build.container) is not None
    if names and (form.hangs or form.lies or not has_foam):
        reason = "It stands only in the foam of a piece that stands or lies flat. Take it out, or choose such a piece."
        yield Check("upright", Severity.STOP, f"{', '.join(sorted(names))} cannot stand", reason)


def _check_lining(build: Build) -> Iterator[Check]:
    """Leaves that line a glass side by side and do not reach round it."""
    leaves = [place for place in build.places if place.is_inside and place.material.form in LINING_FORMS]
    if not leaves:
        return
    inside = get_inside(build.container)
    round_cm = (8.0 if inside.square else 2 * math.pi) * inside.top_half_cm
    reach_cm = sum(place.head.width_cm for place in leaves)
    if reach_cm < LEAST_LINED * round_cm:
        more = math.ceil((round_cm - reach_cm) / leaves[0].head.width_cm)
        reason = f"Side by side they reach {reach_cm / round_cm * 100:.0f} % of the way round. Add {more}."
        title = "1 leaf does" if len(leaves) == 1 else f"{len(leaves)} leaves do"
        yield Check("lining", Severity.NOTE, f"{title} not line the glass", reason)


def _check_form(recipe: Recipe, sizing: Sizing, cuts: tuple[Cut, ...]) -> Iterator[Check]:
    form = sizing.form
    if form.only_listed and len(cuts) > (places := len(sizing.surface.lattice.sites)):
        reason = f"The form {form.name} has {places} places; what is over stands on top of others. Take pieces out."
        yield Check("places", Severity.WARN, f"{len(cuts)} pieces for {places} places", reason)
    if recipe.brief.seen_from is SeenFrom.ALL_ROUND and form.seen_from is SeenFrom.FRONT:
        reason = f"The brief is for all round; {form.name} is seen from the front. Choose an all-round form for there."
        yield Check("seen-from", Severity.NOTE, "Made for one side only", reason)


def _check_goods(taken: Taken) -> Iterator[Check]:
    """Goods that are retired, charged twice, or made ahead too early."""
    recipe, goods = taken.recipe, taken.all_goods
    for good in (good for good in goods if good.retired):
        reason = "The shop no longer uses it; what it cost last is reckoned. Swap it when you next touch this recipe."
        yield Check(f"retired-{good.slug}", Severity.NOTE, f"{good.name} is retired", reason)
    for hard_good in (good for good in goods if isinstance(good, HardGood)):
        if hard_good.same_as and hard_good.same_as == recipe.container:
            reason = "It is the container itself, which is charged already. Take it out of the hard goods."
            yield Check(f"twice-{hard_good.slug}", Severity.WARN, f"{hard_good.name} is charged twice", reason)
    hours = recipe.brief.days_to_viewing * 24
    for assembly in taken.assemblies.values():
        if assembly.shelf_life_hours < hours:
            reason = f"It keeps {assembly.shelf_life_hours} hours once made; the piece is looked at after {hours}."
            yield Check(f"keeps-{assembly.slug}", Severity.WARN, f"{assembly.name} will not last", reason)
