"""What a sample of a form is made with: so many pieces of a kind of head in a role, from whatever a shop has."""

from dataclasses import dataclass

from mirvel.core.goods import HeadForm, Role


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
    Wanted(Role.GREENERY, HeadForm.BROAD_LEAF, 16, "oval"),
    Wanted(Role.GREENERY, HeadForm.FROND, 14, "broad"),
    Wanted(Role.FOCAL, HeadForm.ROSETTE, 12, "spiral"),
    Wanted(Role.MASS, HeadForm.ROSETTE, 16, "ruffled"),
    Wanted(Role.MASS, HeadForm.DAISY, 16, "yellow-eye"),
    Wanted(Role.FILLER, HeadForm.CLUSTER, 14, "misty"),
)
SPRAY_SAMPLE = (
    Wanted(Role.GREENERY, HeadForm.BROAD_LEAF, 14, "oval"),
    Wanted(Role.GREENERY, HeadForm.FROND, 10, "broad"),
    Wanted(Role.LINE, HeadForm.SPIKE, 6, "lipped"),
    Wanted(Role.FOCAL, HeadForm.ROSETTE, 5, "spiral"),
    Wanted(Role.MASS, HeadForm.ROSETTE, 14, "ruffled"),
    Wanted(Role.MASS, HeadForm.DAISY, 12, "yellow-eye"),
    Wanted(Role.FILLER, HeadForm.CLUSTER, 10, "misty"),
)
CLUSTER_SAMPLE = (
    Wanted(Role.GREENERY, HeadForm.BROAD_LEAF, 8, "oval"),
    Wanted(Role.GREENERY, HeadForm.FROND, 8, "broad"),
    Wanted(Role.FOCAL, HeadForm.ROSETTE, 4, "spiral"),
    Wanted(Role.MASS, HeadForm.ROSETTE, 8, "ruffled"),
    Wanted(Role.MASS, HeadForm.DAISY, 8, "yellow-eye"),
    Wanted(Role.FILLER, HeadForm.CLUSTER, 4, "misty"),
)
LOW_SAMPLE = (
    *GREENS,
    Wanted(Role.FOCAL, HeadForm.ROSETTE, 7, "spiral"),
    Wanted(Role.MASS, HeadForm.ROSETTE, 9, "ruffled"),
    Wanted(Role.MASS, HeadForm.DAISY, 11, "yellow-eye"),
    Wanted(Role.FILLER, HeadForm.CLUSTER, 10, "misty"),
    Wanted(Role.TEXTURE, HeadForm.CLUSTER, 5, "berry"),
)
