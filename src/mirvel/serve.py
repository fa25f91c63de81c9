"""``./run demo``: the database, the demo shop and the app, begun and ended in order."""

import os
import signal
import socket
import subprocess
import sys
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager, suppress
from threading import Event

import structlog

from mirvel.demo import load_once
from mirvel.running import PID_FILE, find_cluster, stop_database
from mirvel.settings import Settings
from mirvel.store import cluster as clusters
from mirvel.store.database import NoDatabase
from mirvel.store.migrating import migrate
from mirvel.store.shop import Shop
from mirvel.web.app import create_app
from mirvel.web.background import Background
from mirvel.web.connections import make_server

LOOK_EVERY_S = 2.0
log = structlog.get_logger()


def prepare_database(settings: Settings) -> str:
    """Have a database that answers and is up to date; returns its address. Raises ClusterError."""
    if settings.database_url:
        url = settings.database_url.get_secret_value()
    else:
        cluster = find_cluster(settings)
        clusters.start(cluster)
        clusters.make_database(cluster, "mirvel")
        url = cluster.get_url()
    migrate(url)
    return url


@contextmanager
def keep_database(settings: Settings, shop: Shop) -> Iterator[None]:
    """Meanwhile the private database is brought back whenever it has died; one of somebody else's is theirs to mend."""
    if settings.database_url:
        yield
        return
    cluster = find_cluster(settings)

    def look_after(_: Event) -> None:
        try:
            shop.database.check_answers()
        except NoDatabase:
            log.warning("database does not answer, brought back")
            clusters.start(cluster)
            shop.database.move_to(cluster.get_url())

    keeper = Background("database", look_after, LOOK_EVERY_S)
    keeper.start()
    try:
        yield
    finally:
        keeper.stop()


def demo(settings: Settings) -> int:
    """Serve the demo shop until Ctrl-C; the database is stopped with it."""
    shop = Shop(prepare_database(settings))
    if load_once(shop):
        log.info("demo shop loaded")
    with _listen(settings) as listening, begin_stand_ins(settings) as settings, keep_database(settings, shop):
        port = listening.getsockname()[1]
        pid_file = settings.get_wanted_data_dir() / PID_FILE
        pid_file.parent.mkdir(parents=True, exist_ok=True)
        address = f"http://{settings.host}:{port}/"
        pid_file.write_text(f"{os.getpid()} {address}")
        print(f"Mirvel is at {address}  (Ctrl-C ends it)", flush=True)
        server = make_server(create_app(settings, shop))
        # The server sends itself its signal again when it has ended: take it as an interrupt, and end the database too.
        signal.signal(signal.SIGTERM, signal.default_int_handler)
        with suppress(KeyboardInterrupt):
            server.run(sockets=[listening])
    pid_file.unlink(missing_ok=True)
    stop_database(settings)
    return 0


@contextmanager
def begin_stand_ins(settings: Settings) -> Iterator[Settings]:
    """The settings with the addresses of stand-ins for devices that have none, begun as processes of their own."""
    folder = settings.get_wanted_data_dir() / "labels"
    wanted = {
        "feed_url": ("price_feed", "/prices/today.json", ()),
        "label_printer_url": ("label_printer", "/print", (folder,)),
    }
    with ExitStack() as running:
        addresses = {}
        for setting, (name, path, words) in wanted.items():
            if settings.stand_ins and not getattr(settings, setting):
                command = [sys.executable, "-m", f"mirvel.devices.{name}", *map(str, words)]
                process = running.enter_context(
                    subprocess.Popen(
                        command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, start_new_session=True
                    )
                )
                addresses[setting] = process.stdout.readline().strip() + path if process.stdout else ""
                log.info("stand-in", device=name, address=addresses[setting])
        yield settings.model_copy(update=addresses)


def _listen(settings: Settings) -> socket.socket:
    """A listening socket on the port wanted, or on a free one when that is in use."""
    for port in (settings.port, 0):
        listening = socket.socket()
        listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            listening.bind((settings.host, port))
            listening.listen()
            return listening
        except OSError:
            listening.close()
    raise clusters.ClusterError(f"No port is free on {settings.host}.")
