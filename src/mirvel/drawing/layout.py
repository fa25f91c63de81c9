"""Where the front, a side or a section lies on its paper, with room for its measures."""

from dataclasses import dataclass

from mirvel.core.goods.container import ContainerKind
from mirvel.core.making.build import Build
from mirvel.core.placing.places import get_extent
from mirvel.core.space.vectors import Vec
from mirvel.drawing.frames import get_shown_below_cm, get_stand
from mirvel.drawing.measures import get_ruler_over_mm
from mirvel.drawing.view import FRONT_HOUR, MM_PER_CM, SIDE_HOUR, Eye, View, get_eye


def get_sides(build: Build, eye: Eye) -> tuple[float, float]:
    """How far the piece reaches left and right in a view, its container included, cm."""
    container = build.container
    found = get_extent(build.places, container.halves_cm, eye.pose)
    if container.kind is ContainerKind.HORN:
        tail = Vec(0.0, 0.0, -0.85 * container.base_cm).dot(eye.right)
        return min(found.left, tail), max(found.right, tail)
    return found.left, found.right


def _get_leaves_above(build: Build, eye: Eye) -> float:
    """How far the blades of leaves rise above the highest tip, cm: a lying branch is as wide as its leaves."""
    top = build.overall_height_cm - build.table_cm
    highest = top
    for place in build.places:
        if place.material.is_leaf and not place.is_inside:
            lying = 1 - abs(place.axis.dot(eye.up))
            highest = max(highest, place.tip.dot(eye.up) + 0.4 * place.head.width_cm * lying)
    return highest - top


@dataclass(frozen=True)
class Layout:
    """Where an elevation lies on its paper, mm: the piece's sides, the same with its stand, the table, the top of it
    all, and between which heights it rises over its rim, ``rise_cm`` in all; ``hidden_cm`` of a stand are not drawn."""

    eye: Eye
    size: float
    left: float
    right: float
    clear_left: float
    clear_right: float
    table: float
    top: float
    high: float
    rim: float
    below_cm: float
    hidden_cm: float
    wide_cm: float
    rise_cm: float

    @property
    def width(self) -> float:
        return self.clear_right + self.size * 4.6

    @property
    def height(self) -> float:
        return self.table + self.size * (4.2 if self.hidden_cm else 2.6)


def lay_out(build: Build, view: View, hour: float, size: float, *, broken: bool) -> Layout:
    """An elevation seen from a clock hour, its text so large (mm), a tall stand broken off or not."""
    form = build.sizing.form
    # What hangs is cut through from top to foot, what lies along its middle, whichever side was looked at.
    if view is View.SECTION:
        hour = SIDE_HOUR if form.hangs else FRONT_HOUR if form.lies else hour
    eye = get_eye(view, hour, form.pose)
    reach = get_sides(build, eye)
    below = get_shown_below_cm(build, broken=broken)
    hidden = build.table_cm - below
    stand = [point.dot(eye.right) * (1 - hidden / build.stand_cm) for point in get_stand(build)]
    clear = min([reach[0], *stand]), max([reach[1], *stand])
    headroom = size * 2.2 + _get_leaves_above(build, eye) * MM_PER_CM
    top = max(headroom, get_ruler_over_mm(build.overall_height_cm, build.rules.unit, size))
    table = top + (build.overall_height_cm - hidden) * MM_PER_CM
    eye = eye.placed(size * 4.4 - clear[0] * MM_PER_CM, table - below * MM_PER_CM)
    foot_cm = 0.0 if build.table_cm == build.container.rim_height_cm else -below
    rise = build.overall_height_cm - build.table_cm, foot_cm
    if form.hangs:  # the piece itself, on its stand
        rise = build.extent.top, build.extent.bottom
    high, rim = (eye.origin_y - level * MM_PER_CM for level in rise)
    left, right, clear_left, clear_right = (eye.origin_x + side * MM_PER_CM for side in (*reach, *clear))
    measures = below, hidden, reach[1] - reach[0], rise[0] - rise[1]
    return Layout(eye, size, left, right, clear_left, clear_right, table, top, high, rim, *measures)
