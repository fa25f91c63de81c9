"""Leaves and blades: ferns, broad and small leaves on a branch, straps.

Drawn from their foot at the origin to their tip 100 units above it; ``ratio`` is width over length; ``bend`` bows what
is between to the left, so that the tip hangs over to the right.
"""

import math
from dataclasses import dataclass

from markupsafe import Markup

from mirvel.drawing.heads.petals import blob, strokes
from mirvel.drawing.palette import Tones, mix
from mirvel.drawing.svg import closed, curve, join, path

Point = tuple[float, float]
BROAD_STRAPS = frozenset({"broad", "rolled"})
STALK = 0.2  # how much of a round single leaf is its stalk
_BOW = 5.0  # how far a bend of 1 carries the middle sideways
_OPENED = 0.4  # how far up its shown part a leaf that is folded at the rim lies open
_STALK_OF_STRAP = 0.35  # how far up a broad strap widens from its stalk


def get_spine(share: float, bend: float) -> Point:
    """A point of the bowed stem, from its foot (0) to its tip (1)."""
    return -4 * bend * _BOW * share * (1 - share), -100 * share


def _leaf(foot: Point, length: float, width: float, turn: float) -> str:
    """Outline of one leaf from its foot, turned in degrees from upright."""
    sin, cos = math.sin(math.radians(turn)), math.cos(math.radians(turn))

    def at(across: float, along: float) -> Point:
        return foot[0] + across * cos + along * sin, foot[1] + across * sin - along * cos

    half = width / 2
    return path(
        "M",
        *foot,
        "C",
        *at(-half * 1.25, length * 0.22),
        *at(-half * 0.95, length * 0.78),
        *at(0, length),
        "C",
        *at(half * 0.95, length * 0.78),
        *at(half * 1.25, length * 0.22),
        *foot,
        "Z",
    )


def _vein(foot: Point, length: float, turn: float) -> str:
    return path("M", *foot, "l", length * math.sin(math.radians(turn)), -length * math.cos(math.radians(turn)))


def _stem(bend: float, width: float, tones: Tones, top: float = 0.97) -> Markup:
    points = [get_spine(n / 6 * top, bend) for n in range(7)]
    return strokes(path("M", *points[0], *(part for point in points[1:] for part in ("L", *point))), tones.line, width)


def branch(tones: Tones, habit: str, ratio: float, bend: float) -> Markup:
    """Leaves along a stem; habits: oval, round, single, pointed, dense."""
    if habit == "single":
        return _single(tones, ratio)
    rows, length, width, opposite = {
        "oval": (6, 0.62, 0.36, False),
        "round": (7, 0.40, 0.38, True),
        "pointed": (13, 0.62, 0.19, False),
        "dense": (15, 0.40, 0.13, True),
    }.get(habit, (7, 0.5, 0.25, False))
    reach = 100 * ratio
    size = max(reach, 14.0) if habit != "oval" else reach
    shapes, veins = [], []
    for row in range(rows):
        share = 0.12 + 0.80 * row / rows
        scale = 1 - 0.45 * share
        for side in (-1, 1) if opposite else ((-1, 1)[row % 2],):
            foot, turn = get_spine(share, bend), side * (62 - 22 * share) + (5 if row % 3 else -5)
            shapes.append((_leaf(foot, size * length * scale, size * width * scale * 1.35, turn), (row + side) % 3))
            veins.append(_vein(foot, size * length * scale * 0.85, turn))
    foot = get_spine(0.86, bend)
    shapes.append((_leaf(foot, 14, min(size * width * 0.75, 11), bend * 8), 0))
    fills = (tones.base, tones.light if habit == "round" else mix(tones.base, "#ffffff", 0.10), tones.deep)
    drawn = join(blob(data, fills[tone], tones.line, 0.6) for data, tone in shapes)
    return _stem(bend, 1.3, tones) + drawn + strokes("".join(veins), tones.line, 0.35)


def get_single_half(share: float) -> float:
    """Half the width of a round single leaf at a share of its length, from the foot of its stalk, as a share of its
    width."""
    blade = (share - STALK) / (1 - STALK)
    return 0.54 * math.sin(math.pi * blade**0.6) if 0 < blade < 1 else 0.0


