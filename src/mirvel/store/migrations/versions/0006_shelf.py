"""What the Shelf is asked for: recipes by name, form and price, and their figures, drawn in the background."""

from decimal import Decimal, InvalidOperation
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    op.create_table(
        "figures",
        sa.Column("key", sa.String(40), primary_key=True),
        sa.Column("address", sa.String(40), nullable=False, index=True),
        sa.Column("content", sa.LargeBinary, nullable=False),
        *(sa.Column(name, sa.Float, nullable=False) for name in ("width_mm", "height_mm", "tall_cm", "wide_cm")),
        sa.Column("trouble", sa.Text, nullable=False),
        sa.Column("made_at", sa.TIMESTAMP(timezone=True), nullable=False, server_default=sa.func.now()),
    )
    op.create_table(
        "standings",
        sa.Column("recipe_id", sa.Integer, sa.ForeignKey("recipes.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("state_id", sa.Integer, nullable=False),
        sa.Column("version", sa.String(40), nullable=False),
        sa.Column("key", sa.String(40), sa.ForeignKey("figures.key"), index=True),
        sa.Column("trouble", sa.Text, nullable=False),
    )
    op.create_table(
        "samples",
        sa.Column("form", sa.String(40), primary_key=True),
        sa.Column("look", sa.String(20), primary_key=True),
        sa.Column("version", sa.String(40), nullable=False),
        sa.Column("key", sa.String(40), sa.ForeignKey("figures.key"), nullable=False, index=True),
    )
    op.execute("DELETE FROM drifts")  # reckoned anew, with whether each is false
    op.add_column("drifts", sa.Column("is_false", sa.Boolean, nullable=False))
    _describe_recipes()


def _describe_recipes() -> None:
    """The columns recipes are found by, from their current documents; what cannot be read stands at no price."""
    kinds: dict[str, Any] = {
        "name": sa.String(80), "family": sa.String(60), "form": sa.String(40), "price_point": sa.Numeric(10, 2),
        "words": sa.Text(),
    }  # fmt: skip
    for name, kind in kinds.items():
        op.add_column("recipes", sa.Column(name, kind))
    recipes = sa.table("recipes", sa.column("id"), sa.column("current_state_id"), *(sa.column(name) for name in kinds))
    states = sa.table("recipe_states", sa.column("id"), sa.column("document", sa.JSON))
    connection = op.get_bind()
    current = sa.select(recipes.c.id, states.c.document).join_from(
        recipes, states, states.c.id == recipes.c.current_state_id
    )
    for recipe_id, document in connection.execute(current).all():
        found = document if isinstance(document, dict) else {}
        connection.execute(sa.update(recipes).where(recipes.c.id == recipe_id).values(_describe(found)))
    nothing = {"name": "", "family": "", "form": "", "price_point": 0, "words": ""}
    connection.execute(sa.update(recipes).where(recipes.c.name.is_(None)).values(nothing))
    for name in kinds:
        op.alter_column("recipes", name, nullable=False)
    op.create_index("ix_recipes_shelf", "recipes", ["price_point", "name", "id"])
    op.create_index("ix_recipes_family", "recipes", ["family"])
    op.create_index(
        "ix_recipes_words", "recipes", ["words"], postgresql_using="gin", postgresql_ops={"words": "gin_trgm_ops"}
    )


def _describe(document: dict[str, object]) -> dict[str, object]:
    brief = document.get("brief")
    about = brief if isinstance(brief, dict) else {}
    name, form = str(document.get("name") or ""), str(document.get("form") or "")
    try:
        price = Decimal(str(document.get("price_point")))
        price = price if 0 < price < 10**8 else Decimal(0)
    except InvalidOperation:
        price = Decimal(0)
    words = " ".join(str(part) for part in (name, form, about.get("occasion", ""), about.get("place", "")))
    return {
        "name": name[:80], "family": str(document.get("family") or "")[:60], "form": form[:40], "price_point": price,
        "words": words.lower(),
    }  # fmt: skip
