"""Checks of pieces that stand for days without water, hang on a stand, and go to a service: foam that shows, balance,
lifting, ties, water and life against the days promised, ribbon text, what the venue has not confirmed."""

from collections.abc import Iterator
from dataclasses import dataclass

from mirvel.core.checks import Check, Severity
from mirvel.core.cover import Cover
from mirvel.core.finding import say
from mirvel.core.goods import Catalogue
from mirvel.core.goods.material import StemKind
from mirvel.core.house import HouseRules
from mirvel.core.places import Place
from mirvel.core.recipe import Recipe
from mirvel.core.ribbon import RibbonFit, fit_ribbon
from mirvel.core.service import Service, Timeline
from mirvel.core.size import Sizing
from mirvel.core.standing import TIES, Standing
from mirvel.core.units import format_length
from mirvel.core.water import Water

LEAST_CLOSED, LARGEST_HOLE_CM2 = (
    0.9,
    45.0,
)  # share of a covered frame that is closed, and the largest bare patch allowed
_TIE_SLUG = "zip-tie"


@dataclass(frozen=True)
class Made:
    """What these checks look at."""

    recipe: Recipe
    sizing: Sizing
    places: tuple[Place, ...]
    cover: Cover | None
    standing: Standing
    stand_cm: float
    water: Water
    timeline: Timeline | None


def get_sympathy_checks(made: Made, catalogue: Catalogue, rules: HouseRules) -> tuple[Check, ...]:
    """All of them. Raises UnknownGoods."""
    return (
        *_check_cover(made, rules),
        *_check_standing(made, rules),
        *_check_lasting(made),
        *_check_service(made, catalogue, rules),
    )


def _check_cover(made: Made, rules: HouseRules) -> Iterator[Check]:
    cover = made.cover
    if cover is None or not made.places or (cover.closed >= LEAST_CLOSED and cover.hole_cm2 <= LARGEST_HOLE_CM2):
        return
    where = ""
    if cover.hole_at and made.sizing.form.locate:
        where = f" The largest gap is at {say(made.sizing.form.locate(made.sizing.frame, cover.hole_at), rules.unit)}."
    reason = f"Flowers and leaves close {cover.closed * 100:.0f} % of the frame.{where} Add pieces, or larger ones."
    yield Check("foam-shows", Severity.WARN, "Foam shows", reason)


def _check_standing(made: Made, rules: HouseRules) -> Iterator[Check]:
    standing = made.standing
    if made.stand_cm and standing.tip_deg < rules.least_tip_deg:
        reason = (
            f"It falls when tipped by {standing.tip_deg:.0f}°. Use a wider stand, weight its feet or hang it lower."
        )
        yield Check("tips", Severity.WARN, "Top-heavy", reason)
    if made.sizing.form.hangs and made.stand_cm:
        ties = sum(use.quantity for use in made.recipe.hard_goods if use.hard_good.startswith(_TIE_SLUG))
        if ties < TIES:
            reason = f"A frame is tied to its stand in at least {TIES} places, the ends trimmed. Add ties."
            yield Check("ties", Severity.WARN, "Not tied enough", reason)
    people = standing.get_people(rules.lift_limit_kg)
    if people > 1:
        reason = (
            f"It weighs about {standing.weight_g / 1000:.1f} kg soaked; one person lifts {rules.lift_limit_kg:g} kg."
        )
        yield Check("lift", Severity.NOTE, f"{people} people lift it", reason)


def _check_lasting(made: Made) -> Iterator[Check]:
    """Water and life against the days the piece has to last once it has left."""
    if made.timeline is None:
        return
    days, water = made.timeline.days, made.water.days
    if water is not None and water < days:
        reason = f"Nobody refills it for {days:.1f} days. Use more foam, fewer or smaller flowers, or arrange a refill."
        yield Check("dry", Severity.WARN, f"Water for {water:.1f} days", reason)
    short = {
        place.material.name: place.material.life_min_days
        for place in made.places
        if place.material.kind is not StemKind.ARTIFICIAL
        and place.material.life_min_days
        and place.material.life_min_days < days
    }
    if short:
        names = ", ".join(f"{name} ({life} days)" for name, life in short.items())
        reason = f"It is to last {days:.1f} days: {names}. Carnations and chrysanthemums last longer."
        yield Check("short-lived", Severity.WARN, "Flowers over too soon", reason)


def get_ribbon_fits(service: Service, catalogue: Catalogue) -> tuple[RibbonFit, ...]:
    """Every ribbon line on its ribbon; none where no ribbon with a width is chosen. Raises UnknownGoods."""
    width = catalogue.get_hard_good(service.ribbon, field="ribbon").ribbon_cm if service.ribbon else None
    if not width:
        return ()
    return tuple(fit_ribbon(line.text, service.ribbon_length_cm, width) for line in service.ribbon_lines)


def _check_service(made: Made, catalogue: Catalogue, rules: HouseRules) -> Iterator[Check]:
    service = made.recipe.brief.service
    if service is None:
        return
    for fit in get_ribbon_fits(service, catalogue):
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
