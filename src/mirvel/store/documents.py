"""Documents in and out of the database: what is written is read back first, so that nothing is kept that could not be
read again; what cannot be read any more is a row of its own kind beside the others, and takes nothing else with it."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any, Generic, TypeVar

from pydantic import ValidationError

from mirvel.core.values.fact import Fact
from mirvel.core.values.problems import BadInput, MirvelError, get_problems

AnyFact = TypeVar("AnyFact", bound=Fact)
Row = TypeVar("Row")
Found = TypeVar("Found")


class Unreadable(MirvelError):
    """A row whose document does not hold any more what it should; ``key`` is its number or name in its table."""

    def __init__(self, what: str, key: int | str, name: str, why: str, state: int = 0) -> None:
        super().__init__(f"The {what} “{name}” cannot be read any more: {why}")
        self.what, self.key, self.name, self.why, self.state = what, key, name, why, state


@dataclass(frozen=True)
class Kept(Generic[Found]):
    """What a table holds: rows as they are read, and beside them those that cannot be."""

    rows: tuple[Found, ...]
    unreadable: tuple[Unreadable, ...] = ()


def write(fact: Fact, *, exclude: set[str] | None = None) -> dict[str, Any]:
    """A value as the document it is kept as. Raises BadInput where it could not be read again."""
    document = fact.model_dump(mode="json", exclude=exclude)
    try:
        type(fact).model_validate({**document, **{name: getattr(fact, name) for name in exclude or ()}})
    except ValidationError as error:
        raise BadInput(*get_problems(error)) from None
    return document


def read(
    kind: type[AnyFact], document: dict[str, Any], what: str, key: int | str, *, name: str = "", state: int = 0
) -> AnyFact:
    """The value of a document. Raises Unreadable."""
    try:
        return kind.model_validate(document)
    except ValidationError as error:
        name = name or (str(document.get("name") or key) if isinstance(document, dict) else str(key))
        why = "; ".join(str(problem) for problem in get_problems(error)[:3])
        raise Unreadable(what, key, name[:80], why[:400], state) from None


def read_rows(rows: Iterable[Row], read_one: Callable[[Row], Found]) -> Kept[Found]:
    """Every row read, those that cannot be set beside the others."""
    found, unreadable = [], []
    for row in rows:
        try:
            found.append(read_one(row))
        except Unreadable as error:
            unreadable.append(error)
    return Kept(tuple(found), tuple(unreadable))
