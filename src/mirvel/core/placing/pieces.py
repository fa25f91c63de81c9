"""A piece on its way to a place: one stem, side piece or made-ahead thing of an entry."""

from dataclasses import dataclass
from functools import cached_property

from mirvel.core.forms.parts import Part
from mirvel.core.goods.facts import Role
from mirvel.core.goods.heads import Head
from mirvel.core.goods.material import Material
from mirvel.core.recipe.entry import Entry, KeptPlace, Pin
from mirvel.core.recipe.meant import NOTHING_MEANT, Meant


@dataclass(frozen=True)
class Piece:
    """One piece that wants a place; ``reach_cm`` is how far above the rim it is long enough for, ``zone`` the part
    of the form it keeps to, ``meant`` what its entry is meant to do, of the form as it is built."""

    entry: Entry
    material: Material
    number: int
    head: Head
    reach_cm: float
    zone: Part | None
    meant: Meant = NOTHING_MEANT

    @property
    def key(self) -> tuple[str, int]:
        return (self.entry.id, self.number)

    @cached_property
    def pin(self) -> Pin | None:
        """Where a person holds it."""
        return self.entry.find_pin(self.number)

    @cached_property
    def kept(self) -> KeptPlace | None:
        """The place it has kept, where nobody holds it."""
        return None if self.pin else self.entry.find_kept(self.number)

    @property
    def is_green(self) -> bool:
        return self.entry.role is Role.GREENERY

    @property
    def kinds(self) -> tuple[str, str]:
        """What a piece keeps away from (or close to): its own material and colour, and its own role."""
        return f"{self.entry.material} {self.entry.colour}", f"role {self.entry.role.value}"
