"""What a check is: a small function, declared with what it measures, its limit and where that comes from, that finds
faults in a worked recipe and says where they are."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from enum import StrEnum
from functools import cached_property

from mirvel.core.forms.wishes import Arranged
from mirvel.core.goods.facts import HeadForm
from mirvel.core.house.design import Balance, Grading, Grouping, Levels, SeenFrom
from mirvel.core.house.rules import HouseRules
from mirvel.core.making.build import Build
from mirvel.core.placing.places import Place
from mirvel.core.placing.placing import get_arranged
from mirvel.core.placing.size import Sizing
from mirvel.core.pricing.pricing import Money
from mirvel.core.recipe.recipe import Density, Recipe
from mirvel.core.recipe.taking import Taken
from mirvel.core.values.units import format_length

CLOUDS = frozenset({HeadForm.CLUSTER, HeadForm.SPRAY, HeadForm.PLUME})


class Severity(StrEnum):
    STOP = "stop"
    WARN = "warn"
    NOTE = "note"


class Family(StrEnum):
    """What a check is about."""

    MONEY = "money"
    SIZE = "size"
    COVER = "cover"
    COMPOSITION = "composition"
    MECHANICS = "mechanics"
    TIME = "time"
    PEOPLE = "people"
    SERVICE = "service"


class Source(StrEnum):
    """Where a limit comes from."""

    PRACTICE = "common practice, no published source"
    ASSUMPTION = "assumption"
    HOUSE = "the shop's own rule"
    RECIPE = "what the recipe says"


class School(StrEnum):
    """What has to be wanted of a piece for a check to speak: by the recipe, its form or the house."""

    SPREAD = "flowers spread"
    GROUPED = "flowers grouped"
    VARIED = "levels vary"
    LARGE_LOW = "largest low"
    LARGE_TOP = "largest at the top centre"
    SYMMETRIC = "symmetric"
    FREE = "free balance"
    FULL = "stands full"
    HIDDEN = "foam hidden"


def say_hour(hour: float) -> str:
    """The nearest whole hour of the clock, 1 to 12."""
    return str(round(hour) % 12 or 12)


@dataclass(frozen=True)
class Judged:
    """What is judged: a recipe as it is built, its money, and its goods as they are now."""

    build: Build
    money: Money
    taken: Taken

    @property
    def recipe(self) -> Recipe:
        return self.build.recipe

    @property
    def rules(self) -> HouseRules:
        return self.build.rules

    @property
    def sizing(self) -> Sizing:
        return self.build.sizing

    @cached_property
    def blooms(self) -> tuple[Place, ...]:
        """The flowers that show: no greens, twigs, moss or bows, and nothing inside the glass."""
        return tuple(place for place in self.build.places if place.material.is_bloom and not place.is_inside)

    @cached_property
    def heads(self) -> tuple[Place, ...]:
        """The flowers that have one head: no spikes, and no clouds, which are wide and light to the eye."""
        return tuple(
            place for place in self.blooms if not place.material.is_axial and place.material.form not in CLOUDS
        )

    @cached_property
    def arranged(self) -> Arranged:
        return get_arranged(self.recipe, self.sizing.form, self.rules)

    @property
    def is_round(self) -> bool:
        """Whether its flowers cover one round body that is seen from all sides."""
        form, seen_from = self.sizing.form, {self.recipe.brief.seen_from, self.sizing.form.seen_from}
        is_one = len(self.sizing.surface.lobes) == 1 and not form.covers_frame
        return form.covers and is_one and SeenFrom.FRONT not in seen_from

    @cached_property
    def schools(self) -> frozenset[School]:
        """What is wanted of the piece."""
        arranged, recipe = self.arranged, self.recipe
        wanted = {
            School.SPREAD: arranged.grouping is Grouping.SPREAD,
            School.GROUPED: arranged.grouping is not Grouping.SPREAD,
            School.VARIED: arranged.levels is not Levels.ONE_LEVEL,
            School.LARGE_LOW: arranged.grading is Grading.LARGE_LOW,
            School.LARGE_TOP: arranged.grading is Grading.LARGE_TOP,
            School.SYMMETRIC: arranged.balance is Balance.SYMMETRIC,
            School.FREE: arranged.balance is not Balance.SYMMETRIC,
            School.FULL: recipe.size.density is Density.FULL,
            School.HIDDEN: not recipe.foam_may_show,
        }
        return frozenset(school for school, is_wanted in wanted.items() if is_wanted)

    def say(self, length_cm: float) -> str:
        """A length in the shop's unit."""
        return format_length(length_cm, self.rules.unit)


@dataclass(frozen=True)
class Found:
    """One fault as it was found: what, why or what to do, the entry (or good) it is about where there can be several,
    the pieces it is seen at, and how grave it is, where that is not as declared."""

    title: str
    reason: str
    about: str = ""
    places: tuple[Place, ...] = ()
    severity: Severity | None = None


@dataclass(frozen=True)
class Check:
    """One finding: what, how grave, why or what to do, the pieces it is seen at, as "e1.3", why it is let stand, where
    it is, which check found it, and the entry or good it is about, where there can be several."""

    id: str
    severity: Severity
    title: str
    reason: str
    family: Family
    pieces: tuple[str, ...] = ()
    accepted: str = ""
    kind: str = ""
    about: str = ""

    @property
    def may_be_placed_again(self) -> bool:
        """Whether another placing may be without it."""
        return self.family in {Family.COVER, Family.COMPOSITION} and not self.id.startswith(("thin", "crowded", "held"))


Look = Callable[[Judged], Iterator[Found]]


@dataclass(frozen=True)
class Declared:
    """One check: what it looks for, what it measures, against what limit and where that comes from, and what has to be
    wanted of a piece for it to speak."""

    id: str
    family: Family
    severity: Severity
    measures: str
    limit: str
    source: Source
    schools: tuple[School, ...]
    look: Look

    @property
    def looks_for(self) -> str:
        """In words, as its function has them."""
        return (self.look.__doc__ or "").strip()

    def speaks_of(self, judged: Judged) -> bool:
        """Whether what has to be wanted of a piece for it to speak is wanted."""
        return judged.schools.issuperset(self.schools)

    def find(self, judged: Judged) -> Iterator[Check]:
        """What it finds in a recipe; nothing where its schools are not those in force."""
        for found in self.look(judged) if self.speaks_of(judged) else ():
            yield Check(
                f"{self.id}-{found.about}" if found.about else self.id,
                found.severity or self.severity,
                found.title,
                found.reason,
                self.family,
                tuple(f"{place.entry.id}.{place.number}" for place in found.places),
                kind=self.id,
                about=found.about,
            )


@dataclass(frozen=True)
class Checks:
    """The checks of one family, in the order they are looked for."""

    family: Family
    declared: list[Declared] = field(default_factory=list)

    def add(
        self,
        check_id: str,
        severity: Severity,
        *,
        measures: str,
        limit: str,
        source: Source,
        schools: tuple[School, ...] = (),
    ) -> Callable[[Look], Look]:
        """Declare a function as a check."""

        def declare(look: Look) -> Look:
            self.declared.append(Declared(check_id, self.family, severity, measures, limit, source, schools, look))
            return look

        return declare
