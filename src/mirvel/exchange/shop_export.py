"""Everything the shop knows of its goods as plain tables, for CSV files and one workbook."""

from collections.abc import Iterable, Iterator, Mapping, Sequence

from mirvel.core.buying.costs import PurchasePrice
from mirvel.core.buying.receiving import CameIn
from mirvel.core.buying.review import GoodRef
from mirvel.core.buying.supplier import Supplier
from mirvel.core.goods.catalogue import Catalogue, GoodsKind
from mirvel.core.goods.colours import get_lab
from mirvel.core.values.fact import Fact
from mirvel.exchange.tables import Value

Rows = Iterator[Sequence[Value]]
_NESTED = {"colours", "conditioning", "stems", "hard_goods"}  # these have tables of their own, or are written in words


def get_goods_rows(goods: Iterable[Fact]) -> Rows:
    """Goods of one kind, one a row, headings from the facts' own names."""
    found = list(goods)
    if not found:
        return
    fields = [name for name in type(found[0]).model_fields if name not in _NESTED]
    yield fields
    for good in found:
        yield [_get_value(getattr(good, name)) for name in fields]


def _get_value(value: object) -> Value:
    if isinstance(value, tuple):
        return "; ".join(str(each) for each in value)
    if isinstance(value, float):
        return f"{value:g}"
    return value if value is None or isinstance(value, Value) else str(value)


def get_colour_rows(catalogue: Catalogue) -> Rows:
    """Every material in every colour, in sRGB and CIELAB (D65)."""
    yield ["material", "colour", "srgb", "L", "a", "b"]
    for material in catalogue.materials.values():
        for colour, srgb in material.colours.items():
            yield [material.slug, colour, srgb, *(f"{part:.2f}" for part in get_lab(srgb))]


def get_conditioning_rows(catalogue: Catalogue) -> Rows:
    """How each material is conditioned, by school."""
    yield ["material", "school", "conditioning"]
    for material in catalogue.materials.values():
        for advice in material.conditioning:
            yield [material.slug, advice.school, advice.text]


def get_part_rows(catalogue: Catalogue) -> Rows:
    """What each made-ahead piece is made of."""
    yield ["assembly", "part", "colour", "quantity"]
    for assembly in catalogue.assemblies.values():
        for part in assembly.stems:
            yield [assembly.slug, part.material, part.colour or "", f"{part.pieces} × {part.piece}"]
        for use in assembly.hard_goods:
            yield [assembly.slug, use.hard_good, "", use.describe(catalogue.hard_goods[use.hard_good])]


def get_supplier_rows(suppliers: Iterable[Supplier]) -> Rows:
    yield ["supplier", "freight", "dump", "note"]
    for supplier in suppliers:
        yield [supplier.name, supplier.terms.freight, supplier.terms.dump, supplier.note]


def get_price_rows(prices: Iterable[tuple[GoodRef, PurchasePrice]], suppliers: Mapping[int, str]) -> Rows:
    """Every price ever recorded."""
    packs = ("pack price", "pack size", "freight", "dump")
    yield ["kind", "good", "since", "supplier", *packs, "landed cost", "counts", "source"]
    for ref, point in prices:
        supplier = suppliers.get(point.supplier_id or 0, "")
        yield [
            ref.kind.value, ref.slug, point.since, supplier, point.pack_price, point.pack_size, point.terms.freight,
            point.terms.dump, point.cost, point.counts, point.source,
        ]  # fmt: skip


def get_stock_rows(stock: Iterable[tuple[str, str, int]]) -> Rows:
    """Stems in the buckets by material and colour."""
    yield ["material", "colour", "stems"]
    yield from stock


def get_delivery_rows(came_in: Iterable[CameIn]) -> Rows:
    """Every line of every delivery."""
    yield ["day", "supplier", "material", "colour", "received", "rejected", "reason", "paid per stem", "dump reckoned"]
    for each in came_in:
        counted = (each.received, each.rejected, each.reason, each.paid, each.dump)
        yield [each.on_day, each.supplier, each.slug, each.colour, *counted]


def get_tables(
    catalogue: Catalogue,
    suppliers: Mapping[int, Supplier],
    prices: Iterable[tuple[GoodRef, PurchasePrice]],
    stock: Iterable[tuple[str, str, int]] = (),
    came_in: Iterable[CameIn] = (),
) -> Mapping[str, list[Sequence[Value]]]:
    """Every table by name."""
    names = {number: supplier.name for number, supplier in suppliers.items()}
    tables: dict[str, Rows] = {kind.value: get_goods_rows(getattr(catalogue, kind).values()) for kind in GoodsKind}
    tables |= {
        "colours": get_colour_rows(catalogue),
        "conditioning": get_conditioning_rows(catalogue),
        "parts": get_part_rows(catalogue),
        "suppliers": get_supplier_rows(suppliers.values()),
        "prices": get_price_rows(prices, names),
        "stock": get_stock_rows(stock),
        "deliveries": get_delivery_rows(came_in),
    }
    return {name: list(rows) for name, rows in tables.items()}
