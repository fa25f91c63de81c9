"""Marks that stand for an entry where colour cannot: eight shapes, the same filled, then each in a ring."""

from markupsafe import Markup

from mirvel.drawing.palette import INK
from mirvel.drawing.svg import closed, path, polar, tag

_SHAPES = 8


def draw_mark(line: int, x: float, y: float, reach: float) -> Markup:
    """The mark of a recipe's line (1 the first) about a point."""
    number = line - 1
    shape, round_number = number % _SHAPES, number // _SHAPES
    look: dict[str, str | float | None] = {"fill": INK if round_number % 2 else "none", "stroke": INK}
    look["stroke_width"] = max(0.6, reach * 0.22)
    ring = tag("circle", cx=x, cy=y, r=reach * 1.5, fill="none", stroke=INK) if round_number >= 2 else ""
    if shape == 0:
        return ring + tag("circle", cx=x, cy=y, r=reach * 0.8, **look)
    if shape in {5, 6, 7}:
        arms = {5: (0, 90), 6: (45, 135), 7: (0, 60, 120)}[shape]
        data = "".join(
            path("M", x + dx, y + dy, "L", x - dx, y - dy) for dx, dy in (polar(reach, turn) for turn in arms)
        )
        return ring + tag("path", d=data, **{**look, "stroke_width": reach * (0.5 if round_number % 2 else 0.25)})
    corners, start = {1: (3, 0), 2: (4, 45), 3: (4, 0), 4: (3, 180)}[shape]
    points = [polar(reach, start + 360 * n / corners) for n in range(corners)]
    return ring + tag("path", d=closed([(x + dx, y + dy) for dx, dy in points]), **look)
