"""One placed piece in one view: its head turned the way it faces, its leaf along its axis, its stem.

Discs are foreshortened along their normal and stand on their side view, which shows as they turn away; from
behind they show calyx and guard petals. Spikes and leaves are drawn along the projected axis with the projected
length. Nearness decides the tone: near, middle, or set back.
"""

import math
import operator
import zlib
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache

from markupsafe import Markup

from mirvel.core.goods.facts import LEAF_FORMS, HeadForm, Lengthened
from mirvel.core.placing.places import LEAST_SEEN, Place, get_blade_share
from mirvel.core.space.vectors import Vec, get_clock_hour
from mirvel.drawing.heads import bud, get_art
from mirvel.drawing.heads.leaves import BROAD_STRAPS, STALK, Upper, draw_upper_part, draw_upper_strap
from mirvel.drawing.palette import STEM, STEM_DEEP, Tones, fade, get_tones, mix, to_faint
from mirvel.drawing.svg import closed, join, path, tag
from mirvel.drawing.symbols import Symbols, use
from mirvel.drawing.view import MM_PER_CM, Eye

_EDGE_ON = 0.10
_LEAF_TURN, _LEAF_HALF = 26.0, 7.0  # mm: how far up a leaf goes in one turn, and half its width as it is wound
_TUBE_LONG, _TUBE_HALF, _TUBE_UNDER = 70.0, 6.0, 20.0  # mm: a usual water tube, and how far under the head it begins
_FROM_BEHIND = -0.35
_UPRIGHT = frozenset({HeadForm.CLUSTER, HeadForm.FRUIT})  # drawn with their stem or stick below
_ON_BRANCHES = frozenset({HeadForm.UMBEL, HeadForm.CLUSTER, HeadForm.SPRAY})
_END_ON = 0.42
_WIDE = 0.5  # wider than so much of their length, leaves are told apart in coarser steps
_PAST_TIP = 0.3  # how far the last leaves of a branch reach past its tip, as a share of it
_UNIT_MM = 100.0
Point = tuple[float, float]


@dataclass(frozen=True)
class Brush:
    """What drawing a piece needs besides the piece; ``floor_mm`` is where the table lies on the picture,
    ``say_place`` how places are named where that is not by the clock, ``named`` whether what is drawn has a key that it
    keeps from one drawing to the next, ``faint`` the entries that are only hinted at, ``passes`` the single
    leaves whose blade goes down into the water, and how much of their width passes the mouth."""

    eye: Eye
    symbols: Symbols
    near: float
    far: float
    floor_mm: float = math.inf
    say_place: Callable[[Place], str] | None = None
    named: bool = False
    faint: frozenset[str] = frozenset()
    passes: Mapping[tuple[str, int], float] = field(default_factory=dict)

    def find_key(self, place: Place, what: str = "") -> str | None:
        """The key of a piece, or of its stem, in this view; None where nothing is named."""
        return f"{self.eye.view.value}-{what}{place.entry.id}.{place.number}" if self.named else None

    def get_tones(self, place: Place, point: Vec) -> Tones:
        """The tones of a piece, at a point of it."""
        return get_tones(place.material.colours[place.entry.colour], self.get_depth(point))

    def get_depth(self, point: Vec) -> int:
        """0 near, 1 middle, 2 set back."""
        share = (self.near - self.eye.get_nearness(point)) / max(self.near - self.far, 1e-9)
        return 0 if share < 0.45 else 1 if share < 0.72 else 2


def get_variant(place: Place, choices: int) -> int:
    """A steady choice for a piece, so that heads of a kind are not all alike."""
    return zlib.crc32(f"{place.entry.id}/{place.number}".encode()) % choices


def get_title(place: Place, brush: Brush) -> str:
    """What a piece is and where, in words."""
    if brush.say_place:
        return f"{place.material.name}, {place.entry.colour}: {brush.say_place(place)}"
    hour = round(get_clock_hour(place.tip)) or 12
    return f"{place.material.name}, {place.entry.colour}: {hour} o’clock, {place.level}"


def draw_piece(place: Place, brush: Brush, *, titled: bool = True) -> Markup:
    """The head or leaf of a piece, as a group that names its entry."""
    drawn = _draw_axis(place, brush) if place.material.is_axial else _draw_heads(place, brush)
    title = tag("title", get_title(place, brush)) if titled else ""
    key = brush.find_key(place)
    return tag("g", title + drawn, data_key=key, data_entry=place.entry.id, data_piece=str(place.number))


