"""From the site a piece takes to the place it keeps, and back: a kept place is told in shares of the form's size, so it
goes with a change of size, and is laid on the form's surface as that is now.

What is placed anew goes the same way there and back, so that keeping a place never moves a piece.
"""

import math
from dataclasses import replace

import numpy as np

from mirvel.core.forms.form import Form
from mirvel.core.forms.surface import Frame, Site, Surface
from mirvel.core.placing.boards import Board
from mirvel.core.recipe.entry import KeptPlace, Seat
from mirvel.core.space.vectors import Vec

_PLACES = 4  # of a share: a hundredth of a millimetre on a large piece
_FURTHEST = 9.0


def get_kept(number: int, site: Site, shell: float, frame: Frame, seat: Seat) -> KeptPlace:
    """A site of a piece's own surface as the recipe keeps it."""
    across, away, up = (
        max(-_FURTHEST, min(_FURTHEST, round(share, _PLACES)))
        for share in (
            site.point.x / frame.half_width_cm,
            site.point.y / frame.half_depth_cm,
            site.point.z / frame.above_rim_cm,
        )
    )
    # no 0.0 beside -0.0: the same place is the same text
    return KeptPlace(
        number=number, across=across + 0.0, away=away + 0.0, up=up + 0.0, out=round(shell, _PLACES), seat=seat
    )


def get_point(kept: KeptPlace, frame: Frame) -> Vec:
    """Where a kept place is in a frame."""
    return Vec(kept.across * frame.half_width_cm, kept.away * frame.half_depth_cm, kept.up * frame.above_rim_cm)


def find_site(kept: KeptPlace, form: Form, surface: Surface, board: Board | None, *, has_height: bool) -> Site:
    """The site a kept place has on a form: its one crown or token's place, the nearest of the listed places of a board
    that is free (as high as it was kept, where a height is told), or where its own point lies on the surface."""
    crown = form.crown(surface.frame) if kept.seat is Seat.CROWN else None
    if crown:
        return crown
    if kept.seat is Seat.TOKEN and form.token:
        return replace(form.token(surface.frame), level=1.0)
    if board:
        point = get_point(kept, surface.frame)
        site = board.get_site_at(point, lifted=has_height)
        return lift(site, surface.frame, point.z) if has_height else site
    return lay_on_surface(kept, form, surface)


def lay_on_surface(kept: KeptPlace, form: Form, surface: Surface) -> Site:
    """The site of a kept place on lobes or on a covered frame."""
    point = get_point(kept, surface.frame)
    return lay_on_lobe(point, surface) if surface.lobes else _lay_on_frame(point, form.mirror, surface)


def _lay_on_frame(point: Vec, mirror: Vec, surface: Surface) -> Site:
    """The site of a covered frame, or the mirror image of one, that is nearest to a point."""
    flat, points = np.array(point), surface.lattice.points
    here, there = (((points * side - flat) ** 2).sum(axis=1) for side in (np.ones(3), np.array(mirror)))
    one, other = int(np.argmin(here)), int(np.argmin(there))
    sites = surface.lattice.sites
    site = sites[one] if here[one] <= there[other] else sites[other].mirrored(mirror)
    return site.on_middle(mirror) if (point.x if mirror.x < 0 else point.y) == 0.0 else site


def lift(site: Site, frame: Frame, to_cm: float) -> Site:
    """A listed site at another height over the rim, no higher than the form and no lower than the rim."""
    z = min(frame.above_rim_cm, max(0.0, to_cm))
    return replace(site, point=Vec(site.point.x, site.point.y, z), level=z / frame.above_rim_cm)


def slide(site: Site, surface: Surface, up_cm: float) -> Site:
    """A site of a lobe so much further up (or down) over it, in the direction from the lobe's middle that it has."""
    lobe = surface.get_lobe(site.point)
    top = 0.999 * lobe.half.z
    low = math.cos(lobe.lowest_tilt) * lobe.half.z
    z = min(top, max(low, site.point.z + up_cm - lobe.centre.z))
    out = site.point.minus(lobe.centre)
    way = Vec(out.x, out.y, 0.0).unit if out.reach > 1e-6 else Vec(0.0, -1.0, 0.0)
    round_it = (1 - abs(z / lobe.half.z) ** lobe.power) ** (1 / lobe.power)
    reach = round_it / math.hypot(way.x / lobe.half.x, way.y / lobe.get_half_depth(lobe.centre.y + way.y))
    return lay_on_lobe(lobe.centre.plus(way, reach).plus(Vec(0.0, 0.0, z)), surface)


def lay_on_lobe(point: Vec, surface: Surface) -> Site:
    """The point of the lobes straight out (or in) from the middle of the nearest one."""
    lobe = surface.get_lobe(point)
    stretch = lobe.get_stretch(point)
    out = point.minus(lobe.centre)
    point = lobe.centre.plus(out, 1 / stretch) if stretch > 1e-6 else lobe.centre.plus(Vec(0.0, 0.0, lobe.half.z))
    return Site(point, lobe.get_normal(point), point.z / surface.frame.above_rim_cm, lobe.centre)
