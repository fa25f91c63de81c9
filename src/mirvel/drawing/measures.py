"""Ruler, dimension lines and clock: the measuring marks, which never overlap flowers."""

import math

from markupsafe import Markup

from mirvel.core.values.units import CM_PER_INCH, LengthUnit, format_length
from mirvel.drawing.palette import FAINT_INK, INK, NUMERALS
from mirvel.drawing.svg import join, path, polar, tag, text
from mirvel.drawing.view import MM_PER_CM

_LINE = 0.7


def draw_ruler(
    x: float, table_y: float, height_cm: float, unit: LengthUnit, size: float, from_cm: float = 0.0
) -> Markup:
    """An upright ruler from the table (or from a height above it), its marks to the left of ``x``: every cm and 10 cm,
    or inch and 5 inches."""
    mark_cm, major = (1.0, 10) if unit is LengthUnit.CM else (CM_PER_INCH, 5)
    first, count = math.ceil(from_cm / mark_cm), int(height_cm / mark_cm) + 1
    fine: list[str] = []
    coarse: list[str] = []
    labels: list[str] = []
    for number in range(first, count + 1):
        y = table_y - number * mark_cm * MM_PER_CM
        length = 12.0 if number % major == 0 else 8.0 if number % 5 == 0 else 4.0
        (coarse if number % major == 0 else fine).append(path("M", x, y, "l", -length, 0))
        if number % major == 0:
            labels.append(text(str(number), x - 15, y + size * 0.35, size, text_anchor="end"))
    top = table_y - count * mark_cm * MM_PER_CM
    return tag(
        "g",
        tag("path", d=path("M", x, table_y - from_cm * MM_PER_CM, "L", x, top), stroke=INK, stroke_width=_LINE)
        + tag("path", d="".join(fine), stroke=FAINT_INK, stroke_width=0.5)
        + tag("path", d="".join(coarse), stroke=INK, stroke_width=_LINE)
        + join(labels)
        + text(unit.value, x - 15, top - size * 0.9, size * 0.85, text_anchor="end", fill=FAINT_INK),
        font_family=NUMERALS,
        fill=INK,
    )


def get_ruler_over_mm(height_cm: float, unit: LengthUnit, size: float) -> float:
    """How far a ruler and the unit over it reach above the height it measures."""
    mark_cm = 1.0 if unit is LengthUnit.CM else CM_PER_INCH
    return ((int(height_cm / mark_cm) + 1) * mark_cm - height_cm) * MM_PER_CM + 1.9 * size


def draw_upright(
    x: float, top_y: float, low_y: float, length_cm: float, unit: LengthUnit, size: float, name: str
) -> Markup:
    """A dimension line at ``x`` between two heights, its measure read along it."""
    middle = (top_y + low_y) / 2
    ticks = path("M", x - 4, top_y, "l", 8, 0, "M", x - 4, low_y, "l", 8, 0, "M", x, top_y, "L", x, low_y)
    ticks += path("M", x - 2.5, top_y + 2.5, "l", 5, -5, "M", x - 2.5, low_y + 2.5, "l", 5, -5)
    turned = f"rotate(90 {x + 4:.1f} {middle:.1f})"
    label = text(format_length(length_cm, unit), x + 4, middle, size, text_anchor="middle", transform=turned)
    return _draw_dimension(ticks, label, length_cm, name)


def draw_level(
    y: float, left_x: float, right_x: float, length_cm: float, unit: LengthUnit, size: float, name: str
) -> Markup:
    """A dimension line at ``y`` between two sides, its measure below it."""
    ticks = path("M", left_x, y - 4, "l", 0, 8, "M", right_x, y - 4, "l", 0, 8, "M", left_x, y, "L", right_x, y)
    ticks += path("M", left_x - 2.5, y + 2.5, "l", 5, -5, "M", right_x - 2.5, y + 2.5, "l", 5, -5)
    label = text(format_length(length_cm, unit), (left_x + right_x) / 2, y + size * 1.15, size, text_anchor="middle")
    return _draw_dimension(ticks, label, length_cm, name)


def _draw_dimension(ticks: str, label: str, length_cm: float, name: str) -> Markup:
    line = tag("path", d=ticks, stroke=INK, stroke_width=_LINE, fill="none")
    length_mm = round(length_cm * MM_PER_CM, 1)
    return tag("g", line + label, class_=f"dimension {name}", data_mm=length_mm, font_family=NUMERALS, fill=INK)


def draw_clock(x: float, y: float, radius_mm: float, size: float) -> Markup:
    """The hours round a plan: 12 at the back, 6 at the designer's side."""
    marks, hours = [], []
    for hour in range(1, 13):
        inner, outer = polar(radius_mm, hour * 30), polar(radius_mm + 5, hour * 30)
        marks.append(path("M", x + inner[0], y + inner[1], "L", x + outer[0], y + outer[1]))
        at = polar(radius_mm + 5 + size * 0.75, hour * 30)
        weight = "600" if hour % 3 == 0 else None
        hours.append(
            text(str(hour), x + at[0], y + at[1] + size * 0.36, size, text_anchor="middle", font_weight=weight)
        )
    return tag(
        "g",
        tag(
            "circle",
            cx=x,
            cy=y,
            r=radius_mm,
            fill="none",
            stroke=FAINT_INK,
            stroke_width=0.5,
            stroke_dasharray="1 3",
        )
        + tag("path", d="".join(marks), stroke=INK, stroke_width=_LINE)
        + join(hours),
        class_="clock",
        font_family=NUMERALS,
        fill=INK,
    )
