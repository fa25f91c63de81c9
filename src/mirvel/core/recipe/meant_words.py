"""What is meant by an entry in words: short, as it is typed (``low · triangle · at 6``), and in full, for a card.

Other entries are named by their lines in the recipe. Lengths are read and written in the shop's unit.
"""

import re
from collections.abc import Callable, Sequence
from typing import Any

from pydantic import ValidationError

from mirvel.core.forms.parts import SIDEWAYS, Part
from mirvel.core.recipe.meant import (
    Among,
    Band,
    Depth,
    DepthKind,
    Facing,
    Grade,
    Height,
    HeightKind,
    Meant,
    Pattern,
    PatternKind,
    Sizes,
    Spot,
    Where,
)
from mirvel.core.values.problems import BadInput, Problem, get_problems
from mirvel.core.values.units import LengthUnit, format_length, parse_length_cm

_BETWEEN = " · "
_FIELD = "what is meant"
_HELP = (
    "Write such as low · triangle · at 6, or stair 5 · side to side, levels vary, tip 20, over 4 by 5, over lowest of "
    "4 by 5, ring round 5, beside 3, alternating with 3, gathered about 3, linking 2 and 5, line from 10 to 4, "
    "curve from 9 to 3, rays, fringe, groups of 3, spread singly, carried through, one lifted, five points, "
    "mirrored left and right, from 4 to 8, edge, proud 2, tucked in, clear of the greens 2, facing up, "
    "by its own curve, 3 large, 2 small, larger low, held back 1; "
    "and parts that a form has, such as left arm, left arm from 10 to 20, lower third from 20 to 40, front left "
    "corner, in the glass."
)
_AROUND_HOUR = 0.5  # “at 6” is half an hour to either side
_NUMBER = r"[\d.,¼½¾/ ]+"
_MEASURE = rf"{_NUMBER}(?:cm|in)?"
_LENGTH = rf"(?P<length>{_MEASURE})"
_OUTWARDS = "|".join(part.value for part in Part if part.goes_out)
_HOUR = r"\d{1,2}(?:[.,:]\d{1,2})?"


def _read_hour(text: str) -> float:
    whole, _, rest = text.replace(",", ".").partition(":")
    hour = float(whole) + (float(rest) / 60 if rest else 0.0)
    if not 0 <= hour < 13:
        raise BadInput(Problem(_FIELD, f"“{text}” is no hour of the clock.", "Type one from 1 to 12; 6 is the front."))
    return hour % 12


_ABOUT = {
    "ring round": PatternKind.RING,
    "beside": PatternKind.BESIDE,
    "alternating with": PatternKind.ALTERNATING,
    "gathered about": PatternKind.GATHERED,
}
_OTHERWISE = frozenset(
    {PatternKind.GROUP, PatternKind.TRIANGLE, PatternKind.SIDES, PatternKind.LINKING, *_ABOUT.values()}
)
_WHOLE = tuple(kind for kind in PatternKind if kind not in _OTHERWISE)  # said as they are named
_HOURED = {kind.value: kind for kind in (PatternKind.LINE, PatternKind.CURVE, PatternKind.RAYS, PatternKind.FRINGE)}


