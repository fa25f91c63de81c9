"""Checks of what a form is by its nature: a drop, two thirds to one third, an open middle, colour in blocks."""

import math
from collections.abc import Iterator

import numpy as np

from mirvel.core.forms.form import Nature
from mirvel.core.goods.facts import Role
from mirvel.core.judging.check import Checks, Family, Found, Judged, School, Severity, Source

CHECKS = Checks(Family.COMPOSITION)
_SLICES, _WIDEST = 8, 2  # of its length, each as wide as its outermost two
THIRD_FROM, THIRD_TO = 0.28, 0.42  # "0.28 to 0.38 of the whole", and a little: focals are more than one
OPEN_SHARE, UNDER_CROWN = 1 / 3, 0.85
LEAST_IN_BLOCKS = 0.9


@CHECKS.add(
    "no-drop",
    Severity.NOTE,
    measures="where along its length a drop is widest, and whether it narrows to its foot",
    limit="in the upper half; never wider again by a fifth further down",
    source=Source.PRACTICE,
)
def find_no_drop(judged: Judged) -> Iterator[Found]:
    """A spray that is meant to be a drop and comes out as a diamond, or waisted."""
    if Nature.DROP not in judged.sizing.form.natures or len(judged.build.places) < 2 * _SLICES:
        return
    tips = np.array([place.tip for place in judged.build.places])
    along, across = tips[:, 1], np.abs(tips[:, 0])
    edges = np.linspace(along.min(), along.max(), _SLICES + 1)
    which = np.clip(np.searchsorted(edges, along, side="right") - 1, 0, _SLICES - 1)
    widths = np.array(
        [np.sort(across[which == at])[-_WIDEST:].mean() if (which == at).any() else 0.0 for at in range(8)]
    )
    widest = int(widths.argmax())
    if widest < _SLICES // 2:
        yield Found("A diamond, not a drop", "It is widest in its lower half. Bring what reaches out there further up.")
    elif any(widths[at] > 1.2 * widths[at + 1 : widest + 1].min() for at in range(widest)):
        yield Found(
            "Waisted, not a drop", "It narrows and widens again towards its foot. Fill the waist, or draw in below."
        )


@CHECKS.add(
    "no-thirds",
    Severity.NOTE,
    measures="how far below the top its focal flowers have their middle, as a share of the length",
    limit=f"{THIRD_FROM * 100:.0f} to {THIRD_TO * 100:.0f} %",
    source=Source.PRACTICE,
)
def find_no_thirds(judged: Judged) -> Iterator[Found]:
    """A focal point that does not part the length as two thirds to one third."""
    if Nature.THIRDS not in judged.sizing.form.natures:
        return
    along = [place.tip.y for place in judged.build.places]
    focal = tuple(place for place in judged.build.places if place.entry.role is Role.FOCAL)
    long = max(along, default=0.0) - min(along, default=0.0)
    if not focal or long <= 0:
        return
    share = (max(along) - sum(place.tip.y for place in focal) / len(focal)) / long
    if not THIRD_FROM <= share <= THIRD_TO:
        reason = f"They lie {share * 100:.0f} % of the way down. Two thirds belong below them and a third above."
        yield Found("The focal point is off its third", reason, places=focal)


@CHECKS.add(
    "middle-closed",
    Severity.NOTE,
    measures="pieces within the inner third of an open middle, under its crown",
    limit="none that is not meant to stand there",
    source=Source.PRACTICE,
)
def find_closed_middle(judged: Judged) -> Iterator[Found]:
    """Pieces in a middle that is to stay open."""
    if Nature.OPEN_MIDDLE not in judged.sizing.form.natures:
        return
    frame = judged.sizing.frame
    inside = tuple(
        place
        for place in judged.build.places
        if math.hypot(place.tip.x / frame.half_width_cm, place.tip.y / frame.half_depth_cm) < OPEN_SHARE
        and 0 < place.tip.z < UNDER_CROWN * frame.above_rim_cm
        and not place.entry.meant.where
    )
    if inside:
        names = ", ".join(dict.fromkeys(place.material.name for place in inside))
        yield Found("The middle is closed", f"{names} stand in it. Drag them out to the edge.", places=inside)


@CHECKS.add(
    "no-blocks",
    Severity.NOTE,
    measures="share of the flowers whose nearest neighbour is of their colour",
    limit=f"{LEAST_IN_BLOCKS * 100:.0f} %",
    source=Source.PRACTICE,
    schools=(School.GROUPED,),
)
def find_no_blocks(judged: Judged) -> Iterator[Found]:
    """Colours that run into one another where they are to stand in blocks."""
    blooms = judged.blooms
    if len(blooms) < _SLICES:
        return
    tips = np.array([place.tip for place in blooms])
    away = ((tips[:, None] - tips) ** 2).sum(axis=2)
    np.fill_diagonal(away, np.inf)
    nearest = away.argmin(axis=1).tolist()
    colours = [place.material.colours.get(place.entry.colour) for place in blooms]
    apart = tuple(place for at, place in enumerate(blooms) if colours[at] != colours[nearest[at]])
    if len(apart) > (1 - LEAST_IN_BLOCKS) * len(blooms):
        reason = f"{len(apart)} of {len(blooms)} stand beside another colour. Place again, or group them by hand."
        yield Found("Colours not in blocks", reason, places=apart)
