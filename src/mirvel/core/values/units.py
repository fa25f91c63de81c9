"""Lengths in centimetres and in inches with quarters.

Everything is stored and computed in cm; here it becomes, and comes from, a length as a person reads it (drawings letter
their own rulers). 1 inch is 2.54 cm exactly (source: international-yard).
"""

import math
import re
from enum import StrEnum

from mirvel.core.values.problems import BadInput, Problem

CM_PER_INCH = 2.54
LONGEST_STEP_CM = CM_PER_INCH / 4  # of the steps cuts are rounded to, in whatever unit
_ROUNDING_SLACK = 1e-9  # a length that is a whole step but for floating point is not rounded up to the next
_QUARTERS = {0: "", 1: "¼", 2: "½", 3: "¾"}
_FRACTIONS = {"¼": 0.25, "½": 0.5, "¾": 0.75}
_LENGTH = re.compile(
    r"^\s*(?P<whole>\d+(?:[.,]\d+)?)?\s*(?:(?P<sign>[¼½¾])|(?P<top>[123])/(?P<bottom>[24]))?\s*"
    r"(?P<unit>cm|in|inch|inches|\")?\s*$",
    re.ASCII,
)


class LengthUnit(StrEnum):
    """What lengths are shown and typed in."""

    CM = "cm"
    INCH = "in"


def get_step_cm(unit: LengthUnit) -> float:
    """The step a cut is rounded up to: half a centimetre, or a quarter inch."""
    return 0.5 if unit is LengthUnit.CM else CM_PER_INCH / 4


def round_up_to_step(length_cm: float, step_cm: float) -> float:
    """The first whole step at or above a length: ``0 <= result - length < step`` (long can be cut again)."""
    return math.ceil(length_cm / step_cm - _ROUNDING_SLACK) * step_cm


def round_down_to_step(length_cm: float, step_cm: float) -> float:
    """The last whole step at or below a length."""
    return math.floor(length_cm / step_cm + _ROUNDING_SLACK) * step_cm


def format_length(length_cm: float, unit: LengthUnit, *, with_unit: bool = True) -> str:
    """A length as a florist reads it: "38.5 cm", or "15¼ in" to the nearest quarter.

    >>> format_length(38.5, LengthUnit.CM), format_length(38.735, LengthUnit.INCH)
    ('38.5 cm', '15¼ in')
    """
    if unit is LengthUnit.CM:
        number = f"{abs(length_cm):.1f}".removesuffix(".0")
    else:
        whole, rest = divmod(round(abs(length_cm) / CM_PER_INCH * 4), 4)
        number = (str(whole) if whole or not rest else "") + _QUARTERS[rest]
    number = f"−{number}" if length_cm < 0 and number != "0" else number
    return f"{number} {unit.value}" if with_unit else number


def format_area(area_cm2: float, unit: LengthUnit) -> str:
    """An area as a person reads it, to the whole square: "72 cm²", or "11 in²"."""
    return f"{area_cm2 / (1.0 if unit is LengthUnit.CM else CM_PER_INCH**2):.0f} {unit.value}²"


def retell(text: str, unit: LengthUnit) -> str:
    """A text with its lengths and areas, told in cm, as a person reads them in a unit.

    >>> retell("one in eight by 2 cm; any patch over 45 cm²", LengthUnit.INCH)
    'one in eight by ¾ in; any patch over 7 in²'
    """

    def tell(found: re.Match[str]) -> str:
        return (format_area if found[2] else format_length)(float(found[1]), unit)

    return text if unit is LengthUnit.CM else re.sub(r"(\d+(?:\.\d+)?) cm(²?)", tell, text)


def parse_length_cm(text: str, unit: LengthUnit, *, field: str) -> float:
    """Read "38.5", "38,5 cm", "15¼ in" or "15 1/4" into cm; a bare number is in ``unit``.

    Raises BadInput naming ``field`` when the text is no length.

    >>> parse_length_cm("15 1/4 in", LengthUnit.CM, field="height")
    38.735
    """
    found = _LENGTH.match(text)
    if not found or not (found["whole"] or found["sign"] or found["top"]):
        raise BadInput(Problem(field, f"“{text}” is not a length.", "Type one such as 38.5 cm or 15¼ in."))
    value = float((found["whole"] or "0").replace(",", "."))
    value += _FRACTIONS.get(found["sign"] or "", 0.0)
    if found["top"]:
        value += int(found["top"]) / int(found["bottom"])
    in_inches = (found["unit"] or unit.value) != "cm"
    return round(value * CM_PER_INCH, 6) if in_inches else value
