"""The frozen value every document and good is made of, and the words it is named by."""

from typing import Annotated, Any, Self

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from mirvel.core.values.problems import BadInput, get_problems

# What a text may hold: a database keeps no null, and XML (a drawing, a workbook) no control character but a new line.
KEPT = r"^[^\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ufffe\uffff]*$"
Slug = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[a-z0-9][a-z0-9-]*$")]
Name = Annotated[str, Field(min_length=1, max_length=80, pattern=KEPT)]
Note = Annotated[str, Field(max_length=600, pattern=KEPT)]
Short = Annotated[str, Field(max_length=40, pattern=KEPT)]
ColourName = Annotated[str, Field(min_length=1, max_length=40, pattern=KEPT)]
Source = Annotated[str, Field(max_length=200, pattern=KEPT)]


class Fact(BaseModel):
    """A frozen value that refuses what it does not know."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    def change(self, **fields: Any) -> Self:
        """The value with fields replaced, validated whole. Raises BadInput."""
        try:
            return self.model_validate({**self.model_dump(), **fields})
        except ValidationError as error:
            raise BadInput(*get_problems(error)) from None
