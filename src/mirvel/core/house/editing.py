"""House rules as they are typed, and read again: shares as percentages, lists as words between commas or lines. All
that is wrong is told at once, by the names the page has for the fields; a change is whole or not at all."""

import re
from collections.abc import Callable, Mapping
from decimal import Decimal
from typing import Any

from pydantic import ValidationError

from mirvel.core.goods.facts import HeadForm
from mirvel.core.house.rules import HouseRules, Slices
from mirvel.core.house.terms import Terms, read_terms, write_terms
from mirvel.core.values.fact import Fact
from mirvel.core.values.problems import BadInput, Problem, get_problems
from mirvel.core.values.reading import read_amount

SLICES = tuple(name for name in Slices.model_fields if name != "lend_hard_goods")
SHARES = frozenset(
    (
        *("labour_on_top", "labour_share", "overhead_on_wage", "goods_uplift", "tax_rate", "true_from", "true_to"),
        *("opening_at_delivery", "target_fullness", "thin_below", "crowded_above", "spare_share", *SLICES),
        *("foam_holds", "foam_gives"),
    )
)
FLAGS = frozenset({"lend_hard_goods", "odd_focals", "minds_bunches"})
_OPTIONAL = frozenset({"most_hues", "transport_cm", "minutes_a_piece"})
_MOST_PERCENT, _MOST_PRICE, _MOST_POINTS = Decimal(2000), Decimal(100_000), 60
_HEX = re.compile(r"#[0-9a-f]{6}")


def write_rules(rules: HouseRules) -> dict[str, str]:
    """Every rule as it is typed, by its field; slices of the price stand among the others."""
    found = {name: getattr(rules, name) for name in HouseRules.model_fields if name != "slices"}
    found |= {name: getattr(rules.slices, name) for name in Slices.model_fields}
    return {name: _write(name, value) for name, value in found.items()}


def _write(name: str, value: Any) -> str:
    if value is None:
        return ""
    if name in FLAGS:
        return "yes" if value else "no"
    if name in SHARES:
        return _plain(Decimal(str(value)) * 100)
    if name == "price_points":
        return ", ".join(_plain(each) for each in sorted(value))
    if name == "people":
        return "\n".join(value)
    if name == "palettes":
        return "\n".join(f"{palette}: {' '.join(colours)}" for palette, colours in value.items())
    if name == "occasions":
        return "\n".join(f"{occasion}: {write_terms(terms)}" for occasion, terms in value.items())
    if isinstance(value, Mapping):
        return "\n".join(f"{key}: {_plain(Decimal(str(each)))}" for key, each in value.items())
    return _plain(Decimal(str(value))) if isinstance(value, int | float | Decimal) else str(value)


def _plain(number: Decimal) -> str:
    text = f"{number:f}"
    return text.rstrip("0").rstrip(".") if "." in text else text


def set_rules(rules: HouseRules, typed: Mapping[str, str], names: Mapping[str, str]) -> HouseRules:
    """The rules with every field that was typed, named in problems as ``names`` says. Raises BadInput with all that is
    wrong."""
    problems: list[Problem] = []
    fields: dict[str, Any] = {}
    for name in names:
        if name in typed:
            try:
                fields[name] = _read(name, typed[name], names[name])
            except BadInput as error:
                problems += error.problems
    slices = {name: fields.pop(name) for name in Slices.model_fields if name in fields}
    if len(slices) == len(Slices.model_fields):
        problems += _find_wrong(Slices, slices, names)
        fields["slices"] = slices if not problems else rules.slices
    problems += _find_wrong(HouseRules, {**rules.model_dump(), **fields}, names)
    if not problems:
        made = HouseRules.model_validate({**rules.model_dump(), **fields})
        problems += _find_out_of_order(made, names)
    if problems:
        raise BadInput(*problems)
    return made