def draw_stem(start: Vec, end: Vec, place: Place, brush: Brush, *, glass: bool = False) -> Markup:
    """A stem between two points; behind glass it is paler."""
    (x1, y1), (x2, y2) = brush.eye.flatten(start), brush.eye.flatten(end)
    colour = (STEM, mix(STEM, STEM_DEEP, 0.5), STEM_DEEP)[brush.get_depth(start.plus(end).scaled(0.5))]
    if glass:
        colour = mix(colour, "#dfe9e6", 0.25)
    line = mix(colour, "#1c2416", 0.45)
    if place.entry.id in brush.faint:
        colour, line = to_faint(colour), to_faint(line)
    width = min(6.0, max(1.6, place.material.stem_diameter_mm * 0.7))
    data, middle = path("M", x1, y1, "L", x2, y2), ((x1 + x2) / 2, (y1 + y2) / 2)
    if place.bow and not glass:
        # The curve's control point lies twice as far out as the arc's middle.
        chord = end.minus(start)
        middle = brush.eye.flatten(start.plus(chord, 0.5).plus(place.get_bend(chord).scaled(2.0)))
        data = path("M", x1, y1, "Q", *middle, x2, y2)
    drawn = tag("path", d=data, stroke=line, stroke_width=width, fill="none") + tag(
        "path", d=data, stroke=colour, stroke_width=width - 0.9, fill="none"
    )
    along = _Along((x1, y1), middle, (x2, y2))
    if place.material.lengthened is Lengthened.LEAF:
        drawn += _wind_leaf(along, colour, line)
    elif place.material.lengthened is Lengthened.TUBE and not glass:
        drawn += _draw_tube(along, colour, line)
    return drawn if glass or not brush.named else tag("g", drawn, data_key=brush.find_key(place, "stem-"))


@dataclass(frozen=True)
class _Along:
    """A stem on the picture from its foot to its head, bent towards a point between."""

    foot: Point
    middle: Point
    head: Point

    @property
    def length(self) -> float:
        return math.dist(self.foot, self.head)

    def get_point(self, run: float, out: float) -> Point:
        """So far up the stem, and so far beside it."""
        share = run / self.length
        weights = (1 - share) ** 2, 2 * share * (1 - share), share**2
        x, y = (sum(map(operator.mul, weights, each)) for each in zip(self.foot, self.middle, self.head, strict=True))
        ways = (share - 1, 1 - 2 * share, share)
        dx, dy = (sum(map(operator.mul, ways, each)) for each in zip(self.foot, self.middle, self.head, strict=True))
        steep = math.hypot(dx, dy)
        return x - out * dy / steep, y + out * dx / steep

    def fill(self, points: Sequence[Point], tone: str, line: str) -> Markup:
        """What is outlined by points along it."""
        outline = closed([self.get_point(*point) for point in points])
        return tag("path", d=outline, fill=tone, stroke=line, stroke_width=0.6, stroke_linejoin="round")


