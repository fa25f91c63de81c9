"""What the checks find of a piece, beside its figure."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    """Figures of before have none, and are drawn anew by any other release."""
    for name in ("stops", "warnings"):
        op.add_column("figures", sa.Column(name, sa.Integer, nullable=False, server_default="0"))
    op.add_column("figures", sa.Column("gravest", sa.Text, nullable=False, server_default=""))


def downgrade() -> None:
    for name in ("stops", "warnings", "gravest"):
        op.drop_column("figures", name)
