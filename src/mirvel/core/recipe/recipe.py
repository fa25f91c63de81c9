"""The recipe: one document that is priced, drawn, checked, stored and exported.

One document is one rung: the design at one price point. Rungs of a ladder share ``family``. It refers to
materials by slug; what those are and cost comes from a catalogue beside it (the shop's, or a snapshot).
"""

from collections.abc import Mapping
from decimal import Decimal
from enum import StrEnum
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field, model_validator

from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.facts import Mechanics
from mirvel.core.goods.hard_good import HardGoodUse
from mirvel.core.goods.material import Material
from mirvel.core.house.design import Arranging, BuildOrder, FoamBlock, HeightRule, SeenFrom
from mirvel.core.house.rules import HouseRules
from mirvel.core.house.terms import Terms
from mirvel.core.recipe.accepted import Accepted
from mirvel.core.recipe.entry import MAX_PIECES, Entry
from mirvel.core.recipe.fit_wishes import Exclusion, FitWishes
from mirvel.core.recipe.service import Service
from mirvel.core.values.fact import KEPT, Fact, Slug

_COMPACT = {"form": "compact dome", "density": "full"}  # what version 1 files called a compact stand of the dome


def _leads_back(entry_id: str, named: Mapping[str, tuple[str, ...]]) -> bool:
    """Whether an entry's wishes, by those they name, come to itself."""
    seen: set[str] = set()
    waiting = list(named[entry_id])
    while waiting:
        other = waiting.pop()
        if other == entry_id:
            return True
        if other not in seen:
            seen.add(other)
            waiting += named.get(other, ())
    return False


def _is_known_form(name: str) -> str:
    if name not in FORMS:
        raise ValueError(f"There is no form “{name}”. Choose one of: {', '.join(FORMS)}.")
    return name


FormName = Annotated[str, AfterValidator(_is_known_form), Field(json_schema_extra={"enum": sorted(FORMS)})]
Price = Annotated[Decimal, Field(gt=0, le=100_000, max_digits=8, decimal_places=2)]


class SizeMode(StrEnum):
    """Where the size of a piece comes from."""

    BY_RULE = "by rule"
    OWN = "own"
    FROM_FULLNESS = "from fullness"


class Density(StrEnum):
    """How close the flowers stand: full, or a few stems with air between."""

    FULL = "full"
    AIRY = "airy"


class Size(Fact):
    """How large the piece is meant to be; own sizes are cm, overall height from the table."""

    mode: SizeMode = SizeMode.BY_RULE
    rule: HeightRule = HeightRule()
    own_height_cm: float | None = Field(default=None, gt=0, le=300)
    own_width_cm: float | None = Field(default=None, gt=0, le=300)
    density: Density = Density.FULL

    @model_validator(mode="after")
    def _own_size_is_given(self) -> "Size":
        if self.mode is SizeMode.OWN and (self.own_height_cm is None or self.own_width_cm is None):
            raise ValueError("Own size needs both a height and a width. Type both in cm.")
        return self


class Brief(Fact):
    """What the piece is for, as far as it changes the making."""

    occasion: str = Field(default="", max_length=120, pattern=KEPT)
    place: str = Field(default="", max_length=120, pattern=KEPT)
    seen_from: SeenFrom = SeenFrom.ALL_ROUND
    across_table: bool = Field(default=False, description="people talk across it, so the sight-line counts")
    days_to_viewing: int = Field(default=0, ge=0, le=14, description="days from making to being looked at")
    lasts_days: int = Field(default=0, ge=0, le=60, description="days it is to look good; 0 where nobody asked")
    refilled: bool = Field(default=True, description="somebody tops up its water")
    exclude: tuple[Exclusion, ...] = Field(default=(), max_length=5, description="what a fit may not bring in")
    service: Service | None = Field(default=None, description="what a family was asked, and the times")

    @property
    def promised_days(self) -> float:
        """How many days its flowers are to last: as asked, and as its service takes."""
        return max(float(self.lasts_days), self.service.lasting_days if self.service else 0.0)

    def rules_out(self, material: Material, rules: HouseRules) -> bool:
        """Whether a material may not be brought in: for its scent, pollen or poison, or because it is over too soon."""
        is_excluded = any(each.is_true_of(material) for each in self.exclude)
        return is_excluded or material.is_over_before(rules.get_age(self.promised_days))


