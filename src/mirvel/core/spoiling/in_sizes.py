"""Faults in how many pieces are asked, how they are meant and how large: it is placed and cut once more."""

import math
from collections.abc import Callable, Mapping

from mirvel.core.goods.container import ContainerKind
from mirvel.core.goods.facts import Mechanics, Role
from mirvel.core.judging.check import Judged, School
from mirvel.core.judging.mechanics import LINING_FORMS
from mirvel.core.placing.size import SIGHT_LINE_CM, get_ruled_height_cm
from mirvel.core.recipe.entry import MAX_PIECES, Entry
from mirvel.core.recipe.meant import Height, HeightKind
from mirvel.core.recipe.recipe import Size, SizeMode
from mirvel.core.spoiling.fault import Fault
from mirvel.core.spoiling.working import build_again, change_entries, change_materials

Facts = Mapping[str, object]
Asked = Callable[[Judged, int], Size]
_MOST_LOW_RIM_CM, _LEAST_PIECES, _DAYS = 20.0, 24, 4
_MOST_FACTOR, _MOST_OVER = 6.0, 6


def _keep(entry: Entry, pieces: int) -> Facts:
    """An entry with its first pieces alone."""
    kept, pins = (tuple(each for each in places if each.number <= pieces) for places in (entry.kept, entry.pins))
    return {"pieces": pieces, "kept": kept, "pins": pins, "least": None, "most": None}


def _leave(*shares: float, only: Callable[[Judged], set[str]]) -> Callable[[Judged, int], Judged]:
    """So much of some entries is left."""

    def spoil(judged: Judged, strength: int) -> Judged:
        chosen, share = only(judged), shares[strength - 1]
        return build_again(
            judged,
            recipe=change_entries(
                judged, lambda entry: _keep(entry, round(share * entry.pieces)) if entry.id in chosen else {}
            ),
        )

    return spoil


def _get_all(judged: Judged) -> set[str]:
    return {entry.id for entry in judged.recipe.entries}


def _get_lining(judged: Judged) -> set[str]:
    inside = (place for place in judged.build.places if place.is_inside)
    return {place.entry.id for place in inside if place.material.form in LINING_FORMS}


