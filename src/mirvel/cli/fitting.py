"""What the command line answers about fitting, as text and as JSON with stable keys.

Money is given as strings to the cent; ``counts`` are pieces by entry, ``bound`` the fewest points an answer can have.
"""

from decimal import Decimal
from typing import Any

from mirvel.core.fit.fitting import CannotFit, Fitted
from mirvel.core.money import to_cent


def get_fit_data(fitted: Fitted) -> dict[str, Any]:
    """One recipe at the counts a fit chose."""
    money, recipe = fitted.money, fitted.recipe
    return {
        "recipe": recipe.name,
        "price_point": str(to_cent(recipe.price_point)),
        "aim": recipe.fit.aim.value,
        "fits": True,
        "counts": fitted.counts,
        "entries": [
            {"entry": each.id, "material": each.material, "colour": each.colour, "pieces": each.pieces}
            for each in recipe.entries
        ],
        "spent": _cents(money.spent),
        "flower_money": _cents(money.flower_money),
        "room_left": _cents(money.room_left),
        "fill": None if money.fill is None else round(float(money.fill), 4),
        "true": money.is_true,
        "cover": round(fitted.cover, 4),
        "points": fitted.points.total,
        "bound": fitted.bound,
        "optimal": fitted.optimal,
        "why_not_more": list(fitted.reasons),
    }


def get_clash_data(error: CannotFit) -> dict[str, Any]:
    """Why nothing fits, and what would mend it."""
    return {"fits": False, "clashes": [{"why": each.why, "mend": each.mend} for each in error.clashes]}


def get_fit_text(fitted: Fitted, sign: str) -> str:
    """The fit as lines to read."""
    data = get_fit_data(fitted)
    lines = [f"{data['recipe']}: {sign}{data['price_point']}, {data['aim']}"]
    lines += [f"  {each['pieces']:>3} × {each['material']}, {each['colour']}" for each in data["entries"]]
    proof = "proven best" if fitted.optimal else f"at least {fitted.bound} points, this has {fitted.points.total}"
    lines.append(
        f"  spent {sign}{data['spent']} of {sign}{data['flower_money']}, room left {sign}{data['room_left']}: {proof}"
    )
    return "\n".join([*lines, *(f"  {reason}" for reason in fitted.reasons)])


def get_clash_text(error: CannotFit) -> str:
    """Why nothing fits, as lines to read."""
    if not error.clashes:
        return "Nothing fits, and no one limit alone would mend it. Let several entries go lower, or raise the price."
    return "\n".join(["Nothing fits:", *(f"  {each.why} {each.mend}" for each in error.clashes)])


def _cents(amount: Decimal) -> str:
    return str(to_cent(amount))
