"""What the ledger of goods shows of each: a drawing, costs, bunch, season, life, cautions, stock."""

from dataclasses import dataclass
from decimal import Decimal

from markupsafe import Markup

from mirvel.core.buying.review import GoodRef
from mirvel.core.goods.assembly import Assembly
from mirvel.core.goods.catalogue import Catalogue, Good, GoodsKind
from mirvel.core.goods.container import Container
from mirvel.core.goods.hard_good import HardGood
from mirvel.core.goods.hazards import HAZARDS
from mirvel.core.goods.material import Material
from mirvel.core.values.units import LengthUnit, format_length
from mirvel.drawing.specimen import draw_container, draw_material
from mirvel.store.finding import PAGE, Found, Search

MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
_SHORT = {
    "thorns": "thorns",
    "sap": "sap",
    "strong-sap": "burning sap",
    "poison": "poisonous",
    "upset": "may upset pets",
    "cats": "deadly to cats",
    "pollen": "pollen",
    "scent": "strong scent",
    "edges": "cutting edges",
    "points": "points",
    "dust": "dust, fire",
}


@dataclass(frozen=True)
class Caution:
    """A hazard in two words, and in full."""

    short: str
    full: str


@dataclass(frozen=True)
class RowView:
    """One good in the ledger."""

    ref: GoodRef
    good: Good
    drawing: Markup
    cost: Decimal
    per_piece: Decimal | None
    unit: str
    about: str
    cautions: tuple[Caution, ...]
    stock: int

    @property
    def material(self) -> Material | None:
        return self.good if isinstance(self.good, Material) else None


@dataclass(frozen=True)
class LedgerView:
    """One page of goods found, and what they were looked for by."""

    search: Search
    rows: tuple[RowView, ...]
    total: int
    only_alike: bool
    kinds: tuple[GoodsKind, ...] = tuple(GoodsKind)

    @property
    def pages(self) -> int:
        return -(-self.total // PAGE)


def get_ledger(search: Search, found: Found, catalogue: Catalogue, unit: LengthUnit) -> LedgerView:
    """The page for what was found, lengths in a unit."""
    goods = getattr(catalogue, search.kind)
    rows = tuple(
        get_row(GoodRef(search.kind, slug), catalogue, stock, unit)
        for slug, stock in found.stock.items()
        if slug in goods
    )
    return LedgerView(search, rows, found.total, found.only_alike)


def get_row(ref: GoodRef, catalogue: Catalogue, stock: int, unit: LengthUnit) -> RowView:
    """One good as a row."""
    good: Good = getattr(catalogue, ref.kind)[ref.slug]
    if isinstance(good, Assembly):
        return _get_assembly_row(ref, good, catalogue)
    return RowView(
        ref=ref,
        good=good,
        drawing=_draw(good),
        cost=good.cost,
        per_piece=good.cost_per_piece if isinstance(good, Material) and good.pieces_per_stem > 1 else None,
        unit="stem" if isinstance(good, Material) else good.unit if isinstance(good, HardGood) else "each",
        about=_describe(good, unit),
        cautions=get_cautions(good),
        stock=stock,
    )


def _get_assembly_row(ref: GoodRef, assembly: Assembly, catalogue: Catalogue) -> RowView:
    made = catalogue.get_assembly_as_material(assembly, next(iter(assembly.colours)), field=assembly.name)
    return RowView(
        ref=ref,
        good=assembly,
        drawing=draw_material(made),
        cost=made.cost,
        per_piece=None,
        unit="piece",
        about=f"{assembly.minutes} min, keeps {assembly.shelf_life_hours} h",
        cautions=get_cautions(made),
        stock=0,
    )


def _draw(good: Material | Container | HardGood) -> Markup:
    if isinstance(good, Material):
        return draw_material(good)
    return draw_container(good) if isinstance(good, Container) else Markup("")


def _describe(good: Material | Container | HardGood, unit: LengthUnit) -> str:
    if isinstance(good, Material):
        return f"{good.form}, {good.default_role}"
    if isinstance(good, Container):
        what = dict.fromkeys((good.kind.value, good.shape.value))  # a heart’s mouth is a heart
        across = format_length(good.mouth_cm, unit, with_unit=False)
        return f"{', '.join(what)}, {across} × {format_length(good.height_cm, unit)}"
    return f"pack of {good.pack_size:f}"


def get_cautions(good: Good) -> tuple[Caution, ...]:
    """What to beware of, in two words each and in full."""
    if isinstance(good, Material):
        return tuple(Caution(_SHORT.get(each, each), HAZARDS.get(each, each)) for each in good.hazards)
    if isinstance(good, HardGood) and good.caution:
        return (Caution(good.caution.split(":")[0].split(";")[0][:40].lower(), good.caution),)
    return ()
