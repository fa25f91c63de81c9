"""The tables. A recipe's saved states are rows that are never changed; the recipe points at its current one."""

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, Identity, Integer, MetaData, String, func
from sqlalchemy.dialects.postgresql import JSONB, TIMESTAMP
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class Base(DeclarativeBase):
    metadata = MetaData(
        naming_convention={
            "ix": "ix_%(column_0_label)s",
            "uq": "uq_%(table_name)s_%(column_0_name)s",
            "fk": "fk_%(table_name)s_%(column_0_name)s_%(referred_table_name)s",
            "pk": "pk_%(table_name)s",
        }
    )
    type_annotation_map = {dict[str, Any]: JSONB, datetime: TIMESTAMP(timezone=True)}  # noqa: RUF012


class GoodsRow(Base):
    """A material, container or hard good of the shop: its facts and cost as one document."""

    __tablename__ = "goods"

    kind: Mapped[str] = mapped_column(String(20), primary_key=True)
    slug: Mapped[str] = mapped_column(String(60), primary_key=True)
    document: Mapped[dict[str, Any]]


class HouseRulesRow(Base):
    """The shop's rules; there is one row."""

    __tablename__ = "house_rules"

    id: Mapped[int] = mapped_column(Integer, primary_key=True, default=1)
    document: Mapped[dict[str, Any]]


class RecipeRow(Base):
    """A recipe and which of its states is the current one."""

    __tablename__ = "recipes"

    id: Mapped[int] = mapped_column(Integer, Identity(), primary_key=True)
    current_state_id: Mapped[int | None] = mapped_column(
        ForeignKey("recipe_states.id", use_alter=True, deferrable=True, initially="DEFERRED")
    )


class RecipeStateRow(Base):
    """One saved state of a recipe, with the state it came from: undo goes to the parent, redo to the newest child."""

    __tablename__ = "recipe_states"

    id: Mapped[int] = mapped_column(Integer, Identity(), primary_key=True)
    recipe_id: Mapped[int] = mapped_column(ForeignKey("recipes.id", ondelete="CASCADE"), index=True)
    parent_id: Mapped[int | None] = mapped_column(ForeignKey("recipe_states.id"), index=True)
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())
    change: Mapped[str] = mapped_column(String(200))
    document: Mapped[dict[str, Any]]


class RecipeEntryRow(Base):
    """What the current state of a recipe holds, derived from its document so that entries can be searched."""

    __tablename__ = "recipe_entries"

    recipe_id: Mapped[int] = mapped_column(ForeignKey("recipes.id", ondelete="CASCADE"), primary_key=True)
    entry_id: Mapped[str] = mapped_column(String(20), primary_key=True)
    material: Mapped[str] = mapped_column(String(60), index=True)
    colour: Mapped[str] = mapped_column(String(40))
    role: Mapped[str] = mapped_column(String(20))
    pieces: Mapped[int]
