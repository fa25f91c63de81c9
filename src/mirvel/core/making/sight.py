"""What an eye sees of a piece that it should not: foam between the flowers, and gaps right through the form.

Points spread evenly over the foam, and over the form, are looked at along straight lines from each side the piece is
seen from; what hides them is in ``shades``.
"""

import math
from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace

import numpy as np

from mirvel.core.forms.form import Form
from mirvel.core.forms.surface import Surface
from mirvel.core.house.design import SeenFrom
from mirvel.core.making.foam import spread_foam
from mirvel.core.making.shades import Mask, Numbers, get_shades, hide
from mirvel.core.placing.places import Place
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.beds import Bed
from mirvel.core.vessels.hollows import Hollow

_FACING = 0.15  # foam seen more slantingly than this does not count
_MIDDLE = 0.5  # a form is looked through where it faces the eye as much as this: its edges are loose
_BEHIND_CM = 400.0
_BESIDE = 1.6  # bare points nearer than so many mean spacings belong to one patch
_PAST_DEG = 25.0  # people walk past a piece that hangs (assumption)


def _look(turn_deg: float) -> Vec:
    """Towards an eye so far round from the designer's side, to the right, and level with the piece as on drawings."""
    turn = math.radians(turn_deg)
    return Vec(math.sin(turn), -math.cos(turn), 0.0)


_LYING = {"front": _look(0), "right": _look(90), "back": _look(180), "left": _look(270), "above": Vec(0.0, 0.0, 1.0)}
_HUNG = {"front": _look(0), "right": _look(_PAST_DEG), "left": _look(-_PAST_DEG)}


@dataclass(frozen=True)
class Sight:
    """What is seen from one side: the share of the foam facing there that shows, its largest patch and the middle of
    that; and the share of the form past which the eye goes right through, with its middle."""

    side: str
    foam: float = 0.0
    patch_cm2: float = 0.0
    foam_at: Vec | None = None
    gaps: float = 0.0
    gaps_at: Vec | None = None

    @property
    def seen_from(self) -> str:
        """The side in words."""
        return self.side if self.side == "above" else f"the {self.side}"

    def across(self) -> "Sight":
        """What is seen of the piece with left and right exchanged."""
        foam_at, gaps_at = (each.across(-1.0) if each else None for each in (self.foam_at, self.gaps_at))
        side = {"left": "right", "right": "left"}.get(self.side, self.side)
        return replace(self, side=side, foam_at=foam_at, gaps_at=gaps_at)


def get_sides(form: Form, seen_from: SeenFrom) -> Mapping[str, Vec]:
    """The sides a piece is looked at from as it hangs, lies or stands, each towards the eye in the form's own frame."""
    sides = _HUNG if form.hangs else _LYING
    if seen_from is SeenFrom.FRONT:
        sides = {name: look for name, look in sides.items() if name != "back"}
    found = {name: form.pose.turn_back(look) for name, look in sides.items()}
    # a horn on its side hides what lies in it from behind its mouth
    return {name: look for name, look in found.items() if look.z > 0} if form.lies else found


@dataclass(frozen=True, eq=False)
class Look:
    """What faces an eye on one side of a piece: points over its foam, each for so much of it, (n), and points behind
    its form that an eye which sees them looks right through it at; (n, 3), each with its point of the form."""

    side: str
    towards: Numbers
    foam: Numbers
    each_cm2: Numbers
    form: Numbers
    behind: Numbers


def get_looks(
    surface: Surface, foam: Bed | Hollow | None, sides: Mapping[str, Vec], through: Collection[str]
) -> tuple[Look, ...]:
    """What is looked at from each side; ``through`` those from which no eye should look right through the form."""
    found = []
    points, normals, each_cm2 = spread_foam(foam) if foam else (np.zeros((0, 3)), np.zeros((0, 3)), np.zeros(0))
    for name, side in sides.items():
        towards = np.array(side)
        over = normals @ towards > _FACING
        # an outline is seen right through where nothing stands before or behind it
        form = _get_facing(surface.outline, towards, _MIDDLE) if name in through else np.zeros((0, 3))
        found.append(Look(name, towards, points[over], each_cm2[over], form, form - _BEHIND_CM * towards))
    return tuple(found)


def get_sights(places: tuple[Place, ...], looks: tuple[Look, ...]) -> tuple[Sight, ...]:
    """What is seen from each side."""
    shades = get_shades([place for place in places if not place.is_inside])
    found = []
    for look in looks:
        is_bare = ~hide(shades, look.foam, look.towards)
        bare, each_cm2 = look.foam[is_bare], look.each_cm2[is_bare]
        patch = find_largest_patch(bare, _BESIDE * math.sqrt(each_cm2.max(initial=0.0)))
        gaps = look.form[~hide(shades, look.behind, look.towards)]
        found.append(
            Sight(
                look.side,
                float(each_cm2.sum() / look.each_cm2.sum()) if len(look.foam) else 0.0,
                float(each_cm2[patch].sum()),
                _get_middle(bare[patch]),
                len(gaps) / max(1, len(look.form)),
                _get_middle(gaps),
            )
        )
    return tuple(found)


def _get_facing(over: tuple[Numbers, Numbers], towards: Numbers, facing: float) -> Numbers:
    """Of points with their normals, those that face an eye."""
    points, normals = over
    faced: Numbers = points[normals @ towards > facing]
    return faced


def _get_middle(points: Numbers) -> Vec | None:
    return Vec(*(float(part) for part in points.mean(axis=0))) if len(points) else None


def find_largest_patch(bare: Numbers, beside_cm: float) -> Mask:
    """Which of bare points are the largest group in which each is near another; of two as large, the one told first."""
    near = ((bare[:, None] - bare) ** 2).sum(axis=2) <= beside_cm**2
    waiting = np.ones(len(bare), dtype=bool)
    best = np.zeros(len(bare), dtype=bool)
    while waiting.any():
        patch = np.zeros(len(bare), dtype=bool)
        ahead = np.arange(len(bare)) == np.argmax(waiting)
        while ahead.any():
            patch |= ahead
            ahead = near[ahead].any(axis=0) & ~patch
        waiting &= ~patch
        if patch.sum() > best.sum():
            best = patch
    return best
