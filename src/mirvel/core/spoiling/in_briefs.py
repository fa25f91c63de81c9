"""Faults in what a piece is for: the days, the people, the service, and the shop's own rules; no stem moves."""

import math
from collections.abc import Callable, Mapping
from datetime import datetime
from decimal import Decimal

from mirvel.core.goods.hard_good import HardGood
from mirvel.core.goods.heads import get_openness
from mirvel.core.goods.material import ALL_YEAR, Material
from mirvel.core.house.design import SeenFrom
from mirvel.core.judging.check import Judged
from mirvel.core.judging.colours import find_scheme
from mirvel.core.recipe.fit_wishes import Exclusion
from mirvel.core.recipe.service import RibbonLine, Service, VenueNote
from mirvel.core.spoiling.fault import Fault
from mirvel.core.spoiling.working import build_again, change_materials, reckon_again

Facts = Mapping[str, object]
_MOST_DAYS = 50
_MONTH = 3
_DAY = datetime(2030, _MONTH, 12, 11)
_RIBBON = HardGood(slug="a-ribbon", name="Ribbon", ribbon_cm=5.0, cost=Decimal(1))
_WORDS = "In loving memory of one who "


def _in_brief(suits: Callable[[Judged], bool], say: Callable[[Judged, int], Facts]) -> Fault:
    """A fault in what the brief asks."""

    def spoil(judged: Judged, strength: int) -> Judged:
        brief = judged.recipe.brief.change(**say(judged, strength))
        return reckon_again(judged, recipe=judged.recipe.model_copy(update={"brief": brief}))

    return Fault(suits, spoil)


def _in_service(say: Callable[[Judged, int], Facts]) -> Fault:
    """A fault in what a family or a venue asks; a piece without a service is given one."""
    return _in_brief(
        lambda judged: bool(judged.build.places),
        lambda judged, strength: {
            "service": (judged.recipe.brief.service or Service()).change(**say(judged, strength))
        },
    )


def _in_rules(suits: Callable[[Judged], bool], change: Callable[[Judged, int], Facts]) -> Fault:
    """A fault against what the shop wants."""
    return Fault(
        suits,
        lambda judged, strength: reckon_again(judged, rules=judged.rules.change(**change(judged, strength))),
    )


def _in_season(*, ends: bool) -> Fault:
    """One kind of stem is not to be had on the day (or from then on), two, three."""

    def spoil(judged: Judged, strength: int) -> Judged:
        slugs = sorted({place.material.slug for place in judged.build.places})[:strength]
        months = {"season": (_MONTH,) if ends else tuple(month for month in ALL_YEAR if month != _MONTH)}
        goods = change_materials(judged, lambda each: months if each.slug in slugs else {"season": ALL_YEAR})
        brief = judged.recipe.brief.change(service=Service(service=_DAY))
        return build_again(judged, recipe=judged.recipe.model_copy(update={"brief": brief}), goods=goods)

    return Fault(lambda judged: bool(judged.build.places), spoil)


def _last_longer(days: Callable[[Judged], float | None], *more: int, **brief: object) -> Fault:
    """It is to last days longer than it does."""

    def say(judged: Judged, strength: int) -> Facts:
        return {"lasts_days": math.floor(days(judged) or 0) + more[strength - 1], "service": None, **brief}

    return _in_brief(lambda judged: (found := days(judged)) is not None and found < _MOST_DAYS, say)


def _get_shortest_life(judged: Judged) -> float | None:
    lives = (p.material.life_min_days for p in judged.build.places if not p.material.is_artificial)
    return min((float(life) for life in lives if life is not None), default=None)


def _force(judged: Judged, strength: int) -> Judged:
    """Blooms come half open, a fifth, tight, and are over two days after they are forced."""

    def change(material: Material) -> Facts:
        return {"forced_days": 2} if material.opens_in_days else {}

    again = build_again(judged, goods=change_materials(judged, change))
    return _TIGHT.spoil(again, strength)


def _opens(judged: Judged) -> bool:
    return any(get_openness(place.material, 0.0, 0.0) < 1 for place in judged.blooms)


