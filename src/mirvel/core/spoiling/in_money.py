"""Faults in what a piece costs and what is charged for it: it stays as it is built."""

import math
from collections.abc import Callable, Mapping
from decimal import Decimal

from mirvel.core.goods.facts import PieceSize
from mirvel.core.goods.hard_good import FoamGrade, HardGood, HardGoodUse
from mirvel.core.goods.material import Material
from mirvel.core.judging.check import Judged
from mirvel.core.pricing.stems import Pull
from mirvel.core.spoiling.fault import Fault
from mirvel.core.spoiling.working import change_container, change_materials, reckon_again

_STEP = Decimal("0.0001")
_MOST_OF_A_STEM = 40
_MONEY = Decimal("0.5")  # worth of the flower money that is left over at the most


def _fill(*shares: str) -> Callable[[Judged, int], Judged]:
    """Stems cost so much that the flowers are such a share of the flower money."""

    def spoil(judged: Judged, strength: int) -> Judged:
        times = Decimal(shares[strength - 1]) * judged.money.flower_money / judged.money.spent
        goods = change_materials(judged, lambda material: {"cost": (material.cost * times).quantize(_STEP)})
        return reckon_again(judged, goods=goods)

    return spoil


def _has_flower_money(judged: Judged) -> bool:
    return judged.money.flower_money > 0 and judged.money.spent > 0


def _leave_over(judged: Judged, strength: int) -> Judged:
    """One stem gives more pieces than are used, each at the cost that it had: a tenth of the flower money's worth of
    them, a quarter, half."""
    pull = _get_broken(judged)[0]
    of_one = _get_of_one(judged, pull, _MONEY * (Decimal("0.2"), Decimal("0.5"), Decimal(1))[strength - 1])

    def change(material: Material) -> Mapping[str, object]:
        if material.slug != pull.material.slug:
            return {}
        return {"pieces_per_stem": of_one, "cost": (material.cost_per_piece * of_one).quantize(_STEP)}

    return reckon_again(judged, goods=change_materials(judged, change))


def _get_of_one(judged: Judged, pull: Pull, share: Decimal) -> int:
    """How many pieces a stem gives that leaves so much of the flower money over."""
    return math.ceil(pull.pieces + share * judged.money.flower_money / pull.material.cost_per_piece)


def _get_broken(judged: Judged) -> list[Pull]:
    """Stems of which only side pieces are used, and of which one may give all of them and enough more."""
    return [
        pull
        for pull in judged.money.pulls
        if pull.pieces
        and pull.material.pieces_per_stem > 1
        and _has_flower_money(judged)
        and _get_of_one(judged, pull, _MONEY) <= _MOST_OF_A_STEM
        and {entry.piece for entry in judged.recipe.entries if entry.material == pull.material.slug}
        == {PieceSize.LATERAL}
    ]


def _charge_less(judged: Judged, strength: int) -> Judged:
    """Of the foam seven eighths are charged, half, nothing."""
    foam = {good.slug for _, good in judged.taken.uses if good.foam_ml}
    return _use_less(judged, foam, (Decimal("0.875"), Decimal("0.5"), Decimal(0))[strength - 1])


def _untie(judged: Judged, strength: int) -> Judged:
    """Of the ties two thirds are left, a third, none."""
    ties = {good.slug for _, good in judged.taken.uses if good.is_tie}
    return _use_less(judged, ties, (Decimal("0.667"), Decimal("0.334"), Decimal(0))[strength - 1])


def _is_tied_to_a_stand(judged: Judged) -> bool:
    return judged.build.stand_cm > 0 and any(good.is_tie for _, good in judged.taken.uses)


def _use_less(judged: Judged, slugs: set[str], share: Decimal) -> Judged:
    """So much of some hard goods is left."""
    uses = (
        use.change(quantity=(use.quantity * share).quantize(_STEP)) if use.hard_good in slugs else use
        for use in judged.recipe.hard_goods
        if share or use.hard_good not in slugs
    )
    return reckon_again(judged, recipe=judged.recipe.model_copy(update={"hard_goods": tuple(uses)}))


