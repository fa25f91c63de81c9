"""The app, assembled from its parts."""

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path

from fastapi import FastAPI
from fastapi.middleware.gzip import GZipMiddleware
from fastapi.staticfiles import StaticFiles

from mirvel.settings import Settings
from mirvel.store.shop import Shop
from mirvel.web import (
    begin,
    book,
    buckets,
    card,
    checks,
    figures,
    gallery,
    health,
    house,
    ladder,
    receiving,
    repairs,
    service,
    sets,
    shelf,
    standards,
    suppliers,
    table,
    units,
)
from mirvel.web.collecting import collect_seldom
from mirvel.web.drifting import Drifter
from mirvel.web.errors import add_error_pages, show_unknown
from mirvel.web.feeding import Feeder
from mirvel.web.figuring import Drawer
from mirvel.web.guard import add_guard
from mirvel.web.keeping import Kept
from mirvel.web.repairing import Repairer
from mirvel.web.standards import together
from mirvel.web.tasks import Tasks
from mirvel.web.templates import make_templates
from mirvel.web.workers import Workers

STATIC = Path(__file__).with_name("static")


@asynccontextmanager
async def _run_behind(app: FastAPI) -> AsyncIterator[None]:
    """What works beside the pages begins and ends with the app."""
    collect_seldom()
    app.state.workers.warm_up()
    app.state.drifter.start()
    app.state.feeder.start()
    app.state.repairer.start()
    app.state.drawer.start()
    yield
    app.state.drawer.stop()
    app.state.repairer.stop()
    app.state.feeder.stop()
    app.state.drifter.stop()
    app.state.tasks.stop()
    app.state.workers.stop()


def create_app(settings: Settings, shop: Shop) -> FastAPI:
    """The app of one shop."""
    app = FastAPI(title="Mirvel", docs_url=None, redoc_url=None, openapi_url=None, lifespan=_run_behind)
    app.state.settings, app.state.shop, app.state.templates = settings, shop, make_templates()
    app.state.kept, app.state.tasks = Kept(), Tasks()
    app.state.drifter, app.state.workers = Drifter(shop), Workers()
    app.state.feeder = Feeder(settings, shop, app.state.drifter)
    app.state.repairer, app.state.drawer = Repairer(shop, app.state.workers.slow), Drawer(shop)
    app.mount("/static", StaticFiles(directory=STATIC), name="static")
    for room in (
        health,
        shelf,
        begin,
        figures,
        table,
        card,
        book,
        checks,
        house,
        units,
        buckets,
        suppliers,
        receiving,
        gallery,
        repairs,
        ladder,
        sets,
        service,
        standards,
    ):
        app.include_router(room.router)
    app.include_router(together.router)
    add_error_pages(app)
    app.add_middleware(GZipMiddleware, minimum_size=2000, compresslevel=4)
    add_guard(app, settings.known_hosts, show_unknown)
    return app
