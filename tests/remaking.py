"""A designer who has only what the making pages tell, and makes the piece again from that.

The recipe she makes it by is written from what is told and nothing else: each entry in the role its step is headed by,
nothing meant by any but which are large or small, the piece as high and wide as is told (what lies or is a frame, as
usual); each flower is held where it is drawn, as high as it is told, facing as it is drawn or told. Of goods she knows
what anybody has in the hand: the flower, foam or stand that a name stands for in the shop. Where a cut then comes out
otherwise than it is told she holds the flower a little otherwise or puts it in earlier, as one turns and shifts a stem
until it fits.
"""

import math
from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal
from typing import NamedTuple

from mirvel.core.forms.form import Form
from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.facts import Role
from mirvel.core.goods.hard_good import HardGoodUse
from mirvel.core.house.design import BuildOrder
from mirvel.core.house.rules import HouseRules
from mirvel.core.making.build import Build, get_build
from mirvel.core.making.cuts import Cut
from mirvel.core.placing.places import Place, get_extent
from mirvel.core.recipe.entry import Entry, Pin
from mirvel.core.recipe.meant import NOTHING_MEANT, Sizes
from mirvel.core.recipe.recipe import Recipe, Size, SizeMode
from mirvel.core.recipe.taking import take
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.beds import has_bed
from mirvel.drawing.sheet import get_spot
from mirvel.drawing.view import MM_PER_CM, View, get_eye
from tests.told import Piece, Told

STEP_CM = 0.64  # one step of a cut in either unit
SIZE_CM = 1.0  # how near height and width have to come
# How far up a head may look, 1 straight up, by the way it is told to face.
_WAYS = {
    "facing down": (-1.0, -0.4),
    "nodding": (-0.4, -0.05),
    "facing out": (-0.05, 0.3),
    "slanting up": (0.3, 0.8),
    "facing up": (0.8, 1.0),
}
_ON_TOP, _LOW = ("crown", "top", "ridge"), ("skirt", "low", "side", "front", "back")  # where they face up, and out
_INSIDE = "in the glass"
_TRIES = 140  # how often she tries for a cut
_AT_END_CM = 0.1
_HALFWAY = 0.7  # of the way to where it should be
_SHARES = (0.0, -0.5, 0.5, -1.0, 1.0)  # how far off the middle of its way it may look, in the order they are tried
_WITHIN = 0.7  # of what its way may be: at the ends of it others are said; but what faces up may look straight up
_ASIDE_DEG = (40, -40, 80, -80)  # that a head may look otherwise than out of the form
_MOST_LINES = 60  # of a recipe
_FAR_CM = (0.5, 1.0, 1.25)  # that a stem is shifted
_LEVEL_CM = tuple(
    Vec(far * math.sin(turn * math.pi / 4), far * math.cos(turn * math.pi / 4), 0.0)
    for far in _FAR_CM
    for turn in range(8)
)
_UPRIGHT_CM = tuple(Vec(0.0, 0.0, far * way) for far in _FAR_CM for way in (1, -1))
ToldAt = tuple[int, int]  # the step a piece is told in, and its number there


@dataclass(frozen=True)
class Made:
    """A piece made again: what is built, and the cut of each piece by the step it is told in and its number there."""

    build: Build
    cuts: Mapping[ToldAt, Cut]


class _Hold(NamedTuple):
    """How a piece is held: where its tip is, which way its head looks (None: as it does there), and whether it goes in
    before the others."""

    tip: Vec
    faces: Vec | None = None
    goes_first: bool = False


