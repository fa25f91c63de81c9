"""One head on its own as the sheet would draw it: tight, half open or open, from the front, the side and behind."""

from mirvel.core.geometry import Vec
from mirvel.core.goods import Material, PieceSize
from mirvel.core.heads import get_head_at
from mirvel.core.places import Place
from mirvel.core.recipe import Entry
from mirvel.drawing.pieces import Brush, draw_piece
from mirvel.drawing.svg import num, tag
from mirvel.drawing.symbols import Symbols
from mirvel.drawing.view import MM_PER_CM, View, get_eye

OPENINGS = {"tight": 0.0, "half open": 0.5, "open": 1.0}
FACINGS = {"front": Vec(0.0, -1.0, 0.0), "side": Vec(0.25, 0.0, 0.968), "behind": Vec(0.0, 0.93, 0.37)}
_AXES = {"front": Vec(0.12, 0.0, 0.993), "side": Vec(0.75, 0.0, 0.66), "behind": Vec(0.15, -0.92, 0.36)}


def draw_study(material: Material, colour: str, opening: str, facing: str, prefix: str) -> str:
    """One head at one opening from one side, in a square as wide as the open head (or as long as the leaf)."""
    head = get_head_at(material, PieceSize.LATERAL, OPENINGS[opening])
    entry = Entry(
        id="e1", material=material.slug, colour=colour, role=material.default_role, pieces=1, piece=PieceSize.LATERAL
    )
    axis = (_AXES if material.is_axial else FACINGS)[facing]
    tip = axis.scaled(head.length_cm * 0.5)
    place = Place(entry, material, 1, head, tip, axis, tip.plus(axis, -head.length_cm - 0.5), 0.0, 20.0)
    size = (head.length_cm if material.is_axial else max(material.head_open_cm, head.length_cm)) * 1.12 * MM_PER_CM
    eye = get_eye(View.FRONT).placed(size / 2, size / 2)
    symbols = Symbols(prefix)
    drawn = draw_piece(place, Brush(eye, symbols, near=0.0, far=-1000.0), titled=False)
    title = tag("title", f"{material.name}, {opening}, from the {facing}")
    box = f"0 0 {num(size)} {num(size)}"
    return tag("svg", title + symbols.defs + drawn, xmlns="http://www.w3.org/2000/svg", viewBox=box, role="img")
