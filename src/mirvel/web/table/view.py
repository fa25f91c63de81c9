"""What the Table's templates get: final values in the order they are shown."""

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum
from functools import cached_property
from itertools import groupby, product

from markupsafe import Markup

from mirvel.core.card.days import Life, get_life, get_on_day, get_past
from mirvel.core.changing.ordering import OrderSchool
from mirvel.core.forms.form import Form
from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.container import Container
from mirvel.core.goods.facts import Mechanics, PieceSize, Role
from mirvel.core.goods.hard_good import HardGood, HardGoodUse
from mirvel.core.goods.hues import Scheme
from mirvel.core.goods.material import Material
from mirvel.core.house.design import (
    Balance,
    FoamLie,
    FoamPart,
    FocalPlace,
    Grading,
    Grouping,
    HeightBase,
    HeightOf,
    Levels,
    SeenFrom,
)
from mirvel.core.house.rules import HouseRules
from mirvel.core.house.terms import NUMBERS, PiecePolicy, PricingSchool, write_term
from mirvel.core.judging.checks import DECLARED
from mirvel.core.judging.colours import find_scheme
from mirvel.core.making.cuts import Cut
from mirvel.core.mending import MAKERS
from mirvel.core.placing.met import get_top
from mirvel.core.placing.places import Place
from mirvel.core.pricing.pricing import get_made_ahead_minutes, get_margin, get_pricing_rules, get_share_of_price
from mirvel.core.recipe.entry import Entry, Outline
from mirvel.core.recipe.fit_wishes import Aim, Exclusion
from mirvel.core.recipe.meant_words import write_meant
from mirvel.core.recipe.recipe import Density, Recipe, Schools, SizeMode
from mirvel.core.recipe.taking import take
from mirvel.core.values.problems import MirvelError, UnknownGoods
from mirvel.core.working import Worked
from mirvel.drawing.sheet import Drawing
from mirvel.drawing.symbols import define
from mirvel.drawing.tube import draw_tube
from mirvel.drawing.view import View
from mirvel.store.shop import SavedRecipe
from mirvel.store.standards import Standard
from mirvel.web.table.looking import COMPASS, Has, Labels, Looking
from mirvel.web.working import Desk, get_shape

_NOTHING = Has()


@dataclass(frozen=True)
class EntryView:
    """One row: the entry, its number on drawings, what it costs, its longest and shortest cut."""

    number: int
    entry: Entry
    material: Material | None
    cost: Decimal
    longest_cm: float
    meant: str
    shortest_cm: float

    @cached_property
    def said(self) -> str:
        """All that is shown of the entry but its place, its pieces, its costs and its cuts."""
        entry = self.entry.model_dump_json(exclude={"kept", "pins", "pieces"})
        goods = (self.material.name, self.material.colours, self.material.pieces_per_stem) if self.material else ()
        return f"{entry} {self.entry.placed > 0} {goods} {self.meant}"


@dataclass(frozen=True)
class StepView:
    """A run of entries of one role."""

    role: Role
    rows: tuple[EntryView, ...]


@dataclass(frozen=True)
class HardGoodView:
    """One hard good of the recipe, how much as it is typed, and what that costs."""

    good: HardGood
    use: HardGoodUse
    cost: Decimal


@dataclass(frozen=True)
class PieceView:
    """The chosen piece: its place and its cut three ways."""

    name: str
    colour: str
    number: int
    place: Place
    cut: Cut
    below_edge_cm: float
    top_cm: float
    others: tuple[tuple[str, str], ...]


@dataclass(frozen=True)
class TermsView:
    """On what terms the recipe is priced: the occasion of the shop's whose they are, if any, the rules it follows where
    it says nothing itself, its own numbers and those it would follow as they are typed, and labour on top as it counts,
    with the share of the price that makes."""

    occasion: str
    by: HouseRules
    own: Mapping[str, str]
    usual: Mapping[str, str]
    labour_on_top: Decimal
    labour_share: Decimal


