"""What was made under the key of a form, so that a form sent twice makes one thing."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    op.create_table(
        "made_once",
        sa.Column("key", sa.String(40), primary_key=True),
        sa.Column("result", sa.Integer, nullable=False),
        sa.Column("made_at", sa.TIMESTAMP(timezone=True), nullable=False, server_default=sa.func.now()),
    )
