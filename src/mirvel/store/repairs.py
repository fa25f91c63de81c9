"""Repairs of the whole shop: whether a run is on, and the repair found for each recipe at the costs of a version."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert

from mirvel.core.recipe.recipe import Recipe
from mirvel.store.database import Database
from mirvel.store.documents import Unreadable, read, write
from mirvel.store.rows import RepairRow, RepairRunRow


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

    def load_all(self) -> Mapping[int, SavedRepair]:
        """Every repair found so far, by recipe."""
        with self._database.transaction() as session:
            return {row.recipe_id: _read(row) for row in session.scalars(select(RepairRow))}


def _read(row: RepairRow) -> SavedRepair:
    found = row.document
    trouble, mended = found["trouble"], None
    try:
        mended = read(Recipe, found["mended"], "repair", row.recipe_id) if found["mended"] else None
    except Unreadable as error:
        trouble = str(error)
    return SavedRepair(row.recipe_id, row.state_id, row.costs, found["words"], trouble, mended)
