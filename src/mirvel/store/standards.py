"""Standards: states of recipes that were published under a number. What a standard is never changes; only that it is
retired is added once. The next one takes its place, and a recipe knows which is in force."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal

from sqlalchemy import func, select
from sqlalchemy.orm import Session, defer

from mirvel.core.publishing import Frozen, Tolerances
from mirvel.core.recipe.recipe import Recipe
from mirvel.store.database import Database
from mirvel.store.documents import read, write
from mirvel.store.rows import RecipeRow, RecipeStateRow, StandardRow
from mirvel.store.shelving import ShelfSearch, get_conditions
from mirvel.store.stale import NoSuchRecipe, NoSuchStandard, StaleState


@dataclass(frozen=True)
class Standard:
    """A published state of a recipe: its number, who published it, when and why, and what took it out of force: another
    that ``replaced`` it, or somebody who retired it."""

    recipe_id: int
    number: int
    state_id: int
    by: str
    why: str
    within: Tolerances
    made_at: datetime
    replaced_by: int | None
    retired_at: datetime | None
    retired_by: str
    retired_why: str

    @property
    def is_in_force(self) -> bool:
        return self.replaced_by is None and self.retired_at is None


@dataclass(frozen=True)
class InForce:
    """A standard that holds, as it is listed."""

    recipe_id: int
    number: int
    name: str
    price_point: Decimal


@dataclass(frozen=True)
class Draft:
    """A recipe to be published, the state it was read at, and what it is made from."""

    recipe_id: int
    state_id: int
    frozen: Frozen


@dataclass(frozen=True)
class Published:
    """A standard with all it was published with."""

    standard: Standard
    recipe: Recipe
    frozen: Frozen


class StandardStore:
    """Standards by recipe and number."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def load_all(self, recipe_id: int) -> tuple[Standard, ...]:
        """Every standard of a recipe, the newest first."""
        with self._database.transaction() as session:
            return _load_all(session, recipe_id)

    def find_in_force(self, recipe_id: int) -> Standard | None:
        """The standard that holds; None where nothing is published, or the last was retired."""
        with self._database.transaction() as session:
            return next((each for each in _load_all(session, recipe_id) if each.is_in_force), None)

    def find_all_in_force(self, text: str, form: str, most: int) -> tuple[InForce, ...]:
        """What is in force and found by the words of its newest state and its form, by price, family and name; so many
        at most."""
        row, standard = RecipeRow, StandardRow
        query = (
            select(row.id, standard.number, row.name, row.price_point)
            .join(standard, standard.id == row.standard_id)
            .where(*get_conditions(ShelfSearch(text=text, form=form)))
            .order_by(row.price_point, row.family, row.name, row.id)
        )
        with self._database.transaction() as session:
            return tuple(InForce(*each) for each in session.execute(query.limit(most)).all())

    def load(self, recipe_id: int, number: int) -> Published:
        """A standard as it was published. Raises NoSuchStandard, Unreadable."""
        with self._database.transaction() as session:
            standard = _get(session, recipe_id, number)
            document = session.get_one(RecipeStateRow, standard.state_id).document
            frozen = session.scalar(select(StandardRow.frozen).filter_by(recipe_id=recipe_id, number=number))
        recipe = read(Recipe, document, "recipe", recipe_id, state=standard.state_id)
        return Published(standard, recipe, read(Frozen, frozen or {}, "standard", number, name=recipe.name))

    def publish(self, drafts: Iterable[Draft], by: str, why: str, within: Tolerances, at: datetime) -> None:
        """Publish the current states of some recipes: all or none. What is in force as it is gets no other number.
        Raises StaleState, NoSuchRecipe."""
        in_order = sorted(drafts, key=lambda draft: draft.recipe_id)  # so that two who publish never wait in a ring
        with self._database.transaction() as session:
            for draft in in_order:
                recipe_id, state_id = draft.recipe_id, draft.state_id
                row = session.get(RecipeRow, recipe_id, with_for_update=True)
                if row is None:
                    raise NoSuchRecipe(recipe_id)
                if row.current_state_id != state_id:
                    raise StaleState
                frozen = write(draft.frozen)
                held = session.get_one(StandardRow, row.standard_id) if row.standard_id else None
                if held and (held.state_id, held.frozen) == (state_id, frozen):
                    continue
                last = session.scalar(select(func.max(StandardRow.number)).filter_by(recipe_id=recipe_id)) or 0
                standard = StandardRow(
                    recipe_id=recipe_id,
                    number=last + 1,
                    state_id=state_id,
                    by=by,
                    why=why,
                    within=write(within),
                    frozen=frozen,
                    made_at=at,
                )
                session.add(standard)
                session.flush()
                row.standard_id = standard.id

    def retire(self, recipe_id: int, number: int, by: str, why: str, at: datetime) -> None:
        """Take the standard in force out of it, without another in its place. Raises StaleState where it is not in
        force any more, NoSuchRecipe, NoSuchStandard."""
        with self._database.transaction() as session:
            row = session.get(RecipeRow, recipe_id, with_for_update=True)
            if row is None:
                raise NoSuchRecipe(recipe_id)
            standard = session.scalar(select(StandardRow).filter_by(recipe_id=recipe_id, number=number))
            if standard is None:
                raise NoSuchStandard(number)
            if row.standard_id != standard.id:
                raise StaleState
            standard.retired_at, standard.retired_by, standard.retired_why = at, by, why
            row.standard_id = None


def _load_all(session: Session, recipe_id: int) -> tuple[Standard, ...]:
    query = select(StandardRow).filter_by(recipe_id=recipe_id).order_by(StandardRow.number.desc())
    rows = session.scalars(query.options(defer(StandardRow.frozen))).all()
    return tuple(_read(row, rows[at - 1].number if at else None) for at, row in enumerate(rows))


def _get(session: Session, recipe_id: int, number: int) -> Standard:
    found = next((each for each in _load_all(session, recipe_id) if each.number == number), None)
    if found is None:
        raise NoSuchStandard(number)
    return found


def _read(row: StandardRow, replaced_by: int | None) -> Standard:
    return Standard(
        recipe_id=row.recipe_id,
        number=row.number,
        state_id=row.state_id,
        by=row.by,
        why=row.why,
        within=read(Tolerances, row.within, "standard", row.number),
        made_at=row.made_at,
        replaced_by=replaced_by,
        retired_at=row.retired_at,
        retired_by=row.retired_by,
        retired_why=row.retired_why,
    )
