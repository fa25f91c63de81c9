"""Stems coming in: counts as they are said at the door, and what a bucket's label tells."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal

from mirvel.core.goods.facts import Advice
from mirvel.core.goods.hazards import HAZARDS
from mirvel.core.goods.material import Material
from mirvel.core.values.problems import BadInput, Problem

MOST_STEMS = 100_000
REASONS = ("broken", "wilted", "too open", "botrytis", "yellow leaves", "wrong colour", "too short", "not delivered")


@dataclass(frozen=True)
class CameIn:
    """Stems that came in on a day: how many, how many of them were rejected and why, what one was bought at with
    freight, and the dump reckoned with then."""

    on_day: date
    supplier: str
    slug: str
    colour: str
    received: int
    rejected: int
    reason: str
    paid: Decimal
    dump: Decimal


def read_stems(text: str, bunch_stems: int, field: str = "stems") -> int:
    """A count as typed: stems, or bunches of the material's usual size. Raises BadInput.

    >>> read_stems("4 bunches", 25), read_stems("60", 25)
    (100, 60)
    """
    found = re.fullmatch(r"(\d{1,6})\s*(b|bu|bunch|bunches|stems?|st)?\.?", text.strip().lower(), re.ASCII)
    if not found:
        raise BadInput(Problem(field, f"“{text[:20]}” is not a count.", "Type stems as 50, or bunches as 2 b."))
    count = int(found[1]) * (bunch_stems if (found[2] or "").startswith("b") else 1)
    if count > MOST_STEMS:
        raise BadInput(Problem(field, f"{count:,} is too many.", f"Type {MOST_STEMS:,} stems at most."))
    return count


def check_counts(received: int, rejected: int) -> None:
    """Raises BadInput where so many stems cannot have come in, or of them been rejected."""
    if not 0 <= received <= MOST_STEMS:
        raise BadInput(Problem("stems", f"{received} cannot have come in.", f"Type 0 to {MOST_STEMS:,}."))
    if not 0 <= rejected <= received:
        mend = "Reject as many as came, at most."
        raise BadInput(Problem("rejected", f"{rejected} of {received} stems cannot be.", mend))


def get_shared_advice(materials: Sequence[Material]) -> tuple[Advice, ...]:
    """Advice that holds for everything that came in, so that it need be read once; none for a single material."""
    told = [material.conditioning for material in materials if material.conditioning]
    if len(told) < 2:
        return ()
    return tuple(advice for advice in told[0] if all(advice in other for other in told[1:]))


@dataclass(frozen=True)
class Label:
    """What stands on one bucket: what is in it, since when, when it may be used, and until when."""

    name: str
    botanical_name: str
    colour: str
    colour_code: str
    stems: int
    came_in: date
    ready_after_hours: int
    use_by: date | None
    care: tuple[Advice, ...]
    cautions: tuple[str, ...]


def get_label(material: Material, colour: str, stems: int, came_in: date) -> Label:
    """The label of a bucket; use-by is the day of arrival and the shortest life."""
    days = material.life_min_days
    return Label(
        name=material.name,
        botanical_name=material.botanical_name,
        colour=colour,
        colour_code=material.colours.get(colour, "#ffffff"),
        stems=stems,
        came_in=came_in,
        ready_after_hours=material.condition_hours,
        use_by=None if days is None else came_in + timedelta(days=days),
        care=material.conditioning[1:6] or material.conditioning[:1],
        cautions=tuple(HAZARDS.get(hazard, hazard) for hazard in material.hazards),
    )
