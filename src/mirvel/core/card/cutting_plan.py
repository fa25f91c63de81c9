"""The cutting plan: which pieces come off which stem, how many stems that takes, and what is left over.

A whole or top piece takes a stem's own tip; side pieces come off the branches that are left. Stems with a tip piece
are filled up with side pieces first, longest first, so that as few stems as can be are drawn.
"""

from dataclasses import dataclass

from mirvel.core.goods.facts import PieceSize
from mirvel.core.goods.heads import LATERAL_SHARE
from mirvel.core.goods.material import Material
from mirvel.core.making.build import Build
from mirvel.core.making.cuts import Cut

LEAST_OFFCUT_CM = 10.0  # shorter ends are waste (assumption)


@dataclass(frozen=True)
class StemPlan:
    """One stem: its cuts, the side pieces nobody needs, and the bare end left of it, cm."""

    cuts: tuple[Cut, ...]
    spare_pieces: int
    offcut_cm: float


@dataclass(frozen=True)
class MaterialPlan:
    """All stems of one material and colour; spare pieces are ``spare_length_cm`` long."""

    material: Material
    colour: str
    stems: tuple[StemPlan, ...]
    spare_length_cm: float

    @property
    def spare_pieces(self) -> int:
        return sum(stem.spare_pieces for stem in self.stems)

    @property
    def offcuts(self) -> tuple[float, ...]:
        """Ends long enough for another recipe, longest first. Of foliage only: a bare stem is of no use."""
        if not self.material.is_leaf:
            return ()
        return tuple(sorted((each.offcut_cm for each in self.stems if each.offcut_cm >= LEAST_OFFCUT_CM), reverse=True))


def get_cutting_plan(build: Build) -> tuple[MaterialPlan, ...]:
    """The plan of every material and colour, in build order."""
    groups: dict[tuple[str, str], list[Cut]] = {}
    for cut in build.cuts:
        groups.setdefault((cut.place.entry.material, cut.place.entry.colour), []).append(cut)
    return tuple(_plan(colour, cuts) for (_, colour), cuts in groups.items())


def get_shared_stems(build: Build) -> tuple[MaterialPlan, ...]:
    """The plan of what is broken down: materials of which one stem gives several of the pieces."""
    return tuple(plan for plan in get_cutting_plan(build) if any(len(stem.cuts) > 1 for stem in plan.stems))


def _plan(colour: str, cuts: list[Cut]) -> MaterialPlan:
    material = cuts[0].place.material
    by_length = sorted(cuts, key=lambda cut: -cut.total_cm)
    tips = [cut for cut in by_length if material.pieces_per_stem == 1 or cut.place.entry.piece is not PieceSize.LATERAL]
    sides = [cut for cut in by_length if cut not in tips]
    stems = [[tip] for tip in tips]
    for side in sides:
        room = next((stem for stem in stems if len(stem) < material.pieces_per_stem), None)
        if room is None:
            stems.append([side])
        else:
            room.append(side)
    plans = tuple(_get_stem(material, stem) for stem in stems)
    return MaterialPlan(material, colour, plans, material.stem_length_cm * LATERAL_SHARE)


def _get_stem(material: Material, cuts: list[Cut]) -> StemPlan:
    whole = any(cut.place.entry.piece is PieceSize.STEM for cut in cuts) or material.pieces_per_stem == 1
    spare = 0 if whole else material.pieces_per_stem - len(cuts)
    longest = max(cut.total_cm for cut in cuts)
    length = material.stem_length_cm if whole or cuts[0].place.entry.piece is PieceSize.TOP else 0.0
    return StemPlan(tuple(cuts), spare, max(0.0, length - longest))
