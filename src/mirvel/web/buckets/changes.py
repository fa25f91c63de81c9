"""From a form to a changed good: each change is made to the good as it is kept at that moment, so that two people
who change different things both keep theirs."""

from mirvel.core.buying.review import GoodRef
from mirvel.core.goods.assembly import Assembly
from mirvel.core.goods.catalogue import Catalogue, Good, GoodsKind
from mirvel.core.goods.editing import drop_colour, make, set_colour, set_facts
from mirvel.core.goods.hard_good import read_quantity
from mirvel.core.goods.material import Material
from mirvel.core.values.problems import BadInput, Problem
from mirvel.store.database import ChangedMeanwhile
from mirvel.store.shop import Shop
from mirvel.web.buckets.fields import format_fact, get_fields
from mirvel.web.requests import Typed

CHANGES = frozenset({"fact", "retire", "colour", "drop-colour", "part", "drop-part"})


def change_good(shop: Shop, catalogue: Catalogue, ref: GoodRef, change: str, typed: Typed) -> None:
    """Make one of CHANGES. Raises BadInput, NoSuchGood."""
    if change == "drop-colour":
        _check_colour_is_free(shop, catalogue, ref, typed.get("colour", ""))
    shop.goods.change(ref, lambda good: _get_changed(good, catalogue, change, typed, ref.kind))


def _get_changed(good: Good, catalogue: Catalogue, change: str, typed: Typed, kind: GoodsKind) -> Good:
    if change == "fact":
        field = typed.get("field", "")
        if field not in get_fields(kind):
            raise BadInput(Problem("change", f"a good has no “{field}” to change.", "Reload the page and try again."))
        now = format_fact(good, field)
        if "was" in typed and typed["was"] != now.replace("\n", "\r\n") and typed["was"] != now:
            raise ChangedMeanwhile(field.replace("_", " "), f"“{now[:60]}”")
        return set_facts(good, {field: typed.get("value", "")})
    if change == "retire":
        return good.change(retired=typed.get("value", "yes") == "yes")
    if isinstance(good, Material | Assembly) and change in {"colour", "drop-colour"}:
        colour = typed.get("colour", "")
        changed = set_colour(good, colour, typed.get("code", "")) if change == "colour" else drop_colour(good, colour)
        return _check_parts(changed, catalogue) if isinstance(changed, Assembly) else changed
    if isinstance(good, Assembly) and change in {"part", "drop-part"}:
        return _check_parts(_change_parts(good, catalogue, change, typed), catalogue)
    raise BadInput(Problem("change", f"“{good.name}” cannot be changed so.", "Reload the page and try again."))


def _change_parts(good: Assembly, catalogue: Catalogue, change: str, typed: Typed) -> Assembly:
    """The assembly with a part more, another quantity of one, or one fewer."""
    slug = typed.get("part", "")
    stems = [part.model_dump() for part in good.stems if part.material != slug]
    hard = [use.model_dump() for use in good.hard_goods if use.hard_good != slug]
    if change == "part" and slug in catalogue.materials:
        stems.append({"material": slug, "pieces": typed.get("quantity") or "1", "colour": typed.get("colour") or None})
    elif change == "part":
        catalogue.get_hard_good(slug, field="part")
        hard.append({"hard_good": slug, **read_quantity(typed.get("quantity", ""))})
    return make(Assembly, {**good.model_dump(), "stems": stems, "hard_goods": hard})


def _check_parts(assembly: Assembly, catalogue: Catalogue) -> Assembly:
    """The assembly, once all its parts are to be had in every colour it comes in. Raises UnknownGoods."""
    for colour in assembly.colours:
        catalogue.get_assembly_as_material(assembly, colour, field="part")
    return assembly


def _check_colour_is_free(shop: Shop, catalogue: Catalogue, ref: GoodRef, colour: str) -> None:
    """Raises BadInput where a recipe, or a piece made ahead, needs the colour."""
    users = [name for _, name in shop.using.find(ref, colour=colour).recipes]
    users += [
        assembly.name
        for assembly in catalogue.assemblies.values()
        for part in assembly.stems
        if part.material == ref.slug and colour in ({part.colour} if part.colour else assembly.colours)
    ]
    if users:
        mend = "Change them first, or leave the colour."
        raise BadInput(Problem("colour", f"{colour} is used in {', '.join(users[:3])}.", mend))
