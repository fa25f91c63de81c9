"""A designer who has only the making pages: what they say and draw is read off the print, and the piece is made again
from that. What cannot be found out from the page is a fault of the page.

Counts, cuts, heights and places come from the page, and cuts are held against the standard as they are read. Not from
the page are the recipe that the places are put into (form, container, mechanics, size, and its entries with their roles
and what is meant by them) and how long each flower's head is, which she has in her hand.
"""

import re
from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import zip_longest

from mirvel.core.card.making import get_makings
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.making.build import Build, get_build
from mirvel.core.making.cuts import Cut
from mirvel.core.placing.places import Place
from mirvel.core.recipe.entry import Pin
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.core.space.vectors import Vec
from mirvel.core.values.units import LengthUnit, parse_length_cm
from mirvel.core.working import Worked
from mirvel.demo import get_catalogue
from mirvel.drawing.sheet import get_spot
from mirvel.drawing.view import MM_PER_CM, View, get_eye
from tests.reading import Figure, Page, Word, read_pages

_FOOT_MM = 10.5  # the page's own number stands there
_LINE_MM = 1.3  # words whose middles are no further apart stand on one line
_HEADING = re.compile(r"(\d+) of (\d+): ")
_AFTER = re.compile(r"^What comes from one stem")  # what stands after all steps
STEP_CM = 0.64  # one step of a cut in either unit
NEAR_CM, SIZE_CM = 2.0, 1.0  # how near each piece has to stand to its place; how near height and width have to come
_ROUNDS = 5  # how often she looks from her piece to the page and moves what stands elsewhere
# How much of a head's length stands over its base by the way it faces, and how much it may be otherwise; which way it
# faces where nothing is said of it.
_UP_SHARES = {"facing down": -0.65, "nodding": -0.22, "facing out": 0.125, "facing up": 0.65}
_WITHIN = 0.35
_OUT_AT = re.compile(r"(skirt|low|side|front|back)(, [\d.¼½¾]+ (up|out|down|in))?$")
_HALFWAY = 0.7  # of the way to where it should be
Key = tuple[str, int]
Placed = tuple[Page, Sequence[Word]]  # a line, and the page it stands on


@dataclass(frozen=True)
class Piece:
    """One piece as the page tells it: what it is, where it is said to go, its cut (None where nothing is cut), how high
    the base of its head stands, cm, where it is drawn on the plan (None where it is not), cm to the right of the middle
    and away, and how high it is drawn from the front, where it is seen there."""

    material: str
    where: str
    cut_cm: float | None
    height_cm: float
    spot: tuple[float, float] | None
    drawn_cm: float | None


@dataclass(frozen=True)
class Told:
    """What making pages tell: how high and wide the piece is, cm, and its pieces by step, under their numbers."""

    height_cm: float
    width_cm: float
    steps: tuple[dict[int, Piece], ...]


def read_making(pdf: bytes, unit: LengthUnit) -> Told:
    """Read making pages that are in a unit. Raises ValueError, saying what cannot be found out."""
    pages = read_pages(pdf)
    lines = [(page, line) for page in pages for line in _get_lines(page.words) if line[0].top < page.height - _FOOT_MM]
    first = " ".join(_say(line) for _, line in lines[:6])
    mm_per_cm = MM_PER_CM / float(_find(r"Drawn 1 : ([\d.]+)", first))
    height, width = (_read_length(_find(rf"([\d.¼½¾]+) ?{unit.value} {way}", first), unit) for way in ("tall", "wide"))
    sections = _get_sections(lines)
    found = [
        dict(_read_step(_read_rows(section), _find_figures(section, sections), unit, mm_per_cm)) for section in sections
    ]
    return Told(height, width, tuple(found))


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
        heights = [_read_length(each, unit) for each in row.above.split(" to ") if each]
        cut = _read_length(row.cut, unit) if re.match(r"[\d¼½¾]", row.cut) else None
        for each in told:
            number = each.split(" ")[0]
            own = re.search(r", ([\d.¼½¾]+) (up|out|down|in)$", each)
            height = sum(heights) / len(heights)
            if own:
                height = _read_length(own[1], unit) * (1 if own[2] in {"up", "out"} else -1)
            spot = _find_spot(number, figures[-1], mm_per_cm)
            front = _find_spot(number, figures[0], mm_per_cm) if len(figures) > 1 else None
            yield int(number), Piece(row.material, each, cut, height, spot, front[1] if front else None)


def _find_spot(number: str, plan: Figure, mm_per_cm: float) -> tuple[float, float] | None:
    """Where a number is drawn, cm to the right of the middle and away."""
    for each in plan.numbers:
        if each.label == number:
            x, y = each.spot
            return (x - plan.middle[0]) / mm_per_cm, (plan.middle[1] - y) / mm_per_cm
    return None


@dataclass(frozen=True)
class Reproduced:
    """A piece made again beside the standard: ``wrong`` is what is told otherwise than it is; how far each cut that is
    told is off the standard's, and each piece made from where it stands there, cm; how far height and width are off."""

    wrong: tuple[str, ...]
    cuts_cm: tuple[float, ...]
    places_cm: tuple[float, ...]
    height_cm: float
    width_cm: float


