"""Checks of time: water and life against the days promised, what is made ahead, what opens too late."""

from calendar import month_name
from collections.abc import Iterator

from mirvel.core.goods.heads import LEAST_OPEN, get_openness
from mirvel.core.judging.check import Checks, Family, Found, Judged, Severity, Source
from mirvel.core.placing.places import Place

CHECKS = Checks(Family.TIME)
DAILY = 1.0  # how often a vase is topped up, days; assumption
LIVES_APART_DAYS = 7  # assumption


@CHECKS.add(
    "dry",
    Severity.WARN,
    measures="days until the foam has given its water, or the first stem in a vase hangs in air",
    limit="the days promised without refill",
    source=Source.RECIPE,
)
def find_too_little_water(judged: Judged) -> Iterator[Found]:
    """Less water than its flowers take up until the last day."""
    brief, build = judged.recipe.brief, judged.build
    days = max(brief.promised_days, build.timeline.days if build.timeline else 0.0)
    water = build.water
    if (brief.refilled and build.timeline is None) or water.days is None or water.days >= days:
        return
    if water.first is None:
        reason = f"Nobody refills it for {days:.1f} days. Use more foam, fewer or smaller flowers, or arrange a refill."
        yield Found(f"Water for {water.days:.1f} days", reason)
        return
    reason = f"Nobody refills it for {days:.1f} days. {_say_first_dry(judged, water.first)}, or arrange a refill."
    yield Found(f"Water for {water.days:.1f} days", reason, places=(water.first,))


@CHECKS.add(
    "top-up",
    Severity.NOTE,
    measures="days until the first stem in a vase hangs in air, where somebody tops it up",
    limit=f"{DAILY:g} day",
    source=Source.ASSUMPTION,
)
def find_dry_within_a_day(judged: Judged) -> Iterator[Found]:
    """A vase in which a stem is dry before anybody tops it up the next day."""
    water, brief = judged.build.water, judged.recipe.brief
    is_refilled = brief.refilled and judged.build.timeline is None
    if is_refilled and water.first and water.days is not None and water.days < DAILY:
        reason = f"Topped up once a day it is too late. {_say_first_dry(judged, water.first)}."
        yield Found("Dry within a day", reason, places=(water.first,))


def _say_first_dry(judged: Judged, first: Place) -> str:
    """Which stem of a vase is dry first, and what helps."""
    where = judged.build.say_place(first)
    return f"{first.material.name} at {where} ends highest: cut it longer or place it steeper, fill higher"


@CHECKS.add(
    "short-lived", Severity.WARN, measures="shortest life of a flower", limit="the days promised", source=Source.RECIPE
)
def find_over_too_soon(judged: Judged) -> Iterator[Found]:
    """Flowers that are over before the last day."""
    brief, build = judged.recipe.brief, judged.build
    days = max(brief.promised_days, build.timeline.days if build.timeline else 0.0)
    short = tuple(place for place in build.places if place.material.is_over_before(judged.rules.get_age(days)))
    if short:
        lives = {place.material.name: place.material.life_min_days for place in short}
        names = ", ".join(f"{name} ({life} days)" for name, life in lives.items())
        reason = f"It is to last {days:.1f} days: {names}. Carnations and chrysanthemums last longer."
        yield Found("Flowers over too soon", reason, places=short)


@CHECKS.add(
    "lives-apart",
    Severity.NOTE,
    measures="days between the shortest lives of its flowers, where no number of days is promised",
    limit=f"{LIVES_APART_DAYS} days",
    source=Source.ASSUMPTION,
)
def find_lives_apart(judged: Judged) -> Iterator[Found]:
    """Flowers of which some are over days before the others, so that the piece looks spent by halves."""
    if judged.recipe.brief.promised_days:
        return  # against these each flower is judged by itself
    lives = {
        place.material.name: place.material.life_min_days
        for place in judged.blooms
        if place.material.life_min_days is not None and place.material.drinks
    }
    if lives and (apart := max(lives.values()) - min(lives.values())) > LIVES_APART_DAYS:
        first, last = min(lives, key=lambda name: lives[name]), max(lives, key=lambda name: lives[name])
        reason = (
            f"{first} is over after {lives[first]} days, {last} after {lives[last]}. Place the first so that they come "
            "out without leaving a hole, or use what lasts alike."
        )
        places = tuple(place for place in judged.blooms if place.material.name == first)
        yield Found(f"Lives {apart} days apart", reason, places=places)


