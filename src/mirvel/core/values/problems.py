"""What may be wrong with what somebody typed, as records that name the field and the mend.

Wrong data is not an exception in the core's results, yet callers need one thing to raise where they cannot
go on: ``BadInput`` carries every problem found, so that all are shown at once.
"""

from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError


class MirvelError(Exception):
    """The family of errors that are shown to a person as they are."""


@dataclass(frozen=True)
class Problem:
    """One thing wrong: where it stands, what is wrong with it, and how to mend it."""

    field: str
    message: str
    mend: str

    def __str__(self) -> str:
        return f"{self.field}: {self.message} {self.mend}".strip()


class BadInput(MirvelError):
    """Input that cannot be used; ``problems`` holds every reason."""

    def __init__(self, *problems: Problem) -> None:
        self.problems = problems
        super().__init__("; ".join(str(problem) for problem in problems))

    def __reduce__(self) -> tuple[Any, ...]:
        """As it is sent from one process to another: whole, with every problem."""
        return _raise_again, (type(self), self.problems)


def _raise_again(kind: type[BadInput], problems: tuple[Problem, ...]) -> BadInput:
    error = kind.__new__(kind)
    BadInput.__init__(error, *problems)
    return error


class UnknownGoods(BadInput):
    """A recipe names a material, colour, container or hard good that the catalogue at hand does not have."""


_SHOWN = 40
_MENDS = {
    "missing": ("is missing.", "Add it."),
    "extra_forbidden": ("is no field here.", "Remove it, or check how it is spelled."),
    "int_parsing": ("is not a whole number ({input}).", "Type a whole number such as 5."),
    "int_from_float": ("is not a whole number ({input}).", "Type a whole number such as 5."),
    "int_type": ("is not a whole number ({input}).", "Type a whole number such as 5."),
    "float_parsing": ("is not a number ({input}).", "Type a number such as 12.5."),
    "decimal_parsing": ("is not an amount ({input}).", "Type an amount such as 42 or 42.50."),
    "greater_than_equal": ("is too small ({input}).", "Type {ge} or more."),
    "less_than_equal": ("is too large ({input}).", "Type {le} or less."),
    "greater_than": ("is too small ({input}).", "Type more than {gt}."),
    "less_than": ("is too large ({input}).", "Type less than {lt}."),
    "enum": ("is “{input}”, which Mirvel does not know.", "Choose {expected}."),
    "literal_error": ("is “{input}”, which Mirvel does not know.", "Choose {expected}."),
    "string_pattern_mismatch": ("holds characters it cannot have (“{input}”).", "Use plain letters, digits and signs."),
    "datetime_parsing": ("is not a time ({input}).", "Type it as 2026-12-04T11:00."),
    "datetime_from_date_parsing": ("is not a time ({input}).", "Type it as 2026-12-04T11:00."),
    "timezone_naive": ("has a time zone ({input}).", "Type the shop’s own time, without a zone."),
    "decimal_max_digits": ("has too many digits.", "Use {max_digits} digits at most."),
    "decimal_max_places": ("has too many decimal places.", "Use {decimal_places} at most."),
    "decimal_whole_digits": ("is too large.", "Use {whole_digits} digits before the point at most."),
    "finite_number": ("is not a number ({input}).", "Type a number such as 12.5."),
    "string_unicode": ("holds characters that are none.", "Type it again."),
    "string_type": ("is not a text ({input}).", "Type a text."),
    "too_long": ("has too many.", "Keep {max_length} at most."),
    "too_short": ("has too few.", "Give {min_length} at least."),
    "string_too_short": ("is empty.", "Type something."),
    "string_too_long": ("is too long.", "Use at most {max_length} characters."),
}

# The limits of a time, which come as text of which the first ten letters are the day.
_MENDS_OF_TIMES = {
    "greater_than_equal": ("is too early ({input}).", "Choose {ge:.10} or later."),
    "less_than_equal": ("is too late ({input}).", "Choose {le:.10} or earlier."),
}


def get_problems(error: ValidationError) -> tuple[Problem, ...]:
    """Turn pydantic's findings into problems a florist can act on, in the order they were found."""
    return tuple(_get_problem(dict(details)) for details in error.errors(include_url=False))


def _get_problem(details: dict[str, Any]) -> Problem:
    field = get_field_name(details["loc"])
    if details["type"] == "value_error":  # one of our own, which says its mend
        return Problem(field, str(details["ctx"]["error"]), "")
    if details["type"] not in _MENDS:
        return Problem(field, "cannot be used as it is.", f"{details['msg']}.")
    facts = {"input": _shorten(details.get("input")), **details.get("ctx", {})}
    is_time = any(isinstance(facts.get(limit), str) for limit in ("ge", "le"))
    said, mend = {**_MENDS, **(_MENDS_OF_TIMES if is_time else {})}[details["type"]]
    return Problem(field, said.format(**facts), mend.format(**facts))


def _shorten(value: object) -> str:
    """What was given, as far as it is worth showing."""
    text = str(value)
    return text if len(text) <= _SHOWN else f"{text[:_SHOWN]}…"


def get_field_name(location: tuple[int | str, ...]) -> str:
    """A place inside a document in words: ``("entries", 2, "pieces")`` is "entry 3, pieces".

    >>> get_field_name(("entries", 2, "pieces"))
    'entry 3, pieces'
    """
    words: list[str] = []
    singular = {
        "entries": "entry",
        "hard_goods": "hard good",
        "materials": "material",
        "containers": "container",
    }
    for part in location:
        if isinstance(part, int) and words:
            words[-1] = f"{singular.get(words[-1], words[-1])} {part + 1}"
        else:
            words.append(str(part))
    return ", ".join(word.replace("_", " ") for word in words) or "the document"
