"""``/healthz``: whether the app and its database answer."""

from fastapi import APIRouter
from fastapi.responses import JSONResponse

from mirvel import __version__
from mirvel.store.database import NoDatabase
from mirvel.web.requests import ShopHere

router = APIRouter()


@router.get("/healthz")
def get_health(shop: ShopHere) -> JSONResponse:
    try:
        shop.database.check_answers()
    except NoDatabase:
        return JSONResponse({"status": "down", "database": "does not answer", "version": __version__}, status_code=503)
    return JSONResponse({"status": "up", "database": "answers", "version": __version__})
