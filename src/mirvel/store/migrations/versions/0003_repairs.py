"""Repairs of the whole shop: the run that is on, and what it found for each recipe."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    op.create_table(
        "repair_runs",
        sa.Column("id", sa.Integer, primary_key=True, autoincrement=False),
        sa.Column("state", sa.String(20), nullable=False),
    )
    op.create_table(
        "repairs",
        sa.Column("recipe_id", sa.Integer, sa.ForeignKey("recipes.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("state_id", sa.Integer, nullable=False),
        sa.Column("costs", sa.Integer, nullable=False),
        sa.Column("document", JSONB, nullable=False),
    )