@CHECKS.add(
    "not-open",
    Severity.WARN,
    measures="how open blooms are on the day they are looked at",
    limit=f"{LEAST_OPEN * 100:.0f} %",
    source=Source.ASSUMPTION,
)
def find_not_open(judged: Judged) -> Iterator[Found]:
    """Blooms that are still tight on the day the piece is looked at."""
    days, tight = judged.recipe.brief.days_to_viewing, _get_tight(judged)
    if tight:
        shares = {place.material.name: _get_share_open(judged, place) for place in tight}
        names = ", ".join(f"{name} ({share * 100:.0f} %)" for name, share in shares.items())
        reason = f"{names} open {days} days after making. Buy them earlier, or take them further open."
        yield Found("Not open by the day", reason, places=tight)


def _get_tight(judged: Judged) -> tuple[Place, ...]:
    return tuple(place for place in judged.blooms if _get_share_open(judged, place) < LEAST_OPEN)


def _get_share_open(judged: Judged, place: Place) -> float:
    """How open a bloom is on the day it is looked at."""
    age = judged.rules.get_age(judged.recipe.brief.days_to_viewing)
    return get_openness(place.material, age, judged.rules.opening_at_delivery)


@CHECKS.add(
    "forced",
    Severity.NOTE,
    measures="days that blooms last which have to be forced open for the day",
    limit="the days promised; a warning where it is less",
    source=Source.PRACTICE,
)
def find_forced(judged: Judged) -> Iterator[Found]:
    """Blooms that are only open on the day if they are forced, and over soon after."""
    promised = judged.recipe.brief.promised_days
    for material in {place.material.slug: place.material for place in _get_tight(judged)}.values():
        if material.forced_days is not None:
            places = tuple(place for place in judged.blooms if place.material.slug == material.slug)
            lasts = f"{material.forced_days} {'day' if material.forced_days == 1 else 'days'}"
            short = f", and {promised:.1f} are promised" if promised > material.forced_days else ""
            reason = (
                f"Warmth and light open it for the day; it then lasts {lasts}{short}. Buy it earlier and let it open "
                "slowly."
            )
            yield Found(
                f"{material.name} to be forced", reason, material.slug, places, Severity.WARN if short else None
            )


@CHECKS.add(
    "keeps",
    Severity.WARN,
    measures="hours from making to being looked at",
    limit="what made-ahead keeps",
    source=Source.HOUSE,
)
def find_made_ahead_too_early(judged: Judged) -> Iterator[Found]:
    """What is made ahead and does not keep until the piece is looked at."""
    hours = judged.recipe.brief.days_to_viewing * 24
    for assembly in judged.taken.assemblies.values():
        if assembly.shelf_life_hours < hours:
            reason = f"It keeps {assembly.shelf_life_hours} hours once made; the piece is looked at after {hours}."
            yield Found(f"{assembly.name} will not last", reason, assembly.slug)


@CHECKS.add(
    "out-of-season",
    Severity.WARN,
    measures="the month of its service, where that is known",
    limit="the months its flowers are to be had",
    source=Source.PRACTICE,
)
def find_out_of_season(judged: Judged) -> Iterator[Found]:
    """Flowers that are not to be had in the month the piece is for."""
    month = _find_month(judged)
    out = tuple(place for place in judged.build.places if month and month not in place.material.season)
    if out and month:
        names = ", ".join(dict.fromkeys(place.material.name for place in out))
        reason = f"{names}: not to be had in {month_name[month]}. Look for a substitute, or order it specially."
        yield Found("Out of season on the day", reason, places=out)


@CHECKS.add(
    "season-ends",
    Severity.NOTE,
    measures="the month after its service, where that is known",
    limit="the months its flowers are to be had",
    source=Source.PRACTICE,
)
def find_season_ending(judged: Judged) -> Iterator[Found]:
    """Flowers whose season ends with the month the piece is for: scarce by then, and dear."""
    month = _find_month(judged)
    if month is None:
        return
    after = month % 12 + 1
    ending = tuple(p for p in judged.build.places if month in p.material.season and after not in p.material.season)
    if ending:
        names = ", ".join(dict.fromkeys(place.material.name for place in ending))
        reason = f"{names}: not to be had any more in {month_name[after]}. Order early, and have a substitute ready."
        yield Found("The season ends", reason, places=ending)


def _find_month(judged: Judged) -> int | None:
    """The month its family first sees it, where that is known."""
    service = judged.recipe.brief.service
    return service.times[0].month if service and service.times else None
