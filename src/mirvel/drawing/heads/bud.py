"""Heads still tight: a furled bud from in front, the side and behind, its sepals not yet let go.

Roses, cups, lilies and the like are drawn so below a quarter open; what only grows as it opens is not.
"""

from markupsafe import Markup

from mirvel.core.goods.facts import HeadForm
from mirvel.drawing.heads.petals import blob, disc, petal, strokes
from mirvel.drawing.palette import CALYX, Tones, mix
from mirvel.drawing.svg import curve, join, path, polar

TIGHT_BELOW = 0.25
_FURLED = {
    HeadForm.ROSETTE: frozenset({"spiral", "cupped", ""}),
    HeadForm.CUP: frozenset({"goblet", "open"}),
    HeadForm.TRUMPET: frozenset({"star", "funnel", "falls", "crowned"}),
    HeadForm.ORCHID: frozenset({"", "moth"}),
}
_LONG = frozenset({"star", "falls", "funnel"})
_NO_SEPALS = _LONG | {"goblet", "crowned"}  # tulips, lilies and their kin have petals and no more


def is_furled(form: HeadForm, habit: str, openness: float) -> bool:
    """Whether a head of this form is still a bud."""
    return openness < TIGHT_BELOW and habit in _FURLED.get(form, frozenset())


def front(tones: Tones, habit: str, openness: float) -> Markup:
    """Looking on the tip of a bud: petals wrapped round one another."""
    sepals = 0 if habit in _NO_SEPALS else 5
    drawn = [blob(petal(4, 46, 72 * n, 12, point=1.1), CALYX, mix(CALYX, "#000000", 0.4), 0.6) for n in range(sepals)]
    for level, (count, reach, half) in enumerate(((3, 40.0, 62), (3, 31.0, 64), (2, 21.0, 82))):
        for number in range(count):
            fill = (tones.base, tones.deep, tones.base)[level]
            drawn.append(blob(petal(0, reach, 360 * number / count + 47 * level, half), fill, tones.line))
    heart = [polar(10 - 0.008 * turn, turn) for turn in range(0, 900, 75)]
    curl = path("M", *heart[0], *(part for point in heart[1:] for part in ("L", *point)))
    return join(drawn) + disc(0, 0, 10, tones.deeper, tones.line) + strokes(curl, tones.line, 1.0)


def side(tones: Tones, habit: str, depth: float) -> Markup:
    """A bud from the side: a pointed egg, one petal folded over the other, sepals at its foot."""
    foot, tip = depth * 0.98, -depth * 0.06
    long = habit in _LONG
    wide = 24 if long else 38
    egg = curve(
        f"M 0 {foot} C {-wide * 1.25} {foot * 0.86} {-wide * 1.15} {foot * 0.28} 0 {tip} "
        f"C {wide * 1.15} {foot * 0.28} {wide * 1.25} {foot * 0.86} 0 {foot} Z"
    )
    fold = curve(
        f"M 0 {foot} C {wide * 0.5} {foot * 0.8} {wide * 0.95} {foot * 0.4} {wide * 0.16} {tip + 3} "
        f"C {-wide * 0.6} {foot * 0.3} {-wide * 0.9} {foot * 0.7} 0 {foot} Z"
    )
    sepals = "".join(
        curve(
            f"M {x * 0.2} {foot + 2} Q {x * 1.5} {foot * 0.8} {x * 1.25} {foot * 0.5} "
            f"Q {x * 0.4} {foot * 0.7} 0 {foot} Z"
        )
        for x in (-20.0, 20.0, 4.0)
    )
    dark = mix(CALYX, "#000000", 0.4)
    green = "" if habit in _NO_SEPALS else blob(sepals, CALYX, dark, 0.6) + disc(0, foot, 6, CALYX, dark)
    tint = mix(tones.base, CALYX, 0.35) if long else tones.base
    return blob(egg, tones.deep, tones.line) + blob(fold, tint, tones.line) + green


def back(tones: Tones, habit: str) -> Markup:
    """From behind: the bud's foot, wrapped in its sepals where it has them."""
    dark = mix(CALYX, "#000000", 0.4)
    petals = join(blob(petal(0, 40, 120 * n, 62), tones.deep, tones.line) for n in range(3))
    if habit in _NO_SEPALS:
        return petals + disc(0, 0, 7, CALYX, dark)
    star = "".join(petal(2, 38, 72 * n + 20, 16, point=1.15) for n in range(5))
    return petals + blob(star, CALYX, dark, 0.7) + disc(0, 0, 7, mix(CALYX, "#000000", 0.15))


def underside() -> Markup:
    """The branchlets that carry a cluster, from behind, where they leave the stem."""
    rays = "".join(path("M", 0, 0, "Q", *polar(13, 40 * n + 12), *polar(22 + 4 * (n % 3), 40 * n)) for n in range(9))
    return strokes(rays, mix(CALYX, "#000000", 0.25), 1.8) + disc(0, 0, 5, CALYX, mix(CALYX, "#000000", 0.4))


def calyx() -> Markup:
    """The green star where a stem joins its head, from behind."""
    dark = mix(CALYX, "#000000", 0.4)
    star = "".join(petal(2, 17, 72 * n + 36, 17, point=1.2) for n in range(5))
    return blob(star, CALYX, dark, 0.7) + disc(0, 0, 6, mix(CALYX, "#000000", 0.15), dark)
