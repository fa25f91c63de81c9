"""What is printed of a recipe, on what paper: its draft or a standard, with the goods and rules that one keeps."""

from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Annotated

from fastapi import Depends
from pydantic import BaseModel, Field

from mirvel.store.shop import SavedRecipe, Shop
from mirvel.store.standards import Standard
from mirvel.web.card.view import Ink
from mirvel.web.working import Desk


class Paper(StrEnum):
    """What a card is printed on."""

    A4 = "A4"
    LETTER = "letter"


class Printing(BaseModel):
    """How a card is printed."""

    paper: Paper = Paper.A4
    ink: Ink = Ink.COLOUR
    standard: int | None = Field(default=None, ge=1, le=2**31 - 1)


@dataclass(frozen=True)
class Printed:
    """What is printed: a recipe's state, what it is worked out with, the standard it is, if any, and that in force
    beside it."""

    saved: SavedRecipe
    desk: Desk
    standard: Standard | None
    in_force: Standard | None

    @property
    def words(self) -> str:
        """What every page of it is headed with."""
        if self.standard:
            return f"Standard {self.standard.number}{'' if self.standard.is_in_force else ', not in force'}"
        return f"Draft, beside standard {self.in_force.number}" if self.in_force else "Draft"


def load_printed(shop: Shop, desk: Desk, recipe_id: int, printing: Printing) -> Printed:
    """The current state or, where that is one or one is asked for, a standard as it was published. Raises NoSuchRecipe,
    NoSuchStandard, Unreadable."""
    saved, in_force = shop.load_recipe(recipe_id), shop.standards.find_in_force(recipe_id)
    number = printing.standard
    if number is None and in_force and in_force.state_id == saved.state_id:
        number = in_force.number
    if number is None:
        return Printed(saved, desk, None, in_force)
    published = shop.standards.load(recipe_id, number)
    saved = replace(saved, state_id=published.standard.state_id, recipe=published.recipe)
    return Printed(saved, desk.thaw(published.frozen), published.standard, in_force)


PrintingHere = Annotated[Printing, Depends()]
SIZES_MM = {Paper.A4: (210, 297), Paper.LETTER: (215.9, 279.4)}
