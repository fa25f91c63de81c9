"""Goods as kept: found as plain looking through them would, changed without losing anything, costs of any day."""

from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal
from pathlib import Path

import pytest
from alembic import command
from alembic.config import Config
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlalchemy import create_engine, text

import mirvel.store
from mirvel.core.buying.costs import find_price_on
from mirvel.core.buying.review import GoodRef
from mirvel.core.goods.catalogue import Catalogue, GoodsKind
from mirvel.core.goods.facts import HeadForm, Role
from mirvel.core.goods.material import Material
from mirvel.core.values.problems import BadInput
from mirvel.store import cluster as clusters
from mirvel.store.finding import PAGE, Search
from mirvel.store.migrating import migrate
from mirvel.store.shelving import ShelfSearch
from mirvel.store.shop import LONG_AGO, Shop

ROSE = GoodRef(GoodsKind.MATERIALS, "rose-standard")
TODAY = date.today()


def is_wanted(each: Material, wanted: Search) -> bool:
    """The same question asked of one material in plain Python."""
    return (
        all(word in each.described for word in wanted.text.lower().split())
        and (not wanted.form or each.form == wanted.form)
        and (not wanted.role or wanted.role in each.roles)
        and (not wanted.colour or wanted.colour in each.colours)
        and (not wanted.month or wanted.month in each.season)
        and (not wanted.no_scent or each.scent == 0)
        and (not wanted.safe_with_cats or each.safe_with_cats)
        and (wanted.cost_under is None or each.cost < wanted.cost_under)
    )


WANTED = st.builds(
    Search,
    text=st.sampled_from(["", "rose", "LILY", "rosa hybrids", "greenery", "spike line", "e", "50%", "_"]),
    form=st.sampled_from(["", *HeadForm]),
    role=st.sampled_from(["", *Role]),
    colour=st.sampled_from(["", "white", "apricot", "silver"]),
    month=st.sampled_from([None, 1, 6, 11]),
    no_scent=st.booleans(),
    safe_with_cats=st.booleans(),
    cost_under=st.sampled_from([None, Decimal("0.30"), Decimal(1)]),
)


