"""One recipe worked out: stems, money, size, places, cuts, checks and cautions from one computation.

Everything a person sees of a recipe comes from the value made here, so that the drawing, the money and the
cuts cannot disagree.
"""

from dataclasses import dataclass

from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.house.rules import HouseRules
from mirvel.core.judging.cautions import Caution, get_cautions
from mirvel.core.judging.check import Check
from mirvel.core.judging.checks import get_checks
from mirvel.core.making.build import Build, get_build
from mirvel.core.making.ribbon import RibbonFit, get_ribbon_fits
from mirvel.core.pricing.pricing import Money, get_money
from mirvel.core.pricing.stems import Assembled, get_assembled
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import Taken, take


@dataclass(frozen=True)
class Worked:
    """A recipe and all that follows from it: what is built, which no cost decides, and what is reckoned at costs;
    ``checks`` are the findings that stand open, ``accepted`` those that are let stand."""

    build: Build
    money: Money
    checks: tuple[Check, ...]
    accepted: tuple[Check, ...]
    cautions: tuple[Caution, ...]
    assembled: tuple[Assembled, ...]
    ribbons: tuple[RibbonFit, ...]

    @property
    def recipe(self) -> Recipe:
        return self.build.recipe

    @property
    def rules(self) -> HouseRules:
        return self.build.rules


def work_out(recipe: Recipe, catalogue: Catalogue, rules: HouseRules) -> Worked:
    """Work a recipe out with a catalogue and house rules.

    Raises UnknownGoods when the recipe names what the catalogue lacks, BadInput when its size cannot be.
    """
    taken = take(recipe, catalogue)
    return finish(get_build(taken, rules), taken)


def finish(build: Build, taken: Taken) -> Worked:
    """The rest of the work on what is built, at the costs of the goods taken now."""
    money = get_money(taken, build.rules)
    found = get_checks(build, money, taken)
    return Worked(
        build=build,
        money=money,
        checks=tuple(check for check in found if not check.accepted),
        accepted=tuple(check for check in found if check.accepted),
        cautions=get_cautions(taken, build),
        assembled=get_assembled(taken),
        ribbons=get_ribbon_fits(taken),
    )
