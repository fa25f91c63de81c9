"""**Gallery**: every form as a sample made from the shop's own goods, and every head tight, half open and open from
three sides, so that a florist can see what the drawings mean."""

from collections.abc import Iterable
from dataclasses import dataclass

from fastapi import APIRouter, Request, Response

from mirvel.core.changing.samples import find_sample
from mirvel.core.forms.form import Form
from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.material import Material
from mirvel.core.values.problems import Problem, UnknownGoods
from mirvel.drawing.sheet import Style, draw
from mirvel.drawing.studies import draw_studies
from mirvel.drawing.view import View
from mirvel.web.requests import render
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
def show_gallery(request: Request, desk: DeskHere) -> Response:
    forms = [form for form in FORMS.values() if find_sample(form, desk.catalogue)]
    look = read_looking(dict(request.query_params))
    return render(
        request, "gallery/gallery.html", forms=forms, heads=_get_heads(desk.catalogue.materials.values()), look=look
    )


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


@router.get("/forms/{name}.svg")
def draw_form(request: Request, name: str, desk: DeskHere) -> Response:
    """A form's sample from the front, or as the query looks at it."""
    form: Form | None = FORMS.get(name)
    sample = find_sample(form, desk.catalogue) if form else None
    if sample is None:
        raise UnknownGoods(Problem("form", f"there is no sample of “{name}”.", "Choose one in the gallery."))
    look = read_looking(dict(request.query_params))
    style = Style(hour=look.hour)
    svg = desk.keep(f"sample {look.key}", sample, lambda: draw(desk.work_out(sample).build, View.FRONT, style).to_svg())
    return Response(svg, media_type=SVG)


@router.get("/heads/{slug}.svg")
def draw_head(slug: str, colour: str, desk: DeskHere) -> Response:
    """One material's head, nine times."""
    material = desk.catalogue.get_material(slug, colour, field="material")
    return Response(draw_studies(material, colour), media_type=SVG)
