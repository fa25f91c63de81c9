"""Which drawings a form has: face, side and back for discs; one for balls; length and end-on for axes."""

from collections.abc import Callable
from dataclasses import dataclass

from mirvel.core.goods import HeadForm
from mirvel.drawing.heads import cluster, daisy, globe, leaves, rosette, spike
from mirvel.drawing.palette import Tones

Face = Callable[[Tones, str, float], str]
Axis = Callable[[Tones, str, float, float], str]


@dataclass(frozen=True)
class Art:
    """The drawings of one form. A disc is foreshortened by its facing and shows a side and a back; a ball is
    alike all round; an axial form is drawn along its axis, and end-on when the axis points at the eye."""

    face: Face | None = None
    side: Callable[[Tones, str, float], str] | None = None
    back: Callable[[Tones, str], str] | None = None
    axis: Axis | None = None
    end: Callable[[Tones, str], str] | None = None


def _spike(tones: Tones, habit: str, ratio: float, bend: float) -> str:
    return spike.side(tones, habit, ratio)


_ART = {
    HeadForm.ROSETTE: Art(face=rosette.front, side=rosette.side, back=rosette.back),
    HeadForm.DAISY: Art(face=daisy.front, side=daisy.side, back=daisy.back),
    HeadForm.GLOBE: Art(face=globe.front),
    HeadForm.CLUSTER: Art(face=cluster.front),
    HeadForm.SPIKE: Art(axis=_spike, end=spike.end),
    HeadForm.FROND: Art(axis=leaves.frond),
    HeadForm.BROAD_LEAF: Art(axis=leaves.branch),
    HeadForm.SMALL_LEAF: Art(axis=leaves.branch),
    HeadForm.STRAP: Art(axis=leaves.strap),
}


def get_art(form: HeadForm) -> Art:
    """The drawings of a form."""
    return _ART[form]