def reproduce(told: Told, worked: Worked, catalogue: Catalogue) -> Reproduced:
    """Make a piece again from what is told, and measure it against the standard."""
    standard, makings = worked.build, get_makings(worked)
    wrong, pairs = list[str](), list[tuple[Piece, Cut]]()
    for number, (step, making) in enumerate(zip_longest(told.steps, makings), 1):
        pieces = {piece.number: piece.cut for piece in making.pieces} if making else {}
        wrong += [f"{each} of step {number} is told or is there alone" for each in (step or {}).keys() ^ pieces.keys()]
        pairs += [(step[each], cut) for each, cut in pieces.items() if step and each in step]
    wrong += [f"{read.material} is told for {name}" for read, cut in pairs if read.material != (name := _name(cut))]
    sizes = ("tall", told.height_cm, standard.overall_height_cm), ("wide", told.width_cm, standard.extent.width_cm)
    wrong += [f"{read:.1f} cm {way} is told for {own:.1f}" for way, read, own in sizes if abs(read - own) > STEP_CM]
    again = _make({_get_key(cut): read for read, cut in pairs if not cut.place.is_inside}, standard, catalogue)
    made = {_get_key(cut): cut.place for cut in again.cuts}
    return Reproduced(
        tuple(wrong),
        tuple(abs((read.cut_cm or 0.0) - cut.cut_cm) for read, cut in pairs if not cut.place.material.uncut),
        tuple(made[_get_key(cut)].tip.minus(cut.place.tip).length for _, cut in pairs if not cut.place.is_inside),
        again.overall_height_cm - standard.overall_height_cm,
        again.extent.width_cm - standard.extent.width_cm,
    )


def _name(cut: Cut) -> str:
    return f"{cut.place.material.name}, {cut.place.entry.colour}"


def _get_key(cut: Cut) -> Key:
    return cut.place.entry.id, cut.place.number


def _make(reads: Mapping[Key, Piece], standard: Build, catalogue: Catalogue) -> Build:
    """Put every piece where it is told to be, look, move what is not, and look again: a head goes where its number
    stands; a spike or leaf, whose number is short of its tip, so that it comes under it; and a head that looks up and
    is not seen from the front so that its base is as high as it is told, as far as looking up lets it."""
    eye, heads = get_eye(View.PLAN), {_get_key(cut): cut.place for cut in standard.cuts}
    held = {key: Vec(*_get_spot(read), _get_height(read, heads[key])) for key, read in reads.items()}
    first, build = dict(held), standard
    for _ in range(_ROUNDS):
        build = get_build(take(_hold(standard.recipe, held), catalogue), standard.rules)
        for key, cut in ((_get_key(cut), cut) for cut in build.cuts if _get_key(cut) in held):
            read, at = reads[key], held[key]
            if cut.place.material.is_axial:
                (x, y), (right, down) = _get_spot(read), get_spot(cut.place, eye)
                held[key] = at.plus(Vec(x - right / MM_PER_CM, y + down / MM_PER_CM, 0.0), _HALFWAY)
            elif read.drawn_cm is None and _get_way(read) == "facing up":
                z, within = at.z + _HALFWAY * (read.height_cm - cut.above_rim_cm), _WITHIN * cut.place.head.length_cm
                held[key] = Vec(at.x, at.y, min(max(z, first[key].z - within), first[key].z + within))
    return build


def _get_spot(read: Piece) -> tuple[float, float]:
    if read.spot is None:
        raise ValueError(f"where a {read.material} goes is not drawn")
    return read.spot


def _get_height(read: Piece, head: Place) -> float:
    """How high the tip of a piece stands: of a head as it is drawn from the front or, where it is not seen there, over
    its base by the way it faces."""
    if head.material.is_axial:
        return read.height_cm
    if read.drawn_cm is not None:
        return read.drawn_cm
    return read.height_cm + _UP_SHARES[_get_way(read)] * head.head.length_cm


def _get_way(read: Piece) -> str:
    said = next((way for way in _UP_SHARES if f", {way}" in read.where), "")
    return said or ("facing out" if _OUT_AT.search(read.where) else "facing up")


def _hold(recipe: Recipe, held: Mapping[Key, Vec]) -> Recipe:
    """The recipe with its pieces held where they are told to be, and no place of its own."""
    pins: dict[str, list[Pin]] = defaultdict(list)
    for (entry, number), at in held.items():
        pins[entry].append(Pin(number=number, x=at.x, y=at.y, z=at.z))
    entries = tuple(each.model_copy(update={"kept": (), "pins": tuple(pins[each.id])}) for each in recipe.entries)
    return recipe.model_copy(update={"entries": entries})


def find_wrong(pdf: bytes, worked: Worked, unit: LengthUnit) -> list[str]:
    """What is wrong with a piece of the demo that is made again from its making pages."""
    made = reproduce(read_making(pdf, unit), worked, get_catalogue())
    wrong = [*made.wrong]
    wrong += [f"{sum(off > STEP_CM for off in made.cuts_cm)} cuts"] * any(off > STEP_CM for off in made.cuts_cm)
    far = [off for off in made.places_cm if off > NEAR_CM]
    wrong += [f"{len(far)} of {len(made.places_cm)} places, by {max(far):.1f} cm"] if far else []
    wrong += [f"height by {made.height_cm:+.1f} cm"] if abs(made.height_cm) > SIZE_CM else []
    wrong += [f"width by {made.width_cm:+.1f} cm"] if abs(made.width_cm) > SIZE_CM else []
    return wrong