def _find_wrong(kind: type[Fact], fields: Mapping[str, Any], names: Mapping[str, str]) -> list[Problem]:
    """What the rules themselves refuse."""
    try:
        kind.model_validate(fields)
    except ValidationError as error:
        fields_of = [str(each["loc"][0]) if each["loc"] else "slices" for each in error.errors()]
        return [
            Problem(names.get(field, "slices of the price"), problem.message, problem.mend)
            for field, problem in zip(fields_of, get_problems(error), strict=True)
        ]
    return []


def _find_out_of_order(rules: HouseRules, names: Mapping[str, str]) -> list[Problem]:
    """Limits of which the lower lies above the higher."""
    pairs = (("true_from", "true_to"), ("thin_below", "target_fullness"), ("target_fullness", "crowded_above"))
    return [
        Problem(names[low], f"is more than “{names[high]}”.", "Make it less, or the other more.")
        for low, high in pairs
        if getattr(rules, low) > getattr(rules, high)
    ]


def _read(name: str, text: str, label: str) -> Any:
    text = text.strip()
    if name in FLAGS:
        return text in {"yes", "on", "true"}
    if name in SHARES:
        return read_amount(text.rstrip("% "), label, most=_MOST_PERCENT, example="20 or 12.5").scaleb(-2)
    if name == "price_points":
        return _read_points(text, label)
    if name == "people":
        return tuple(dict.fromkeys(filter(None, map(str.strip, text.splitlines()))))
    if name == "palettes":
        return _read_lines(text, label, _read_colours, "lantern: #e8836b #f2c14e")
    if name == "occasions":
        return _read_occasions(text, label)
    if name == "class_markups":
        return _read_lines(text, label, _read_number, "orchid: 2.5")
    if name == "form_weights":
        return _read_lines(text, label, _read_number, f"{HeadForm.SPRAY.value}: 0.5")
    if name in _OPTIONAL:
        return text.replace(",", ".") or None
    return text.replace(",", ".") if re.fullmatch(r"-?\d+,\d+", text) else text


def _read_points(text: str, label: str) -> tuple[Decimal, ...]:
    """Prices between semicolons, spaces or commas with a space, each once, the least first."""
    parts = [part for part in re.split(r"[;\s]+|,(?=\s|$)", text) if part]
    found = {read_amount(part, label, most=_MOST_PRICE, places=2, example="42 or 42.50") for part in parts}
    if not found or min(found) <= 0 or len(found) > _MOST_POINTS:
        raise BadInput(Problem(label, f"needs 1 to {_MOST_POINTS} prices above nothing.", "Type such as 28, 42, 58."))
    return tuple(sorted(found))


def _read_lines(text: str, label: str, read: Callable[[str, str, str], Any], example: str) -> dict[str, Any]:
    """A name and what it has to a line, a colon between them."""
    found = {}
    for line in filter(None, map(str.strip, text.splitlines())):
        name, colon, rest = line.rpartition(":") if ":" in line else line.rpartition(" ")
        if not (name.strip() and colon):
            raise BadInput(Problem(label, f"“{line[:40]}” is no name with what it has.", f"Type such as {example}."))
        found[name.strip()] = read(rest.strip(), label, example)
    return found


def _read_occasions(text: str, label: str) -> dict[str, Terms]:
    found = {}
    for line in filter(None, map(str.strip, text.splitlines())):
        name, colon, rest = line.partition(":")
        if not (name.strip() and colon):
            example = "sympathy: flowers × 3.5; labour on top 25 %"
            raise BadInput(Problem(label, f"“{line[:40]}” is no occasion with its terms.", f"Type such as {example}."))
        found[name.strip()] = read_terms(rest, label)
    return found


def _read_number(text: str, label: str, example: str) -> Decimal:
    return read_amount(text, label, most=_MOST_PERCENT, example=example)


def _read_colours(text: str, label: str, example: str) -> tuple[str, ...]:
    colours = tuple(text.lower().replace(",", " ").split())
    if not colours or not all(map(_HEX.fullmatch, colours)):
        raise BadInput(Problem(label, f"“{text[:40]}” is no list of colours.", f"Type such as {example}."))
    return colours
