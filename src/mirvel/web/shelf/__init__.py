"""**Shelf**: recipes drawn to one scale, standing on shelf lines by price point; shelves are opened, shut and searched,
and what was chosen is remembered."""

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Annotated

from fastapi import APIRouter, Path, Request, Response

from mirvel.core.forms.kinds import FORMS
from mirvel.core.house.rules import HouseRules
from mirvel.core.pricing.drift import Cause, get_culprits
from mirvel.store.shelving import A_PAGE, ShelfSearch, Shelved, Stood
from mirvel.store.shop import Shop
from mirvel.web.feeding import get_feed_trouble
from mirvel.web.figuring import get_version
from mirvel.web.requests import ShopHere, render, wants_fragment
from mirvel.web.shelf.remembering import Remembered, read_remembered, remember
from mirvel.web.working import read_unit

router = APIRouter()
PX_PER_MM = 0.56
_BROADEST = 8
_WIDEST_PX, _LEAST_PX, _APART_PX = 840, 136, 22  # a board, on a screen 1,024 wide, and what a standard takes of it
_OPEN_AT_FIRST, _MOST_SHOWN = 60, 300  # recipes, about: the shelves after them are shut until one is opened
_SOON_MS, _LATER_MS, _MANY = 700, 2500, 30  # when to look again whether what is missing is there
Price = Annotated[Decimal, Path(ge=0, le=10**8, max_digits=12, decimal_places=2)]


@dataclass(frozen=True)
class StandingView:
    """One recipe on its shelf line, with what moved its money."""

    stood: Stood
    causes: tuple[Cause, ...]

    @property
    def is_false(self) -> bool:
        return self.stood.drift.is_false if self.stood.drift else False

    @property
    def worries(self) -> tuple[str, ...]:
        """What of its standard, or of its draft where it has none, is not to be had this month."""
        drift = self.stood.standard_drift or self.stood.drift
        return drift.worries if drift else ()

    @property
    def width_px(self) -> str:
        return f"{self.stood.width_mm * PX_PER_MM:.1f}"

    @property
    def height_px(self) -> str:
        return f"{self.stood.height_mm * PX_PER_MM:.1f}"


@dataclass(frozen=True)
class ShelfView:
    """One shelf line: a price point, how many recipes stand at it, and those of them that are shown; none where it is
    shut."""

    price_point: Decimal
    count: int
    start: int
    standing: tuple[StandingView, ...]
    is_open: bool

    @property
    def breadth(self) -> str:
        """How much of a row it takes beside others, as its style is named; one with nothing to show takes none."""
        across = sum(max(_LEAST_PX, view.stood.width_mm * PX_PER_MM) + _APART_PX for view in self.standing)
        if len(self.standing) > _BROADEST or across > _WIDEST_PX:
            return "deep"
        return f"holds-{len(self.standing)}" if self.standing else "bare"

    @property
    def next_start(self) -> int:
        return self.start + len(self.standing)

    @property
    def rest(self) -> int:
        """How many more there are."""
        return self.count - self.next_start if self.is_open else 0


@router.get("/")
def show_shelf(request: Request, shop: ShopHere) -> Response:
    """All recipes, or those looked for."""
    asked, remembered = dict(request.query_params), read_remembered(request)
    chosen = remembered.choose(asked)
    rules, troubles = shop.read_rules()
    goods = shop.goods.look()
    version = get_version(goods.facts, rules)
    shelved = shop.shelf.count(chosen.search, version)
    shelves = _get_shelves(shop, chosen, shelved, version, rules)
    is_current = shelved.is_current and goods.is_known
    if not is_current:
        request.app.state.drifter.poke()
        request.app.state.drawer.draw_first(view.stood.id for shelf in shelves for view in shelf.standing)
    answer = render(
        request, "shelf/shelf.html", shelves=shelves, rules=read_unit(request, rules), search=chosen.search,
        count=shelved.total, false_count=shelved.false_count, unread=shelved.unread,
        troubles=(*troubles, *goods.unreadable), again_ms=0 if is_current else _get_again_ms(shelves),
        feed_trouble=get_feed_trouble(shop), forms=list(FORMS),
    )  # fmt: skip
    return remember(answer, chosen)


@router.get("/shelves/{price}")
def show_one_shelf(request: Request, shop: ShopHere, price: Price, start: int = 0) -> Response:
    """One shelf opened or shut, or its next recipes; beside nothing else where it is no part of a page."""
    asked = dict(request.query_params)
    chosen = read_remembered(request).choose(asked).fold(price, shut="shut" in asked)
    rules = shop.load_rules()
    version = get_version(shop.goods.look().facts, rules)
    shelved = shop.shelf.count(chosen.search, version)
    start = max(0, min(start, shelved.counts.get(price, 0)))
    shelf = _get_shelf(shop, chosen, shelved, price, start, version)
    whole = {"shelves": [shelf], "count": shelved.total, "false_count": shelved.false_count, "unread": (),
             "troubles": (), "again_ms": 0, "feed_trouble": "", "forms": list(FORMS)}  # fmt: skip
    template = "shelf/shelf.html"
    if wants_fragment(request):
        template = "shelf/_standing.html" if start else "shelf/_shelf.html"
    answer = render(
        request, template, shelf=shelf, rules=read_unit(request, rules), search=chosen.search, **whole
    )  # fmt: skip
    return remember(answer, chosen)


def _get_shelves(shop: Shop, chosen: Remembered, shelved: Shelved, version: str, rules: HouseRules) -> list[ShelfView]:
    """Every price with what stands at it; without a search, the house's own prices though nothing stands there."""
    house = dict.fromkeys(rules.price_points, 0) if chosen.search.is_empty else {}
    counts = dict(sorted({**house, **shelved.counts}.items()))
    starts, shown = {}, 0
    for price, count in counts.items():
        opened = price in chosen.opened or (price not in chosen.shut and shown < _OPEN_AT_FIRST)
        if opened and shown < _MOST_SHOWN:
            starts[price] = 0
            shown += min(count, A_PAGE)
    found = _load(shop, chosen.search, version, starts)
    return [
        ShelfView(price, count, 0, tuple(view for view in found if view.stood.price_point == price), price in starts)
        for price, count in counts.items()
    ]


def _get_shelf(shop: Shop, chosen: Remembered, shelved: Shelved, price: Decimal, start: int, version: str) -> ShelfView:
    """One shelf, from a recipe on."""
    is_open = price not in chosen.shut
    found = _load(shop, chosen.search, version, {price: start} if is_open else {})
    return ShelfView(price, shelved.counts.get(price, 0), start, found, is_open)


def _load(shop: Shop, search: ShelfSearch, version: str, starts: Mapping[Decimal, int]) -> tuple[StandingView, ...]:
    stood = shop.shelf.load(search, version, starts)
    return tuple(StandingView(each, _get_causes(each)) for each in stood)


def _get_causes(stood: Stood) -> tuple[Cause, ...]:
    return get_culprits(stood.drift.causes, stood.drift.room_left) if stood.drift else ()


def _get_again_ms(shelves: list[ShelfView]) -> int:
    """When the page is asked for again, for what it does not know yet: soon, where little is missing."""
    missing = sum(not view.stood.is_current for shelf in shelves for view in shelf.standing)
    return _SOON_MS if 0 < missing <= _MANY else _LATER_MS
