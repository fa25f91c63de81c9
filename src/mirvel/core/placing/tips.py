"""Where a head or leaf ends once it has a site: set back to its shell, and within the outline as a whole.

What may break the outline passes it by its shell, 10 % at most; nothing passes the top, and nothing hangs far below
the rim but what trails.
"""

import math

import numpy as np

from mirvel.core.forms.covering import get_over_cm
from mirvel.core.forms.surface import Frame, Lobe, Site, Surface
from mirvel.core.goods.facts import Role
from mirvel.core.placing.pieces import Piece
from mirvel.core.placing.places import get_head_extent
from mirvel.core.recipe.meant import DepthKind, Facing
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.beds import Bed
from mirvel.core.vessels.hollows import Hollow

LOWEST_SHARE = -0.22  # no head hangs further below the rim than this share of the height above it
SKIRT_LEVEL = 0.08
_ON_SURFACE = 0.0005
_ALONG_HEAD, _MOST_BESIDE_CM = (0.0, 0.25, 0.5, 0.75, 1.0), 1.5
UPWARDS = Vec(0.0, 0.0, 1.0)
TABLE_CLEAR_CM = 1.5
COLLAR_CLEAR_CM, MOST_SHELL = 1.0, 1.1
_GLASS_CLEAR_CM, _MOST_PUSHED_CM, _WAY_DOWN = 0.2, 1.0, (0.01, 0.02, 0.05, 0.1, 0.2, 0.35, 0.5, 0.7, 1.0)
LOWEST_IN_LOBE = 0.9  # a hanging tip goes this far down its lobe, so that some way round it is left
PAST_FOOT_CM, BESIDE_FOAM_CM = 1.0, 2.0  # how far over a block of foam leaves hang that hide its side
SKIRT_HANG_CM, SKIRT_HANG_SHARE, SKIRT_STRETCH = 4.0, 0.25, 1.08


def get_tip(piece: Piece, site: Site, shell: float, surface: Surface, *, listed: bool, lying: bool) -> Vec:
    """The end of a piece at a site, ``shell`` how far out it may stand (1 the outline). In a form lying on its side
    nothing hangs towards the rim, and nothing sinks into the table, which lies along the front of its mouth."""
    tip = _get_tip_within(piece, site, shell, surface, listed=listed, lying=lying)
    if not lying:
        return tip if surface.frame.bed or site.zone else _lift_off_table(piece, site, tip, surface.frame)
    lowest = tip.y + get_head_extent(piece.material, site.normal, piece.head.width_cm / 2).front
    if piece.material.is_leaf:  # a blade lies on the table by its edge
        lowest -= piece.head.width_cm / 2
    return Vec(tip.x, tip.y + max(0.0, -surface.frame.mouth_half_depth_cm - lowest), tip.z)


def _lift_off_table(piece: Piece, site: Site, tip: Vec, frame: Frame) -> Vec:
    """A head that is wider than its piece is high rises over the top rather than reach into the table."""
    bottom = tip.z + get_head_extent(piece.material, site.normal, piece.head.width_cm / 2).bottom
    return Vec(tip.x, tip.y, tip.z + max(0.0, TABLE_CLEAR_CM - frame.rim_height_cm - bottom))


def _get_tip_within(piece: Piece, site: Site, shell: float, surface: Surface, *, listed: bool, lying: bool) -> Vec:
    above = surface.frame.above_rim_cm
    if site.zone:
        return site.point
    if listed or site.level >= 1:
        return _drop_below_top(piece, site.point, site.normal, above)
    if not surface.lobes:
        return _get_tip_on_frame(piece, site, shell, surface)
    lobe = surface.get_lobe(site.point)
    tip = lobe.centre.plus(site.point.minus(lobe.centre), shell)
    hangs = piece.entry.role is Role.TRAILING and piece.material.is_axial
    if not lying and (hangs or (piece.material.is_leaf and piece.is_green and site.level < SKIRT_LEVEL)):
        stretch = SKIRT_STRETCH if piece.entry.may_break_outline else 1.0
        before = _hang_over_side(tip, lobe, surface.frame, surface.frame.bed) if surface.frame.bed else None
        return before or _get_hanging_tip(tip, lobe, surface.frame, stretch)
    if piece.material.is_axial:
        return tip if tip.z <= above else Vec(tip.x, tip.y, above)
    depth = piece.meant.depth
    limit = math.inf if depth and depth.kind in {DepthKind.PROUD, DepthKind.CLEAR} else max(1.0, shell)
    radius = piece.head.width_cm / 2
    for _ in range(3):
        stretch = _get_widest_stretch(lobe, tip, site.normal, radius)
        if stretch <= limit:
            break
        drawn_in = lobe.centre.plus(tip.minus(lobe.centre), limit / stretch)
        # what is meant to look up, or to end at a height, keeps that: it is drawn in level
        is_level = piece.meant.facing is Facing.UP or piece.meant.height is not None
        tip = drawn_in._replace(z=tip.z) if is_level else drawn_in
    upright = get_head_extent(piece.material, site.normal, radius)
    top, bottom = tip.z + upright.top, tip.z + upright.bottom
    lowest = TABLE_CLEAR_CM - surface.frame.rim_height_cm
    if surface.frame.bed is None:  # over the side of an open block of foam heads may hang as low as it is
        lowest = max(LOWEST_SHARE * above, lowest)
    lift = 0.0 if lying else max(0.0, lowest - bottom)
    return Vec(tip.x, tip.y, tip.z + min(lift, above - top))