@dataclass(frozen=True)
class Upper:
    """How much of a leaf is drawn, from its tip down, where the rest of it stands in the glass, and how much of its
    width shows at its lower end, where it folds to pass the mouth."""

    kept: float = 1.0
    passes: float = 1.0

    def get_share(self, run: float) -> float:
        """Where along the whole leaf it is, so far up what is drawn."""
        return 1 - self.kept * (1 - run)

    def get_fold(self, run: float) -> float:
        """How much of its width shows so far up what is drawn."""
        return self.passes + (1 - self.passes) * math.sin(min(1.0, run / _OPENED) * math.pi / 2)


def draw_upper_part(tones: Tones, ratio: float, upper: Upper) -> Markup:
    """The upper part of a round single leaf."""
    runs = [number / 14 for number in range(15)]
    edge = [(100 * ratio * get_single_half(upper.get_share(run)) * upper.get_fold(run), -100 * run) for run in runs]
    outline = [(-x, y) for x, y in edge] + list(reversed(edge))
    veins = path("M", 0, 0, "L", 0, -92)
    veins += "".join(path("M", 0, y, "L", x * 0.8, y - 14) for half, y in edge[1:9:3] for x in (-half, half))
    return blob(closed(outline), tones.base, tones.line, 1.0) + strokes(veins, tones.deeper, 0.8)


def _single(tones: Tones, ratio: float) -> Markup:
    """One round, heart-footed leaf on a wiry stalk."""
    half = 50 * min(ratio, 1.0)
    heart = curve(
        f"M 0 -22 C {-half * 0.6} -2 {-half * 1.3} -22 {-half * 1.02} -56 "
        f"C {-half * 0.8} -86 {-half * 0.3} -97 0 -100 "
        f"C {half * 0.3} -97 {half * 0.8} -86 {half * 1.02} -56 "
        f"C {half * 1.3} -22 {half * 0.6} -2 0 -22 Z"
    )
    veins = "".join(
        path("M", 0, -22, "Q", x * 0.5, -45, x, -70 + abs(x) * 0.4)
        for x in (-half * 0.75, -half * 0.35, half * 0.35, half * 0.75)
    )
    veins += path("M", 0, 0, "L", 0, -92)
    return blob(heart, tones.base, tones.line, 1.0) + strokes(veins, tones.deeper, 0.8)


def frond(tones: Tones, habit: str, ratio: float, bend: float) -> Markup:
    """A fern: toothed pinnae in pairs, or a feather of fine lines."""
    half = 50 * ratio
    if habit == "feathery":
        return _feather(tones, half, bend)
    drawn = []
    for row in range(9):
        share = 0.16 + 0.82 * row / 9
        length = half * 1.15 * (1 - share) ** 0.72 + 2
        for side in (-1, 1):
            foot = get_spine(share, bend)
            drawn.append(
                blob(
                    _pinna(foot, length, side, share),
                    tones.deep if (row + side) % 3 == 0 else tones.base,
                    tones.line,
                    0.45,
                )
            )
    return join(drawn) + _stem(bend, 1.1, tones)


def _pinna(foot: Point, length: float, side: int, share: float) -> str:
    """One toothed side leaf of a fern."""
    turn = math.radians(58 - 18 * share)
    along, across = (side * math.sin(turn), -math.cos(turn)), (side * math.cos(turn), math.sin(turn))

    def at(out: float, wide: float) -> Point:
        reach = length * out
        return foot[0] + along[0] * reach + across[0] * wide, foot[1] + along[1] * reach + across[1] * wide

    upper: list[Point] = []
    lower: list[Point] = []
    for tooth in range(5):
        out, width = (tooth + 0.4) / 5, length * 0.20 * (1 - tooth / 5) + 0.8
        for edge, sign in ((upper, -1), (lower, 1)):
            edge += [at(out + 0.14, sign * width), at(out + 0.1, sign * width * 0.45)]
    points = [foot, *upper[:-1], at(1.0, 0.0), *reversed(lower[:-1])]
    return path("M", *points[0], *(part for point in points[1:] for part in ("L", *point)), "Z")


