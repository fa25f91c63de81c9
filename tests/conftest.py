"""A private PostgreSQL of the tests' own, the demo shop in it, the app served over real HTTP, and a browser."""

import fcntl
import os
import pickle
import random
import threading
from collections.abc import Iterator
from datetime import time
from io import TextIOWrapper
from itertools import count

import httpx
import pytest
from hypothesis import HealthCheck, settings
from sqlalchemy import select, text
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.exc import OperationalError

from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.house.rules import HouseRules
from mirvel.core.recipe.recipe import Recipe
from mirvel.demo import RULES, get_catalogue, get_recipes, load_once
from mirvel.devices.price_feed import PATH, PriceFeed
from mirvel.devices.stand_in import StandIn
from mirvel.logs import set_up_logs
from mirvel.settings import Settings
from mirvel.store import cluster as clusters
from mirvel.store.migrating import migrate
from mirvel.store.rows import Base, FigureRow, SampleRow, StandingRow
from mirvel.store.shop import Shop, read_clock
from mirvel.web.app import create_app
from mirvel.web.collecting import collect_seldom
from mirvel.web.drifting import Drifter
from mirvel.web.feeding import Feeder
from mirvel.web.figuring import draw_all
from mirvel.web.workers import Worker
from tests.serving import begin_stand_in, open_client, serve