def _retire(judged: Judged, strength: int) -> Judged:
    """One of its stems is retired, two, three."""
    slugs = sorted({part.material.slug for parts in judged.taken.parts.values() for part in parts})[:strength]
    return reckon_again(judged, goods=change_materials(judged, lambda material: {"retired": material.slug in slugs}))


def _charge_twice(judged: Judged, strength: int) -> Judged:
    """The container is among the hard goods too: once, twice, three times."""
    container, goods = judged.taken.container, judged.taken.as_catalogue()
    same = HardGood(slug="the-container-again", name=container.name, same_as=container.slug, cost=container.cost)
    use = HardGoodUse(hard_good=same.slug, quantity=Decimal(strength))
    hard_goods = {**goods.hard_goods, same.slug: same}
    recipe = judged.recipe.model_copy(update={"hard_goods": (*judged.recipe.hard_goods, use)})
    return reckon_again(judged, recipe=recipe, goods=goods.model_copy(update={"hard_goods": hard_goods}))


def _take_dear_container(judged: Judged, strength: int) -> Judged:
    """The container costs a third of the price, all of it, twice as much."""
    cost = judged.money.price * (Decimal("0.3"), Decimal(1), Decimal(2))[strength - 1]
    return reckon_again(judged, goods=change_container(judged, cost=cost.quantize(_STEP)))


def _drinks_from_foam(judged: Judged) -> bool:
    drinks = any(place.material.drinks for place in judged.build.places)
    return drinks and any(good.foam_ml for _, good in judged.taken.uses)


def _use_dry_foam(judged: Judged, _: int) -> Judged:
    """The foam takes no water; there is no more or less of that."""
    goods = judged.taken.as_catalogue()
    hard = {
        slug: good.change(foam_grade=FoamGrade.DRY if good.foam_ml else good.foam_grade)
        for slug, good in goods.hard_goods.items()
    }
    return reckon_again(judged, goods=goods.model_copy(update={"hard_goods": hard}))


def _take_long(*times: float) -> Callable[[Judged, int], Judged]:
    """It takes so many times as long."""

    def spoil(judged: Judged, strength: int) -> Judged:
        minutes = min(Decimal(600), round(judged.recipe.minutes * Decimal(times[strength - 1]), 1))
        return reckon_again(judged, recipe=judged.recipe.model_copy(update={"minutes": minutes}))

    return spoil


def _buy_large_bunches(judged: Judged, strength: int) -> Judged:
    """The shop minds, and stems come in bunches half as large as is used of them, of 50, of 500."""
    most = max(pull.stems for pull in judged.money.pulls)
    stems = (max(1, most // 2), 50, 500)[strength - 1]
    goods = change_materials(judged, lambda _: {"bunch_stems": stems})
    return reckon_again(judged, goods=goods, rules=judged.rules.change(minds_bunches=True))


MONEY_FAULTS: Mapping[str, Fault] = {
    "bunches": Fault(lambda judged: _has_flower_money(judged) and bool(judged.money.pulls), _buy_large_bunches),
    "no-flower-money": Fault(lambda judged: True, _take_dear_container),
    "overfilled": Fault(_has_flower_money, _fill("1.002", "1.1", "1.5")),
    "underfilled": Fault(_has_flower_money, _fill("0.955", "0.8", "0.4")),
    "wasted": Fault(lambda judged: bool(_get_broken(judged)), _leave_over),
    "foam-charged": Fault(
        lambda judged: judged.build.foam_to_buy_ml > 0 and any(good.foam_ml for _, good in judged.taken.uses),
        _charge_less,
    ),
    "retired": Fault(lambda judged: True, _retire),
    "twice": Fault(lambda judged: True, _charge_twice),
    "minutes": Fault(lambda judged: bool(judged.build.places), _take_long(1.5, 5.0, 10.0)),
    "labour": Fault(lambda judged: judged.recipe.minutes > 0, _take_long(2.0, 10.0, 15.0)),
    "foam-grade": Fault(_drinks_from_foam, _use_dry_foam),
    "ties": Fault(_is_tied_to_a_stand, _untie),
}
