"""One database: its transactions, and the counters that say when goods or costs have changed."""

from collections.abc import Iterator
from contextlib import contextmanager

from sqlalchemy import Engine, create_engine, select, update
from sqlalchemy.exc import DataError, InterfaceError, OperationalError
from sqlalchemy.orm import Session

from mirvel.core.values.problems import BadInput, MirvelError, Problem
from mirvel.store.rows import VersionsRow

# Our queries are short: to compile one to machine code first takes a hundred times as long as to answer it.
_SHORT = {"options": "-c jit=off"}


class ChangedMeanwhile(BadInput):
    """Somebody else changed what was typed over, after it was read."""

    def __init__(self, field: str, now: str) -> None:
        super().__init__(
            Problem(
                field, f"was changed elsewhere meanwhile to {now}, so yours was not saved.", "Type it again over that."
            )
        )


class NoDatabase(MirvelError):
    """The database does not answer."""

    def __init__(self) -> None:
        super().__init__(
            "The database does not answer, so nothing was saved. Mirvel is bringing it back: try again in a few "
            "seconds. If it stays away, run ./run stop and then ./run demo."
        )


class Database:
    """A PostgreSQL database by its address."""

    engine: Engine

    def __init__(self, url: str) -> None:
        self._url = ""
        self.move_to(url)

    def move_to(self, url: str) -> None:
        """Go on with the database at another address, where it is another."""
        if url != self._url:
            self._url = url
            self.engine = create_engine(url, pool_pre_ping=True, pool_size=5, max_overflow=10, connect_args=_SHORT)

    @contextmanager
    def transaction(self) -> Iterator[Session]:
        """All or nothing. Raises NoDatabase."""
        try:
            with Session(self.engine) as session, session.begin():
                yield session
        except (OperationalError, InterfaceError) as error:
            raise NoDatabase from error
        except DataError as error:  # a null character, or a number beyond what a column holds
            problem = Problem("what was typed", "holds characters or numbers that cannot be kept.", "Type it plainly.")
            raise BadInput(problem) from error

    def check_answers(self) -> None:
        """Raises NoDatabase when the database does not answer."""
        with self.transaction() as session:
            session.execute(select(1))


def count_change(session: Session, *, facts: bool) -> int:
    """Say, in the transaction that does it, that costs or facts of goods change; returns the new costs version.

    Writers wait for each other here, so that versions and what they stand for go up together.
    """
    step = {"costs": VersionsRow.costs + 1, **({"facts": VersionsRow.facts + 1} if facts else {})}
    return session.scalars(update(VersionsRow).values(step).returning(VersionsRow.costs)).one()
