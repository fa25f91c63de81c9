"""What making pages tell somebody who has nothing else: what the piece is and is made in, its pieces step by step with
their cuts, how high each stands, and where each is drawn."""

import re
from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import takewhile

from mirvel.core.goods.facts import Mechanics, PieceSize
from mirvel.core.house.design import FoamBlock, FoamLie, FoamPart
from mirvel.core.values.units import LengthUnit, parse_length_cm
from mirvel.drawing.view import MM_PER_CM
from tests.reading import Figure, Page, Word, read_pages

_FOOT_MM = 10.5  # the page's own number stands there
_LINE_MM = 1.3  # words whose middles are no further apart stand on one line
_HEADING = re.compile(r"(\d+) of (\d+): ")
_AFTER = re.compile(r"^What comes from one stem")  # what stands after all steps
_HELD_BY = {
    "tape grid": Mechanics.TAPE_GRID,
    "wire netting": Mechanics.NETTING,
    "pin holder": Mechanics.PIN_HOLDER,
    "tie there": Mechanics.TIED,
    "foam": Mechanics.FOAM,
}
_BLOCK = re.compile(
    rf"Cut (?:a |an )?(\w+)(?: brick| a brick| of a brick) of foam for the .*?, set in ({'|'.join(FoamLie)}),"
)
Spot = tuple[float, float]  # cm to the right of the middle and away, or up
Placed = tuple[Page, Sequence[Word]]  # a line, and the page it stands on


@dataclass(frozen=True)
class Piece:
    """One piece as the page tells it: what it is, and what of its stem; where it is said to go; its cut (None where
    nothing is cut), how high the base of its head stands, cm, where it is drawn on the plan (None where it is not), cm
    to the right of the middle and away, and how high it is drawn from the front (where it is
    seen there) or its front is told to stand."""

    material: str
    part: PieceSize
    where: str
    cut_cm: float | None
    height_cm: float
    spot: Spot | None
    drawn_cm: float | None


@dataclass(frozen=True)
class Work:
    """What a piece is and what it is made in, by the names they have: how far its foam stands over the rim, cm (None
    where that is not told), the block it is cut to, what it is hung on."""

    form: str
    container: str
    mechanics: Mechanics
    foam_above_cm: float | None
    block: FoamBlock | None
    bevelled: bool
    stand: str


@dataclass(frozen=True)
class Told:
    """What making pages tell: what is made, how high and wide it is, cm, and its pieces by step and number,
    with what each step is headed by."""

    work: Work
    height_cm: float
    width_cm: float
    steps: tuple[dict[int, Piece], ...]
    titles: tuple[str, ...]


def read_making(pdf: bytes, unit: LengthUnit) -> Told:
    """Read making pages that are in a unit. Raises ValueError, saying what cannot be found out."""
    pages = read_pages(pdf)
    lines = [(page, line) for page in pages for line in _get_lines(page.words) if line[0].top < page.height - _FOOT_MM]
    before = [*takewhile(lambda said: not _HEADING.match(said), (_say(line) for _, line in lines))]
    first, set_up = (" ".join(part) for part in (before[:6], before))
    mm_per_cm = MM_PER_CM / float(_find(r"Drawn 1 : ([\d.]+)", first))
    height, width = (_read_length(_find(rf"([\d.¼½¾]+) ?{unit.value} {way}", first), unit) for way in ("tall", "wide"))
    sections = _get_sections(lines)
    found = [
        dict(_read_step(_read_rows(section), _find_figures(section, sections), unit, mm_per_cm)) for section in sections
    ]
    titles = tuple(_HEADING.sub("", _say(section[0][1])) for section in sections)
    return Told(_read_work(first, set_up, unit), height, width, tuple(found), titles)


def _read_work(first: str, set_up: str, unit: LengthUnit) -> Work:
    held = set_up[set_up.index("Set up") :]
    proud, block = re.search(r"to stand ([\d.¼½¾]+) \w+ above the rim", held), _BLOCK.search(held)
    stand = re.search(r"its stand \((.+?)\)", held)
    return Work(
        _find(r"recipe \d+ · ([^·]+) ·", first),
        _find(r"wide · ([^·]+) ·", first),
        next((mechanics for words, mechanics in _HELD_BY.items() if words in held), Mechanics.NATURAL),
        _read_length(proud[1], unit) if proud else None,
        FoamBlock(part=FoamPart(block[1]), lie=FoamLie(block[2])) if block else None,
        "Bevel its upper edges" in held,
        stand[1] if stand else "",
    )


def _get_sections(lines: Sequence[Placed]) -> list[list[Placed]]:
    """The lines of each step: from its heading to the next, or to what comes after all steps."""
    found: list[list[Placed]] = []
    is_step = False
    for page, line in lines:
        said = _say(line)
        if _HEADING.match(said):
            found.append([])
        is_step = bool(_HEADING.match(said)) or (is_step and not _AFTER.search(said))
        if is_step:
            found[-1].append((page, line))
    return found


def _find_figures(section: Sequence[Placed], others: Sequence[Sequence[Placed]]) -> list[Figure]:
    """The drawings under a step's heading, and over the next on its page."""
    page, heading = section[0]
    tops = [other[0][1][0].top for other in others if other[0][0] is page]
    low = min((top for top in tops if top > heading[0].top), default=page.height)
    return [figure for figure in page.figures if heading[0].top < figure.middle[1] < low]


