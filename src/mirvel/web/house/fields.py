"""How each house rule is typed: its label, its unit, what may be chosen, and where its usual value comes from. What is
typed is read and judged by the core."""

from collections.abc import Mapping

from mirvel.core.house.design import FocalPlace, Grading
from mirvel.core.house.terms import PiecePolicy, PricingSchool
from mirvel.core.values.days import DayOrder
from mirvel.core.values.units import LengthUnit
from mirvel.web.buckets.fields import Field, choose

GROUPS: Mapping[str, tuple[Field, ...]] = {
    "The shop": (
        Field("shop", "Name"),
        Field("currency", "Currency sign"),
        Field("unit", "Lengths", choices=choose(LengthUnit)),
        Field("days", "Dates", choices=choose(DayOrder)),
        Field("people", "People who publish standards", lines=4, hint="a name to a line"),
    ),
    "Price points": (
        Field("price_points", "Prices", lines=2, hint="28, 42, 58"),
        Field("tax_rate", "Tax inside them", "%", hint="0 where they exclude it"),
        Field("true_from", "A recipe is true from a fill of", "%", hint="common practice: 96"),
        Field("true_to", "up to", "%"),
    ),
    "What is charged": (
        Field("pricing", "School", choices=choose(PricingSchool)),
        Field("pieces", "A stem broken down is charged by", choices=choose(PiecePolicy)),
        Field("flower_markup", "Flowers", "× cost", hint="common practice: 3 to 3.5"),
        Field("hard_goods_markup", "Hard goods", "× cost", hint="common practice: 2 to 2.5"),
        Field("labour_on_top", "Labour on top", "%", hint="common practice: 20"),
        Field("labour_share", "Labour as a share", "%"),
        Field("wage_per_minute", "A minute’s wage", "each"),
        Field("overhead_on_wage", "Overhead on it", "%"),
        Field("goods_uplift", "Uplift on goods, time and materials", "%"),
        Field("occasions", "Occasions on terms of their own", lines=3, hint="gift: flowers × 3.5; labour on top 25 %"),
        Field("class_markups", "Flowers of a class of their own", lines=3, hint="orchid: 2.5"),
    ),
    "Slices of the price": (
        Field("flowers", "Slice for flowers", "%"),
        Field("hard_goods", "Slice for hard goods", "%"),
        Field("labour", "Slice for labour", "%"),
        Field("overhead", "Slice for overhead", "%"),
        Field("profit", "Slice for profit", "%"),
        Field("lend_hard_goods", "Flowers may use what hard goods leave", choices=("yes", "no")),
    ),
    "How pieces are made": (
        Field("focal_place", "Focal flowers", choices=choose(FocalPlace)),
        Field("grading", "Sizes", choices=choose(Grading)),
        Field("spare_share", "Stems pulled to spare", "%", hint="common practice: 5 to 10 break or are not sold"),
        Field("opening_at_delivery", "Blooms are open at delivery by", "%", hint="assumption: 60"),
        Field("room_c", "They stand in a room of", "°C", hint="lives are told for 20"),
        Field("ageing_q10", "10 °C warmer they age", "times", hint="assumption: 2"),
        Field("target_fullness", "A full piece is covered", "%", hint="assumption: 85"),
        Field("thin_below", "It reads thin below", "%", hint="assumption: 75"),
        Field("crowded_above", "and crowded above", "%", hint="assumption: 110"),
    ),
    "What is told of": (
        Field("odd_focals", "An even number of focal flowers", choices=("no", "yes")),
        Field("minds_bunches", "What is left of bunches opened for it", choices=("no", "yes")),
        Field("most_hues", "More families of hue than", hint="empty: any number"),
        Field("transport_cm", "What stands higher than the car takes", "cm", hint="empty: not told"),
        Field("least_tip_deg", "What falls when it is tipped by less than", "°", hint="assumption: 10"),
        Field("lift_limit_kg", "What is heavier than one person lifts", "kg", hint="assumption: 15"),
        Field("set_up_minutes", "Minutes far from the shop’s pace: to set up", "min", hint="assumption: 5"),
        Field("minutes_a_piece", "and for each piece", "min", hint="assumption: 0.2; empty: not told"),
    ),
    "Water and weight": (
        Field("head_drinks_ml", "A head drinks a day, for each cm² it shows", "ml", hint="assumption: 0.1"),
        Field("leaf_drinks_ml", "and a leafy stem", "ml", hint="assumption: 1"),
        Field("evaporates_mm", "Open water sinks a day by", "mm", hint="assumption: 2"),
        Field("foam_holds", "Foam holds of its volume", "%", hint="assumption: 95"),
        Field("foam_gives", "and gives up of that", "%", hint="assumption: 80"),
        Field("head_weighs_g", "A head weighs, for each cm² it shows", "g", hint="assumption: 0.35"),
        Field("stem_weighs_g", "a stem, for each cm³", "g", hint="assumption: 1"),
        Field("stand_weighs_g", "a stand, for each cm of its height", "g", hint="assumption: 6"),
        Field("drains_minutes", "A frame drains for each litre of foam", "min", hint="assumption: 10"),
    ),
    "Weight in the eye, and colours": (
        Field("leaf_weight", "A leaf, a disc as large being 1"),
        Field("form_weights", "Heads that are no discs", lines=4, hint="spray: 0.5"),
        Field("palettes", "Palettes", lines=4, hint="lantern: #e8836b #f2c14e"),
    ),
}
NAMES = {field.name: field.label for fields in GROUPS.values() for field in fields}
