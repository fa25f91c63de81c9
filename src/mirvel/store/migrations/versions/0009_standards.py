"""Standards: states of recipes published under a number, and the money of those that a newer draft stands beside."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0009"
down_revision = "0008"

_WHEN = sa.TIMESTAMP(timezone=True)


def upgrade() -> None:
    """A shop of before has published none."""
    op.create_table(
        "standards",
        sa.Column("id", sa.Integer, sa.Identity(), primary_key=True),
        sa.Column("recipe_id", sa.Integer, sa.ForeignKey("recipes.id", ondelete="CASCADE"), nullable=False),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("state_id", sa.Integer, sa.ForeignKey("recipe_states.id"), nullable=False, index=True),
        sa.Column("by", sa.String(60), nullable=False),
        sa.Column("why", sa.String(400), nullable=False),
        sa.Column("within", JSONB, nullable=False),
        sa.Column("frozen", sa.JSON, nullable=False),
        sa.Column("made_at", _WHEN, nullable=False),
        sa.Column("retired_at", _WHEN),
        sa.Column("retired_by", sa.String(60), nullable=False, server_default=""),
        sa.Column("retired_why", sa.String(400), nullable=False, server_default=""),
        sa.UniqueConstraint("recipe_id", "number", name="uq_standards_recipe_id"),
    )
    op.add_column(
        "recipes",
        sa.Column("standard_id", sa.Integer, sa.ForeignKey("standards.id", name="fk_recipes_standard_id_standards")),
    )
    op.execute("DELETE FROM drifts")  # reckoned anew
    op.drop_constraint("pk_drifts", "drifts", type_="primary")
    op.add_column("drifts", sa.Column("of_standard", sa.Boolean, nullable=False))
    op.add_column("drifts", sa.Column("month", sa.SmallInteger, nullable=False))
    op.create_primary_key("pk_drifts", "drifts", ["recipe_id", "of_standard"])


def downgrade() -> None:
    op.execute("DELETE FROM drifts")
    op.drop_constraint("pk_drifts", "drifts", type_="primary")
    op.drop_column("drifts", "month")
    op.drop_column("drifts", "of_standard")
    op.create_primary_key("pk_drifts", "drifts", ["recipe_id"])
    op.drop_column("recipes", "standard_id")
    op.drop_table("standards")
