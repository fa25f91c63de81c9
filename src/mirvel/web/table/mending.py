"""What puts a finding right, looked at before it is taken, and taken."""

from mirvel.core.changing.changes import Change
from mirvel.core.mending import Mend, find_mend, mend_all
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.values.problems import BadInput, Problem
from mirvel.web.requests import Typed
from mirvel.web.working import Desk

ALL = "all"


def get_mend(recipe: Recipe, desk: Desk, finding: str) -> Mend | None:
    """What puts a finding right, or all that can be; None where nothing does. Raises BadInput for one that is not
    found any more."""
    worked = desk.work_out(recipe)

    if finding == ALL:
        return mend_all(worked, desk.catalogue, desk.work_out_after)
    check = next((each for each in worked.checks if each.id == finding), None)
    if check is None:
        raise BadInput(Problem("finding", "it is not found any more.", "There is nothing to put right."))
    return find_mend(worked, check, desk.catalogue, desk.work_out_after)


def put_right(recipe: Recipe, desk: Desk, typed: Typed) -> Change:
    """The change that was looked at. Raises BadInput where there is none (any more)."""
    mend = get_mend(recipe, desk, typed.get("finding", ""))
    if mend is None:
        raise BadInput(Problem("finding", "nothing that Mirvel tries puts it right.", "Change the recipe by hand."))
    return Change(mend.after.recipe, "put right: " + "; ".join(mend.words))
