"""What one person looks for on the Shelf, and which shelves they opened and shut: kept in a cookie until they choose
otherwise."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from decimal import Decimal
from urllib.parse import parse_qsl, urlencode

from fastapi import Request, Response

from mirvel.core.forms.kinds import FORMS
from mirvel.core.values.problems import BadInput
from mirvel.core.values.reading import read_amount
from mirvel.store.shelving import ShelfSearch

_COOKIE, _KEPT_S = "shelf", 365 * 24 * 3600
_MOST_TEXT, _MOST_FOLDED, _MOST_COOKIE = 100, 80, 3500
_DEAREST = Decimal(10**8)
_ASKED = ("q", "form", "only")


@dataclass(frozen=True)
class Remembered:
    """A search, and the price points whose shelves were opened or shut by hand, the latest last."""

    search: ShelfSearch
    opened: tuple[Decimal, ...] = ()
    shut: tuple[Decimal, ...] = ()

    def choose(self, asked: Mapping[str, str]) -> "Remembered":
        """With another search, where one was asked for."""
        return replace(self, search=_read_search(asked)) if any(name in asked for name in _ASKED) else self

    def fold(self, price: Decimal, *, shut: bool) -> "Remembered":
        """With a shelf shut, or opened."""
        opened, closed = (tuple(each for each in prices if each != price) for prices in (self.opened, self.shut))
        if shut:
            return replace(self, opened=opened, shut=(*closed, price)[-_MOST_FOLDED:])
        return replace(self, opened=(*opened, price)[-_MOST_FOLDED:], shut=closed)


def read_remembered(request: Request) -> Remembered:
    """What this person chose last; whatever does not hold is left out."""
    kept = dict(parse_qsl(request.cookies.get(_COOKIE, "")[:_MOST_COOKIE]))
    return Remembered(_read_search(kept), *(_read_prices(kept.get(name, "")) for name in ("open", "shut")))


def remember(answer: Response, chosen: Remembered) -> Response:
    """The answer, which has the browser keep what was chosen."""
    search = chosen.search
    kept = {"q": search.text, "form": search.form, "only": search.only}
    kept |= {"open": _write_prices(chosen.opened), "shut": _write_prices(chosen.shut)}
    value = urlencode({name: words for name, words in kept.items() if words})
    if value:
        answer.set_cookie(_COOKIE, value[:_MOST_COOKIE], max_age=_KEPT_S, samesite="strict", httponly=True)
    else:
        answer.delete_cookie(_COOKIE, samesite="strict", httponly=True)
    return answer


def _read_search(found: Mapping[str, str]) -> ShelfSearch:
    form, only = found.get("form", ""), found.get("only", "")
    return ShelfSearch(
        text=found.get("q", "").replace("\x00", "").strip()[:_MOST_TEXT],
        form=form if form in FORMS else "",
        only=only if only in {"true", "false", "found", "drafts"} else "",
    )


def _write_prices(prices: tuple[Decimal, ...]) -> str:
    return " ".join(f"{price:.2f}" for price in prices)


def _read_prices(text: str) -> tuple[Decimal, ...]:
    found = []
    for word in text.split()[:_MOST_FOLDED]:
        try:
            found.append(read_amount(word, "price", most=_DEAREST, places=2))
        except BadInput:
            continue
    return tuple(found)
