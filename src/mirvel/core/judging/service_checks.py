"""Checks of pieces that stand for days without water, hang on a stand, and go to a service: foam and holes in sight,
balance, lifting, ties, water and life against the days promised, ribbon text, what the venue has not confirmed."""

from collections.abc import Iterator

from mirvel.core.judging.check import Check, Severity
from mirvel.core.making.build import Build
from mirvel.core.making.ribbon import get_ribbon_fits
from mirvel.core.making.sight import Sight
from mirvel.core.making.standing import TIES
from mirvel.core.recipe.taking import Taken
from mirvel.core.space.vectors import Vec
from mirvel.core.values.units import format_area, format_length
from mirvel.core.vessels.bricks import BRICK_ML, get_bricks

_NEARLY_ALL = 0.9  # of the foam: it is cut by eye
# Shares of what faces the eye, as seen on the drawing (assumptions): a frame has more of its foam to show than a bowl.
MOST_FOAM_SEEN, MOST_SEEN_OF_COVERED, MOST_GAPS = 0.2, 0.12, 0.25
SMALLEST_PATCH_CM2, LARGEST_PATCH_CM2 = 15.0, 45.0  # of bare foam: what is no fault, and what is one whatever the share


def get_service_checks(build: Build, taken: Taken) -> tuple[Check, ...]:
    """All of them."""
    return (
        *_check_cover(build),
        *_check_foam(build, taken),
        *_check_standing(build, taken),
        *_check_lasting(build),
        *_check_service(build, taken),
    )


def _check_cover(build: Build) -> Iterator[Check]:
    """Foam between the flowers from a side it is seen from; and holes right through."""
    if not build.places:
        return
    is_covered = build.sizing.form.covers_frame
    most = MOST_SEEN_OF_COVERED if is_covered else MOST_FOAM_SEEN
    worst = max(build.sights, key=lambda sight: (_is_bare(sight, most), sight.patch_cm2), default=Sight(""))
    if _is_bare(worst, most) and not build.recipe.foam_may_show:
        reason = f"From {worst.seen_from} about {worst.foam * 100:.0f} % of the foam is seen."
        patch = f"The largest patch, of {format_area(worst.patch_cm2, build.rules.unit)}, is"
        reason += _say_where(patch, worst.foam_at, build)
        mend = "Lay greens flat over it" if worst.side == "above" or is_covered else "Add greens low over its edge"
        mend += ", or pieces before it; where it is meant, say in the brief that bare foam may show."
        yield Check("foam-shows", Severity.WARN, "Foam shows", f"{reason} {mend}")
    worst = max(build.sights, key=lambda sight: sight.gaps, default=Sight(""))
    if worst.gaps > MOST_GAPS:
        reason = f"From {worst.seen_from} the eye goes through about {worst.gaps * 100:.0f} % of it."
        reason += _say_where("The middle of that is", worst.gaps_at, build)
        yield Check("gaps", Severity.WARN, "Holes", f"{reason} Add pieces, or draw it together.")


def _is_bare(sight: Sight, most: float) -> bool:
    """Whether so much foam is seen from a side, in a patch, that it is a fault."""
    return sight.patch_cm2 > LARGEST_PATCH_CM2 or (sight.foam > most and sight.patch_cm2 > SMALLEST_PATCH_CM2)


def _say_where(words: str, point: Vec | None, build: Build) -> str:
    return f" {words} at {build.say_at(point)}." if point else ""


def _check_foam(build: Build, taken: Taken) -> Iterator[Check]:
    """Less foam charged than the piece is made with."""
    charged_ml = sum(float(use.quantity) / use.divided_by * (good.foam_ml or 0.0) for use, good in taken.uses)
    if charged_ml < build.foam_to_buy_ml * _NEARLY_ALL:
        takes, charged = get_bricks(build.foam_to_buy_ml), charged_ml / BRICK_ML
        reason = f"It takes {takes} of a brick, and {charged:.2f} is among its hard goods. Charge the rest."
        yield Check("foam-charged", Severity.NOTE, "More foam than is charged", reason)


def _check_standing(build: Build, taken: Taken) -> Iterator[Check]:
    standing, rules = build.standing, build.rules
    if build.stand_cm and standing.tip_deg < rules.least_tip_deg:
        reason = (
            f"It falls when tipped by {standing.tip_deg:.0f}°. Use a wider stand, weight its feet or hang it lower."
        )
        yield Check("tips", Severity.WARN, "Top-heavy", reason)
    if build.sizing.form.hangs and build.stand_cm:
        ties = sum(use.quantity for use, good in taken.uses if good.is_tie)
        if ties < TIES:
            reason = f"A frame is tied to its stand in at least {TIES} places, the ends trimmed. Add ties."
            yield Check("ties", Severity.WARN, "Not tied enough", reason)
    people = standing.get_people(rules.lift_limit_kg)
    if people > 1:
        reason = (
            f"It weighs about {standing.weight_g / 1000:.1f} kg soaked; one person lifts {rules.lift_limit_kg:g} kg."
        )
        yield Check("lift", Severity.NOTE, f"{people} people lift it", reason)


def _check_lasting(build: Build) -> Iterator[Check]:
    """Water and life against the days the piece has to last once it has left."""
    brief = build.recipe.brief
    days = max(brief.promised_days, build.timeline.days if build.timeline else 0.0)
    water = None if brief.refilled and build.timeline is None else build.water.days
    if water is not None and water < days:
        reason = f"Nobody refills it for {days:.1f} days. Use more foam, fewer or smaller flowers, or arrange a refill."
        yield Check("dry", Severity.WARN, f"Water for {water:.1f} days", reason)
    short = {
        place.material.name: place.material.life_min_days
        for place in build.places
        if place.material.is_over_before(days)
    }
    if short:
        names = ", ".join(f"{name} ({life} days)" for name, life in short.items())
        reason = f"It is to last {days:.1f} days: {names}. Carnations and chrysanthemums last longer."
        yield Check("short-lived", Severity.WARN, "Flowers over too soon", reason)


def _check_service(build: Build, taken: Taken) -> Iterator[Check]:
    service, rules = build.recipe.brief.service, build.rules
    if service is None:
        return
    for fit in get_ribbon_fits(taken):
        if not fit.fits:
            over = format_length(fit.length_cm - fit.room_cm, rules.unit)
            reason = f"“{fit.text}” is {over} too long. Use a longer or narrower ribbon, or part it in two lines."
            yield Check("ribbon", Severity.STOP, "Ribbon text does not fit", reason)
    unread = [line.text for line in service.ribbon_lines if not line.read_back]
    if unread:
        reason = "Read it to the family letter by letter, then tick it: " + "; ".join(f"“{text}”" for text in unread)
        yield Check("read-back", Severity.WARN, "Ribbon not read back", f"{reason}.")
    if service.ribbon_lines and service.ribbon is None:
        yield Check(
            "no-ribbon", Severity.NOTE, "No ribbon chosen", "Choose the ribbon, so that its text can be measured."
        )
    waiting = [note.text for note in service.venue if not note.confirmed]
    if waiting:
        reason = f"Ask the venue or the funeral director: {'; '.join(waiting)}. Their rules come first."
        yield Check("venue", Severity.NOTE, "Venue has still to confirm", reason)
