"""What is printed at its true size, measured on the page as a person would: with a ruler from the base line of a gauge,
from the edges of a template."""

import re
import subprocess
from collections import Counter
from collections.abc import Iterator
from pathlib import Path

import httpx
import numpy as np
import pytest
from numpy.typing import NDArray
from PIL import Image

from mirvel.core.values.units import LengthUnit, format_length, parse_length_cm
from mirvel.demo import RULES, get_catalogue
from mirvel.store.shop import Shop
from tests.builds import work_out

PX_PER_MM = 10  # at 254 to the inch
POINT_MM = 25.4 / 72
WORD = re.compile(r'<word xMin="([\d.]+)" yMin="([\d.]+)" xMax="([\d.]+)" yMax="([\d.]+)">([^<]*)</word>')
Words = list[tuple[float, float, float, float, str]]


def read_pages(pdf: bytes, folder: Path) -> list[tuple[NDArray[np.bool_], Words]]:
    """Of each page what is dark, and its words with where they stand, mm."""
    file = folder / "gauge.pdf"
    file.write_bytes(pdf)
    subprocess.run(["pdftoppm", "-r", "254", "-gray", "-png", str(file), str(folder / "page")], check=True)
    told = subprocess.run(["pdftotext", "-bbox", str(file), "-"], check=True, capture_output=True, text=True).stdout
    pictures = [np.asarray(np.array(Image.open(each).convert("L")) < 110) for each in sorted(folder.glob("page-*.png"))]
    words = [
        [(*(float(part) * POINT_MM for part in found[:4]), found[4]) for found in WORD.findall(page)]
        for page in told.split("<page ")[1:]
    ]
    return list(zip(pictures, words, strict=True))


def find_line_mm(dark: NDArray[np.bool_], x_mm: float, from_mm: float, wide_mm: float = 3.0) -> float:
    """How far down the page the next dark line lies across some millimetres beside a point, its middle."""
    across = slice(round(x_mm * PX_PER_MM), round((x_mm + wide_mm) * PX_PER_MM))
    strip = np.asarray(dark[round(from_mm * PX_PER_MM) :, across].all(axis=1))
    first = int(strip.argmax())
    thick = int((~strip[first:]).argmax())
    return from_mm + (first + thick / 2) / PX_PER_MM


def measure_page(dark: NDArray[np.bool_], words: Words, unit_mm: float) -> Iterator[tuple[float, int, str]]:
    """Every length on a page as it is measured from the base line of the first, mm, how many are told of it, and what
    it is told as; what lies on the page before too is left out."""
    (foot,) = [top for _, top, _, _, word in words if word in {"Base", "Cut"}]
    base = find_line_mm(dark, 100.0, foot - 3.5)
    number, low = min((int(word), bottom) for left, _, _, bottom, word in words if 20 < left < 26 and word.isdecimal())
    start = number * unit_mm - (base - find_line_mm(dark, 18.2, low - 1.4, 1.4))
    for left, _, right, bottom, word in words:
        if not re.fullmatch(r"(\d+(\.5)?)?[¼½¾]?", word) or left < 27 or not 20 < bottom < foot - 1:
            continue
        after = next((each for a, _, _, b, each in words if abs(b - bottom) < 0.2 and 0 < a - right < 2), "")
        length = base - find_line_mm(dark, left + 0.5, bottom - 1.4)
        if after not in {"cm", "in"} and (start < 1 or length > 10.2):
            yield start + length, int(after[1:]) if after.startswith("×") else 1, word


@pytest.mark.parametrize(
    ("family", "paper", "unit"), [("slipway", "A4", LengthUnit.CM), ("two-bells", "letter", LengthUnit.INCH)]
)
def test_every_cut_is_as_far_from_the_base_line_as_it_says(
    web: httpx.Client, shop: Shop, tmp_path: Path, family: str, paper: str, unit: LengthUnit
) -> None:
    """To two tenths of a millimetre, over as many pages as it takes; the bar is 10 cm, or 4 in."""
    saved = next(each for each in shop.load_recipes() if each.recipe.family == family)
    answer = web.get(f"/card/{saved.id}/gauge.pdf?paper={paper}", headers={"cookie": f"unit={unit.value}"})
    rules = RULES.model_copy(update={"unit": unit})
    cuts = [cut for cut in work_out(saved.recipe, get_catalogue(), rules).build.cuts if not cut.place.material.uncut]
    measured = Counter[str]()
    high, bar_mm, unit_mm = (
        297.0 if paper == "A4" else 279.4,
        *((100.0, 10.0) if unit is LengthUnit.CM else (101.6, 25.4)),
    )
    pages = read_pages(answer.content, tmp_path)
    assert len(pages) > 1
    for dark, words in pages:
        assert dark.shape[0] / PX_PER_MM == pytest.approx(high, abs=0.2)
        bar = np.flatnonzero(dark[round((high - 12.4) * PX_PER_MM) : round((high - 11.6) * PX_PER_MM)].any(axis=0))
        assert (bar.max() - bar.min()) / PX_PER_MM == pytest.approx(bar_mm, abs=0.4)
        for length_mm, count, told in measure_page(dark, words, unit_mm):
            assert length_mm == pytest.approx(10 * parse_length_cm(told, unit, field="told"), abs=0.2)
            measured[told] += count
    assert measured == Counter(format_length(cut.cut_cm, unit, with_unit=False) for cut in cuts)