def _wind_leaf(along: _Along, colour: str, line: str) -> Markup:
    """A leaf wound up a stem that is too short, from its foot to its head."""
    turn, half, tone = _LEAF_TURN, _LEAF_HALF, mix(colour, "#f4f4d8", 0.18)
    band = ((0.0, -half), (0.35 * turn, -half), (turn, half), (0.65 * turn, half))
    starts = [number * turn for number in range(int(along.length // turn))]
    return join(along.fill([(start + run, out) for run, out in band], tone, line) for start in starts)


def _draw_tube(along: _Along, colour: str, line: str) -> Markup:
    """The tube of water under the head of a stem that is too short, and its cap."""
    top = along.length - _TUBE_UNDER
    if top <= _TUBE_HALF:
        return Markup("")
    tube, cap = (
        [(low, -half), (top, -half), (top, half), (low, half)]
        for low, half in ((max(0.0, top - _TUBE_LONG), _TUBE_HALF), (top - 3, _TUBE_HALF + 1))
    )
    return along.fill(tube, mix(colour, "#dcebe4", 0.6), line) + along.fill(cap, colour, line)


def _draw_axis(place: Place, brush: Brush) -> Markup:
    material, length = place.material, place.shown_length_cm * MM_PER_CM
    art = get_art(material.form)
    right, up, _ = brush.eye.get_direction(place.axis)
    flat = math.hypot(right, up)
    tones = brush.get_tones(place, place.tip.plus(place.axis, -place.shown_length_cm / 2))
    if art.end and flat < _END_ON:
        symbol = _get_symbol(brush, place, tones, "end")
        scale = place.head.width_cm * MM_PER_CM / _UNIT_MM
        x, y = brush.eye.flatten(place.tip)
        return use(symbol, (scale, 0, 0, scale, x, y))
    x, y = brush.eye.flatten(place.tip)
    sin, cos = (right / flat, up / flat) if flat > 1e-6 else (0.0, 1.0)
    along = max(flat, LEAST_SEEN if material.form in LEAF_FORMS else 0.12) * length / _UNIT_MM
    across = (
        get_blade_share(place.material, place.axis, brush.eye.towards)
        * length
        / _UNIT_MM
        * (place.head.length_cm / place.shown_length_cm if art.end else 1.0)
    )
    symbol = _get_symbol(brush, place, tones, "axis")
    if cos:  # what is shown of its spread beyond its true length stops at the table
        below = cos if cos > 0 else -cos * _PAST_TIP
        along = max(flat * length / _UNIT_MM, min(along, (brush.floor_mm - y) / (below * _UNIT_MM)))
    mirror = -1 if _bends_left(place, brush) else 1
    a, b, c, d = cos * across * mirror, sin * across * mirror, -sin * along, cos * along
    return use(symbol, (a, b, c, d, x + c * _UNIT_MM, y + d * _UNIT_MM))


def _bends_left(place: Place, brush: Brush) -> bool:
    """Leaves bow outwards and down, as their weight takes them; upright ones either way."""
    right, _, _ = brush.eye.get_direction(place.axis)
    return right < 0 if abs(right) > 0.15 else get_variant(place, 2) == 0


def _get_bend(place: Place) -> float:
    """How much a leaf bows, one of three ways; spikes stand straight."""
    return (0.6, 1.0, 1.5)[get_variant(place, 3)] if place.material.is_leaf else 0.0


def get_ratio(place: Place) -> float:
    """Width over length of a leaf or spike, in steps so that symbols are shared."""
    length = place.shown_length_cm if place.material.form in LEAF_FORMS else place.head.length_cm
    ratio = place.shown_width_cm / length
    return max(0.05, round(ratio * 20) / 20 if ratio < _WIDE else round(ratio * 10) / 10)


def _get_symbol(brush: Brush, place: Place, tones: Tones, side: str) -> str:
    """The id of one drawing of a head, defined on first use."""
    material = place.material
    openness = round(place.head.openness * 4) / 4
    ratio = get_ratio(place) if material.is_axial else 0.0
    bend = _get_bend(place) if side == "axis" else 0.0
    kept = _get_kept(place, brush) if side == "axis" else 1.0
    passes = brush.passes[place.entry.id, place.number] if kept < 1.0 else 1.0
    depth = round(place.head.length_cm / place.head.width_cm * 10) * 10.0 if side == "side" else 0.0
    key = (material.form, material.habit, tones.base, side, openness, ratio, bend, depth, kept, passes)
    return _define(brush, place, key, lambda: _draw_symbol(*key))


def _get_kept(place: Place, brush: Brush) -> float:
    """How much of a single leaf shows over its vessel, where the rest of its blade stands in the water; what is trimmed
    below the rim narrows to its stalk above it."""
    is_strap = place.material.form is HeadForm.STRAP
    if (place.entry.id, place.number) not in brush.passes or (is_strap and place.material.habit not in BROAD_STRAPS):
        return 1.0
    kept = min(1.0, max(0.1, round(place.shown_length_cm / place.head.length_cm, 1)))
    return kept if kept < 1 - STALK or is_strap else 1.0


def _define(brush: Brush, place: Place, key: tuple[object, ...], draw: Callable[[], Markup]) -> str:
    """The id of a drawing, defined on first use; of a piece that is only hinted at, in pale greys."""
    if place.entry.id not in brush.faint:
        return brush.symbols.find(key) or brush.symbols.define(key, draw())
    key = ("faint", *key)
    return brush.symbols.find(key) or brush.symbols.define(key, fade(draw()))


@lru_cache(maxsize=2048)
def _draw_symbol(
    form: HeadForm,
    habit: str,
    base: str,
    side: str,
    openness: float,
    ratio: float,
    bend: float,
    depth: float,
    kept: float,
    passes: float,
) -> Markup:
    """One drawing of a head; remembered, since a change of a recipe leaves most heads as they were."""
    art, tones = get_art(form), Tones(base)
    if kept < 1.0:
        strap = form is HeadForm.STRAP
        upper = Upper(kept, passes)
        return draw_upper_strap(tones, habit, ratio, bend, upper) if strap else draw_upper_part(tones, ratio, upper)
    if side != "axis" and bud.is_furled(form, habit, openness):
        if side == "side":
            return bud.side(tones, habit, max(depth, 60.0))
        return bud.back(tones, habit) if side == "back" else bud.front(tones, habit, openness)
    if side == "axis" and art.axis:
        return art.axis(tones, habit, ratio, bend, openness)
    if side == "end" and art.end:
        return art.end(tones, habit)
    if side == "side" and art.side:
        return art.side(tones, habit, max(depth, 30.0))
    if side == "back" and art.back:
        return art.back(tones, habit)
    return art.face(tones, habit, openness) if art.face else Markup()


def _draw_heads(place: Place, brush: Brush) -> Markup:
    """One head, or the heads of an unbroken spray, the nearest last."""
    heads = sorted(place.heads, key=lambda head: head[0].dot(brush.eye.towards))
    return join(_draw_head(place, brush, tip, width_cm) for tip, width_cm in heads)


def _draw_head(place: Place, brush: Brush, tip: Vec, width_cm: float) -> Markup:
    art, material = get_art(place.material.form), place.material
    tones = brush.get_tones(place, tip)
    scale = width_cm * MM_PER_CM / _UNIT_MM
    right, up, towards = brush.eye.get_direction(place.facing)
    flat = math.hypot(right, up)
    turn = get_variant(place, 12) * math.pi / 6
    if not art.side:
        x, y = brush.eye.flatten(tip.plus(place.facing, -width_cm / 2))
        spin = math.atan2(right, max(up, 0.3)) * 0.8 if place.material.form in _UPRIGHT else turn
        sin, cos = math.sin(spin) * scale, math.cos(spin) * scale
        ball = use(_get_symbol(brush, place, tones, "face"), (cos, sin, -sin, cos, x, y))
        has_stem = place.material.form not in {HeadForm.MOSS, HeadForm.FRUIT}
        return ball + (_draw_calyx(place, brush, tip, scale) if has_stem and towards < _FROM_BEHIND else "")
    x, y = brush.eye.flatten(tip)
    sin, cos = (right / flat, up / flat) if flat > 1e-6 else (0.0, 1.0)
    if material.form is HeadForm.BOW:  # its tails hang down, whichever way it faces
        turn = -math.atan2(sin, cos)
    drawn = Markup()
    if flat > _EDGE_ON:
        side = _get_symbol(brush, place, tones, "side")
        drawn += use(side, (cos * scale, sin * scale, -sin * scale * flat, cos * scale * flat, x, y))
    if towards < 0:
        x, y = brush.eye.flatten(tip.plus(place.facing, -place.head.length_cm * 0.5))
    if abs(towards) > _EDGE_ON:
        face = _get_symbol(brush, place, tones, "face" if towards > 0 else "back")
        drawn += use(face, _foreshorten(scale, abs(towards), sin, cos, turn, x, y))
    return drawn


def _draw_calyx(place: Place, brush: Brush, tip: Vec, scale: float) -> Markup:
    """What a ball shows from behind: where its stem joins or branches, on the side towards the eye."""
    branches = place.material.form in _ON_BRANCHES
    key = ("calyx", branches)
    symbol = _define(brush, place, key, bud.underside if branches else bud.calyx)
    x, y = brush.eye.flatten(tip.plus(place.facing, -0.9 * scale * _UNIT_MM / MM_PER_CM))
    return use(symbol, (scale, 0, 0, scale, x, y))


def _foreshorten(
    scale: float, short: float, sin: float, cos: float, turn: float, x: float, y: float
) -> tuple[float, float, float, float, float, float]:
    """Matrix of a disc turned in its own plane, then squeezed along the projected normal (sin right, cos up)."""
    ts, tc = math.sin(turn), math.cos(turn)
    # axis u lies across the normal, axis v along it (downwards on the picture for an upright normal)
    return (
        scale * (cos * tc - sin * short * ts),
        scale * (sin * tc + cos * short * ts),
        scale * (-cos * ts - sin * short * tc),
        scale * (-sin * ts + cos * short * tc),
        x,
        y,
    )
