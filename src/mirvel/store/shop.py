"""The shop's goods, rules and recipes, kept and found again."""

from collections.abc import Iterable, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass

from sqlalchemy import Engine, create_engine, delete, func, select
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session

from mirvel.core.goods import Catalogue, Container, Fact, HardGood, Material
from mirvel.core.house import HouseRules
from mirvel.core.problems import MirvelError
from mirvel.core.recipe import Recipe
from mirvel.store.rows import GoodsRow, HouseRulesRow, RecipeEntryRow, RecipeRow, RecipeStateRow

_KINDS: Mapping[str, type[Fact]] = {"materials": Material, "containers": Container, "hard_goods": HardGood}


class NoSuchRecipe(MirvelError):
    """There is no recipe of that number."""

    def __init__(self, recipe_id: int) -> None:
        super().__init__(f"There is no recipe number {recipe_id}. It may have been removed; the Shelf has the others.")


class StaleState(MirvelError):
    """Somebody else saved the recipe since it was read."""

    def __init__(self) -> None:
        super().__init__(
            "This recipe was changed elsewhere since you opened it, so your last change was not saved. "
            "What you see now is its newest state: make your change again on it."
        )


class NoDatabase(MirvelError):
    """The database does not answer."""

    def __init__(self) -> None:
        super().__init__(
            "The database does not answer, so nothing was saved. Start it again with ./run demo, then retry."
        )


@dataclass(frozen=True)
class SavedRecipe:
    """A recipe as kept: its number, its current state's number, and whether it can be undone and redone."""

    id: int
    state_id: int
    recipe: Recipe
    can_undo: bool
    can_redo: bool


class Shop:
    """One shop's database."""

    def __init__(self, url: str) -> None:
        self.engine: Engine = create_engine(url, pool_pre_ping=True, pool_size=5, max_overflow=10)

    @contextmanager
    def _transaction(self) -> Iterator[Session]:
        try:
            with Session(self.engine) as session, session.begin():
                yield session
        except OperationalError as error:
            raise NoDatabase from error

    def check_answers(self) -> None:
        """Raises NoDatabase when the database does not answer."""
        with self._transaction() as session:
            session.execute(select(1))

    def load_catalogue(self) -> Catalogue:
        with self._transaction() as session:
            found: dict[str, dict[str, object]] = {kind: {} for kind in _KINDS}
            for row in session.scalars(select(GoodsRow).order_by(GoodsRow.kind, GoodsRow.slug)):
                found[row.kind][row.slug] = _KINDS[row.kind].model_validate(row.document)
        return Catalogue.model_validate(found)

    def load_rules(self) -> HouseRules:
        """The house rules; the defaults where none are kept."""
        with self._transaction() as session:
            row = session.get(HouseRulesRow, 1)
            return HouseRules.model_validate(row.document) if row else HouseRules()

    def fill_if_empty(self, catalogue: Catalogue, rules: HouseRules, recipes: Iterable[Recipe]) -> bool:
        """Put goods, rules and recipes into a shop that has no recipe, all or nothing; returns whether it was empty."""
        with self._transaction() as session:
            if session.scalar(select(func.count()).select_from(RecipeRow)):
                return False
            _save_goods(session, catalogue)
            session.merge(HouseRulesRow(id=1, document=rules.model_dump(mode="json")))
            for recipe in recipes:
                _add_recipe(session, recipe)
        return True

    def load_recipes(self) -> tuple[SavedRecipe, ...]:
        """Every recipe, by price point and name."""
        with self._transaction() as session:
            rows = session.execute(
                select(RecipeRow.id, RecipeStateRow.id, RecipeStateRow.document)
                .join(RecipeStateRow, RecipeStateRow.id == RecipeRow.current_state_id)
            )  # fmt: skip
            saved = [
                SavedRecipe(number, state, Recipe.model_validate(document), can_undo=False, can_redo=False)
                for number, state, document in rows
            ]
        return tuple(sorted(saved, key=lambda each: (each.recipe.price_point, each.recipe.name, each.id)))

    def load_recipe(self, recipe_id: int) -> SavedRecipe:
        """Raises NoSuchRecipe."""
        with self._transaction() as session:
            return _get_saved(session, _get_row(session, recipe_id))

    def add_recipe(self, recipe: Recipe) -> SavedRecipe:
        with self._transaction() as session:
            return _get_saved(session, _add_recipe(session, recipe))

    def save_recipe(self, recipe_id: int, recipe: Recipe, *, read_at: int, change: str) -> SavedRecipe:
        """A new state of a recipe that was read at state ``read_at``. Raises StaleState, NoSuchRecipe."""
        with self._transaction() as session:
            row = _get_row(session, recipe_id, for_update=True)
            if row.current_state_id != read_at:
                raise StaleState
            _save_state(session, row, recipe, change)
            return _get_saved(session, row)

    def undo(self, recipe_id: int, *, read_at: int) -> SavedRecipe:
        """Go back to the state before; stays where it is at the first. Raises StaleState, NoSuchRecipe."""
        return self._move(recipe_id, read_at, back=True)

    def redo(self, recipe_id: int, *, read_at: int) -> SavedRecipe:
        """Go on to the newest state made from this one. Raises StaleState, NoSuchRecipe."""
        return self._move(recipe_id, read_at, back=False)

    def _move(self, recipe_id: int, read_at: int, *, back: bool) -> SavedRecipe:
        with self._transaction() as session:
            row = _get_row(session, recipe_id, for_update=True)
            if row.current_state_id != read_at:
                raise StaleState
            state = session.get_one(RecipeStateRow, row.current_state_id)
            target = state.parent_id if back else _find_newest_child(session, state.id)
            if target is not None:
                row.current_state_id = target
                recipe = Recipe.model_validate(session.get_one(RecipeStateRow, target).document)
                _save_entries(session, row.id, recipe)
            return _get_saved(session, row)

    def find_recipes_with(self, materials: Iterable[str]) -> tuple[int, ...]:
        """Numbers of the recipes whose current state uses any of the materials."""
        with self._transaction() as session:
            wanted = select(RecipeEntryRow.recipe_id).where(RecipeEntryRow.material.in_(list(materials))).distinct()
            return tuple(sorted(session.scalars(wanted)))


