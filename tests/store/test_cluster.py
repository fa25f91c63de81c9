"""The private database server: found again after every kind of death, never a stranger's."""

import os
import signal
import socket
from collections.abc import Iterator

import psycopg
import pytest

from mirvel.settings import Settings
from mirvel.store import cluster as clusters
from mirvel.store.cluster import Cluster


@pytest.fixture(scope="module")
def own() -> Iterator[Cluster]:
    """A cluster of this module's own, in a folder with a space in its name."""
    made = clusters.find_cluster(Settings().get_wanted_data_dir() / "tests of the cluster", None)
    clusters.start(made)
    clusters.make_database(made, "kept")
    with connect(made) as connection:
        connection.execute("CREATE TABLE IF NOT EXISTS kept (what text)")
        connection.execute("INSERT INTO kept VALUES ('a recipe')")
    yield made
    clusters.stop(made)


def connect(cluster: Cluster) -> psycopg.Connection[tuple[str]]:
    return psycopg.connect(cluster.get_url("kept").replace("+psycopg", ""))


def check_kept(cluster: Cluster) -> None:
    with connect(cluster) as connection:
        assert connection.execute("SELECT what FROM kept").fetchone() == ("a recipe",)


def find_postmaster(cluster: Cluster) -> int:
    return int((cluster.data / "postmaster.pid").read_text().splitlines()[0])


def test_it_starts_again_after_kill_9_with_a_backend_left_busy(own: Cluster) -> None:
    with connect(own) as busy:
        backend = busy.info.backend_pid
        os.kill(backend, signal.SIGSTOP)
        os.kill(find_postmaster(own), signal.SIGKILL)
        clusters.start(own)
        check_kept(own)
        with pytest.raises(psycopg.OperationalError):
            busy.execute("SELECT 1")


def test_a_stale_pid_file_that_names_a_stranger_is_met_and_the_stranger_lives(own: Cluster) -> None:
    clusters.stop(own)
    pid_file = own.data / "postmaster.pid"
    pid_file.write_text(f"{os.getpid()}\n{own.data}\n0\n1\n\n127.0.0.1\n0\n")
    clusters.start(own)
    check_kept(own)


def test_another_port_is_taken_when_ours_is_stolen(own: Cluster) -> None:
    clusters.stop(own)
    port = int(own.port_file.read_text())
    with socket.socket() as thief:
        thief.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        thief.bind(("127.0.0.1", port))
        thief.listen()
        clusters.start(own)
        assert int(own.port_file.read_text()) != port
        check_kept(own)


def test_it_listens_on_loopback_only_and_wants_the_password(own: Cluster) -> None:
    assert own.password_file.stat().st_mode & 0o777 == 0o600
    with connect(own) as connection:
        assert connection.execute("SHOW listen_addresses").fetchone() == ("127.0.0.1",)
        assert connection.execute("SHOW unix_socket_directories").fetchone() == ("",)
    wrong = own.get_url("kept").replace("+psycopg", "").replace(own.password_file.read_text(), "guess")
    with pytest.raises(psycopg.OperationalError, match="password authentication failed"):
        psycopg.connect(wrong)
