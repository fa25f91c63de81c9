"""Units: what one person reads lengths in; everything is stored in centimetres."""

from typing import Annotated
from urllib.parse import urlsplit

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import RedirectResponse

from mirvel.core.values.units import LengthUnit
from mirvel.web.working import UNIT_COOKIE

router = APIRouter()
_A_YEAR_S = 365 * 24 * 3600


@router.post("/units")
def choose_unit(request: Request, unit: Annotated[LengthUnit, Form()]) -> Response:
    """Remember the unit and go back to the page it was chosen on."""
    back = urlsplit(request.headers.get("referer", "/")).path or "/"
    answer = RedirectResponse(back if back.startswith("/") and not back.startswith("//") else "/", status_code=303)
    answer.set_cookie(UNIT_COOKIE, unit.value, max_age=_A_YEAR_S, samesite="strict", httponly=True)
    return answer