class _Reader:
    """Reads one recipe's short words."""

    def __init__(self, ids: Sequence[str], unit: LengthUnit) -> None:
        self.ids, self.unit = ids, unit

    def read_length(self, text: str) -> float:
        return parse_length_cm(text, self.unit, field=_FIELD)

    def read_line(self, text: str) -> str:
        """The id of the entry in a line. Raises BadInput."""
        number = int(text)
        if not 1 <= number <= len(self.ids):
            raise BadInput(Problem(_FIELD, f"there is no line {number}.", f"Name one from 1 to {len(self.ids)}."))
        return self.ids[number - 1]

    def read_over(self, found: re.Match[str]) -> tuple[str, object]:
        by = self.read_length(found["length"]) * (-1 if found["way"] == "under" else 1)
        among = found["among"] or Among.TALLEST
        return "height", {"kind": HeightKind.OVER, "by": by, "entry": self.read_line(found["line"]), "among": among}

    def read_tip(self, found: re.Match[str]) -> tuple[str, object]:
        kind = HeightKind.TABLE if found["base"] == "table" else HeightKind.RIM
        return "height", {"kind": kind, "by": self.read_length(found["length"])}

    def read_hours(self, found: re.Match[str]) -> tuple[str, object]:
        return "where", {"hour_from": _read_hour(found["from"]), "hour_to": _read_hour(found["to"])}

    def read_along(self, found: re.Match[str]) -> tuple[str, object]:
        unit = found["unit"] or ""  # told once, behind the second, it is that of both
        start = found["from"] if found["from"][-1].isalpha() else f"{found['from']}{unit}"
        ends = (self.read_length(text) for text in (start, f"{found['to']}{unit}"))
        return "where", {"part": found["part"], **dict(zip(("cm_from", "cm_to"), ends, strict=True))}

    def read_at(self, found: re.Match[str]) -> tuple[str, object]:
        hour = _read_hour(found["hour"])
        return "where", {"hour_from": (hour - _AROUND_HOUR) % 12, "hour_to": (hour + _AROUND_HOUR) % 12}

    def read_about(self, found: re.Match[str]) -> tuple[str, object]:
        return "pattern", {"kind": _ABOUT[found["how"]], "entry": self.read_line(found["line"])}

    def read_link(self, found: re.Match[str]) -> tuple[str, object]:
        ends = {"entry": self.read_line(found["line"]), "other": self.read_line(found["other"])}
        return "pattern", {"kind": PatternKind.LINKING, **ends}

    def read_run(self, found: re.Match[str]) -> tuple[str, object]:
        kind = _HOURED[found["how"]]
        return "pattern", {"kind": kind, "hour_from": _read_hour(found["from"]), "hour_to": _read_hour(found["to"])}

    def read_out(self, found: re.Match[str]) -> tuple[str, object]:
        kind = DepthKind.PROUD if found["how"] == "proud" else DepthKind.CLEAR
        return "depth", {"kind": kind, "by": self.read_length(found["length"])}


def _say(name: str, value: object) -> Callable[[_Reader, re.Match[str]], tuple[str, object]]:
    return lambda reader, found: (name, value)


_WAYS: tuple[tuple[str, Callable[[_Reader, re.Match[str]], tuple[str, object]]], ...] = (
    *((band.value, _say("levels", band)) for band in Band),
    *((spot.value, _say("where", {"spot": spot})) for spot in Spot),
    *((part.value, _say("where", {"part": part})) for part in Part),
    (rf"from (?P<from>{_HOUR}) to (?P<to>{_HOUR})", _Reader.read_hours),
    (rf"(?P<part>{_OUTWARDS}) from (?P<from>{_MEASURE}) to (?P<to>{_NUMBER})(?P<unit>cm|in)?", _Reader.read_along),
    (rf"at (?P<hour>{_HOUR})", _Reader.read_at),
    (rf"stair {_LENGTH}", lambda r, m: ("height", {"kind": HeightKind.STAIR, "by": r.read_length(m["length"])})),
    ("one level", _say("height", {"kind": HeightKind.LEVEL})),
    ("(?:their )?levels vary", _say("height", {"kind": HeightKind.VARIED})),
    (
        rf"(?P<way>over|under) (?:(?:the )?(?P<among>tallest|middle|lowest)(?: of)? )?(?P<line>\d{{1,2}}) by {_LENGTH}",
        _Reader.read_over,
    ),
    (rf"tip {_LENGTH}(?: above (?:the )?(?P<base>rim|table))?", _Reader.read_tip),
    (r"(?P<times>\d(?:[.,]\d+)?) times(?: the container)?", lambda r, m: ("height", _get_times(m["times"]))),
    ("triangle", _say("pattern", {"kind": PatternKind.TRIANGLE})),
    ("side to side", _say("pattern", {"kind": PatternKind.SIDES})),
    ("(?:close )?group", _say("pattern", {"kind": PatternKind.GROUP})),
    (r"groups of (?P<count>\d{1,2})", lambda r, m: ("pattern", {"kind": PatternKind.GROUP, "count": int(m["count"])})),
    (rf"(?P<how>{'|'.join(_ABOUT)}) (?P<line>\d{{1,2}})", _Reader.read_about),
    (r"linking (?P<line>\d{1,2}) and (?P<other>\d{1,2})", _Reader.read_link),
    (rf"(?P<how>{'|'.join(_HOURED)}) from (?P<from>{_HOUR}) to (?P<to>{_HOUR})", _Reader.read_run),
    *((kind.value, _say("pattern", {"kind": kind})) for kind in _WHOLE),
    (rf"(?P<how>proud|clear of(?: the)? greens)(?: by)? {_LENGTH}", _Reader.read_out),
    ("tucked(?: in)?", _say("depth", {"kind": DepthKind.TUCKED})),
    ("level with(?: the)? greens", _say("depth", {"kind": DepthKind.LEVEL})),
    (r"(?P<count>\d{1,2}) (?P<size>large|small)", lambda r, m: ("sizes", {m["size"]: int(m["count"])})),
    *((grade.value, _say("sizes", {"grade": grade})) for grade in Grade),
    (r"(?:held|hold)(?: back)? (?P<count>\d{1,2})", lambda r, m: ("held_back", int(m["count"]))),
    ("facing out", _say("facing", Facing.OUT)),
    ("facing up", _say("facing", Facing.UP)),
    ("facing (?:to )?the (?:viewer|front)", _say("facing", Facing.VIEWER)),
    ("(?:facing )?by (?:its|their) own curve", _say("facing", Facing.CURVE)),
    ("must", _say("must", True)),
)
_READERS = tuple((re.compile(pattern, re.ASCII), read) for pattern, read in _WAYS)


