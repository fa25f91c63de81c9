"""Numbers on a drawing, each free of every other."""

import math
from collections.abc import Sequence
from functools import cache

import numpy as np
from markupsafe import Markup
from numpy.typing import NDArray

from mirvel.drawing.palette import INK, NUMERALS, PAPER
from mirvel.drawing.svg import join, path, tag, text

Spot = tuple[float, float]
Points = NDArray[np.float64]
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


def find_room(
    spots: Sequence[Spot], radius: float, paper: Spot, taken: Sequence[Spot] = (), taken_radius: float | None = None
) -> list[Spot]:
    """Where each of some circles goes so that no two overlap, nor one what is taken, which is as large where nothing
    else is told: those that are alone stay, then the others as near as there is room."""
    if not spots:
        return []
    points, found = np.array(spots), dict[int, Spot]()
    beside = radius + (radius if taken_radius is None else taken_radius)
    apart = _APART * np.array([beside] * len(taken) + [2 * radius] * len(spots))
    held = np.concatenate([np.array(taken).reshape(-1, 2), np.zeros((len(spots), 2))])
    away = np.hypot(*np.moveaxis(points[:, None] - points, 2, 0)) + np.diag(np.full(len(spots), np.inf))
    for count, number in enumerate(np.argsort(-away.min(axis=1), kind="stable").tolist(), len(taken)):
        found[number] = _find_free(spots[number], radius, paper, held[:count], apart[:count])
        held[count] = found[number]
    return [found[number] for number in range(len(spots))]


def _find_free(spot: Spot, radius: float, paper: Spot, held: Points, apart: Points) -> Spot:
    """The spot or, ring by ring, the first point about it at which a circle lies on the paper and is as far from each
    that is held as it has to be; the spot itself where there is none."""
    for ring in range(_RINGS):
        points = np.array(spot) + ring * _STEP * 2 * radius * _get_ring(ring)
        on_paper = ((points >= radius) & (points <= np.array(paper) - radius)).all(axis=1)
        clear = (np.hypot(*np.moveaxis(points[:, None] - held, 2, 0)) >= apart).all(axis=1)
        free = np.flatnonzero(clear & (on_paper | (ring == 0)))
        if len(free):
            x, y = points[free[0]].tolist()
            return x, y
    return spot


@cache
def _get_ring(ring: int) -> Points:
    """Directions all round, the first one up, eight more with each ring."""
    turns = np.linspace(0, 2 * math.pi, max(1, 8 * ring), endpoint=False)
    return np.stack([np.sin(turns), -np.cos(turns)], axis=1)
