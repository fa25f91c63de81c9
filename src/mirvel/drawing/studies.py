"""One head on its own as the sheet would draw it: tight, half open or open, from the front, the side and behind."""

from markupsafe import Markup

from mirvel.core.goods.facts import PieceSize
from mirvel.core.goods.heads import get_head_at
from mirvel.core.goods.material import Material
from mirvel.core.placing.places import Place
from mirvel.core.recipe.entry import Entry
from mirvel.core.space.vectors import Vec
from mirvel.drawing.pieces import Brush, draw_piece
from mirvel.drawing.svg import num, tag
from mirvel.drawing.symbols import Symbols, define
from mirvel.drawing.view import MM_PER_CM, View, get_eye

OPENINGS = {"tight": 0.0, "half open": 0.5, "open": 1.0}
FACINGS = {"front": Vec(0.0, -1.0, 0.0), "side": Vec(0.25, 0.0, 0.968), "behind": Vec(0.0, 0.93, 0.37)}
_AXES = {"front": Vec(0.12, 0.0, 0.993), "side": Vec(0.75, 0.0, 0.66), "behind": Vec(0.15, -0.92, 0.36)}


def draw_studies(material: Material, colour: str) -> Markup:
    """A head's nine studies as one drawing: a row of tight, half open and open from each side."""
    size = get_box_cm(material) * MM_PER_CM
    symbols, drawn = Symbols(), ""
    for row, facing in enumerate(FACINGS):
        for column, opening in enumerate(OPENINGS):
            study = draw_study(material, colour, opening, facing, symbols)
            drawn += tag("g", study, transform=f"translate({num(column * size)} {num(row * size)})")
    title = tag("title", f"{material.name}, {colour}: {', '.join(OPENINGS)}; from {', '.join(FACINGS)}")
    box = f"0 0 {num(3 * size)} {num(3 * size)}"
    return tag(
        "svg", title + define(symbols.drawn) + drawn, xmlns="http://www.w3.org/2000/svg", viewBox=box, role="img"
    )


def get_box_cm(material: Material) -> float:
    """The side of the square one study stands in: the open head, or the leaf's length."""
    size = _get_depth(material) if material.is_axial else max(material.head_open_cm, _get_depth(material))
    return 1.12 * size


def _get_depth(material: Material) -> float:
    return get_head_at(material, PieceSize.LATERAL, 1.0).length_cm


def draw_study(material: Material, colour: str, opening: str, facing: str, symbols: Symbols) -> Markup:
    """One head at one opening from one side, about the middle of its box."""
    head = get_head_at(material, PieceSize.LATERAL, OPENINGS[opening])
    entry = Entry(
        id="e1",
        material=material.slug,
        colour=colour,
        role=material.default_role,
        pieces=1,
        piece=PieceSize.LATERAL,
    )
    axis = (_AXES if material.is_axial else FACINGS)[facing]
    lift = 2 * head.length_cm  # clear of any rim, below which a leaf would be stripped
    tip = axis.scaled(head.length_cm * 0.5).plus(Vec(0.0, 0.0, lift))
    place = Place(entry, material, 1, head, tip, axis, tip.plus(axis, -head.length_cm - 0.5), 0.0, 20.0)
    middle = get_box_cm(material) * MM_PER_CM / 2
    eye = get_eye(View.FRONT).placed(middle, middle + lift * MM_PER_CM)
    return draw_piece(place, Brush(eye, symbols, near=0.0, far=-1000.0), titled=False)
