"""The tables. A recipe's saved states are rows that are never changed; the recipe points at its current one."""

from datetime import date, datetime
from decimal import Decimal
from typing import Any

from sqlalchemy import (
    JSON,
    Date,
    ForeignKey,
    ForeignKeyConstraint,
    Identity,
    Index,
    Integer,
    LargeBinary,
    MetaData,
    Numeric,
    SmallInteger,
    String,
    Text,
    UniqueConstraint,
    func,
    text,
)
from sqlalchemy.dialects.postgresql import ARRAY, JSONB, TIMESTAMP
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
    type_annotation_map = {  # noqa: RUF012
        dict[str, Any]: JSONB,
        list[str]: ARRAY(String),
        list[int]: ARRAY(SmallInteger),
        datetime: TIMESTAMP(timezone=True),
        date: Date,
        Decimal: Numeric(14, 4),
        bytes: LargeBinary,
    }


class VersionsRow(Base):
    """Counters that go up when facts of goods or their costs change, so that what was made from them is kept until
    then; ``costs_on`` is the day the costs in ``goods`` are those of. There is one row."""

    __tablename__ = "versions"

    id: Mapped[int] = mapped_column(Integer, primary_key=True, default=1)
    facts: Mapped[int]
    costs: Mapped[int]
    costs_on: Mapped[date]


class GoodsRow(Base):
    """A good of the shop: its facts as one document, the cost in force today, and columns derived from the document
    so that it can be found. ``changed`` is the costs version at which it last changed."""

    __tablename__ = "goods"
    __table_args__ = (
        Index("ix_goods_words", "words", postgresql_using="gin", postgresql_ops={"words": "gin_trgm_ops"}),
        Index("ix_goods_name", "kind", "name"),
    )

    kind: Mapped[str] = mapped_column(String(20), primary_key=True)
    slug: Mapped[str] = mapped_column(String(60), primary_key=True)
    document: Mapped[dict[str, Any]] = mapped_column(JSON)  # not JSONB, which would reorder the colours
    cost: Mapped[Decimal | None]
    bought_from: Mapped[int | None] = mapped_column(ForeignKey("suppliers.id"))
    name: Mapped[str] = mapped_column(String(80))
    words: Mapped[str] = mapped_column(Text)
    form: Mapped[str] = mapped_column(String(20))
    roles: Mapped[list[str]]
    colours: Mapped[list[str]]
    season: Mapped[list[int]]
    scent: Mapped[int] = mapped_column(SmallInteger)
    safe_with_cats: Mapped[bool]
    pieces_per_stem: Mapped[int]
    stock: Mapped[int]
    retired: Mapped[bool]
    changed: Mapped[int]


class StockRow(Base):
    """Stems of one colour of a material in the buckets."""

    __tablename__ = "stock"

    slug: Mapped[str] = mapped_column(String(60), primary_key=True)
    colour: Mapped[str] = mapped_column(String(40), primary_key=True)
    stems: Mapped[int]


class SupplierRow(Base):
    """Somebody the shop buys from: terms and how the price list is read, as one document."""

    __tablename__ = "suppliers"

    id: Mapped[int] = mapped_column(Integer, Identity(), primary_key=True)
    name: Mapped[str] = mapped_column(String(80), unique=True)
    document: Mapped[dict[str, Any]]


class ArticleRow(Base):
    """What a supplier's article is here; without a slug it is not ours."""

    __tablename__ = "supplier_articles"

    supplier_id: Mapped[int] = mapped_column(ForeignKey("suppliers.id", ondelete="CASCADE"), primary_key=True)
    article: Mapped[str] = mapped_column(String(200), primary_key=True)
    kind: Mapped[str | None] = mapped_column(String(20))
    slug: Mapped[str | None] = mapped_column(String(60))


class PriceRow(Base):
    """One price as recorded; never changed and never deleted."""

    __tablename__ = "prices"
    __table_args__ = (
        ForeignKeyConstraint(["kind", "slug"], ["goods.kind", "goods.slug"], name="fk_prices_goods"),
        Index("ix_prices_in_force", "kind", "slug", text("since DESC"), text("id DESC")),
    )

    id: Mapped[int] = mapped_column(Integer, Identity(), primary_key=True)
    kind: Mapped[str] = mapped_column(String(20))
    slug: Mapped[str] = mapped_column(String(60))
    supplier_id: Mapped[int | None] = mapped_column(ForeignKey("suppliers.id"))
    since: Mapped[date]
    pack_price: Mapped[Decimal]
    pack_size: Mapped[Decimal]
    freight: Mapped[Decimal]
    dump: Mapped[Decimal]
    cost: Mapped[Decimal]
    counts: Mapped[bool]
    source: Mapped[str] = mapped_column(String(200))
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())


