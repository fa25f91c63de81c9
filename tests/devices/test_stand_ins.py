"""The stand-ins, and how the app takes what they do: fail, stall and rubbish change nothing and are told."""

import threading
from collections.abc import Iterator
from datetime import datetime, time, timedelta
from decimal import Decimal
from pathlib import Path

import pytest
from pypdf import PdfReader

from mirvel.core.buying.review import GoodRef
from mirvel.core.goods.catalogue import GoodsKind
from mirvel.devices.asking import DeviceTrouble, ask
from mirvel.devices.label_printer import LabelPrinter
from mirvel.devices.price_feed import PATH
from mirvel.devices.stand_in import StandIn
from mirvel.settings import Settings
from mirvel.store.shop import Shop
from mirvel.web.app import create_app
from mirvel.web.drifting import Drifter, reckon_all
from mirvel.web.feeding import Feeder, get_feed_trouble
from tests.serving import begin_stand_in, call, open_client, serve

ROSE = GoodRef(GoodsKind.MATERIALS, "rose-standard")


@pytest.fixture
def printer(tmp_path: Path) -> Iterator[StandIn]:
    yield from begin_stand_in(LabelPrinter(tmp_path / "labels"))


def get_rose(shop: Shop) -> Decimal:
    return shop.goods.load().catalogue.materials[ROSE.slug].cost


def test_a_dear_monday_reaches_the_costs_and_every_recipes_money(feed: StandIn, feeder: Feeder, shop: Shop) -> None:
    assert feeder.pull().went_well
    usual = get_rose(shop)
    call("POST", feed.url + "/mode", content="mode=dear")
    assert feeder.pull().went_well
    assert round(get_rose(shop) / usual, 2) == Decimal("1.33")
    assert reckon_all(shop, threading.Event()) == len(shop.load_recipes())
    wrong = {each.name: each.drift for each in shop.repairs.load_false(shop.goods.load().costs)}
    assert wrong["Fender 58"].causes[0].name == "Rose"
    assert reckon_all(shop, threading.Event()) == 0
    assert get_feed_trouble(shop) == ""


@pytest.mark.parametrize(
    ("mode", "said"),
    [
        ("fail", "answered with error 500"),
        ("stall", "did not answer within 0.4 s"),
        ("rubbish", "is not as agreed"),
        ("absurd", "1 of 49 prices need a look"),
    ],
)
def test_trouble_keeps_yesterdays_costs_and_says_so(
    feed: StandIn, feeder: Feeder, shop: Shop, mode: str, said: str
) -> None:
    feeder.pull()
    before = shop.goods.load().costs
    feed.set_mode(mode)
    pulled = feeder.pull()
    assert not pulled.went_well
    assert said in pulled.said
    assert "Costs stay as they were" in get_feed_trouble(shop)
    assert shop.goods.load().costs == before
    assert (pulled.price_list_id is not None) == (mode == "absurd")  # what needs a look is kept to be looked at


def test_the_feed_is_due_once_a_day_after_its_hour_and_again_a_while_after_trouble(
    feed: StandIn, feeder: Feeder, shop: Shop
) -> None:
    noon = datetime(2026, 3, 2, 12).astimezone()
    assert [feeder.is_due(noon.replace(hour=hour)) for hour in (4, 6)] == [False, True]
    all_day = Feeder(Settings(feed_url=feed.url + PATH, feed_at=time(0)), shop, Drifter(shop))
    feed.set_mode("fail")
    all_day.pull()
    now = datetime.now().astimezone()
    assert [all_day.is_due(now + later) for later in (timedelta(), timedelta(minutes=16))] == [False, True]
    feed.set_mode("well")
    all_day.pull()
    now = datetime.now().astimezone()
    assert [all_day.is_due(now + later) for later in (timedelta(), timedelta(days=1))] == [False, True]


