"""What can hurt somebody in a recipe, in plain words, deferring to local rules and licensed practice: the most serious
first, each once."""

import re
from collections.abc import Iterator
from dataclasses import dataclass
from enum import IntEnum

from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.container import ContainerKind
from mirvel.core.goods.facts import Mechanics
from mirvel.core.goods.hazards import HAZARDS, get_hazards
from mirvel.core.goods.material import Material
from mirvel.core.making.build import Build
from mirvel.core.recipe.taking import Taken
from mirvel.core.vessels.beds import has_bed


class Risk(IntEnum):
    """What a caution is about, the most serious first (a judgement of ours)."""

    POISON = 1
    FIRE = 2
    FALLING = 3
    CHOKING = 4
    ALLERGY = 5
    UPSET = 6
    BREATHING = 7
    EYES = 8
    FOOD = 9
    CUTS = 10
    BURNS = 11
    SKIN = 12
    SLIPS = 13
    LIFTING = 14
    PLACE = 15
    FAMILY = 16
    KEEPING = 17


@dataclass(frozen=True)
class Caution:
    """A caution, what in the recipe it comes from, and what it is about."""

    source: str
    text: str
    risk: Risk


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
_EASILY = "Tips over easily: weight its foot, carry it low and upright, never in a walkway or where children reach it."
_FIRE = (
    "Flame: never inside a piece without the shop’s fire rule and the venue’s; never left alone. Battery lights do as "
    "well."
)
_EATEN = "Flowers beside food: nothing poisonous on a dining table; sticks and wires out before anybody eats."
_RIPENS = "Ripening fruit ages {}: keep them apart, several sticks for heavy fruit, out when it softens."
_KNIFE = "Knife: cut away from the hand. Wash hands; cover cuts before touching vase water."


# What a hazard of a stem is about; and what a hard good's own words are, the first that they hold.
_OF_HAZARDS = {
    **dict.fromkeys(("cats", "poison"), Risk.POISON),
    **dict.fromkeys(("pollen", "scent"), Risk.BREATHING),
    **dict.fromkeys(("sap", "strong-sap"), Risk.SKIN),
    **dict.fromkeys(("thorns", "edges", "wires"), Risk.CUTS),
    **{"upset": Risk.UPSET, "dust": Risk.FIRE, "fruit": Risk.FOOD, "points": Risk.EYES},
}
_BY_WORDS = (
    (r"flame|fire|flammable", Risk.FIRE),
    (r"burns:", Risk.BURNS),
    (r"tips in wind|fall", Risk.FALLING),
    (r"latex|\bnuts?\b|allerg", Risk.ALLERGY),
    (r"children|swallow|suffocation", Risk.CHOKING),
    (r"\beat", Risk.FOOD),
    (r"dust|vapour", Risk.BREATHING),
    (r"\beye", Risk.EYES),
    (r"sharp|cut|chips|points|blade|scratch|wire", Risk.CUTS),
    (r"skin", Risk.SKIN),
    (r"slippery", Risk.SLIPS),
)
_SENSITIVE = 2  # how sensitive to ripening gas a flower is, from which on it is named


def get_cautions(taken: Taken, build: Build) -> tuple[Caution, ...]:
    """Every caution of a recipe as it is built once, the most serious first; of one risk, as they arise at work."""
    recipe, container = taken.recipe, taken.container
    found = [Caution("bench", _KNIFE, Risk.CUTS)]
    if container.clear:
        found.append(Caution(container.name, _GLASS, Risk.CUTS))
    if recipe.mechanics is Mechanics.FOAM:
        found.append(Caution("floral foam", _FOAM, Risk.BREATHING))
    found += _get_standing_cautions(taken, build)
    found += _get_good_cautions(taken)
    found += _get_stem_cautions(taken)
    found += _get_other_cautions(taken, found)
    return tuple(sorted(dict.fromkeys(found), key=lambda caution: caution.risk))


def _get_good_cautions(taken: Taken) -> Iterator[Caution]:
    """What the shop says of its hard goods, but of a brick what is said of all foam."""
    for good in taken.hard_goods:
        if good.caution and not (good.foam_ml and taken.recipe.mechanics is Mechanics.FOAM):
            yield Caution(good.name, good.caution, read_risk(good.caution))


def read_risk(words: str) -> Risk:
    """What the caution of a hard good is about, by its words."""
    return next((risk for pattern, risk in _BY_WORDS if re.search(pattern, words.lower())), Risk.KEEPING)


def _is_dry(taken: Taken) -> bool:
    """Whether none of its stems drinks, so that its foam is not soaked."""
    placed = [entry for entry in taken.recipe.entries if entry.pieces]
    return bool(placed) and not any(taken.placed[entry.id].drinks for entry in placed)


def _get_standing_cautions(taken: Taken, build: Build) -> Iterator[Caution]:
    """What can fall, drip, be too heavy or harm where it stands, and what a family must not be hurt by."""
    recipe, container = taken.recipe, taken.container
    if FORMS[recipe.form].hangs:
        yield Caution("stand", _FALLS, Risk.FALLING)
    elif build.tips_soon:
        yield Caution(container.name, _EASILY, Risk.FALLING)
    if container.kind in _BY_KIND:
        yield Caution(container.name, _BY_KIND[container.kind], Risk.PLACE)
    if has_bed(container) and not _is_dry(taken):
        yield Caution("soaked foam", _DRIPS, Risk.SLIPS)
    people = build.standing.get_people(build.rules.lift_limit_kg)
    if people > 1:
        lifting = f"About {build.standing.weight_g / 1000:.0f} kg as it is carried: {people} people, or a trolley."
        yield Caution("weight", lifting, Risk.LIFTING)
    if recipe.brief.service:
        yield Caution("family", _FAMILY, Risk.FAMILY)


def _get_stem_cautions(taken: Taken) -> Iterator[Caution]:
    sources: dict[str, list[str]] = {}
    for material in _get_placed(taken):
        for hazard in get_hazards(material):
            sources.setdefault(hazard, []).append(material.name)
    for hazard, names in sources.items():
        yield Caution("; ".join(dict.fromkeys(names)), HAZARDS.get(hazard, hazard), _OF_HAZARDS.get(hazard, Risk.SKIN))


def _get_other_cautions(taken: Taken, found: list[Caution]) -> Iterator[Caution]:
    """What flame and fruit do in it, and what flowers do beside food; not what is found already."""
    placed, goods = _get_placed(taken), taken.hard_goods
    lit = dict.fromkeys(material.name for material in placed if material.stands_whole)
    if lit and not any("flame" in caution.text for caution in found):
        yield Caution("; ".join(lit), _FIRE, Risk.FIRE)
    fruit = [good.name for good in goods if "ripening" in good.caution.lower()]
    fruit += [material.name for material in placed if "fruit" in material.hazards]
    sensitive = dict.fromkeys(each.name for each in placed if each.ethylene >= _SENSITIVE)
    if fruit and sensitive:
        yield Caution("; ".join(dict.fromkeys(fruit)), _RIPENS.format(", ".join(sensitive)), Risk.KEEPING)
    if taken.recipe.brief.across_table:
        yield Caution("table", _EATEN, Risk.FOOD)


def _get_placed(taken: Taken) -> list[Material]:
    return [taken.placed[entry.id] for entry in taken.recipe.entries if entry.pieces]
