"""Which facts of a good a page shows and edits, in what order, and how each is typed. Labels and units only; what is
typed is read and judged by the core."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum

from mirvel.core.goods.assembly import Assembly
from mirvel.core.goods.catalogue import Good, GoodsKind
from mirvel.core.goods.container import Container, ContainerKind, MouthShape
from mirvel.core.goods.editing import format_advice, format_months
from mirvel.core.goods.facts import Advice, HeadForm, Lengthened, Role
from mirvel.core.goods.hard_good import FoamGrade, HardGood
from mirvel.core.goods.material import Fitness, Material, StemKind, StemType, Toxicity
from mirvel.core.values.fact import Fact


@dataclass(frozen=True)
class Field:
    """One fact as it is typed; ``fresh`` is what a new good begins with, None where it is not asked for."""

    name: str
    label: str
    unit: str = ""
    choices: tuple[str, ...] = ()
    is_flag: bool = False
    lines: int = 1
    fresh: str | None = None
    hint: str = ""


def choose(words: type[StrEnum]) -> tuple[str, ...]:
    """What may be chosen, in words."""
    return tuple(word.value for word in words)


_GRADES = ("0", "1", "2", "3")
_NAMED = Field("name", "Name", fresh="")
_PLACED = (
    Field("form", "Form", choices=choose(HeadForm), fresh="rosette"),
    Field("habit", "Drawn as", hint="e.g. spiral, ruffled, single"),
    Field("default_role", "Role", choices=choose(Role), fresh="mass"),
)
_BOUGHT = Field("provenance", "Where these facts come from")
_NOTE = Field("note", "Note", lines=2)

GROUPS: Mapping[GoodsKind, tuple[tuple[str, tuple[Field, ...]], ...]] = {
    GoodsKind.MATERIALS: (
        (
            "What it is",
            (
                _NAMED,
                Field("botanical_name", "Botanical name", fresh=""),
                Field("kind", "Kind", choices=choose(StemKind), fresh="flower"),
                *_PLACED,
                Field("other_roles", "Other roles", hint="e.g. focal; filler"),
                _NOTE,
            ),
        ),
        (
            "Size",
            (
                Field("head_tight_cm", "Head, tight", "cm", fresh="4"),
                Field("head_open_cm", "Head, open", "cm", fresh="7"),
                Field("head_length_cm", "Head or leaf length", "cm", fresh="4"),
                Field("heads_min", "Heads a stem, fewest"),
                Field("heads_max", "and most"),
                Field("stem_length_cm", "Stem length", "cm", fresh="50"),
                Field("longest_stem_cm", "Longest to be had", "cm"),
                Field("stem_diameter_mm", "Stem", "mm", fresh="5"),
                Field("stem_type", "Stem type", choices=choose(StemType)),
                Field("pieces_per_stem", "Pieces a stem gives", fresh="1"),
                Field("bunch_stems", "Stems in a bunch", fresh="10"),
            ),
        ),
        (
            "Life",
            (
                Field("life_min_days", "Lasts at least", "days"),
                Field("life_max_days", "and at most", "days"),
                Field("opens_in_days", "Opens in", "days", hint="empty: opens no further"),
                Field("forced_days", "Once forced open it lasts", "days", hint="empty: is not forced"),
                Field("growth_cm_per_day", "Grows", "cm a day"),
                Field("drinks_ml", "A piece drinks", "ml a day", hint="empty: by its head"),
                Field("condition_hours", "Conditioning", "hours"),
                Field("out_of_water_hours", "Out of water", "hours"),
                Field("season", "Season", hint="e.g. May-Jul, all year"),
                Field("in_foam", "In floral foam", choices=choose(Fitness)),
            ),
        ),
        (
            "Care",
            (
                Field("scent", "Scent", "0 to 3", choices=_GRADES),
                Field("ethylene", "Ripening gas harms", "0 to 3", choices=_GRADES),
                Field("toxicity", "Eaten by pets", choices=choose(Toxicity)),
                Field("pollen", "Sheds pollen", is_flag=True),
                Field("delicate", "Delicate, placed last", is_flag=True),
                Field("hazards", "Cautions", hint="e.g. thorns; sap; poison; cats"),
                Field("substitutes", "Substitutes by look", lines=2),
                Field("markup_class", "Mark-up class"),
            ),
        ),
        (
            "Judging and conditioning",
            (
                Field("judging", "Judge it by", lines=3),
                Field("conditioning", "Condition it", lines=5, hint="one a line; [school] before one school’s way"),
                _BOUGHT,
            ),
        ),
    ),
    GoodsKind.CONTAINERS: (
        (
            "What it is",
            (
                _NAMED,
                Field("kind", "Kind", choices=choose(ContainerKind), fresh="low bowl"),
                Field("shape", "Mouth", choices=choose(MouthShape), fresh="round"),
                Field("clear", "Clear glass", is_flag=True),
                Field("needs_liner", "Needs a liner", is_flag=True),
                Field("foam_included", "Bought with its foam", is_flag=True),
                Field("usual_mechanics", "Usual mechanics"),
                _NOTE,
            ),
        ),
        (
            "Size",
            (
                Field("mouth_cm", "Mouth, inside", "cm", fresh="14"),
                Field("mouth_across_cm", "Mouth, other way; hole; span", "cm"),
                Field("base_cm", "Foot", "cm", fresh="10"),
                Field("bar_cm", "Bar of a cross, band of a heart", "cm"),
                Field("belly_cm", "Half way down, outside", "cm"),
                Field("vessels", "Side by side", fresh="1"),
                Field("depth_cm", "Depth inside", "cm", fresh="9"),
                Field("height_cm", "Height", "cm", fresh="10"),
                Field("water_ml", "Water, working fill", "ml", fresh="800"),
                Field("empty_weight_g", "Weight, empty", "g"),
                _BOUGHT,
            ),
        ),
    ),
    GoodsKind.HARD_GOODS: (
        (
            "What it is",
            (
                _NAMED,
                Field("unit", "Counted by", choices=("each", "metre", "gram"), fresh="each"),
                Field("pack_size", "Units in a pack", fresh="1"),
                Field("ribbon_cm", "Width of a ribbon", "cm"),
                Field("foam_ml", "Foam in a unit", "ml"),
                Field("foam_grade", "Foam is", choices=choose(FoamGrade), fresh="standard", hint="foam only"),
                Field("is_tie", "Ties a frame to its stand", is_flag=True),
                Field("stand_cm", "Height of a stand", "cm"),
                Field("loop_m", "Metres a bow loop takes", "m", hint="ribbon only"),
                Field("same_as", "Is also the container", hint="its short name, so that it is charged once"),
                Field("caution", "Caution", lines=2),
                _NOTE,
                _BOUGHT,
            ),
        ),
    ),
    GoodsKind.ASSEMBLIES: (
        (
            "What it is",
            (
                _NAMED,
                *_PLACED,
                Field("minutes", "Making takes", "minutes", fresh="2"),
                Field("shelf_life_hours", "Keeps", "hours", fresh="24"),
                _NOTE,
            ),
        ),
        (
            "Size",
            (
                Field("width_cm", "Width", "cm", fresh="8"),
                Field("length_cm", "Depth or length", "cm", fresh="4"),
                Field("stem_length_cm", "May reach", "cm", fresh="20"),
                Field("stem_diameter_mm", "Stem or wire", "mm", fresh="4"),
                Field("lengthened", "Its stem is", choices=choose(Lengthened)),
                _BOUGHT,
            ),
        ),
    ),
}
TYPES: Mapping[GoodsKind, type[Good]] = {
    GoodsKind.MATERIALS: Material,
    GoodsKind.CONTAINERS: Container,
    GoodsKind.HARD_GOODS: HardGood,
    GoodsKind.ASSEMBLIES: Assembly,
}


def get_fields(kind: GoodsKind) -> Mapping[str, Field]:
    """Every field of a kind by name."""
    return {field.name: field for _, fields in GROUPS[kind] for field in fields}


def get_fresh(kind: GoodsKind) -> tuple[Field, ...]:
    """The fields a new good is asked for."""
    return tuple(field for field in get_fields(kind).values() if field.fresh is not None)


def format_fact(good: Fact, name: str) -> str:
    """A fact as it is typed."""
    value = getattr(good, name)
    if name == "season":
        return format_months(value)
    if isinstance(value, tuple):
        return format_advice(value) if _is_advice(value) else "; ".join(str(each) for each in value)
    if isinstance(value, bool):
        return "yes" if value else "no"
    return "" if value is None else f"{value:g}" if isinstance(value, float) else str(value)


def _is_advice(values: Iterable[object]) -> bool:
    found = list(values)
    return bool(found) and all(isinstance(each, Advice) for each in found)
