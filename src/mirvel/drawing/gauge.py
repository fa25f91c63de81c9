"""The cutting gauge at its true size, one user unit to the millimetre: lengths from a base line, over as many pages as
the longest needs, each page laid a centimetre over the one before."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from markupsafe import Markup

from mirvel.core.card.gauge import Column
from mirvel.core.values.units import CM_PER_INCH, LengthUnit, format_length
from mirvel.drawing.palette import FAINT_INK, INK, NUMERALS
from mirvel.drawing.specimen import draw_material
from mirvel.drawing.svg import join, path, tag, text
from mirvel.drawing.view import MM_PER_CM

MOST_COLUMNS = 7  # on a page: each is wide enough for its lengths in 9 pt
_TEXT_MM, _SMALL_MM = 3.3, 2.85  # 9 and 8 pt
_LEFT_MM, _RIGHT_MM, _HEAD_MM, _FOOT_MM = 27.0, 12.0, 27.0, 27.0
_OVER_CM = 1.0  # that a page lies over the one before


@dataclass(frozen=True)
class Strip:
    """One column of marks: its head, and its heights in cm with what stands at each."""

    head: Markup
    marks: tuple[tuple[float, str], ...]


@dataclass(frozen=True)
class Sheet:
    """A paper so large, mm, and the lengths in cm that are on it from a line near its foot on."""

    width: float
    height: float
    start_cm: float
    span_cm: float
    is_last: bool

    def get_y(self, length_cm: float) -> float:
        """How far down a length ends, mm."""
        return self.height - _FOOT_MM - (length_cm - self.start_cm) * MM_PER_CM


def draw_gauge(
    columns: Sequence[Column],
    heights: Sequence[tuple[str, float]],
    unit: LengthUnit,
    paper_mm: tuple[float, float],
) -> tuple[Markup, ...]:
    """Every page: so many columns at a time, each from the base line up to their longest."""
    strips = [_get_strip(column, unit) for column in columns]
    if heights:
        words = tuple((height, f"{name} {format_length(height, unit)}") for name, height in heights)
        strips.append(Strip(_draw_words(("Height", "from the table"), 0.0), words))
    pages: list[Markup] = []
    for first in range(0, len(strips), MOST_COLUMNS):
        shown = strips[first : first + MOST_COLUMNS]
        longest = max(height for strip in shown for height, _ in strip.marks)
        pages += [_draw_page(sheet, shown, unit) for sheet in _get_sheets(longest, paper_mm)]
    return tuple(pages)


def _get_sheets(longest_cm: float, paper_mm: tuple[float, float]) -> list[Sheet]:
    width, height = paper_mm
    span = math.floor((height - _HEAD_MM - _FOOT_MM) / MM_PER_CM)
    count = max(1, math.ceil((longest_cm - _OVER_CM) / (span - _OVER_CM)))
    return [Sheet(width, height, at * (span - _OVER_CM), span, at == count - 1) for at in range(count)]


def _get_strip(column: Column, unit: LengthUnit) -> Strip:
    words = (f"{column.number}", f"{column.material.name}, {column.colour}")
    placed = '<svg x="0" y="-1" width="9" height="9" '
    picture = str(draw_material(column.material, column.colour)).replace("<svg ", placed, 1)
    marks = tuple(
        (length, f"{format_length(length, unit, with_unit=False)}{f' ×{count}' if count > 1 else ''}")
        for length, count in column.lengths
    )
    return Strip(Markup(picture) + _draw_words(words, 10.0), marks)


def _draw_words(words: tuple[str, str], right_mm: float) -> Markup:
    """A large word or number, and below it a few in two lines at most."""
    first = text(words[0], right_mm, 6.0, 5.2, font_weight="600", font_family=NUMERALS, fill=INK)
    lines, line = [], ""
    for word in words[1].split():
        if line and len(line) + len(word) > 14:
            lines.append(line)
            line = word
        else:
            line = f"{line} {word}".strip()
    lines.append(line)
    return first + join(
        text(each[:16], 0.0, 11.0 + 3.2 * at, _SMALL_MM, font_family=NUMERALS, fill=INK)
        for at, each in enumerate(lines[:3])
    )


def _draw_page(sheet: Sheet, strips: Sequence[Strip], unit: LengthUnit) -> Markup:
    wide = (sheet.width - _LEFT_MM - _RIGHT_MM) / MOST_COLUMNS
    columns = [_draw_strip(sheet, strip, _LEFT_MM + at * wide, wide) for at, strip in enumerate(strips)]
    body = _draw_ruler(sheet, unit) + _draw_ends(sheet, unit) + join(columns) + draw_proof(sheet.height, unit)
    size = {"width": f"{sheet.width:g}mm", "height": f"{sheet.height:g}mm"}
    box = f"0 0 {sheet.width:g} {sheet.height:g}"
    return tag("svg", body, xmlns="http://www.w3.org/2000/svg", viewBox=box, **size)


def _draw_strip(sheet: Sheet, strip: Strip, left: float, wide: float) -> Markup:
    drawn = [tag("g", strip.head, transform=f"translate({left:.1f} 8)")]
    end = sheet.start_cm + sheet.span_cm
    top = sheet.get_y(min(end, max(height for height, _ in strip.marks)))
    if top < sheet.get_y(sheet.start_cm):
        line = path("M", left, sheet.get_y(sheet.start_cm), "L", left, top)
        drawn.append(tag("path", d=line, stroke=FAINT_INK, stroke_width=0.2))
    for height, words in strip.marks:
        if sheet.start_cm < height <= end:
            y = sheet.get_y(height)
            drawn.append(tag("path", d=path("M", left, y, "L", left + wide - 3, y), stroke=INK, stroke_width=0.3))
            drawn.append(text(words, left + 1.0, y - 0.7, _TEXT_MM, font_weight="600", font_family=NUMERALS, fill=INK))
    return join(drawn)


def _draw_ruler(sheet: Sheet, unit: LengthUnit) -> Markup:
    """Centimetres with their millimetres, or inches with their eighths, up the left edge."""
    step, long = (CM_PER_INCH / 8, 8) if unit is LengthUnit.INCH else (0.1, 10)
    data, numbers = "", []
    for at in range(
        math.ceil(sheet.start_cm / step - 1e-9), math.floor((sheet.start_cm + sheet.span_cm) / step + 1e-9) + 1
    ):
        y = sheet.get_y(at * step)
        data += path("M", 14.0, y, "L", 14.0 + (6.0 if at % long == 0 else 4.0 if at % (long // 2) == 0 else 2.2), y)
        if at % long == 0:
            numbers.append(text(str(at // long), 20.7, y - 0.5, _SMALL_MM, font_family=NUMERALS, fill=INK))
    return tag("path", d=data, stroke=INK, stroke_width=0.15) + join(numbers)


def _draw_ends(sheet: Sheet, unit: LengthUnit) -> Markup:
    """The base line or, further up, where a page is laid over the one before, and where the next is laid on."""
    right, foot = sheet.width - _RIGHT_MM, sheet.get_y(sheet.start_cm)
    words = "Base line: the cut end of the stem."
    if sheet.start_cm:
        here = _say(sheet.start_cm, unit)
        words = f"Cut the paper here, and lay it on the dashed line of the page before, at {here}."
    drawn = tag("path", d=path("M", 14.0, foot, "L", right, foot), stroke=INK, stroke_width=0.6)
    if not sheet.is_last:
        on = sheet.start_cm + sheet.span_cm - _OVER_CM
        line = path("M", _LEFT_MM - 1, sheet.get_y(on), "L", right, sheet.get_y(on))
        drawn += tag("path", d=line, stroke=INK, stroke_width=0.3, stroke_dasharray="3 1.5")
        words += f" The next page is laid on at {_say(on, unit)}."
    return drawn + text(words, _LEFT_MM, foot + 3.8, _SMALL_MM, font_family=NUMERALS, fill=INK)


def _say(length_cm: float, unit: LengthUnit) -> str:
    """A whole number of centimetres, or what that is in inches: finer than a stem is cut."""
    return f"{length_cm / CM_PER_INCH:.2f} in" if unit is LengthUnit.INCH else f"{length_cm:g} cm"


def draw_proof(height_mm: float, unit: LengthUnit) -> Markup:
    """A bar to check the printer by, near the foot of a page so high."""
    long, words = (4 * CM_PER_INCH, "4 in") if unit is LengthUnit.INCH else (10.0, "10 cm")
    y, end = height_mm - 12.0, 14.0 + long * MM_PER_CM
    data = path("M", 14.0, y - 2, "L", 14.0, y + 2, "M", 14.0, y, "L", end, y, "M", end, y - 2, "L", end, y + 2)
    said = f"This bar is {words} long. Measure it: if it is not, print again at 100 %, not fitted to the page."
    return tag("path", d=data, stroke=INK, stroke_width=0.3, fill="none") + text(
        said, 14.0, y + 5.2, _SMALL_MM, font_family=NUMERALS, fill=INK
    )
