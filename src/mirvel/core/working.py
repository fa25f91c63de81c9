"""One recipe worked out: stems, money, size, places, cuts, checks and cautions from one computation.

Everything a person sees of a recipe comes from the value made here, so that the drawing, the money and the
cuts cannot disagree.
"""

from dataclasses import dataclass, fields

from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.house.rules import HouseRules
from mirvel.core.judging.cautions import Caution, get_cautions
from mirvel.core.judging.checks import Check, get_checks
from mirvel.core.judging.service_checks import get_sympathy_checks
from mirvel.core.making.build import Build, _get_made, get_build
from mirvel.core.making.cuts import Cut
from mirvel.core.making.ribbon import RibbonFit, get_ribbon_fits
from mirvel.core.pricing.pricing import Money, get_money
from mirvel.core.pricing.stems import Assembled, get_assembled
from mirvel.core.recipe.recipe import Recipe


@dataclass(frozen=True)
class Worked(Build):
    """A recipe and all that follows from it."""

    money: Money
    checks: tuple[Check, ...]
    cautions: tuple[Caution, ...]
    assembled: tuple[Assembled, ...]
    ribbons: tuple[RibbonFit, ...]

    def get_entry_cuts(self, entry_id: str) -> tuple[Cut, ...]:
        return tuple(cut for cut in self.cuts if cut.place.entry.id == entry_id)


def work_out(recipe: Recipe, catalogue: Catalogue, rules: HouseRules) -> Worked:
    """Work a recipe out with a catalogue and house rules.

    Raises UnknownGoods when the recipe names what the catalogue lacks, BadInput when its size cannot be.
    """
    return work_out_build(get_build(recipe, catalogue, rules), catalogue)


def work_out_build(build: Build, catalogue: Catalogue) -> Worked:
    """The rest of the work, at the catalogue's costs. Raises UnknownGoods."""
    recipe, rules = build.recipe, build.rules
    money = get_money(recipe, catalogue, rules)
    return Worked(
        **{each.name: getattr(build, each.name) for each in fields(Build)},
        money=money,
        checks=get_checks(
            recipe,
            catalogue,
            money,
            build.sizing,
            build.cuts,
            build.base,
            rules,
            get_sympathy_checks(_get_made(build), catalogue, rules),
        ),
        cautions=get_cautions(recipe, catalogue),
        assembled=get_assembled(recipe, catalogue),
        ribbons=get_ribbon_fits(recipe.brief.service, catalogue) if recipe.brief.service else (),
    )
