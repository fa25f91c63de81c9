"""Where a piece goes, in words a designer can find on the work: by the clock and the level, or, on a frame, by the arm
and the distance from its middle, by thirds, by the hour and the face."""

from dataclasses import replace

from mirvel.core.forms.locating import Located, name_hour
from mirvel.core.placing.places import Place
from mirvel.core.placing.size import Sizing
from mirvel.core.space.vectors import BANDS, Vec, get_level
from mirvel.core.values.units import LengthUnit, format_length

LEVELS_DOWN = ("crown", *(name for _, name in reversed(BANDS)))


def locate(place: Place, sizing: Sizing, *, mirrored: bool = False) -> Located:
    """Where a piece is on its form; ``mirrored`` where the recipe has left and right exchanged."""
    form, frame = sizing.form, sizing.frame
    if form.locate is None:
        return Located(f"{place.clock_hour:.1f} o’clock", None, place.level, place.level)
    if mirrored and frame.bed:
        frame = replace(frame, bed=frame.bed.mirrored)
    return form.locate(frame, place.tip)


def say_at(point: Vec, sizing: Sizing, unit: LengthUnit) -> str:
    """A point of a piece in the words its places have."""
    form, above = sizing.form, sizing.frame.above_rim_cm
    if form.locate:
        return say(form.locate(sizing.frame, point), unit)
    return f"{name_hour(point)}, {get_level(point.z, above)}"


def say(located: Located, unit: LengthUnit) -> str:
    """A place in words: "left arm, 18 cm, top"."""
    away = None if located.from_middle_cm is None else format_length(located.from_middle_cm, unit)
    return ", ".join(part for part in (located.where, away, located.face) if part)


def say_within(located: Located, unit: LengthUnit) -> str:
    """A place within its group, as short as it can be: "18 cm", "4:30"; empty where the group says all."""
    if located.from_middle_cm is not None:
        return format_length(located.from_middle_cm, unit)
    return located.where.removesuffix(" o’clock") if located.where.endswith("o’clock") else ""