class PriceListRow(Base):
    """A price list brought in: the file as it came, and what a person has chosen and mended so far."""

    __tablename__ = "price_lists"

    id: Mapped[int] = mapped_column(Integer, Identity(), primary_key=True)
    supplier_id: Mapped[int] = mapped_column(ForeignKey("suppliers.id"), index=True)
    file_name: Mapped[str] = mapped_column(String(200))
    content: Mapped[bytes]
    since: Mapped[date]
    state: Mapped[str] = mapped_column(String(20))
    document: Mapped[dict[str, Any]]
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())
    taken_in_at: Mapped[datetime | None]


class FeedPullRow(Base):
    """One asking of the wholesaler's price feed, and what came of it."""

    __tablename__ = "feed_pulls"

    id: Mapped[int] = mapped_column(Integer, Identity(), primary_key=True)
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())
    went_well: Mapped[bool]
    said: Mapped[str] = mapped_column(String(400))
    price_list_id: Mapped[int | None] = mapped_column(ForeignKey("price_lists.id"))


class MadeOnceRow(Base):
    """The number of what was made under a form's key."""

    __tablename__ = "made_once"

    key: Mapped[str] = mapped_column(String(40), primary_key=True)
    result: Mapped[int]
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())


class DeliveryRow(Base):
    """A delivery from a supplier on a day."""

    __tablename__ = "deliveries"

    id: Mapped[int] = mapped_column(Integer, Identity(), primary_key=True)
    supplier_id: Mapped[int] = mapped_column(ForeignKey("suppliers.id"), index=True)
    on_day: Mapped[date] = mapped_column(index=True)
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())


class DeliveryLineRow(Base):
    """Stems of one material and colour in a delivery: how many came, how many were rejected and why, and the price a
    stem was bought at, with freight, beside the dump reckoned with then."""

    __tablename__ = "delivery_lines"

    id: Mapped[int] = mapped_column(Integer, Identity(), primary_key=True)
    delivery_id: Mapped[int] = mapped_column(ForeignKey("deliveries.id", ondelete="CASCADE"), index=True)
    slug: Mapped[str] = mapped_column(String(60), index=True)
    colour: Mapped[str] = mapped_column(String(40))
    received: Mapped[int]
    rejected: Mapped[int]
    reason: Mapped[str] = mapped_column(String(200))
    paid: Mapped[Decimal]
    dump: Mapped[Decimal]


class FigureRow(Base):
    """A piece drawn as it stands on the Shelf, packed, found by what it was made from (``key``) and shown under an
    address made from its content, with how many stops and warnings its checks give, but those of money, and the
    gravest. ``trouble`` says why there is none."""

    __tablename__ = "figures"

    key: Mapped[str] = mapped_column(String(40), primary_key=True)
    address: Mapped[str] = mapped_column(String(40), index=True)
    content: Mapped[bytes]
    width_mm: Mapped[float]
    height_mm: Mapped[float]
    tall_cm: Mapped[float]
    wide_cm: Mapped[float]
    trouble: Mapped[str] = mapped_column(Text)
    stops: Mapped[int] = mapped_column(server_default="0")
    warnings: Mapped[int] = mapped_column(server_default="0")
    gravest: Mapped[str] = mapped_column(Text, server_default="")
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())


class StandingRow(Base):
    """Which figure a recipe's state has, and the version of everything else it was last looked at with; made in the
    background. Without a figure its document cannot be read any more, and ``trouble`` says why."""

    __tablename__ = "standings"

    recipe_id: Mapped[int] = mapped_column(ForeignKey("recipes.id", ondelete="CASCADE"), primary_key=True)
    state_id: Mapped[int]
    version: Mapped[str] = mapped_column(String(40))
    key: Mapped[str | None] = mapped_column(ForeignKey("figures.key"), index=True)
    trouble: Mapped[str] = mapped_column(Text)


class SampleRow(Base):
    """Which figure shows a form's sample in a way of looking, and the version of the shop it was made with."""

    __tablename__ = "samples"

    form: Mapped[str] = mapped_column(String(40), primary_key=True)
    look: Mapped[str] = mapped_column(String(20), primary_key=True)
    version: Mapped[str] = mapped_column(String(40))
    key: Mapped[str] = mapped_column(ForeignKey("figures.key"), index=True)


class DriftRow(Base):
    """A recipe's money at the costs of a version, what moved it, and what of it is not to be had in a month; of its
    current state and, where that is another, of its standard in force. Made anew in the background."""

    __tablename__ = "drifts"

    recipe_id: Mapped[int] = mapped_column(ForeignKey("recipes.id", ondelete="CASCADE"), primary_key=True)
    of_standard: Mapped[bool] = mapped_column(primary_key=True)
    month: Mapped[int] = mapped_column(SmallInteger)
    state_id: Mapped[int]
    costs: Mapped[int]
    is_false: Mapped[bool]
    document: Mapped[dict[str, Any]]


