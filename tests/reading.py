"""Reading a print as a person does who has only the paper: words where they stand, numbers in their circles with the
line to what they are of, and rows of a table. By two libraries that know nothing of the app."""

import ctypes
import re
import subprocess
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from html import unescape
from itertools import combinations
from typing import Any

import pypdfium2 as pdfium
import pypdfium2.raw as marks

POINT_MM = 25.4 / 72
_WORD = re.compile(r'<word xMin="([\d.-]+)" yMin="([\d.-]+)" xMax="([\d.-]+)" yMax="([\d.-]+)">(.*?)</word>', re.DOTALL)
_PAGE = re.compile(r'<page width="([\d.]+)" height="([\d.]+)">')
_LEAST_CIRCLE_MM, _MOST_CIRCLE_MM = 2.0, 8.0
_EDGE_MM, _TOUCH_MM = 3.5, 0.15
_TALL_SHARE, _LEADING = 0.4, 0.25  # of a word's box, that two may share between lines; that is air over and under it
Spot = tuple[float, float]


@dataclass(frozen=True)
class Word:
    """A word on a page: its box, mm from the page's upper left."""

    left: float
    top: float
    right: float
    bottom: float
    text: str

    @property
    def middle(self) -> Spot:
        return (self.left + self.right) / 2, (self.top + self.bottom) / 2


@dataclass(frozen=True)
class Numbered:
    """A number in its circle, and the spot that it is of: under it, or where its line leads."""

    label: str
    middle: Spot
    radius: float
    spot: Spot


@dataclass(frozen=True)
class Figure:
    """A drawing with arrows at its edges: the box between them, the middle they point at, and its numbers, mm."""

    box: tuple[float, float, float, float]
    middle: Spot
    numbers: tuple[Numbered, ...] = ()


@dataclass(frozen=True)
class Page:
    """A page as it is read, mm: its words, the numbers in circles on it, and its drawings that have arrows."""

    width: float
    height: float
    words: tuple[Word, ...]
    numbers: tuple[Numbered, ...]
    figures: tuple[Figure, ...]


def read_pages(pdf: bytes) -> list[Page]:
    """Every page of a print."""
    told = subprocess.run(["pdftotext", "-bbox", "-", "-"], input=pdf, check=True, capture_output=True).stdout.decode()
    document = pdfium.PdfDocument(pdf)
    found = []
    for text, drawn in zip(told.split("<page ")[1:], document, strict=True):
        size = _PAGE.match("<page " + text)
        assert size
        width, height = (float(part) * POINT_MM for part in size.groups())
        words = tuple(_read_word(each) for each in _WORD.findall(text))
        numbers, figures = _find_marks(drawn, height, words)
        found.append(Page(width, height, words, numbers, figures))
    return found


def _read_word(found: tuple[str, ...]) -> Word:
    left, top, right, bottom = (float(part) * POINT_MM for part in found[:4])
    return Word(left, top, right, bottom, unescape(found[4]))


def _find_marks(page: Any, height: float, words: Sequence[Word]) -> tuple[tuple[Numbered, ...], tuple[Figure, ...]]:
    """The numbers in circles on a page, and the drawings that have arrows at their edges, with theirs."""
    figures: list[Figure] = []
    leads: list[list[Spot]] = []  # the lines of numbers are drawn right before them
    numbers: dict[Word, Numbered] = {}
    for drawn in page.get_objects(filter=[marks.FPDF_PAGEOBJ_PATH], max_depth=15):
        if circle := _read_circle(drawn, height):
            middle, radius = circle
            for word in words:  # of circles about a number the last is its own, those under it are flowers
                if word.text.isdecimal() and _is_near(word.middle, middle, 0.4 * radius):
                    spot = next((line[0] for line in leads if _is_near(line[1], middle, 0.1)), middle)
                    numbers[word] = Numbered(word.text, middle, radius, spot)
            continue
        lines = _read_lines(drawn, height)
        leads = lines if all(len(line) == 2 for line in lines) else []
        if arrows := _read_arrows(lines):
            figures.append(arrows)
    found = (
        replace(each, numbers=tuple(own for own in numbers.values() if _is_in(own.middle, each.box)))
        for each in figures
    )
    return tuple(numbers.values()), tuple(found)


