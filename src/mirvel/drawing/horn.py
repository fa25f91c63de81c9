"""The horn of plenty lying on its side, its mouth at the piece's origin, its tail curling up behind."""

from markupsafe import Markup

from mirvel.core.goods.container import Container
from mirvel.core.space.vectors import Vec
from mirvel.drawing.palette import INK, mix
from mirvel.drawing.svg import closed, path, tag
from mirvel.drawing.view import MM_PER_CM, Eye

_WICKER = "#c49a63"
_RINGS = 15
_TAPER, _CURL = 0.85, 1.5


def draw_horn(container: Container, eye: Eye) -> Markup:
    """The horn from any side: rings along its curled middle line, the mouth's dark oval in front."""
    wide, high = container.rim_halves_cm
    reach = 0.82 * container.base_cm
    lefts, rights, weave = [], [], ""
    for number in range(_RINGS + 1):
        share = number / _RINGS
        size = (1 - share) ** _TAPER * 0.97 + 0.03
        middle = Vec(0.0, -high * (1 - size) + _CURL * high * share**2.6, -reach * share)
        x, y = eye.flatten(middle)
        ahead = eye.flatten(Vec(middle.x, middle.y + 0.4 * high * share**1.6, middle.z - 1.0))
        dx, dy = ahead[0] - x, ahead[1] - y
        length = max((dx * dx + dy * dy) ** 0.5, 1e-6)
        half = (high if eye.up.y > 0.5 else wide) * size * MM_PER_CM
        nx, ny = -dy / length * half, dx / length * half
        lefts.append((x + nx, y + ny))
        rights.append((x - nx, y - ny))
        if 0 < number < _RINGS:
            bow = 0.25 * half / length
            weave += path("M", x + nx, y + ny, "Q", x + dx * bow, y + dy * bow, x - nx, y - ny)
    body = closed([*lefts, *reversed(rights)])
    x, y = eye.flatten(Vec(0.0, 0.0, 0.0))
    open_wide = max(abs(eye.right.x) * wide, 0.8) * MM_PER_CM
    open_high = (abs(eye.up.y) * high + abs(eye.up.z) * 0.8) * MM_PER_CM
    mouth = tag("ellipse", cx=x, cy=y, rx=open_wide, ry=open_high, fill=mix(_WICKER, INK, 0.6), stroke=INK)
    return tag(
        "g",
        tag("title", f"{container.name}, lying on its side")
        + tag("path", d=body, fill=_WICKER, stroke=INK, stroke_width=1.3, stroke_linejoin="round")
        + tag("path", d=weave, fill="none", stroke=mix(_WICKER, INK, 0.35), stroke_width=1.2)
        + (mouth if eye.towards.z > 0 or eye.up.y < 0.5 else ""),
    )
