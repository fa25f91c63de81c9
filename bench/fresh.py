"""A shop of the benchmarks' own, made anew in the private PostgreSQL, and how times are told."""

import statistics
import time
from collections.abc import Iterator, Sequence
from contextlib import contextmanager

import httpx
from sqlalchemy import create_engine, text

from mirvel.demo import load_once
from mirvel.logs import set_up_logs
from mirvel.settings import Settings
from mirvel.store import cluster as clusters
from mirvel.store.migrating import migrate
from mirvel.store.shop import Shop
from mirvel.web.figuring import get_version

SETTINGS = Settings(log_level="WARNING")
_DRAWING_S = 300.0


@contextmanager
def fresh_shop() -> Iterator[Shop]:
    """The demo shop in a database with nothing else in it."""
    set_up_logs(SETTINGS)
    cluster = clusters.find_cluster(SETTINGS.get_wanted_data_dir() / "bench", SETTINGS.postgres_bin)
    clusters.start(cluster)
    try:
        clusters.make_database(cluster, "bench")
        engine = create_engine(cluster.get_url("bench"))
        with engine.begin() as connection:
            connection.execute(text("DROP SCHEMA public CASCADE"))
            connection.execute(text("CREATE SCHEMA public"))
        engine.dispose()
        migrate(cluster.get_url("bench"))
        shop = Shop(cluster.get_url("bench"))
        load_once(shop)
        yield shop
        shop.database.engine.dispose()
    finally:
        clusters.stop(cluster)


def wait_until_drawn(shop: Shop) -> None:
    """Until the app has drawn all figures of a fresh shop, so that nothing else asks for the processor."""
    version = get_version(shop.goods.load().facts, shop.load_rules())
    until = time.monotonic() + _DRAWING_S
    while not shop.figures.has_samples(version):
        if time.monotonic() > until:
            raise TimeoutError(f"The figures of a fresh shop are not drawn after {_DRAWING_S:.0f} s.")
        time.sleep(0.5)


def get_server_ms(answer: httpx.Response) -> float:
    """How long the app took, as it says itself."""
    return float(answer.headers["server-timing"].split("dur=")[1])


def describe(times_ms: Sequence[float]) -> str:
    """Median and 95th percentile."""
    return (
        f"median {statistics.median(times_ms):.1f} ms, 95 % under {sorted(times_ms)[int(len(times_ms) * 0.95)]:.1f} ms"
    )
