"""Alembic's entry: migrations run on the connection that ``migrate`` hands over."""

from alembic import context

from mirvel.store.rows import Base

context.configure(connection=context.config.attributes["connection"], target_metadata=Base.metadata)
context.run_migrations()
