"""Why no counts keep every limit: each limit that alone stands in the way, and the smallest change that would do."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from decimal import ROUND_CEILING, Decimal

from mirvel.core.fit.lines import TEN_THOUSAND, FitProblem, get_fit_problem
from mirvel.core.fit.model import Model, NoAnswer
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.house.rules import HouseRules
from mirvel.core.recipe.entry import Entry
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.values.money import CENT, to_cent
from mirvel.core.values.problems import BadInput

_NO_LIMIT = 10**11
_PRICE_STEPS = 40


@dataclass(frozen=True)
class Clash:
    """One limit in the way, in the florist's words, and the recipe with that limit let out just enough."""

    why: str
    mend: str
    recipe: Recipe


def find_clashes(recipe: Recipe, problem: FitProblem, catalogue: Catalogue, rules: HouseRules) -> tuple[Clash, ...]:
    """What clashes in a recipe that cannot be fitted: each limit that alone would make room or, where none would, the
    fewest pieces let go of several together."""
    alone = (*_try_price(recipe, problem, catalogue, rules), *_try_entries(recipe, problem, catalogue))
    return alone or tuple(_try_together(recipe, problem, catalogue))


def get_least_money(problem: FitProblem) -> int:
    """The least money that pays every minimum, in ten-thousandths. Raises NoAnswer where money is not what lacks."""
    model = Model()
    rung = model.add(replace(problem, money=_NO_LIMIT))
    solver, _ = model.solve(rung.spent)
    return int(solver.value(rung.spent))


def _try_price(recipe: Recipe, problem: FitProblem, catalogue: Catalogue, rules: HouseRules) -> Iterator[Clash]:
    try:
        needed = get_least_money(problem)
    except NoAnswer:
        return
    short = Decimal(needed - problem.money) / TEN_THOUSAND
    dearer = _find_price(recipe, needed, catalogue, rules)
    if dearer is None:
        return
    sign = rules.currency
    yield Clash(
        f"The fewest pieces of every entry cost {sign}{to_cent(short)} more than the flower money.",
        f"Raise the price point to {sign}{dearer.price_point}.",
        dearer,
    )


def _find_price(recipe: Recipe, needed: int, catalogue: Catalogue, rules: HouseRules) -> Recipe | None:
    """The recipe at the lowest price, to the cent, whose flower money is what is needed."""

    def pays(price: Decimal) -> bool:
        try:
            dearer = recipe.model_copy(update={"price_point": price})
            return get_fit_problem(dearer, catalogue, rules).money >= needed
        except BadInput:
            return False

    low, high = recipe.price_point, Decimal(100_000)
    if not pays(high):
        return None
    for _ in range(_PRICE_STEPS):
        middle = ((low + high) / 2).quantize(CENT, ROUND_CEILING)
        low, high = (low, middle) if pays(middle) else (middle, high)
        if high - low <= CENT:
            break
    return recipe.model_copy(update={"price_point": high})


def _try_entries(recipe: Recipe, problem: FitProblem, catalogue: Catalogue) -> Iterator[Clash]:
    """Each entry whose fewest pieces, let down alone, would make room."""
    for number, entry in enumerate(recipe.entries):
        least, _ = problem.slots[entry.id]
        if not least:
            continue
        eased = replace(
            problem,
            slots={**problem.slots, entry.id: (0, problem.slots[entry.id][1])},
            lines=tuple(replace(line, least=0) if line.id == entry.id else line for line in problem.lines),
        )
        model = Model()
        rung = model.add(eased)
        kept = sum(rung.pieces[line.id] for line in eased.lines if line.slot == entry.id)
        try:
            solver, _ = model.solve(-kept)
        except NoAnswer:
            continue
        most = int(solver.value(kept))
        material = catalogue.get_material(entry.material, entry.colour, field=recipe.name_entry(entry.id))
        held = "kept as it is" if entry.locked else f"at least {least}"
        entries = [*recipe.entries]
        entries[number] = _let_down(entry, most)
        yield Clash(
            f"{material.name}, {entry.colour}, is {held}.",
            f"Let it go down to {most}.",
            recipe.model_copy(update={"entries": tuple(entries)}),
        )


def _try_together(recipe: Recipe, problem: FitProblem, catalogue: Catalogue) -> Iterator[Clash]:
    """All minimums let down together by as few pieces as can be."""
    model = Model()
    rung = model.add(
        replace(
            problem,
            slots={slot: (0, most) for slot, (_, most) in problem.slots.items()},
            lines=tuple(replace(line, least=0) for line in problem.lines),
        )
    )
    kept = {}
    for slot, (least, _) in problem.slots.items():
        kept[slot] = model.model.new_int_var(0, least, f"kept {slot}")
        model.model.add(kept[slot] <= sum(rung.pieces[line.id] for line in problem.lines if line.slot == slot))
    try:
        solver, _ = model.solve(-sum(kept.values()))
    except NoAnswer:
        return
    entries, words = [], []
    for entry in recipe.entries:
        most, (least, _) = int(solver.value(kept[entry.id])), problem.slots[entry.id]
        if most < least:
            words.append(f"{catalogue.get_name(entry.material)}, {entry.colour}, to {most}")
            entry = _let_down(entry, most)
        entries.append(entry)
    section = sum(line.section * problem.slots[line.slot][0] for line in problem.lines if line.id == line.slot)
    what = "stems than the mouth of the container passes" if section > problem.most_section else "than the limits allow"
    yield Clash(
        f"The fewest pieces of the entries are together more {what}.",
        f"Let {' and '.join(words)} go down.",
        recipe.model_copy(update={"entries": tuple(entries)}),
    )


def _let_down(entry: Entry, most: int) -> Entry:
    """An entry that a fit may take down so far; one that was kept as it is no longer is."""
    update: dict[str, object] = {"least": most}
    if entry.locked:
        update |= {"locked": False, "most": None, "pieces": min(entry.pieces, most)}
    return entry.model_copy(update=update)