def _read_rows(section: Sequence[Placed]) -> list["_Row"]:
    """The rows of a step's table, over as many pages as it goes; its head stands over each part."""
    rows: list[_Row] = []
    columns: dict[str, float] = {}
    in_head = False
    for _, line in section:
        names, begins = _get_columns(line), _is_row(line, columns)
        if names and not begins:
            columns = columns | names if in_head else names
        in_head = not begins and (bool(names) or in_head)
        if columns and not in_head:
            _read_line(line, columns, rows)
    return rows


@dataclass
class _Row:
    cut: str = ""
    count: str = ""
    material: str = ""
    above: str = ""
    below: str = ""
    which: str = ""


def _find(pattern: str, text: str) -> str:
    found = re.search(pattern, text)
    if not found:
        raise ValueError(f"“{pattern}” is not on the page: {text[:200]}")
    return found[1]


def _say(line: Sequence[Word]) -> str:
    return " ".join(word.text for word in line)


def _get_lines(words: Sequence[Word]) -> list[list[Word]]:
    """Words by line, from the left: those whose feet are level."""
    lines: list[list[Word]] = []
    for word in sorted(words, key=lambda word: word.bottom):
        if lines and abs(word.bottom - lines[-1][0].bottom) < _LINE_MM / 2:
            lines[-1].append(word)
        else:
            lines.append([word])
    return [sorted(line, key=lambda word: word.left) for line in lines]


def _get_columns(line: Sequence[Word]) -> dict[str, float]:
    names = {
        "Cut,": "cut",
        "Count": "count",
        "Material": "material",
        "Above": "above",
        "Out": "above",
        "Below": "below",
        "Which,": "which",
    }
    return {names[word.text]: word.left - 0.7 for word in line if word.text in names}


def _get_cells(line: Sequence[Word], columns: dict[str, float]) -> dict[str, list[str]]:
    cells: dict[str, list[str]] = defaultdict(list)
    for word in line:
        known = [name for name in columns if columns[name] <= word.left]
        cells[max(known, key=columns.__getitem__, default="cut")].append(word.text)
    return cells


def _is_row(line: Sequence[Word], columns: dict[str, float]) -> bool:
    """Whether a line begins a row: it has a count."""
    return {"count", "material"} <= columns.keys() and any(map(str.isdecimal, _get_cells(line, columns)["count"]))


def _read_line(line: Sequence[Word], columns: dict[str, float], rows: list[_Row]) -> None:
    """Put the words of a line into their columns: of a new row where it begins one, of the last one else."""
    if _is_row(line, columns):
        rows.append(_Row())
    for name, texts in _get_cells(line, columns).items():
        setattr(rows[-1], name, " ".join([getattr(rows[-1], name), *texts]).strip())


def _read_length(text: str, unit: LengthUnit) -> float:
    length = parse_length_cm(text.removeprefix("−"), unit, field="read")
    return -length if text.startswith("−") else length


def _read_step(
    rows: Sequence[_Row], figures: Sequence[Figure], unit: LengthUnit, mm_per_cm: float
) -> Iterator[tuple[int, Piece]]:
    """The pieces of a step under their numbers; its plan is the last of its drawings."""
    for row in rows:
        told = [each.strip() for each in row.which.split(";") if each.strip()]
        if len(told) != int(row.count):
            raise ValueError(f"{row.count} of {row.material} are counted and {len(told)} told of: {row.which}")
        for each in told:
            number = each.split(" ")[0]
            spots = [_find_spot(number, figure, mm_per_cm) for figure in figures]
            front = spots[0] if len(spots) > 1 else None
            yield int(number), _read_piece(row, each.removeprefix(number).strip(), spots[-1], front, unit)


def _read_piece(row: _Row, told: str, spot: Spot | None, front: Spot | None, unit: LengthUnit) -> Piece:
    """One of a row's pieces: as high as is told of it alone or, where nothing is, as the row's all are."""
    material, part = row.material, PieceSize.STEM
    if part_told := next((part for part in PieceSize if material.endswith(f", {part}")), None):
        material, part = material.removesuffix(f", {part_told}"), part_told
    heights = [_read_length(each, unit) for each in row.above.split(" to ") if each]
    height = sum(heights) / len(heights)
    own = re.search(r", ([\d.¼½¾]+) (up|out|down|in)$", told)
    if own:
        height = _read_length(own[1], unit) * (1 if own[2] in {"up", "out"} else -1)
        told = told[: own.start()]
    said = re.search(r", its front at (−?[\d.¼½¾]+)$", told)
    if said:
        told = told[: said.start()]
    drawn = _read_length(said[1], unit) if said else front[1] if front else None
    cut = _read_length(row.cut, unit) if re.match(r"[\d¼½¾]", row.cut) else None
    return Piece(material, part, told, cut, height, spot, drawn)


def _find_spot(number: str, plan: Figure, mm_per_cm: float) -> Spot | None:
    """Where a number is drawn, cm to the right of the middle and away."""
    for each in plan.numbers:
        if each.label == number:
            x, y = each.spot
            return (x - plan.middle[0]) / mm_per_cm, (plan.middle[1] - y) / mm_per_cm
    return None
