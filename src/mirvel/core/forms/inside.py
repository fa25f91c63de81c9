"""Places inside a glass, for grass swirled round its wall and leaves that line it."""

import math

from mirvel.core.forms.parts import Part
from mirvel.core.forms.surface import Frame, Site
from mirvel.core.space.vectors import Vec

_PLACES = 24


def get_inside_sites(frame: Frame) -> tuple[Site, ...]:
    """Places against the wall just under the rim, opposite ones in turn."""
    sites = []
    for number in range(_PLACES):
        turn = number * 2 * math.pi * 0.6180339887 + math.pi
        x, y = 0.94 * frame.mouth_half_cm * math.sin(turn), 0.94 * frame.mouth_half_depth_cm * math.cos(turn)
        sites.append(Site(Vec(x, y, -1.0), Vec(x, y, 0.0).unit, -1.0 / frame.above_rim_cm, zone=Part.INSIDE))
    return tuple(sites)