_TIGHT = _in_rules(_opens, lambda _, strength: {"opening_at_delivery": (0.45, 0.2, 0.0)[strength - 1]})


def _make_early(judged: Judged, strength: int) -> Judged:
    """The piece is looked at a day after it is made, and what is made ahead keeps 20 hours, 10, 2."""
    goods, hours = judged.taken.as_catalogue(), (20, 10, 2)[strength - 1]
    made = {slug: each.change(shelf_life_hours=hours) for slug, each in goods.assemblies.items()}
    brief = judged.recipe.brief.change(days_to_viewing=1)
    recipe = judged.recipe.model_copy(update={"brief": brief})
    return reckon_again(judged, recipe=recipe, goods=goods.model_copy(update={"assemblies": made}))


def _letter_too_long(judged: Judged, strength: int) -> Judged:
    """Text for a ribbon that is a fifth too long for it, twice, four times."""
    goods = judged.taken.as_catalogue()
    text = (_WORDS * 3)[: (30, 50, 80)[strength - 1]]
    service = Service(ribbon=_RIBBON.slug, ribbon_length_cm=40.0, ribbon_lines=(RibbonLine(text=text),))
    brief = judged.recipe.brief.change(service=service)
    hard_goods = {**goods.hard_goods, _RIBBON.slug: _RIBBON}
    return reckon_again(
        judged,
        recipe=judged.recipe.model_copy(update={"brief": brief}),
        goods=goods.model_copy(update={"hard_goods": hard_goods}),
    )


def _get_lines(count: int) -> tuple[RibbonLine, ...]:
    return tuple(RibbonLine(text=f"Line {number}") for number in range(1, count + 1))


def _name_some(judged: Judged, strength: int) -> Facts:
    """The family wants none of a flower that is in it, or two, three."""
    names = sorted({place.material.name.split()[0].strip(",").lower() for place in judged.blooms})[:strength]
    return {"wishes": ", ".join(f"no {name}" for name in names)}


BRIEF_FAULTS: Mapping[str, Fault] = {
    "seen-from": _in_brief(
        lambda judged: judged.sizing.form.seen_from is SeenFrom.FRONT, lambda *_: {"seen_from": SeenFrom.ALL_ROUND}
    ),
    "transport": _in_rules(
        lambda judged: not judged.sizing.form.hangs,
        lambda judged, strength: {"transport_cm": judged.build.overall_height_cm * (0.99, 0.8, 0.5)[strength - 1]},
    ),
    "lift": _in_rules(
        lambda judged: True,
        lambda judged, strength: {
            "lift_limit_kg": min(100.0, judged.build.standing.weight_g / 1000 * (0.99, 0.7, 0.4)[strength - 1])
        },
    ),
    "hues": _in_rules(lambda judged: len(find_scheme(judged.build)[1]) > 1, lambda *_: {"most_hues": 1}),
    "dry": _last_longer(lambda judged: judged.build.water.days, 1, 4, 9, refilled=False),
    "short-lived": _last_longer(_get_shortest_life, 1, 4, 9),
    "not-open": _TIGHT,
    "forced": Fault(_opens, _force),
    "keeps": Fault(lambda judged: bool(judged.taken.assemblies), _make_early),
    "out-of-season": _in_season(ends=False),
    "season-ends": _in_season(ends=True),
    "excluded": _in_brief(
        lambda judged: any(wish.is_true_of(place.material) for wish in Exclusion for place in judged.build.places),
        lambda *_: {"exclude": tuple(Exclusion)},
    ),
    "asked-against": _in_service(_name_some),
    "ribbon": Fault(lambda judged: True, _letter_too_long),
    "read-back": _in_service(lambda _, strength: {"ribbon_lines": _get_lines(strength)}),
    "no-ribbon": _in_service(lambda _, strength: {"ribbon": None, "ribbon_lines": _get_lines(strength)}),
    "venue": _in_service(
        lambda _, strength: {"venue": tuple(VenueNote(text=f"Note {number}") for number in range(strength))}
    ),
}
