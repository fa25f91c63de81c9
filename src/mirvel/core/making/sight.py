"""What an eye sees of a piece that it should not: foam between the flowers, and gaps right through the form.

Points spread evenly over the foam, and over the form, are looked at along straight lines from each side the piece is
seen from; what hides them is in ``shades``.
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from mirvel.core.forms.surface import Surface
from mirvel.core.house.design import SeenFrom
from mirvel.core.making.foam import spread_foam
from mirvel.core.making.shades import Numbers, Shades, get_shades, hide
from mirvel.core.placing.places import Place
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.beds import Bed
from mirvel.core.vessels.hollows import Hollow

_FACING = 0.15  # foam seen more slantingly than this does not count
_MIDDLE = 0.5  # a form is looked through where it faces the eye as much as this: its edges are loose
_BEHIND_CM = 400.0
_PAST_DEG, _DOWN_DEG = 25.0, 20.0  # people walk past a piece that hangs, and look down on one that lies (assumptions)


def _look(turn_deg: float, down_deg: float) -> Vec:
    """Towards an eye so far round from the designer's side (to the right) and so high."""
    turn, down = math.radians(turn_deg), math.radians(down_deg)
    return Vec(math.sin(turn) * math.cos(down), -math.cos(turn) * math.cos(down), math.sin(down))


_LYING = {
    "front": _look(0, _DOWN_DEG),
    "right": _look(90, _DOWN_DEG),
    "back": _look(180, _DOWN_DEG),
    "left": _look(270, _DOWN_DEG),
    "above": Vec(0.0, 0.0, 1.0),
}
_PAST = math.radians(_PAST_DEG)
_HUNG = {
    "front": Vec(0.0, 0.0, 1.0),
    "right": Vec(math.sin(_PAST), 0.0, math.cos(_PAST)),
    "left": Vec(-math.sin(_PAST), 0.0, math.cos(_PAST)),
}


@dataclass(frozen=True)
class Sight:
    """What is seen from one side: the share of the foam facing there that shows, and the share of the form past which
    the eye goes right through; with the middle of each."""

    side: str
    foam: float = 0.0
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


def get_sides(*, hangs: bool, seen_from: SeenFrom) -> Mapping[str, Vec]:
    """The sides a piece is looked at from, each towards the eye."""
    if hangs:
        return _HUNG
    if seen_from is SeenFrom.FRONT:
        return {name: look for name, look in _LYING.items() if name != "back"}
    return _LYING


@dataclass(frozen=True, eq=False)
class Look:
    """What faces an eye on one side of a piece: points over its foam, and points behind its form that an eye which
    sees them looks right through it at; (n, 3), each with the point of the form it stands for."""

    side: str
    towards: Numbers
    foam: Numbers
    form: Numbers
    behind: Numbers


def get_looks(surface: Surface, foam: Bed | Hollow | None, sides: Mapping[str, Vec]) -> tuple[Look, ...]:
    """What is looked at from each side."""
    found = []
    for name, side in sides.items():
        towards = np.array(side)
        over = _get_facing(spread_foam(foam), towards, _FACING) if foam else np.zeros((0, 3))
        # an outline is seen right through where nothing stands before or behind it
        form = _get_facing(surface.outline, towards, _MIDDLE)
        found.append(Look(name, towards, over, form, form - _BEHIND_CM * towards))
    return tuple(found)


def get_sights(places: tuple[Place, ...], looks: tuple[Look, ...]) -> tuple[Sight, ...]:
    """What is seen from each side."""
    shades = get_shades([place for place in places if not place.is_inside])
    found = []
    for look in looks:
        shows, shows_at = _find_bare(look.foam, look.foam, shades, look.towards)
        gaps, gaps_at = _find_bare(look.form, look.behind, shades, look.towards)
        found.append(Sight(look.side, shows, shows_at, gaps, gaps_at))
    return tuple(found)


def _get_facing(over: tuple[Numbers, Numbers], towards: Numbers, facing: float) -> Numbers:
    """Of points with their normals, those that face an eye."""
    points, normals = over
    faced: Numbers = points[normals @ towards > facing]
    return faced


def _find_bare(points: Numbers, seen: Numbers, shades: Shades, towards: Numbers) -> tuple[float, Vec | None]:
    """The share of points whose place an eye sees, and the middle of those it does."""
    bare = points[~hide(shades, seen, towards)]
    middle = Vec(*(float(part) for part in bare.mean(axis=0))) if len(bare) else None
    return len(bare) / max(1, len(points)), middle
