"""``./run stop``, and ``./run demo`` where there is nothing to begin: what runs already, and ending it. Neither loads
the app, which takes seconds."""

import os
import select
import signal
import sys
from contextlib import suppress
from pathlib import Path

from pydantic import ValidationError

from mirvel.core.values.problems import MirvelError, get_problems
from mirvel.logs import set_up_logs
from mirvel.settings import Settings
from mirvel.store import cluster as clusters

PID_FILE = "app.pid"


def stop(settings: Settings) -> int:
    """End the app and the database that ``demo`` began, if they still run."""
    pid_file = settings.get_wanted_data_dir() / PID_FILE
    if find_running(settings):
        process = int(pid_file.read_text().split()[0])
        with suppress(ProcessLookupError):
            os.kill(process, signal.SIGTERM)
            _wait_for_end(process)
    pid_file.unlink(missing_ok=True)
    stop_database(settings)
    return 0


def find_cluster(settings: Settings) -> clusters.Cluster:
    return clusters.find_cluster(settings.get_wanted_data_dir(), settings.postgres_bin)


def find_running(settings: Settings) -> str | None:
    """The address of the app that ``demo`` began from this data folder, if it still runs."""
    try:
        process, address = (settings.get_wanted_data_dir() / PID_FILE).read_text().split()
    except (OSError, ValueError):
        return None
    return address if _is_our_app(int(process)) else None


def stop_database(settings: Settings) -> None:
    if not settings.database_url:
        clusters.stop(find_cluster(settings))


def _is_our_app(process: int) -> bool:
    """Whether a process is a Mirvel app, and not a stranger that got its number."""
    try:
        words = Path(f"/proc/{process}/cmdline").read_bytes().split(b"\0")
    except OSError:
        return False
    return b"mirvel" in words and b"demo" in words


def _wait_for_end(process: int) -> None:
    handle = os.pidfd_open(process)
    try:
        select.select([handle], [], [], 10.0)
    finally:
        os.close(handle)


def demo(settings: Settings) -> int:
    """Serve the demo shop, or say where that is done already."""
    running = find_running(settings)
    if running:
        print(f"Mirvel is already at {running}  (./run stop ends it)", flush=True)
        return 0
    from mirvel import serve  # the app is loaded where it is begun

    return serve.demo(settings)


def main() -> int:
    """Run ``demo`` or ``stop``."""
    try:
        settings = Settings()
        set_up_logs(settings)
        return {"demo": demo, "stop": stop}[sys.argv[1]](settings)
    except ValidationError as error:
        for problem in get_problems(error):
            print(f"MIRVEL_{problem.field.upper().replace(' ', '_')} {problem.message} {problem.mend}", file=sys.stderr)
    except MirvelError as error:
        print(error, file=sys.stderr)
    return 1
