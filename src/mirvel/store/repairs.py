"""Repairs of the whole shop: whether a run is on, and the repair found for each recipe at the costs of a version."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from sqlalchemy import and_, func, select
from sqlalchemy.dialects.postgresql import insert

from mirvel.core.recipe.recipe import Recipe
from mirvel.store.database import Database
from mirvel.store.documents import Unreadable, read, write
from mirvel.store.drifts import SavedDrift, read_drift
from mirvel.store.rows import DriftRow, RecipeRow, RepairRow, RepairRunRow


class RunState(StrEnum):
    """How far the run of repairs is."""

    NEVER = "never"
    RUNNING = "running"
    CANCELLED = "cancelled"
    DONE = "done"


@dataclass(frozen=True)
class SavedRepair:
    """What would mend a recipe, in words and as the recipe mended; ``trouble`` where nothing would."""

    recipe_id: int
    state_id: int
    costs: int
    words: str
    trouble: str = ""
    mended: Recipe | None = None


@dataclass(frozen=True)
class FalseRecipe:
    """A recipe that is false at today's costs, and the repair found for it as it stands, if one was."""

    recipe_id: int
    state_id: int
    name: str
    drift: SavedDrift
    repair: SavedRepair | None


@dataclass(frozen=True)
class FalseCount:
    """How many recipes are false, in how many a repair was looked for, and how many of these can be mended."""

    total: int
    done: int
    mendable: int


class RepairStore:
    """The run and its repairs; a run that was on when the app ended is still on when it begins."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def load_state(self) -> RunState:
        with self._database.transaction() as session:
            row = session.get(RepairRunRow, 1)
            return RunState(row.state) if row else RunState.NEVER

    def set_state(self, state: RunState, *, only_from: RunState | None = None) -> None:
        """Move the run to a state; ``only_from`` leaves it where it is no longer in that one."""
        with self._database.transaction() as session:
            row = session.get(RepairRunRow, 1, with_for_update=True)
            if only_from is None or (row and row.state == only_from):
                session.merge(RepairRunRow(id=1, state=state.value))

    def save(self, repair: SavedRepair) -> None:
        mended = write(repair.mended) if repair.mended else None
        document = {"words": repair.words, "trouble": repair.trouble, "mended": mended}
        values = {"recipe_id": repair.recipe_id, "state_id": repair.state_id, "costs": repair.costs}
        with self._database.transaction() as session:
            statement = insert(RepairRow).values(**values, document=document)
            newer = {name: statement.excluded[name] for name in ("state_id", "costs", "document")}
            session.execute(statement.on_conflict_do_update(index_elements=["recipe_id"], set_=newer))

    def count_false(self, costs: int) -> FalseCount:
        """Of recipes with flowers that are false at the costs of a version, as far as drifts are reckoned."""
        words = RepairRow.document["words"].astext
        asked = select(func.count(), func.count(RepairRow.recipe_id), func.count().filter(words != ""))
        with self._database.transaction() as session:
            total, done, mendable = session.execute(_join_false(asked, costs)).one()
        return FalseCount(total, done, mendable)

    def load_false(self, costs: int, *, start: int = 0, count: int | None = None) -> tuple[FalseRecipe, ...]:
        """These recipes, by price and name, or so many of them from one on."""
        asked = select(RecipeRow.id, RecipeRow.current_state_id, RecipeRow.name, DriftRow, RepairRow)
        rows = _join_false(asked, costs).order_by(RecipeRow.price_point, RecipeRow.name, RecipeRow.id)
        with self._database.transaction() as session:
            return tuple(
                FalseRecipe(number, state, name, read_drift(drift), _read(repair) if repair else None)
                for number, state, name, drift, repair in session.execute(rows.offset(start).limit(count))
            )


def _join_false(asked: Any, costs: int) -> Any:
    """Recipes that are false at the costs of a version, with their repairs as they stand."""
    repair = and_(
        RepairRow.recipe_id == RecipeRow.id,
        RepairRow.state_id == RecipeRow.current_state_id,
        RepairRow.costs == costs,
    )
    return (
        asked.select_from(RecipeRow)
        .join(DriftRow, (DriftRow.recipe_id == RecipeRow.id) & ~DriftRow.of_standard)
        .outerjoin(RepairRow, repair)
        .where(DriftRow.is_false, DriftRow.state_id == RecipeRow.current_state_id, DriftRow.costs == costs)
        .where(DriftRow.document["fill"].astext.is_not(None))  # what cannot be worked out cannot be repaired either
    )


def _read(row: RepairRow) -> SavedRepair:
    found = row.document
    trouble, mended = found["trouble"], None
    try:
        mended = read(Recipe, found["mended"], "repair", row.recipe_id) if found["mended"] else None
    except Unreadable as error:
        trouble = str(error)
    return SavedRepair(row.recipe_id, row.state_id, row.costs, found["words"], trouble, mended)
