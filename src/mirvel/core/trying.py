"""Other placings of a piece, tried beforehand: how much of its foam each shows, what is looked through, what it costs
in places that a hand has learnt."""

from collections.abc import Callable
from dataclasses import dataclass

from mirvel.core.changing.moving import place_again
from mirvel.core.judging.check import Check, Severity
from mirvel.core.making.sight import Sight
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.working import Worked

TRIED = 4  # placings at a time
_ELSEWHERE_CM = 1.0  # a tip that moves less stays where it is


@dataclass(frozen=True)
class Trial:
    """A placing: the so-manyth from now (0 as it is), what comes of it, and how many tips it moves."""

    attempts: int
    worked: Worked
    moved: int

    @property
    def foam(self) -> Sight:
        """The side that the largest patch of foam is seen from."""
        return max(self.worked.build.sights, key=lambda sight: sight.patch_cm2, default=Sight("front"))

    @property
    def gaps(self) -> Sight:
        """The side that most of the form is looked through from."""
        return max(self.worked.build.sights, key=lambda sight: sight.gaps, default=Sight("front"))

    @property
    def faults(self) -> tuple[Check, ...]:
        """What is wrong with it, notes left out."""
        return tuple(check for check in self.worked.checks if check.severity is not Severity.NOTE)


def try_again(worked: Worked, work_out: Callable[[Recipe], Worked], entry_id: str = "", first: int = 1) -> list[Trial]:
    """Some placings of all that is not held, or of one entry, those that are better at closing the piece first and none
    twice; ``work_out`` places a recipe again from this one. Raises BadInput."""
    before = {(place.entry.id, place.number): place.tip for place in worked.build.places}
    seen = [list(before.values())]
    found: list[Trial] = []
    for attempts in range(first, first + TRIED):
        trial = work_out(place_again(worked.recipe, entry_id, attempts).recipe)
        tips = [place.tip for place in trial.build.places]
        if tips in seen:
            continue
        seen.append(tips)
        moved = sum(
            (there := before.get((place.entry.id, place.number))) is None
            or there.minus(place.tip).length > _ELSEWHERE_CM
            for place in trial.build.places
        )
        found.append(Trial(attempts, trial, moved))
    found.sort(key=lambda trial: (len(trial.faults), round(trial.foam.foam + trial.gaps.gaps, 3), trial.attempts))
    return found