def _get_times(text: str) -> dict[str, object]:
    return {"kind": HeightKind.TIMES, "by": float(text.replace(",", "."))}


def read_meant(text: str, ids: Sequence[str], unit: LengthUnit) -> Meant:
    """What short words mean; ``ids`` are the entries of the recipe in the order of its lines. Raises BadInput."""
    reader, found = _Reader(ids, unit), dict[str, Any]()
    for part in re.split(r"[·;|\n]|, ", text.strip().lower()):
        words = " ".join(part.split())
        if not words:
            continue
        understood = ((read, match) for pattern, read in _READERS if (match := pattern.fullmatch(words)))
        read, match = next(understood, (None, None))
        if read is None or match is None:
            raise BadInput(Problem(_FIELD, f"“{words[:40]}” is not understood.", _HELP))
        name, value = read(reader, match)
        if name == "levels":
            found["levels"] = [*found.get("levels", []), value]
        elif name == "sizes" and isinstance(value, dict) and not found.get("sizes", {}).keys() & value.keys():
            found["sizes"] = {**found.get("sizes", {}), **value}
        elif name in found:
            raise BadInput(Problem(_FIELD, f"“{words[:40]}” says a second {_SECOND[name]}.", "Keep one of the two."))
        else:
            found[name] = value
    try:
        return Meant.model_validate(found)
    except ValidationError as error:
        raise BadInput(*(Problem(_FIELD, each.message, each.mend) for each in get_problems(error))) from None


_SECOND = {
    "height": "height",
    "where": "place",
    "pattern": "pattern",
    "depth": "depth",
    "facing": "way to face",
    "must": "must",
    "held_back": "reserve",
    "sizes": "size of that kind",
}


def write_meant(meant: Meant, ids: Sequence[str], unit: LengthUnit) -> str:
    """What is meant in the short words it can be typed in."""
    parts = [band.value for band in meant.levels]
    if meant.height:
        parts.append(_write_height(meant.height, ids, unit))
    if meant.where:
        parts.append(_write_where(meant.where, unit))
    if meant.pattern:
        parts.append(_write_pattern(meant.pattern, ids))
    if meant.depth:
        has_length = meant.depth.kind in {DepthKind.PROUD, DepthKind.CLEAR}
        parts.append(meant.depth.kind.value + (f" {format_length(meant.depth.by, unit)}" if has_length else ""))
    if meant.facing:
        short = {Facing.VIEWER: "facing the viewer", Facing.CURVE: Facing.CURVE.value}
        parts.append(short.get(meant.facing, f"facing {meant.facing.value}"))
    if meant.sizes:
        sizes = ((meant.sizes.large, "large"), (meant.sizes.small, "small"))
        parts += [f"{count} {size}" for count, size in sizes if count]
        parts += [meant.sizes.grade.value] if meant.sizes.grade else []
    if meant.held_back:
        parts.append(f"held back {meant.held_back}")
    return _BETWEEN.join([*parts, *(["must"] if meant.must else [])])


