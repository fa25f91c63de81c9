"""Everything the shop knows of its goods, out again: one workbook, or CSV files."""

import io
import zipfile
from collections.abc import Mapping, Sequence
from datetime import date

from fastapi import APIRouter, Response

from mirvel.core.values.problems import BadInput, Problem
from mirvel.exchange.shop_export import get_tables
from mirvel.exchange.tables import Value, write_csv, write_xlsx
from mirvel.store.shop import Shop
from mirvel.web.requests import ShopHere
from mirvel.web.working import Desk, DeskHere

router = APIRouter()
_XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


def _load_tables(shop: Shop, desk: Desk) -> Mapping[str, list[Sequence[Value]]]:
    suppliers = {each.id: each.supplier for each in shop.suppliers.load_all()}
    stock, came_in = shop.goods.load_all_stock(), shop.deliveries.load_all()
    return get_tables(desk.catalogue, suppliers, shop.prices.load_all(), stock, came_in)


def _send(content: bytes | str, media_type: str, name: str) -> Response:
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(content, media_type=media_type, headers=headers)


@router.get("/export.xlsx")
def export_workbook(shop: ShopHere, desk: DeskHere) -> Response:
    """Every table as a sheet of one workbook."""
    return _send(write_xlsx(_load_tables(shop, desk).items()), _XLSX, f"mirvel-{date.today()}.xlsx")


@router.get("/export.zip")
def export_all_csv(shop: ShopHere, desk: DeskHere) -> Response:
    """Every table as a CSV file."""
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as files:
        for name, rows in _load_tables(shop, desk).items():
            files.writestr(f"{name}.csv", write_csv(rows))
    return _send(packed.getvalue(), "application/zip", f"mirvel-{date.today()}.zip")


@router.get("/export/{table}.csv")
def export_csv(table: str, shop: ShopHere, desk: DeskHere) -> Response:
    """One table as CSV. Raises BadInput for a table there is not."""
    tables = _load_tables(shop, desk)
    if table not in tables:
        raise BadInput(Problem("table", f"there is no table “{table}”.", f"Choose {', '.join(tables)}."))
    return _send(write_csv(tables[table]), "text/csv; charset=utf-8", f"{table}.csv")
