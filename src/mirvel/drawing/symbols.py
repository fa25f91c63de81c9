"""One head, one symbol: each distinct drawing is defined once and placed by reference."""

from collections.abc import Mapping
from hashlib import blake2b

from markupsafe import Markup

from mirvel.drawing.svg import join, num, tag


class Symbols:
    """Collects the definitions a sheet uses, in the order first used. A symbol is named by what is drawn, so that
    several drawings on a page, and one after another, can refer to the same one."""

    def __init__(self) -> None:
        self._ids: dict[tuple[object, ...], str] = {}
        self._drawn: dict[str, Markup] = {}

    def find(self, key: tuple[object, ...]) -> str | None:
        """The id of a symbol already defined."""
        return self._ids.get(key)

    def define(self, key: tuple[object, ...], drawing: Markup) -> str:
        """Keep a drawing under a key; returns its id."""
        self._ids[key] = f"h{blake2b(drawing.encode(), digest_size=6).hexdigest()}"
        self._drawn[self._ids[key]] = drawing
        return self._ids[key]

    @property
    def drawn(self) -> Mapping[str, Markup]:
        """Every symbol by its id."""
        return {name: tag("g", drawing, id=name) for name, drawing in self._drawn.items()}


def define(symbols: Mapping[str, Markup]) -> Markup:
    """Symbols as definitions."""
    return tag("defs", join(symbols.values()))


def use(symbol: str, matrix: tuple[float, float, float, float, float, float]) -> Markup:
    """A symbol placed by an affine matrix (a b c d in thousandths, e f in mm)."""
    turn = ",".join(f"{value:.3f}".rstrip("0").rstrip(".") or "0" for value in matrix[:4])
    return tag("use", href=f"#{symbol}", transform=f"matrix({turn},{num(matrix[4])},{num(matrix[5])})")
