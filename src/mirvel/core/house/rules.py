"""House rules: how one shop prices, measures and judges. A recipe may override the schools.

Defaults follow common practice where there is one (no published source) and are assumptions of ours elsewhere;
every one is the shop's to change.
"""

import math
from collections.abc import Mapping
from decimal import Decimal
from typing import Annotated

from pydantic import Field, model_validator

from mirvel.core.goods.facts import HeadForm, Hex
from mirvel.core.house.design import FocalPlace, Grading
from mirvel.core.house.terms import LabourOnTop, Markup, PiecePolicy, PriceShare, PricingSchool, Terms
from mirvel.core.values.days import DayOrder
from mirvel.core.values.fact import KEPT, Fact, Short
from mirvel.core.values.units import LengthUnit

ROOM_C = 20.0  # what lives of cut flowers are told for: common practice, no published source
Amount = Annotated[float, Field(ge=0, le=1000)]
Weight = Annotated[float, Field(gt=0, le=5)]
_FORM_WEIGHTS = {HeadForm.CLUSTER: 0.45, HeadForm.SPRAY: 0.5, HeadForm.PLUME: 0.6, HeadForm.SPIKE: 0.8}


# Rules that nothing is built, drawn or judged by but prices, and the shop's name, people and how it writes days.
PRICED = frozenset(
    (
        *("shop", "currency", "days", "price_points", "pricing", "pieces", "flower_markup", "class_markups"),
        *("hard_goods_markup", "labour_on_top", "labour_share", "slices", "wage_per_minute", "overhead_on_wage"),
        *("set_up_minutes", "minutes_a_piece"),
        *("goods_uplift", "tax_rate", "palettes", "true_from", "true_to", "people", "spare_share", "occasions"),
    )
)


class Slices(Fact):
    """A price cut into shares; together they are the whole of it."""

    flowers: PriceShare = Decimal("0.30")
    hard_goods: PriceShare = Decimal("0.08")
    labour: PriceShare = Decimal("0.22")
    overhead: PriceShare = Decimal("0.25")
    profit: PriceShare = Decimal("0.15")
    lend_hard_goods: bool = Field(default=True, description="flowers may use what hard goods leave over")

    @model_validator(mode="after")
    def _is_whole(self) -> "Slices":
        total = self.flowers + self.hard_goods + self.labour + self.overhead + self.profit
        if total != 1:
            raise ValueError(f"The slices add up to {total * 100:f} %, not 100 %. Change one until they do.")
        return self