def find_edges_mm(dark: NDArray[np.bool_], *, across: bool) -> tuple[float, float]:
    """Where what is drawn on a template begins and ends, mm, above the bar at its foot and below its words."""
    drawn = dark[26 * PX_PER_MM : dark.shape[0] - 25 * PX_PER_MM]
    found = np.flatnonzero(drawn.any(axis=0 if across else 1))
    first = 0 if across else 26.0
    return first + float(found.min()) / PX_PER_MM, first + float(found.max() + 1) / PX_PER_MM


def test_a_tape_grid_is_as_wide_as_the_mouth_and_has_its_strips_in_place(
    web: httpx.Client, shop: Shop, tmp_path: Path
) -> None:
    """Two strips each way part a mouth of a usual width into three; the outline is 0.35 mm thick."""
    saved = next(each for each in shop.load_recipes() if each.recipe.family == "slipway")
    mouth_mm = 10 * get_catalogue().containers[saved.recipe.container].mouth_cm
    for paper in ("A4", "letter"):
        answer = web.get(f"/card/{saved.id}/template.pdf?paper={paper}")
        ((dark, _),) = read_pages(answer.content, tmp_path)
        left, right = find_edges_mm(dark, across=True)
        front, back = find_edges_mm(dark, across=False)
        assert right - left - 0.35 == pytest.approx(mouth_mm, abs=0.2)
        assert back - front - 0.35 == pytest.approx(mouth_mm, abs=0.2)
        row = dark[round((front + 0.42 * mouth_mm) * PX_PER_MM) : round((front + 0.48 * mouth_mm) * PX_PER_MM)]
        lines = np.flatnonzero(row.mean(axis=0) > 0.5) / PX_PER_MM - left
        inner = sorted({round(float(each) / mouth_mm * 12) for each in lines} - {0, 12})
        assert inner == [4, 8]  # thirds


def test_every_hole_of_a_foam_template_is_where_its_stem_goes_in(web: httpx.Client, shop: Shop, tmp_path: Path) -> None:
    saved = next(each for each in shop.load_recipes() if each.recipe.family == "winkle")
    build = work_out(saved.recipe, get_catalogue(), RULES).build
    ((dark, words),) = read_pages(web.get(f"/card/{saved.id}/template.pdf").content, tmp_path)
    starts = [cut.place.start for cut in build.cuts]
    assert build.base.foam is not None
    half_mm = 5 * build.base.foam.top_cm[0]
    rows = dark[26 * PX_PER_MM : dark.shape[0] - 25 * PX_PER_MM]
    columns = rows.sum(axis=0)
    edges = np.flatnonzero(columns > 0.6 * columns.max())
    middle = (edges.min() + edges.max() + 1) / 2 / PX_PER_MM
    assert (edges.max() - edges.min()) / PX_PER_MM == pytest.approx(2 * half_mm, abs=0.6)
    spots = rows.sum(axis=1)
    across = np.flatnonzero(spots > 0.6 * spots.max()) / PX_PER_MM + 26
    depth = (across.min() + across.max()) / 2
    top = max(start.z for start in starts)
    alone = [
        start
        for start in starts
        if start.z > top - 0.01 and min(start.minus(other).length for other in starts if other is not start) > 0.6
    ]
    assert len(alone) > 5
    for start in alone:
        x, y = middle + 10 * start.x, depth - 10 * start.y
        low, left = round((y - 0.6) * PX_PER_MM), round((x - 0.6) * PX_PER_MM)
        near = np.argwhere(dark[low : low + 12, left : left + 12])
        off = (near.mean(axis=0) + 0.5 + [low, left]) / PX_PER_MM - [y, x]
        assert np.hypot(*off) < 0.2
    told = {str(number) for number in range(1, len(saved.recipe.entries) + 1)}
    numbers = [word for _, top, _, _, word in words if top > 24 and word in told]
    assert len(numbers) >= len(starts)
