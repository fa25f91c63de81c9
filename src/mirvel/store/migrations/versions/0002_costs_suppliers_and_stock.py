"""Costs with their history, suppliers, price lists, deliveries, stock; goods that can be searched."""

import json
from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import ARRAY, JSONB, TIMESTAMP

revision = "0002"
down_revision = "0001"

_STARTING = "starting value"


def upgrade() -> None:
    op.execute("CREATE EXTENSION IF NOT EXISTS pg_trgm")
    _make_suppliers()
    _make_prices()
    _make_goods_findable()
    _make_deliveries()
    _keep_true_costs()


def _id() -> sa.Column[Any]:
    return sa.Column("id", sa.Integer, sa.Identity(), primary_key=True)


def _made_at() -> sa.Column[Any]:
    return sa.Column("made_at", TIMESTAMP(timezone=True), server_default=sa.func.now(), nullable=False)


def _supplier(*, nullable: bool = False) -> sa.Column[Any]:
    return sa.Column("supplier_id", sa.Integer, sa.ForeignKey("suppliers.id"), nullable=nullable, index=not nullable)


def _money(name: str) -> sa.Column[Any]:
    return sa.Column(name, sa.Numeric(14, 4), nullable=False)


def _make_suppliers() -> None:
    op.create_table(
        "suppliers",
        _id(),
        sa.Column("name", sa.String(80), nullable=False, unique=True),
        sa.Column("document", JSONB, nullable=False),
    )
    op.create_table(
        "supplier_articles",
        sa.Column("supplier_id", sa.Integer, sa.ForeignKey("suppliers.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("article", sa.String(200), primary_key=True),
        sa.Column("kind", sa.String(20)),
        sa.Column("slug", sa.String(60)),
    )
    op.create_table(
        "price_lists",
        _id(),
        _supplier(),
        sa.Column("file_name", sa.String(200), nullable=False),
        sa.Column("content", sa.LargeBinary, nullable=False),
        sa.Column("since", sa.Date, nullable=False),
        sa.Column("state", sa.String(20), nullable=False),
        sa.Column("document", JSONB, nullable=False),
        _made_at(),
        sa.Column("taken_in_at", TIMESTAMP(timezone=True)),
    )
    op.create_table(
        "feed_pulls",
        _id(),
        _made_at(),
        sa.Column("went_well", sa.Boolean, nullable=False),
        sa.Column("said", sa.String(400), nullable=False),
        sa.Column("price_list_id", sa.Integer, sa.ForeignKey("price_lists.id")),
    )


def _make_prices() -> None:
    op.create_table(
        "prices",
        _id(),
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("slug", sa.String(60), nullable=False),
        _supplier(nullable=True),
        sa.Column("since", sa.Date, nullable=False),
        _money("pack_price"),
        _money("pack_size"),
        _money("freight"),
        _money("dump"),
        _money("cost"),
        sa.Column("counts", sa.Boolean, nullable=False),
        sa.Column("source", sa.String(200), nullable=False),
        _made_at(),
        sa.ForeignKeyConstraint(["kind", "slug"], ["goods.kind", "goods.slug"], name="fk_prices_goods"),
    )
    op.create_index("ix_prices_in_force", "prices", ["kind", "slug", sa.text("since DESC"), sa.text("id DESC")])
    # What goods cost so far becomes their first price, known since before anything was recorded.
    op.execute(
        f"""
        INSERT INTO prices (kind, slug, since, pack_price, pack_size, freight, dump, cost, counts, source)
        SELECT kind, slug, DATE '2000-01-01', (document->>'cost')::numeric, 1, 0, 0, (document->>'cost')::numeric,
               true, '{_STARTING}'
        FROM goods
        """
    )
    op.create_table(
        "versions",
        sa.Column("id", sa.Integer, primary_key=True, autoincrement=False),
        sa.Column("facts", sa.Integer, nullable=False),
        sa.Column("costs", sa.Integer, nullable=False),
        sa.Column("costs_on", sa.Date, nullable=False),
    )
    op.execute("INSERT INTO versions (id, facts, costs, costs_on) VALUES (1, 1, 1, DATE '2000-01-01')")


def _make_goods_findable() -> None:
    text, number, flag = sa.Text, sa.Integer, sa.Boolean
    columns: list[tuple[str, Any, str]] = [
        ("name", sa.String(80), "''"),
        ("words", text, "''"),
        ("form", sa.String(20), "''"),
        ("roles", ARRAY(sa.String), "'{}'"),
        ("colours", ARRAY(sa.String), "'{}'"),
        ("season", ARRAY(sa.SmallInteger), "'{1,2,3,4,5,6,7,8,9,10,11,12}'"),
        ("scent", sa.SmallInteger, "0"),
        ("safe_with_cats", flag, "true"),
        ("pieces_per_stem", number, "1"),
        ("stock", number, "0"),
        ("retired", flag, "false"),
        ("changed", number, "1"),
    ]
    for name, kind, default in columns:
        op.add_column("goods", sa.Column(name, kind, nullable=False, server_default=sa.text(default)))
    op.add_column("goods", sa.Column("cost", sa.Numeric(14, 4)))
    op.add_column("goods", sa.Column("bought_from", sa.Integer, sa.ForeignKey("suppliers.id")))
    op.execute(
        """
        UPDATE goods SET
          cost = (document->>'cost')::numeric,
          name = document->>'name',
          words = lower(concat_ws(' ', document->>'name', document->>'botanical_name', document->>'form',
                                  document->>'habit', document->>'default_role')),
          form = coalesce(document->>'form', document->>'shape', ''),
          roles = array_remove(ARRAY[document->>'default_role']::varchar[], NULL),
          colours = coalesce((SELECT array_agg(key) FROM jsonb_object_keys(document->'colours') AS key), '{}'),
          pieces_per_stem = coalesce((document->>'pieces_per_stem')::int, 1),
          document = document - 'cost'
        """
    )
    op.alter_column("goods", "document", type_=sa.JSON, postgresql_using="document::json")
    op.create_index(
        "ix_goods_words", "goods", ["words"], postgresql_using="gin", postgresql_ops={"words": "gin_trgm_ops"}
    )
    op.create_index("ix_goods_name", "goods", ["kind", "name"])
    op.create_table(
        "stock",
        sa.Column("slug", sa.String(60), primary_key=True),
        sa.Column("colour", sa.String(40), primary_key=True),
        sa.Column("stems", number, nullable=False),
    )


def _make_deliveries() -> None:
    op.create_table(
        "deliveries", _id(), _supplier(), sa.Column("on_day", sa.Date, nullable=False, index=True), _made_at()
    )
    op.create_table(
        "delivery_lines",
        _id(),
        sa.Column(
            "delivery_id", sa.Integer, sa.ForeignKey("deliveries.id", ondelete="CASCADE"), nullable=False, index=True
        ),
        sa.Column("slug", sa.String(60), nullable=False, index=True),
        sa.Column("colour", sa.String(40), nullable=False),
        sa.Column("received", sa.Integer, nullable=False),
        sa.Column("rejected", sa.Integer, nullable=False),
        sa.Column("reason", sa.String(200), nullable=False),
        _money("paid"),
        _money("dump"),
    )


def _keep_true_costs() -> None:
    """Every state so far was made at the costs the goods have now."""
    op.add_column("recipe_states", sa.Column("true_costs", JSONB, nullable=False, server_default=sa.text("'{}'")))
    op.create_table(
        "drifts",
        sa.Column("recipe_id", sa.Integer, sa.ForeignKey("recipes.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("state_id", sa.Integer, nullable=False),
        sa.Column("costs", sa.Integer, nullable=False),
        sa.Column("document", JSONB, nullable=False),
    )
    connection = op.get_bind()
    costs = {
        f"{kind}/{slug}": str(cost)
        for kind, slug, cost in connection.execute(sa.text("SELECT kind, slug, cost FROM goods WHERE cost IS NOT NULL"))
    }
    connection.execute(
        sa.text(
            "UPDATE recipe_states SET true_costs = CAST(:costs AS jsonb) "
            "WHERE id IN (SELECT current_state_id FROM recipes)"
        ),
        {"costs": json.dumps(costs)},
    )
