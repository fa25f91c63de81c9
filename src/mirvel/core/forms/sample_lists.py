"""What a sample of a form is made with: so many pieces of a kind of head in a role, from whatever a shop has."""

from dataclasses import dataclass, replace

from mirvel.core.goods.facts import HeadForm, Role


@dataclass(frozen=True)
class Wanted:
    """So many pieces in a role, of a head form and (where it matters) its habit."""

    role: Role
    form: HeadForm
    pieces: int
    habit: str = ""


GREENS = (Wanted(Role.GREENERY, HeadForm.BROAD_LEAF, 9, "oval"), Wanted(Role.GREENERY, HeadForm.FROND, 7, "broad"))
USUAL_SAMPLE = (
    *GREENS,
    Wanted(Role.LINE, HeadForm.SPIKE, 3, "lipped"),
    Wanted(Role.FOCAL, HeadForm.ROSETTE, 5, "spiral"),
    Wanted(Role.MASS, HeadForm.ROSETTE, 7, "ruffled"),
    Wanted(Role.MASS, HeadForm.DAISY, 9, "yellow-eye"),
    Wanted(Role.FILLER, HeadForm.CLUSTER, 7, "misty"),
    Wanted(Role.TEXTURE, HeadForm.CLUSTER, 3, "berry"),
)
FRAME_SAMPLE = (
    Wanted(Role.GREENERY, HeadForm.BROAD_LEAF, 18, "oval"),
    Wanted(Role.GREENERY, HeadForm.FROND, 14, "broad"),
    Wanted(Role.FOCAL, HeadForm.ROSETTE, 18, "spiral"),
    Wanted(Role.MASS, HeadForm.ROSETTE, 26, "ruffled"),
    Wanted(Role.MASS, HeadForm.DAISY, 26, "yellow-eye"),
    Wanted(Role.FILLER, HeadForm.CLUSTER, 22, "misty"),
)
LARGE_FRAME_SAMPLE = tuple(replace(wanted, pieces=2 * wanted.pieces) for wanted in FRAME_SAMPLE)
SPRAY_SAMPLE = (
    Wanted(Role.GREENERY, HeadForm.BROAD_LEAF, 16, "oval"),
    Wanted(Role.GREENERY, HeadForm.FROND, 14, "broad"),
    Wanted(Role.LINE, HeadForm.SPIKE, 8, "lipped"),
    Wanted(Role.FOCAL, HeadForm.ROSETTE, 9, "spiral"),
    Wanted(Role.MASS, HeadForm.ROSETTE, 22, "ruffled"),
    Wanted(Role.MASS, HeadForm.DAISY, 20, "yellow-eye"),
    Wanted(Role.FILLER, HeadForm.CLUSTER, 14, "misty"),
)
CLUSTER_SAMPLE = (
    Wanted(Role.GREENERY, HeadForm.BROAD_LEAF, 10, "oval"),
    Wanted(Role.GREENERY, HeadForm.FROND, 8, "broad"),
    Wanted(Role.FOCAL, HeadForm.ROSETTE, 10, "spiral"),
    Wanted(Role.MASS, HeadForm.ROSETTE, 16, "ruffled"),
    Wanted(Role.MASS, HeadForm.DAISY, 14, "yellow-eye"),
    Wanted(Role.FILLER, HeadForm.CLUSTER, 8, "misty"),
)
LOW_SAMPLE = (
    *GREENS,
    Wanted(Role.FOCAL, HeadForm.ROSETTE, 7, "spiral"),
    Wanted(Role.MASS, HeadForm.ROSETTE, 9, "ruffled"),
    Wanted(Role.MASS, HeadForm.DAISY, 11, "yellow-eye"),
    Wanted(Role.FILLER, HeadForm.CLUSTER, 10, "misty"),
    Wanted(Role.TEXTURE, HeadForm.CLUSTER, 5, "berry"),
)