@dataclass
class _Hand:
    """A piece on its way to its place: how it is held, what else may be tried, and how far off its cut each way was
    that has been, cm."""

    read: Piece
    hold: _Hold
    others: Iterator[_Hold] = field(default_factory=lambda: iter(()))
    tried: list[tuple[float, _Hold]] = field(default_factory=list)
    looks: int = 0  # since it goes in before the others

    @property
    def best(self) -> _Hold:
        return min(self.tried, key=lambda each: each[0])[1] if self.tried else self.hold

    @property
    def as_told(self) -> _Hold:
        """How it was held when it stood where it is told to be."""
        return self.tried[0][1] if self.tried else self.hold

    def get_miss(self, cut: Cut) -> float:
        """How far its cut is from what is told, cm; nothing of what is not cut."""
        return 0.0 if self.read.cut_cm is None else abs(self.read.cut_cm - cut.cut_cm)

    def try_otherwise(self, miss_cm: float) -> None:
        """Hold it another way where it is not as it is told; as it was best when all has been tried."""
        if miss_cm > STEP_CM:
            self.tried.append((miss_cm, self.hold))
            self.hold = next(self.others, self.best)


@dataclass(frozen=True)
class _Line:
    """Pieces of one material that are told in one step, the large ones first and the small last."""

    entry: Entry
    pieces: tuple[ToldAt, ...]


def make_again(told: Told, catalogue: Catalogue, rules: HouseRules) -> Made:
    """Put every piece where it is told to be, look, and put right what is not as it is told."""
    return _Designer(told, catalogue, rules).make()


class _Designer:
    def __init__(self, told: Told, catalogue: Catalogue, rules: HouseRules) -> None:
        self.catalogue, self.rules, self.width_cm = catalogue, rules, told.width_cm
        self.blank, self.lines = _get_blank(told, catalogue), _get_lines(told, catalogue)
        self.reads = {(step, number): read for step, number, read in _list(told)}
        self.hands = {
            at: _Hand(read, _Hold(Vec(*_get_spot(read), read.height_cm)))
            for at, read in self.reads.items()
            if not _is_inside(read)
        }

    def make(self) -> Made:
        cuts = self._build().cuts
        for at, hand in self.hands.items():
            hand.others = _list_holds(hand, cuts[at].place)
            hand.hold = next(hand.others)
        for _ in _SHARES:
            made = self._build()
            for at, hand in self.hands.items():
                _look_closer(hand, made.cuts[at])
        for hand in self.hands.values():
            hand.hold = next((hold for miss, hold in hand.tried if miss <= STEP_CM), hand.best)
        for _ in range(_TRIES):
            made = self._build()
            misses = {at: hand.get_miss(made.cuts[at]) + self._get_excess(made, at) for at, hand in self.hands.items()}
            if max(misses.values()) <= STEP_CM:
                break
            for at, hand in self.hands.items():
                if hand.hold.goes_first and made.cuts[at].place.material.is_axial and hand.looks < len(_SHARES):
                    hand.looks += 1
                    _look_closer(hand, made.cuts[at])  # from its new hole it reaches elsewhere
                else:
                    hand.try_otherwise(misses[at])
        return made

    def _get_excess(self, made: Made, at: ToldAt) -> float:
        """How much wider the whole is than is told, cm, where that is too much, by a piece at its left or right end;
        nothing of any other."""
        extent, excess = made.build.extent, made.build.extent.width_cm - self.width_cm
        own = get_extent((made.cuts[at].place,), (0.0, 0.0), made.build.sizing.form.pose)
        is_at_an_end = own.right > extent.right - _AT_END_CM or own.left < extent.left + _AT_END_CM
        return excess if is_at_an_end and excess > SIZE_CM - _AT_END_CM else 0.0

    def _build(self) -> Made:
        """What comes of it as everything is held now."""
        first = [at for at, hand in self.hands.items() if hand.hold.goes_first][: _MOST_LINES - len(self.lines)]
        lines = [_Line(line.entry, (at,)) for line in self.lines for at in line.pieces if at in first]
        lines += [_Line(line.entry, tuple(at for at in line.pieces if at not in first)) for line in self.lines]
        entries = [self._write(line, f"e{number}") for number, line in enumerate(lines)]
        build = get_build(take(self.blank.change(entries=entries), self.catalogue), self.rules)
        ids = {
            (f"e{number}", place): at for number, line in enumerate(lines) for place, at in enumerate(line.pieces, 1)
        }
        return Made(build, {ids[cut.place.entry.id, cut.place.number]: cut for cut in build.cuts})

    def _write(self, line: _Line, id_: str) -> Entry:
        sizes = [_get_size(self.reads[at]) for at in line.pieces]
        large, small = sizes.count(0), sizes.count(2)
        meant = NOTHING_MEANT.change(sizes=Sizes(large=large, small=small)) if large or small else NOTHING_MEANT
        held = [(number, self.hands[at].hold) for number, at in enumerate(line.pieces, 1) if at in self.hands]
        pins = [Pin(number=number, x=tip.x, y=tip.y, z=tip.z, faces=faces) for number, (tip, faces, _) in held]
        return line.entry.change(id=id_, pieces=len(line.pieces), meant=meant, pins=pins)


