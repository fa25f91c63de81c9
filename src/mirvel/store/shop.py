"""The shop's goods, rules and recipes, kept and found again."""

from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Any

from pydantic import ValidationError
from sqlalchemy import exists, func, select, true
from sqlalchemy.orm import Session, aliased

from mirvel.core.buying.supplier import Supplier
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.house.rules import HouseRules
from mirvel.core.pricing.drift import get_costs
from mirvel.core.recipe.recipe import Recipe
from mirvel.store.database import Database, count_change
from mirvel.store.deliveries import DeliveryStore
from mirvel.store.documents import Kept, Unreadable, read, read_rows, write
from mirvel.store.drifts import DriftStore
from mirvel.store.figures import FigureStore
from mirvel.store.goods import GoodsStore, add_catalogue
from mirvel.store.once import take_key
from mirvel.store.price_lists import PriceListStore
from mirvel.store.prices import PriceStore
from mirvel.store.repairs import RepairStore
from mirvel.store.rows import HouseRulesRow, RecipeEntryRow, RecipeRow, RecipeStateRow
from mirvel.store.shelving import ShelfStore
from mirvel.store.stale import NoSuchRecipe, StaleRules, StaleState
from mirvel.store.standards import StandardStore
from mirvel.store.suppliers import SupplierStore, add_supplier
from mirvel.store.using import UsingStore

Costs = Mapping[str, Decimal]
LONG_AGO = date(2000, 1, 1)  # starting costs are as if they had always been


@dataclass(frozen=True)
class Worth:
    """A recipe about to be saved, the unit costs of what it uses, and whether it is true at them.

    A state that is not true keeps the costs the recipe was last true at, so that what moved it stays known.
    """

    recipe: Recipe
    costs: Costs
    is_true: bool


@dataclass(frozen=True)
class SavedRecipe:
    """A recipe as kept: its number, its current state's number, and whether it can be undone and redone."""

    id: int
    state_id: int
    recipe: Recipe
    can_undo: bool
    can_redo: bool


def read_clock() -> datetime:
    """The machine's own time, with its zone."""
    return datetime.now().astimezone()


