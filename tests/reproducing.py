"""A piece that somebody made again from its making pages alone, held against the standard. What cannot be found out
from the page is a fault of the page."""

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import zip_longest

from mirvel.core.card.making import get_makings
from mirvel.core.making.cuts import Cut
from mirvel.core.working import Worked
from mirvel.demo import get_catalogue
from tests.remaking import SIZE_CM, STEP_CM, make_again
from tests.told import Piece, Told

NEAR_CM = 2.0  # how near each piece has to stand to its place
_EXACT_CM = 0.01
Pair = tuple[Piece, Cut, Cut]  # a piece as it is told, made again, and in the standard


@dataclass(frozen=True)
class Reproduced:
    """A piece made again beside the standard: ``wrong`` is what is told otherwise than it is; how far each cut of the
    piece made again is off the standard's, and each of its pieces from where it stands there, cm; how far height and
    width are off."""

    wrong: tuple[str, ...]
    cuts_cm: tuple[float, ...]
    places_cm: tuple[float, ...]
    height_cm: float
    width_cm: float


def reproduce(told: Told, worked: Worked) -> Reproduced:
    """Make a piece of the demo again from what is told, and measure it against the standard."""
    standard, made = worked.build, make_again(told, get_catalogue(), worked.rules)
    wrong, pairs = list[str](), list[Pair]()
    for step, (pieces, making) in enumerate(zip_longest(told.steps, get_makings(worked))):
        own = {piece.number: piece.cut for piece in making.pieces} if making else {}
        read = pieces or {}
        wrong += [f"{number} of step {step + 1} is told or is there alone" for number in read.keys() ^ own.keys()]
        pairs += [(read[each], made.cuts[step, each], cut) for each, cut in own.items() if each in read]
    sizes = ("tall", told.height_cm, standard.overall_height_cm), ("wide", told.width_cm, standard.extent.width_cm)
    wrong += [f"{read:.1f} cm {way} is told for {own:.1f}" for way, read, own in sizes if abs(read - own) > STEP_CM]
    wrong += [words for read, _, cut in pairs for words in _find_told_wrong(read, cut)]
    held = [(again, cut) for _, again, cut in pairs if not cut.place.is_inside]
    return Reproduced(
        tuple(wrong),
        tuple(abs(again.cut_cm - cut.cut_cm) for again, cut in held if not cut.place.material.uncut),
        tuple(again.place.tip.minus(cut.place.tip).length for again, cut in held),
        made.build.overall_height_cm - standard.overall_height_cm,
        made.build.extent.width_cm - standard.extent.width_cm,
    )


def _find_told_wrong(read: Piece, cut: Cut) -> Iterator[str]:
    """What is told of a piece otherwise than it is."""
    place = cut.place
    name = f"{place.material.name}, {place.entry.colour}"
    if read.material != name:
        yield f"{read.material} is told for {name}"
    if place.material.pieces_per_stem > 1 and read.part != place.entry.piece:
        yield f"{read.part} is told of {name} for {place.entry.piece}"
    if not place.material.uncut and abs((read.cut_cm or 0.0) - cut.cut_cm) > _EXACT_CM:
        yield f"{read.cut_cm} cm is told of {name} for {cut.cut_cm}"


def find_wrong(told: Told, worked: Worked) -> list[str]:
    """What is wrong with a piece of the demo that is made again from what its making pages tell."""
    made = reproduce(told, worked)
    wrong = [*made.wrong]
    off = [each for each in made.cuts_cm if each > STEP_CM]
    wrong += [f"{len(off)} of {len(made.cuts_cm)} cuts, by {max(off):.1f} cm"] if off else []
    far = [each for each in made.places_cm if each > NEAR_CM]
    wrong += [f"{len(far)} of {len(made.places_cm)} places, by {max(far):.1f} cm"] if far else []
    wrong += [f"height by {made.height_cm:+.1f} cm"] if abs(made.height_cm) > SIZE_CM else []
    wrong += [f"width by {made.width_cm:+.1f} cm"] if abs(made.width_cm) > SIZE_CM else []
    return wrong
