"""Figures: pieces as drawn for the Shelf, kept by what they were made from and shown under the address of their
content, which never changes; and which of them each recipe stands with now."""

import gzip
from collections.abc import Collection, Mapping
from dataclasses import dataclass
from datetime import timedelta
from hashlib import sha256
from typing import Any

from sqlalchemy import Row, delete, exists, func, select, text
from sqlalchemy.dialects.postgresql import insert

from mirvel.core.recipe.recipe import Recipe
from mirvel.store.database import Database
from mirvel.store.documents import Kept, read, read_rows
from mirvel.store.rows import FigureRow, RecipeRow, RecipeStateRow, SampleRow, StandingRow

# What a crash may lose of figures is drawn again, so that nobody need wait for the disk.
_NO_WAIT = text("SET LOCAL synchronous_commit = off")
_KEPT_FOR = timedelta(days=7)  # a figure that nothing stands with; a page that is open may still ask for it


@dataclass(frozen=True)
class Figure:
    """A drawing whose foot is its lower edge, its size in mm of the real piece, how tall and wide the piece is, how
    many stops and warnings are found in it, but of its money, and the gravest in words; or why it cannot be drawn."""

    svg: str = ""
    width_mm: float = 0.0
    height_mm: float = 0.0
    tall_cm: float = 0.0
    wide_cm: float = 0.0
    stops: int = 0
    warnings: int = 0
    gravest: str = ""
    trouble: str = ""


@dataclass(frozen=True)
class Shown:
    """Where a drawing is, and its size in mm of the real piece."""

    address: str
    width_mm: float
    height_mm: float


@dataclass(frozen=True)
class Undrawn:
    """A recipe that has not been looked at as it stands now."""

    recipe_id: int
    state_id: int
    recipe: Recipe


@dataclass(frozen=True)
class Standing:
    """What was found for a recipe's state with a version of everything else: the key of its figure, or why it cannot be
    read."""

    recipe_id: int
    state_id: int
    version: str
    key: str | None
    trouble: str = ""


def get_address(svg: bytes) -> str:
    """Where a drawing is shown: made from its content, so that what is there never changes."""
    return sha256(svg).hexdigest()[:40]


def _read_undrawn(row: Row[Any]) -> Undrawn:
    number, state, document = tuple(row)
    return Undrawn(number, state, read(Recipe, document, "recipe", number, state=state))


class FigureStore:
    """Figures by key and address, and standings by recipe."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def load_undrawn(self, version: str, count: int, first: Collection[int] = ()) -> Kept[Undrawn]:
        """Some recipes that have not been looked at with this version: those asked for first, then those that changed
        or are new."""
        with self._database.transaction() as session:
            changed = StandingRow.state_id.is_distinct_from(RecipeRow.current_state_id)
            rows = session.execute(
                select(RecipeRow.id, RecipeStateRow.id, RecipeStateRow.document)
                .join(RecipeStateRow, RecipeStateRow.id == RecipeRow.current_state_id)
                .outerjoin(StandingRow, StandingRow.recipe_id == RecipeRow.id)
                .where(changed | StandingRow.version.is_distinct_from(version))
                .order_by(RecipeRow.id.in_(first).desc(), changed.desc(), RecipeRow.id)
                .limit(count)
            )
            return read_rows(rows, _read_undrawn)

    def find_missing(self, keys: Collection[str]) -> set[str]:
        """Those of some keys that no figure was made from yet."""
        with self._database.transaction() as session:
            return {*keys} - {*session.scalars(select(FigureRow.key).where(FigureRow.key.in_(keys)))}

    def add(self, key: str, figure: Figure) -> None:
        """Keep what was drawn."""
        svg = figure.svg.encode()
        values = {name: value for name, value in vars(figure).items() if name != "svg"}
        values |= {"key": key, "address": get_address(svg), "content": gzip.compress(svg, mtime=0)}
        with self._database.transaction() as session:
            session.execute(_NO_WAIT)
            session.execute(insert(FigureRow).values(values).on_conflict_do_nothing())

    def stand(self, standings: Collection[Standing]) -> None:
        """Say which figures recipes stand with, at least one; of those dropped meanwhile, nothing."""
        with self._database.transaction() as session:
            session.execute(_NO_WAIT)
            known = set(session.scalars(select(RecipeRow.id).where(RecipeRow.id.in_([s.recipe_id for s in standings]))))
            values = [vars(standing) for standing in standings if standing.recipe_id in known]
            if values:
                statement = insert(StandingRow).values(values)
                newer = {name: statement.excluded[name] for name in ("state_id", "version", "key", "trouble")}
                session.execute(statement.on_conflict_do_update(index_elements=["recipe_id"], set_=newer))

    def has_samples(self, version: str) -> bool:
        """Whether the forms' samples are all of a version."""
        with self._database.transaction() as session:
            versions = session.scalars(select(SampleRow.version).distinct()).all()
            return list(versions) == [version]

    def show_samples(self, version: str, keys: Mapping[tuple[str, str], str]) -> None:
        """Say which figures show the forms, by form and way of looking; of other forms there is no sample."""
        with self._database.transaction() as session:
            session.execute(text("LOCK TABLE samples IN SHARE ROW EXCLUSIVE MODE"))  # two apps may draw one shop
            session.execute(delete(SampleRow))
            session.add_all(SampleRow(form=form, look=look, version=version, key=k) for (form, look), k in keys.items())

    def load_samples(self, look: str) -> Mapping[str, Shown]:
        """The drawings of all forms in a way of looking, by form."""
        with self._database.transaction() as session:
            rows = session.execute(
                select(SampleRow.form, FigureRow.address, FigureRow.width_mm, FigureRow.height_mm)
                .join(FigureRow, FigureRow.key == SampleRow.key)
                .where(SampleRow.look == look, FigureRow.trouble == "")
            )
            return {form: Shown(address, width, height) for form, address, width, height in rows}

    def find(self, address: str) -> bytes | None:
        """A figure's SVG, packed with gzip; None where there is none of that content."""
        with self._database.transaction() as session:
            shown = (FigureRow.address == address) & (FigureRow.trouble == "")
            return session.scalar(select(FigureRow.content).where(shown).limit(1))

    def drop_old(self) -> None:
        """Let go of figures that nothing has stood with for a week."""
        with self._database.transaction() as session:
            stands = exists().where(StandingRow.key == FigureRow.key) | exists().where(SampleRow.key == FigureRow.key)
            session.execute(delete(FigureRow).where(~stands, FigureRow.made_at < func.now() - _KEPT_FOR))