class Shop:
    """One shop's database: recipes and rules here, everything else in the stores it holds."""

    def __init__(self, url: str, get_now: Callable[[], datetime] = read_clock) -> None:
        """``get_now`` tells the time where the shop stands."""
        self.get_now, self.database = get_now, Database(url)
        self.goods = GoodsStore(self.database, self.get_today)
        self.prices = PriceStore(self.database)
        self.suppliers = SupplierStore(self.database)
        self.price_lists = PriceListStore(self.database, self.goods)
        self.deliveries = DeliveryStore(self.database)
        self.drifts = DriftStore(self.database)
        self.repairs = RepairStore(self.database)
        self.figures = FigureStore(self.database)
        self.shelf = ShelfStore(self.database)
        self.using = UsingStore(self.database)
        self.standards = StandardStore(self.database)

    def get_today(self) -> date:
        """The day where the shop stands."""
        return self.get_now().date()

    def load_rules(self) -> HouseRules:
        """The house rules; the defaults where none are kept."""
        return self.read_rules()[0]

    def read_rules(self) -> tuple[HouseRules, tuple[Unreadable, ...]]:
        """The same, and what in them cannot be read any more, for which the default holds."""
        with self.database.transaction() as session:
            row = session.get(HouseRulesRow, 1)
            document = dict(row.document) if row and isinstance(row.document, dict) else {}
        troubles: list[Unreadable] = []
        for name in [*document]:
            try:
                read(HouseRules, {name: document[name]}, "house rule", name, name=name.replace("_", " "))
            except Unreadable as error:
                troubles.append(error)
                del document[name]
        return HouseRules.model_validate(document), tuple(troubles)

    def save_rules(self, rules: HouseRules, *, read: HouseRules) -> None:
        """Other rules for the shop, by which all money is reckoned anew. Raises StaleRules where they are not those
        that were read any more."""
        with self.database.transaction() as session:
            self._save_rules(session, rules, read)

    def _save_rules(self, session: Session, rules: HouseRules, read: HouseRules) -> None:
        count_change(session, facts=False)  # first, so that nobody else changes them between reading and writing
        if self.load_rules() != read:
            raise StaleRules
        session.merge(HouseRulesRow(id=1, document=write(rules), before=write(read)))

    def load_rules_before(self) -> HouseRules | None:
        """The house rules before the last change of them; None where there was none, or they cannot be read."""
        with self.database.transaction() as session:
            row = session.get(HouseRulesRow, 1)
            before = row.before if row else None
        try:
            return HouseRules.model_validate(before) if before else None
        except ValidationError:
            return None

    def fill_if_empty(
        self, catalogue: Catalogue, rules: HouseRules, recipes: Iterable[Recipe], suppliers: Iterable[Supplier] = ()
    ) -> bool:
        """Put goods, rules, suppliers and recipes into a shop that has no recipe, all or nothing; returns whether it
        was empty."""
        with self.database.transaction() as session:
            if session.scalar(select(func.count()).select_from(RecipeRow)):
                return False
            add_catalogue(session, catalogue, LONG_AGO)
            for supplier in suppliers:
                add_supplier(session, supplier)
            session.merge(HouseRulesRow(id=1, document=write(rules)))
            for recipe in recipes:
                _add_recipe(session, recipe, get_costs(recipe, catalogue))
        return True

    def load_recipes(self) -> tuple[SavedRecipe, ...]:
        """Every recipe that can be read, by price point and name."""
        return self.read_recipes().rows

    def read_recipes(self, family: str = "", price: Decimal | None = None) -> Kept[SavedRecipe]:
        """The same, and those that cannot be read any more; all, or those of a family, or at a price."""
        with self.database.transaction() as session:
            rows = session.execute(
                select(RecipeRow.id, RecipeStateRow.id, RecipeStateRow.document)
                .join(RecipeStateRow, RecipeStateRow.id == RecipeRow.current_state_id)
                .where(RecipeRow.family == family if family else true())
                .where(true() if price is None else RecipeRow.price_point == price)
            )
            kept = read_rows(rows, lambda row: SavedRecipe(row[0], row[1], _read_recipe(*row), False, False))
        ordered = sorted(kept.rows, key=lambda each: (each.recipe.price_point, each.recipe.name, each.id))
        return Kept(tuple(ordered), kept.unreadable)

    def find_prices(self, families: Collection[str]) -> Mapping[str, Sequence[Decimal]]:
        """The prices that the recipes of some families stand at, each once, the least first."""
        query = select(RecipeRow.family, RecipeRow.price_point).where(RecipeRow.family.in_(families)).distinct()
        found: dict[str, list[Decimal]] = {}
        with self.database.transaction() as session:
            for family, price in session.execute(query.order_by(RecipeRow.price_point)):
                found.setdefault(family, []).append(price)
        return found

    def load_recipe(self, recipe_id: int) -> SavedRecipe:
        """Raises NoSuchRecipe, Unreadable."""
        with self.database.transaction() as session:
            return _load_saved(session, recipe_id)

    def add_recipe(self, recipe: Recipe, costs: Costs, *, key: str = "") -> SavedRecipe:
        """A new recipe, and the unit costs of what it uses; where the key made the same one already, that."""
        with self.database.transaction() as session:
            once = take_key(session, key, recipe.model_dump_json().encode())
            if once.made:
                return _load_saved(session, once.made)
            saved = _add_recipe(session, recipe, costs)
            once.note(saved.id)
            return saved

    def save_recipe(self, recipe_id: int, worth: Worth, *, read_at: int, change: str) -> SavedRecipe:
        """A new state of a recipe that was read at state ``read_at``. Raises StaleState, NoSuchRecipe."""
        with self.database.transaction() as session:
            return _save_read(session, recipe_id, read_at, worth, change)

    def save_rungs(self, rungs: Iterable[tuple[SavedRecipe | None, Worth]], *, change: str) -> None:
        """Several recipes at once, all or none: a new state of each that was read, and the others anew. Raises
        StaleState, NoSuchRecipe."""
        with self.database.transaction() as session:
            for saved, worth in rungs:
                if saved is None:
                    _add_recipe(session, worth.recipe, worth.costs)
                else:
                    _save_read(session, saved.id, saved.state_id, worth, change)

    def save_at_price(
        self, recipes: Iterable[tuple[SavedRecipe, Worth]], rules: HouseRules, *, read: HouseRules, change: str
    ) -> None:
        """Recipes at another price, and the shop's rules with that among its prices: all or none. Raises StaleState,
        StaleRules, NoSuchRecipe."""
        with self.database.transaction() as session:
            if rules != read:
                self._save_rules(session, rules, read)
            for saved, worth in recipes:
                _save_read(session, saved.id, saved.state_id, worth, change)

    def undo(self, recipe_id: int, *, read_at: int) -> SavedRecipe:
        """Go back to the state before; stays where it is at the first. Raises StaleState, NoSuchRecipe."""
        return self._move(recipe_id, read_at, back=True)

    def redo(self, recipe_id: int, *, read_at: int) -> SavedRecipe:
        """Go on to the newest state made from this one. Raises StaleState, NoSuchRecipe."""
        return self._move(recipe_id, read_at, back=False)

    def _move(self, recipe_id: int, read_at: int, *, back: bool) -> SavedRecipe:
        with self.database.transaction() as session:
            row = _get_row(session, recipe_id, for_update=True)
            if row.current_state_id != read_at:
                raise StaleState
            state = session.get_one(RecipeStateRow, row.current_state_id)
            target = state.parent_id if back else _find_newest_child(session, state.id)
            if target is not None:
                recipe = _read_recipe(row.id, target, session.get_one(RecipeStateRow, target).document)
                _point_at(session, row, target, recipe)
            return _load_saved(session, recipe_id)