def _write_height(height: Height, ids: Sequence[str], unit: LengthUnit) -> str:
    length = format_length(abs(height.by), unit)
    match height.kind:
        case HeightKind.OVER:
            among = "" if height.among is Among.TALLEST else f"{height.among.value} of "
            return f"{'over' if height.by >= 0 else 'under'} {among}{ids.index(height.entry) + 1} by {length}"
        case HeightKind.STAIR:
            return f"stair {length}"
        case HeightKind.LEVEL:
            return "one level"
        case HeightKind.VARIED:
            return "levels vary"
        case HeightKind.TIMES:
            return f"{height.by:g} times the container"
        case HeightKind.TABLE:
            return f"tip {length} above the table"
    return f"tip {length}"


def _write_hour(hour: float) -> str:
    minutes = round(60 * hour)
    whole, rest = divmod(minutes, 60)
    return f"{whole or 12}:{rest:02d}" if rest else f"{whole or 12}"


def _write_where(where: Where, unit: LengthUnit) -> str:
    if named := where.spot or where.part:
        return named.value + _write_along(where, unit)
    start, end = where.hour_from or 0.0, where.hour_to or 0.0
    if abs((end - start) % 12 - 2 * _AROUND_HOUR) < 1e-9:
        return f"at {_write_hour((start + _AROUND_HOUR) % 12)}"
    return f"from {_write_hour(start)} to {_write_hour(end)}"


def _write_along(where: Where, unit: LengthUnit) -> str:
    if where.cm_from is None or where.cm_to is None:
        return ""
    return f" from {format_length(where.cm_from, unit)} to {format_length(where.cm_to, unit)}"


def _write_pattern(pattern: Pattern, ids: Sequence[str]) -> str:
    if pattern.other:
        return f"linking {ids.index(pattern.entry) + 1} and {ids.index(pattern.other) + 1}"
    if pattern.entry:
        how = next(words for words, kind in _ABOUT.items() if kind is pattern.kind)
        return f"{how} {ids.index(pattern.entry) + 1}"
    if pattern.kind is PatternKind.GROUP:
        return f"groups of {pattern.count}" if pattern.count else "group"
    if pattern.hour_from is None or pattern.hour_to is None:
        return pattern.kind.value
    return f"{pattern.kind.value} from {_write_hour(pattern.hour_from)} to {_write_hour(pattern.hour_to)}"


def describe_meant(meant: Meant, names: dict[str, str], unit: LengthUnit) -> str:
    """What is meant as a card says it: “in a triangle, low, at the front”; ``names`` are those of the other entries."""
    return ", ".join(
        part
        for part in (
            _describe_pattern(meant.pattern, names),
            _describe_levels(meant.levels),
            _describe_height(meant.height, names, unit),
            describe_where(meant.where, unit),
            _describe_depth(meant.depth, unit),
            {
                Facing.OUT: "facing out",
                Facing.UP: "facing up",
                Facing.VIEWER: "facing the viewer",
                Facing.CURVE: "turned so that the outside of their bend lies away from the middle",
                None: "",
            }[meant.facing],
            _describe_sizes(meant.sizes),
        )
        if part
    )


