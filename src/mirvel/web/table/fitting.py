"""Fitting on the Table: what is asked of the solver, what its answers look like, and the changes they make."""

import json
import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field, TypeAdapter, ValidationError

from mirvel.core.changing import changes
from mirvel.core.changing.changes import Change, get_entry
from mirvel.core.fit.beginning import is_just_begun
from mirvel.core.fit.extras import Extra, find_extras
from mirvel.core.fit.fitting import CannotFit, Fitted, fit, set_price
from mirvel.core.fit.repair import Repair, find_repairs
from mirvel.core.fit.substitutes import Substitute, find_substitutes
from mirvel.core.mending import Mend, find_other_size, find_other_vessel
from mirvel.core.recipe.entry import Entry
from mirvel.core.recipe.fit_wishes import Aim
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.values.problems import BadInput, Problem
from mirvel.store.shop import SavedRecipe
from mirvel.web.requests import Typed
from mirvel.web.working import Desk

_CHANGING = "a change"  # what is applied was shown before, and is kept: nobody waits for it
MOST_DRAWN = 5


@dataclass(frozen=True)
class CountView:
    """One entry's pieces before and after."""

    name: str
    before: int
    after: int


@dataclass(frozen=True)
class FitView:
    """A fit beside the recipe it came from, the same at another height or in another vessel where it asks for one; or
    why none was found. ``begun`` says that the recipe had no proportions of its own."""

    fitted: Fitted | None
    counts: tuple[CountView, ...]
    answers: tuple[Mend, ...]
    cannot: CannotFit | None
    begun: bool = False


def read_aim(typed: Mapping[str, str], recipe: Recipe) -> Aim:
    """The aim asked for, the recipe's own where none is."""
    return Aim(typed["aim"]) if typed.get("aim") in set(Aim) else recipe.fit.aim


def name_question(recipe_id: int) -> str:
    """What the solver is asked for while somebody looks at a recipe, so that it can be stopped."""
    return f"recipe {recipe_id}"


def get_fit_view(saved: SavedRecipe, desk: Desk, typed: Mapping[str, str]) -> FitView:
    """The fit to the price typed, by the aim typed. Raises BadInput, UnknownGoods."""
    recipe, asker = saved.recipe, name_question(saved.id)
    asked = set_price(recipe, typed.get("price") or None, read_aim(typed, recipe))
    try:
        fitted = _fit(asked, desk, asker)
    except CannotFit as error:
        return FitView(None, (), (), error)
    counts = get_counts(recipe, fitted.recipe, desk)
    answers = _get_answers(recipe, fitted.recipe, desk)
    return FitView(fitted, counts, answers, None, is_just_begun(recipe))


def get_aims(saved: SavedRecipe, desk: Desk, typed: Mapping[str, str]) -> tuple[Fitted, ...]:
    """What a fit to the price typed would spend and hold by every aim. Raises BadInput, UnknownGoods, CannotFit."""
    asked = set_price(saved.recipe, typed.get("price") or None)
    return tuple(_fit(set_price(asked, None, aim), desk, name_question(saved.id)) for aim in Aim)


def _get_answers(recipe: Recipe, fitted: Recipe, desk: Desk) -> tuple[Mend, ...]:
    """The fit as it would be built and judged; and where it brings what another height or another vessel puts right,
    those beside it."""
    plain = Mend((), desk.work_out(recipe), desk.work_out_after(recipe, fitted))
    others = (find(plain, desk.catalogue, desk.work_out_after) for find in (find_other_size, find_other_vessel))
    return (plain, *(other for other in others if other))


def get_counts(before: Recipe, after: Recipe, desk: Desk) -> tuple[CountView, ...]:
    """Every entry whose pieces changed."""
    counts = []
    for entry in after.entries:
        old = before.find_entry(entry.id)
        if (old.pieces if old else 0) != entry.pieces:
            counts.append(CountView(get_name(entry, desk), old.pieces if old else 0, entry.pieces))
    return tuple(counts)


def get_name(entry: Entry, desk: Desk) -> str:
    return f"{desk.catalogue.get_name(entry.material)}, {entry.colour}"


def _fit(asked: Recipe, desk: Desk, what_for: str = _CHANGING) -> Fitted:
    """A fit is the same whenever it is asked at the same costs, so that applying one need not carry its counts."""
    begun = desk.begin(asked)
    return desk.keep_at_costs(
        "fit", begun, lambda: desk.workers.quick.ask(what_for, fit, begun, desk.catalogue, desk.rules)
    )