def _feather(tones: Tones, half: float, bend: float) -> Markup:
    """Tree fern: flat tiers of threadlike needles."""
    rows: list[list[str]] = [[], []]
    for row in range(12):
        share = 0.12 + 0.85 * row / 12
        for side in (-1, 1):
            foot, length = get_spine(share, bend), half * 1.2 * (1 - share) ** 0.6 + 2
            for fan in range(-2, 3):
                turn = math.radians(60 - 16 * share + fan * 9)
                reach = length * (1 - 0.06 * fan * fan)
                rows[row % 2].append(path("M", *foot, "l", side * reach * math.sin(turn), -reach * math.cos(turn)))
    tint = mix(tones.base, "#ffffff", 0.12)
    return strokes("".join(rows[0]), tones.deep, 0.8) + strokes("".join(rows[1]), tint, 0.8) + _stem(bend, 1.0, tones)


def get_strap_half(habit: str, ratio: float, share: float) -> float:
    """Half a strap's width at a share of its length from its foot, in hundredths of the length that ``ratio`` is of; a
    broad one widens from its stalk."""
    if habit not in BROAD_STRAPS:
        return (0.55 if habit == "fine" else 1.5) * (1 - share**2)
    if share < _STALK_OF_STRAP:
        return 50 * ratio * math.sin(share / _STALK_OF_STRAP * math.pi / 2)
    return 50 * ratio * (1 - ((share - _STALK_OF_STRAP) / (1 - _STALK_OF_STRAP)) ** 2)


def strap(tones: Tones, habit: str, ratio: float, bend: float) -> Markup:
    """A blade that arches over; a fine one is drawn as a tuft of three, since one alone is hardly to be seen; a twisted
    one winds about itself."""
    return _twisted(tones, 44 * ratio) if habit == "twisted" else draw_upper_strap(tones, habit, ratio, bend, Upper())


def draw_upper_strap(tones: Tones, habit: str, ratio: float, bend: float, upper: Upper) -> Markup:
    """The upper part of a strap."""
    blades = ((0.0, 1.0), (-4.0, 0.86), (4.0, 0.92)) if habit == "fine" else ((0.0, 1.0),)
    drawn = []
    for lean, length in blades:
        left, right = [], []
        for run in (number / 14 for number in range(15)):
            x, y = get_spine(run, bend)
            half = get_strap_half(habit, ratio, upper.get_share(run)) * upper.get_fold(run)
            left.append((x + lean * run**2 - half, y * length))
            right.append((x + lean * run**2 + half, y * length))
        fill, line = tones.base if lean <= 0 else tones.light, 0.8 if habit in BROAD_STRAPS else 0.3
        drawn.append(blob(closed([*left, *reversed(right)]), fill, tones.line, line))
    if habit in BROAD_STRAPS:
        drawn.append(_stem(bend, 0.9, tones))
    if habit == "rolled":
        half = 44 * ratio
        foot, out, end, back = (get_spine(share, bend)[0] for share in (0.04, 0.3, 0.58, 0.4))
        fold = f"M {foot} -4 Q {out + half * 1.1} -30 {end + half * 0.5} -58 Q {back + half * 0.2} -40 {foot} -4 Z"
        drawn.append(blob(curve(fold), tones.deep, tones.line, 0.8))
    return join(drawn)


def _twisted(tones: Tones, half: float) -> Markup:
    """A leaf wound about itself: its two faces by turns, narrowing to the tip."""
    drawn = [strokes(path("M", 0, 0, "V", -14), tones.deeper, 2.4)]
    for turn in range(6):
        low, high, side = -10.0 - 15 * turn, -27.0 - 15 * turn, 1 if turn % 2 else -1
        wide = half * (1.0 - 0.12 * turn)
        near, far = side * wide * 0.3, side * wide * 1.3
        data = f"M {-near} {low} C {far} {low + 2} {far} {high + 8} {near} {high} "
        data += f"C {near} {high + 8} {-2 * near} {low - 8} {-near} {low} Z"
        drawn.append(blob(curve(data), tones.base if turn % 2 else tones.light, tones.line, 0.8))
    return join(drawn)