def _look_closer(hand: _Hand, cut: Cut) -> None:
    """Bring a spike or leaf, whose number is drawn short of its tip, under that; turn a head that is not seen from the
    front another way, to see at which its cut is as it is told."""
    if cut.place.material.is_axial:
        (x, y), (right, down) = _get_spot(hand.read), get_spot(cut.place, get_eye(View.PLAN))
        hand.hold = hand.hold._replace(
            tip=hand.hold.tip.plus(Vec(x - right / MM_PER_CM, y + down / MM_PER_CM, 0.0), _HALFWAY)
        )
    elif hand.read.drawn_cm is None and hand.hold.faces is not None:
        hand.tried.append((hand.get_miss(cut), hand.hold))
        if len(hand.tried) < len(_SHARES):
            hand.hold = next(hand.others)


def _list_holds(hand: _Hand, place: Place) -> Iterator[_Hold]:
    """How a piece may be held: as it is told, the likeliest first; so, but before the others, which leave it no hole of
    its own; a little beside the best of these; then with its head turned aside, and beside that; at last higher or
    lower than told."""
    for turns, moves in (((0,), _LEVEL_CM), (_ASIDE_DEG, _LEVEL_CM), ((0,), _UPRIGHT_CM)):
        told = [hand.as_told] if place.material.is_axial else [*_list_turns(hand.read, place, turns)]
        ways = [way._replace(goes_first=goes_first) for goes_first in (False, True) for way in told]
        yield from ways
        tried = [each for each in hand.tried if each[1] in ways]
        best = min(tried, key=lambda each: each[0])[1] if tried else hand.as_told
        shifts = (*_LEVEL_CM, *_UPRIGHT_CM) if place.material.is_axial else moves
        tips = sorted((best.tip.plus(shift) for shift in shifts), key=lambda tip: _get_order(tip, best.tip))
        yield from (best._replace(tip=tip) for tip in tips)


def _get_order(tip: Vec, best: Vec) -> tuple[float, float]:
    """The nearest first and, of those as near, towards the middle first, so that no size grows by it."""
    return round(tip.minus(best).length, 3), tip.length


def _list_turns(read: Piece, place: Place, turns_deg: Sequence[float]) -> Iterator[_Hold]:
    """Ways a head may look: as far up as is drawn or told, so far aside from out of the form."""
    x, y = _get_spot(read)
    long = place.head.length_cm
    if place.material.stands_whole or place.material.is_laid:
        yield _Hold(Vec(x, y, read.height_cm + long))
        return
    ups = [(read.drawn_cm - read.height_cm) / long] if read.drawn_cm is not None else [*_list_ups(read)]
    for turn in turns_deg:
        for up in ups:
            z = read.height_cm + up * long if read.drawn_cm is None else read.drawn_cm
            yield _Hold(Vec(x, y, z), _look(place.facing, turn, min(max(up, -1.0), 1.0)))


def _list_ups(read: Piece) -> Iterator[float]:
    low, high = _WAYS[_get_way(read)]
    middle, half = (low + high) / 2, (high - low) / 2
    spread = half if low > 0 and high == 1.0 else _WITHIN * half
    return (middle + share * spread for share in _SHARES)


