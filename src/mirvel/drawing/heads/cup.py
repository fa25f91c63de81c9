"""Cups: tulips (goblet), anemones (open), and scaled cups of stiff bracts (scaled)."""

from markupsafe import Markup

from mirvel.drawing.heads.petals import blob, disc, petal, ring, strokes
from mirvel.drawing.palette import CALYX, Tones, mix
from mirvel.drawing.svg import curve, join, path, polar

_HEARTS = {"goblet": "#c9b84a", "open": "#2f2a33", "scaled": "#e8dcc2"}


def front(tones: Tones, habit: str, openness: float) -> Markup:
    """Looking into the cup: two rings of petals and the heart."""
    count, rows = (12, 3) if habit == "scaled" else (6, 2) if habit == "goblet" else (8, 2)
    drawn = []
    for row in range(rows):
        reach = 49.5 - row * (9 if habit == "scaled" else 5)
        for number in range(count):
            at = 360 * (number + 0.5 * (row % 2)) / count
            fill = (tones.deep, tones.base, tones.light)[row % 3]
            drawn.append(blob(petal(8, reach, at, 205 / count, point=1.06), fill, tones.line))
    heart = _HEARTS.get(habit, _HEARTS["goblet"])
    drawn.append(disc(0, 0, 15 if habit != "goblet" else 9, mix(heart, tones.deeper, 0.2), tones.line))
    dots = join(disc(*polar(19, 20 * n), 1.7, heart) for n in range(18)) if habit == "open" else ""
    anthers = strokes("".join(path("M", 0, 0, "L", *polar(15, 60 * n + 10)) for n in range(6)), "#4b3a2a", 2.2)
    return join(drawn) + dots + (anthers if habit == "goblet" else "")


def side(tones: Tones, habit: str, depth: float) -> Markup:
    """The cup from the side: overlapping petals that close towards the rim."""
    foot = depth * 0.98
    if habit == "scaled":
        return _scaled_side(tones, foot)
    wing = "M {s}0 {foot} C {s}46 {low} {s}58 {mid} {s}44 -6 C {s}34 {mid} {s}16 {low} 0 {foot} Z"
    wings = join(
        blob(curve(wing.format(s=sign, foot=foot, low=foot * 0.85, mid=foot * 0.3)), fill, tones.line)
        for sign, fill in (("-", tones.deep), ("", tones.deep))
    )
    front_petal = curve(
        f"M 0 {foot} C -36 {foot * 0.85} -36 {foot * 0.3} 0 -9 C 36 {foot * 0.3} 36 {foot * 0.85} 0 {foot} Z"
    )
    rib = strokes(path("M", 0, foot * 0.92, "L", 0, foot * 0.15), tones.deeper, 0.8)
    return wings + blob(front_petal, tones.base, tones.line) + rib


def _scaled_side(tones: Tones, foot: float) -> Markup:
    drawn = []
    for row in range(4):
        y, reach = foot * (0.02 + 0.2 * row), 48 - 8 * row
        for number in range(7 - row):
            x = -reach + 2 * reach * number / max(1, 6 - row)
            data = curve(f"M {x * 0.55} {foot} Q {x - 9} {y + 14} {x} {y - 6} Q {x + 9} {y + 14} {x * 0.55} {foot} Z")
            drawn.append(blob(data, (tones.light, tones.base, tones.deep, tones.deeper)[row], tones.line, 0.8))
    return join(drawn)


def back(tones: Tones, habit: str) -> Markup:
    """From behind: the outer petals round the stem."""
    count = 12 if habit == "scaled" else 6
    dark = mix(CALYX, "#000000", 0.4)
    return blob(ring(count, 4, 49, 200 / count, 15, point=1.05), tones.deep, tones.line) + disc(0, 0, 6, CALYX, dark)
