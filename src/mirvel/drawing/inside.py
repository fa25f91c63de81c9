"""What lies in the glass against its wall: grass swirled round it, broad leaves that line it."""

import math

from markupsafe import Markup

from mirvel.core.goods.facts import HeadForm
from mirvel.core.making.build import Build
from mirvel.core.placing.places import Place
from mirvel.core.space.vectors import Vec
from mirvel.core.vessels.hollows import get_inside
from mirvel.drawing.palette import get_tones
from mirvel.drawing.pieces import Brush, get_title
from mirvel.drawing.svg import closed, join, path, tag

_TURNS = 0.9  # how far round the glass a blade swirls
_POINTS = 20


def draw_inside(build: Build, brush: Brush, vessel: int, *, near: bool) -> Markup:
    """All pieces of one vessel that lie within the glass, the far ones first."""
    places = [place for place in build.places if place.is_inside and place.vessel == vessel]
    ordered = sorted(places, key=lambda place: brush.eye.get_nearness(place.tip))
    return join(
        tag(
            "g",
            tag("title", get_title(place, brush)) + draw(build, place, brush),
            data_entry=place.entry.id,
            data_piece=str(place.number),
        )
        for place in ordered
        for draw in [_draw_swirl if place.material.form is HeadForm.BLADE else _draw_lining]
    )


def _draw_swirl(build: Build, place: Place, brush: Brush) -> Markup:
    """A blade wound round the wall from the floor upwards."""
    inside = get_inside(build.container, place.vessel)
    start, low = (
        math.atan2(place.tip.x - inside.middle_x, place.tip.y),
        inside.bottom_z * (0.25 + 0.06 * place.number % 0.6),
    )
    points = []
    for number in range(_POINTS + 1):
        share = number / _POINTS
        z = inside.bottom_z + (low - inside.bottom_z) * share
        turn = start + _TURNS * 2 * math.pi * share
        radius = 0.96 * inside.get_half_width(z)
        points.append(brush.eye.flatten(Vec(inside.middle_x + radius * math.sin(turn), radius * math.cos(turn), z)))
    tones = get_tones(place.material.colours[place.entry.colour], place.number % 2)
    data = path("M", *points[0], *(part for point in points[1:] for part in ("L", *point)))
    look: dict[str, str | float | None] = {"fill": "none", "stroke_linejoin": "round"}
    return tag("path", d=data, stroke=tones.line, stroke_width=3.2, **look) + tag(
        "path", d=data, stroke=tones.base, stroke_width=2.2, **look
    )


def _draw_lining(build: Build, place: Place, brush: Brush) -> Markup:
    """A broad leaf flat against the wall, as wide as it looks from the eye."""
    inside = get_inside(build.container, place.vessel)
    turn = math.atan2(place.tip.x - inside.middle_x, place.tip.y)
    half_turn = min(1.1, place.head.width_cm / 2 / max(inside.top_half_cm, 1.0))
    edges: list[list[tuple[float, float]]] = []
    for side in (-1.0, 0.0, 1.0):
        run = []
        for number in range(9):
            share = number / 8
            z = inside.bottom_z + (place.tip.z - inside.bottom_z) * share
            radius = 0.97 * inside.get_half_width(z)
            at = turn + side * half_turn * math.sin(math.pi * (0.12 + 0.86 * share)) ** 0.6
            run.append(brush.eye.flatten(Vec(inside.middle_x + radius * math.sin(at), radius * math.cos(at), z)))
        edges.append(run)
    tones = get_tones(place.material.colours[place.entry.colour], 0 if brush.eye.get_nearness(place.tip) > 0 else 2)
    veins = [path("M", *edges[1][0], *(part for point in edges[1][1:] for part in ("L", *point)))]
    veins += [path("M", *edges[1][n], "L", *edges[side][n + 1]) for n in range(1, 7, 2) for side in (0, 2)]
    return tag(
        "path", d=closed([*edges[0], *reversed(edges[2])]), fill=tones.base, stroke=tones.line, stroke_width=0.9
    ) + tag("path", d="".join(veins), fill="none", stroke=tones.deeper, stroke_width=0.7)
