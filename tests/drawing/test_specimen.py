"""Small drawings of single goods to the scale they say, and the plot of what a good has cost."""

import re
import xml.etree.ElementTree as ET
from datetime import date, timedelta
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mirvel.core.buying.costs import PurchasePrice, Terms
from mirvel.core.goods.catalogue import Catalogue
from mirvel.drawing.history import HEIGHT, WIDTH, draw_history
from mirvel.drawing.specimen import BOX, TICK_CM, draw_container, draw_material, get_scale
from tests import strategies

SVG = "{http://www.w3.org/2000/svg}"
TODAY = date(2026, 3, 2)


def get_tick(svg: str) -> float:
    """Length of the ruler tick, box units, read off its path."""
    data = list(ET.fromstring(svg).iter(f"{SVG}path"))[-1].get("d", "")
    found = re.search(r"h(-?[\d.]+)", data)
    assert found
    return float(found[1])


def test_every_good_is_drawn_with_a_tick_of_five_centimetres(catalogue: Catalogue) -> None:
    for material in catalogue.materials.values():
        for colour in material.colours:
            svg = draw_material(material, colour)
            root = ET.fromstring(svg)
            assert material.name in (root.findtext(f"{SVG}title") or "")
            scale = float(re.search(r"matrix\(([\d.]+)", svg)[1])  # type: ignore[index]
            drawn_cm = material.head_length_cm if material.is_axial else material.head_open_cm
            assert get_tick(svg) == pytest.approx(scale * 100 / drawn_cm * TICK_CM, abs=0.15)
    for container in catalogue.containers.values():
        assert container.name in (ET.fromstring(draw_container(container)).findtext(f"{SVG}title") or "")


@given(size=st.floats(0.3, 130))
def test_things_fit_their_box_and_larger_ones_are_never_at_a_larger_scale(size: float) -> None:
    assert size * get_scale(size) <= BOX
    assert get_scale(size) >= get_scale(min(size * 1.5, 130))


def test_colours_of_one_material_differ_only_in_colour(catalogue: Catalogue) -> None:
    rose = catalogue.materials["rose-standard"]
    outlines = {re.sub(r"#[0-9a-f]{6}", "", draw_material(rose, colour)) for colour in rose.colours}
    assert len(outlines) == 1
    assert len({draw_material(rose, colour) for colour in rose.colours}) == len(rose.colours)


def get_points(costs: list[Decimal]) -> list[PurchasePrice]:
    """Prices a week apart, the last one yesterday."""
    first = TODAY - timedelta(days=7 * (len(costs) - 1) + 1)
    return [
        PurchasePrice(
            number, first + timedelta(days=7 * number), cost, Decimal(1), Terms(), cost, None, counts=True, source="t"
        )
        for number, cost in enumerate(costs)
    ]


@given(costs=st.lists(strategies.money("0.01", "9"), min_size=1, max_size=12))
def test_the_plot_steps_where_costs_change_and_as_high_as_they_are(costs: list[Decimal]) -> None:
    root = ET.fromstring(draw_history(get_points(costs), TODAY, "£"))
    dots = [(float(dot.get("cx", "")), float(dot.get("cy", ""))) for dot in root.iter(f"{SVG}circle")]
    assert len(dots) == len(costs)
    assert all(0 <= x <= WIDTH and 0 <= y <= HEIGHT for x, y in dots)
    assert [x for x, _ in dots] == sorted(x for x, _ in dots)
    low = max(float(y) for y in re.findall(r"V(-?[\d.]+)", next(root.iter(f"{SVG}path")).get("d", "")))
    top = max(costs)
    for (_, y), cost in zip(dots, costs, strict=True):
        assert (low - y) / (low - min(y for _, y in dots)) == pytest.approx(float(cost / top), abs=0.01)


def test_an_offer_is_an_open_ring_that_the_line_does_not_follow() -> None:
    counting = get_points([Decimal("0.60"), Decimal("0.80")])
    offer = PurchasePrice(9, TODAY, Decimal("0.1"), Decimal(1), Terms(), Decimal("0.1"), 2, counts=False, source="t")
    with_offer, without = (draw_history(points, TODAY, "£") for points in ([*counting, offer], counting))
    assert with_offer.count('fill="none" stroke="#a82f1c"') + with_offer.count('stroke="#a82f1c"') >= 1

    def get_line(svg: str) -> str:
        return next(
            path.get("d", "") for path in ET.fromstring(svg).iter(f"{SVG}path") if path.get("stroke-width") == "2"
        )

    assert get_line(with_offer) == get_line(without)
    assert draw_history([], TODAY, "£") == ""