class Schools(Terms):
    """Where this recipe's price is made otherwise than the house makes it, or its occasion."""


class Recipe(Fact):
    """A recipe at one price point, whole."""

    format: Literal["mirvel recipe"] = "mirvel recipe"
    version: Literal[1] = 1
    name: str = Field(min_length=1, max_length=80, pattern=KEPT)
    family: Slug
    price_point: Price
    form: FormName = "all-round dome"
    arranging: Arranging = Arranging()
    build_order: BuildOrder = BuildOrder.USUAL
    brief: Brief = Brief()
    size: Size = Size()
    container: Slug
    mechanics: Mechanics = Mechanics.TAPE_GRID
    foam_above_rim_cm: float = Field(default=2.5, ge=0, le=15)
    foam_may_show: bool = Field(default=False, description="bare foam is meant, and no fault")
    foam_bevelled: bool = Field(default=False, description="the upper edges of its foam are cut off at a slant")
    foam_block: FoamBlock | None = Field(default=None, description="a block of a brick; without, foam fills the mouth")
    hard_goods: tuple[HardGoodUse, ...] = Field(default=(), max_length=60)
    entries: tuple[Entry, ...] = Field(default=(), max_length=60, description="in build order")
    minutes: Decimal = Field(default=Decimal(15), ge=0, le=600, decimal_places=1)
    schools: Schools = Schools()
    fit: FitWishes = FitWishes()
    accepted: tuple[Accepted, ...] = Field(default=(), max_length=200, description="findings that are let stand")
    notes: str = Field(default="", max_length=2000, pattern=KEPT)

    @model_validator(mode="before")
    @classmethod
    def _read_older_stand(cls, found: Any) -> Any:
        size = found.get("size") if isinstance(found, dict) else None
        if isinstance(size, dict) and size.get("density") == "compact":
            return {**found, "form": _COMPACT["form"], "size": {**size, "density": _COMPACT["density"]}}
        return found

    @model_validator(mode="before")
    @classmethod
    def _take_the_rule_of_the_form(cls, found: Any) -> Any:
        """Where no height is told, that which the form is usually made by."""
        if not isinstance(found, dict):
            return found
        size, form = found.get("size", {}), FORMS.get(str(found.get("form", "")))
        if form is None or not isinstance(size, dict) or "rule" in size:
            return found
        return {**found, "size": {**size, "rule": form.rule}}

    @model_validator(mode="after")
    def _entries_have_their_own_ids(self) -> "Recipe":
        ids = [entry.id for entry in self.entries]
        if len(set(ids)) != len(ids):
            raise ValueError("Two entries have the same id. Give each entry an id of its own.")
        total = sum(entry.pieces for entry in self.entries)
        if total > MAX_PIECES:
            raise ValueError(f"The recipe has {total} pieces; a piece holds {MAX_PIECES} at most. Take some out.")
        return self

    @model_validator(mode="after")
    def _wishes_name_entries_of_it(self) -> "Recipe":
        named = {entry.id: entry.meant.named for entry in self.entries}
        for number, entry in enumerate(self.entries, 1):
            for other in entry.meant.named:
                if other not in named:
                    raise ValueError(
                        f"Entry {number} is told by an entry that is not there. Name one of its own lines."
                    )
            if _leads_back(entry.id, named):
                raise ValueError(f"Entry {number} is told by itself, round another. Let one of the two go without.")
        return self

    @property
    def is_built_as_listed(self) -> bool:
        """Whether what goes in when is the designer's own order, just as the entries are listed."""
        return self.build_order is BuildOrder.AS_LISTED

    def name_entry(self, entry_id: str) -> str:
        """An entry as problems name it, by its line: "entry 3"."""
        return f"entry {[entry.id for entry in self.entries].index(entry_id) + 1}"

    def find_entry(self, entry_id: str) -> Entry | None:
        return next((entry for entry in self.entries if entry.id == entry_id), None)
