"""Changes to a recipe: each takes the recipe and what was typed, and gives the new recipe with words for it.

What was typed goes through the document's own validation, so that a count of "abc" is refused here in the same
words as in a file. All raise BadInput.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.facts import PieceSize, Role
from mirvel.core.goods.hard_good import HardGoodUse, read_quantity
from mirvel.core.house.design import BuildOrder, SeenFrom
from mirvel.core.house.terms import read_term
from mirvel.core.placing.size import check_form_stands
from mirvel.core.recipe.entry import MAX_PIECES, Entry
from mirvel.core.recipe.meant_words import read_meant, write_meant
from mirvel.core.recipe.recipe import Brief, Recipe, SizeMode
from mirvel.core.values.problems import BadInput, Problem
from mirvel.core.values.reading import read_percent
from mirvel.core.values.units import LengthUnit

# What a person may change of each part by typing it; whatever asks for another field is refused where it is read.
RecipeField = Literal["name", "price_point", "mechanics", "minutes", "notes"]
EntryField = Literal["pieces", "colour", "role", "piece", "outline", "least", "most", "locked"]
SizeField = Literal["mode", "density"]
SchoolField = Literal["pricing", "pieces", "flower_markup", "hard_goods_markup", "labour_on_top", "labour_share"]
BriefField = Literal["lasts_days", "refilled", "occasion", "place", "seen_from", "across_table", "days_to_viewing"]
HEIGHT_STEP = 0.05
OWN_HEIGHT_STEP_CM = 1.0


@dataclass(frozen=True)
class Change:
    """A changed recipe and what was done, as kept beside the saved state."""

    recipe: Recipe
    words: str


def _name_entry(entry: Entry) -> str:
    return f"{entry.material} ({entry.colour})"


def get_entry(recipe: Recipe, entry_id: str) -> Entry:
    entry = recipe.find_entry(entry_id)
    if entry is None:
        raise BadInput(Problem("entry", f"there is no entry “{entry_id}” any more.", "Choose one from the list."))
    return entry


def set_entry(recipe: Recipe, entry_id: str, field: EntryField, typed: object) -> Change:
    """Replace one field of an entry: pieces, colour, role, piece, outline, or what a fit may do to it (least, most,
    locked). In another role it moves in the build order."""
    before = get_entry(recipe, entry_id)
    typed = None if typed == "" and field in {"least", "most"} else typed
    changed = {**before.model_dump(), field: typed}
    entries = [changed if entry.id == entry_id else entry.model_dump() for entry in recipe.entries]
    after = recipe.change(entries=entries)
    value = getattr(get_entry(after, entry_id), field)
    if field == "role" and value is not before.role:
        others = remove_entry(recipe, entry_id).recipe
        at = _get_place_in_build_order(others, value)
        kept = [entry.model_dump() for entry in recipe.entries if entry.id != entry_id]
        after = recipe.change(entries=[*kept[:at], changed, *kept[at:]])
    return Change(after, f"{_name_entry(before)}: {field} {value}")


def set_meant(recipe: Recipe, entry_id: str, typed: str, unit: LengthUnit) -> Change:
    """What is meant by an entry, in the short words it is typed in; lengths in a unit, each kept as it was where it
    reads the same."""
    before, ids = get_entry(recipe, entry_id), [entry.id for entry in recipe.entries]
    meant = read_meant(typed, ids, unit)
    for part in ("height", "depth"):
        alone, was = (each.only(part) for each in (meant, before.meant))
        if write_meant(alone, ids, unit) == write_meant(was, ids, unit):
            meant = meant.model_copy(update={part: getattr(before.meant, part)})
    fresh = before.model_copy(update={"meant": meant})
    after = recipe.change(entries=[fresh if entry.id == entry_id else entry for entry in recipe.entries])
    return Change(after, f"{_name_entry(before)}: {write_meant(meant, ids, unit) or 'as its role'}"[:200])


def nudge_pieces(recipe: Recipe, entry_id: str, by: int) -> Change:
    """More or fewer pieces of an entry, from none to what a recipe holds."""
    entry = get_entry(recipe, entry_id)
    room = MAX_PIECES - sum(each.pieces for each in recipe.entries)
    return set_entry(recipe, entry_id, "pieces", max(0, entry.pieces + min(by, room)))


def add_entry(recipe: Recipe, catalogue: Catalogue, material_slug: str, colour: str = "", pieces: object = 1) -> Change:
    """A new entry in the material's usual role, at its place in the build order; the first colour if none is named."""
    known = catalogue.materials.get(material_slug) or catalogue.assemblies.get(material_slug)
    if known is None:
        mend = "Type part of a name and choose from the list."
        raise BadInput(Problem("add", f"there is no material “{material_slug}”.", mend))
    if known.retired:
        raise BadInput(Problem("add", f"{known.name} is retired.", "Choose another, or take it up again in Buckets."))
    material = catalogue.get_material(material_slug, next(iter(known.colours)), field="add")
    fresh = {
        "id": get_free_id(recipe),
        "material": material_slug,
        "colour": colour or next(iter(material.colours)),
        "role": material.default_role,
        "pieces": pieces,
        "piece": PieceSize.LATERAL if material.pieces_per_stem > 1 else PieceSize.STEM,
    }
    entries = [entry.model_dump() for entry in recipe.entries]
    at = _get_place_in_build_order(recipe, material.default_role)
    return Change(recipe.change(entries=[*entries[:at], fresh, *entries[at:]]), f"added {material.name}")


