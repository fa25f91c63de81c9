"""What the command line answers: the money, the cuts and the checks of a worked recipe, as text and as JSON.

JSON keys are stable; money is given as strings to the cent, lengths in cm to a tenth of a millimetre.
"""

from typing import Any

from mirvel.core.judging.checks import DECLARED, get_by_family
from mirvel.core.values.money import to_cent
from mirvel.core.values.units import format_length
from mirvel.core.working import Worked


def get_price_data(worked: Worked) -> dict[str, Any]:
    """The money column of a recipe."""
    money = worked.money
    return {
        "recipe": worked.recipe.name,
        "currency": worked.rules.currency,
        "school": money.school.value,
        "price_point": str(to_cent(money.price_point)),
        "flower_money": str(to_cent(money.flower_money)),
        "spent": str(to_cent(money.spent)),
        "room_left": str(to_cent(money.room_left)),
        "fill": None if money.fill is None else round(float(money.fill), 4),
        "true": money.is_true,
        "hard_goods": str(to_cent(money.goods.hard_goods)),
        "gross_margin": round(float(money.gross_margin), 4),
        "contribution": round(float(money.contribution), 4),
        "left_over_value": str(to_cent(money.left_over_value)),
        "built_prices": {school.value: None if price is None else str(to_cent(price)) for school, price in money.built},
        "stems": [
            {
                "material": pull.material.slug,
                "colour": pull.colour,
                "pieces": pull.pieces,
                "stems": pull.stems,
                "left_over_pieces": pull.left_over,
                "cost": str(to_cent(pull.cost)),
            }
            for pull in money.pulls
        ],
    }


def get_price_text(worked: Worked) -> str:
    """The money column as lines to read."""
    data, sign = get_price_data(worked), worked.rules.currency
    lines = [f"{data['recipe']}: {sign}{data['price_point']}, {data['school']}"]
    for stem in data["stems"]:
        count = f"{stem['pieces']} pieces from {stem['stems']}"
        lines.append(f"  {stem['material'] + ', ' + stem['colour']:<38}{count:>20}  {sign}{stem['cost']:>7}")
    lines.append(f"  {'flower money':<58}  {sign}{data['flower_money']:>7}")
    lines.append(f"  {'spent':<58}  {sign}{data['spent']:>7}")
    lines.append(f"  {'room left':<58}  {sign}{data['room_left']:>7}")
    fill = "no flower money" if data["fill"] is None else f"{data['fill'] * 100:.1f} %"
    verdict = "true" if data["true"] else "not true"
    margin = f"gross margin {data['gross_margin'] * 100:.1f} %"
    lines.append(f"  fill {fill} ({verdict}), {margin}, hard goods {sign}{data['hard_goods']}")
    built = (f"{name} {sign}{price}" for name, price in data["built_prices"].items() if price)
    lines.append("  goods would build: " + "; ".join(built))
    return "\n".join(lines)


def get_cuts_data(worked: Worked) -> dict[str, Any]:
    """Every piece's cut and place."""
    return {
        "recipe": worked.recipe.name,
        "unit": "cm",
        "overall_height": round(worked.build.overall_height_cm, 2),
        "width": round(worked.build.extent.width_cm, 2),
        "pieces": [
            {
                "entry": cut.place.entry.id,
                "material": cut.place.material.slug,
                "colour": cut.place.entry.colour,
                "number": cut.place.number,
                "clock": round(cut.place.clock_hour, 1),
                "level": cut.place.level,
                "place": worked.build.say_place(cut.place),
                "lean_deg": round(cut.place.lean_deg, 1),
                "visible": round(cut.visible_cm, 2),
                "inside": round(cut.inside_cm, 2),
                "cut": round(cut.cut_cm, 3),
                "measured_to": "tip" if cut.place.material.is_axial else "base of head",
                "above_rim": round(cut.above_rim_cm, 2),
                "below_table_edge": round(cut.get_below_edge_cm(worked.build.container), 2),
            }
            for cut in worked.build.cuts
        ],
    }


def get_cuts_text(worked: Worked) -> str:
    """The cuts by entry, longest first, as lines to read."""
    unit = worked.rules.unit
    height, width = (
        format_length(each, unit) for each in (worked.build.overall_height_cm, worked.build.extent.width_cm)
    )
    lines = [f"{worked.recipe.name}: {height} tall, {width} wide"]
    for entry in worked.recipe.entries:
        cuts = sorted(worked.build.get_entry_cuts(entry.id), key=lambda cut: cut.cut_cm, reverse=True)
        lengths = "  ".join(format_length(cut.cut_cm, unit, with_unit=False) for cut in cuts)
        told = next((cut.place.material.uncut for cut in cuts), "") or f"{lengths} {unit.value}"
        lines.append(f"  {entry.placed:>3} × {entry.material}, {entry.colour} ({entry.piece.value}): {told}")
    return "\n".join(lines)


def get_checks_data(worked: Worked) -> dict[str, Any]:
    """What is wrong or worth knowing, worst first, and what could hurt somebody."""
    return {
        "recipe": worked.recipe.name,
        "checks": [
            {
                "id": check.id,
                "family": check.family.value,
                "severity": check.severity.value,
                "title": check.title,
                "reason": check.reason,
                "pieces": list(check.pieces),
                "accepted": check.accepted,
            }
            for check in (*worked.checks, *worked.accepted)
        ],
        "cautions": [{"source": caution.source, "text": caution.text} for caution in worked.cautions],
    }


def get_checks_text(worked: Worked) -> str:
    """The same as lines to read."""
    data = get_checks_data(worked)
    open_ones = sum(not check["accepted"] for check in data["checks"])
    lines = [f"{data['recipe']}: {open_ones or 'no'} findings, {len(data['cautions']) or 'no'} cautions"]
    lines += [
        f"  {check['severity']:<5} {check['title']}. {check['reason']}"
        + (f" Let stand: {check['accepted']}" if check["accepted"] else "")
        for check in data["checks"]
    ]
    lines += [f"  care  {caution['source']}: {caution['text']}" for caution in data["cautions"]]
    return "\n".join(lines)


def list_all_checks() -> str:
    """All checks as a page of Markdown: what each finds, by what measure and limit, and where that comes from."""
    lines = [
        "# Checks",
        "",
        f"What Mirvel looks for in every recipe, {len(DECLARED)} things. Written by `./run mirvel all-checks`.",
    ]
    for family, declared in get_by_family():
        lines += [
            "",
            f"## {family.value.capitalize()}",
            "",
            "| id | finds | by | limit | from | where | is a |",
            "|---|---|---|---|---|---|---|",
        ]
        lines += [
            f"| `{each.id}` | {each.looks_for} | {each.measures} | {each.limit} | {each.source.value} "
            f"| {', '.join(each.schools) or 'always'} | {each.severity.value} |"
            for each in declared
        ]
    return "\n".join(lines)
