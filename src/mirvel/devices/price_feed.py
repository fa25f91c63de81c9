"""A stand-in for the wholesaler's daily price feed: docs/price-feed.md describes the document it serves.

Modes: ``well``; ``dear``, roses a third dearer; ``fail``, an error; ``stall``, no answer; ``rubbish``, no document;
``absurd``, one price a hundredfold.
"""

import argparse
import json
import sys
from datetime import date
from decimal import Decimal
from importlib.resources import files

from mirvel.devices.stand_in import StandIn, serve_until_abandoned, to_json

PATH = "/prices/today.json"
LONGEST_STALL_S = 120.0
_DEARER = Decimal("1.33")
_CENT = Decimal("0.01")


class PriceFeed(StandIn):
    """Serves the day's prices of its articles."""

    modes = ("well", "dear", "fail", "stall", "rubbish", "absurd")

    def get(self, path: str) -> tuple[int, str, bytes]:
        """Today's document, or what the mode makes of it."""
        if path != PATH:
            return super().get(path)
        if self.mode == "stall":
            self.wait_while("stall", LONGEST_STALL_S)
        if self.mode == "fail":
            return 500, "text/plain", b"the price service is down"
        if self.mode == "rubbish":
            return 200, "application/json", b'<html>{"articles": [{"code": 7'
        return to_json({"format": "daily prices", "version": 1, "day": date.today().isoformat(), "currency": "\u00a3",
                        "articles": [self._get_article(each) for each in load_articles()]})  # fmt: skip

    def _get_article(self, article: dict[str, str]) -> dict[str, str]:
        price = Decimal(article["price"])
        if self.mode == "dear" and "rose" in article["description"].lower():
            price *= _DEARER
        if self.mode == "absurd" and article["code"].endswith("01"):
            price *= 100
        return {**article, "price": str(price.quantize(_CENT))}


def load_articles() -> list[dict[str, str]]:
    """What the wholesaler sells, at usual prices."""
    found: list[dict[str, str]] = json.loads(files("mirvel.devices").joinpath("articles.json").read_text("utf-8"))
    return found


def main() -> int:
    """Serve until standard input closes."""
    parser = argparse.ArgumentParser(description="A stand-in for the wholesaler's daily price feed.")
    parser.add_argument("--port", type=int, default=0, help="port on loopback; a free one by default")
    serve_until_abandoned(PriceFeed(parser.parse_args().port))
    return 0


if __name__ == "__main__":
    sys.exit(main())
