"""Where a place is on a form that hangs or lies: by the hour, by thirds, and on which face; and parts of forms that
have a name."""

from typing import NamedTuple

from mirvel.core.forms.parts import Box, Part, Parts
from mirvel.core.forms.surface import Frame
from mirvel.core.space.vectors import Vec, get_clock_hour

_TOP_SHARE = 0.45  # heads higher than this share above the foam are on top, lower ones at a side

_CORNER = 0.3  # of half a tray, from where on outwards its corners are


class Located(NamedTuple):
    """Where on a form, how far from its middle (cm) if that is told, on which face, and with what it is listed."""

    where: str
    from_middle_cm: float | None
    face: str
    group: str


def name_hour(point: Vec) -> str:
    """The clock hour of a point, to the half.

    >>> name_hour(Vec(3, 3, 0)), name_hour(Vec(0, -2, 0))
    ('1:30 o’clock', '6 o’clock')
    """
    halves = round(2 * get_clock_hour(point)) % 24 or 24
    return f"{halves // 2 or 12}{':30' if halves % 2 else ''} o’clock"


def locate_along(frame: Frame, point: Vec, faces: tuple[str, str, str]) -> Located:
    """By thirds of the length, and the face: the one in front, the middle one, the one behind."""
    along = name_side(point.x, frame.half_width_cm, ("left third", "middle third", "right third"))
    return Located(along, None, name_side(point.y, frame.half_depth_cm, faces), along)


def is_on_top(frame: Frame, point: Vec) -> bool:
    """Whether a place is on the top of a covered frame, not at its side."""
    return point.z > _TOP_SHARE * frame.above_rim_cm


def name_side(x: float, half: float, names: tuple[str, str, str] = ("left", "middle", "right")) -> str:
    """Left, middle or right (or other names) by thirds of a width."""
    return names[1] if abs(x) < half / 3 else names[0] if x < 0 else names[2]


def have_no_parts(frame: Frame) -> Parts:
    return {}


def get_thirds_along(frame: Frame) -> Parts:
    """The thirds of a long piece's width."""
    third = 1 / 3
    return {
        Part.LEFT_THIRD: Box(right=-third),
        Part.MIDDLE_THIRD: Box(-third, third),
        Part.RIGHT_THIRD: Box(left=third),
    }


def get_corners(frame: Frame) -> Parts:
    """The corners of a tray, by its own size where the piece is wider than it."""
    x, y = (
        _CORNER * tray / half
        for tray, half in (
            (frame.mouth_half_cm, frame.half_width_cm),
            (frame.mouth_half_depth_cm, frame.half_depth_cm),
        )
    )
    return {
        Part.FRONT_LEFT: Box(right=-x, back=-y),
        Part.FRONT_RIGHT: Box(left=x, back=-y),
        Part.BACK_LEFT: Box(right=-x, front=y),
        Part.BACK_RIGHT: Box(left=x, front=y),
    }
