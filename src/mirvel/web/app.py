"""The app, assembled from its parts."""

from pathlib import Path

from fastapi import FastAPI
from fastapi.staticfiles import StaticFiles

from mirvel.settings import Settings
from mirvel.store.shop import Shop
from mirvel.web import card, health, shelf, table, units
from mirvel.web.errors import add_error_pages
from mirvel.web.requests import add_request_log
from mirvel.web.templates import make_templates

STATIC = Path(__file__).with_name("static")


def create_app(settings: Settings, shop: Shop) -> FastAPI:
    """The app of one shop."""
    app = FastAPI(title="Mirvel", docs_url=None, redoc_url=None, openapi_url=None)
    app.state.settings, app.state.shop, app.state.templates = settings, shop, make_templates()
    app.mount("/static", StaticFiles(directory=STATIC), name="static")
    for room in (health, shelf, table, card, units):
        app.include_router(room.router)
    add_error_pages(app)
    add_request_log(app)
    return app
