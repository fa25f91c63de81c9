"""One finding about a worked recipe, and how grave it is."""

from dataclasses import dataclass
from enum import StrEnum


class Severity(StrEnum):
    STOP = "stop"
    WARN = "warn"
    NOTE = "note"


@dataclass(frozen=True)
class Check:
    """One finding: what, how grave, and why or what to do."""

    id: str
    severity: Severity
    title: str
    reason: str
