"""A stand-in for the label printer: takes PDF over HTTP and keeps it in a folder as if it came out on labels.

``POST /print`` with a PDF answers ``{"printed": pages}``. Modes: ``well``; ``empty``, out of labels; ``stall``.
"""

import argparse
import re
import sys
import threading
from pathlib import Path

from mirvel.devices.stand_in import StandIn, serve_until_abandoned, to_json

PATH = "/print"
LONGEST_STALL_S = 120.0


class LabelPrinter(StandIn):
    """Prints into a folder."""

    modes = ("well", "empty", "stall")

    def __init__(self, folder: Path, port: int = 0) -> None:
        super().__init__(port)
        self.folder, self._count, self._lock = folder, 0, threading.Lock()

    def post(self, path: str, body: bytes) -> tuple[int, str, bytes]:
        """Print a document."""
        if path != PATH:
            return super().post(path, body)
        if self.mode == "stall":
            self.wait_while("stall", LONGEST_STALL_S)
        if self.mode == "empty":
            return to_json({"problem": "out of labels"}, 409)
        if not body.startswith(b"%PDF-"):
            return to_json({"problem": "that is not a PDF"}, 415)
        with self._lock:
            self._count += 1
            self.folder.mkdir(parents=True, exist_ok=True)
            (self.folder / f"labels-{self._count:04d}.pdf").write_bytes(body)
        return to_json({"printed": len(re.findall(rb"/Type\s*/Page\b", body)) or 1})


def main() -> int:
    """Serve until standard input closes."""
    parser = argparse.ArgumentParser(description="A stand-in for the label printer.")
    parser.add_argument("folder", type=Path, help="where printed labels are kept")
    parser.add_argument("--port", type=int, default=0, help="port on loopback; a free one by default")
    given = parser.parse_args()
    serve_until_abandoned(LabelPrinter(given.folder, given.port))
    return 0


if __name__ == "__main__":
    sys.exit(main())
