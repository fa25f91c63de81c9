"""How far each site is off a pattern that pieces are taken into one by one, given those that have their places: shares
of the form, nothing where it fits."""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from mirvel.core.forms.surface import Site
from mirvel.core.placing.asked import Asked, Numbers
from mirvel.core.placing.runs import Run, get_parts_held
from mirvel.core.recipe.meant import Pattern, PatternKind
from mirvel.core.space.vectors import Vec

GROUP_FROM, GROUP_TO = 1.0, 1.3  # heads of a close group stand so many widths apart
GROUPS_APART = 2.0  # heads of two groups of one kind, so many widths
SPIKES_FROM, IN_FILE = 0.7, 0.3  # spikes beside one another may mingle, and stand side by side rather than in file
SIDE_SHARE = 0.15  # so far from the middle line, as a share of the form, a piece stands to one side
LIFTED = 0.72  # the share of the height over which one of a lifted colour stands
_OWN_APART = 0.85  # of a head, that those gathered about another keep from each other
_OUT_OF_PART = 0.2  # what a place in a part that has one already is off


@dataclass(frozen=True)
class Standing:
    """What is asked, with the free sites as they lie on the surface, in cm and in shares of the form, (n, 3) both, and
    the sites that are found so far."""

    asked: Asked
    points: Numbers
    shares: Numbers
    found: Sequence[Site]

    @property
    def above_cm(self) -> float:
        return self.asked.surface.frame.above_rim_cm

    @property
    def own(self) -> list[Vec]:
        """Where all of the entry stand that have a place."""
        return [*self.asked.own, *(site.point for site in self.found)]

    def get_nearest(self, points: Sequence[Vec]) -> Numbers:
        """How far each site is from the nearest of some points."""
        others = np.array(points)
        nearest: Numbers = np.sqrt(((self.points[:, None] - others) ** 2).sum(axis=2)).min(axis=1)
        return nearest

    def get_beyond(self, away: Numbers, least: float, most: float = math.inf) -> Numbers:
        """By how much distances are less or more than they may be."""
        beyond: Numbers = np.maximum(0.0, np.maximum(least - away, away - most)) / self.above_cm
        return beyond


def get_off(pattern: Pattern | None, standing: Standing) -> Numbers:
    """How far each site is off the pattern for the next piece."""
    find = _OFF.get(pattern.kind) if pattern else None
    return find(standing, pattern) if find and pattern else np.zeros(len(standing.points))


def _get_off_sides(standing: Standing, pattern: Pattern) -> Numbers:
    found = standing.found
    last = found[-1].point.x if found else 0.0
    side = -math.copysign(1.0, last) if last else 1.0 if len(found) % 2 else -1.0
    off: Numbers = np.maximum(0.0, SIDE_SHARE - side * standing.shares[:, 0])
    return off


def _get_off_group(standing: Standing, pattern: Pattern) -> Numbers:
    """Close to its group; the first of the next one well away from all before."""
    own, wide = standing.own, standing.asked.width_cm
    if not own:
        return np.zeros(len(standing.points))
    begun = len(own) % pattern.count if pattern.count else len(own)
    if not begun:
        return standing.get_beyond(standing.get_nearest(own), GROUPS_APART * wide)
    off = standing.get_beyond(standing.get_nearest(own[-begun:]), GROUP_FROM * wide, GROUP_TO * wide)
    others = own[:-begun]
    return off + standing.get_beyond(standing.get_nearest(others), GROUPS_APART * wide) if others else off


def _get_off_beside(standing: Standing, pattern: Pattern) -> Numbers:
    asked = standing.asked
    if not asked.about:
        return np.zeros(len(standing.points))
    other = asked.about[len(standing.found) % len(asked.about)]
    touching = (asked.width_cm + other.width_cm) / 2
    if other.is_axial and asked.waiting[0][0].material.is_axial:  # however high each of the two ends
        across, deep = standing.points[:, 0] - other.point.x, standing.points[:, 1] - other.point.y
        beyond = standing.get_beyond(np.hypot(across, deep), SPIKES_FROM * touching, GROUP_TO * touching)
        return beyond + IN_FILE * np.abs(deep) / standing.above_cm
    return standing.get_beyond(standing.get_nearest([other.point]), GROUP_FROM * touching, GROUP_TO * touching)


def _get_off_gathered(standing: Standing, pattern: Pattern) -> Numbers:
    """As near to the other as it comes, but neither in its head nor in one of their own."""
    asked = standing.asked
    if not asked.about:
        return np.zeros(len(standing.points))
    touching = (asked.width_cm + asked.about[0].width_cm) / 2
    off = standing.get_beyond(standing.get_nearest([each.point for each in asked.about]), touching, touching)
    if standing.own:
        off = off + standing.get_beyond(standing.get_nearest(standing.own), _OWN_APART * asked.width_cm)
    return off


def _get_off_turn(standing: Standing, pattern: Pattern) -> Numbers:
    frame = standing.asked.surface.frame
    half_cm = np.array([frame.half_width_cm, frame.half_depth_cm])
    others, own = (
        np.array([[point.x, point.y] for point in points]).reshape(-1, 2) / half_cm
        for points in ([each.point for each in standing.asked.about], [site.point for site in standing.found])
    )
    return Run(*half_cm).get_off_turn(standing.shares, others, own)


def _get_off_carried(standing: Standing, pattern: Pattern) -> Numbers:
    """Where a part of the piece has none yet, or has fewest."""
    frame = standing.asked.surface.frame
    half = [frame.half_width_cm, frame.half_depth_cm, frame.above_rim_cm]
    own = get_parts_held(np.array(standing.own).reshape(-1, 3) / half)
    held = np.bincount(own, minlength=6)
    parts = get_parts_held(standing.shares)
    off: Numbers = _OUT_OF_PART * (held[parts] - held[np.unique(parts)].min()).astype(np.float64)
    return off


def _get_off_lifted(standing: Standing, pattern: Pattern) -> Numbers:
    """One stands high; the others where they like."""
    is_lifted = any(point.z >= LIFTED * standing.above_cm for point in standing.own)
    off: Numbers = np.zeros(len(standing.points)) if is_lifted else np.maximum(0.0, LIFTED - standing.shares[:, 2])
    return off


_OFF: Mapping[PatternKind, Callable[[Standing, Pattern], Numbers]] = {
    PatternKind.SIDES: _get_off_sides,
    PatternKind.GROUP: _get_off_group,
    PatternKind.BESIDE: _get_off_beside,
    PatternKind.GATHERED: _get_off_gathered,
    PatternKind.ALTERNATING: _get_off_turn,
    PatternKind.CARRIED: _get_off_carried,
    PatternKind.LIFTED: _get_off_lifted,
}
