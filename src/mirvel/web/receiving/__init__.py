"""**Receiving**: today's delivery, stem by stem: judged, conditioned, counted, the rejected ones with their reason,
and a label for every bucket."""

from dataclasses import dataclass
from datetime import date
from typing import Annotated

from fastapi import APIRouter, Path, Request, Response
from fastapi.responses import RedirectResponse
from markupsafe import Markup

from mirvel.core.buying.receiving import MOST_STEMS, REASONS, Label, get_label, get_shared_advice, read_stems
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.facts import Advice
from mirvel.core.goods.material import Material
from mirvel.core.values.problems import BadInput, Problem
from mirvel.core.values.reading import read_day, read_whole
from mirvel.devices.asking import DeviceTrouble, ask
from mirvel.drawing.specimen import draw_material
from mirvel.store.deliveries import Delivery, DeliveryLine
from mirvel.store.shop import Shop
from mirvel.web.buckets.rows import Caution, get_cautions
from mirvel.web.receiving.labels import print_labels
from mirvel.web.requests import ShopHere, Typed, TypedHere, read_was, render, wants_fragment
from mirvel.web.working import Desk, DeskHere

router = APIRouter(prefix="/receiving")
Number = Annotated[int, Path(ge=1, le=2**31 - 1)]
PRINTER_PATIENCE_S, MOST_SUGGESTED = 10.0, 20


@dataclass(frozen=True)
class LineView:
    """One line with its material: drawing, how to judge and condition it, what to beware of."""

    line: DeliveryLine
    material: Material | None
    drawing: Markup
    conditioning: tuple[Advice, ...]
    cautions: tuple[Caution, ...]


@dataclass(frozen=True)
class DeliveryView:
    """One supplier's delivery."""

    delivery: Delivery
    lines: tuple[LineView, ...]
    shared: tuple[Advice, ...]


@router.get("")
def show_receiving(request: Request, shop: ShopHere, desk: DeskHere, day: str = "") -> Response:
    """The deliveries of a day; today's where none is named."""
    try:
        on_day = _read_day(day, shop)
    except BadInput as error:
        return _show(request, shop, desk, shop.get_today(), 422, problems=error.problems)
    return _show(request, shop, desk, on_day)


@router.get("/names")
def suggest_names(request: Request, desk: DeskHere, material: str = "") -> Response:
    """Materials whose name holds what is typed, for the field's list: a shop has thousands."""
    return render(request, "receiving/_names.html", materials=_suggest(desk.catalogue, material))


def _suggest(catalogue: Catalogue, text: str) -> list[Material]:
    return [each for each in catalogue.find_materials(text) if each.slug in catalogue.materials][:MOST_SUGGESTED]


def _read_day(text: str, shop: Shop) -> date:
    return read_day(text, "day", today=shop.get_today())


def _show(
    request: Request,
    shop: Shop,
    desk: Desk,
    on_day: date,
    status: int = 200,
    *,
    problems: tuple[Problem, ...] = (),
    typed: Typed | None = None,
    said: str = "",
) -> Response:
    template = "receiving/_day.html" if wants_fragment(request) else "receiving/receiving.html"
    deliveries = [_get_delivery(each, desk.catalogue) for each in shop.deliveries.load_day(on_day)]
    return render(
        request, template, status, deliveries=deliveries, on_day=on_day, suppliers=shop.suppliers.load_all(),
        rules=desk.rules, problems=problems, typed=typed or {}, said=said, reasons=REASONS, today=shop.get_today(),
        materials=_suggest(desk.catalogue, ""),
        printer=bool(request.app.state.settings.label_printer_url),
    )  # fmt: skip


def _get_delivery(delivery: Delivery, catalogue: Catalogue) -> DeliveryView:
    known = [catalogue.materials[line.slug] for line in delivery.lines if line.slug in catalogue.materials]
    shared = get_shared_advice(known)
    return DeliveryView(delivery, tuple(_get_line(line, catalogue, shared) for line in delivery.lines), shared)


def _get_line(line: DeliveryLine, catalogue: Catalogue, shared: tuple[Advice, ...]) -> LineView:
    material = catalogue.materials.get(line.slug)
    if material is None:
        return LineView(line, None, Markup(""), (), ())
    own = tuple(advice for advice in material.conditioning if advice not in shared)
    return LineView(line, material, draw_material(material, line.colour), own, get_cautions(material))


@router.post("")
def begin_delivery(request: Request, shop: ShopHere, desk: DeskHere, typed: TypedHere) -> Response:
    """A supplier's delivery of a day begins."""
    supplier = read_whole(typed.get("supplier", ""), "supplier", most=999_999_999)
    on_day = _read_day(typed.get("day", ""), shop)
    shop.deliveries.begin(supplier, on_day)
    return RedirectResponse(f"/receiving?day={on_day}", status_code=303)


