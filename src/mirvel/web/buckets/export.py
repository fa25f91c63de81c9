"""Everything the shop knows of its goods, out again: one workbook, or CSV files."""

import io
import zipfile
from collections.abc import Mapping, Sequence
from uuid import uuid4

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse

from mirvel.core.values.problems import BadInput, Problem
from mirvel.exchange.shop_export import get_tables
from mirvel.exchange.tables import Value, write_csv, write_xlsx
from mirvel.store.shop import Shop
from mirvel.web.requests import ShopHere, render
from mirvel.web.tasks import Task, Tasks
from mirvel.web.working import Desk, DeskHere

router = APIRouter()
_XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
_PROGRESS = "/buckets/export"


def _load_tables(shop: Shop, desk: Desk) -> Mapping[str, list[Sequence[Value]]]:
    suppliers = {each.id: each.supplier for each in shop.suppliers.load_all()}
    stock, came_in = shop.goods.load_all_stock(), shop.deliveries.load_all()
    return get_tables(desk.catalogue, suppliers, shop.prices.load_all(), stock, came_in)


def _send(content: bytes | str, media_type: str, name: str) -> Response:
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(content, media_type=media_type, headers=headers)


@router.get("/export.xlsx")
def export_workbook(request: Request, shop: ShopHere, desk: DeskHere) -> Response:
    """Every table as a sheet of one workbook as the shop stands now: at once where that is quick, else begun."""

    def write(task: Task) -> bytes:
        return write_xlsx(_load_tables(shop, desk).items(), task.tell)

    tasks: Tasks = request.app.state.tasks
    last = tasks.find_last(_PROGRESS)
    if last and not last.is_done:
        return RedirectResponse(_PROGRESS, status_code=303)
    tasks.drop(_PROGRESS)  # one workbook is kept, the last
    task = tasks.ask(uuid4(), _PROGRESS, write)
    return _send_workbook(task, shop) if task.is_done else RedirectResponse(_PROGRESS, status_code=303)


@router.get("/export")
def show_progress(request: Request, desk: DeskHere) -> Response:
    """How far the last workbook is, and where it is fetched once it is made."""
    tasks: Tasks = request.app.state.tasks
    return render(request, "buckets/export.html", task=tasks.find_last(_PROGRESS), rules=desk.rules)


@router.get("/export/made.xlsx")
def fetch_workbook(request: Request, shop: ShopHere) -> Response:
    """The last workbook made; begun anew where it is gone."""
    tasks: Tasks = request.app.state.tasks
    task = tasks.find_last(_PROGRESS)
    return (
        _send_workbook(task, shop)
        if task and task.is_done
        else RedirectResponse("/buckets/export.xlsx", status_code=303)
    )


def _send_workbook(task: Task, shop: Shop) -> Response:
    return _send(task.answer.result(), _XLSX, f"mirvel-{shop.get_today()}.xlsx")


@router.get("/export.zip")
def export_all_csv(shop: ShopHere, desk: DeskHere) -> Response:
    """Every table as a CSV file."""
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as files:
        for name, rows in _load_tables(shop, desk).items():
            files.writestr(f"{name}.csv", write_csv(rows))
    return _send(packed.getvalue(), "application/zip", f"mirvel-{shop.get_today()}.zip")


@router.get("/export/{table}.csv")
def export_csv(table: str, shop: ShopHere, desk: DeskHere) -> Response:
    """One table as CSV. Raises BadInput for a table there is not."""
    tables = _load_tables(shop, desk)
    if table not in tables:
        raise BadInput(Problem("table", f"there is no table “{table}”.", f"Choose {', '.join(tables)}."))
    return _send(write_csv(tables[table]), "text/csv; charset=utf-8", f"{table}.csv")
