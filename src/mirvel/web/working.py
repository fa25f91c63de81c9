"""Recipes of the shop worked out for a page; what has been worked out and drawn is kept for a while, since a
saved state never changes."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from decimal import Decimal
from hashlib import sha256
from typing import Annotated

from fastapi import Depends, Request

from mirvel.core.changing.carrying import carry_places
from mirvel.core.fit.beginning import begin, is_just_begun
from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.container import Container
from mirvel.core.goods.facts import Role
from mirvel.core.house.rules import HouseRules
from mirvel.core.publishing import Frozen
from mirvel.core.recipe.fit_wishes import FitWishes
from mirvel.core.recipe.recipe import Recipe, Schools
from mirvel.core.recipe.taking import take
from mirvel.core.values.problems import BadInput
from mirvel.core.values.units import LengthUnit
from mirvel.core.working import Worked, finish
from mirvel.store.documents import Unreadable
from mirvel.web.keeping import Kept, Made
from mirvel.web.requests import ShopHere
from mirvel.web.workers import Workers

UNIT_COOKIE = "unit"
_ANY_PRICE = Decimal(1)


def get_shape(recipe: Recipe) -> Recipe:
    """The recipe without what no place, cut or line of a drawing comes from, so that a change of its price, its
    minutes, its notes, what is let stand or the wishes of its fit builds and draws nothing anew."""
    priced = {"price_point": _ANY_PRICE, "minutes": Decimal(0), "notes": "", "fit": FitWishes(), "schools": Schools()}
    return recipe.model_copy(update={**priced, "accepted": ()})


@dataclass(frozen=True)
class Desk:
    """What recipes are worked out with: the shop's goods and rules as they stand now.

    ``own`` stands for the shop's rules, ``costs`` for them and every good at what it costs. What is built and
    drawn is kept by the facts of the goods a recipe takes, so that it outlives a change of prices and of all other
    goods.
    """

    catalogue: Catalogue
    rules: HouseRules
    kept: Kept
    workers: Workers
    own: str
    costs: str
    costs_version: int
    facts_version: int
    get_usual_pieces: Callable[[str], Mapping[Role, float]]
    troubles: tuple[Unreadable, ...] = ()

    def work_out(self, recipe: Recipe) -> Worked:
        """Raises UnknownGoods, BadInput."""
        shape = get_shape(recipe)
        built = self.keep("build", shape, lambda: self.workers.build(take(shape, self.catalogue), self.rules))
        return self.keep_at_costs("worked", recipe, lambda: finish(built.take_up(recipe), take(recipe, self.catalogue)))

    def freeze(self, recipe: Recipe) -> Frozen:
        """What a recipe is made from as it stands now. Raises UnknownGoods."""
        return Frozen(goods=take(recipe, self.catalogue).as_catalogue(), rules=self.rules)

    def knows_otherwise(self, frozen: Frozen, recipe: Recipe) -> bool:
        """Whether facts of the goods or rules that pieces are built by are others than when a standard was published.
        Raises UnknownGoods."""
        goods, rules = frozen.bring_up(self.catalogue, self.rules)
        now = take(recipe, self.catalogue).as_catalogue()
        return (goods, rules) != (now, self.rules)  # what prices hang on, and costs, are today’s in both

    def thaw(self, frozen: Frozen) -> "Desk":
        """A desk with the goods and rules as they were when a standard was published, at today's costs."""
        catalogue, rules = frozen.bring_up(self.catalogue, self.rules)
        own = sha256(rules.model_dump_json().encode()).hexdigest()
        costs = f"{own} {sha256(catalogue.model_dump_json().encode()).hexdigest()}"
        return replace(self, catalogue=catalogue, rules=rules, own=own, costs=costs)

    def carry(self, before: Recipe, after: Recipe) -> Recipe:
        """A changed recipe with the places its pieces had before, where that could be worked out and anything of it
        changed that places come from; else as it is."""
        if get_shape(before) == get_shape(after):
            return after
        try:
            return carry_places(self.work_out(before).build, after)
        except BadInput:
            return after

    def work_out_after(self, before: Recipe, after: Recipe) -> Worked:
        """A changed recipe worked out with the places its pieces had before. Raises BadInput, UnknownGoods."""
        return self.work_out(self.carry(before, after))

    def begin(self, recipe: Recipe) -> Recipe:
        """A recipe just begun with as many pieces as the shop's own of its form usually have; any other as it is."""
        return begin(recipe, self.get_usual_pieces(recipe.form)) if is_just_begun(recipe) else recipe

    def keep(self, what: str, recipe: Recipe, make: Callable[[], Made]) -> Made:
        """What ``make`` makes of a recipe, made once while the facts of its goods and the rules stay as they are.
        Raises UnknownGoods."""
        return self.kept.keep((what, self.own, self._get_facts(recipe), recipe.model_dump_json()), make)

    def _get_facts(self, recipe: Recipe) -> str:
        """A digest of all a recipe's goods but their costs."""
        digest = sha256()
        for good in take(recipe, self.catalogue).all_goods:
            digest.update(good.model_dump_json(exclude={"cost"}).encode())
        return digest.hexdigest()

    def keep_at_costs(self, what: str, recipe: Recipe, make: Callable[[], Made]) -> Made:
        """The same for what costs decide too."""
        return self.kept.keep((what, self.costs, recipe.model_dump_json()), make)

    def get_all_vessels(self) -> tuple[Container, ...]:
        """Containers that at least one form can be made in."""
        found = {each.slug: each for name in FORMS for each in self.get_vessels(name)}
        return tuple(sorted(found.values(), key=lambda each: each.name))

    def get_vessels(self, form_name: str, also: str = "") -> tuple[Container, ...]:
        """Containers a form can be made in, and the one a recipe is in already."""
        form = FORMS[form_name]
        fit = (each for each in self.catalogue.containers.values() if form.takes(each) and not each.retired)
        own = self.catalogue.containers.get(also)
        found = {each.slug: each for each in (*fit, *((own,) if own else ()))}
        return tuple(sorted(found.values(), key=lambda each: each.name))


def read_unit(request: Request, rules: HouseRules) -> HouseRules:
    """The shop's rules with the unit this person reads lengths in."""
    unit = request.cookies.get(UNIT_COOKIE)
    return rules.model_copy(update={"unit": LengthUnit(unit)}) if unit in set(LengthUnit) else rules


def load_desk(request: Request, shop: ShopHere) -> Desk:
    """The desk as the shop stands now, in the units this person reads."""
    goods, (rules, troubles) = shop.goods.load(), shop.read_rules()
    rules = read_unit(request, rules)
    own = sha256(rules.model_dump_json().encode()).hexdigest()
    return Desk(
        goods.catalogue,
        rules,
        request.app.state.kept,
        request.app.state.workers,
        own,
        f"{own} {goods.costs}",
        goods.costs,
        goods.facts,
        shop.using.get_usual_pieces,
        (*troubles, *goods.unreadable.values()),
    )


DeskHere = Annotated[Desk, Depends(load_desk)]
