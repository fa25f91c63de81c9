"""How well each check finds the fault it is for, and how often it speaks of pieces that are held to be good."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from mirvel.core.judging.check import Judged
from mirvel.core.judging.checks import DECLARED
from mirvel.core.spoiling.fault import STRENGTHS, Fault
from mirvel.core.spoiling.in_briefs import BRIEF_FAULTS
from mirvel.core.spoiling.in_goods import GOODS_FAULTS
from mirvel.core.spoiling.in_money import MONEY_FAULTS
from mirvel.core.spoiling.in_places import PLACE_FAULTS
from mirvel.core.spoiling.in_sizes import SIZE_FAULTS

FAULTS: Mapping[str, Fault] = {
    **PLACE_FAULTS,
    **SIZE_FAULTS,
    **GOODS_FAULTS,
    **MONEY_FAULTS,
    **BRIEF_FAULTS,
}


@dataclass(frozen=True)
class Quality:
    """How one check fares: of how many pieces, at each strength, it finds its own fault; and of how many good pieces it
    says something all the same."""

    check_id: str
    pieces: int
    found: tuple[int, ...]
    good: int
    false_alarms: int


def put_in(judged: Judged, check_id: str, strength: int) -> Judged:
    """A piece with the fault that a check is to find."""
    return FAULTS[check_id].spoil(judged, strength)


def try_faults(judged: Judged, check_ids: Collection[str] = ()) -> dict[str, tuple[bool, ...] | None]:
    """By check, or some of them, whether it finds its fault in a piece at each strength: nothing where that fault
    cannot be put in, None where it speaks before."""
    found: dict[str, tuple[bool, ...] | None] = {}
    for declared in DECLARED:
        if check_ids and declared.id not in check_ids:
            continue
        found[declared.id], fault = (), FAULTS[declared.id]
        if any(declared.find(judged)):
            found[declared.id] = None
        elif fault.suits(judged):
            spoilt = [fault.spoil(judged, strength) for strength in STRENGTHS]
            if declared.speaks_of(spoilt[-1]):
                found[declared.id] = tuple(any(declared.find(each)) for each in spoilt)
    return found


def sum_up(tried: Sequence[Mapping[str, tuple[bool, ...] | None]]) -> tuple[Quality, ...]:
    """What came of several pieces, which are held to be good, check by check."""
    qualities = []
    for check_id in tried[0]:
        found = [each[check_id] for each in tried]
        hits = [each for each in found if each]
        counts = tuple(sum(each[at] for each in hits) for at in range(len(STRENGTHS)))
        qualities.append(Quality(check_id, len(hits), counts, len(found), found.count(None)))
    return tuple(qualities)