def _is_in(spot: Spot, box: tuple[float, float, float, float]) -> bool:
    return box[0] <= spot[0] <= box[2] and box[1] <= spot[1] <= box[3]


def _is_near(one: Spot, other: Spot, mm: float) -> bool:
    return (one[0] - other[0]) ** 2 + (one[1] - other[1]) ** 2 <= mm**2


def _read_circle(drawn: Any, height: float) -> tuple[Spot, float] | None:
    """The middle and radius of a path that is as wide as it is high and made of four curves."""
    left, low, right, high = (part * POINT_MM for part in drawn.get_bounds())
    count = marks.FPDFPath_CountSegments(drawn.raw)
    if not (_LEAST_CIRCLE_MM < right - left < _MOST_CIRCLE_MM and abs((right - left) - (high - low)) < 0.05):
        return None
    kinds = {marks.FPDFPathSegment_GetType(marks.FPDFPath_GetPathSegment(drawn.raw, at)) for at in range(1, count)}
    if kinds != {marks.FPDF_SEGMENT_BEZIERTO}:
        return None
    return ((left + right) / 2, height - (low + high) / 2), (right - left) / 2


def _read_lines(drawn: Any, height: float) -> list[list[Spot]]:
    """The straight lines of a path, point by point; nothing of one that has curves."""
    matrix, found = drawn.get_matrix(), list[list[Spot]]()
    for at in range(marks.FPDFPath_CountSegments(drawn.raw)):
        segment = marks.FPDFPath_GetPathSegment(drawn.raw, at)
        kind = marks.FPDFPathSegment_GetType(segment)
        x, y = ctypes.c_float(), ctypes.c_float()
        marks.FPDFPathSegment_GetPoint(segment, x, y)
        right, up = matrix.on_point(x.value, y.value)
        point = right * POINT_MM, height - up * POINT_MM
        if kind == marks.FPDF_SEGMENT_BEZIERTO:
            return []
        if kind == marks.FPDF_SEGMENT_MOVETO:
            found.append([])
        found[-1].append(point)
    return found


def _read_arrows(lines: list[list[Spot]]) -> Figure | None:
    """Four triangles, whose points show the middle from the left, the right, above and below."""
    if len(lines) != 4 or any(len(line) not in {3, 4} for line in lines):
        return None
    left, right, above, below = (line[2] for line in lines)
    if abs(left[1] - right[1]) > 0.1 or abs(above[0] - below[0]) > 0.1:
        return None
    box = lines[0][0][0], lines[2][0][1], lines[1][0][0], lines[3][0][1]
    return Figure(box, (above[0], left[1]))


def find_faults(page: Page) -> Iterator[str]:
    """What cannot be read on a page: words cut off at its edge, and words or numbers on one another."""
    for word in page.words:
        if (
            word.left < _EDGE_MM
            or word.top < _EDGE_MM
            or word.right > page.width - _EDGE_MM
            or word.bottom > page.height - _EDGE_MM
        ):
            yield f"“{word.text}” is cut off at the edge"
    for one, other in combinations(page.words, 2):
        across = min(one.right, other.right) - max(one.left, other.left)
        tall = min(one.bottom - one.top, other.bottom - other.top)
        down = min(one.bottom, other.bottom) - max(one.top, other.top)
        if across > _TOUCH_MM and down > _TALL_SHARE * tall:
            yield f"“{one.text}” and “{other.text}” are on one another"
    for number, another in combinations(page.numbers, 2):
        if _is_near(number.middle, another.middle, number.radius + another.radius - _TOUCH_MM):
            yield f"the numbers {number.label} and {another.label} are on one another"
    for number in page.numbers:
        for word in page.words:
            inside = _is_near(word.middle, number.middle, 0.4 * number.radius)
            near = (
                max(word.left, min(number.middle[0], word.right)),
                max(
                    word.top + _LEADING * (word.bottom - word.top),
                    min(number.middle[1], word.bottom - _LEADING * (word.bottom - word.top)),
                ),
            )
            if not inside and _is_near(near, number.middle, number.radius - _TOUCH_MM):
                yield f"the number {number.label} is on “{word.text}”"
