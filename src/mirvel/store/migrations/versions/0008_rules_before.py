"""The house rules before the last change of them, so that it can be taken back."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    """A shop that has changed none has none before."""
    op.add_column("house_rules", sa.Column("before", JSONB))


def downgrade() -> None:
    op.drop_column("house_rules", "before")
