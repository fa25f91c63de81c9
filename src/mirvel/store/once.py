"""Made once: a form carries a key, and what it makes is made the first time the key comes in. A second press, or the
same form sent again, is answered with what the first one made. A form filled in anew, after going back to it, has the
same key and another content: that is another thing, and is made."""

import re
from dataclasses import dataclass
from datetime import timedelta
from hashlib import sha256

from sqlalchemy import delete, func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from mirvel.store.rows import MadeOnceRow

_KEY = re.compile(r"[\w-]{8,40}", re.ASCII)
_KEPT_FOR = timedelta(days=7)


@dataclass(frozen=True)
class Once:
    """One sending of a form, and the number of what the same one ``made`` before; None where nothing was."""

    session: Session
    key: str
    made: int | None = None

    def note(self, result: int) -> None:
        """Remember, in the transaction that makes it, what was made."""
        row = self.session.get(MadeOnceRow, self.key)
        if row:
            row.result = result


def take_key(session: Session, key: str, content: bytes) -> Once:
    """What is being made from a form's content. The key is taken until the transaction ends, so that whoever brings the
    same form waits. Under what is no key, nothing is ever found or remembered."""
    if not _KEY.fullmatch(key):
        return Once(session, "")
    own = sha256(key.encode() + b" " + content).hexdigest()[:40]
    session.execute(delete(MadeOnceRow).where(MadeOnceRow.made_at < func.now() - _KEPT_FOR))
    taking = insert(MadeOnceRow).values(key=own, result=0).on_conflict_do_nothing().returning(MadeOnceRow.key)
    if session.scalars(taking).first():
        return Once(session, own)
    return Once(session, own, session.scalar(select(MadeOnceRow.result).where(MadeOnceRow.key == own)))