class RepairRunRow(Base):
    """The repair of the whole shop that was begun last; there is one row."""

    __tablename__ = "repair_runs"

    id: Mapped[int] = mapped_column(Integer, primary_key=True, default=1)
    state: Mapped[str] = mapped_column(String(20))


class RepairRow(Base):
    """What would bring a recipe back to true at the costs of a version."""

    __tablename__ = "repairs"

    recipe_id: Mapped[int] = mapped_column(ForeignKey("recipes.id", ondelete="CASCADE"), primary_key=True)
    state_id: Mapped[int]
    costs: Mapped[int]
    document: Mapped[dict[str, Any]]


class HouseRulesRow(Base):
    """The shop's rules, and those ``before`` the last change of them; there is one row."""

    __tablename__ = "house_rules"

    id: Mapped[int] = mapped_column(Integer, primary_key=True, default=1)
    document: Mapped[dict[str, Any]]
    before: Mapped[dict[str, Any] | None]


class RecipeRow(Base):
    """A recipe, which of its states is the current one, with columns derived from that so that it can be found, and
    which of its standards is in force."""

    __tablename__ = "recipes"
    __table_args__ = (
        Index("ix_recipes_words", "words", postgresql_using="gin", postgresql_ops={"words": "gin_trgm_ops"}),
        Index("ix_recipes_shelf", "price_point", "name", "id"),
    )

    id: Mapped[int] = mapped_column(Integer, Identity(), primary_key=True)
    current_state_id: Mapped[int | None] = mapped_column(
        ForeignKey("recipe_states.id", use_alter=True, deferrable=True, initially="DEFERRED")
    )
    standard_id: Mapped[int | None] = mapped_column(ForeignKey("standards.id", use_alter=True))
    name: Mapped[str] = mapped_column(String(80))
    family: Mapped[str] = mapped_column(String(60), index=True)
    form: Mapped[str] = mapped_column(String(40))
    price_point: Mapped[Decimal] = mapped_column(Numeric(10, 2))
    words: Mapped[str] = mapped_column(Text)


class RecipeStateRow(Base):
    """One saved state of a recipe, with the state it came from: undo goes to the parent, redo to the newest child."""

    __tablename__ = "recipe_states"

    id: Mapped[int] = mapped_column(Integer, Identity(), primary_key=True)
    recipe_id: Mapped[int] = mapped_column(ForeignKey("recipes.id", ondelete="CASCADE"), index=True)
    parent_id: Mapped[int | None] = mapped_column(ForeignKey("recipe_states.id"), index=True)
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())
    change: Mapped[str] = mapped_column(String(200))
    document: Mapped[dict[str, Any]]
    true_costs: Mapped[dict[str, Any]]


class StandardRow(Base):
    """A state of a recipe that was published: under what number, by whom, when and why, how far two hands' pieces of it
    may be apart, and its goods and the shop's rules as they were. Only that it was retired is added, once."""

    __tablename__ = "standards"
    __table_args__ = (UniqueConstraint("recipe_id", "number"),)

    id: Mapped[int] = mapped_column(Integer, Identity(), primary_key=True)
    recipe_id: Mapped[int] = mapped_column(ForeignKey("recipes.id", ondelete="CASCADE"))
    number: Mapped[int]
    state_id: Mapped[int] = mapped_column(ForeignKey("recipe_states.id"), index=True)
    by: Mapped[str] = mapped_column(String(60))
    why: Mapped[str] = mapped_column(String(400))
    within: Mapped[dict[str, Any]]
    frozen: Mapped[dict[str, Any]] = mapped_column(JSON)  # not JSONB, which would reorder the colours
    made_at: Mapped[datetime]
    retired_at: Mapped[datetime | None]
    retired_by: Mapped[str] = mapped_column(String(60), server_default="")
    retired_why: Mapped[str] = mapped_column(String(400), server_default="")


class RecipeEntryRow(Base):
    """What the current state of a recipe holds, derived from its document so that entries can be searched."""

    __tablename__ = "recipe_entries"

    recipe_id: Mapped[int] = mapped_column(ForeignKey("recipes.id", ondelete="CASCADE"), primary_key=True)
    entry_id: Mapped[str] = mapped_column(String(20), primary_key=True)
    material: Mapped[str] = mapped_column(String(60), index=True)
    colour: Mapped[str] = mapped_column(String(40))
    role: Mapped[str] = mapped_column(String(20))
    pieces: Mapped[int]
