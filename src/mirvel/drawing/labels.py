"""Numbers on a drawing, each free of every other."""

import math
from collections.abc import Sequence

from markupsafe import Markup

from mirvel.drawing.palette import INK, NUMERALS, PAPER
from mirvel.drawing.svg import join, path, tag, text

Spot = tuple[float, float]
_APART = 1.04  # of touching, that two numbers are kept apart
_RINGS, _STEP = 60, 0.8  # how far out room is looked for, in steps of so much of a number's width


def draw_number(label: str, x: float, y: float, size: float) -> Markup:
    """A number on a spot of paper, so that it reads on any colour."""
    spot = tag("circle", cx=x, cy=y, r=get_radius(len(label), size), fill=PAPER, stroke=INK, stroke_width=0.04 * size)
    return spot + text(label, x, y + size * 0.34, size, text_anchor="middle")


def get_radius(digits: int, size: float) -> float:
    """Half the width of the spot of so many digits, each so high."""
    return size * (0.42 + 0.24 * digits)


def draw_free(spots: Sequence[tuple[Spot, str]], size: float, paper: Spot, taken: Sequence[Spot] = ()) -> Markup:
    """A number for each spot: on it, or as near as there is room on the paper beside all others and what is taken,
    with a line to it."""
    digits = max((len(label) for _, label in spots), default=1)
    placed = find_room([spot for spot, _ in spots], get_radius(digits, size), paper, taken)
    lines, numbers = [], []
    for (spot, label), (x, y) in zip(spots, placed, strict=True):
        if (x, y) != spot:
            lines.append(path("M", *spot, "L", x, y))
        numbers.append(draw_number(label, x, y, size))
    leaders = tag("path", d="".join(lines), stroke=INK, stroke_width=0.07 * size, fill="none") if lines else Markup()
    return tag("g", leaders + join(numbers), class_="numbers", font_family=NUMERALS, fill=INK)


def find_room(spots: Sequence[Spot], radius: float, paper: Spot, taken: Sequence[Spot] = ()) -> list[Spot]:
    """Where each of some circles goes so that no two overlap, nor one what is taken: those that are alone stay, then
    the others as near as there is room."""
    apart = 2 * radius * _APART
    found: dict[int, Spot] = {}
    held = [*taken]

    def is_free(at: Spot) -> bool:
        return all(math.hypot(at[0] - x, at[1] - y) >= apart for x, y in held)

    for number in sorted(range(len(spots)), key=lambda at: -_get_nearest(spots, at)):
        at = next((each for each in _look_round(spots[number], radius, paper) if is_free(each)), spots[number])
        found[number] = at
        held.append(at)
    return [found[number] for number in range(len(spots))]


def _get_nearest(spots: Sequence[Spot], at: int) -> float:
    """How far a spot is from the nearest other."""
    x, y = spots[at]
    return min((math.hypot(x - a, y - b) for number, (a, b) in enumerate(spots) if number != at), default=math.inf)


def _look_round(spot: Spot, radius: float, paper: Spot) -> list[Spot]:
    """The spot and, ring by ring, points about it, those alone where a circle lies on the paper."""
    points = [spot]
    for ring in range(1, _RINGS):
        out, count = ring * _STEP * 2 * radius, 8 * ring
        turns = (2 * math.pi * number / count for number in range(count))
        points += [(spot[0] + out * math.sin(turn), spot[1] - out * math.cos(turn)) for turn in turns]
    return [
        (x, y)
        for x, y in points
        if (x, y) == spot or (radius <= x <= paper[0] - radius and radius <= y <= paper[1] - radius)
    ]
