"""Which piece takes which site: deterministic, in build order.

Each piece has a wish (a level and how far out) by its role; it takes the free site that scores best on level,
room beside its neighbours, distance from its own kind and its own role, and on not standing beside another
large head at one level. Flowers look for room among flowers, greens among greens: greens lie deeper and show
between. The first line stem, or failing that the first bloom, takes the crown and so sets the height; nothing
else passes it. Weights are judgements of ours, tuned by eye.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mirvel.core.forms.dome import Dome, Site
from mirvel.core.geometry import Vec
from mirvel.core.goods import Catalogue, Material, Role
from mirvel.core.heads import Head, get_growth_cm, get_head
from mirvel.core.house import HouseRules
from mirvel.core.places import Place, get_head_extent
from mirvel.core.recipe import Entry, Mechanics, Recipe
from mirvel.core.vessel import Hollow, get_holder, get_least_inside_cm

Numbers = NDArray[np.float64]

LARGE_HEAD = 1.3  # times the median width; two of these never side by side at one level
GOLDEN_SHARE = (math.sqrt(5) - 1) / 2
OUTER_GREENS = 0.6
LINE_CLEARANCE = 0.28  # share of the dome by which line stems stand above the flowers at the crown
USUAL_PIECES = 45  # how many pieces a leaf's or spike's share of the room is reckoned by, whatever their number
LOWEST_SHARE = -0.22  # no head hangs further below the rim than this share of the height above it
SKIRT_LEVEL = 0.08
SKIRT_HANG_CM, SKIRT_HANG_SHARE, SKIRT_STRETCH = 4.0, 0.25, 1.08
_SCORE_PLACES = 9  # scores closer than this are equal, and the first site wins on every machine


@dataclass(frozen=True)
class Piece:
    """One piece that wants a place; ``level`` is its wished height share, ``shell`` how far out (1 = outline), and
    ``reach_cm`` how far above the rim it is long enough for."""

    entry: Entry
    material: Material
    number: int
    head: Head
    level: float
    shell: float
    reach_cm: float

    @property
    def is_green(self) -> bool:
        return self.entry.role is Role.GREENERY


def get_pieces(recipe: Recipe, catalogue: Catalogue, rules: HouseRules) -> tuple[Piece, ...]:
    """Every piece of a recipe in the order it is placed: build order, delicate blooms last. Raises UnknownGoods."""
    materials = [
        catalogue.get_material(entry.material, entry.colour, field=recipe.name_entry(entry.id))
        for entry in recipe.entries
    ]
    lines = sorted(zip(recipe.entries, materials, strict=True), key=lambda line: line[1].delicate)
    days = recipe.brief.days_to_viewing
    below_rim = get_least_inside_cm(recipe, catalogue.get_container(recipe.container))
    has_line = any(entry.role is Role.LINE and entry.pieces for entry in recipe.entries)
    return tuple(
        Piece(
            entry,
            material,
            number + 1,
            head,
            level,
            shell * _get_shoulder(entry.role, level, has_line=has_line),
            head.stem_length_cm - below_rim,
        )
        for entry, material in lines
        for head in [get_head(material, entry.piece, days, rules.opening_at_delivery)]
        for number, (level, shell) in enumerate(_get_wishes(entry.role, entry.pieces))
    )


def _get_shoulder(role: Role, level: float, *, has_line: bool) -> float:
    """How far the other pieces hold back towards the crown, so that line stems rise clear of them."""
    if not has_line or role is Role.LINE:
        return 1.0
    return 1 - LINE_CLEARANCE * max(0.0, min(1.0, (level - 0.25) / 0.6))


def _get_wishes(role: Role, count: int) -> Iterator[tuple[float, float]]:
    """The (level, shell) each piece of an entry would like, spread so that any number of them reads even."""
    outer = math.ceil(count * OUTER_GREENS)
    for number in range(count):
        spread = (0.5 + number * GOLDEN_SHARE) % 1
        depth = (1.0, 0.90, 0.96)[number % 3]
        if role is Role.GREENERY:
            inner = 0.82 if number % 2 else 0.98  # deep ones close the middle, the others show between the blooms
            yield (-0.06 + 0.14 * spread, 1.06) if number < outer else (0.35 + 0.64 * spread, inner)
        elif role is Role.LINE:
            yield 0.96 - 0.42 * number / max(count, 4), 1.0
        elif role is Role.FOCAL:
            yield (0.34, 0.58, 0.80)[number % 3] if count > 1 else 0.62, 0.99
        elif role is Role.MASS:
            yield 0.02 + 0.94 * spread, depth
        elif role is Role.TRAILING:
            yield -0.05 + 0.12 * spread, 1.06
        elif role is Role.TOKEN:
            yield 0.12 + 0.10 * number, 1.03
        else:
            yield 0.05 + 0.90 * spread, 1.03 if role is Role.TEXTURE else depth + 0.02


class _Board:
    """The sites still free for greens or for flowers, with what is placed so far kept as running distances."""

    def __init__(self, dome: Dome, pieces: list[Piece]) -> None:
        self.dome = dome.model
        self.real_sites = dome.get_sites()
        self.sites = self.dome.get_sites()
        self.points: Numbers = np.array([site.point for site in self.sites])
        self.levels: Numbers = np.array([site.level for site in self.sites])
        self.distances: Numbers = np.sqrt((self.points**2).sum(axis=1))
        self.free = np.ones(len(self.sites), dtype=bool)
        widths = sorted(piece.head.width_cm for piece in pieces)
        self.large_from = LARGE_HEAD * widths[len(widths) // 2] if widths else math.inf
        self.spacing = math.sqrt(self.dome.area_cm2 / USUAL_PIECES)
        self.counts: dict[str, int] = {}
        for piece in pieces:
            for key in _get_kinds(piece):
                self.counts[key] = self.counts.get(key, 0) + 1
        self.nearest_kind: dict[str, Numbers] = {}
        # One row a placed piece: its distance from every site, the room it takes, its height share.
        self.placed = 0
        self.away: Numbers = np.zeros((len(pieces), len(self.sites)))
        self.widths: Numbers = np.zeros(len(pieces))
        self.heights: Numbers = np.zeros(len(pieces))

    def take(self, piece: Piece) -> Site:
        """The best free site for a piece, which is then taken."""
        score = -3.2 * np.abs(self.levels - piece.level)
        score += 2.6 * self._get_room(piece)
        score -= 8.0 * np.maximum(self.distances - piece.reach_cm, 0.0) / self.dome.above_rim_cm
        for weight, key in zip((1.6, 0.7), _get_kinds(piece), strict=True):
            wanted = math.sqrt(self.dome.area_cm2 / self.counts[key])
            if key in self.nearest_kind:
                score += weight * np.minimum(self.nearest_kind[key] / wanted, 1.0)
        score[~self.free] = -np.inf
        best = int(np.argmax(np.round(score, _SCORE_PLACES)))
        self.free[best] = False
        self.mark(piece, self.sites[best].point)
        return self.real_sites[best]

    def mark(self, piece: Piece, point: Vec) -> None:
        """Count a piece as placed at a point."""
        away = np.sqrt(((self.points - np.array(point)) ** 2).sum(axis=1))
        for key in _get_kinds(piece):
            self.nearest_kind[key] = np.minimum(self.nearest_kind.get(key, away), away)
        self.away[self.placed] = away
        self.widths[self.placed] = self._get_room_width(piece)
        self.heights[self.placed] = point.z / self.dome.above_rim_cm
        self.placed += 1

    def _get_room_width(self, piece: Piece) -> float:
        return min(piece.head.width_cm, self.spacing * 0.8) if piece.material.is_axial else piece.head.width_cm

    def _get_room(self, piece: Piece) -> Numbers:
        """Room beside the nearest neighbour: 0 on top of it, 1 just touching, little more beyond."""
        if not self.placed:
            return np.ones(len(self.sites))
        away, widths = self.away[: self.placed], self.widths[: self.placed]
        ratio = away / (0.5 * (widths + self._get_room_width(piece)))[:, None]
        room: Numbers = np.minimum(ratio.min(axis=0), 1.15)
        large = widths >= self.large_from
        if piece.head.width_cm >= self.large_from and large.any():
            level = np.abs(self.levels - self.heights[: self.placed][large][:, None]) < 0.12
            room -= 0.6 * ((ratio[large] < 1.5) & level).any(axis=0)
        return room


def _get_kinds(piece: Piece) -> tuple[str, str]:
    """What a piece keeps away from: its own material and colour, and its own role."""
    return f"{piece.entry.material} {piece.entry.colour}", f"role {piece.entry.role.value}"


def get_places(pieces: tuple[Piece, ...], recipe: Recipe, catalogue: Catalogue, dome: Dome) -> tuple[Place, ...]:
    """A place for every piece, in the order given."""
    holder = get_holder(recipe, catalogue.get_container(recipe.container))
    greens = _Board(dome, [piece for piece in pieces if piece.is_green])
    flowers = _Board(dome, [piece for piece in pieces if not piece.is_green])
    crown = _find_crown(pieces)
    places = []
    for piece in pieces:
        board = greens if piece.is_green else flowers
        if piece is crown:
            site = Site(Vec(0.0, 0.0, dome.above_rim_cm), Vec(0.0, 0.0, 1.0), 1.0)
            board.mark(piece, site.point)
        else:
            site = board.take(piece)
        days = recipe.brief.days_to_viewing
        places.append(_get_place(piece, site, dome, holder, recipe, get_growth_cm(piece.material, days)))
    return tuple(places)


def _find_crown(pieces: tuple[Piece, ...]) -> Piece | None:
    """The piece that sets the height: the first line stem, else the first flower, else the first green."""
    by_right = sorted(pieces, key=lambda piece: (piece.entry.role is not Role.LINE, piece.is_green))
    return by_right[0] if by_right else None


def _get_place(piece: Piece, site: Site, dome: Dome, holder: Hollow, recipe: Recipe, growth_cm: float) -> Place:
    tip = _get_tip(piece, site, dome)
    base = tip if piece.material.is_axial else tip.plus(site.normal, -piece.head.length_cm)
    start = _get_start(base, dome, holder, foam=recipe.mechanics is Mechanics.FOAM)
    return Place(
        entry=piece.entry,
        material=piece.material,
        number=piece.number,
        head=piece.head,
        tip=tip,
        facing=site.normal,
        start=start,
        growth_cm=growth_cm,
        above_rim_cm=dome.above_rim_cm,
    )


def _get_tip(piece: Piece, site: Site, dome: Dome) -> Vec:
    """The site's point set back to the piece's shell, then drawn in until the whole head is within the outline.

    Greens at the skirt and texture may pass the outline by their shell, but nothing passes the top.
    """
    if site.level >= 1:
        return site.point
    tip = dome.centre.plus(site.point.minus(dome.centre), piece.shell)
    hangs = piece.entry.role is Role.TRAILING and piece.material.is_axial
    if hangs or (piece.material.is_leaf and piece.is_green and site.level < SKIRT_LEVEL):
        return _get_hanging_tip(tip, dome)
    if piece.material.is_axial:
        return tip if tip.z <= dome.above_rim_cm else Vec(tip.x, tip.y, dome.above_rim_cm)
    limit, radius = max(1.0, piece.shell), piece.head.width_cm / 2
    for _ in range(3):
        stretch = max(dome.get_stretch(edge) for edge in _get_edge(tip, site.normal, radius))
        if stretch <= limit:
            break
        tip = dome.centre.plus(tip.minus(dome.centre), limit / stretch)
    upright = get_head_extent(piece.material, site.normal, radius)
    top, bottom = tip.z + upright.top, tip.z + upright.bottom
    lift = max(0.0, LOWEST_SHARE * dome.above_rim_cm - bottom)
    return Vec(tip.x, tip.y, tip.z + min(lift, dome.above_rim_cm - top))


def _get_hanging_tip(tip: Vec, dome: Dome) -> Vec:
    """A leaf at the skirt hangs over the rim and hides it: its tip lower, and drawn in to stay by the outline."""
    low = tip.z - min(SKIRT_HANG_CM, SKIRT_HANG_SHARE * dome.above_rim_cm)
    down = (low - dome.centre.z) / dome.upright_cm
    furthest = math.sqrt(max(0.0, SKIRT_STRETCH**2 - down * down)) * dome.radius_cm
    inwards = min(1.0, furthest / max(tip.reach, 1e-9))
    return Vec(tip.x * inwards, tip.y * inwards, low)


def _get_edge(centre: Vec, normal: Vec, radius: float) -> Iterator[Vec]:
    """Eight points round a disc's edge."""
    level = Vec(-normal.y, normal.x, 0.0).unit if normal.reach > 1e-9 else Vec(1.0, 0.0, 0.0)
    up = Vec(
        normal.y * level.z - normal.z * level.y,
        normal.z * level.x - normal.x * level.z,
        normal.x * level.y - normal.y * level.x,
    )
    for number in range(8):
        turn = number * math.pi / 4
        yield centre.plus(level, radius * math.cos(turn)).plus(up, radius * math.sin(turn))


def _get_start(base: Vec, dome: Dome, holder: Hollow, *, foam: bool) -> Vec:
    """Where the stem to a head's base (a leaf's tip) enters: the further out, the nearer its own rim, but always
    nearer the axis than what it carries, so that stems cross inside; into foam low heads go from the side."""
    outwards = Vec(base.x, base.y, 0.0).unit if base.reach > 1e-9 else Vec(0.0, 1.0, 0.0)
    if foam and base.z < 0.22 * dome.above_rim_cm:
        z = holder.top_z * 0.45
        side = min(holder.get_edge_distance(outwards, z), 0.9 * base.reach)
        if base.reach - side > base.z - z:  # leaning more than 45°; a steeper stem would leave the foam at once
            return Vec(outwards.x * side, outwards.y * side, z)
    share = min(0.94, base.reach / (0.8 * dome.radius_cm))
    radius = min(share * holder.get_edge_distance(outwards, holder.top_z), 0.8 * base.reach)
    return Vec(outwards.x * radius, outwards.y * radius, holder.top_z)
