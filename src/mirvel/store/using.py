"""Which recipes use a good, asked of the database: a page of names at a time."""

from dataclasses import dataclass

from sqlalchemy import ColumnElement, func, select

from mirvel.core.buying.review import GoodRef
from mirvel.core.goods.catalogue import GoodsKind
from mirvel.core.goods.facts import Role
from mirvel.store.database import Database
from mirvel.store.rows import RecipeEntryRow, RecipeRow, RecipeStateRow

A_PAGE = 40
_LEAST_PIECES = 12  # a recipe with fewer is just begun, or too small to learn from


@dataclass(frozen=True)
class Using:
    """A page of the recipes that use a good, by name: number and name, where the page begins, how many in all."""

    recipes: tuple[tuple[int, str], ...]
    start: int
    total: int

    @property
    def next_start(self) -> int:
        return self.start + len(self.recipes)

    @property
    def before_start(self) -> int:
        return max(0, self.start - A_PAGE)


class UsingStore:
    """Recipes by the goods their newest state names itself."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def find(self, ref: GoodRef, start: int = 0, colour: str = "") -> Using:
        """Those that use a good, in a colour where one is named."""
        query = select(RecipeRow.id, RecipeRow.name, func.count().over())
        if ref.kind in (GoodsKind.CONTAINERS, GoodsKind.HARD_GOODS):
            query = query.join(RecipeStateRow, RecipeStateRow.id == RecipeRow.current_state_id)
        ordered = query.where(_names(ref, colour)).order_by(RecipeRow.name, RecipeRow.id)
        with self._database.transaction() as session:
            rows = session.execute(ordered.limit(A_PAGE).offset(max(0, start))).all()
            if not rows and start > 0:
                rows, start = session.execute(ordered.limit(A_PAGE)).all(), 0
        return Using(tuple((number, name) for number, name, _ in rows), max(0, start), rows[0][2] if rows else 0)

    def get_usual_pieces(self, form: str) -> dict[Role, float]:
        """How many pieces of each role the shop's pieces of a form have on average, those just begun left out."""
        whole = (
            select(RecipeEntryRow.recipe_id)
            .join(RecipeRow, RecipeRow.id == RecipeEntryRow.recipe_id)
            .where(RecipeRow.form == form)
            .group_by(RecipeEntryRow.recipe_id)
            .having(func.sum(RecipeEntryRow.pieces) >= _LEAST_PIECES)
        ).subquery()
        pieces = func.sum(RecipeEntryRow.pieces) / func.count(RecipeEntryRow.recipe_id.distinct())
        query = select(RecipeEntryRow.role, pieces).where(RecipeEntryRow.recipe_id.in_(select(whole.c.recipe_id)))
        with self._database.transaction() as session:
            return {Role(role): float(each) for role, each in session.execute(query.group_by(RecipeEntryRow.role))}


def _names(ref: GoodRef, colour: str) -> ColumnElement[bool]:
    document = RecipeStateRow.document
    entered = select(RecipeEntryRow.recipe_id).where(RecipeEntryRow.material == ref.slug)
    names: dict[GoodsKind, ColumnElement[bool]] = {
        GoodsKind.CONTAINERS: document["container"].astext == ref.slug,
        GoodsKind.HARD_GOODS: document["hard_goods"].contains([{"hard_good": ref.slug}]),
    }
    by_entry = RecipeRow.id.in_(entered.where(RecipeEntryRow.colour == colour) if colour else entered)
    return names.get(ref.kind, by_entry)
