"""One good on its own, small, in its real size class: a head or leaf beside a ruler tick, or a container's outline.

Four classes keep things of a size at one scale, so that a button and a hydrangea are seen to differ: within a
class sizes compare by eye, and the tick under each drawing is always 5 cm.
"""

from functools import lru_cache

from markupsafe import Markup

from mirvel.core.goods.container import Container, ContainerKind, MouthShape
from mirvel.core.goods.facts import HeadForm
from mirvel.core.goods.material import Material
from mirvel.core.vessels.beds import get_frame_outline
from mirvel.drawing.heads.art import get_art
from mirvel.drawing.outline import get_half_at, get_profile
from mirvel.drawing.palette import FAINT_INK, GLASS, GLAZE, INK, Tones
from mirvel.drawing.svg import closed, path, tag

BOX = 100.0
TICK_CM = 5.0
_CLASSES_CM = (5.0, 11.0, 19.0, 32.0, 60.0, 130.0)  # the largest size each class holds
_FOOT = 12.0  # room below for the tick
_FOAM = "#8aa07b"
_FOAMED = {
    ContainerKind.POSY_PAD,
    ContainerKind.SPRAY_CAGE,
    ContainerKind.LID_SADDLE,
    ContainerKind.HEADSTONE_SADDLE,
}
_FRAMES = {MouthShape.RING, MouthShape.CROSS, MouthShape.HEART}


def get_scale(size_cm: float) -> float:
    """Box units to the centimetre for a thing of a size: that of its class."""
    largest = next((most for most in _CLASSES_CM if size_cm <= most), size_cm)
    return (BOX - _FOOT - 4) / largest


@lru_cache(maxsize=2048)
def _get_drawn(form: HeadForm, habit: str, colour: str, width_cm: float, length_cm: float, *, axial: bool) -> Markup:
    art, tones = get_art(form), Tones(colour)
    size = max(width_cm, length_cm) if axial else width_cm
    scale = get_scale(size)
    middle, foot = BOX / 2, BOX - _FOOT
    if axial and art.axis:
        ratio = max(0.05, min(1.0, width_cm / length_cm))
        unit = scale * length_cm / 100
        bend = 1.0 if form in {HeadForm.FROND, HeadForm.DRAPE, HeadForm.BLADE} else 0.5
        drawn = art.axis(tones, habit, ratio, bend, 0.8)
        place = f"matrix({unit:.4f} 0 0 {unit:.4f} {middle:.1f} {foot:.1f})"
    else:
        unit = scale * width_cm / 100
        drawn = art.face(tones, habit, 0.8) if art.face else Markup()
        place = f"matrix({unit:.4f} 0 0 {unit:.4f} {middle:.1f} {(foot - 2) / 2:.1f})"
    return tag("g", drawn, transform=place) + _draw_tick(scale)


def _draw_tick(scale: float) -> Markup:
    half, y = TICK_CM * scale / 2, BOX - 5
    data = path("M", 50 - half, y - 2, "v", 4.0, "M", 50 - half, y, "h", 2 * half, "M", 50 + half, y - 2, "v", 4.0)
    return tag("path", d=data, fill="none", stroke=FAINT_INK, stroke_width=1.0)


def draw_material(material: Material, colour: str = "") -> Markup:
    """A material's usual piece in a colour (its first where none is named), as an SVG of a square box."""
    fill = material.colours.get(colour) or next(iter(material.colours.values()))
    drawn = _get_drawn(
        material.form, material.habit, fill, material.head_open_cm, material.head_length_cm, axial=material.is_axial
    )
    return _wrap(drawn, f"{material.name}; the tick is 5 cm")


def draw_container(container: Container) -> Markup:
    """A container's outline from the front, or a frame's from above."""
    size = max(container.mouth_cm, container.height_cm, container.base_cm)
    scale = get_scale(size)
    frame = container.shape in _FRAMES
    drawn = _draw_frame(container, scale) if frame else _draw_vessel(container, scale)
    return _wrap(drawn + _draw_tick(scale), f"{container.name}; the tick is 5 cm")


def _wrap(drawn: str, title: str) -> Markup:
    return tag(
        "svg",
        tag("title", title) + drawn,
        xmlns="http://www.w3.org/2000/svg",
        viewBox=f"0 0 {BOX:.0f} {BOX:.0f}",
        role="img",
    )


def _draw_vessel(container: Container, scale: float) -> Markup:
    """All vessels of a container side by side in outline, water line and handle where there are any."""
    foot = BOX - _FOOT
    look: dict[str, str | float | None] = {"stroke": INK, "stroke_width": 1.2, "stroke_linejoin": "round"}
    rim = foot - container.rim_height_cm * scale
    fill = _FOAM if container.kind in _FOAMED else GLASS if container.clear else GLAZE
    profile, drawn = get_profile(container), Markup()
    if container.kind is ContainerKind.BASKET:
        half, peak = profile[0][0] * scale, foot - container.height_cm * scale
        arch = path("M", 50 - half, rim, "C", 50 - half, peak - 2, 50 + half, peak - 2, 50 + half, rim)
        drawn += tag("path", d=arch, fill="none", stroke="#8a6a43", stroke_width=2.4)
    for middle in container.vessel_offsets:
        x = 50 + middle * scale
        left = [(x - half * scale, rim - z * scale) for half, z in profile]
        right = [(x + half * scale, rim - z * scale) for half, z in reversed(profile)]
        drawn += tag("path", d=closed([*left, *right]), fill=fill, **look)
        if container.clear and container.water_ml:
            z = 0.35 * -container.rim_height_cm
            half = 0.94 * get_half_at(profile, z) * scale
            line = path("M", x - half, rim - z * scale, "h", 2 * half)
            drawn += tag("path", d=line, stroke=FAINT_INK, stroke_width=0.8)
    return drawn


def _draw_frame(container: Container, scale: float) -> Markup:
    """The outline its bed of foam has, from above."""
    x, y = BOX / 2, (BOX - _FOOT) / 2
    data = ""
    for loop in get_frame_outline(container).loops:
        data += closed([(x + across * scale, y - up * scale) for across, up in loop.tolist()])
    return tag("path", d=data, fill=_FOAM, fill_rule="evenodd", stroke=INK, stroke_width=1.2)
