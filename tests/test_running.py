"""./run as people use it: the demo from a path with a space, killed and begun again, ended with Ctrl-C and by stop."""

import os
import re
import select
import signal
import subprocess
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest

from mirvel.settings import PROJECT_ROOT, Settings
from mirvel.store import cluster as clusters
from tests.serving import call, open_client

DATA = Settings().get_wanted_data_dir() / "tests with a space"


@contextmanager
def running(folder: Path) -> Iterator[tuple[subprocess.Popen[str], str]]:
    """./run demo begun from another working directory; gives the process and the address it prints."""
    environment = {**os.environ, "MIRVEL_DATA_DIR": str(DATA), "MIRVEL_PORT": "0", "MIRVEL_LOG_LEVEL": "WARNING"}
    process = subprocess.Popen(
        [str(PROJECT_ROOT / "run"), "demo"], cwd=folder, env=environment, stdout=subprocess.PIPE, text=True
    )
    try:
        assert process.stdout
        ready, _, _ = select.select([process.stdout], [], [], 180)
        assert ready, "it prints its address"
        found = re.search(r"http://127\.0\.0\.1:\d+", process.stdout.readline())
        assert found
        yield process, found[0]
    finally:
        process.kill()
        process.wait(10)
        if process.stdout:
            process.stdout.close()


@pytest.fixture(autouse=True, scope="module")
def _stopped_in_the_end() -> Iterator[None]:
    yield
    clusters.stop(clusters.find_cluster(DATA, None))


def test_what_was_saved_survives_kill_9_and_a_database_that_dies_and_ctrl_c(tmp_path: Path) -> None:
    with running(tmp_path) as (process, address):
        fields = {"name": "Kept 28", "price_point": "28", "container": "cube-10", "mechanics": "foam"}
        page = call("POST", f"{address}/recipes", data=fields).headers["location"]
        process.send_signal(signal.SIGKILL)
        process.wait(10)
    with running(tmp_path) as (process, address):
        cluster = clusters.find_cluster(DATA, None)
        os.kill(int((cluster.data / "postmaster.pid").read_text().splitlines()[0]), signal.SIGKILL)
        with open_client(address) as client:
            answers = (client.get("/buckets") for _ in range(2000))
            first = next(answer for answer in answers if answer.status_code != 200)
            assert first.status_code == 503
            assert "bringing it back" in first.text
            assert any(answer.status_code == 200 for answer in answers)
        assert call("GET", address + "/healthz").json()["status"] == "up"
        assert "Kept 28" in call("GET", address + page).text
        assert call("GET", address + "/").text.count('class="standing') >= 6
        process.send_signal(signal.SIGINT)
        assert process.wait(20) == 0
    assert not (cluster.data / "postmaster.pid").exists()


def test_a_second_start_says_where_the_first_is_and_stop_is_harmless_twice(tmp_path: Path) -> None:
    with running(tmp_path) as (process, address):
        with running(tmp_path) as (second, same):
            assert second.wait(20) == 0
            assert same == address
        environment = {**os.environ, "MIRVEL_DATA_DIR": str(DATA)}
        for _ in range(2):
            subprocess.run([str(PROJECT_ROOT / "run"), "stop"], env=environment, check=True, timeout=60)
        assert process.wait(20) == 0


@pytest.mark.parametrize(
    ("name", "value", "said"),
    [
        ("MIRVEL_PORT", "front door", "MIRVEL_PORT is not a whole number (front door)."),
        ("MIRVEL_DATABASE_URL", "postgresql+psycopg://x:x@127.0.0.1:1/x", "The database does not answer"),
        ("MIRVEL_DATA_DIR", "/proc/none", "Set MIRVEL_DATA_DIR to a folder you may write to."),
    ],
)
def test_a_start_that_cannot_be_says_what_to_set(name: str, value: str, said: str) -> None:
    environment = {**os.environ, "MIRVEL_DATA_DIR": str(DATA), name: value}
    command = [str(PROJECT_ROOT / "run"), "demo"]
    answer = subprocess.run(command, env=environment, capture_output=True, text=True, timeout=180)
    assert answer.returncode == 1
    assert said in answer.stderr
    assert "Traceback" not in answer.stderr


def test_an_unknown_command_says_which_there_are() -> None:
    answer = subprocess.run([str(PROJECT_ROOT / "run"), "dance"], capture_output=True, text=True)
    assert answer.returncode == 2
    assert "Usage: ./run COMMAND" in answer.stderr
