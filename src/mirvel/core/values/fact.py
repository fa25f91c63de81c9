"""The frozen value every document and good is made of, and the words it is named by."""

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

KEPT = r"^[^\x00]*$"  # a database cannot keep a null character
Slug = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[a-z0-9][a-z0-9-]*$")]
Name = Annotated[str, Field(min_length=1, max_length=80, pattern=KEPT)]
Note = Annotated[str, Field(max_length=600, pattern=KEPT)]


class Fact(BaseModel):
    """A frozen value that refuses what it does not know."""

    model_config = ConfigDict(frozen=True, extra="forbid")
