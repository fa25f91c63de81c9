"""Goods, house rules, and recipes with their states."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB, TIMESTAMP

revision = "0001"
down_revision = None


def upgrade() -> None:
    op.create_table(
        "goods",
        sa.Column("kind", sa.String(20), primary_key=True),
        sa.Column("slug", sa.String(60), primary_key=True),
        sa.Column("document", JSONB, nullable=False),
    )
    op.create_table(
        "house_rules",
        sa.Column("id", sa.Integer, primary_key=True, autoincrement=False),
        sa.Column("document", JSONB, nullable=False),
    )
    op.create_table(
        "recipes",
        sa.Column("id", sa.Integer, sa.Identity(), primary_key=True),
        sa.Column("current_state_id", sa.Integer),
    )
    op.create_table(
        "recipe_states",
        sa.Column("id", sa.Integer, sa.Identity(), primary_key=True),
        sa.Column(
            "recipe_id",
            sa.Integer,
            sa.ForeignKey("recipes.id", ondelete="CASCADE"),
            nullable=False,
            index=True,
        ),
        sa.Column("parent_id", sa.Integer, sa.ForeignKey("recipe_states.id"), index=True),
        sa.Column("made_at", TIMESTAMP(timezone=True), server_default=sa.func.now(), nullable=False),
        sa.Column("change", sa.String(200), nullable=False),
        sa.Column("document", JSONB, nullable=False),
    )
    op.create_foreign_key(
        "fk_recipes_current_state_id_recipe_states",
        "recipes",
        "recipe_states",
        ["current_state_id"],
        ["id"],
        deferrable=True,
        initially="DEFERRED",
    )
    op.create_table(
        "recipe_entries",
        sa.Column("recipe_id", sa.Integer, sa.ForeignKey("recipes.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("entry_id", sa.String(20), primary_key=True),
        sa.Column("material", sa.String(60), nullable=False, index=True),
        sa.Column("colour", sa.String(40), nullable=False),
        sa.Column("role", sa.String(20), nullable=False),
        sa.Column("pieces", sa.Integer, nullable=False),
    )
