"""A QR code, as a phone reads it: dark modules on white, with the quiet zone about them that readers need."""

import segno
from markupsafe import Markup

from mirvel.drawing.svg import tag

_QUIET = 4  # modules about it that stay white; ISO/IEC 18004


def draw_qr(text: str, title: str, side_mm: float) -> Markup:
    """A text as a code so wide, the quiet zone among it; a seventh of it may be soiled (level M)."""
    code = segno.make(text, error="m", micro=False)
    rows = [bytes(row) for row in code.matrix_iter(border=_QUIET)]
    runs = []
    for y, row in enumerate(rows):
        x = 0
        while (start := row.find(1, x)) >= 0:
            end = row.find(0, start)
            runs.append(f"M{start} {y}h{end - start}v1H{start}z")
            x = end
    name = tag("title", title)
    ground = tag("rect", width=len(rows), height=len(rows), fill="#fff")
    modules = tag("path", d="".join(runs), fill="#000")
    size = f"{side_mm:g}mm"
    box = f"0 0 {len(rows)} {len(rows)}"
    return tag("svg", name + ground + modules, viewBox=box, width=size, height=size, role="img", class_="qr")
