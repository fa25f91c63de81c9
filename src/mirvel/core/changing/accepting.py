"""Findings that are let stand with a reason, and told again."""

from mirvel.core.changing.changes import Change
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.values.problems import BadInput, Problem


def accept(recipe: Recipe, finding: str, title: str, pieces: int, reason: str) -> Change:
    """Let a finding stand, by its id, as it is told and seen at so many pieces, with the reason for it. Raises BadInput
    where there is none."""
    if not reason.strip():
        mend = f"Type why “{title}” may stand, such as “asked for by the customer”."
        raise BadInput(Problem("reason", "it is empty.", mend))
    accepted = {"finding": finding, "reason": reason.strip(), "told": title[:200], "pieces": pieces}
    return Change(recipe.change(accepted=[*_get_others(recipe, finding), accepted]), f"let stand: {title}")


def tell_again(recipe: Recipe, check_id: str) -> Change:
    """Tell of a finding again that was let stand."""
    return Change(recipe.change(accepted=_get_others(recipe, check_id)), "a finding is told again")


def _get_others(recipe: Recipe, check_id: str) -> list[object]:
    return [each.model_dump() for each in recipe.accepted if each.finding != check_id]
