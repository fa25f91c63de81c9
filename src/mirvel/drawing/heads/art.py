"""Which drawings a form has: face, side and back for discs; one for balls; length and end-on for axes."""

from collections.abc import Callable
from dataclasses import dataclass

from markupsafe import Markup

from mirvel.core.goods.facts import HeadForm
from mirvel.drawing.heads import (
    balls,
    branching,
    cluster,
    cup,
    daisy,
    flat,
    globe,
    leaves,
    rosette,
    spike,
    tokens,
    trumpet,
)
from mirvel.drawing.palette import Tones

Face = Callable[[Tones, str, float], Markup]
Axis = Callable[[Tones, str, float, float, float], Markup]


@dataclass(frozen=True)
class Art:
    """The drawings of one form. A disc is foreshortened by its facing and shows a side and a back; a ball is
    alike all round; an axial form is drawn along its axis, and end-on when the axis points at the eye."""

    face: Face | None = None
    side: Callable[[Tones, str, float], Markup] | None = None
    back: Callable[[Tones, str], Markup] | None = None
    axis: Axis | None = None
    end: Callable[[Tones, str], Markup] | None = None


def _spike(tones: Tones, habit: str, ratio: float, bend: float, openness: float) -> Markup:
    return tokens.candle(tones, ratio) if habit == "candle" else spike.side(tones, habit, ratio, openness)


def _spike_end(tones: Tones, habit: str) -> Markup:
    return tokens.candle_end(tones) if habit == "candle" else spike.end(tones, habit)


def _steady(axis: Callable[[Tones, str, float, float], Markup]) -> Axis:
    """What looks the same however far it has opened."""
    return lambda tones, habit, ratio, bend, openness: axis(tones, habit, ratio, bend)


def _globe(tones: Tones, habit: str, openness: float) -> Markup:
    return balls.spiny(tones, habit) if habit in {"spiny", "pins"} else globe.front(tones, habit, openness)


def _pompon(tones: Tones, habit: str, openness: float) -> Markup:
    return globe.front(tones, habit, openness) if habit == "button" else balls.pompon(tones, habit, openness)


_ART = {
    HeadForm.ROSETTE: Art(face=rosette.front, side=rosette.side, back=rosette.back),
    HeadForm.CUP: Art(face=cup.front, side=cup.side, back=cup.back),
    HeadForm.DAISY: Art(face=daisy.front, side=daisy.side, back=daisy.back),
    HeadForm.TRUMPET: Art(face=trumpet.front, side=trumpet.side, back=trumpet.back),
    HeadForm.DISC: Art(face=flat.disc_front, side=flat.side, back=flat.back),
    HeadForm.ORCHID: Art(face=flat.orchid_front, side=flat.side, back=flat.back),
    HeadForm.BOW: Art(face=flat.bow_front, side=flat.bow_side, back=flat.bow_back),
    HeadForm.GLOBE: Art(face=_globe),
    HeadForm.POMPON: Art(face=_pompon),
    HeadForm.UMBEL: Art(face=balls.umbel),
    HeadForm.CLUSTER: Art(face=cluster.front),
    HeadForm.SPRAY: Art(face=cluster.front),
    HeadForm.POD: Art(face=balls.pod),
    HeadForm.MOSS: Art(face=balls.moss),
    HeadForm.FRUIT: Art(face=tokens.front),
    HeadForm.SPIKE: Art(axis=_spike, end=_spike_end),
    HeadForm.PLUME: Art(axis=branching.plume, end=branching.end),
    HeadForm.BERRY: Art(axis=_steady(branching.berry)),
    HeadForm.TWIG: Art(axis=_steady(branching.twig)),
    HeadForm.DRAPE: Art(axis=branching.drape),
    HeadForm.BIRD: Art(axis=_steady(branching.bird)),
    HeadForm.FROND: Art(axis=_steady(leaves.frond)),
    HeadForm.BROAD_LEAF: Art(axis=_steady(leaves.branch)),
    HeadForm.SMALL_LEAF: Art(axis=_steady(leaves.branch)),
    HeadForm.STRAP: Art(axis=_steady(leaves.strap)),
    HeadForm.BLADE: Art(axis=_steady(leaves.strap)),
}


def get_art(form: HeadForm) -> Art:
    """The drawings of a form."""
    return _ART[form]
