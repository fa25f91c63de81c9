"""Everything kept: PostgreSQL through SQLAlchemy, its private server, and the migrations.

Speaks core values only; rows never leave this package. ``load_`` and ``save_`` touch the database, each call
in a transaction of its own.
"""
