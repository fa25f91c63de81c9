"""From the site a piece has taken to its place: which way its head looks, where it ends, where its stem goes in."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from mirvel.core.forms.parts import Part
from mirvel.core.forms.surface import Site, Surface
from mirvel.core.goods.container import Container
from mirvel.core.goods.heads import get_growth_cm
from mirvel.core.placing.asked import Neighbour
from mirvel.core.placing.entry_points import Entrances, Stem, get_start
from mirvel.core.placing.holders import get_holder
from mirvel.core.placing.pieces import Piece
from mirvel.core.placing.places import Place, get_head_extent
from mirvel.core.placing.seats import lay_on_surface
from mirvel.core.placing.size import Sizing
from mirvel.core.placing.tips import UPWARDS, get_clear_of_block, get_clear_of_glass, get_tip
from mirvel.core.recipe.entry import KeptPlace
from mirvel.core.recipe.meant import Facing
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.beds import Bed
from mirvel.core.vessels.hollows import Hollow

LAID_SHARE = 0.9  # a spike laid along a frame goes in so much of its length back from its tip
FOOT_SHARE, LAID_WITHIN = 0.75, 0.1  # of its width, that what stands whole, or is laid, has under it round its middle
INSIDE_WALL = 0.92  # of the mouth, that a collar’s blades come out of it at
OWN_BEND = 0.1  # of its length, that a stem which bends does so out of the straight (assumption)
_TOWARDS_VIEWER = Vec(0.0, -1.0, 0.18).unit


@dataclass(frozen=True)
class Seated:
    """The site a piece takes, how far out on it, and the place it has from then on; where a person pinned it its
    ``tip`` instead."""

    site: Site
    shell: float
    kept: KeptPlace | None = None
    tip: Vec | None = None


@dataclass(frozen=True)
class Laid:
    """Pieces in build order with the seats they have: each laid as if it were the only one, and in its place, where its
    stem has found an entry point of its own."""

    settling: "Settling"
    pieces: Sequence[Piece]
    seats: Sequence[Seated]
    alone: Sequence[Place]
    places: tuple[Place, ...]

    def move(self, moved: Mapping[tuple[str, int], KeptPlace]) -> "Laid":
        """The same with some pieces at other places of the form's surface; all others keep their seats."""
        seats, alone = list(self.seats), list(self.alone)
        for at, piece in enumerate(self.pieces):
            kept = moved.get(piece.key)
            if kept:
                site = lay_on_surface(kept, self.settling.form, self.settling.surface)
                seats[at] = Seated(site, kept.out, kept)
                alone[at] = self.settling.lay(piece, seats[at])
        return replace(self, seats=seats, alone=alone, places=self.settling.find_entries(self.pieces, alone))


