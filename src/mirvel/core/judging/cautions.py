"""What can hurt somebody in a recipe, in plain words, deferring to local rules and licensed practice."""

from collections.abc import Iterator
from dataclasses import dataclass

from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.container import ContainerKind
from mirvel.core.goods.facts import Mechanics
from mirvel.core.goods.hazards import HAZARDS
from mirvel.core.recipe.taking import Taken
from mirvel.core.vessels.beds import has_bed


@dataclass(frozen=True)
class Caution:
    """A caution and what in the recipe it comes from."""

    source: str
    text: str


_FOAM = (
    "Floral foam: gloves and eye protection, cut it damp, do not breathe the dust; never in food, near children or "
    "down a drain. Waste by your local rule."
)
_FALLS = (
    "Falling: never in a walkway or before a fire exit; tie the frame in at least three places, peg or weight the feet "
    "outdoors, keep it out of strong wind."
)
_DRIPS = "Slips: drain it upright before it goes, a tray or cloth under it, and dry the floor."
_FAMILY = "Faith, colours and names: ask, read the spelling back letter by letter, never guess. The family decides."
_BY_KIND = {
    ContainerKind.HEADSTONE_SADDLE: "The cemetery’s own rules come first: nothing that scratches or stains the "
    "stone, no glass, taken away by their date.",
    ContainerKind.LID_SADDLE: "Pads that do not scratch, a liner that does not leak; the funeral director says what "
    "may lie on the lid.",
}
_GLASS = "Glass: check the rim for chips before taping; carry a filled vase from below."
_KNIFE = "Knife: cut away from the hand. Wash hands; cover cuts before touching vase water."


def get_cautions(taken: Taken) -> tuple[Caution, ...]:
    """Every caution of a recipe once: tools, container, mechanics, hard goods, then each stem's hazards."""
    recipe, container = taken.recipe, taken.container
    found = [Caution("bench", _KNIFE)]
    if container.clear:
        found.append(Caution(container.name, _GLASS))
    if recipe.mechanics is Mechanics.FOAM:
        found.append(Caution("floral foam", _FOAM))
    found += _get_frame_cautions(taken)
    for good in taken.hard_goods:
        if good.caution:
            found.append(Caution(good.name, good.caution))
    found += _get_stem_cautions(taken)
    return tuple(found)


def _is_dry(taken: Taken) -> bool:
    """Whether none of its stems drinks, so that its foam is not soaked."""
    placed = [entry for entry in taken.recipe.entries if entry.pieces]
    return bool(placed) and not any(taken.placed[entry.id].drinks for entry in placed)


def _get_frame_cautions(taken: Taken) -> Iterator[Caution]:
    """What can fall, drip or harm where a frame stands, and what a family must not be hurt by."""
    recipe, container = taken.recipe, taken.container
    if FORMS[recipe.form].hangs:
        yield Caution("stand", _FALLS)
    if container.kind in _BY_KIND:
        yield Caution(container.name, _BY_KIND[container.kind])
    if has_bed(container) and not _is_dry(taken):
        yield Caution("soaked foam", _DRIPS)
    if recipe.brief.service:
        yield Caution("family", _FAMILY)


def _get_stem_cautions(taken: Taken) -> list[Caution]:
    sources: dict[str, list[str]] = {}
    for entry in taken.recipe.entries:
        material = taken.placed[entry.id]
        for hazard in material.hazards:
            names = sources.setdefault(hazard, [])
            if entry.pieces and material.name not in names:
                names.append(material.name)
    return [Caution("; ".join(names), HAZARDS.get(hazard, hazard)) for hazard, names in sources.items() if names]
