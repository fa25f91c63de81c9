"""How far out a piece stands that is meant to be proud, tucked in, or told by the leaves about it: as a share of the
way out to the outline, 1 on it."""

from collections.abc import Sequence

from mirvel.core.forms.covering import get_over_cm
from mirvel.core.forms.surface import Site, Surface
from mirvel.core.placing.pieces import Piece
from mirvel.core.recipe.meant import DepthKind
from mirvel.core.space.vectors import Vec

TUCKED_SHARE = 0.6  # of its width a head that is tucked in stands inside the outline
ABOUT_CM = 4.0  # leaf tips are about a head that are no further from it than its width and so much more
_MOVED_OUT = 3
_LEAST_SHELL, _MOST_SHELL = 0.3, 3.0  # between which a kept place stands


def get_meant_shell(piece: Piece, site: Site, surface: Surface, leaves: Sequence[Vec]) -> float:
    """How far out a piece stands by what is meant by its entry; ``leaves`` are the tips of the greens that have their
    places."""
    depth = piece.meant.depth
    way = site.point.minus(site.centre).length if surface.lobes else get_over_cm(surface.frame.above_rim_cm)

    def get_shell(by: float) -> float:
        return min(_MOST_SHELL, max(_LEAST_SHELL, 1 + by / max(way, 1e-6)))

    if depth is None:
        return 1.0
    if depth.kind is DepthKind.PROUD:
        return get_shell(depth.by)
    if depth.kind is DepthKind.TUCKED:
        return get_shell(-TUCKED_SHARE * piece.head.width_cm)
    shell = 1.0
    for _ in range(_MOVED_OUT):  # further out, other leaves are about it
        point = site.centre.plus(site.point.minus(site.centre), shell) if surface.lobes else site.point
        outs = get_leaves_out(point, piece.head.width_cm, leaves, surface)
        if not outs:
            break
        is_clear = depth.kind is DepthKind.CLEAR
        shell = get_shell(max(outs) + depth.by if is_clear else (max(outs) + min(outs)) / 2)
    return shell


def get_leaves_out(point: Vec, width_cm: float, leaves: Sequence[Vec], surface: Surface) -> list[float]:
    """How far outside the outline the leaf tips about a head of a width stand, cm; negative inside."""
    near = width_cm + ABOUT_CM
    return [get_out_cm(leaf, surface) for leaf in leaves if leaf.minus(point).length <= near]


def get_out_cm(point: Vec, surface: Surface) -> float:
    """How far outside of the surface a point stands, cm; negative inside."""
    if not surface.lobes:
        return (surface.get_stretch(point) - 1) * surface.frame.above_rim_cm
    lobe = surface.get_lobe(point)
    away, stretch = point.minus(lobe.centre).length, lobe.get_stretch(point)
    return away * (1 - 1 / stretch) if stretch > 1e-9 else -away