@dataclass(frozen=True)
class TableView:
    """The whole Table; ``worked`` is None, with the reason, where the recipe cannot be worked out as it stands, and
    ``drawing`` empty where it cannot be drawn just now."""

    id: int
    state_id: int
    standard: Standard | None
    recipe: Recipe
    can_undo: bool
    can_redo: bool
    steps: tuple[StepView, ...]
    worked: Worked | None
    trouble: str
    looking: Looking
    life: Life | None
    scheme: tuple[Scheme, tuple[str, ...]] | None
    past: tuple[tuple[str, int], ...]
    piece: PieceView | None
    drawing: Markup
    art: Markup
    tube: Markup
    containers: tuple[Container, ...]
    hard_goods: tuple[HardGoodView, ...]
    more_hard_goods: tuple[HardGood, ...]
    price_points: tuple[Decimal, ...]
    terms: TermsView
    check_count: int
    mendable: frozenset[str]
    made_ahead_minutes: Decimal
    flower_margin: Decimal
    pinned: int
    marks: Mapping[str, str]
    mechanics: tuple[Mechanics, ...]
    used_roles: tuple[Role, ...]
    comes_out_otherwise: bool = False  # the standard it is, by what is known of its goods now
    forms: tuple[Form, ...] = tuple(FORMS.values())
    arranging: tuple[tuple[str, str, tuple[StrEnum, ...]], ...] = (
        ("grouping", "Flowers", tuple(Grouping)),
        ("balance", "Balance", tuple(Balance)),
        ("focal", "Focal", tuple(FocalPlace)),
        ("levels", "Levels", tuple(Levels)),
        ("grading", "Size", tuple(Grading)),
    )
    seen_froms: tuple[SeenFrom, ...] = tuple(SeenFrom)
    views: tuple[View, ...] = (View.FRONT, View.SECTION)
    labels: tuple[Labels, ...] = tuple(Labels)
    compass: tuple[float, ...] = COMPASS
    height_ofs: tuple[HeightOf, ...] = tuple(HeightOf)
    height_bases: tuple[HeightBase, ...] = tuple(HeightBase)
    size_modes: tuple[SizeMode, ...] = tuple(SizeMode)
    densities: tuple[Density, ...] = tuple(Density)
    roles: tuple[Role, ...] = tuple(Role)
    piece_sizes: tuple[PieceSize, ...] = tuple(PieceSize)
    outlines: tuple[Outline, ...] = tuple(Outline)
    aims: tuple[Aim, ...] = tuple(Aim)
    exclusions: tuple[Exclusion, ...] = tuple(Exclusion)
    schools: tuple[PricingSchool, ...] = tuple(PricingSchool)
    order_schools: tuple[OrderSchool, ...] = tuple(OrderSchool)
    foam_blocks: tuple[tuple[FoamPart, FoamLie], ...] = tuple(product(FoamPart, FoamLie))
    policies: tuple[PiecePolicy, ...] = tuple(PiecePolicy)

    @property
    def said_by_entry(self) -> str:
        """All that is shown of the entries but what ``EntryView.said`` leaves out."""
        return " ".join(row.said for step in self.steps for row in step.rows)


def get_table_view(
    saved: SavedRecipe, standard: Standard | None, desk: Desk, looking: Looking, has: Has = _NOTHING
) -> TableView:
    """The Table of a saved recipe, with its standard in force, as goods and rules stand now, looked at in some way."""
    worked: Worked | None = None
    drawing: Drawing | None = None
    trouble = ""
    try:
        worked = desk.work_out(saved.recipe)
        drawing = _draw(saved.recipe, worked, desk, looking)
    except MirvelError as error:  # all else is shown: a change that led here is saved
        trouble = str(error)
    ids = [entry.id for entry in saved.recipe.entries]
    rows = [
        _get_row(number, entry, desk.catalogue, worked, write_meant(entry.meant, ids, desk.rules.unit))
        for number, entry in enumerate(saved.recipe.entries, 1)
    ]
    return TableView(
        id=saved.id,
        state_id=saved.state_id,
        standard=standard,
        recipe=saved.recipe,
        can_undo=saved.can_undo,
        can_redo=saved.can_redo,
        steps=tuple(StepView(role, tuple(run)) for role, run in groupby(rows, key=lambda row: row.entry.role)),
        worked=worked,
        trouble=trouble,
        looking=looking,
        life=get_life(worked.build) if worked else None,
        scheme=find_scheme(worked.build) if worked else None,
        past=get_past(worked.build, looking.day) if worked and looking.day is not None else (),
        piece=_get_piece(worked, looking) if worked else None,
        drawing=_write_drawing(drawing, desk, has) if drawing else Markup(""),
        art=_get_art(drawing, has),
        tube=draw_tube(worked) if worked else Markup(""),
        containers=desk.get_vessels(saved.recipe.form, saved.recipe.container),
        hard_goods=_get_hard_goods(saved.recipe, desk.catalogue),
        more_hard_goods=_get_more_hard_goods(saved.recipe, desk.catalogue),
        price_points=tuple(sorted({*desk.rules.price_points, saved.recipe.price_point})),
        made_ahead_minutes=get_made_ahead_minutes(take(saved.recipe, desk.catalogue)) if worked else Decimal(0),
        check_count=len(DECLARED),
        mendable=frozenset(MAKERS),
        terms=_get_terms(saved.recipe, desk.rules),
        used_roles=tuple(dict.fromkeys(entry.role for entry in saved.recipe.entries)),
        marks=has.marks,
        pinned=sum(place.pinned for place in worked.build.places) if worked else 0,
        mechanics=_get_mechanics(saved.recipe),
        flower_margin=get_margin(worked.money.goods.flower_markup if worked else desk.rules.flower_markup),
    )


