"""Landed cost, the cost of a day, variances, and colours: worked by hand or checked against others' work."""

import warnings
from datetime import date, timedelta
from decimal import Decimal

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mirvel.core.buying.costs import PurchasePrice, Terms, find_price_on, get_landed_cost
from mirvel.core.buying.variance import Bought, get_report, get_variance
from mirvel.core.goods.colours import get_lab
from mirvel.demo import get_catalogue
from tests import strategies

shares = st.decimals(Decimal(0), Decimal("0.6"), places=2)
MONDAY = date(2026, 3, 2)


@pytest.mark.parametrize(
    ("price", "pack", "freight", "dump", "landed"),
    [
        # 20 / 25 = 0.80; with 8 % freight 0.864; 95 of 100 sold: 0.864 / 0.95 = 0.90947…
        ("20", "25", "0.08", "0.05", "0.9095"),
        # 12 / 10 = 1.20; nothing on top
        ("12", "10", "0", "0", "1.2000"),
        # 4.50 / 50 = 0.09; × 1.10 = 0.099; / 0.90 = 0.11
        ("4.50", "50", "0.10", "0.10", "0.1100"),
        # half to even in the fourth place: 0.00005 goes to 0.0000, 0.00015 to 0.0002
        ("0.00005", "1", "0", "0", "0.0000"),
        ("0.00015", "1", "0", "0", "0.0002"),
    ],
)
def test_landed_cost_by_hand(price: str, pack: str, freight: str, dump: str, landed: str) -> None:
    """Bunch price over stems, freight on, dump taken off: common practice, no published source; worked by hand."""
    terms = Terms(freight=Decimal(freight), dump=Decimal(dump))
    assert get_landed_cost(Decimal(price), Decimal(pack), terms) == Decimal(landed)


@given(price=strategies.money("1", "500"), pack=st.integers(1, 100), freight=shares, dump=shares, more=shares)
def test_more_freight_or_dump_never_costs_less(
    price: Decimal, pack: int, freight: Decimal, dump: Decimal, more: Decimal
) -> None:
    plain = get_landed_cost(price, Decimal(pack), Terms(freight=freight, dump=dump))
    assert get_landed_cost(price, Decimal(pack), Terms(freight=freight + more, dump=dump)) >= plain
    assert get_landed_cost(price, Decimal(pack), Terms(freight=freight, dump=min(dump + more, Decimal("0.9")))) >= plain
    assert plain >= get_landed_cost(price, Decimal(pack), Terms(freight=freight, dump=dump).without_dump())


def get_point(number: int, day: int, cost: str, *, counts: bool = True) -> PurchasePrice:
    amount = Decimal(cost)
    since = MONDAY + timedelta(days=day)
    return PurchasePrice(number, since, amount, Decimal(1), Terms(dump=Decimal(0)), amount, None, counts, "trial")


def test_what_does_not_wilt_is_charged_no_dump() -> None:
    """By hand: 10.00 with 8 % freight is 10.80; of stems a tenth is dumped, so those sold carry 12.00."""
    terms = Terms(freight=Decimal("0.08"), dump=Decimal("0.10"))
    assert get_landed_cost(Decimal(10), Decimal(1), terms.without_dump()) == Decimal("10.8000")
    assert get_landed_cost(Decimal(10), Decimal(1), terms) == Decimal("12.0000")
    assert terms.without_dump().freight == terms.freight


def test_the_price_of_a_day_is_the_newest_that_counts_by_then() -> None:
    history = (
        get_point(1, 0, "0.60"),
        get_point(2, 7, "0.80"),
        get_point(3, 7, "0.79"),  # mended the same day
        get_point(4, 3, "0.10", counts=False),  # an offer
        get_point(5, 5, "0.65"),  # recorded later, in force earlier
    )
    costs = []
    for day in (-1, 0, 4, 5, 6, 7, 99):
        found = find_price_on(history, MONDAY + timedelta(days=day))
        costs.append(found and str(found.cost))
    assert costs == [None, "0.60", "0.60", "0.65", "0.65", "0.79", "0.79"]


def test_price_and_usage_variance_of_the_textbook_case() -> None:
    """Standard 20,000 units at 30, actual 22,200 at 28: 44,400 favourable, 66,000 adverse. source:
    cost-accounting, from memory."""
    found = get_variance(Decimal(30), Decimal(20_000), Decimal(28), Decimal(22_200))
    assert (found.price, found.usage) == (Decimal(-44_400), Decimal(66_000))


def test_a_report_sums_purchases_against_what_was_reckoned() -> None:
    """By hand: 100 stems at 0.90 against 0.80 cost 10 more; 91 good ones would have taken 91 / 0.95 = 95.789 stems, so
    4.2105 too many at 0.80 is 3.3684."""
    bought = Bought(100, 9, Decimal("0.90"), Decimal("0.80"), Decimal("0.05"))
    report = get_report([bought, bought])
    assert report.variance.price == Decimal("20.00")
    assert round(report.variance.usage, 4) == Decimal("6.7368")
    assert report.rejected_share == Decimal("0.09")


def test_every_colour_in_cielab_agrees_with_an_independent_library() -> None:
    """Against colour-science (its own sRGB matrix and CIE 1976 L*a*b* under D65). Its reference white is rounded to
    five places, hence the tolerance."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # it tells that it cannot plot here
        import colour
    codes = sorted({code for each in get_catalogue().materials.values() for code in each.colours.values()})
    assert len(codes) > 50
    white = colour.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"]["D65"]
    for code in codes:
        srgb = np.array([int(code[at : at + 2], 16) / 255 for at in (1, 3, 5)])
        expected = colour.XYZ_to_Lab(colour.sRGB_to_XYZ(srgb), white)
        assert np.allclose(get_lab(code), expected, atol=0.02), code
