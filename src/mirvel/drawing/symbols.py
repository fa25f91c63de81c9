"""One head, one symbol: each distinct drawing is defined once and placed by reference."""

from markupsafe import Markup

from mirvel.drawing.svg import join, num, tag


class Symbols:
    """Collects the definitions a sheet uses, in the order first used.

    ``prefix`` keeps the ids of several drawings on one page apart.
    """

    def __init__(self, prefix: str = "") -> None:
        self.prefix = prefix
        self._ids: dict[tuple[object, ...], str] = {}
        self._drawn: list[Markup] = []

    def find(self, key: tuple[object, ...]) -> str | None:
        """The id of a symbol already defined."""
        return self._ids.get(key)

    def define(self, key: tuple[object, ...], drawing: Markup) -> str:
        """Keep a drawing under a key; returns its id."""
        self._ids[key] = f"{self.prefix}h{len(self._ids)}"
        self._drawn.append(tag("g", drawing, id=self._ids[key]))
        return self._ids[key]

    @property
    def defs(self) -> Markup:
        return tag("defs", join(self._drawn))


def use(symbol: str, matrix: tuple[float, float, float, float, float, float]) -> Markup:
    """A symbol placed by an affine matrix (a b c d in thousandths, e f in mm)."""
    turn = ",".join(f"{value:.3f}".rstrip("0").rstrip(".") or "0" for value in matrix[:4])
    return tag("use", href=f"#{symbol}", transform=f"matrix({turn},{num(matrix[4])},{num(matrix[5])})")