@settings(max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(wanted=WANTED)
def test_finding_gives_what_looking_through_would(shop: Shop, catalogue: Catalogue, wanted: Search) -> None:
    expected = {each.slug for each in catalogue.materials.values() if is_wanted(each, wanted)}
    found: list[str] = []
    for page in range(1, 6):
        part = shop.goods.find(replace(wanted, page=page))
        found += [] if part.only_alike else part.stock
        assert (0 if part.only_alike else part.total) == len(expected)
        if page * PAGE >= part.total:
            break
    assert len(found) == len(set(found))
    assert set(found) == expected


def test_a_slip_of_the_finger_still_finds_the_flower_and_names_that_begin_so_come_first(shop: Shop) -> None:
    near = shop.goods.find(Search(text="hydrangae"))
    assert near.only_alike
    assert "hydrangea" in near.stock
    roses = list(shop.goods.find(Search(text="rose")).stock)
    assert roses[0] == "rose-standard"
    assert roses.index("rose-garden") < roses.index("brassica")  # found by its form only, rosette


def test_a_changed_good_is_read_anew_and_the_others_are_kept(shop: Shop) -> None:
    before = shop.goods.load()
    rose = before.catalogue.materials[ROSE.slug]
    shop.goods.change(ROSE, lambda good: good.model_copy(update={"bunch_stems": 20}))
    after = shop.goods.load()
    assert (after.catalogue.materials[ROSE.slug].bunch_stems, after.facts) == (20, before.facts + 1)
    assert after.catalogue.materials["tulip"] is before.catalogue.materials["tulip"]
    assert shop.goods.load() is after
    with pytest.raises(BadInput, match="is there already"):
        shop.goods.add(ROSE.kind, rose, since=LONG_AGO)


def test_a_cost_counts_from_its_day_and_the_old_ones_stay_known(shop: Shop) -> None:
    shop.prices.set_by_hand(ROSE, Decimal("0.81"), today=TODAY)
    assert shop.goods.load().catalogue.materials[ROSE.slug].cost == Decimal("0.81")
    history = shop.prices.load_history(ROSE)
    assert [point.cost for point in history] == [Decimal("0.6000"), Decimal("0.8100")]
    yesterday = find_price_on(history, TODAY - timedelta(days=1))
    assert yesterday
    assert yesterday.cost == Decimal("0.60")


def test_a_price_with_a_day_ahead_comes_into_force_on_that_day(shop: Shop) -> None:
    shop.goods.load()
    tomorrow = TODAY + timedelta(days=1)
    with shop.database.transaction() as session:
        session.execute(
            text(
                "INSERT INTO prices (kind, slug, since, pack_price, pack_size, freight, dump, cost, counts, source) "
                "VALUES ('materials', 'tulip', :day, 9, 10, 0, 0, 0.9, true, 'ahead')"
            ),
            {"day": tomorrow},
        )
    assert shop.goods.load().catalogue.materials["tulip"].cost == Decimal("0.42")
    later = shop.goods.load(today=tomorrow)
    assert (later.catalogue.materials["tulip"].cost, later.on_day) == (Decimal("0.9"), tomorrow)
    with shop.database.transaction() as session:  # the counters outlive the test's data
        session.execute(text("UPDATE versions SET costs_on = :day"), {"day": TODAY})


def test_stock_is_counted_by_colour(shop: Shop) -> None:
    shop.goods.set_stock(ROSE.slug, "red", 40)
    shop.goods.set_stock(ROSE.slug, "white", 10)
    shop.goods.set_stock(ROSE.slug, "red", 25)
    assert shop.goods.load_stock(ROSE.slug) == {"red": 25, "white": 10}
    assert shop.goods.find(Search(in_stock=True)).stock == {ROSE.slug: 35}


def test_a_database_of_before_costs_had_a_history_comes_forward_with_its_data(cluster: clusters.Cluster) -> None:
    clusters.make_database(cluster, "forward")
    url = cluster.get_url("forward")
    engine = create_engine(url)
    with engine.begin() as connection:
        connection.execute(text("DROP SCHEMA public CASCADE"))
        connection.execute(text("CREATE SCHEMA public"))
        config = Config()
        config.set_main_option("script_location", str(Path(mirvel.store.__file__).with_name("migrations")))
        config.attributes["connection"] = connection
        command.upgrade(config, "0001")
        connection.execute(
            text(
                "INSERT INTO goods (kind, slug, document) VALUES "
                """('materials', 'rose', '{"slug": "rose", "name": "Rose", "form": "rosette", "default_role": "focal",
                "head_tight_cm": 4, "head_open_cm": 8, "head_length_cm": 4, "pieces_per_stem": 1, "stem_length_cm": 50,
                "stem_diameter_mm": 6, "colours": {"red": "#aa2233"}, "cost": "0.6000"}'),
                ('containers', 'cube-10', '{"slug": "cube-10", "name": "Cube", "shape": "cube", "mouth_cm": 9,
                "base_cm": 10, "depth_cm": 9, "height_cm": 10, "water_ml": 600, "cost": "1.3800"}'),
                ('hard_goods', 'ribbon-38', '{"slug": "ribbon-38", "name": "Ribbon", "cost": "0.1500"}'),
                ('hard_goods', 'ribbon-70', '{"slug": "ribbon-70", "name": "Wide", "ribbon_cm": 6, "cost": "0.2"}')"""
            )
        )
        old = '{"name": "Old 42", "price_point": "42", "brief": {"occasion": "Wake"}}'
        for number, document in enumerate((old, "[]"), 1):
            kept = {"number": number, "document": document}
            state = "INSERT INTO recipe_states (recipe_id, change, document) VALUES (:number, 'begun', :document)"
            connection.execute(text("INSERT INTO recipes DEFAULT VALUES"))
            connection.execute(text(state), kept)
            connection.execute(text("UPDATE recipes SET current_state_id = :number WHERE id = :number"), kept)
    engine.dispose()
    migrate(url)
    shop = Shop(url)
    try:
        goods = shop.goods.load().catalogue
        assert (goods.materials["rose"].cost, goods.containers["cube-10"].is_cornered) == (Decimal("0.6"), True)
        assert [goods.hard_goods[f"ribbon-{wide}"].ribbon_cm for wide in (38, 70)] == [3.8, 6.0]  # its own word is kept
        assert [point.source for point in shop.prices.load_history(GoodRef(GoodsKind.MATERIALS, "rose"))] == [
            "starting value"
        ]
        assert list(shop.goods.find(Search(text="rose", colour="red")).stock) == ["rose"]
        assert shop.shelf.count(ShelfSearch("wake"), "").counts == {Decimal(42): 1}
        assert shop.shelf.count(ShelfSearch(), "").total == 2
    finally:
        shop.database.engine.dispose()
