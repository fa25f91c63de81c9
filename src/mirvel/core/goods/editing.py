"""Changing a good from what was typed: every field goes through the good's own validation, whole or not at all."""

import re
from collections.abc import Mapping
from typing import Any, TypeVar, cast

from pydantic import ValidationError

from mirvel.core.goods.assembly import Assembly
from mirvel.core.goods.container import Container
from mirvel.core.goods.facts import Advice
from mirvel.core.goods.hard_good import HardGood
from mirvel.core.goods.material import Material
from mirvel.core.values.problems import BadInput, Problem, get_problems

AnyGood = TypeVar("AnyGood", bound=Material | Container | HardGood | Assembly)
Coloured = TypeVar("Coloured", bound=Material | Assembly)
_LISTS = {"other_roles", "hazards", "substitutes", "usual_mechanics"}
_OPTIONAL = {"opens_in_days", "life_min_days", "life_max_days", "heads_min", "heads_max", "longest_stem_cm"} | {
    "forced_days",
    "drinks_ml",
    "out_of_water_hours",
    "mouth_across_cm",
    "bar_cm",
    "belly_cm",
    "ribbon_cm",
    "foam_ml",
    "stand_cm",
    "loop_m",
    "same_as",
}
_FLAGS = {"delicate", "pollen", "clear", "needs_liner", "foam_included", "is_tie"}
_MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")


def set_facts(good: AnyGood, typed: Mapping[str, str]) -> AnyGood:
    """The good with fields replaced by what was typed. Raises BadInput."""
    changed = {field: read_fact(field, text) for field, text in typed.items()}
    return cast(AnyGood, good.change(**changed))


def set_colour(good: Coloured, colour: str, code: str) -> Coloured:
    """The good in one more colour, or in another shade of one it has. Raises BadInput."""
    if not colour.strip():
        raise BadInput(Problem("colour", "has no name.", "Type a name such as apricot."))
    return cast(Coloured, good.change(**{"colours": {**good.colours, colour.strip()[:40]: code.strip().lower()}}))


def drop_colour(good: Coloured, colour: str) -> Coloured:
    """The good in one colour fewer; the last stays. Raises BadInput."""
    left = {name: code for name, code in good.colours.items() if name != colour}
    if not left:
        raise BadInput(Problem("colour", f"{colour} is the only one.", "Add another first, or retire it altogether."))
    return cast(Coloured, good.change(**{"colours": left}))


def make(kind: type[AnyGood], typed: Mapping[str, object]) -> AnyGood:
    """A new good from what was typed. Raises BadInput."""
    fields = {name: read_fact(name, text) if isinstance(text, str) else text for name, text in typed.items() if text}
    try:
        return cast(AnyGood, kind.model_validate(fields))
    except ValidationError as error:
        raise BadInput(*get_problems(error)) from None


def get_slug(name: str) -> str:
    """A good's name as its slug.

    >>> get_slug("Rose, “Coral”, 50 cm")
    'rose-coral-50-cm'
    """
    return "-".join(re.findall(r"[a-z0-9]+", name.lower()))[:60].strip("-")


def read_fact(field: str, text: str) -> Any:
    """What was typed for a field, as its validation takes it. Raises BadInput for months and advice it cannot read."""
    text = text.strip()
    if field in _LISTS:
        return tuple(part.strip() for part in re.split(r"[;,]", text) if part.strip())
    if field in _FLAGS:
        return text in {"yes", "on", "true"}
    if field == "season":
        return _read_months(text)
    if field == "conditioning":
        return _read_advice(text)
    if field in _OPTIONAL:
        return text.replace(",", ".") or None
    return text.replace(",", ".") if re.fullmatch(r"-?\d+,\d+", text) else text


def _read_months(text: str) -> tuple[int, ...]:
    """Months as "5-7", "11-2", "Nov-Feb, Jun" or "all year"."""
    if text.lower() in {"", "all year", "all"}:
        return tuple(range(1, 13))
    found: set[int] = set()
    for part in re.split(r"[;,]", text):
        ends = [_read_month(each) for each in re.split(r"\s*[-–]\s*", part.strip())]
        if len(ends) > 2:
            raise BadInput(Problem("season", f"“{part.strip()}” is not a span.", "Type it as 5-7 or Nov-Feb."))
        first, last = ends[0], ends[-1]
        found |= {(first - 1 + step) % 12 + 1 for step in range((last - first) % 12 + 1)}
    return tuple(sorted(found))


def _read_month(text: str) -> int:
    word = text.strip().lower()
    if word.isdecimal() and 1 <= int(word) <= 12:
        return int(word)
    if word[:3] in _MONTHS:
        return _MONTHS.index(word[:3]) + 1
    raise BadInput(Problem("season", f"“{text}” is not a month.", "Type months as 5-7, Nov-Feb or all year."))


def format_months(months: tuple[int, ...]) -> str:
    """Months as they are typed, spans joined, the new year too.

    >>> format_months((1, 2, 11, 12)), format_months((5, 6, 7)), format_months(tuple(range(1, 13)))
    ('Nov-Feb', 'May-Jul', 'all year')
    """
    if len(months) == 12:
        return "all year"
    spans = []
    for start in (month for month in months if (month - 2) % 12 + 1 not in months):
        end = start
        while end % 12 + 1 in months:
            end = end % 12 + 1
        first, last = _MONTHS[start - 1].capitalize(), _MONTHS[end - 1].capitalize()
        spans.append(first if start == end else f"{first}-{last}")
    return ", ".join(spans)


def _read_advice(text: str) -> tuple[dict[str, str], ...]:
    """One piece of advice a line; a school in square brackets before it where it is one school's."""
    found = []
    for line in text.splitlines():
        school, closed, advice = "", "]", line.strip()
        if advice.startswith("["):
            school, closed, advice = advice[1:].partition("]")
        if not closed:
            mend = "Close the bracket after the school’s name."
            raise BadInput(Problem("conditioning", f"“{line.strip()[:30]}” has no closing bracket.", mend))
        if advice.strip():
            found.append({"school": school.strip(), "text": advice.strip()})
    return tuple(found)


def format_advice(conditioning: tuple[Advice, ...]) -> str:
    """Advice as it is typed, one a line."""
    return "\n".join(f"[{each.school}] {each.text}" if each.school else each.text for each in conditioning)
