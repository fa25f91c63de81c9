"""**Checks**: all that Mirvel looks for, each with its limit and where that comes from."""

from fastapi import APIRouter, Request, Response

from mirvel.core.judging.checks import DECLARED, get_by_family
from mirvel.web.requests import render
from mirvel.web.working import DeskHere

router = APIRouter(prefix="/checks")


@router.get("")
def show_checks(request: Request, desk: DeskHere) -> Response:
    """Every check, by what it is about; limits in the unit that whoever looks reads lengths in."""
    unit = desk.rules.unit
    return render(request, "checks/checks.html", families=get_by_family(), count=len(DECLARED), unit=unit)
