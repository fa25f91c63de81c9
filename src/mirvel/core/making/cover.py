"""Cover: how much of a surface lies under a head or leaf, the union and not the sum, and the largest bare patch.

The sites of a surface stand for equal shares of it. A bloom covers what lies within half its width of its tip; a spike
or leaf what lies beside it along its length. What is under a bow or other token is hidden and does not count.
"""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from mirvel.core.forms.surface import Surface
from mirvel.core.goods.facts import HeadForm, Role
from mirvel.core.goods.material import Material
from mirvel.core.placing.places import Place
from mirvel.core.space.vectors import Vec

Numbers = NDArray[np.float64]
LEAF_SHARE = 0.35  # a leaf or branch is taken to close so much of its width to either side (assumption)
_CLOSED_BY_TWIGS = 0.17  # of the width of a bare twig, as it is drawn
_BESIDE = 1.6  # bare sites nearer than so many mean spacings belong to one patch


@dataclass(frozen=True)
class Cover:
    """Shares of the surface under blooms, and under anything; the largest patch under nothing and its middle."""

    by_blooms: float
    closed: float
    hole_cm2: float
    hole_at: Vec | None

    def across(self) -> "Cover":
        """The cover of the piece with left and right exchanged."""
        return replace(self, hole_at=self.hole_at.across(-1.0) if self.hole_at else None)


def get_cover(places: tuple[Place, ...], surface: Surface) -> Cover:
    """The cover of a surface by placed pieces. A surface without sites counts as closed."""
    sites = np.array([surface.fit(site).point for site in surface.lattice.sites])
    tokens = [place for place in places if place.entry.role is Role.TOKEN]
    hidden = _get_within(sites, [place.tip for place in tokens], [place.half_width_cm for place in tokens])
    sites = sites[~hidden]
    if not len(sites):
        return Cover(1.0, 1.0, 0.0, None)
    others = [place for place in places if place.entry.role is not Role.TOKEN and not place.is_inside]
    bloomed = _get_covered(sites, [place for place in others if place.material.is_bloom])
    leafy = _get_covered(sites, [place for place in others if not place.material.is_bloom])
    each_cm2 = surface.area_cm2 / len(surface.lattice.sites)
    patch = _get_largest_patch(sites[~(bloomed | leafy)], _BESIDE * float(np.sqrt(each_cm2)))
    middle = Vec(*(float(part) for part in patch.mean(axis=0))) if len(patch) else None
    return Cover(float(bloomed.mean()), float((bloomed | leafy).mean()), round(len(patch) * each_cm2, 6), middle)


def _get_closed_share(material: Material) -> float:
    """Of its width, how much it closes."""
    if material.form is HeadForm.TWIG:
        return _CLOSED_BY_TWIGS
    return 2 * LEAF_SHARE if material.is_leaf else 1.0


def _get_covered(sites: Numbers, places: list[Place]) -> NDArray[np.bool_]:
    points: list[Vec] = []
    radii: list[float] = []
    for place in places:
        steps = (0.0, 0.33, 0.66, 1.0) if place.material.is_axial else (0.0,)
        for step in steps:
            points.append(place.tip.plus(place.axis, -step * place.shown_length_cm))
            radii.append(place.half_width_cm * _get_closed_share(place.material))
    return _get_within(sites, points, radii)


def _get_within(sites: Numbers, points: list[Vec], radii: list[float]) -> NDArray[np.bool_]:
    if not points:
        return np.zeros(len(sites), dtype=bool)
    away = ((sites[:, None, :] - np.array(points)) ** 2).sum(axis=2)
    within: NDArray[np.bool_] = (away <= np.array(radii) ** 2 + 1e-9).any(axis=1)
    return within


def _get_largest_patch(bare: Numbers, beside_cm: float) -> Numbers:
    """Of bare sites, the largest group in which each is near another."""
    waiting = set(range(len(bare)))
    best: list[int] = []
    while waiting:
        patch, ahead = [], [min(waiting)]
        waiting.discard(ahead[0])
        while ahead:
            at = ahead.pop()
            patch.append(at)
            near = [other for other in waiting if ((bare[other] - bare[at]) ** 2).sum() <= beside_cm**2]
            waiting.difference_update(near)
            ahead += near
        best = max(best, sorted(patch), key=len)
    return bare[best]
