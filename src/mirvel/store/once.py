"""Made once: a form carries a key, and what it makes is made the first time the key comes in. A second press, or the
same form sent again, is answered with what the first one made."""

import re
from datetime import timedelta

from sqlalchemy import delete, func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from mirvel.store.rows import MadeOnceRow

_KEY = re.compile(r"[\w-]{8,40}", re.ASCII)
_KEPT_FOR = timedelta(days=7)


def find_made(session: Session, key: str) -> int | None:
    """The number of what was made under a key; None where nothing was, and the key is then taken until the transaction
    ends, so that whoever brings the same one waits. What is no key is never found."""
    if not _KEY.fullmatch(key):
        return None
    session.execute(delete(MadeOnceRow).where(MadeOnceRow.made_at < func.now() - _KEPT_FOR))
    taking = insert(MadeOnceRow).values(key=key, result=0).on_conflict_do_nothing().returning(MadeOnceRow.key)
    if session.scalars(taking).first():
        return None
    return session.scalar(select(MadeOnceRow.result).where(MadeOnceRow.key == key))


def note_made(session: Session, key: str, result: int) -> None:
    """Remember, in the transaction that makes it, what was made under a key."""
    row = session.get(MadeOnceRow, key)
    if row:
        row.result = result
