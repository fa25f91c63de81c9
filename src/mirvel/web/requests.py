"""What routes read from a request, and how they answer."""

from collections.abc import Callable, Mapping
from typing import Annotated, TypeVar

from fastapi import Depends, Path, Request, Response

from mirvel.core.values.problems import BadInput, Problem
from mirvel.store.shop import Shop

Read = TypeVar("Read")
_LOST = "\ufffd"  # stands where bytes were no text in the page's charset


def get_shop(request: Request) -> Shop:
    """The shop this app serves."""
    shop: Shop = request.app.state.shop
    return shop


ShopHere = Annotated[Shop, Depends(get_shop)]


RecipeId = Annotated[int, Path(ge=1, le=2**31 - 1)]


Typed = Mapping[str, str]


async def _read_typed(request: Request) -> Typed:
    form = await request.form()
    typed = {key: value for key, value in form.items() if isinstance(value, str)}
    for field, text in typed.items():
        if _LOST in text:
            raise BadInput(
                Problem(field.replace("_", " "), "holds letters that got lost on the way.", "Type it again.")
            )
    return typed


TypedHere = Annotated[Typed, Depends(_read_typed)]


def read_number(text: str) -> int:
    """The number of a row as a form carries it; 0, which none has, for anything else."""
    return int(text) if text.isascii() and text.isdecimal() and len(text) < 10 else 0


def read_was(typed: Typed, read: Callable[[str], Read], field: str = "was") -> Read | None:
    """What stood in a field when its form was read; None where the form does not say, or says what could not be."""
    try:
        return read(typed[field]) if typed.get(field) else None
    except BadInput:
        return None


def get_file_name(name: str) -> str:
    """A recipe's name as a file's: lower case, digits and hyphens."""
    return "".join(letter if letter.isascii() and letter.isalnum() else "-" for letter in name.lower())


def wants_fragment(request: Request) -> bool:
    """Whether htmx asks, and a part of the page will do."""
    return request.headers.get("hx-request") == "true"


def render(request: Request, template: str, status: int = 200, /, **context: object) -> Response:
    """A template's page."""
    response: Response = request.app.state.templates.TemplateResponse(request, template, context, status_code=status)
    return response