def _add_recipe(session: Session, recipe: Recipe, costs: Costs) -> SavedRecipe:
    row = RecipeRow(**_get_columns(recipe))
    session.add(row)
    session.flush()
    return _save_state(session, row, Worth(recipe, costs, is_true=True), "begun")


def _get_columns(recipe: Recipe) -> dict[str, Any]:
    """The columns a recipe is found by."""
    words = f"{recipe.name} {recipe.form} {recipe.brief.occasion} {recipe.brief.place}".lower()
    return {
        "name": recipe.name,
        "family": recipe.family,
        "form": recipe.form,
        "price_point": recipe.price_point,
        "words": words,
    }


def _get_row(session: Session, recipe_id: int, *, for_update: bool = False) -> RecipeRow:
    row = session.get(RecipeRow, recipe_id, with_for_update=for_update)
    if row is None:
        raise NoSuchRecipe(recipe_id)
    return row


def _read_recipe(recipe_id: int, state_id: int, document: dict[str, Any]) -> Recipe:
    return read(Recipe, document, "recipe", recipe_id, state=state_id)


def _find_newest_child(session: Session, state_id: int) -> int | None:
    return session.scalar(select(func.max(RecipeStateRow.id)).where(RecipeStateRow.parent_id == state_id))


def _load_saved(session: Session, recipe_id: int) -> SavedRecipe:
    """A recipe and its current state. Raises NoSuchRecipe, Unreadable."""
    child = aliased(RecipeStateRow)
    found = session.execute(
        select(
            RecipeStateRow.id,
            RecipeStateRow.document,
            RecipeStateRow.parent_id,
            exists().where(child.parent_id == RecipeStateRow.id),
        )
        .join(RecipeRow, RecipeRow.current_state_id == RecipeStateRow.id)
        .where(RecipeRow.id == recipe_id)
    ).one_or_none()
    if found is None:
        raise NoSuchRecipe(recipe_id)
    state_id, document, parent_id, can_redo = found
    recipe = _read_recipe(recipe_id, state_id, document)
    return SavedRecipe(recipe_id, state_id, recipe, can_undo=parent_id is not None, can_redo=can_redo)


def _save_read(session: Session, recipe_id: int, read_at: int, worth: Worth, change: str) -> SavedRecipe:
    """A new state of a recipe, if it is still as it was read. Raises StaleState, NoSuchRecipe."""
    row = _get_row(session, recipe_id, for_update=True)
    if row.current_state_id != read_at:
        raise StaleState
    return _save_state(session, row, worth, change)


def _save_state(session: Session, row: RecipeRow, worth: Worth, change: str) -> SavedRecipe:
    recipe = worth.recipe
    true_costs = {ref: str(cost) for ref, cost in worth.costs.items()}
    if row.current_state_id and not worth.is_true:
        before = session.get_one(RecipeStateRow, row.current_state_id).true_costs
        true_costs |= {ref: cost for ref, cost in before.items() if ref in true_costs}
    state = RecipeStateRow(
        recipe_id=row.id,
        parent_id=row.current_state_id,
        change=change[:200],
        document=write(recipe),
        true_costs=true_costs,
    )
    session.add(state)
    session.flush()
    _point_at(session, row, state.id, recipe)
    kept = _read_recipe(row.id, state.id, state.document)
    return SavedRecipe(row.id, state.id, kept, can_undo=state.parent_id is not None, can_redo=False)


def _point_at(session: Session, row: RecipeRow, state_id: int, recipe: Recipe) -> None:
    """Make a state the current one, and what is derived from it that state's."""
    row.current_state_id = state_id
    for name, value in _get_columns(recipe).items():
        setattr(row, name, value)
    gone = {each.entry_id: each for each in session.scalars(select(RecipeEntryRow).filter_by(recipe_id=row.id))}
    for entry in recipe.entries:  # most changes are of one entry
        entry_row = gone.pop(entry.id, None)
        if entry_row is None:
            entry_row = RecipeEntryRow(recipe_id=row.id, entry_id=entry.id)
            session.add(entry_row)
        entry_row.material, entry_row.colour = entry.material, entry.colour
        entry_row.role, entry_row.pieces = entry.role.value, entry.pieces
    for entry_row in gone.values():
        session.delete(entry_row)