def get_free_id(recipe: Recipe) -> str:
    """An id that no entry has."""
    numbers = [int(entry.id[1:]) for entry in recipe.entries if entry.id[1:].isdigit()]
    return f"e{max(numbers, default=0) + 1}"


def _get_place_in_build_order(recipe: Recipe, role: Role) -> int:
    """Behind the last entry of the role; where there is none, behind those that usually go in before it."""
    roles, order = [entry.role for entry in recipe.entries], list(Role)
    before = {role} if role in roles else set(order[: order.index(role)])
    return max((number for number, each in enumerate(roles, 1) if each in before), default=0)


def remove_entry(recipe: Recipe, entry_id: str) -> Change:
    entry = get_entry(recipe, entry_id)
    kept = [each for each in recipe.entries if each.id != entry_id]
    entries = [each.model_copy(update={"meant": each.meant.without(entry_id)}) for each in kept]
    return Change(recipe.change(entries=entries), f"removed {_name_entry(entry)}")


def use_hard_good(recipe: Recipe, catalogue: Catalogue, slug: str, typed: str) -> Change:
    """Use a hard good, or use another quantity of it, typed as 0.9, 1/3 or 5 loops."""
    good = catalogue.get_hard_good(slug, field="hard good")
    kept = [use.model_dump() for use in recipe.hard_goods]
    at = next((number for number, use in enumerate(recipe.hard_goods) if use.hard_good == slug), len(kept))
    after = recipe.change(hard_goods=[*kept[:at], {"hard_good": slug, **read_quantity(typed)}, *kept[at + 1 :]])
    use: HardGoodUse = after.hard_goods[at]
    return Change(after, f"{good.name}: {use.describe(good)}")


def drop_hard_good(recipe: Recipe, slug: str) -> Change:
    """Use a hard good no more."""
    kept = [use.model_dump() for use in recipe.hard_goods if use.hard_good != slug]
    return Change(recipe.change(hard_goods=kept), f"without {slug}")


def set_container(recipe: Recipe, catalogue: Catalogue, slug: str) -> Change:
    """Another container; only one that the recipe's form can stand in."""
    container = catalogue.get_container(slug)
    check_form_stands(FORMS[recipe.form], container)
    return Change(recipe.change(container=slug), f"container {container.name}")


def set_field(recipe: Recipe, field: RecipeField, typed: object) -> Change:
    """Replace one field of the recipe itself; its container is set by ``set_container``."""
    return Change(recipe.change(**{field: typed}), f"{field.replace('_', ' ')} {typed}"[:200])


def set_height(recipe: Recipe, typed: Mapping[str, object]) -> Change:
    """Replace parts of the height rule (factor, of, base); a piece of its own size goes by the rule again."""
    size = recipe.size.model_dump()
    mode = SizeMode.BY_RULE if recipe.size.mode is SizeMode.OWN else recipe.size.mode
    after = recipe.change(size={**size, "mode": mode, "rule": {**size["rule"], **typed}})
    rule = after.size.rule
    return Change(after, f"height {rule.factor:g} × {rule.of} from {rule.base}")


def nudge_height(recipe: Recipe, steps: int) -> Change:
    """A taller or lower piece: by steps of the rule's factor, or of 1 cm where it has its own size."""
    size = recipe.size
    if size.mode is SizeMode.OWN and size.own_height_cm and size.own_width_cm:
        return set_own_size(recipe, size.own_height_cm + steps * OWN_HEIGHT_STEP_CM, size.own_width_cm)
    return set_height(recipe, {"factor": round(size.rule.factor + steps * HEIGHT_STEP, 2)})


def set_own_size(recipe: Recipe, height_cm: float, width_cm: float) -> Change:
    """The recipe's own size, overall height from the table and width, instead of the rule's."""
    own = {"mode": "own", "own_height_cm": height_cm, "own_width_cm": width_cm}
    after = recipe.change(size={**recipe.size.model_dump(), **own})
    return Change(after, f"own size {height_cm:g} × {width_cm:g} cm")


def set_size(recipe: Recipe, field: SizeField, typed: object) -> Change:
    """Replace the size mode or the density."""
    return Change(recipe.change(size={**recipe.size.model_dump(), field: typed}), f"{field} {typed}")


def set_wish(recipe: Recipe, field: str, typed: str) -> Change:
    """Replace one wish for fitting; a role's share of visual mass is named "share mass", of the money "money share
    mass". Shares are percent; an empty one follows the recipe or the house again. Raises BadInput."""
    wishes = recipe.fit.model_dump()
    value: object = typed or None
    kind, by_role, role = field.rpartition("share ")
    if by_role or field in {"focal_from", "focal_to", "cover_from", "cover_to"}:
        value = _read_percent(field, typed)
    if by_role:
        name = "money_shares" if kind else "shares"
        shares = _drop_empty({**wishes[name], role: value})
        return Change(recipe.change(fit={**wishes, name: shares}), f"{field} {typed or 'as it is'}")
    return Change(recipe.change(fit={**wishes, field: value}), f"fit: {field.replace('_', ' ')} {typed or 'as usual'}")


