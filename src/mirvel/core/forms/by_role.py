"""The tables of what pieces wish for by their role: what is usual in any form, and on a covered frame."""

from collections.abc import Mapping
from dataclasses import replace

from mirvel.core.forms.wishes import (
    Arranged,
    AsUsual,
    Each,
    Falling,
    Firstly,
    Spread,
    Steps,
    Turn,
    Wanting,
    Wants,
    Wish,
    Wishing,
    get_turns,
)
from mirvel.core.goods.facts import Role
from mirvel.core.house.design import FocalPlace, Grading, Levels

ByRole = Mapping[Role, Wants]
OUTER_GREENS = 0.6
ONE_LEVEL = 0.85
_FLOWERS_FROM = 0.1  # of a covered frame's surface the lowest share is left to greens
_COLLAR_SHELL = 1.6  # greens at the edge of a frame show past its flowers

_TOKEN = Wanting(Steps(0.12, by=-0.10), shell=(1.03,))
_SMALL = Spread(0.03, 0.98, by_area=True)
_FOCAL = Wanting(Each((0.34, 0.58, 0.80)), shell=(0.99,))
# Seen all round or from the front. Deep greens close the middle, the others show between the blooms.
USUAL: ByRole = {
    Role.GREENERY: Firstly(
        Wanting(Spread(-0.06, 0.08), shell=(1.06,)),
        Wanting(Spread(0.30, 0.99, by_area=True), shell=(0.98, 0.82)),
        share=OUTER_GREENS,
    ),
    Role.LINE: Wanting(Falling(0.96, 0.54, short_of=4)),
    Role.FOCAL: _FOCAL,
    Role.MASS: Wanting(Spread(0.02, 0.98, by_area=True, graded=True), shell=(1.0, 0.90, 0.96)),
    Role.FILLER: Wanting(_SMALL, shell=(1.02, 0.92, 0.98)),
    Role.TEXTURE: Wanting(_SMALL, shell=(1.03,)),
    Role.TRAILING: Wanting(Spread(-0.05, 0.07), shell=(1.06,)),
    Role.TOKEN: Firstly(replace(_TOKEN, away=(-0.9,)), _TOKEN, count=1),  # the first in front, others about it
}

_OVER_ALL = Wanting(Spread(_FLOWERS_FROM, 0.99, by_area=True), shell=(1.0, 0.94, 0.98))
# On a covered frame greens go low all round its edges, focals along its top, all else over the whole of it, close and
# nearly level.
ON_A_FRAME: ByRole = {
    **dict.fromkeys((Role.LINE, Role.MASS, Role.FILLER, Role.TEXTURE, Role.TRAILING), _OVER_ALL),
    Role.GREENERY: Firstly(
        Wanting(Spread(0.03, 0.19), shell=(_COLLAR_SHELL,)),
        Wanting(Spread(0.25, 0.95, by_area=True), shell=(0.85,)),
        share=OUTER_GREENS,
    ),
    Role.FOCAL: Wanting(Each((0.95,))),
    Role.TOKEN: Wanting(Each((0.9,))),
}


def get_wishes(own: ByRole, wishing: Wishing) -> list[Wish]:
    """The wish of each piece, by a form's own table."""
    usual = get_usual(wishing.role, wishing.arranged, wishing.count)
    usually = [_make_usual(each, wishing) for each in get_turns(usual, wishing)]
    if wishing.role not in own:
        return usually
    return [_make(each, wishing, usually) for each in get_turns(own[wishing.role], wishing)]


def _make(turn: Turn, wishing: Wishing, usually: list[Wish]) -> Wish:
    levels = turn.wanting.levels
    if not isinstance(levels, AsUsual):
        return turn.wanting.add_to(levels.get_wish(wishing, turn.number, turn.turn), turn.turn)
    usual = usually[turn.number]
    return turn.wanting.add_to(usual if levels.by_area is None else replace(usual, by_area=levels.by_area), turn.turn)


def _make_usual(turn: Turn, wishing: Wishing) -> Wish:
    wish = turn.wanting.add_to(turn.wanting.levels.get_wish(wishing, turn.number, turn.turn), turn.turn)
    if wishing.arranged.levels is Levels.ONE_LEVEL and wishing.role is not Role.GREENERY:
        return replace(wish, level=ONE_LEVEL, by_area=False)
    return wish


def get_usual(role: Role, arranged: Arranged, count: int) -> Wants:
    """What so many pieces wish for in a role in any form, by the school in force."""
    return _get_focal(arranged, count) if role is Role.FOCAL else USUAL[role]


def _get_focal(arranged: Arranged, count: int) -> Wants:
    """Where the school has the focal flowers: one alone high in the middle or a third aside, several one under the
    other; the largest on top."""
    centred = arranged.focal is FocalPlace.CENTRED
    first: Wanting | None = replace(_FOCAL, across=(0.0,)) if centred else None
    others: Wants = _FOCAL
    if count == 1:
        alone = Each((0.9,)) if centred else Each((0.62,))
        others = Wanting(alone, shell=(0.99,), across=(0.0 if centred else -1 / 3,))
        first = None
    if arranged.grading is Grading.LARGE_TOP:
        first = Wanting(Each((0.95,)), across=(0.0,))
    return Firstly(first, _FOCAL, count=1) if first else others