def _get_terms(recipe: Recipe, rules: HouseRules) -> TermsView:
    occasion, _ = rules.find_terms(recipe.brief.occasion)
    by = get_pricing_rules(recipe.model_copy(update={"schools": Schools()}), rules)
    own = {name: write_term(name, getattr(recipe.schools, name)) for name in NUMBERS}
    usual = {name: write_term(name, getattr(by, name)) for name in NUMBERS}
    in_force = get_pricing_rules(recipe, rules)
    return TermsView(occasion, by, own, usual, in_force.labour_on_top, get_share_of_price(in_force.labour_on_top))


def _draw(recipe: Recipe, worked: Worked, desk: Desk, looking: Looking) -> Drawing:
    def draw() -> Drawing:
        seen = worked.build if looking.day is None else get_on_day(worked.build, looking.day)
        return desk.workers.draw(seen, looking.style, looking.view)

    return desk.keep(f"both {looking.key}", get_shape(recipe), draw)


def _write_drawing(drawing: Drawing, desk: Desk, has: Has) -> Markup:
    """The drawing, and of what the page shows already, as long as that is remembered, only the name."""
    shown = desk.kept.find(("shown", has.marks.get("drawing")))
    mark = drawing.mark
    desk.kept.keep(("shown", mark), lambda: drawing)
    return drawing.to_bare_svg(shown, id="drawing", class_="drawing", data_mark=mark)


def _get_art(drawing: Drawing | None, has: Has) -> Markup:
    """The symbols a page lacks for a drawing."""
    return define({name: each for name, each in drawing.symbols.items() if name not in has.symbols} if drawing else {})


def _get_mechanics(recipe: Recipe) -> tuple[Mechanics, ...]:
    """What may hold a piece of this form, and what does."""
    return tuple(dict.fromkeys((*FORMS[recipe.form].mechanics, recipe.mechanics)))


def _get_piece(worked: Worked, looking: Looking) -> PieceView | None:
    cut = next((each for each in worked.build.cuts if (each.place.entry.id, each.place.number) == looking.piece), None)
    if cut is None:
        return None
    place = cut.place
    others = tuple(
        (
            f"{each.entry.id}.{each.number}",
            f"{each.material.name} no. {each.number}, {each.level}",
        )
        for each in worked.build.places
        if each is not place
    )
    return PieceView(
        name=place.material.name,
        colour=place.entry.colour,
        number=place.number,
        place=place,
        cut=cut,
        below_edge_cm=cut.get_below_edge_cm(worked.build.container),
        top_cm=get_top(place),
        others=others,
    )


def _get_hard_goods(recipe: Recipe, catalogue: Catalogue) -> tuple[HardGoodView, ...]:
    known = [(use, catalogue.hard_goods.get(use.hard_good)) for use in recipe.hard_goods]
    return tuple(HardGoodView(good, use, use.get_cost(good)) for use, good in known if good)


def _get_more_hard_goods(recipe: Recipe, catalogue: Catalogue) -> tuple[HardGood, ...]:
    """What may be added, by name."""
    used = {use.hard_good for use in recipe.hard_goods}
    more = (good for good in catalogue.hard_goods.values() if good.slug not in used and not good.retired)
    return tuple(sorted(more, key=lambda good: good.name))


def _get_row(number: int, entry: Entry, catalogue: Catalogue, worked: Worked | None, meant: str) -> EntryView:
    cuts = [cut.cut_cm for cut in worked.build.get_entry_cuts(entry.id)] if worked else []
    return EntryView(
        number=number,
        entry=entry,
        material=_find_material(entry, catalogue),
        cost=worked.money.entry_costs[entry.id] if worked else Decimal(0),
        longest_cm=max(cuts, default=0.0),
        meant=meant,
        shortest_cm=min(cuts, default=0.0),
    )


def _find_material(entry: Entry, catalogue: Catalogue) -> Material | None:
    """The material or assembly of an entry, or None where the catalogue lacks it or its colour."""
    try:
        return catalogue.get_material(entry.material, entry.colour, field="entry")
    except UnknownGoods:
        return None