def _drop_empty(shares: dict[str, object]) -> dict[str, object]:
    return {role: share for role, share in shares.items() if share is not None}


def _read_percent(field: str, typed: str) -> Decimal | None:
    return read_percent(typed, field.replace("_", " ")).quantize(Decimal("0.001")) if typed else None


def set_brief(recipe: Recipe, field: BriefField, typed: str) -> Change:
    """Replace one thing the brief says: what the piece is for, where it stands and from where it is seen, whether
    people talk across it, the days to its viewing, those it is to last, or whether it is refilled. Raises BadInput."""
    value: object = typed or 0 if field in {"lasts_days", "days_to_viewing"} else typed.strip()
    after = recipe.change(brief={**recipe.brief.model_dump(), field: value})
    return Change(after, _say_brief(after.brief, field)[:200])


def _say_brief(brief: Brief, field: BriefField) -> str:
    return {
        "lasts_days": f"lasts {brief.lasts_days} days" if brief.lasts_days else "no days promised",
        "refilled": f"water {'' if brief.refilled else 'not '}topped up",
        "occasion": f"for {brief.occasion or 'any occasion'}",
        "place": f"stands {brief.place or 'anywhere'}",
        "seen_from": f"seen {'all round' if brief.seen_from is SeenFrom.ALL_ROUND else 'from the front'}",
        "across_table": f"{'' if brief.across_table else 'not '}talked across",
        "days_to_viewing": f"looked at {brief.days_to_viewing} days after making",
    }[field]


def set_foam_block(recipe: Recipe, typed: str) -> Change:
    """Which block of a brick is cut for it, in words such as “half, on its side”; nothing for foam that fills the
    container."""
    if not typed:
        return Change(recipe.change(foam_block=None), "foam fills the container")
    part, _, lie = typed.partition(", ")
    return Change(recipe.change(foam_block={"part": part, "lie": lie or "flat"}), f"foam: {part} of a brick, {lie}")


def set_foam(recipe: Recipe, above_rim_cm: float) -> Change:
    """How far foam stands above the rim."""
    return Change(recipe.change(foam_above_rim_cm=above_rim_cm), f"foam {above_rim_cm:g} cm above the rim")


def let_foam_show(recipe: Recipe, *, on: bool) -> Change:
    """Whether bare foam is meant to be seen between the flowers."""
    return Change(recipe.change(foam_may_show=on), f"foam {'may' if on else 'may not'} show")


def bevel_foam(recipe: Recipe, *, on: bool) -> Change:
    """Whether the upper edges of its foam are cut off at a slant."""
    return Change(recipe.change(foam_bevelled=on), f"foam {'' if on else 'not '}bevelled")


def move_entry(recipe: Recipe, entry_id: str, by: int) -> Change:
    """An entry so many lines earlier (fewer) or later in the order of building, which is as listed from then on; its
    pieces stay where they are."""
    entry = get_entry(recipe, entry_id)
    others = [each for each in recipe.entries if each.id != entry_id]
    at = max(0, min(len(others), recipe.entries.index(entry) + by))
    words = f"{_name_entry(entry)} goes in {'earlier' if by < 0 else 'later'}"
    after = recipe.change(entries=[*others[:at], entry, *others[at:]], build_order=BuildOrder.AS_LISTED)
    return Change(after, words)


def set_exclusion(recipe: Recipe, exclusion: str, *, on: bool) -> Change:
    """Rule something out in the brief, or let it in again."""
    brief = recipe.brief.model_dump()
    kept = [each for each in recipe.brief.exclude if each.value != exclusion]
    after = recipe.change(brief={**brief, "exclude": [*kept, exclusion] if on else kept})
    return Change(after, f"{'without' if on else 'may have'} {exclusion}")


def set_alternative(recipe: Recipe, entry_id: str, material: str, colour: str, *, on: bool) -> Change:
    """Let a fit use a material in place of an entry, or no longer."""
    entry = get_entry(recipe, entry_id)
    kept = [each for each in entry.alternatives if (each.material, each.colour) != (material, colour)]
    fresh = [*kept, {"material": material, "colour": colour}] if on else kept
    changed = {**entry.model_dump(), "alternatives": fresh}
    entries = [changed if each.id == entry_id else each for each in recipe.entries]
    words = f"{material} ({colour}) {'may' if on else 'may not'} stand in for {_name_entry(entry)}"
    return Change(recipe.change(entries=entries), words)


def set_school(recipe: Recipe, field: SchoolField, typed: str) -> Change:
    """Set one of the terms a recipe is priced on; an empty one follows its occasion or the house again. Raises
    BadInput."""
    schools = {**recipe.schools.model_dump(), field: read_term(field, typed)}
    return Change(recipe.change(schools=schools), f"{field.replace('_', ' ')}: {typed or 'as the house does'}")
