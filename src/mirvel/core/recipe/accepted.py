"""A finding that its designer lets stand, and why: kept with the recipe, so that nobody is told of it again."""

from pydantic import Field

from mirvel.core.values.fact import KEPT, Fact


class Accepted(Fact):
    """One finding by its id. It counts for as many pieces as it was seen at then or, seen at none, as long as it is
    ``told`` in the same words (without, in any): where there is more of it, it is told again."""

    finding: str = Field(min_length=1, max_length=80, pattern=r"^[a-z0-9-]+$")
    reason: str = Field(min_length=1, max_length=200, pattern=KEPT)
    told: str = Field(default="", max_length=200, pattern=KEPT)
    pieces: int = Field(default=0, ge=0, le=9999)