def _pair_focals(judged: Judged, strength: int) -> Judged:
    """Two focal flowers are left, four, six where there are so many, and the shop wants odd ones."""
    focals = _get_focals(judged)
    first = max(focals, key=lambda entry: entry.pieces)
    wanted = min(2 * strength, first.pieces // 2 * 2)

    def change(entry: Entry) -> Facts:
        return {} if entry not in focals else _keep(entry, wanted if entry is first else 0)

    rules = judged.rules.change(odd_focals=True)
    return build_again(judged, recipe=change_entries(judged, change), rules=rules)


def _get_focals(judged: Judged) -> list[Entry]:
    placed = judged.taken.placed
    return [each for each in judged.recipe.entries if each.role is Role.FOCAL and placed[each.id].is_bloom]


def _pass_places(judged: Judged, strength: int) -> Judged:
    """One piece more than the form has places for, three, six."""
    more = len(judged.sizing.surface.lattice.sites) - len(judged.build.cuts) + (1, 3, _MOST_OVER)[strength - 1]
    first = judged.recipe.entries[0].id

    def change(entry: Entry) -> Facts:
        return {"pieces": entry.pieces + more} if entry.id == first else {}

    return build_again(judged, recipe=change_entries(judged, change))


def _has_few_places(judged: Judged) -> bool:
    sizing = judged.sizing
    return sizing.form.only_listed and len(sizing.surface.lattice.sites) + _MOST_OVER <= MAX_PIECES


def _hold_back(judged: Judged, strength: int) -> Judged:
    """Every piece of one entry is held back, of two, three."""
    held = [entry.id for entry in judged.recipe.entries if entry.pieces][:strength]

    def change(entry: Entry) -> Facts:
        return {"meant": entry.meant.change(held_back=entry.pieces)} if entry.id in held else {}

    return build_again(judged, recipe=change_entries(judged, change))


def _mean_too_high(judged: Judged, strength: int) -> Judged:
    """One kind of flower is meant to end over the piece: by a twentieth of its height, half, all of it."""
    first = _get_unsaid(judged)[0].id
    by = judged.sizing.above_rim_cm * (1.05, 1.5, 2.0)[strength - 1]
    height = Height(kind=HeightKind.RIM, by=round(min(200.0, by), 1))

    def change(entry: Entry) -> Facts:
        return {"meant": entry.meant.change(height=height), "kept": ()} if entry.id == first else {}

    return build_again(judged, recipe=change_entries(judged, change))


def _get_unsaid(judged: Judged) -> list[Entry]:
    """Entries of flowers with one head of which nothing is meant and none is pinned."""
    one_headed = {place.entry.id for place in judged.heads}
    return [each for each in judged.recipe.entries if each.id in one_headed and not (each.meant.is_said or each.pins)]


def _in_size(suits: Callable[[Judged], bool], ask: Asked, **brief: object) -> Fault:
    """A fault in the size that is asked, and in what the brief says of it."""

    def spoil(judged: Judged, strength: int) -> Judged:
        asked = {"size": ask(judged, strength), "brief": judged.recipe.brief.change(**brief)}
        return build_again(judged, recipe=judged.recipe.model_copy(update=asked))

    return Fault(suits, spoil)


def _own(judged: Judged, height_cm: float, width_cm: float) -> Size:
    return judged.recipe.size.change(
        mode=SizeMode.OWN, own_height_cm=round(height_cm, 1), own_width_cm=round(max(4.0, width_cm), 1)
    )


def _ask_height(*heights_cm: float) -> Asked:
    """An own size so high, and as wide as it is."""
    return lambda judged, strength: _own(judged, heights_cm[strength - 1], judged.sizing.width_cm)


def _ask_fullness(limit: Callable[[Judged], float], *times: float) -> Asked:
    """An own size, of the same shape, that its flowers fill by so many times a limit."""

    def ask(judged: Judged, strength: int) -> Size:
        sizing = judged.sizing
        by = math.sqrt(sizing.fullness / (limit(judged) * times[strength - 1]))
        return _own(judged, judged.build.container.rim_height_cm + by * sizing.above_rim_cm, by * sizing.width_cm)

    return ask


def _ask_wide(judged: Judged, strength: int) -> Size:
    """As high as it is, and a little wider, by a third, twice as wide."""
    sizing = judged.sizing
    return _own(judged, sizing.overall_height_cm, sizing.width_cm * (1.03, 1.3, 2.0)[strength - 1])


def _ask_rule(mode: SizeMode, *times: float, of_cm: float | None = None) -> Asked:
    """The rule has it so many times as high as it is (or as something else)."""

    def ask(judged: Judged, strength: int) -> Size:
        rule, container = judged.recipe.size.rule, judged.build.container
        wanted = times[strength - 1] * (of_cm or judged.sizing.overall_height_cm)
        of_one, of_two = (get_ruled_height_cm(rule.change(factor=factor), container) for factor in (1, 2))
        factor = min(_MOST_FACTOR, 1 + (wanted - of_one) / (of_two - of_one))
        return judged.recipe.size.change(mode=mode, rule=rule.change(factor=round(factor, 2)))

    return ask


def _may_be_sized(judged: Judged) -> bool:
    """Whether its form closes at any size, and is not as large as what it stands in."""
    form = judged.sizing.form
    is_held = form.covers_frame or form.proportions.over_mouth or form.is_as_large_as_its_container
    return form.covers and not (is_held or form.only_listed or judged.build.bed or judged.build.container.vessels > 1)


def _may_be_low(judged: Judged) -> bool:
    """Whether people may talk across it, and it may be so high that they cannot, whatever it stands in."""
    container = judged.build.container
    is_held = container.kind is ContainerKind.BASKET or judged.sizing.form.lies
    return _may_be_sized(judged) and not is_held and container.rim_height_cm < _MOST_LOW_RIM_CM


def _is_held_wide(judged: Judged) -> bool:
    return bool(judged.sizing.form.covers_frame or judged.sizing.form.proportions.over_mouth)


def _grow(size: Asked, *by_cm: float, **brief: object) -> Callable[[Judged, int], Judged]:
    """Flowers grow on by so much until the last day."""

    def spoil(judged: Judged, strength: int) -> Judged:
        a_day = by_cm[strength - 1] / _DAYS
        goods = change_materials(judged, lambda each: {"growth_cm_per_day": a_day} if each.is_bloom else {})
        asked = {"size": size(judged, strength), "brief": judged.recipe.brief.change(lasts_days=_DAYS, **brief)}
        return build_again(judged, recipe=judged.recipe.model_copy(update=asked), goods=goods)

    return spoil


def _hides_foam(judged: Judged) -> bool:
    return judged.recipe.mechanics is Mechanics.FOAM and School.HIDDEN in judged.schools


def _closes(judged: Judged) -> bool:
    return judged.sizing.form.covers and School.FULL in judged.schools and len(judged.build.places) >= _LEAST_PIECES


SIZE_FAULTS: Mapping[str, Fault] = {
    "sight-line": _in_size(_may_be_low, _ask_height(38.4, 45.0, 60.0), across_table=True),
    "low-piece": _in_size(_may_be_low, _ask_height(29.8, 33.0, 37.0), across_table=True),
    "grows": Fault(_may_be_low, _grow(_ask_height(36.0, 36.0, 36.0), 1.0, 5.0, 7.0, across_table=True)),
    "grows-out": Fault(
        lambda judged: judged.sizing.form.covers and bool(judged.sizing.surface.lobes) and bool(judged.blooms),
        _grow(lambda judged, _: judged.recipe.size, 3.0, 6.8, 7.0, across_table=False),
    ),
    "size-capped": _in_size(
        _may_be_low, _ask_rule(SizeMode.BY_RULE, 0.98, 1.3, 2.0, of_cm=SIGHT_LINE_CM), across_table=True
    ),
    "size-follows-flowers": _in_size(_may_be_low, _ask_rule(SizeMode.FROM_FULLNESS, 1.1, 1.8, 2.5), across_table=False),
    "width-held": _in_size(_is_held_wide, _ask_wide),
    "places": Fault(_has_few_places, _pass_places),
    "thin": _in_size(_may_be_sized, _ask_fullness(lambda judged: judged.sizing.thin_below, 1.02, 0.7, 0.4)),
    "crowded": _in_size(_may_be_sized, _ask_fullness(lambda judged: judged.sizing.crowded_above, 0.9, 1.4, 2.5)),
    "foam-shows": Fault(_hides_foam, _leave(0.67, 0.33, 0.1, only=_get_all)),
    "gaps": Fault(_closes, _leave(0.67, 0.2, 0.08, only=_get_all)),
    "rim-shows": Fault(lambda judged: bool(judged.build.rim_seen), _leave(0.67, 0.33, 0.1, only=_get_all)),
    "lining": Fault(lambda judged: bool(_get_lining(judged)), _leave(0.88, 0.5, 0.25, only=_get_lining)),
    "held": Fault(lambda judged: bool(judged.build.places), _hold_back),
    "meant": Fault(lambda judged: bool(_get_unsaid(judged)), _mean_too_high),
    "even-focals": Fault(
        lambda judged: any(each.pieces > 1 for each in _get_focals(judged)) and School.FREE in judged.schools,
        _pair_focals,
    ),
}