def _look(facing: Vec, turn_deg: float, up: float) -> Vec:
    """The way a head looks, so far up, turned aside from where it would look by itself."""
    out, turn = Vec(facing.x, facing.y, 0.0), math.radians(turn_deg)
    if out.length < 1e-6:
        return Vec(0.0, 0.0, up)
    x, y = out.unit.scaled(math.sqrt(1 - up**2))[:2]
    return Vec(x * math.cos(turn) - y * math.sin(turn), x * math.sin(turn) + y * math.cos(turn), up)


def _list(told: Told) -> Iterator[tuple[int, int, Piece]]:
    return ((step, number, read) for step, pieces in enumerate(told.steps) for number, read in pieces.items())


def _get_lines(told: Told, catalogue: Catalogue) -> list[_Line]:
    """A line for each material of a step and what of a stem it is."""
    goods = {
        f"{material.name}, {colour}": (slug, colour)
        for found in (catalogue.materials, catalogue.assemblies)
        for slug, material in found.items()
        for colour in material.colours
    }
    groups: dict[tuple[int, str, str, bool], list[tuple[int, Piece]]] = defaultdict(list)
    for step, number, read in _list(told):
        groups[step, read.material, read.part, _is_inside(read)].append((number, read))
    lines = list[_Line]()
    for (step, material, part, inside), pieces in groups.items():
        slug, colour = goods[material]
        role = _get_role(told.titles[step], FORMS[told.work.form], inside=inside)
        entry = Entry(id="e", material=slug, colour=colour, role=role, pieces=len(pieces), piece=part)
        pieces.sort(key=lambda each: _get_size(each[1]))
        lines.append(_Line(entry, tuple((step, number) for number, _ in pieces)))
    return lines


def _get_role(title: str, form: Form, *, inside: bool) -> Role:
    """The role that a step is headed by; but what is not told to go where its form has that go fills."""
    role = Role(title.split(",")[0].lower())
    return role if inside or role not in form.zones else Role.FILLER


def _get_size(read: Piece) -> int:
    return 0 if ", large" in read.where else 2 if ", small" in read.where else 1


def _get_blank(told: Told, catalogue: Catalogue) -> Recipe:
    """What is told of a piece before its flowers."""
    work = told.work
    container = next(slug for slug, each in catalogue.containers.items() if each.name == work.container)
    own = Size(mode=SizeMode.OWN, own_height_cm=told.height_cm, own_width_cm=told.width_cm)
    goods = {good.name: slug for slug, good in catalogue.hard_goods.items()}
    hung = (HardGoodUse(hard_good=goods[work.stand], quantity=Decimal(1)),) if work.stand else ()
    blank = Recipe(
        name="Again",
        family="again",
        price_point=Decimal(1),
        form=work.form,
        container=container,
        mechanics=work.mechanics,
        build_order=BuildOrder.AS_LISTED,
        foam_bevelled=work.bevelled,
        foam_block=work.block,
        hard_goods=hung,
    )
    if work.foam_above_cm is not None:
        blank = blank.change(foam_above_rim_cm=work.foam_above_cm)
    has_its_own = not (has_bed(catalogue.containers[container]) or FORMS[work.form].lies)
    return blank.change(size=own) if has_its_own else blank


def _is_inside(read: Piece) -> bool:
    return _INSIDE in read.where


def _get_spot(read: Piece) -> tuple[float, float]:
    if read.spot is None:
        raise ValueError(f"where a {read.material} goes is not drawn")
    return read.spot


def _get_way(read: Piece) -> str:
    said = next((way for way in _WAYS if read.where.endswith(f", {way}")), "")
    where = read.where.removesuffix(", large").removesuffix(", small")
    return said or ("facing up" if where.endswith(_ON_TOP) else "facing out" if where.endswith(_LOW) else "slanting up")
