"""Where a piece goes, in words a designer can find on the work: by the clock and the level, or, on a frame, by the arm
and the distance from its middle, by thirds, by the hour and the face."""

from mirvel.core.forms.form import Form
from mirvel.core.forms.locating import Located, name_hour
from mirvel.core.forms.parts import Part
from mirvel.core.forms.surface import Frame
from mirvel.core.placing.places import Place
from mirvel.core.space.vectors import BANDS, Vec, get_level
from mirvel.core.values.units import LengthUnit, format_length

LEVELS_DOWN = ("crown", *(name for _, name in reversed(BANDS)))


def locate(place: Place, form: Form, frame: Frame) -> Located:
    """Where a piece is on its form."""
    if place.is_inside:
        return Located(f"{place.clock_hour:.1f} o’clock", None, Part.INSIDE, Part.INSIDE)
    if form.locate is None:
        return Located(f"{place.clock_hour:.1f} o’clock", None, place.level, place.level)
    return form.locate(frame, place.tip)


def say_at(point: Vec, form: Form, frame: Frame, unit: LengthUnit) -> str:
    """A point of a piece in the words its places have."""
    if form.locate:
        return say(form.locate(frame, point), unit)
    return f"{name_hour(point)}, {get_level(point.z, frame.above_rim_cm)}"


def say(located: Located, unit: LengthUnit) -> str:
    """A place in words: "left arm, 18 cm, top"."""
    away = None if located.from_middle_cm is None else format_length(located.from_middle_cm, unit)
    return ", ".join(part for part in (located.where, away, located.face) if part)


def say_lean(lean_deg: float) -> str:
    """How a stem leans from the vertical, and from where it is level on, how it hangs.

    >>> say_lean(32.4), say_lean(133)
    ('leans 32°', 'hangs, 43° below level')
    """
    return f"leans {lean_deg:.0f}°" if round(lean_deg) <= 90 else f"hangs, {lean_deg - 90:.0f}° below level"


def say_within(located: Located, unit: LengthUnit) -> str:
    """A place within its group, as short as it can be: "18 cm", "4:30"; empty where the group says all."""
    if located.from_middle_cm is not None:
        return format_length(located.from_middle_cm, unit)
    return located.where.removesuffix(" o’clock") if located.where.endswith("o’clock") else ""
