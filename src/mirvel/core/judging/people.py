"""Checks of people and services: what the brief rules out, ribbons, and what the venue has not confirmed."""

import re
from collections.abc import Iterator

from mirvel.core.goods.material import STRONG_SCENT
from mirvel.core.judging.cautions import Risk, read_risk
from mirvel.core.judging.check import Checks, Family, Found, Judged, Severity, Source
from mirvel.core.making.ribbon import get_ribbon_fits
from mirvel.core.placing.places import Place
from mirvel.core.recipe.fit_wishes import Exclusion

CHECKS = Checks(Family.PEOPLE)
SERVICE_CHECKS = Checks(Family.SERVICE)
_NONE_OF = re.compile(r"\b(?:no|without|never|not any)(?: strong| heavy)? ([^\W\d_]+)")
_OF_GOODS = {Exclusion.CHILDREN: Risk.CHOKING, Exclusion.ALLERGENS: Risk.ALLERGY}  # what their own cautions tell


@CHECKS.add("excluded", Severity.WARN, measures="what the brief rules out", limit="none of it", source=Source.RECIPE)
def find_excluded(judged: Judged) -> Iterator[Found]:
    """Flowers with scent, with pollen or harmful to pets or children, small parts, latex or nuts, where the brief rules
    that out."""
    brief = judged.recipe.brief
    for wish in brief.exclude:
        places = tuple(place for place in judged.build.places if wish.is_true_of(place.material))
        risk = _OF_GOODS.get(wish)
        goods = [good.name for good in judged.taken.hard_goods if good.caution and read_risk(good.caution) is risk]
        if places or goods:
            names = ", ".join(dict.fromkeys([*(place.material.name for place in places), *goods]))
            reason = f"The brief rules it out, and it is true of {names}. Use others, or ask again what was meant."
            yield Found(f"{wish.value.capitalize()}", reason, wish.name.lower(), places)


@SERVICE_CHECKS.add(
    "asked-against",
    Severity.WARN,
    measures="what is in the piece of what faith, colours, wishes and notes say there is to be none of",
    limit="none of it",
    source=Source.RECIPE,
)
def find_asked_against(judged: Judged) -> Iterator[Found]:
    """What a family, a faith or a venue wants none of, in the words they were noted in: no lilies, no glass, no red."""
    service = judged.recipe.brief.service
    if service is None:
        return
    noted = (service.faith, service.colours, service.wishes, *(note.text for note in service.venue))
    told = {found[1]: found[0] for text in noted for found in _NONE_OF.finditer(text.lower())}
    for unwanted, words in told.items():
        meant = _get_forms(unwanted)
        places = tuple(each for each in judged.build.places if meant & _get_words(each))
        things = [judged.taken.container.name] if "glass" in meant and judged.taken.container.clear else []
        things += [good.name for good in judged.taken.hard_goods if meant & _split(good.name)]
        if places or things:
            names = ", ".join(
                dict.fromkeys([*(f"{each.material.name}, {each.entry.colour}" for each in places), *things])
            )
            reason = f"The brief says “{words}”, and there is {names}. Use others, or ask again what was meant."
            about = "".join(letter if letter.isascii() else "-" for letter in unwanted)  # findings are let stand by id
            yield Found(f"Not wanted: {unwanted}", reason, about, places)


def _get_forms(word: str) -> set[str]:
    """A thing's name, and as it may be of one: lilies and lily, roses and rose, irises and iris are alike."""
    found = {word, *(word.removesuffix(end) for end in ("s", "es") if not word.endswith("ss"))}
    return found | {f"{word[:-3]}y"} if word.endswith("ies") else found


def _split(name: str) -> set[str]:
    return {form for word in re.findall(r"[^\W\d_]+", name.lower()) for form in _get_forms(word)}


def _get_words(place: Place) -> set[str]:
    """What a piece may be called in a note: its material's and colour's words, and what it has."""
    material = place.material
    facts = {"scent": material.scent >= STRONG_SCENT, "pollen": material.pollen, "thorn": "thorns" in material.hazards}
    return {*_split(f"{material.name} {place.entry.colour}"), *(word for word, has in facts.items() if has)}


@SERVICE_CHECKS.add(
    "ribbon",
    Severity.STOP,
    measures="length of the text on its ribbon",
    limit="the ribbon's room",
    source=Source.RECIPE,
)
def find_long_ribbon_text(judged: Judged) -> Iterator[Found]:
    """Text that does not fit its ribbon."""
    if judged.recipe.brief.service is None:
        return
    for fit in get_ribbon_fits(judged.taken):
        if not fit.fits:
            over = judged.say(fit.length_cm - fit.room_cm)
            reason = f"“{fit.text}” is {over} too long. Use a longer or narrower ribbon, or part it in two lines."
            yield Found("Ribbon text does not fit", reason)


@SERVICE_CHECKS.add(
    "read-back", Severity.WARN, measures="lines read back to the family", limit="all", source=Source.PRACTICE
)
def find_unread_ribbon(judged: Judged) -> Iterator[Found]:
    """Names on a ribbon that nobody has read back."""
    service = judged.recipe.brief.service
    unread = [line.text for line in service.ribbon_lines if not line.read_back] if service else []
    if unread:
        reason = "Read it to the family letter by letter, then tick it: " + "; ".join(f"“{text}”" for text in unread)
        yield Found("Ribbon not read back", f"{reason}.")


@SERVICE_CHECKS.add(
    "no-ribbon", Severity.NOTE, measures="the ribbon that lines are for", limit="chosen", source=Source.RECIPE
)
def find_no_ribbon(judged: Judged) -> Iterator[Found]:
    """Text for a ribbon that is not chosen yet."""
    service = judged.recipe.brief.service
    if service and service.ribbon_lines and service.ribbon is None:
        yield Found("No ribbon chosen", "Choose the ribbon, so that its text can be measured.")


@SERVICE_CHECKS.add(
    "venue", Severity.NOTE, measures="notes for the venue", limit="all confirmed", source=Source.PRACTICE
)
def find_unconfirmed(judged: Judged) -> Iterator[Found]:
    """What the venue or the funeral director has still to confirm."""
    service = judged.recipe.brief.service
    waiting = [note.text for note in service.venue if not note.confirmed] if service else []
    if waiting:
        reason = f"Ask the venue or the funeral director: {'; '.join(waiting)}. Their rules come first."
        yield Found("Venue has still to confirm", reason)
