"""Bringing a database forward to this version's tables."""

from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import create_engine, text
from sqlalchemy.exc import OperationalError

from mirvel.store.database import NoDatabase

_LOCK = 7_326_154_001  # two starts at once: the second waits for the first


def migrate(url: str) -> None:
    """Run every migration the database has not had yet, in one transaction, one start at a time.

    Raises NoDatabase when it does not answer.
    """
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).with_name("migrations")))
    engine = create_engine(url)
    try:
        with engine.begin() as connection:
            connection.execute(text("SELECT pg_advisory_xact_lock(:lock)"), {"lock": _LOCK})
            config.attributes["connection"] = connection
            command.upgrade(config, "head")
    except OperationalError as error:
        raise NoDatabase from error
    finally:
        engine.dispose()