def _save_goods(session: Session, catalogue: Catalogue) -> None:
    for kind in _KINDS:
        for slug, good in getattr(catalogue, kind).items():
            session.merge(GoodsRow(kind=kind, slug=slug, document=good.model_dump(mode="json")))


def _add_recipe(session: Session, recipe: Recipe) -> RecipeRow:
    row = RecipeRow()
    session.add(row)
    session.flush()
    _save_state(session, row, recipe, "begun")
    return row


def _get_row(session: Session, recipe_id: int, *, for_update: bool = False) -> RecipeRow:
    row = session.get(RecipeRow, recipe_id, with_for_update=for_update)
    if row is None:
        raise NoSuchRecipe(recipe_id)
    return row


def _find_newest_child(session: Session, state_id: int) -> int | None:
    return session.scalar(select(func.max(RecipeStateRow.id)).where(RecipeStateRow.parent_id == state_id))


def _get_saved(session: Session, row: RecipeRow) -> SavedRecipe:
    state = session.get_one(RecipeStateRow, row.current_state_id)
    return SavedRecipe(
        id=row.id,
        state_id=state.id,
        recipe=Recipe.model_validate(state.document),
        can_undo=state.parent_id is not None,
        can_redo=_find_newest_child(session, state.id) is not None,
    )


def _save_state(session: Session, row: RecipeRow, recipe: Recipe, change: str) -> None:
    document = recipe.model_dump(mode="json")
    state = RecipeStateRow(recipe_id=row.id, parent_id=row.current_state_id, change=change[:200], document=document)
    session.add(state)
    session.flush()
    row.current_state_id = state.id
    _save_entries(session, row.id, recipe)


def _save_entries(session: Session, recipe_id: int, recipe: Recipe) -> None:
    session.execute(delete(RecipeEntryRow).where(RecipeEntryRow.recipe_id == recipe_id))
    session.add_all(_get_entry_rows(recipe_id, recipe))


def _get_entry_rows(recipe_id: int, recipe: Recipe) -> Iterable[RecipeEntryRow]:
    for entry in recipe.entries:
        yield RecipeEntryRow(
            recipe_id=recipe_id,
            entry_id=entry.id,
            material=entry.material,
            colour=entry.colour,
            role=entry.role.value,
            pieces=entry.pieces,
        )
