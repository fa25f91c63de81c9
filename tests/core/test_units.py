"""Lengths in cm and inches against a reference library, and the step every cut is rounded up to."""

import pint
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mirvel.core.values.problems import BadInput
from mirvel.core.values.units import LengthUnit, format_length, get_step_cm, parse_length_cm, round_up_to_step

INCH_CM: float = pint.UnitRegistry()("inch").to("cm").magnitude


@given(quarters=st.integers(0, 800))
def test_quarter_inches_there_and_back(quarters: int) -> None:
    """Reference library: pint."""
    length_cm = quarters / 4 * INCH_CM
    shown = format_length(length_cm, LengthUnit.INCH)
    assert parse_length_cm(shown, LengthUnit.CM, field="cut") == pytest.approx(length_cm, abs=1e-5)


@given(length=st.floats(0, 300), unit=st.sampled_from(LengthUnit))
def test_a_cut_is_rounded_up_by_less_than_a_step(length: float, unit: LengthUnit) -> None:
    step = get_step_cm(unit)
    assert step == pytest.approx(0.5 if unit is LengthUnit.CM else INCH_CM / 4)
    assert -1e-6 <= round_up_to_step(length, step) - length < step


@pytest.mark.parametrize(
    ("typed", "cm"), [("38,5", 38.5), ("38.5 cm", 38.5), ("15¼ in", 38.735), ('15 1/4"', 38.735), ("¾ in", 1.905)]
)
def test_lengths_as_people_type_them(typed: str, cm: float) -> None:
    assert parse_length_cm(typed, LengthUnit.CM, field="height") == pytest.approx(cm)


@pytest.mark.parametrize("typed", ["", "abc", "1/3 in", "-4", "12 m", "1 2 3"])
def test_what_is_no_length_is_refused_with_its_field(typed: str) -> None:
    with pytest.raises(BadInput, match=r"height: .* is not a length\. Type one such as"):
        parse_length_cm(typed, LengthUnit.CM, field="height")