def _describe_pattern(pattern: Pattern | None, names: dict[str, str]) -> str:
    if pattern is None:
        return ""
    about, hours = names.get(pattern.entry, ""), ""
    if pattern.hour_from is not None and pattern.hour_to is not None:
        hours = f" from {_write_hour(pattern.hour_from)} to {_write_hour(pattern.hour_to)} o’clock"
    return {
        PatternKind.TRIANGLE: "in a triangle",
        PatternKind.SIDES: "from side to side",
        PatternKind.GROUP: f"in close groups of {pattern.count}"
        if pattern.count
        else "close together, each still seen",
        PatternKind.RING: f"in a ring round the {about}",
        PatternKind.BESIDE: f"beside the {about}",
        PatternKind.ALTERNATING: f"in turn with the {about}",
        PatternKind.GATHERED: f"gathered about the {about}",
        PatternKind.LINKING: f"in a run from the {about} to the {names.get(pattern.other, '')}",
        PatternKind.LINE: f"in a line{hours}",
        PatternKind.CURVE: f"in a curve{hours}",
        PatternKind.FRINGE: f"low round the rim{hours}, evenly",
        PatternKind.FIVE: "the highest, the lowest, one midway, one lower across from it, one a little over the lowest",
        PatternKind.SPREAD: "spread singly, none beside another",
        PatternKind.CARRIED: "carried through every part, low and high",
        PatternKind.LIFTED: "one of them lifted to the upper third",
        PatternKind.RAYS: f"evenly turned, as rays{hours}",
        PatternKind.SIDEWAYS: "in pairs, left as right",
        PatternKind.LENGTHWAYS: "in pairs, front as back",
        PatternKind.BOTH_WAYS: "in fours, left as right and front as back",
    }[pattern.kind]


def _describe_levels(levels: tuple[Band, ...]) -> str:
    names = {Band.SKIRT: "at the rim", Band.CROWN: "at the top"}
    return " and ".join(names.get(each, each.value) for each in levels)


def _describe_height(height: Height | None, names: dict[str, str], unit: LengthUnit) -> str:
    if height is None:
        return ""
    length, about = format_length(abs(height.by), unit), names.get(height.entry, "")
    among = "middle one of the" if height.among is Among.MIDDLE else height.among.value
    return {
        HeightKind.RIM: f"their tips {length} above the rim",
        HeightKind.TABLE: f"their tips {length} above the table",
        HeightKind.TIMES: f"their tips at {height.by:g} times the container’s height",
        HeightKind.OVER: f"{length} {'over' if height.by >= 0 else 'under'} the {among} {about}",
        HeightKind.STAIR: f"each {length} lower than the one before",
        HeightKind.LEVEL: "all at one level",
        HeightKind.VARIED: "each at another level than the one beside it",
    }[height.kind]


def _describe_sizes(sizes: Sizes | None) -> str:
    if sizes is None:
        return ""
    counts = ((sizes.large, "the largest"), (sizes.small, "the smallest"))
    picked = " and ".join(f"{count} of {size}" for count, size in counts if count)
    where = {
        Grade.LOW: ", the larger lower down",
        Grade.INWARD: ", the larger towards the middle",
        Grade.OUTWARD: ", the larger towards the edge",
    }
    return f"{picked} picked out" + (where[sizes.grade] if sizes.grade else "")


_BEFORE_PARTS = {"crossing": "at", "arm": "on", "third": "in", "corner": "in"}


def describe_where(where: Where | None, unit: LengthUnit) -> str:
    if where is None:
        return ""
    if where.spot:
        named = {Spot.CENTRE: "in the centre", Spot.EDGE: "round the edge", Spot.ROUND: "clear of the middle"}
        return named.get(where.spot, f"at the {where.spot.value}")
    if where.part is None:
        return f"{_write_where(where, unit)} o’clock"
    name, along = where.part.value, _write_along(where, unit)
    told = f",{along} out of {_get_middle(where.part)}" if along else ""
    return name if where.part.is_zone else f"{_BEFORE_PARTS[name.split()[-1]]} the {name}{told}"


def _get_middle(part: Part) -> str:
    """What a distance along a part is told from."""
    if part.value.endswith("arm"):
        return "the crossing’s middle"
    return "the middle" if part in SIDEWAYS else "the focal point"


def _describe_depth(depth: Depth | None, unit: LengthUnit) -> str:
    if depth is None:
        return ""
    length = format_length(depth.by, unit)
    return {
        DepthKind.PROUD: f"{length} proud",
        DepthKind.TUCKED: "tucked in between the others",
        DepthKind.CLEAR: f"{length} clear of the leaves about them",
        DepthKind.LEVEL: "level with the leaves about them",
    }[depth.kind]
