"""A lettered ribbon at true scale: its text as long as it is measured, the ends that stay free, what is over."""

from markupsafe import Markup

from mirvel.core.making.ribbon import CAPITAL_SHARE, END_CM, RibbonFit
from mirvel.drawing.palette import FAINT_INK, INK, mix
from mirvel.drawing.svg import closed, path, tag, text
from mirvel.drawing.view import MM_PER_CM

_SATIN, _ALARM = "#e9e2f0", "#a82f1c"
_FACE = "Newsreader, DejaVu Serif, serif"
_MARGIN_MM, _NOTCH = 6.0, 0.5


def draw_ribbon(fit: RibbonFit, width_cm: float) -> Markup:
    """One line on its ribbon as an SVG element, one user unit to the millimetre."""
    long, wide = (fit.room_cm + 2 * END_CM) * MM_PER_CM, width_cm * MM_PER_CM
    left, top = _MARGIN_MM, _MARGIN_MM
    notch = _NOTCH * wide
    edge = [
        (left, top),
        (left + long, top),
        (left + long - notch, top + wide / 2),
        (left + long, top + wide),
        (left, top + wide),
        (left + notch, top + wide / 2),
    ]
    capital, length = fit.capital_cm * MM_PER_CM, fit.length_cm * MM_PER_CM
    colour = INK if fit.fits else _ALARM
    start = left + long / 2 - length / 2
    line = text(
        fit.text,
        start,
        top + wide / 2 + capital / 2,
        capital / CAPITAL_SHARE,
        font_family=_FACE,
        fill=colour,
        textLength=length,
        lengthAdjust="spacing",
    )
    ends = "".join(
        path("M", x, top - 3, "L", x, top + wide + 3)
        for x in (left + END_CM * MM_PER_CM, left + long - END_CM * MM_PER_CM)
    )
    reach = max(left + long, start + length) + _MARGIN_MM
    body = (
        tag("path", d=closed(edge), fill=_SATIN, stroke=mix(_SATIN, INK, 0.4), stroke_width=0.8)
        + tag("path", d=ends, stroke=FAINT_INK, stroke_width=0.6, stroke_dasharray="3 3")
        + line
    )
    first = min(0.0, start - _MARGIN_MM)
    box = f"{first:.1f} 0 {reach - first:.1f} {wide + 2 * _MARGIN_MM:.1f}"
    return tag(
        "svg",
        tag("title", f"Ribbon: {fit.text}") + body,
        xmlns="http://www.w3.org/2000/svg",
        viewBox=box,
        role="img",
    )