class HouseRules(Fact):
    """One shop's rules."""

    shop: str = Field(default="", max_length=80, pattern=KEPT)
    currency: str = Field(default="£", max_length=4, pattern=KEPT)
    unit: LengthUnit = LengthUnit.CM
    days: DayOrder = Field(default=DayOrder.DAY_FIRST, description="the order dates are shown in")
    people: tuple[Short, ...] = Field(default=(), max_length=60, description="who publishes standards")
    price_points: tuple[Decimal, ...] = (
        Decimal(28),
        Decimal(42),
        Decimal(58),
        Decimal(75),
        Decimal(98),
        Decimal(140),
    )
    pricing: PricingSchool = PricingSchool.MARKUP_ON_TOP
    pieces: PiecePolicy = PiecePolicy.WHOLE_STEMS
    flower_markup: Markup = Decimal("3.0")
    class_markups: Mapping[Short, Markup] = Field(default_factory=dict, description="flower mark-up by material class")
    hard_goods_markup: Markup = Decimal("2.0")
    labour_on_top: LabourOnTop = Decimal("0.20")
    labour_share: PriceShare = Decimal("0.20")
    slices: Slices = Slices()
    occasions: Mapping[Short, Terms] = Field(default_factory=dict, description="their terms, by a word that is in them")
    wage_per_minute: Annotated[Decimal, Field(ge=0, le=100)] = Decimal("0.22")
    overhead_on_wage: Annotated[Decimal, Field(ge=0, le=10)] = Decimal("0.45")
    set_up_minutes: float = Field(default=5.0, ge=0, le=120, description="to set a piece up, before the first stem")
    minutes_a_piece: float | None = Field(default=0.2, gt=0, le=10, description="to cut and place one; unset: not told")
    goods_uplift: Annotated[Decimal, Field(ge=0, le=20)] = Field(
        default=Decimal("1.0"), description="μ of time and materials"
    )
    tax_rate: PriceShare = Field(default=Decimal(0), description="tax inside the price points; 0 when they exclude it")
    lift_limit_kg: float = Field(default=15.0, gt=0, le=100, description="what one person lifts")
    least_tip_deg: float = Field(default=10.0, ge=0, le=45, description="a standing piece tips no sooner")
    head_drinks_ml: Amount = Field(default=0.1, description="a day, for each cm² that a head shows")
    leaf_drinks_ml: Amount = Field(default=1.0, description="a day, a leafy stem")
    evaporates_mm: Amount = Field(default=2.0, description="a day, off open water")
    foam_holds: float = Field(default=0.95, ge=0, le=1, description="of its volume, water")
    foam_gives: float = Field(default=0.8, ge=0, le=1, description="of what it holds, to stems")
    head_weighs_g: Amount = Field(default=0.35, description="for each cm² that a head shows")
    stem_weighs_g: Amount = Field(default=1.0, description="for each cm³ of a stem")
    stand_weighs_g: Amount = Field(default=6.0, description="for each cm of its height")
    drains_minutes: Amount = Field(default=10.0, description="a frame, for each litre of soaked foam")
    palettes: Mapping[Short, tuple[Hex, ...]] = Field(default_factory=dict, description="colours that go together")
    true_from: Decimal = Field(default=Decimal("0.96"), description="lowest fill at which a recipe is true")
    true_to: Decimal = Field(default=Decimal("1.00"), description="highest fill at which a recipe is true")
    spare_share: Annotated[Decimal, Field(ge=0, le=1)] = Field(
        default=Decimal("0.05"), description="of the stems a batch needs, that are pulled beside them"
    )
    opening_at_delivery: float = Field(default=0.6, ge=0, le=1, description="0 tight to 1 open")
    room_c: float = Field(default=ROOM_C, ge=0, le=40, description="where pieces stand, in the shop and at home")
    ageing_q10: float = Field(default=2.0, ge=1, le=5, description="times as fast flowers age 10 degrees warmer")
    focal_place: FocalPlace = FocalPlace.OFF_CENTRE
    grading: Grading = Grading.LARGE_LOW
    target_fullness: float = Field(default=0.85, gt=0, le=2)
    thin_below: float = Field(default=0.75, gt=0, le=2)
    crowded_above: float = Field(default=1.1, gt=0, le=3)
    minds_bunches: bool = Field(default=False, description="what is left of bunches opened for a piece is told of")
    odd_focals: bool = Field(default=False, description="an even number of focal flowers is told of")
    most_hues: int | None = Field(default=None, ge=1, le=8, description="families of hue in one piece")
    transport_cm: float | None = Field(default=None, gt=0, le=400, description="what the shop's car takes upright")

    leaf_weight: Weight = Field(default=0.35, description="how much a leaf weighs in the eye, a disc as large 1")
    form_weights: Mapping[HeadForm, Weight] = Field(
        default_factory=lambda: dict(_FORM_WEIGHTS), description="the same for heads that are not discs"
    )

    def write_unpriced(self) -> str:
        """What stands for the rules by which pieces are built, drawn and judged, whatever they cost."""
        return self.model_dump_json(exclude=set(PRICED))

    def get_usual_minutes(self, placed: int) -> float | None:
        """How long a piece of so many takes at the shop's pace; None where it has none."""
        return None if self.minutes_a_piece is None else self.set_up_minutes + self.minutes_a_piece * placed

    def get_age(self, days: float) -> float:
        """How old flowers are after so many days in the shop's room: days at the warmth that lives are told for."""
        return days * math.pow(self.ageing_q10, (self.room_c - ROOM_C) / 10)

    def find_terms(self, occasion: str) -> tuple[str, Terms]:
        """The terms of an occasion, by the first of the shop's words for one that is in it; none are empty."""
        words = occasion.casefold()
        found = (each for each in self.occasions.items() if each[0].casefold() in words)
        return next(found, ("", Terms()))

    def on_terms(self, *terms: Terms) -> "HouseRules":
        """The rules where some things are priced otherwise, the last to say so holding."""
        said = {name: value for each in terms for name, value in each.said.items()}
        if "flower_markup" in said:
            said["class_markups"] = {}
        return self.model_copy(update=said) if said else self

    def get_flower_markup(self, markup_class: str) -> Decimal:
        """Mark-up on cost of a material class; the flower mark-up where the class has none of its own."""
        return self.class_markups.get(markup_class, self.flower_markup)