class Settling:
    """Settles pieces one after the other: each stem finds an entry point that is free."""

    def __init__(self, sizing: Sizing, recipe: Recipe, container: Container) -> None:
        self.form, self.frame, self.recipe, self.container = sizing.form, sizing.frame, recipe, container
        self.surface: Surface = sizing.surface
        self.entrances = [
            Entrances(get_holder(recipe, container, vessel), recipe.mechanics)
            for vessel in range(len(container.vessel_offsets))
        ]

    def find_tip(self, piece: Piece, seated: Seated) -> tuple[Site, Vec]:
        """The site turned the way its head looks, and where it ends."""
        faces = piece.pin is not None and piece.pin.faces is not None
        site = seated.site if faces and piece.meant.facing is Facing.CURVE else turn_site(piece, seated.site)
        if not piece.material.is_axial:
            site = _face_out(site, self.form.least_facing)
        stands = piece.material.stands_whole or piece.material.is_laid
        if seated.tip:
            return replace(site, normal=UPWARDS) if stands else site, seated.tip
        listed, lying = self.form.only_listed, self.form.lies
        tip = get_tip(piece, site, seated.shell, self.surface, listed=listed, lying=lying)
        bed = self.frame.bed
        if bed and not piece.material.is_axial:
            tip = bed.get_clear_of_foam(tip, site.normal, seated.site.normal, piece.head.length_cm)
        holder = self.entrances[site.vessel].holder
        if stands:
            share = LAID_WITHIN if piece.material.is_laid else FOOT_SHARE
            foot = _get_foot(seated.site.point, holder, share * piece.head.width_cm)
            return replace(site, normal=UPWARDS), Vec(foot[0], foot[1], holder.top_z + piece.head.length_cm)
        if isinstance(holder, Hollow) and not piece.zone:
            clear = get_clear_of_glass if holder.wall_cm else get_clear_of_block
            tip = clear(piece, tip, site.normal, holder)
        return site, tip

    def find_top(self, piece: Piece, seated: Seated) -> float:
        """How high the highest point of a head stands above the rim, cm."""
        site, tip = self.find_tip(piece, seated)
        return tip.z + get_head_extent(piece.material, site.normal, piece.head.width_cm / 2).top

    def find_head(self, piece: Piece, seated: Seated) -> Neighbour:
        """A placed head as others are placed about it."""
        site, tip = self.find_tip(piece, seated)
        return Neighbour(tip, site.normal, piece.head.width_cm, piece.material.is_axial)

    def settle(self, pieces: Sequence[Piece], seats: Sequence[Seated]) -> Laid:
        """Pieces laid in build order, so that each stem finds its own entry point."""
        alone = [self.lay(piece, seated) for piece, seated in zip(pieces, seats, strict=True)]
        return Laid(self, pieces, seats, alone, self.find_entries(pieces, alone))

    def find_entries(self, pieces: Sequence[Piece], alone: Sequence[Place]) -> tuple[Place, ...]:
        """The places of pieces that were laid each by itself."""
        places = list(alone)
        goes_in = [not (piece.zone or piece.material.is_laid) for piece in pieces]
        for vessel, entrances in enumerate(self.entrances):
            own = [at for at, place in enumerate(places) if place.vessel == vessel and goes_in[at]]
            stems = [Stem(places[at].start, places[at].measured_to, places[at].material) for at in own]
            for at, start in zip(own, entrances.settle(stems), strict=True):
                places[at] = replace(places[at], start=start)
        return tuple(places)

    def lay(self, piece: Piece, seated: Seated) -> Place:
        """The place of a piece as it would be, were it the only one."""
        site, tip = self.find_tip(piece, seated)
        holder = self.entrances[site.vessel].holder
        base = tip if piece.material.is_axial else tip.plus(site.normal, -piece.head.length_cm)
        if piece.material.stands_whole or piece.material.is_laid:
            start = Vec(tip.x, tip.y, holder.top_z)
        elif piece.zone == Part.INSIDE:
            start = Vec(tip.x, tip.y, -self.container.depth_cm)
        elif piece.zone:
            start = self._get_collar_start(tip, holder.top_z)
        else:
            over = self._lay_along(piece, base)
            start = get_start(over, self.frame, holder, self.form.entering, self.recipe.mechanics)
        return Place(
            entry=piece.entry,
            material=piece.material,
            number=piece.number,
            head=piece.head,
            tip=tip,
            facing=site.normal,
            start=start,
            growth_cm=get_growth_cm(piece.material, self.recipe.brief.days_to_viewing),
            above_rim_cm=self.frame.above_rim_cm,
            vessel=site.vessel,
            bow=OWN_BEND if piece.meant.facing is Facing.CURVE and not piece.zone else site.bow,
            zone=piece.zone,
            kept=seated.kept,
        )

    def _get_collar_start(self, tip: Vec, z: float) -> Vec:
        """Where a blade of a collar comes out of the mouth: below its tip, and inside the wall."""
        across, away = tip.x / self.frame.mouth_half_cm, tip.y / self.frame.mouth_half_depth_cm
        inwards = min(1.0, INSIDE_WALL / max(1e-9, math.hypot(across, away)))
        return Vec(inwards * tip.x, inwards * tip.y, z)

    def _lay_along(self, piece: Piece, base: Vec) -> Vec:
        """What a stem goes in under: its head or, where a form lays its spikes along the frame, further back."""
        if self.form.laid_from is None or piece.material.is_leaf or not piece.material.is_axial:
            return base
        return base.plus(self.form.laid_from(self.frame, base), LAID_SHARE * piece.head.length_cm)


def _get_foot(tip: Vec, holder: Bed | Hollow, around_cm: float) -> tuple[float, float]:
    """Where something stands whole or is laid: below its place, or as near to that as it is held all round."""
    if isinstance(holder, Bed):
        return holder.get_held_in((tip.x, tip.y), around_cm)
    off = Vec(tip.x - holder.middle_x, tip.y, 0.0)
    if off.reach < 1e-9:
        return holder.middle_x, 0.0
    within = holder.get_edge_distance(off, max(0.0, holder.top_z)) - around_cm
    share = min(1.0, max(0.0, within) / off.reach)
    return holder.middle_x + share * off.x, share * off.y


def turn_site(piece: Piece, site: Site) -> Site:
    """A site whose head looks the way it is meant to."""
    match piece.meant.facing:
        case Facing.UP:
            return replace(site, normal=UPWARDS)
        case Facing.VIEWER:
            return replace(site, normal=_TOWARDS_VIEWER)
        case Facing.CURVE:
            return replace(site, normal=site.normal.plus(UPWARDS).unit)
        case Facing.OUT:
            level = Vec(site.normal.x, site.normal.y, 0.0)
            return replace(site, normal=level.unit) if level.length > 1e-6 else site
    return site


def _face_out(site: Site, least: float) -> Site:
    """A site whose bloom would face the ground (or, hung, the wall) turned up (or to the room) as far as it has to."""
    if site.normal.z >= least:
        return site
    level = Vec(site.normal.x, site.normal.y, 0.0).unit.scaled(math.sqrt(1 - least * least))
    return replace(site, normal=level.plus(Vec(0.0, 0.0, least)))