def get_repairs(
    recipe: Recipe, desk: Desk, without: frozenset[str] = frozenset(), what_for: str = _CHANGING
) -> tuple[Repair, ...]:
    """Ways back to true, fewest changes first, without what is not to be had."""
    return desk.keep_at_costs(
        f"repair without {' '.join(sorted(without))}",
        recipe,
        lambda: desk.workers.quick.ask(what_for, find_repairs, recipe, desk.catalogue, desk.rules, without=without),
    )


def get_extras(recipe: Recipe, desk: Desk, *, whole_catalogue: bool) -> tuple[Extra, ...]:
    """What still fits."""
    return find_extras(recipe, desk.catalogue, desk.rules, whole_catalogue=whole_catalogue)


def write_extra(extra: Extra) -> str:
    """An extra as a form carries it."""
    return json.dumps([[each.entry or "", each.material, each.colour, each.by] for each in extra.changes])


def apply_fit(recipe: Recipe, desk: Desk, typed: Typed) -> Change:
    """The counts of a fit that was shown."""
    asked = set_price(recipe, typed.get("price") or None, read_aim(typed, recipe))
    try:
        fitted = _fit(asked, desk)
    except CannotFit:
        raise BadInput(Problem("fit", "no counts keep every limit.", "Ask again and choose a mend.")) from None
    words = f"fitted to {asked.price_point}, {asked.fit.aim.value}"
    if typed.get("answer", "0") == "0":
        return Change(fitted.recipe, words)
    answers = _get_answers(recipe, fitted.recipe, desk)
    answer = answers[_read_number(typed, len(answers))]
    return Change(answer.after.recipe, ", ".join((words, *answer.words))[:200])


def apply_mend(recipe: Recipe, desk: Desk, typed: Typed) -> Change:
    """A limit let out as far as a fit needs it."""
    asked = set_price(recipe, typed.get("price") or None, read_aim(typed, recipe))
    try:
        _fit(asked, desk)
    except CannotFit as error:
        number = _read_number(typed, len(error.clashes))
        clash = error.clashes[number]
        return Change(clash.recipe.change(), clash.mend.rstrip("."))
    return apply_fit(recipe, desk, typed)


def apply_repair(recipe: Recipe, desk: Desk, typed: Typed) -> Change:
    """One of the repairs that were shown."""
    repairs = get_repairs(recipe, desk, frozenset(typed.get("without", "").split()))
    repair = repairs[_read_number(typed, len(repairs))]
    return Change(repair.fitted.recipe, f"repaired: {repair.words}"[:200])


def get_substitutes(
    recipe: Recipe, desk: Desk, entry: str, stock: Mapping[tuple[str, str], int], month: int
) -> tuple[Substitute, ...]:
    """What could stand in for an entry this month, with what is in the cooler where anything is counted there."""
    return find_substitutes(
        recipe, entry, desk.catalogue, desk.rules, month=month, stock=stock or None, most=MOST_DRAWN
    )


def apply_substitute(recipe: Recipe, desk: Desk, typed: Typed) -> Change:
    """The stand-in that was shown."""
    every = len(desk.catalogue.materials)
    for each in find_substitutes(recipe, typed.get("entry", ""), desk.catalogue, desk.rules, most=every):
        if (each.material.slug, each.colour) == (typed.get("material"), typed.get("colour")):
            return Change(each.recipe, f"{each.material.name}, {each.colour}, instead of {typed['entry']}")
    raise BadInput(Problem("substitute", "it is no longer offered.", "Ask again and choose one."))


def _read_number(typed: Typed, count: int) -> int:
    text = typed.get("answer", "")
    if not re.fullmatch(r"\d{1,3}", text, re.ASCII) or int(text) >= count:
        raise BadInput(Problem("answer", "it is no longer offered.", "Ask again and choose one."))
    return int(text)


def apply_extra(recipe: Recipe, desk: Desk, typed: Typed) -> Change:
    """Pieces more and fewer, as offered."""
    after, words = recipe, []
    for entry, material, colour, by in _read_extra(typed.get("extra", "")):
        if entry:
            get_entry(after, entry)
            made = changes.nudge_pieces(after, entry, by)
        else:
            made = changes.add_entry(after, desk.catalogue, material, colour, max(1, by))
        after = made.recipe
        words.append(made.words)
    return Change(after, "; ".join(words)[:200])


_EXTRA = TypeAdapter(Annotated[list[tuple[str, str, str, Literal[-2, -1, 1, 2]]], Field(max_length=40)])


def _read_extra(text: str) -> list[tuple[str, str, str, Literal[-2, -1, 1, 2]]]:
    try:
        return _EXTRA.validate_json(text)
    except ValidationError:
        raise BadInput(Problem("what fits", "that is not an offer.", "Ask again and choose one.")) from None