def test_the_label_printer_keeps_what_it_prints_and_says_when_it_cannot(printer: StandIn, tmp_path: Path) -> None:
    url = printer.url + "/print"
    ask("label printer", url, patience_s=2, send=b"%PDF-1.7 /Type /Page ", kind="application/pdf")
    assert [file.name for file in (tmp_path / "labels").iterdir()] == ["labels-0001.pdf"]
    with pytest.raises(DeviceTrouble, match="not a PDF"):
        ask("label printer", url, patience_s=2, send=b"hello", kind="text/plain")
    printer.set_mode("empty")
    with pytest.raises(DeviceTrouble, match="out of labels"):
        ask("label printer", url, patience_s=2, send=b"%PDF-", kind="application/pdf")


def test_a_device_that_is_not_there_is_told_in_words() -> None:
    with pytest.raises(DeviceTrouble, match="cannot be reached"):
        ask("price feed", "http://127.0.0.1:1/prices", patience_s=1)
    with pytest.raises(DeviceTrouble, match=r"cannot be reached|no usable address"):
        ask("price feed", "nowhere", patience_s=1)


def test_an_unknown_mode_is_refused(feed: StandIn) -> None:
    answer = call("POST", feed.url + "/mode", content="mode=asleep")
    assert (answer.status_code, feed.mode) == (422, "well")


@pytest.mark.parametrize(
    ("was", "now", "said"),
    [
        ('"day": "', '"day": "1999-01-01", "was": "', "has the prices of 01 Jan 1999"),
        ('"currency": "\\u00a3"', '"currency": "$"', "is in $, the shop reckons in £"),
    ],
)
def test_a_feed_of_another_day_or_currency_is_left_alone(
    feed: StandIn, feeder: Feeder, shop: Shop, monkeypatch: pytest.MonkeyPatch, was: str, now: str, said: str
) -> None:
    usual = feed.get(PATH)[2].decode()
    assert was in usual
    monkeypatch.setattr(feed, "get", lambda path: (200, "application/json", usual.replace(was, now).encode()))
    pulled = feeder.pull()
    assert not pulled.went_well
    assert said in pulled.said
    assert get_rose(shop) == Decimal("0.60")


def test_labels_go_from_the_page_to_the_printer_and_its_trouble_is_told(
    printer: StandIn, shop: Shop, tmp_path: Path
) -> None:
    app = create_app(Settings(label_printer_url=printer.url + "/print"), shop)
    with serve(app) as address, open_client(address) as web:
        assert "there is nothing to label" in web.post("/receiving/print", data={}).text
        web.post("/receiving", data={"supplier": "1"})
        web.post("/receiving/1/add", data={"material": "Rose", "colour": "red", "stems": "2 b"})
        assert "1 label sent to the printer." in web.post("/receiving/print", data={}).text
        printed = PdfReader(tmp_path / "labels" / "labels-0001.pdf")
        assert "50 stems" in printed.pages[0].extract_text()
        printer.set_mode("empty")
        answer = web.post("/receiving/print", data={})
        assert answer.status_code == 422
        assert "out of labels" in answer.text
        assert "Nothing is lost" in answer.text


def test_the_feed_is_asked_from_the_page_and_its_trouble_stands_on_every_page_that_shows_costs(
    feed: StandIn, shop: Shop
) -> None:
    settings = Settings(feed_url=feed.url + PATH, feed_at=time(23, 59, 59), feed_patience_s=20)
    with (
        serve(create_app(settings, shop)) as address,
        open_client(address, follow_redirects=True) as web,
    ):
        feed.set_mode("rubbish")
        assert "is not as agreed" in web.post("/suppliers/feed/pull").text
        for path in ("/", "/buckets"):
            assert "Costs stay as they were before." in web.get(path).text
        feed.set_mode("absurd")
        page = web.post("/suppliers/feed/pull").text
        assert "1 of 49 prices need a look" in page
        assert "times the cost in force" in web.get("/suppliers/lists/1").text
        feed.set_mode("well")
        assert "49 prices read" in web.post("/suppliers/feed/pull").text
        assert "Price feed," not in web.get("/").text
