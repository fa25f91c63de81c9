"""What the command line answers about fitting, as text and as JSON with stable keys.

Money is given as strings to the cent; ``counts`` are pieces by entry, ``bound`` the fewest points an answer can have.
"""

from decimal import Decimal
from typing import Any

from mirvel.core.fit.extras import Extra
from mirvel.core.fit.fitting import CannotFit, Fitted
from mirvel.core.fit.ladder import Ladder
from mirvel.core.fit.repair import Repair
from mirvel.core.fit.substitutes import Substitute
from mirvel.core.values.money import to_cent


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
        "points": fitted.penalty.total,
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
    proof = "proven best" if fitted.optimal else f"at least {fitted.bound} points, this has {fitted.penalty.total}"
    lines.append(
        f"  spent {sign}{data['spent']} of {sign}{data['flower_money']}, room left {sign}{data['room_left']}: {proof}"
    )
    return "\n".join([*lines, *(f"  {reason}" for reason in fitted.reasons)])


def get_clash_text(error: CannotFit) -> str:
    """Why nothing fits, as lines to read."""
    if not error.clashes:
        return "Nothing fits, and no one limit alone would mend it. Let several entries go lower, or raise the price."
    return "\n".join(["Nothing fits:", *(f"  {each.why} {each.mend}" for each in error.clashes)])


def get_ladder_data(ladder: Ladder) -> dict[str, Any]:
    """All rungs of a ladder, cheapest first, and how far from the best they can be."""
    return {
        "rungs": [
            {key: value for key, value in get_fit_data(rung).items() if key not in {"optimal", "bound"}}
            for rung in ladder.rungs
        ],
        "points": ladder.penalty,
        "bound": ladder.bound,
        "optimal": ladder.optimal,
        "gap": round(ladder.gap, 4),
    }


def get_ladder_text(ladder: Ladder, sign: str) -> str:
    """A ladder as a table: entries down, rungs across."""
    proof = "proven best" if ladder.optimal else f"at most {ladder.gap * 100:.1f} % from the best"
    lines = [f"{'':<34}" + "".join(f"{sign + str(rung.recipe.price_point):>9}" for rung in ladder.rungs)]
    for entry in ladder.rungs[-1].recipe.entries:
        counts = "".join(f"{rung.counts.get(entry.id, 0):>9}" for rung in ladder.rungs)
        lines.append(f"{entry.material + ', ' + entry.colour:<34}{counts}")
    lines.append(f"{'room left':<34}" + "".join(f"{_cents(rung.money.room_left):>9}" for rung in ladder.rungs))
    return "\n".join([*lines, proof])


def get_extras_data(extras: tuple[Extra, ...]) -> dict[str, Any]:
    """What still fits, best first."""
    return {
        "extras": [
            {
                "changes": [
                    {"entry": each.entry, "material": each.material, "colour": each.colour, "by": each.by}
                    for each in extra.changes
                ],
                "cost": _cents(extra.cost),
                "room_left": _cents(extra.left),
                "spare": extra.is_spare,
                "why": extra.why,
            }
            for extra in extras
        ]
    }


def get_extras_text(extras: tuple[Extra, ...], sign: str) -> str:
    """What still fits, a line each."""
    lines = []
    for extra in extras:
        changes = ", ".join(f"{each.by:+d} {each.name}, {each.colour}" for each in extra.changes)
        lines.append(f"{changes}: {_signed(extra.cost, sign)}, {sign}{_cents(extra.left)} left ({extra.why})")
    return "\n".join(lines) or "Nothing fits in the room left."


def get_repairs_data(repairs: tuple[Repair, ...]) -> dict[str, Any]:
    """Ways back to true, fewest changes first."""
    return {
        "repairs": [
            {
                **get_fit_data(repair.fitted),
                "edits": [{"entry": edit.entry, "before": edit.before, "after": edit.after} for edit in repair.edits],
            }
            for repair in repairs
        ]
    }


def get_repairs_text(repairs: tuple[Repair, ...], sign: str) -> str:
    """Ways back to true, a line each."""
    lines = [f"{repair.words}: {sign}{_cents(repair.fitted.money.room_left)} left" for repair in repairs]
    return "\n".join(lines) or "No counts within its limits are true. Let entries go lower, or change the price point."


def get_substitutes_data(found: tuple[Substitute, ...]) -> dict[str, Any]:
    """Stand-ins for an entry, nearest first."""
    return {
        "substitutes": [
            {
                "material": each.material.slug,
                "colour": each.colour,
                "pieces": each.pieces,
                "colour_difference": round(each.colour_difference, 2),
                "cost_change": _cents(each.cost_change),
                "room_left": _cents(each.money.room_left),
                "reasons": list(each.reasons),
            }
            for each in found
        ]
    }


def get_substitutes_text(found: tuple[Substitute, ...], sign: str) -> str:
    """Stand-ins for an entry, a line each."""
    lines = [
        f"{each.pieces:>3} × {each.material.name}, {each.colour}: {_signed(each.cost_change, sign)}; "
        + ", ".join(each.reasons)
        for each in found
    ]
    return "\n".join(lines) or "Nothing the file knows could stand in for it."


def _cents(amount: Decimal) -> str:
    return str(to_cent(amount))


def _signed(amount: Decimal, sign: str) -> str:
    """More or less money, its sign before the currency's."""
    return f"{'−' if amount < 0 else '+'}{sign}{_cents(abs(amount))}"
