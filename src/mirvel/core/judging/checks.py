"""All checks, and what they find in a worked recipe."""

from dataclasses import replace

from mirvel.core.judging import (
    colours,
    composition,
    cover,
    kinds,
    lasting,
    meaning,
    mechanics,
    money,
    natures,
    people,
    size,
)
from mirvel.core.judging.check import Check, Declared, Family, Judged, Severity
from mirvel.core.making.build import Build
from mirvel.core.pricing.pricing import Money
from mirvel.core.recipe.accepted import Accepted
from mirvel.core.recipe.taking import Taken

DECLARED: tuple[Declared, ...] = tuple(
    declared
    for family in (
        money.CHECKS,
        size.CHECKS,
        cover.CHECKS,
        mechanics.CHECKS,
        meaning.CHECKS,
        kinds.CHECKS,
        composition.CHECKS,
        colours.CHECKS,
        natures.CHECKS,
        lasting.CHECKS,
        people.CHECKS,
        people.SERVICE_CHECKS,
    )
    for declared in family.declared
)
_GRAVEST_FIRST = list(Severity)


def get_by_family() -> list[tuple[Family, list[Declared]]]:
    """All checks by what they are about, in the order they are looked for."""
    families = dict.fromkeys(declared.family for declared in DECLARED)
    return [(family, [declared for declared in DECLARED if declared.family is family]) for family in families]


def get_checks(build: Build, money: Money, taken: Taken) -> tuple[Check, ...]:
    """All findings, those that are let stand too: stops first, then warnings, then notes. ``taken`` is the recipe's
    goods as they are now, ``build`` what was made of their facts."""
    judged, reasons = Judged(build, money, taken), {each.finding: each for each in build.recipe.accepted}
    found = [check for declared in DECLARED for check in declared.find(judged)]
    told = [
        replace(check, accepted=reason.reason)
        if (reason := reasons.get(check.id)) and _is_counted(reason, check)
        else check
        for check in found
    ]
    return tuple(sorted(told, key=lambda check: _GRAVEST_FIRST.index(check.severity)))


def _is_counted(accepted: Accepted, check: Check) -> bool:
    """Whether a finding is no more than what was let stand."""
    return len(check.pieces) <= accepted.pieces if check.pieces else accepted.told in {"", check.title}
