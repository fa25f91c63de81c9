"""Stems at the door: counts as they are said, what can have come in, a bucket's label, and what was rejected."""

from datetime import date
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mirvel.core.buying.receiving import check_counts, get_label, get_shared_advice, read_stems
from mirvel.core.buying.variance import Bought, get_report
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.values.problems import BadInput


@pytest.mark.parametrize(
    ("typed", "stems"),
    [
        ("60", 60), (" 4 bunches ", 100), ("4b", 100), ("1 bunch", 25), ("3 bu.", 75), ("50 stems", 50), ("1 st", 1),
        ("0", 0), ("100000", 100_000), ("4000 b", 100_000),
    ],
)  # fmt: skip
def test_counts_as_they_are_said(typed: str, stems: int) -> None:
    """Bunches of 25, as roses come: common practice, no published source."""
    assert read_stems(typed, 25) == stems


@pytest.mark.parametrize("typed", ["", "many", "-3", "2.5", "1e3", "٣", "100001", "4001 b", "1234567"])
def test_what_is_no_count_says_so(typed: str) -> None:
    with pytest.raises(BadInput) as caught:
        read_stems(typed, 25)
    assert [(each.field, bool(each.mend)) for each in caught.value.problems] == [("stems", True)]


@pytest.mark.parametrize(("received", "rejected"), [(0, 0), (1, 0), (1, 1), (100_000, 100_000)])
def test_counts_that_can_be(received: int, rejected: int) -> None:
    check_counts(received, rejected)


@pytest.mark.parametrize(
    ("received", "rejected", "field"),
    [(-1, 0, "stems"), (100_001, 0, "stems"), (5, 6, "rejected"), (5, -1, "rejected")],
)
def test_counts_that_cannot_be_name_their_field(received: int, rejected: int, field: str) -> None:
    with pytest.raises(BadInput) as caught:
        check_counts(received, rejected)
    assert [each.field for each in caught.value.problems] == [field]


def test_a_label_says_until_when_and_what_to_mind(catalogue: Catalogue) -> None:
    """By hand: five days from 27 February of a year without a 29th are 4 March."""
    rose = catalogue.materials["rose-standard"].model_copy(update={"life_min_days": 5, "hazards": ("thorns",)})
    label = get_label(rose, "red", 25, date(2026, 2, 27))
    assert (label.use_by, label.stems, label.came_in) == (date(2026, 3, 4), 25, date(2026, 2, 27))
    assert label.colour_code == rose.colours["red"]
    assert label.ready_after_hours == rose.condition_hours
    assert len(label.cautions) == 1
    assert 1 <= len(label.care) <= 5
    assert set(label.care) <= set(rose.conditioning)
    lasting = get_label(rose.model_copy(update={"life_min_days": None}), "puce", 1, date(2026, 2, 27))
    assert lasting.use_by is None
    assert lasting.colour_code == "#ffffff"


def test_advice_is_told_once_only_where_it_holds_for_all(catalogue: Catalogue) -> None:
    rose, tulip = catalogue.materials["rose-standard"], catalogue.materials["tulip"]
    shared = get_shared_advice([rose, tulip])
    assert set(shared) == set(rose.conditioning) & set(tulip.conditioning)
    assert get_shared_advice([rose, rose]) == rose.conditioning
    bare = rose.model_copy(update={"conditioning": tulip.conditioning[:1]})
    assert set(get_shared_advice([rose, rose, bare])) == set(rose.conditioning) & set(tulip.conditioning[:1])
    assert get_shared_advice([rose]) == get_shared_advice([]) == ()
    assert get_shared_advice([rose, rose.model_copy(update={"conditioning": ()})]) == ()


def test_the_share_rejected_by_hand() -> None:
    """25 and 75 stems, of which 5 and 15 were rejected: a fifth."""
    bought = [Bought(n, r, Decimal(1), Decimal(1), Decimal(0)) for n, r in ((25, 5), (75, 15))]
    assert get_report(bought).rejected_share == Decimal("0.2")
    assert get_report([]).rejected_share == 0


@given(stems=st.integers(1, 500), dump=st.decimals(Decimal(0), Decimal("0.5"), places=2))
def test_bought_at_the_standard_and_dumped_as_reckoned_is_no_variance(stems: int, dump: Decimal) -> None:
    """Identity of standard costing: at the standard price, with just the dump reckoned with, nothing is over."""
    hundred = stems * 100
    report = get_report([Bought(hundred, int(hundred * dump), Decimal("0.80"), Decimal("0.80"), dump)])
    assert report.variance.price == 0
    assert abs(report.variance.usage) < Decimal("1e-15")
