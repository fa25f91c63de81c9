"""Finding goods: what is searched for as conditions on the goods table.

Every word typed has to be part of the good's words (trigram index); where nothing matches so, names that are merely
alike are taken, likest first, so that a slip of the finger still finds the flower.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from sqlalchemy import ColumnElement, ColumnExpressionArgument, any_, func, literal, select
from sqlalchemy.orm import Session

from mirvel.core.goods.catalogue import GoodsKind
from mirvel.store.rows import GoodsRow

PAGE = 40
ALIKE = 0.45


@dataclass(frozen=True)
class Search:
    """What is looked for; empty fields do not matter."""

    kind: GoodsKind = GoodsKind.MATERIALS
    text: str = ""
    form: str = ""
    role: str = ""
    colour: str = ""
    month: int | None = None
    in_stock: bool = False
    no_scent: bool = False
    safe_with_cats: bool = False
    cost_under: Decimal | None = None
    retired: bool = False
    page: int = 1


@dataclass(frozen=True)
class Found:
    """One page of slugs in order, each with the stems in stock; how many there are in all; whether only alike."""

    stock: Mapping[str, int]
    total: int
    only_alike: bool = False


def get_conditions(search: Search) -> list[ColumnElement[bool]]:
    """What a good has to meet besides its words."""
    conditions: list[ColumnElement[bool]] = [
        GoodsRow.kind == search.kind.value,
        GoodsRow.retired.is_(search.retired),
    ]
    if search.form:
        conditions.append(GoodsRow.form == search.form)
    if search.role:
        conditions.append(literal(search.role) == any_(GoodsRow.roles))
    if search.colour:
        conditions.append(literal(search.colour) == any_(GoodsRow.colours))
    if search.month:
        conditions.append(literal(search.month) == any_(GoodsRow.season))
    if search.in_stock:
        conditions.append(GoodsRow.stock > 0)
    if search.no_scent:
        conditions.append(GoodsRow.scent == 0)
    if search.safe_with_cats:
        conditions.append(GoodsRow.safe_with_cats.is_(True))
    if search.cost_under is not None:
        conditions.append(GoodsRow.cost < search.cost_under)
    return conditions


def get_word_conditions(text: str) -> list[ColumnElement[bool]]:
    """Every word typed is part of the good's words; signs that mean something to LIKE are taken as they are."""
    return [GoodsRow.words.contains(word, autoescape=True) for word in text.lower().split()[:12]]


def find_goods(session: Session, search: Search) -> Found:
    """One page of what is searched for: names that begin as typed first, then those that hold it, then the others."""
    conditions, text = get_conditions(search), search.text.strip().lower()
    name = func.lower(GoodsRow.name)
    nearest = [
        name.startswith(text, autoescape=True).desc(),
        name.contains(text, autoescape=True).desc(),
        GoodsRow.name,
    ]
    exact = _get_page(session, [*conditions, *get_word_conditions(text)], nearest, search.page)
    if exact.total or len(text) < 3 or _is_known(session, search, text):
        return exact
    alike = func.word_similarity(text, func.lower(GoodsRow.name))
    near = _get_page(session, [*conditions, alike >= ALIKE], [alike.desc(), GoodsRow.name], search.page)
    return Found(near.stock, near.total, only_alike=bool(near.total))


def _is_known(session: Session, search: Search, text: str) -> bool:
    """Whether the words are found at all, so that it is the other wishes that leave nothing."""
    words = select(GoodsRow.slug).where(GoodsRow.kind == search.kind.value, *get_word_conditions(text))
    return session.scalar(words.limit(1)) is not None


def _get_page(
    session: Session, conditions: list[ColumnElement[bool]], order: Sequence[ColumnExpressionArgument[Any]], page: int
) -> Found:
    """A page past the last one is empty, yet says how many there are."""
    query = select(GoodsRow.slug, GoodsRow.stock, func.count().over()).where(*conditions).order_by(*order)
    rows = session.execute(query.limit(PAGE).offset(PAGE * (page - 1))).all()
    if rows or page == 1:
        return Found({slug: stock for slug, stock, _ in rows}, rows[0][2] if rows else 0)
    return Found({}, session.scalar(select(func.count()).select_from(GoodsRow).where(*conditions)) or 0)
