"""Daisies: rays round an eye, yellow for daisy chrysanthemums, dark for gerberas."""

from mirvel.drawing.heads.petals import blob, disc, petal
from mirvel.drawing.palette import CALYX, Tones, mix
from mirvel.drawing.svg import curve, path, polar, tag

EYES = {"yellow-eye": ("#dcae2f", "#9a7a1c", 15.0), "dark-eye": ("#4a3626", "#2a1d14", 13.0)}


def front(tones: Tones, habit: str, openness: float) -> str:
    """The face: two rings of rays, the back one showing between, and the eye."""
    count = 17 if habit == "yellow-eye" else 22
    half = 150 / count
    behind = "".join(petal(12, 48, 360 * (n + 0.5) / count, half, point=0.99, squeeze=0.9) for n in range(count))
    rays = "".join(
        petal(11, 49.5 - 1.6 * (n % 3), 360 * n / count, half * 0.92, point=1.0, squeeze=0.85) for n in range(count)
    )
    creases = "".join(path("M", *polar(20, 360 * n / count), "L", *polar(40, 360 * n / count)) for n in range(count))
    fill, line, size = EYES.get(habit, EYES["yellow-eye"])
    drawn = blob(behind, tones.deep, tones.line, 0.7) + blob(rays, tones.base, tones.line, 0.8)
    drawn += tag("path", d=creases, fill="none", stroke=tones.deep, stroke_width=0.7)
    if habit == "dark-eye":
        drawn += blob("".join(petal(9, 23, 360 * n / 24 + 4, 7) for n in range(24)), tones.light, tones.line, 0.5)
    dots = "".join(disc(*polar(size * 0.88 * (n / 16) ** 0.5, n * 137.5), 1.3, line) for n in range(1, 16))
    return drawn + disc(0, 0, size, fill, line) + dots


def side(tones: Tones, habit: str, depth: float) -> str:
    """From the side: a shallow dish of rays on a green cup."""
    rays = "".join(
        curve(
            f"M {x * 0.12} {depth * 0.75} Q {x * 0.55} {depth * 0.5 + 4} {x} {abs(x) * 0.05 - 2} "
            f"Q {x * 0.8 - 5} -4 {x * 0.5} {depth * 0.3} Z"
        )
        for x in (-50.0, -38.0, -24.0, -8.0, 9.0, 25.0, 39.0, 50.0)
    )
    cup = path("M", -11, depth * 0.55, "Q", -9, depth, 0, depth, "Q", 9, depth, 11, depth * 0.55, "Z")
    return blob(rays, tones.deep, tones.line, 0.8) + blob(cup, CALYX, mix(CALYX, "#000000", 0.4), 0.8)


def back(tones: Tones, habit: str) -> str:
    """From behind: the rays' undersides and the green cup."""
    count = 17 if habit == "yellow-eye" else 22
    rays = "".join(petal(8, 49, 360 * n / count, 150 / count, squeeze=0.9) for n in range(count))
    bracts = "".join(petal(3, 13, 30 * n, 13, point=1.15) for n in range(12))
    dark = mix(CALYX, "#000000", 0.4)
    return blob(rays, tones.deep, tones.line, 0.8) + blob(bracts, CALYX, dark, 0.6) + disc(0, 0, 5, CALYX, dark)
