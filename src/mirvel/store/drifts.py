"""What cost changes did to each recipe, as reckoned in the background; kept so that a page need not reckon it."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from sqlalchemy import Row, literal, select, text, union_all
from sqlalchemy.dialects.postgresql import insert

from mirvel.core.pricing.drift import Cause
from mirvel.core.recipe.recipe import Recipe
from mirvel.store.database import Database
from mirvel.store.documents import Kept, read, read_rows
from mirvel.store.rows import DriftRow, RecipeRow, RecipeStateRow, StandardRow


@dataclass(frozen=True)
class Undrifted:
    """A recipe whose drift is not reckoned at the costs in force and for this month: what it takes to do so. It is that
    of its current state or, where that is another, of its standard in force."""

    recipe_id: int
    state_id: int
    of_standard: bool
    recipe: Recipe
    true_costs: Mapping[str, Decimal]


@dataclass(frozen=True)
class SavedDrift:
    """A recipe's money at the costs of a version, its causes, and what of it is not to be had in a month."""

    recipe_id: int
    state_id: int
    costs: int
    is_true: bool
    room_left: Decimal
    fill: Decimal | None
    gross_margin: Decimal
    causes: tuple[Cause, ...]
    spent: Decimal = Decimal(0)
    trouble: str = ""
    of_standard: bool = False
    month: int = 0
    worries: tuple[str, ...] = ()

    @property
    def is_false(self) -> bool:
        """Whether it has flowers and is not worth its price; an empty one is only not begun."""
        return bool(self.trouble) or (not self.is_true and self.spent > 0)


def _read_undrifted(row: Row[Any]) -> Undrifted:
    number, state, of_standard, document, costs_then = tuple(row)
    recipe = read(Recipe, document, "recipe", number, state=state)
    return Undrifted(number, state, of_standard, recipe, read_costs(costs_then))


class DriftStore:
    """Drifts by recipe."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def load_undrifted(self, costs: int, month: int, count: int) -> Kept[Undrifted]:
        """Some recipes or standards whose drift is of other costs, of another month, or of another state, than those in
        force."""
        current = select(
            RecipeRow.id, RecipeRow.current_state_id.label("state_id"), literal(False).label("of_standard")
        )
        standing = select(RecipeRow.id, StandardRow.state_id, literal(True)).join(
            StandardRow,
            (StandardRow.id == RecipeRow.standard_id) & (StandardRow.state_id != RecipeRow.current_state_id),
        )
        wanted = union_all(current, standing).subquery()
        is_other = (
            DriftRow.costs.is_distinct_from(costs)
            | DriftRow.month.is_distinct_from(month)
            | DriftRow.state_id.is_distinct_from(wanted.c.state_id)
        )
        of_same = (DriftRow.recipe_id == wanted.c.id) & (DriftRow.of_standard == wanted.c.of_standard)
        with self._database.transaction() as session:
            rows = session.execute(
                select(
                    *(wanted.c.id, wanted.c.state_id, wanted.c.of_standard),
                    *(RecipeStateRow.document, RecipeStateRow.true_costs),
                )
                .join(RecipeStateRow, RecipeStateRow.id == wanted.c.state_id)
                .outerjoin(DriftRow, of_same)
                .where(is_other)
                .order_by(wanted.c.id, wanted.c.of_standard)
                .limit(count)
            )
            return read_rows(rows, _read_undrifted)

    def save(self, drifts: Iterable[SavedDrift]) -> None:
        """Keep what was reckoned, at least one."""
        with self._database.transaction() as session:
            # What a crash may lose of this is reckoned again, so that nobody need wait for the disk.
            session.execute(text("SET LOCAL synchronous_commit = off"))
            statement = insert(DriftRow).values([_get_values(drift) for drift in drifts])
            newer = {name: statement.excluded[name] for name in ("state_id", "costs", "month", "is_false", "document")}
            # One that began before the costs changed may end after another that knows the new ones.
            not_older = DriftRow.costs <= statement.excluded["costs"]
            kept = ["recipe_id", "of_standard"]
            session.execute(statement.on_conflict_do_update(index_elements=kept, set_=newer, where=not_older))


def read_costs(found: Mapping[str, object]) -> dict[str, Decimal]:
    """Unit costs as kept beside a state."""
    return {ref: Decimal(str(cost)) for ref, cost in found.items()}


def _get_values(drift: SavedDrift) -> dict[str, object]:
    return {
        "recipe_id": drift.recipe_id,
        "of_standard": drift.of_standard,
        "state_id": drift.state_id,
        "month": drift.month,
        "costs": drift.costs,
        "is_false": drift.is_false,
        "document": _write(drift),
    }


def _write(drift: SavedDrift) -> dict[str, object]:
    causes = [
        [each.name, None if each.change is None else str(each.change), str(each.per_piece)] for each in drift.causes
    ]
    return {
        "is_true": drift.is_true,
        "room_left": str(drift.room_left),
        "fill": None if drift.fill is None else str(drift.fill),
        "gross_margin": str(drift.gross_margin),
        "causes": causes,
        "spent": str(drift.spent),
        "trouble": drift.trouble,
        "worries": [*drift.worries],
    }


def read_drift(row: DriftRow) -> SavedDrift:
    """A drift as it is kept."""
    found = row.document
    return SavedDrift(
        recipe_id=row.recipe_id,
        state_id=row.state_id,
        costs=row.costs,
        is_true=found["is_true"],
        room_left=Decimal(found["room_left"]),
        fill=None if found["fill"] is None else Decimal(found["fill"]),
        gross_margin=Decimal(found["gross_margin"]),
        causes=tuple(
            Cause(name, None if change is None else Decimal(change), Decimal(per_piece))
            for name, change, per_piece in found["causes"]
        ),
        spent=Decimal(found["spent"]),
        trouble=found["trouble"],
        of_standard=row.of_standard,
        month=row.month,
        worries=tuple(found["worries"]),
    )
