"""The daily price feed: asked by itself once a day and by hand, taken in whole or not at all.

What cannot be read, or has a row that a person has to look at, changes nothing: yesterday's costs stay in force, and
the pages say so.
"""

import threading
from dataclasses import dataclass
from datetime import datetime, timedelta

import structlog

from mirvel.core.buying.supplier import ListChoices
from mirvel.core.values.problems import MirvelError
from mirvel.devices.asking import ask
from mirvel.exchange.price_feed import FEED_MAPPING, SUFFIX, parse_feed
from mirvel.settings import Settings
from mirvel.store.price_lists import StaleReview, get_review_digest
from mirvel.store.shop import Shop
from mirvel.store.suppliers import SavedSupplier
from mirvel.web.drifting import Drifter
from mirvel.web.suppliers.reading import get_lines

log = structlog.get_logger()
LOOK_EVERY_S = 30.0
MOST_AHEAD = timedelta(days=7)
AGAIN_AFTER = timedelta(minutes=15)
STAYS = "Costs stay as they were before."


@dataclass(frozen=True)
class Pulled:
    """What came of asking."""

    went_well: bool
    said: str
    price_list_id: int | None = None


def get_feed_trouble(shop: Shop) -> str:
    """What to say on the pages where the last asking went wrong; nothing where it went well."""
    pulls = shop.price_lists.load_pulls(1)
    if not pulls or pulls[0].went_well:
        return ""
    return f"Price feed, {pulls[0].made_at.astimezone():%d %b %H:%M}: {pulls[0].said}"


class Feeder:
    """Asks the feed when it is due, in a thread of its own, or at once when told."""

    def __init__(self, settings: Settings, shop: Shop, drifter: Drifter) -> None:
        self._settings, self._shop, self._drifter = settings, shop, drifter
        self._ended, self._asking = threading.Event(), threading.Lock()
        self._thread = threading.Thread(target=self._run, name="feeder", daemon=True)

    def start(self) -> None:
        if self._settings.feed_url:
            self._thread.start()

    def stop(self) -> None:
        self._ended.set()
        if self._thread.is_alive():
            self._thread.join(timeout=self._settings.feed_patience_s + 2)

    def pull(self) -> Pulled:
        """Ask now; what came of it is noted too."""
        with self._asking:
            try:
                pulled = self._take_in()
            except MirvelError as error:
                pulled = Pulled(went_well=False, said=f"{error} {STAYS}")
            self._shop.price_lists.add_pull(
                went_well=pulled.went_well, said=pulled.said, price_list_id=pulled.price_list_id
            )
        log.info("price feed", went_well=pulled.went_well, said=pulled.said)
        self._drifter.poke()
        return pulled

    def is_due(self, now: datetime) -> bool:
        """Whether today's prices are still to be had, and it is not too soon after an asking that failed."""
        pulls = self._shop.price_lists.load_pulls(1)
        if now.time() < self._settings.feed_at or not self._find_supplier():
            return False
        if not pulls:
            return True
        last = pulls[0].made_at.astimezone(now.tzinfo)
        settled = pulls[0].went_well or pulls[0].price_list_id is not None
        return last.date() < now.date() or (not settled and now - last > AGAIN_AFTER)

    def _run(self) -> None:
        wait_s = 0.5
        while not self._ended.wait(wait_s):
            wait_s = LOOK_EVERY_S
            try:
                if self.is_due(self._shop.get_now()):
                    self.pull()
            except MirvelError as error:
                log.warning("price feed not asked", reason=str(error))
            except Exception:
                log.exception("price feed not asked")

    def _find_supplier(self) -> SavedSupplier | None:
        return next((each for each in self._shop.suppliers.load_all() if each.supplier.has_feed), None)

    def _take_in(self) -> Pulled:
        """Raises MirvelError where nothing could be had or used."""
        supplier = self._find_supplier()
        if not self._settings.feed_url or supplier is None:
            return Pulled(went_well=False, said=f"No price feed is set up. {STAYS}")
        content = ask("price feed", self._settings.feed_url, patience_s=self._settings.feed_patience_s)
        feed = parse_feed(content)
        choices = ListChoices(mapping=FEED_MAPPING.model_copy(update={"currency": feed.currency}))
        lists, name = self._shop.price_lists, f"{feed.day.isoformat()}{SUFFIX}"
        today = self._shop.get_today()
        if not timedelta() <= feed.day - today <= MOST_AHEAD:
            return Pulled(went_well=False, said=f"The feed has the prices of {feed.day:%d %b %Y}. {STAYS}")
        currency = self._shop.load_rules().currency
        if feed.currency != currency:
            return Pulled(
                went_well=False, said=f"The feed is in {feed.currency}, the shop reckons in {currency}. {STAYS}"
            )
        list_id = lists.add(supplier.id, name, content, feed.day, choices)
        saved = lists.load(list_id)
        found = lists.review(list_id, get_lines(saved))
        if found.blocking:
            said = f"{len(found.blocking)} of {len(found.rows)} prices need a look, so none was taken in. {STAYS}"
            return Pulled(went_well=False, said=said, price_list_id=list_id)
        try:
            lists.take_in(list_id, get_lines(saved), digest=get_review_digest(found, saved), today=today)
        except StaleReview:
            return Pulled(went_well=False, said=f"Costs changed meanwhile; ask again. {STAYS}", price_list_id=list_id)
        said = f"{len(found.rows)} prices read, {len(found.taken_in)} of them new."
        return Pulled(went_well=True, said=said, price_list_id=list_id)
