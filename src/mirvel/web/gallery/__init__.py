"""**Gallery**: every form as a sample made from the shop's own goods, and every head tight, half open and open from
three sides, so that a florist can see what the drawings mean."""

from collections.abc import Iterable
from dataclasses import dataclass

from fastapi import APIRouter, Request, Response

from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.material import Material
from mirvel.drawing.studies import draw_studies
from mirvel.web.figuring import HOURS, has_samples
from mirvel.web.requests import ShopHere, render
from mirvel.web.table.looking import read_looking
from mirvel.web.working import DeskHere

router = APIRouter(prefix="/gallery")
SVG = "image/svg+xml"


@dataclass(frozen=True)
class HeadView:
    """One way heads are drawn and a material that shows it."""

    form: str
    habit: str
    material: Material
    colour: str


@router.get("")
def show_gallery(request: Request, shop: ShopHere, desk: DeskHere) -> Response:
    """All forms, as far as they are drawn, and all heads."""
    look = read_looking(dict(request.query_params))
    hour = min(HOURS, key=lambda each: abs((each - look.hour + 6) % 12 - 6))
    shown = shop.figures.load_samples(f"{hour:g} {desk.rules.unit.value}")
    is_drawn = has_samples(shop, desk)
    if not is_drawn:
        request.app.state.drawer.poke()
    forms = [(form, shown.get(form.name)) for form in FORMS.values() if form.name in shown or not is_drawn]
    heads = _get_heads(desk.catalogue.materials.values())
    return render(request, "gallery/gallery.html", forms=forms, heads=heads, hour=hour, is_drawn=is_drawn)


def _get_heads(materials: Iterable[Material]) -> list[HeadView]:
    """The first material of each form and habit, in its middle colour."""
    heads: dict[tuple[str, str], HeadView] = {}
    for material in materials:
        colours = list(material.colours)
        heads.setdefault(
            (material.form.value, material.habit),
            HeadView(material.form.value, material.habit, material, colours[len(colours) // 2]),
        )
    return sorted(heads.values(), key=lambda head: (head.form, head.habit))


@router.get("/heads/{slug}.svg")
def draw_head(slug: str, colour: str, desk: DeskHere) -> Response:
    """One material's head, nine times."""
    material = desk.catalogue.get_material(slug, colour, field="material")
    return Response(draw_studies(material, colour), media_type=SVG)
