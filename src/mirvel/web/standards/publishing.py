"""What is typed to publish: who, from the shop's short list until people have accounts, why, and how far two hands'
pieces may be apart."""

from collections.abc import Iterable
from dataclasses import dataclass

from mirvel.core.house.rules import HouseRules
from mirvel.core.judging.check import Check
from mirvel.core.publishing import Tolerances, read_tolerances
from mirvel.core.values.problems import BadInput, Problem
from mirvel.web.requests import Typed

MOST_WORDS = 400
_MOST_NAME = 60


@dataclass(frozen=True)
class Publishing:
    """Who publishes, why, and the tolerances."""

    by: str
    why: str
    within: Tolerances


def read_who(typed: Typed, rules: HouseRules) -> tuple[str, str]:
    """The name and the reason. Raises BadInput with all that is wrong."""
    by, why = typed.get("by", "").strip(), typed.get("why", "").strip()
    problems = []
    if rules.people and by not in rules.people:
        said = f"“{by[:_MOST_NAME]}” is not one of the shop’s people." if by else "is missing."
        problems.append(Problem("who", said, "Choose one of the list; the house rules hold it."))
    elif not by or len(by) > _MOST_NAME or not by.isprintable():
        problems.append(Problem("who", "is missing, or no name.", f"Type your name, {_MOST_NAME} letters at most."))
    if not why:
        problems.append(Problem("why", "is missing.", "Say in a few words what changed, or what for."))
    elif len(why) > MOST_WORDS or not all(word.isprintable() for word in why.split()):
        mend = f"Keep it under {MOST_WORDS} letters."
        problems.append(Problem("why", "is too long, or holds what cannot be printed.", mend))
    if problems:
        raise BadInput(*problems)
    return by, why


def read_publishing(typed: Typed, rules: HouseRules, blocking: Iterable[tuple[str, tuple[Check, ...]]]) -> Publishing:
    """What was typed, for drafts by name with what keeps each from being published. Raises BadInput with all that is
    wrong."""
    mend = "Put it right on its Table, or let it stand there with a reason."
    problems = [
        Problem(name, f"cannot be published: {check.title}.", mend) for name, checks in blocking for check in checks
    ]
    by, why, within = "", "", Tolerances()
    try:
        by, why = read_who(typed, rules)
    except BadInput as error:
        problems += error.problems
    try:
        within = read_tolerances(typed, rules.unit)
    except BadInput as error:
        problems += error.problems
    if problems:
        raise BadInput(*problems)
    return Publishing(by, why, within)