def get_clear_of_glass(piece: Piece, tip: Vec, normal: Vec, vessel: Hollow) -> Vec:
    """The same tip where neither the base of its head nor a hanging tip lies in the vessel or its wall: what hangs
    goes down outside it, where it comes so far out, and all else is lifted as high as its rim."""
    base = tip if piece.material.is_axial else tip.plus(normal, -piece.head.length_cm)
    if base.z >= vessel.top_z:
        return tip
    off = Vec(base.x - vessel.middle_x, base.y, 0.0)
    way = off.unit if off.reach > 1e-9 else Vec(0.0, -1.0, 0.0)
    rim, top = vessel.get_out_of_wall(way, vessel.top_z), vessel.top_z + vessel.wall_cm
    # how far out it has to be, for the straight way there from over the rim to clear the wall at each height
    heights = [vessel.top_z + share * (base.z - vessel.top_z) for share in _WAY_DOWN]
    clear = [rim + (vessel.get_out_of_wall(way, z) - rim) * (base.z - top) / (z - top) for z in heights]
    short = max(clear) + _GLASS_CLEAR_CM - off.reach
    if short <= 0:
        return tip
    if piece.material.is_axial and short <= _MOST_PUSHED_CM:
        return tip.plus(way, short)
    return Vec(tip.x, tip.y, tip.z + vessel.top_z - base.z)


def get_clear_of_block(piece: Piece, tip: Vec, normal: Vec, block: Hollow) -> Vec:
    """The same tip where no part of its head, along the middle of it, lies in a block of foam: it is lifted on to the
    block, or moved out beside it where that is little."""
    if piece.material.is_axial:
        return tip
    low, out = _get_in_block(piece, tip, normal, block)
    way = Vec(tip.x - block.middle_x, tip.y, 0.0)
    if out < min(low, _MOST_BESIDE_CM) and way.reach > _ON_SURFACE:
        beside = tip.plus(way.unit, out)
        if _get_in_block(piece, beside, normal, block)[1] < _ON_SURFACE:
            return beside
    while low:  # a block is wider at its top: what was beside it may come over it
        tip = tip.plus(UPWARDS, low)
        low, _ = _get_in_block(piece, tip, normal, block)
    return tip


def _get_in_block(piece: Piece, tip: Vec, normal: Vec, block: Hollow) -> tuple[float, float]:
    """How far below the top of a block, and how far inside its side, the middle of a head lies at most."""
    low, out = 0.0, 0.0
    for share in _ALONG_HEAD:
        at = tip.plus(normal, -share * piece.head.length_cm)
        off = Vec(at.x - block.middle_x, at.y, 0.0)
        deep = block.get_edge_distance(off, at.z) - off.reach
        if deep > 0 and at.z < block.top_z - _ON_SURFACE:
            low, out = max(low, block.top_z - at.z), max(out, deep)
    return low, out


