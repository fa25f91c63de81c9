"""Checks of colour: how many families of hue stand together, and what they make."""

from collections.abc import Iterator

from mirvel.core.goods.hues import Scheme, get_hue, get_scheme
from mirvel.core.judging.check import Checks, Family, Found, Judged, Severity, Source
from mirvel.core.making.build import Build

CHECKS = Checks(Family.COMPOSITION)


def find_scheme(build: Build) -> tuple[Scheme, tuple[str, ...]]:
    """What the colours of a piece's flowers make together, and the families of hue there are."""
    blooms = (place for place in build.places if place.material.is_bloom)
    colours = list(dict.fromkeys(place.material.colours[place.entry.colour] for place in blooms))
    hues = dict.fromkeys(hue.value for colour in colours if (hue := get_hue(colour)))
    return get_scheme(colours), tuple(hues)


@CHECKS.add(
    "hues",
    Severity.NOTE,
    measures="families of hue among its flowers, whites apart",
    limit="the shop's most, where it minds",
    source=Source.HOUSE,
)
def find_too_many_hues(judged: Judged) -> Iterator[Found]:
    """More families of hue in one piece than the shop wants."""
    most = judged.rules.most_hues
    scheme, hues = find_scheme(judged.build)
    if most is not None and len(hues) > most:
        reason = f"{', '.join(hues)}: {scheme.value}. The shop wants {most} at most; take one out or change a colour."
        yield Found(f"{len(hues)} families of hue", reason)
