"""Pieces drawn to stand beside others on a page, all to one scale."""

from markupsafe import Markup

from mirvel.core.working import Worked
from mirvel.drawing.sheet import draw_standing

_PX_PER_MM = 0.62


def draw_beside(worked: Worked, px_per_mm: float = _PX_PER_MM) -> Markup:
    """One piece on its foot."""
    drawing = draw_standing(worked.build)
    size = {"width": f"{drawing.width_mm * px_per_mm:.0f}", "height": f"{drawing.height_mm * px_per_mm:.0f}"}
    return drawing.to_svg(**size)