def _get_tip_on_frame(piece: Piece, site: Site, shell: float, surface: Surface) -> Vec:
    """On a covered frame: set back towards the foam by its shell, never above the top nor behind the frame's back."""
    frame = surface.frame
    if not piece.material.is_leaf:
        shell = min(shell, MOST_SHELL)
    tip = site.point.plus(site.normal, (shell - 1) * get_over_cm(frame.above_rim_cm))
    if not site.point.x:
        tip = _set_back(tip, site.normal, max(1.0, shell), surface)
    if piece.material.is_leaf and piece.is_green and shell > 1:  # the collar hangs over the side and hides it
        return Vec(tip.x, tip.y, COLLAR_CLEAR_CM - frame.rim_height_cm)
    reach = get_head_extent(piece.material, site.normal, piece.head.width_cm / 2)
    lift = max(0.0, -frame.rim_height_cm - (tip.z + reach.bottom))
    return Vec(tip.x, tip.y, min(tip.z + lift, frame.above_rim_cm - reach.top))


def _set_back(tip: Vec, normal: Vec, limit: float, surface: Surface) -> Vec:
    """A site moved on to the middle line lies before the surface where that has a notch: back to it."""
    for _ in range(12):
        before = surface.get_stretch(tip) - limit
        if before <= _ON_SURFACE:
            break
        tip = tip.plus(normal, -before * get_over_cm(surface.frame.above_rim_cm))
    return tip


def _drop_below_top(piece: Piece, point: Vec, normal: Vec, above: float) -> Vec:
    top = point.z + get_head_extent(piece.material, normal, piece.head.width_cm / 2).top
    return Vec(point.x, point.y, point.z - max(0.0, top - above))


def _get_hanging_tip(tip: Vec, lobe: Lobe, frame: Frame, stretch: float) -> Vec:
    """A leaf at the skirt hangs over the rim and hides it: its tip lower, and drawn in to stay by the outline. It
    clears the table by a finger."""
    low = tip.z - min(SKIRT_HANG_CM, SKIRT_HANG_SHARE * frame.above_rim_cm)
    low = max(low, TABLE_CLEAR_CM - frame.rim_height_cm, lobe.centre.z - LOWEST_IN_LOBE * lobe.half.z)
    down = abs(low - lobe.centre.z) / lobe.half.z
    furthest = max(0.0, stretch**lobe.power - down**lobe.power) ** (1 / lobe.power)
    off = Vec((tip.x - lobe.centre.x) / lobe.half.x, (tip.y - lobe.centre.y) / lobe.get_half_depth(tip.y), 0.0)
    inwards = min(1.0, furthest / max(off.reach, 1e-9))
    x, y = tip.x - lobe.centre.x, tip.y - lobe.centre.y
    return Vec(lobe.centre.x + x * inwards, lobe.centre.y + y * inwards, low)


def _hang_over_side(tip: Vec, lobe: Lobe, frame: Frame, bed: Bed) -> Vec | None:
    """A leaf at the skirt of an open block of foam hangs straight down before its side to its foot, and clears the
    table; none where the outline, as it is looked down on, leaves no room for it there."""
    low = max(min(tip.z, bed.bottom_z - PAST_FOOT_CM), TABLE_CLEAR_CM - frame.rim_height_cm)
    at = (tip.x, tip.y)
    inside = float(bed.outline.get_depths(np.array([at]))[0])
    if inside > -BESIDE_FOAM_CM:
        x, y = bed.outline.get_nearest_edge(at)
        out = Vec(x - tip.x, y - tip.y, 0.0).scaled(math.copysign(1.0, inside)).unit
        at = (x + BESIDE_FOAM_CM * out.x, y + BESIDE_FOAM_CM * out.y)
    has_room = lobe.get_stretch(Vec(*at, lobe.centre.z)) <= SKIRT_STRETCH
    return Vec(*at, low) if has_room else None


_EIGHTHS = tuple((math.cos(n * math.pi / 4), math.sin(n * math.pi / 4)) for n in range(8))


def _get_widest_stretch(lobe: Lobe, centre: Vec, normal: Vec, radius: float) -> float:
    """How far out the edge of a disc lies at its furthest, at eight points round it."""
    level = Vec(-normal.y, normal.x, 0.0).unit if normal.reach > 1e-9 else Vec(1.0, 0.0, 0.0)
    (nx, ny, nz), (lx, ly, lz) = normal, level
    ux, uy, uz = ny * lz - nz * ly, nz * lx - nx * lz, nx * ly - ny * lx
    return max(
        lobe.get_stretch(
            Vec(
                centre.x + radius * (cos * lx + sin * ux),
                centre.y + radius * (cos * ly + sin * uy),
                centre.z + radius * (cos * lz + sin * uz),
            )
        )
        for cos, sin in _EIGHTHS
    )