# No clock: a property fails because it is false, not because a machine is slow. The same examples every time, unless
# MIRVEL_TEST_SEED is a number or "any": then others, by a seed that is printed.
ASKED_SEED = os.environ.get("MIRVEL_TEST_SEED", "")
usual = settings(deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.register_profile("usual", usual, derandomize=not ASKED_SEED)
settings.load_profile("usual")

EMPTIED = [each.name for each in Base.metadata.sorted_tables if each.name not in {"versions", "figures"}]
NUMBERED = [each.name for each in Base.metadata.sorted_tables if "id" in each.c and each.c["id"].identity]
NOW = read_clock().replace(hour=12)  # one day for a whole run, whenever it ends
KEPT = pytest.StashKey[TextIOWrapper]()


@pytest.hookimpl(tryfirst=True)
def pytest_configure(config: pytest.Config) -> None:
    """Every process that runs tests takes a data folder that no other holds: neither a worker nor another run.

    The lock of a folder ends with its process, however that ends.
    """
    collect_seldom()
    # An app in a thread of this process logs while pytest changes what sys.stdout is: what is told is told to no such.
    set_up_logs(Settings(), os.fdopen(2, "w", closefd=False))
    if ASKED_SEED:
        seed = random.randrange(10**9) if ASKED_SEED == "any" else int(ASKED_SEED)
        os.environ["MIRVEL_TEST_SEED"] = str(seed)  # workers find the same
        config.option.hypothesis_seed = str(seed)
    if config.getoption("numprocesses", None) and not hasattr(config, "workerinput"):
        return
    above = Settings().get_wanted_data_dir() / "tests"
    above.mkdir(parents=True, exist_ok=True)
    for number in count(1):
        lock = (above / f"{number}.lock").open("w")
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            lock.close()
            continue
        config.stash[KEPT] = lock
        os.environ["MIRVEL_DATA_DIR"] = str(above / str(number))
        return


def pytest_terminal_summary(terminalreporter: pytest.TerminalReporter) -> None:
    """Say which examples properties were tried on, where these are not the usual ones."""
    seed = os.environ.get("MIRVEL_TEST_SEED")
    if seed:
        terminalreporter.write_line(f"Examples of seed {seed}: MIRVEL_TEST_SEED={seed} tries them again.")


@pytest.fixture(scope="session")
def catalogue() -> Catalogue:
    return get_catalogue()


@pytest.fixture(scope="session")
def rules() -> HouseRules:
    return RULES


@pytest.fixture(scope="session")
def slipway() -> Recipe:
    return next(recipe for recipe in get_recipes() if recipe.family == "slipway")


@pytest.fixture(scope="session")
def cluster() -> Iterator[clusters.Cluster]:
    settings = Settings()
    made = clusters.find_cluster(settings.get_wanted_data_dir() / "shop", settings.postgres_bin)
    clusters.start(made)
    yield made
    clusters.stop(made)


@pytest.fixture(scope="session")
def database(cluster: clusters.Cluster) -> Iterator[Shop]:
    clusters.make_database(cluster, "tests")
    migrate(cluster.get_url("tests"))
    shop = Shop(cluster.get_url("tests"), get_now=lambda: NOW)
    with shop.database.engine.connect().execution_options(isolation_level="AUTOCOMMIT") as connection:
        connection.execute(text("ALTER SYSTEM SET fsync = off"))  # what a crash of the machine would lose is made anew
        connection.execute(text("SELECT pg_reload_conf()"))
    yield shop
    shop.database.engine.dispose()


def _empty(database: Shop, *fill: str) -> None:
    """Nothing in the shop but what statements fill it with, at once, so that nothing at work beside comes between; its
    counters go on, and what was drawn is kept. To truncate so many small tables takes four times as long."""
    statements = (
        f"LOCK TABLE {', '.join(EMPTIED)} IN ACCESS EXCLUSIVE MODE",
        "SET LOCAL session_replication_role = replica",  # rows name one another
        *(f"DELETE FROM {name}" for name in EMPTIED),
        *fill,
        *(
            f"SELECT setval('{name}_id_seq', coalesce(max(id), 1), max(id) IS NOT NULL) FROM {name}"
            for name in NUMBERED
        ),
    )
    for attempt in range(5):
        try:
            with database.database.engine.begin() as connection:
                connection.execute(text("; ".join(statements)))
            break
        except OperationalError:  # the app's drifter held one of the tables while waiting for another
            if attempt == 4:
                raise
    database.goods.forget()


@pytest.fixture
def empty_shop(database: Shop) -> Shop:
    _empty(database)
    return database


@pytest.fixture(scope="session")
def demo_copy(database: Shop) -> int:
    """A schema, *demo*, with a copy of the demo shop as it is loaded and drawn: to copy it back takes a tenth of that.

    Gives the version its goods' facts have.
    """
    _empty(database)
    load_once(database)
    _draw(database)
    with database.database.engine.begin() as connection:
        connection.execute(text("DROP SCHEMA IF EXISTS demo CASCADE"))  # of a run before
        connection.execute(text("CREATE SCHEMA demo"))
        for name in EMPTIED:
            connection.execute(text(f"CREATE TABLE demo.{name} AS TABLE public.{name}"))
    return database.goods.look().facts


def _draw(database: Shop) -> None:
    """Every figure of the shop, drawn by the first of all workers that needs them and handed on to the others."""
    handed = Settings().get_wanted_data_dir().with_name("figures")
    with handed.with_suffix(".lock").open("w") as lock, database.database.engine.connect() as connection:
        fcntl.flock(lock, fcntl.LOCK_EX)
        known = pickle.loads(handed.read_bytes()) if handed.exists() else []
        if known:
            connection.execute(insert(FigureRow).on_conflict_do_nothing(), known)
            connection.commit()
        drawing = Worker()
        draw_all(database, drawing, threading.Event())
        drawing.stop()
        shown = select(StandingRow.key).union(select(SampleRow.key))
        rows = connection.execute(select(FigureRow.__table__).where(FigureRow.key.in_(shown))).mappings().all()
        if {row["key"] for row in rows} - {row["key"] for row in known}:
            handed.write_bytes(pickle.dumps([dict(row) for row in rows]))


@pytest.fixture
def shop(demo_copy: int, database: Shop) -> Shop:
    """The demo shop as it is loaded, its costs counted further on than any other test’s."""
    copied = (f"INSERT INTO {name} SELECT * FROM demo.{name}" for name in EMPTIED)
    _empty(database, *copied, f"UPDATE versions SET facts = {demo_copy}, costs = costs + 1")
    return database


@pytest.fixture(scope="session")
def address(database: Shop) -> Iterator[str]:
    with serve(create_app(Settings(), database)) as url:
        yield url


@pytest.fixture
def web(address: str, shop: Shop) -> Iterator[httpx.Client]:
    with open_client(address) as client:
        yield client


@pytest.fixture
def solver() -> Iterator[Worker]:
    made = Worker()
    yield made
    made.stop()


@pytest.fixture
def feed() -> Iterator[StandIn]:
    yield from begin_stand_in(PriceFeed())


@pytest.fixture
def feeder(feed: StandIn, shop: Shop) -> Feeder:
    """What pulls prices from the stand-in's feed into the shop."""
    settings = Settings(feed_url=feed.url + PATH, feed_patience_s=0.4, feed_at=time(5, 30))
    return Feeder(settings, shop, Drifter(shop))