@router.post("/{number}/{change}")
def change_delivery(
    request: Request, number: Number, change: str, shop: ShopHere, desk: DeskHere, typed: TypedHere
) -> Response:
    """Add a line to a delivery, count one again, or take one out."""
    on_day = _read_day(typed.get("day", ""), shop)
    try:
        _make(shop, desk, number, change, typed)
    except BadInput as error:
        return _show(request, shop, desk, on_day, 422, problems=error.problems, typed=typed)
    if not wants_fragment(request):
        return RedirectResponse(f"/receiving?day={on_day}", status_code=303)
    return _show(request, shop, desk, on_day)


def _make(shop: Shop, desk: Desk, number: int, change: str, typed: Typed) -> None:
    """Raises BadInput, NoSuchDelivery."""
    if change == "add":
        material = _find_material(desk.catalogue, typed.get("material", ""))
        colour = typed.get("colour", "").strip() or next(iter(material.colours))
        desk.catalogue.get_stem(material.slug, colour, field="line")
        stems = read_stems(typed.get("stems", ""), material.bunch_stems)
        shop.deliveries.add_line(number, material.slug, colour, stems, key=typed.get("once", ""))
    elif change == "count":
        line = shop.deliveries.load_line(number)
        bunch = desk.catalogue.materials[line.slug].bunch_stems
        shop.deliveries.save_line(
            number,
            received=read_stems(typed.get("received", str(line.received)), bunch, "came"),
            rejected=read_stems(typed.get("rejected", str(line.rejected)) or "0", bunch, "rejected"),
            reason=typed.get("reason", line.reason).strip(),
            was=read_was(typed, _read_count),
        )
    elif change == "remove":
        shop.deliveries.remove_line(number)
    else:
        raise BadInput(Problem("change", f"“{change}” is not a change Mirvel knows.", "Reload the page and try again."))


def _read_count(text: str) -> tuple[int, int]:
    """What came and what was rejected, as a form carries them. Raises BadInput."""
    received, _, rejected = text.partition(" ")
    return read_whole(received, "came", most=MOST_STEMS), read_whole(rejected, "rejected", most=MOST_STEMS)


def _find_material(catalogue: Catalogue, typed: str) -> Material:
    """The material typed by its name, or the only one like it. Raises BadInput."""
    text = typed.strip().lower()
    exact = [each for each in catalogue.materials.values() if text in {each.name.lower(), each.slug}]
    found = (
        exact or [each for each in catalogue.find_materials(text) if each.slug in catalogue.materials] if text else []
    )
    if len(found) == 1 or exact:
        return found[0]
    some = ", ".join(each.name for each in found[:4])
    mend = f"Choose one: {some}." if found else "Type a name from Buckets, or add it there first."
    raise BadInput(Problem("material", f"“{typed[:40]}” is {'several' if found else 'none'} of the shop’s.", mend))


def _get_labels(shop: Shop, desk: Desk, on_day: date, only: int | None) -> tuple[Label, ...]:
    """A label for every line with good stems left, or for one line."""
    lines = [line for delivery in shop.deliveries.load_day(on_day) for line in delivery.lines]
    labels = tuple(
        get_label(desk.catalogue.materials[line.slug], line.colour, line.good, on_day)
        for line in lines
        if line.good and line.slug in desk.catalogue.materials and only in {None, line.id}
    )
    if not labels:
        raise BadInput(Problem("labels", "there is nothing to label.", "Count stems in first."))
    return labels


@router.get("/labels.pdf")
def get_labels_pdf(
    shop: ShopHere, desk: DeskHere, request: Request, day: str = "", line: int | None = None
) -> Response:
    """The labels as PDF, one a page. Raises BadInput where there are none."""
    on_day = _read_day(day, shop)
    pdf = print_labels(request, desk, _get_labels(shop, desk, on_day, line))
    return Response(pdf, media_type="application/pdf", headers={"Content-Disposition": 'inline; filename="labels.pdf"'})


@router.post("/print")
def print_on_labels(request: Request, shop: ShopHere, desk: DeskHere, typed: TypedHere) -> Response:
    """Send the day's labels to the label printer; says so where it cannot print."""
    on_day = _read_day(typed.get("day", ""), shop)
    url = request.app.state.settings.label_printer_url
    try:
        labels = _get_labels(shop, desk, on_day, None)
        if not url:
            raise BadInput(Problem("labels", "no label printer is set up.", "Print the PDF instead."))
        pdf = print_labels(request, desk, labels)
        ask("label printer", url, patience_s=PRINTER_PATIENCE_S, send=pdf, kind="application/pdf")
    except DeviceTrouble as error:
        problem = Problem("labels", f"{error}", "Nothing is lost: mend it and print again, or print the PDF.")
        return _show(request, shop, desk, on_day, 422, problems=(problem,))
    except BadInput as error:
        return _show(request, shop, desk, on_day, 422, problems=error.problems)
    count = f"{len(labels)} label{'s' if len(labels) > 1 else ''}"
    return _show(request, shop, desk, on_day, said=f"{count} sent to the printer.")
